"""The Book: instruments handed over."""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING

from msgspec import Struct

if TYPE_CHECKING:
    from ravden.journal.rack import OnRack


SINKS = ("none", "slight", "clear")
SEEN = ("print", "checking", "tack")


class Checked(Struct, frozen=True, kw_only=True):
    """A look at an instrument after it was handed over. sink: how far the film has sunk since; seen: what else there
    was to see, of SEEN; note: in the shop's own words."""

    at: datetime
    sink: str = "none"
    seen: tuple[str, ...] = ()
    note: str = ""


class Booked(Struct, frozen=True, kw_only=True):
    """An instrument in the Book, with what it is looked for by. person: by number to whom it went, 0: nobody said;
    checks: looks at it since; rack: with all that happened to it; None: its entries have not been read."""

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
    checks: tuple[Checked, ...] = ()
    rack: OnRack | None = None
