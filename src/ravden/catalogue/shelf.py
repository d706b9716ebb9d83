"""How long what a shop has keeps, from the shipped table and the product's own data sheet."""

from __future__ import annotations

import functools
from datetime import datetime

from ravden.catalogue.reading import read_csv, text_of
from ravden.catalogue.tables import Catalogue
from ravden.core.stock.age import Aged, Shelf, aged, shelf_of, slower_ln
from ravden.core.stock.lots import Left, Stock, in_use
from ravden.core.stock.product import Product


@functools.cache
def shelves() -> dict[str, Shelf]:
    """How each kind keeps, by the family of a finish or what else it is."""
    return {s.family: s for s in read_csv(text_of("shelf.csv"), Shelf, "shelf.csv")}


def keeps(catalogue: Catalogue, product: Product) -> Shelf | None:
    """How a product keeps; None: nobody knows."""
    return shelf_of(product, {m.id: m.family for m in catalogue.materials.values()}, shelves())


def age_of(catalogue: Catalogue, stock: Stock, left: Left, at: datetime) -> Aged | None:
    """How old a can will be at a moment."""
    product = stock.products[left.lot.product]
    return aged(product, left, keeps(catalogue, product), at)


def can_then(catalogue: Catalogue, stock: Stock, material: str, at: datetime) -> Aged | None:
    """How old the can was that a coat of this finish came from; None: none of it was there, or nobody knows how long it
    keeps. The can is taken to have been full: how it went down is no matter of one instrument."""
    lot = in_use(stock, "finish", material, at)
    if lot is None:
        return None
    return age_of(catalogue, stock, Left(lot=lot, ml=lot.ml, sd_ml=0.0, drawn_ml=0.0, opened=lot.opened or at), at)


def old_can(catalogue: Catalogue, stock: Stock, material: str, at: datetime) -> tuple[float, float]:
    """What the can a coat of this finish came from did to ln of its drying rate: shift and spread; none of either where
    it was not old, or nobody knows."""
    found = can_then(catalogue, stock, material, at)
    family = catalogue.material(material).family
    return (0.0, 0.0) if found is None or family not in shelves() else slower_ln(found, shelves()[family])
