"""A sealed can that is poured from is open from then on: the record says so with the coat, so that film and shelf know
one age of it. No Qt."""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING

from ravden.catalogue.shelf import keeps
from ravden.core.stock.lots import in_use, stocked
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.session import MixMade
from ravden.journal.kinds.stock import LotOpened

if TYPE_CHECKING:
    from collections.abc import Iterator, Sequence

    from ravden.core.stock.lots import Draw
    from ravden.journal.kinds.kind import Kind
    from ravden.journal.shop import Shop


def may_open(shop: Shop, body: Kind, instrument: str, at: datetime) -> bool:
    """Whether what is to be logged may be the first that comes out of a can."""
    stock = shop.stock
    if not stock.lots or not isinstance(body, CoatLogged | MixMade):
        return False
    material = body.material if isinstance(body, MixMade) else body.finish
    if not material and instrument in shop.racked:
        material = shop.racked[instrument].instrument.material
    poured = [in_use(stock, kind, material, at) for kind in ("finish", "thinner")]
    return any(lot is not None and lot.opened is None for lot in poured)


def opened(shop: Shop, draws: Sequence[Draw]) -> Iterator[tuple[LotOpened, datetime]]:
    """The cans on the shelf that were poured from and that nobody has told are open, with when that began. draws: all
    there were."""
    stock = shop.stock
    sealed = [n for n, lot in stock.lots.items() if lot.opened is None and not lot.gone]
    left = stocked(stock, draws).lots if sealed else {}
    for number in sealed:
        found = left.get(number)
        if found is None or found.opened is None:
            continue
        if keeps(shop.catalogue, stock.products[found.lot.product]) is not None:
            yield LotOpened(lot=number), found.opened
