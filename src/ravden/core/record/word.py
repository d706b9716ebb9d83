"""What the record says of a figure of this shop's own, and what its user has said about believing it."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from datetime import datetime

from msgspec import Struct

CUT, SCRATCH = "cut", "scratch"
GUN, TEXTURE, HOURS, ZONE, SINK, RATE = "gun", "texture", "hours", "zone", "sink", "rate"
MINUTES, POLISHING = "minutes", "polishing"  # of papers, whose own cut is learnt beside; of all else

# Of the time expected: beyond, hands were elsewhere, or a zone was ticked and not worked [A].
FASTEST, SLOWEST = 0.2, 5.0


class Word(Struct, frozen=True, kw_only=True):
    """One piece of evidence. key: of which figure (what it is and of what, with strokes between); ln, sd: logarithm of
    what was found against what the built-in figure says, and its own uncertainty [-]; at: when; of: on which
    instrument."""

    key: str
    ln: float
    sd: float
    at: datetime
    of: str = ""


class Rule(Struct, frozen=True, kw_only=True, omit_defaults=True):
    """What the user has said about a figure. since: nothing from before that moment counts; frozen: mean and sd of the
    logarithm it stays at, whatever is found, and when that was said; None: it goes on learning."""

    since: datetime | None = None
    frozen: tuple[float, float] | None = None
    frozen_at: datetime | None = None

    def counts(self, at: datetime) -> bool:
        """Whether what was found at a moment counts."""
        return self.since is None or at > self.since


def key_of(what: str, *of: str) -> str:
    """The name of a figure.

    >>> key_of("minutes", "FEPA-P:P800")
    'minutes/FEPA-P:P800'
    """
    return "/".join((what, *of))


def gathered(kept: Mapping[str, tuple[Word, ...]], more: Iterable[Word]) -> dict[str, tuple[Word, ...]]:
    """Words by figure, with some more."""
    out = dict(kept)
    fresh: dict[str, list[Word]] = {}
    for word in more:
        fresh.setdefault(word.key, []).append(word)
    return out | {key: (*out.get(key, ()), *words) for key, words in fresh.items()}
