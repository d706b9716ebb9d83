"""What stands on the shelf: products, cans bought, opened, weighed, and gone."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date, datetime
from typing import ClassVar

from msgspec.structs import replace

from ravden.core.errors import InputError, need, need_above, need_in
from ravden.core.stock.lots import EMPTY, THROWN, Lot, Stock, Taken, Weighed
from ravden.core.stock.product import MOST_ML, MOST_PRICE, RUBBED, Product
from ravden.journal.kinds.kind import OfShop
from ravden.journal.shop import Shop

MOST_TEXT = 200
MOST_PRODUCTS = 400
WEIGHED_SD_ML = 3.0  # [A] a kitchen scale, and what clings to the lid


class OfStock(OfShop, frozen=True):
    """Tells of the shelf."""

    part: ClassVar[str] = "stock"

    def onto(self, shop: Shop, instrument: str, at: datetime, entry: int) -> Shop:
        return shop.with_stock(self.onto_stock(shop.stock, at, entry))

    def onto_stock(self, stock: Stock, at: datetime, entry: int) -> Stock:
        """The shelf with it."""
        raise NotImplementedError


class ProductTold(OfStock, frozen=True, tag="product"):
    """A product as it is from then on, in the place of what was told of it before; with gone, it is bought no more."""

    product: Product
    gone: bool = False

    def check(self, shop: Shop, instrument: str, at: datetime) -> None:
        if self.product.material and self.product.kind in RUBBED:
            from ravden.core.abrasive.grades import find

            find(shop.catalogue.abrasives, self.product.material)
        elif self.product.material:
            shop.catalogue.material(self.product.material)
        products = shop.stock.products
        need(self.product.id in products or len(products) < MOST_PRODUCTS, "name", f"at most {MOST_PRODUCTS} products")
        same = next((p for p in products.values() if p.name.lower() == self.product.name.lower()), None)
        need(
            same is None or same.id == self.product.id, "name", f"there is a product called {self.product.name} already"
        )
        before = products.get(self.product.id)
        there = [n for n in shop.stock.lots.values() if n.product == self.product.id and not n.gone]
        if self.gone:
            need(not there, "name", f"{len(there)} of it on the shelf: say first what became of them")
        elif before is not None and there:
            need(before.kind == self.product.kind, "kind", "what stands on the shelf cannot turn into something else")

    def onto_stock(self, stock: Stock, at: datetime, entry: int) -> Stock:
        dropped = stock.dropped | {self.product.id} if self.gone else stock.dropped - {self.product.id}
        return replace(stock, products={**stock.products, self.product.id: self.product}, dropped=dropped)


class LotBought(OfStock, frozen=True, tag="lot"):
    """A can that came onto the shelf: its number is that of the entry. ml: of content."""

    product: str
    ml: float
    price: float | None = None
    use_by: str = ""
    place: str = ""

    def check(self, shop: Shop, instrument: str, at: datetime) -> None:
        need(self.product in shop.stock.products, "product", f"there is no product {self.product}")

    def limits(self) -> None:
        need_above(self.ml, 0, "ml", MOST_ML)
        if self.price is not None:
            need_in(self.price, 0, MOST_PRICE, "price")
        need(len(self.place) <= MOST_TEXT, "place", f"must be at most {MOST_TEXT} letters")
        _day(self.use_by)

    def onto_stock(self, stock: Stock, at: datetime, entry: int) -> Stock:
        lot = Lot(
            id=entry, product=self.product, ml=self.ml, bought=at, price=self.price, use_by=_day(self.use_by),
            place=self.place,
        )  # fmt: skip
        return replace(stock, lots={**stock.lots, entry: lot})


class OfLot(OfStock, frozen=True):
    """Tells of one can, by the number of its entry."""

    lot: int

    def of(self, stock: Stock) -> Lot:
        """The can. Raises InputError where there is none."""
        found = stock.lots.get(self.lot)
        if found is None:
            raise InputError("lot", f"there is no can {self.lot} on the shelf")
        return found

    def check(self, shop: Shop, instrument: str, at: datetime) -> None:
        lot = self.of(shop.stock)
        need(at >= lot.bought, "at", f"it was bought only later, on {lot.bought:%Y-%m-%d}")
        need(not lot.gone, "lot", "it is not on the shelf any more")

    def with_lot(self, stock: Stock, lot: Lot) -> Stock:
        """The shelf with a can as it is now."""
        lots: Mapping[int, Lot] = {**stock.lots, lot.id: lot}
        return replace(stock, lots=lots)


class LotOpened(OfLot, frozen=True, tag="lot-opened"):
    """A can was opened."""

    def check(self, shop: Shop, instrument: str, at: datetime) -> None:
        super().check(shop, instrument, at)
        need(self.of(shop.stock).opened is None, "lot", "it is open already")

    def onto_stock(self, stock: Stock, at: datetime, entry: int) -> Stock:
        return self.with_lot(stock, replace(self.of(stock), opened=at))


class CanWeighed(OfLot, frozen=True, tag="can-weighed"):
    """What was found to be left in a can; how: what was read, in words."""

    left_ml: float
    sd_ml: float = WEIGHED_SD_ML
    how: str = ""

    def check(self, shop: Shop, instrument: str, at: datetime) -> None:
        super().check(shop, instrument, at)
        self._fits(self.of(shop.stock))

    def limits(self) -> None:
        need(len(self.how) <= MOST_TEXT, "how", f"must be at most {MOST_TEXT} letters")

    def _fits(self, lot: Lot) -> None:
        # A can is filled a little above its label, never by half as much again.
        need_in(self.left_ml, 0, 1.1 * lot.ml, "left_ml", "ml")
        need_in(self.sd_ml, 0.1, 0.5 * lot.ml + 1.0, "sd_ml", "ml")

    def onto_stock(self, stock: Stock, at: datetime, entry: int) -> Stock:
        self._fits(self.of(stock))
        told = Weighed(at=at, lot=self.lot, left_ml=self.left_ml, sd_ml=self.sd_ml)
        return replace(stock, weighed=(*stock.weighed, told))


class LotGone(OfLot, frozen=True, tag="lot-gone"):
    """A can is empty, or was thrown away, and why."""

    what: str
    why: str = ""

    def limits(self) -> None:
        need(self.what in (EMPTY, THROWN), "what", f"must be {EMPTY} or {THROWN} (got {self.what})")
        need(len(self.why) <= MOST_TEXT, "why", f"must be at most {MOST_TEXT} letters")

    def onto_stock(self, stock: Stock, at: datetime, entry: int) -> Stock:
        return self.with_lot(stock, replace(self.of(stock), gone=self.what, gone_at=at, why=self.why))


class LotTaken(OfLot, frozen=True, tag="lot-taken"):
    """Which of several open cans is used from then on."""

    def onto_stock(self, stock: Stock, at: datetime, entry: int) -> Stock:
        self.of(stock)
        return replace(stock, taken=(*stock.taken, Taken(at=at, lot=self.lot)))


def _day(text: str) -> date | None:
    if not text:
        return None
    try:
        return date.fromisoformat(text)
    except ValueError:
        raise InputError("use_by", "must be a day as 2027-03-01") from None
