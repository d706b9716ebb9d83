"""What changed in the open shop, as it is told to those who listen. No Qt."""

from collections.abc import Sequence

from msgspec import Struct


class Changes(Struct, frozen=True, kw_only=True):
    """What changed, and who did it: listeners redraw what it touches. taken_back: it can be brought back."""

    origin: str
    instruments: tuple[str, ...] = ()
    selection: bool = False
    appearance: bool = False
    file: bool = False
    taken_back: bool = False
    message: str = ""


def together(told: Sequence[Changes]) -> Changes:
    """One telling of all that an act changed: its words are those of what was said last."""
    said = [c.message for c in told if c.message]
    return Changes(
        origin=told[-1].origin, instruments=tuple(dict.fromkeys(i for c in told for i in c.instruments)),
        selection=any(c.selection for c in told), appearance=any(c.appearance for c in told),
        file=any(c.file for c in told), taken_back=any(c.taken_back for c in told), message=said[-1] if said else "",
    )  # fmt: skip
