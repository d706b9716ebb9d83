"""The Book: instruments handed over."""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING

from msgspec import Struct

if TYPE_CHECKING:
    from ravden.journal.rack import OnRack


class Booked(Struct, frozen=True, kw_only=True):
    """An instrument in the Book, with what it is looked for by. person: by number to whom it went, 0: nobody said;
    rack: with all that happened to it; None: its entries have not been read."""

    id: str
    name: str
    kind: str
    method: str
    material: str
    sheen: str
    added: datetime
    handed: datetime
    person: int = 0
    note: str = ""
    rack: OnRack | None = None
