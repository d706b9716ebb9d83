"""What words are found with."""

from __future__ import annotations

from typing import TYPE_CHECKING, Protocol

from ravden.text.units import Units

if TYPE_CHECKING:
    from datetime import datetime

    from ravden.catalogue.tables import Catalogue
    from ravden.journal.shop import Shop


class Knows(Protocol):
    """The shop, its tables, the user's units, and the clock on the wall."""

    units: Units
    tools: tuple[str, ...]  # what there is to measure with

    @property
    def shop(self) -> Shop: ...
    @property
    def catalogue(self) -> Catalogue: ...
    @property
    def now(self) -> datetime: ...
    def local(self, moment: datetime) -> datetime: ...
