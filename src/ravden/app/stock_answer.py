"""``ravden compute stock``: what is left in each can, how old it is, how far it goes and what to buy."""

from __future__ import annotations

from datetime import datetime
from typing import Any

import msgspec

from ravden.app.stock import known
from ravden.catalogue.tables import Catalogue
from ravden.core.errors import InputError, need, need_above, need_in
from ravden.core.stock.age import Aged
from ravden.core.stock.buying import Need
from ravden.core.stock.lots import Draw, Lot, Stock, Taken, Weighed
from ravden.core.stock.product import MOST_ML, Can, Figures, Product
from ravden.exchange.case import Case

MOST_LOTS, MOST_DRAWS = 5_000, 100_000


class CanIn(Case):
    """A size it is sold in, and its price."""

    ml: float
    price: float | None = None


class ProductIn(Case):
    """A product; what of its own data sheet is told comes before the kind's."""

    id: str
    kind: str = "finish"
    material: str = ""
    cans: list[CanIn] = msgspec.field(default_factory=list)
    sealed_months: float | None = None
    open_months: float | None = None


class WeighedIn(Case):
    """What was found to be left."""

    at: str
    left_ml: float
    sd_ml: float = 3.0


class LotIn(Case):
    """A can; times with their zone. used_from: it was said to be the one used from then on."""

    product: str
    ml: float
    bought: str
    opened: str = ""
    gone: str = ""
    use_by: str = ""
    price: float | None = None
    weighed: list[WeighedIn] = msgspec.field(default_factory=list)
    used_from: str = ""


class DrawIn(Case):
    """What a coat took: as supplied, and thinner."""

    at: str
    material: str
    ml: float
    thinner_ml: float = 0.0


class NeedIn(Case):
    """What a plan will take of a finish as supplied."""

    at: str
    material: str
    ml: float
    of: str = ""


class StockIn(Case):
    """A shelf, what was drawn from it, and what is wanted of it."""

    now: str
    products: list[ProductIn]
    lots: list[LotIn]
    draws: list[DrawIn] = msgspec.field(default_factory=list)
    needs: list[NeedIn] = msgspec.field(default_factory=list)


def stock(case: StockIn, catalogue: Catalogue) -> dict[str, Any]:
    """The shelf at a moment. Raises InputError naming the field."""
    now = _time(case.now, "now")
    need(len(case.lots) <= MOST_LOTS, "lots", f"at most {MOST_LOTS}")
    need(len(case.draws) <= MOST_DRAWS, "draws", f"at most {MOST_DRAWS}")
    shelf = _shelf(case, catalogue)
    draws = []
    for i, d in enumerate(case.draws):
        catalogue.material(d.material)
        need_in(d.ml, 0, MOST_ML, f"draws[{i}].ml", "ml")
        need_in(d.thinner_ml, 0, MOST_ML, f"draws[{i}].thinner_ml", "ml")
        draws.append(Draw(at=_time(d.at, f"draws[{i}].at"), material=d.material, ml=d.ml, thinner_ml=d.thinner_ml))
    draws.sort(key=lambda d: d.at)
    wants: dict[tuple[str, str], list[Need]] = {}
    for i, n in enumerate(case.needs):
        need_above(n.ml, 0, f"needs[{i}].ml", MOST_ML)
        wanted = Need(at=_time(n.at, f"needs[{i}].at"), ml=n.ml, of=n.of)
        wants.setdefault(("finish", n.material), []).append(wanted)
    ordered = {key: tuple(sorted(some, key=lambda n: n.at)) for key, some in wants.items()}
    found = known(catalogue, shelf, tuple(draws), ordered, now)
    ages = {c.lot.id: a for p in found.products for c, a in zip(p.cans, p.ages, strict=True)}
    return {
        "lots": [
            {"product": c.lot.product, "left_ml": c.ml, "sd_ml": c.sd_ml, "drawn_ml": c.drawn_ml, "state": c.state,
             "age": _age(ages.get(c.lot.id))}
            for c in found.stocked.lots.values()
        ],
        "products": [
            {"id": p.product.id, "left_ml": p.ml, "sd_ml": p.sd_ml, "wanted_ml": p.reach.wanted_ml,
             "short_ml": p.reach.short_ml, "odds_short": p.reach.odds,
             "short_at": None if p.reach.at is None else p.reach.at.isoformat(),
             "buy": None if p.buy is None else
             {"cans": list(p.buy.cans), "ml": p.buy.ml, "price": p.buy.price, "spoils_ml": p.buy.spoils_ml}}
            for p in found.products
        ],
        "unsure": {m: [n - 1 for n in lots] for m, lots in found.stocked.unsure.items()},
        "over_drawn": [c.lot.id - 1 for c in found.stocked.short()],
    }  # fmt: skip


def _age(found: Aged | None) -> dict[str, Any] | None:
    return None if found is None else {"share": found.share, "word": found.word, "months": found.months}


def _shelf(case: StockIn, catalogue: Catalogue) -> Stock:
    products = {}
    for i, told in enumerate(case.products):
        try:
            if told.material:
                catalogue.material(told.material)
            products[told.id] = Product(
                id=told.id, name=told.id, kind=told.kind, material=told.material,
                figures=Figures(sealed_months=told.sealed_months, open_months=told.open_months),
                cans=tuple(Can(ml=c.ml, price=c.price) for c in told.cans),
            )  # fmt: skip
        except InputError as error:
            raise error.within(f"products[{i}]") from None
    lots, weighed, taken = {}, [], []
    for i, lot in enumerate(case.lots):
        at = f"lots[{i}]"
        need(lot.product in products, f"{at}.product", f"there is no product {lot.product}")
        need(lot.ml > 0, f"{at}.ml", "must be more than nothing")
        bought, opened = _time(lot.bought, f"{at}.bought"), _maybe(lot.opened, f"{at}.opened")
        need(opened is None or opened >= bought, f"{at}.opened", "it was opened before it was bought")
        gone = _maybe(lot.gone, f"{at}.gone")
        need(gone is None or gone >= bought, f"{at}.gone", "it was gone before it was bought")
        use_by = _maybe(lot.use_by, f"{at}.use_by")
        lots[i + 1] = Lot(
            id=i + 1, product=lot.product, ml=lot.ml, bought=bought, price=lot.price, opened=opened,
            use_by=None if use_by is None else use_by.date(), gone="" if gone is None else "empty", gone_at=gone,
        )  # fmt: skip
        for n, w in enumerate(lot.weighed):
            need(0 <= w.left_ml <= 1.1 * lot.ml, f"{at}.weighed[{n}].left_ml", "must be what the can holds")
            weighed.append(
                Weighed(at=_time(w.at, f"{at}.weighed[{n}].at"), lot=i + 1, left_ml=w.left_ml, sd_ml=w.sd_ml)
            )
        if lot.used_from:
            taken.append(Taken(at=_time(lot.used_from, f"{at}.used_from"), lot=i + 1))
    return Stock(products=products, lots=lots, weighed=tuple(weighed), taken=tuple(taken))


def _maybe(text: str, path: str) -> datetime | None:
    return _time(text, path) if text else None


def _time(text: str, path: str) -> datetime:
    try:
        found = msgspec.convert(text, datetime)
    except (msgspec.ValidationError, ValueError):
        raise InputError(path, f"{text} is no time: write 2026-11-28T14:30:00+01:00") from None
    need(found.tzinfo is not None, path, "needs its zone, as +01:00 or Z")
    return found
