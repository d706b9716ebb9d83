"""A look at photos of a zone, and what the eye made of it: it moves no film, no odds and no plan."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

import msgspec

from ravden.core.errors import need
from ravden.journal.kinds.kind import OfInstrument
from ravden.journal.rack import OnRack

MOST_PHOTOS = 6
Sha = Annotated[str, msgspec.Meta(pattern="^[0-9a-f]{64}$")]


class PhotoNamed(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A photo: the check sum of its file as it was, and its name."""

    sha256: Sha
    name: Annotated[str, msgspec.Meta(max_length=255)]


class LookNoted(OfInstrument, frozen=True, tag="look"):
    """What was said of a zone, after which grade, and what the fixed rule had marked: share lit, spots ringed."""

    zone: str
    said: Literal["level", "lows-left", "cannot-tell"]
    grade: str = ""
    marked: str = ""
    lit_share: float | None = None
    spots: int = 0
    photos: tuple[PhotoNamed, ...] = ()

    @property
    def bears_on_plans(self) -> bool:
        return False

    def check_on(self, rack: OnRack, at: datetime) -> None:
        rack.project.zone(self.zone)

    def limits(self) -> None:
        need(len(self.photos) <= MOST_PHOTOS, "photos", f"at most {MOST_PHOTOS} (got {len(self.photos)})")
        need(self.lit_share is None or 0 <= self.lit_share <= 1, "lit_share", "must be between 0 and 1")
        need(self.spots >= 0, "spots", "must not be negative")

    def onto_rack(self, rack: OnRack, at: datetime, entry: int) -> OnRack:
        return rack
