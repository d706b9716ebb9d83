"""What is left in each can: bought, opened, drawn from, weighed, gone."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from datetime import date, datetime

from msgspec import Struct, field

from ravden.core.stock.product import Product

DRAW_CV = 0.20  # [A] what coats take is reckoned, not measured: transfer, overspray and what stays in cup and hose
OUT, TOO_MUCH = "out", "too-much"
EMPTY, THROWN = "empty", "thrown"


class Lot(Struct, frozen=True, kw_only=True):
    """A can, or several bought alike and told apart. price: of this one; use_by: on its label; gone: empty or thrown,
    when, and why."""

    id: int
    product: str
    ml: float
    bought: datetime
    price: float | None = None
    opened: datetime | None = None
    use_by: date | None = None
    place: str = ""
    gone: str = ""
    gone_at: datetime | None = None
    why: str = ""

    def there(self, at: datetime) -> bool:
        """Whether it stands on the shelf at a moment."""
        return self.bought <= at and (self.gone_at is None or at < self.gone_at)


class Weighed(Struct, frozen=True, kw_only=True):
    """What was found to be left in a can [ml], and how sure."""

    at: datetime
    lot: int
    left_ml: float
    sd_ml: float


class Taken(Struct, frozen=True, kw_only=True):
    """Which of two open cans is used from then on."""

    at: datetime
    lot: int


class Stock(Struct, frozen=True, kw_only=True):
    """All that was told of what a shop has. lots: by number, in the order they were bought; dropped: products that are
    bought no more."""

    products: Mapping[str, Product] = field(default_factory=dict)
    lots: Mapping[int, Lot] = field(default_factory=dict)
    weighed: tuple[Weighed, ...] = ()
    taken: tuple[Taken, ...] = ()
    dropped: frozenset[str] = frozenset()


class Draw(Struct, frozen=True, kw_only=True):
    """What a coat or a mix took: of a finish as supplied, and thinner [ml]; or sanding: of a grade of paper [sheets] or
    compound [ml]. of: the instrument, empty for a mix."""

    at: datetime
    material: str
    ml: float
    thinner_ml: float = 0.0
    of: str = ""
    kind: str = "finish"


class Left(Struct, frozen=True, kw_only=True):
    """A can as it is known: what is left [ml], negative where more was drawn than was in it, with its spread; drawn_ml:
    by coats and mixes since it was bought; opened: as told, or by the first that was drawn from it."""

    lot: Lot
    ml: float
    sd_ml: float
    drawn_ml: float
    opened: datetime | None

    @property
    def state(self) -> str:
        """sealed, open, empty or thrown."""
        return self.lot.gone or ("open" if self.opened is not None else "sealed")


class Stocked(Struct, frozen=True, kw_only=True):
    """lots: by number; drawn: for each draw, what it took of which can [ml], finish and then thinner, 0 for no can;
    unsure: materials of which several cans were open at once and nobody said which was used, with those."""

    lots: Mapping[int, Left]
    drawn: tuple[tuple[tuple[int, float], tuple[int, float]], ...] = ()
    unsure: Mapping[str, tuple[int, ...]] = field(default_factory=dict)

    def short(self) -> tuple[Left, ...]:
        """Cans of which more was drawn than was in them: someone has to say what happened."""
        return tuple(left for left in self.lots.values() if left.ml < -1e-6 and not left.lot.gone)


class _Can:
    def __init__(self, lot: Lot) -> None:
        self.lot, self.ml, self.sd0, self.since, self.drawn, self.opened = lot, lot.ml, 0.0, 0.0, 0.0, lot.opened

    def draw(self, ml: float, at: datetime) -> None:
        self.ml -= ml
        self.since += ml
        self.drawn += ml
        if self.opened is None:
            self.opened = at

    def weigh(self, told: Weighed) -> None:
        self.ml, self.sd0, self.since = told.left_ml, told.sd_ml, 0.0

    def left(self) -> Left:
        return Left(
            lot=self.lot, ml=self.ml, sd_ml=math.hypot(self.sd0, DRAW_CV * self.since), drawn_ml=self.drawn,
            opened=self.opened,
        )  # fmt: skip


def stocked(stock: Stock, draws: Sequence[Draw]) -> Stocked:
    """What is left in every can, each coat drawn from the one that was open.

    draws: in the order of time. Where no can was open the oldest sealed one is taken to have been opened then; where
    several were, the one that was said to be used, or until somebody says, the one opened first. What is reckoned of
    the same can is off the same way: its spread is a share of all that was drawn since it was weighed [A].
    """
    # A can whose product was taken back is none until that is told again.
    cans = {number: _Can(lot) for number, lot in stock.lots.items() if lot.product in stock.products}
    weighings = sorted(stock.weighed, key=lambda w: w.at)
    taken = sorted(stock.taken, key=lambda t: t.at)
    drawn, unsure, next_weighing = [], {}, 0
    serving: dict[tuple[str, str], list[_Can]] = {}
    for draw in draws:
        while next_weighing < len(weighings) and weighings[next_weighing].at <= draw.at:
            _weigh(cans, weighings[next_weighing])
            next_weighing += 1
        took = []
        for kind, ml in ((draw.kind, draw.ml), ("thinner", draw.thinner_ml)):
            key = (kind, draw.material)
            if key not in serving:
                serving[key] = _serving(stock, cans, *key)
            can, several = _from(serving[key], taken, draw.at) if ml > 0 else (None, ())
            if several and kind == "finish":
                unsure[draw.material] = several
            if can is not None:
                can.draw(ml, draw.at)
            took.append((0 if can is None else can.lot.id, ml if can is not None else 0.0))
        drawn.append((took[0], took[1]))
    for told in weighings[next_weighing:]:
        _weigh(cans, told)
    still = {m: lots for m, lots in unsure.items() if sum(not cans[n].lot.gone for n in lots) > 1}
    return Stocked(lots={n: c.left() for n, c in cans.items()}, drawn=tuple(drawn), unsure=still)


def _weigh(cans: Mapping[int, _Can], told: Weighed) -> None:
    if told.lot in cans:
        cans[told.lot].weigh(told)


def _from(cans: Sequence[_Can], taken: Sequence[Taken], at: datetime) -> tuple[_Can | None, tuple[int, ...]]:
    """The can a draw at a moment comes from, of those it may come from, and which others it could have been as well."""
    there = [c for c in cans if c.lot.there(at)]
    opened = [c for c in there if c.opened is not None and c.opened <= at]
    if not opened:
        return min(there, key=lambda c: (c.lot.bought, c.lot.id), default=None), ()
    if len(opened) == 1:
        return opened[0], ()
    numbers = {c.lot.id: c for c in opened}
    said = next((t.lot for t in reversed(taken) if t.at <= at and t.lot in numbers), None)
    if said is not None:
        return numbers[said], ()
    return min(opened, key=lambda c: (c.opened, c.lot.id)), tuple(numbers)


def _serving(stock: Stock, cans: Mapping[int, _Can], kind: str, material: str) -> list[_Can]:
    return [c for c in cans.values() if stock.products[c.lot.product].serves(kind, material)]


def in_use(stock: Stock, kind: str, material: str, at: datetime) -> Lot | None:
    """The can that is poured from at a moment as far as was told; None: none is there. Nothing is drawn for it."""
    there = {
        n: _Can(lot) for n, lot in stock.lots.items() if lot.there(at) and lot.product in stock.products
    }  # a shop of years has many that are gone
    can, _ = _from(_serving(stock, there, kind, material), sorted(stock.taken, key=lambda t: t.at), at)
    return None if can is None else can.lot
