"""What a card at the top of a place says."""

from dataclasses import dataclass


@dataclass(frozen=True, slots=True, kw_only=True)
class Told:
    """tone: open (hands may work), plain (wait), warn; more: what whoever points at it is told besides."""

    tone: str
    heading: str
    detail: str = ""
    more: str = ""
