"""What hands do in the booth that leaves no film of its own: a pass, and care of a film that rests."""

from __future__ import annotations

from typing import ClassVar

from ravden.core.record import Care, Pass
from ravden.journal.kinds.kind import Acted


class PassLogged(Acted, frozen=True, tag="pass"):
    """One pass of a coat under way; its last pass is the coat itself."""

    made: ClassVar[type] = Pass


class CareLogged(Acted, frozen=True, tag="care"):
    """A resting film turned, or wiped over again."""

    what: str

    made: ClassVar[type] = Care
