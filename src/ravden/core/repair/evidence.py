"""A cause of a defect: how sure it is, and the number that speaks for it."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass

from ravden.core.record import Coat
from ravden.core.repair.record import Record

VERY, LIKELY, POSSIBLE = "very likely", "likely", "possible"
NEAR = 0.85  # [A] of a limit from which it is near


@dataclass(frozen=True, slots=True, kw_only=True)
class Cause:
    """code: which; confidence: very likely (a limit was crossed), likely (near it), possible (asked, or nobody knows);
    value, limit: the number that speaks for it and the limit, in what (um, K, h, C, share, odds, count); at_h: of when;
    asks: the question nobody has answered, empty where the record does."""

    code: str
    confidence: str
    value: float = math.nan
    limit: float = math.nan
    what: str = ""
    at_h: float | None = None
    asks: str = ""


Looked = Iterator[Cause]


def over_limit(code: str, value: float, limit: float, what: str, at_h: float | None = None) -> Looked:
    """Crossed, near, or nothing."""
    if value > limit:
        yield Cause(code=code, confidence=VERY, value=value, limit=limit, what=what, at_h=at_h)
    elif limit > 0 and value > NEAR * limit:
        yield Cause(code=code, confidence=LIKELY, value=value, limit=limit, what=what, at_h=at_h)


def under_limit(
    code: str, value: float, limit: float, what: str, at_h: float | None = None, *, near: bool = True
) -> Looked:
    """The same of what should have been more. near: whether just enough is already suspicious, as no habit is."""
    if value < limit - 1e-6:
        yield Cause(code=code, confidence=VERY, value=value, limit=limit, what=what, at_h=at_h)
    elif near and value < limit / NEAR:
        yield Cause(code=code, confidence=LIKELY, value=value, limit=limit, what=what, at_h=at_h)


def ask(code: str) -> Looked:
    """Nobody knows: it is asked, under the cause's own name."""
    yield Cause(code=code, confidence=POSSIBLE, asks=code)


def asked(code: str) -> Callable[[Record], Looked]:
    """A cause that only its user knows of."""

    def look(r: Record) -> Looked:
        yield from ask(code)

    return look


def last_coat(r: Record) -> Coat | None:
    """The newest coat before the defect was seen; None: there is none."""
    coats = r.coats
    return coats[-1] if coats else None
