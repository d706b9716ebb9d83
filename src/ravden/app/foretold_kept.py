"""What was foretold of instruments in the Book and came, kept beside what they taught: all of it counts in *Was Ravden
right?*, not that of the last ones alone. Nothing here is the truth: it is worked out again where it is not kept."""

from __future__ import annotations

import math
from collections.abc import Sequence
from datetime import datetime
from typing import TYPE_CHECKING

import msgspec

from ravden.app.lessons import Kept

if TYPE_CHECKING:
    from ravden.core.ahead.foretold import Foretold
    from ravden.journal.store import Journal

AS_OF = 2  # raised whenever what is foretold is worked out otherwise: what was kept before is worked out anew


class Line(msgspec.Struct, frozen=True, array_like=True):
    """One of them as it is written; came_high: None where nothing came by then; known: likely, rate_ln, sd and
    air_C."""

    what: str
    name: str
    label: str
    finish: str
    at: str
    ranged: tuple[float, float, float]
    came_low: float
    came_high: float | None
    rate_ln: float
    noticed: float
    known: tuple[float, float, float, float] | None = None


class Lines(msgspec.Struct, frozen=True):
    """All of an instrument, and how they were worked out."""

    as_of: int
    lines: tuple[Line, ...]


def keep_foretold(journal: Journal, instrument: str, told: Sequence[Foretold]) -> None:
    """Keep them beside what the instrument taught; where that is not kept, nothing is."""
    before = journal.lessons().get(instrument)
    if before is None or journal.read_only:
        return
    lines = tuple(
        Line(
            what=f.what, name=f.name, label=f.label, finish=f.finish, at=f.at.isoformat(),
            ranged=(f.low, f.likely, f.high), came_low=f.came_low, rate_ln=f.rate_ln, noticed=f.noticed,
            came_high=None if math.isinf(f.came_high) else f.came_high,
            known=None if f.known is None else (f.known.likely, f.known.rate_ln, f.known.sd, f.known.air_C),
        )
        for f in told
    )  # fmt: skip
    text = msgspec.json.encode(Lines(as_of=AS_OF, lines=lines)).decode()
    found = msgspec.structs.replace(msgspec.json.decode(before, type=Kept), foretold=text)
    journal.put_lesson(instrument, msgspec.json.encode(found).decode())


def foretold_of(journal: Journal | None) -> dict[str, tuple[Foretold, ...]]:
    """What is kept, by instrument; what cannot be read, or was worked out otherwise, is left out."""
    out: dict[str, tuple[Foretold, ...]] = {}
    for instrument, text in ({} if journal is None else journal.lessons()).items():
        try:
            kept = msgspec.json.decode(text, type=Kept).foretold
            lines = None if not kept else msgspec.json.decode(kept, type=Lines)
            if lines is not None and lines.as_of == AS_OF:
                out[instrument] = tuple(_read(line, instrument) for line in lines.lines)
        except (msgspec.DecodeError, ValueError):
            continue
    return out


def _read(line: Line, instrument: str) -> Foretold:
    from ravden.core.ahead.foretold import Foretold, Known

    low, likely, high = line.ranged
    known = None
    if line.known is not None:
        wait_h, rate_ln, sd, air_C = line.known
        known = Known(likely=wait_h, rate_ln=rate_ln, sd=sd, air_C=air_C)
    return Foretold(
        what=line.what, of=instrument, name=line.name, label=line.label, finish=line.finish,
        at=datetime.fromisoformat(line.at), low=low, likely=likely, high=high, came_low=line.came_low,
        came_high=math.inf if line.came_high is None else line.came_high, rate_ln=line.rate_ln, noticed=line.noticed,
        known=known,
    )  # fmt: skip
