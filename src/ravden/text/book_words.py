"""What is seen of instruments months after they were handed over, in words."""

from __future__ import annotations

from collections.abc import Sequence

from ravden.text import words

SINKS = {"none": "not sunk", "slight": "sunk a little, seen in raking light", "clear": "sunk, seen at a glance"}
SEEN = {"print": "a print in the film", "checking": "checking", "tack": "tacky"}


def seen(sink: str, what: Sequence[str]) -> str:
    """not sunk; nothing else to see."""
    return f"{SINKS[sink]}; {words.listed([SEEN[w] for w in what]) or 'nothing else to see'}"
