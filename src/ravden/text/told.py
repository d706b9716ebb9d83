"""What a card at the top of a place says."""

from msgspec import Struct


class Told(Struct, frozen=True, kw_only=True):
    """tone: open (hands may work), plain (wait), warn; more: what whoever points at it is told besides."""

    tone: str
    heading: str
    detail: str = ""
    more: str = ""
