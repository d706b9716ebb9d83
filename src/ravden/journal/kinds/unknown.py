"""An entry of a kind this version does not know: kept as it is, shown as such, and without effect."""

from __future__ import annotations

from datetime import datetime

from ravden.core.errors import InputError
from ravden.journal.kinds.kind import Kind
from ravden.journal.shop import Shop


class Unknown(Kind, frozen=True):
    """kind: what it calls itself; text: the whole of it, as it stands in the file; why: what is wrong with one that
    should have been known, empty for a kind of a later version."""

    kind_name: str
    text: str
    why: str = ""

    def group(self, instrument: str) -> str:
        return "/unknown"

    def check(self, shop: Shop, instrument: str, at: datetime) -> None:
        raise InputError("kind", f"this Ravden knows no entry of the kind {self.kind_name}")

    def onto(self, shop: Shop, instrument: str, at: datetime, entry: int) -> Shop:
        return shop
