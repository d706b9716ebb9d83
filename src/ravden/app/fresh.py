"""A switch for finding faults: with RAVDEN_FRESH=1 in the environment every remembered answer is worked out anew and
held against what was remembered. Slow, and never on by itself."""

import os
from typing import TypeVar

T = TypeVar("T")


class StaleError(AssertionError):
    """A remembered answer is not what is worked out now: its key lacks something."""


def fresh() -> bool:
    """Whether remembered answers are worked out anew."""
    return os.environ.get("RAVDEN_FRESH") == "1"


def same(what: str, kept: T, anew: T) -> T:
    """What was worked out anew. Raises StaleError where something else was remembered."""
    if kept != anew:
        raise StaleError(f"{what}: remembered {kept!r}, worked out {anew!r}"[:2000])
    return anew
