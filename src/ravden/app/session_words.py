"""What sessions in the Booth say of how long work takes here: from begin to end, without the waits between coats."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable, Mapping, Sequence
from datetime import datetime, timedelta
from typing import TYPE_CHECKING

from msgspec import Struct

from ravden.core.method.steps import hours_of, progress
from ravden.core.record import Coat, Sanding, StepDone
from ravden.core.record.word import FASTEST, HOURS, SLOWEST, Word, key_of
from ravden.journal.counting import effective
from ravden.journal.kinds.session import OfSession, SessionBegun, SessionEnded, SessionPaused
from ravden.journal.kinds.undone import Undone

if TYPE_CHECKING:
    from ravden.journal.entry import Entry
    from ravden.journal.rack import OnRack

ONE_TIME_LN_SD = 0.30  # [A] one session against the next
JUST_BEFORE_H = 1e-6


class Span(Struct, frozen=True, kw_only=True):
    """A session that was begun and ended; away: while it was left."""

    begun: datetime
    ended: datetime
    away: timedelta
    instruments: tuple[str, ...]


def spans(entries: Iterable[Entry]) -> tuple[Span, ...]:
    """Sessions that somebody said were over; of one that was left open nobody knows how long it was."""
    told = [e for e in entries if isinstance(e.body, OfSession | Undone)]
    out: list[Span] = []
    begun: Entry | None = None
    away, left = timedelta(), None
    for e in sorted(effective(sorted(told, key=lambda e: e.id)), key=lambda e: (e.at, e.id)):
        body = e.body
        if isinstance(body, SessionBegun):
            begun, away, left = e, timedelta(), None
        elif isinstance(body, SessionPaused) and begun is not None:
            if not body.on and left is not None:
                away += e.at - left
            left = e.at if body.on else None
        elif isinstance(body, SessionEnded) and begun is not None:
            if left is not None:
                away += e.at - left
            assert isinstance(begun.body, SessionBegun)
            out.append(Span(begun=begun.at, ended=e.at, away=away, instruments=begun.body.instruments))
            begun = None
    return tuple(out)


def session_words(found: Sequence[Span], racks: Mapping[str, OnRack]) -> tuple[Word, ...]:
    """What each says, in the order of time; nothing where more than one sort of work was done in it, or paper was in
    hand, whose minutes are told by themselves. They are told of the first instrument of the session."""
    out = []
    for span in found:
        if not all(i in racks for i in span.instruments):
            continue
        done = sorted((d for i in span.instruments for d in _done(racks[i], span)), key=lambda d: d[0])
        kinds = {key for _, key, _ in done}
        if len(kinds) != 1 or "" in kinds:
            continue
        expected = sum(hours for _, _, hours in done)
        took = (span.ended - span.begun - span.away).total_seconds() / 3600.0
        for (at, _, _), (then, _, hours) in itertools.pairwise(done):
            took -= max((then - at).total_seconds() / 3600.0 - hours, 0.0)
        if expected > 0 and FASTEST * expected <= took <= SLOWEST * expected:
            key = key_of(HOURS, next(iter(kinds)))
            ln = math.log(took / expected)
            out.append(Word(key=key, ln=ln, sd=ONE_TIME_LN_SD, at=span.ended, of=span.instruments[0]))
    return tuple(out)


def _done(rack: OnRack, span: Span) -> list[tuple[datetime, str, float]]:
    """When hands did what in a session, and the hours its step has; no name for what is not to be told."""
    stages = {s.key: s for s in rack.method.stage}
    out = []
    for act in rack.acts:
        at = rack.moment(act.at_h)
        if not span.begun <= at <= span.ended or not isinstance(act, Coat | Sanding | StepDone):
            continue
        stage = None
        if isinstance(act, StepDone) and not act.skipped:
            stage = stages.get(act.step)
        elif isinstance(act, Coat) and not act.mends and act.count == 1:
            index = progress(rack.method, rack.acts, act.at_h - JUST_BEFORE_H, rack.body_where_it_matters).index
            stage = next((s for s in rack.method.stage[index:] if s.kind == "coats" and s.finish == act.finish), None)
        told = stage is not None and stage.hours > 0 and not stage.mends
        out.append((at, hours_of(stage) if stage is not None and told else "", stage.hours if stage else 0.0))
    return out
