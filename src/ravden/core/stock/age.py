"""How old what is in a can may get, by its kind: in words, and what it does to the wait."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime, timedelta

from msgspec import Struct

from ravden.core.errors import need_in
from ravden.core.stock.lots import Left
from ravden.core.stock.product import Product

MONTH = timedelta(days=30.44)
FINE, SOON, TEST, NOT = "fine", "soon", "test", "not"
SOON_AT, TEST_AT, NOT_AT = 0.75, 1.0, 1.6  # [A] shares of its shelf life
EMPTY_SHARE = 0.4  # [A] of its life that is left to a nearly empty can which air thickens, against a full one
MOST_SLOWER = 0.7  # [A] of ln of the drying rate


class Shelf(Struct, frozen=True, kw_only=True):
    """How a kind keeps. family: of a finish, or thinner, hardener ...; sealed_months, open_months: usual life; air:
    whether the air over it in the can spoils it; slows: by how much ln of its drying rate falls for a whole life beyond
    its own; what: becomes of it; test: how to try a drop, read: what is seen there; basis: where that comes from."""

    family: str
    sealed_months: float
    open_months: float
    air: bool
    slows: float
    what: str
    test: str
    read: str
    basis: str

    def __post_init__(self) -> None:
        need_in(self.sealed_months, 0.1, 600, "sealed_months")
        need_in(self.open_months, 0.1, self.sealed_months, "open_months")
        need_in(self.slows, 0, 2, "slows")


class Aged(Struct, frozen=True, kw_only=True):
    """share: of its life that is over [-]; word: fine, soon, test or not; months: since it was opened, or bought where
    it is sealed; open: which."""

    share: float
    word: str
    months: float
    open: bool


def shelf_of(product: Product, families: Mapping[str, str], shelves: Mapping[str, Shelf]) -> Shelf | None:
    """How a product keeps. families: of finishes, by id; None: nobody knows."""
    return shelves.get(families.get(product.material, "") if product.kind == "finish" else product.kind)


def aged(product: Product, left: Left, shelf: Shelf | None, at: datetime) -> Aged | None:
    """How old a can will be at a moment, with what is in it now. None: nobody knows how long it keeps.

    Its share of life is the greatest of: since it was bought over the sealed life, since it was opened over the open
    life, which is shorter where much air stands over what the air spoils, and, past the day on its label, at least one.
    A product's own figures come before the kind's.
    """
    told = product.figures
    sealed = told.sealed_months or (shelf.sealed_months if shelf is not None else None)
    after = told.open_months or (shelf.open_months if shelf is not None else None)
    if sealed is None or after is None:
        return None
    lot, opened = left.lot, left.opened
    is_open = opened is not None and opened <= at
    share = max(at - lot.bought, timedelta(0)) / MONTH / max(sealed, after)
    months = max(at - lot.bought, timedelta(0)) / MONTH
    if is_open and opened is not None:
        months = (at - opened) / MONTH
        full = min(max(left.ml / lot.ml, 0.0), 1.0)
        life = after * (EMPTY_SHARE + (1 - EMPTY_SHARE) * full) if shelf is not None and shelf.air else after
        share = max(share, months / life)
    if lot.use_by is not None and at.date() > lot.use_by:
        share = max(share, TEST_AT)
    return Aged(share=share, word=word_of(share), months=months, open=is_open)


def word_of(share: float) -> str:
    """fine, soon, test or not.

    >>> [word_of(s) for s in (0.5, 0.8, 1.2, 2.0)]
    ['fine', 'soon', 'test', 'not']
    """
    return FINE if share < SOON_AT else SOON if share < TEST_AT else TEST if share < NOT_AT else NOT


def slower_ln(found: Aged, shelf: Shelf) -> tuple[float, float]:
    """What a coat from an old can does to ln of the drying rate: its shift, and the spread that comes on top [A]. None
    before its life is over."""
    over = max(found.share - 1.0, 0.0)
    shift = min(shelf.slows * over, MOST_SLOWER)
    return -shift, 0.5 * shift
