"""A method of the shop's own."""

from __future__ import annotations

from datetime import datetime
from typing import ClassVar

from ravden.catalogue.method_files import read_method_file
from ravden.journal.kinds.kind import OfShop
from ravden.journal.shop import Shop


class MethodKept(OfShop, frozen=True, tag="method"):
    """A method of the shop's own, as the text of its file; a later one of the same id takes its place."""

    text: str
    name: str = "method"

    part: ClassVar[str] = "methods"

    def check(self, shop: Shop, instrument: str, at: datetime) -> None:
        read_method_file(self.text, self.name, shop.catalogue)

    def onto(self, shop: Shop, instrument: str, at: datetime, entry: int) -> Shop:
        method = read_method_file(self.text, self.name, shop.catalogue)
        return shop.with_catalogue(shop.catalogue.with_methods({method.id: method}))
