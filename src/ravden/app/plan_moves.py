"""What a plan that was repaired moved, and why, as it is told and kept: an instrument's first piece of work that stands
elsewhere than it did. No Qt."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import TYPE_CHECKING

import msgspec

from ravden.app.shop_problem import Clock
from ravden.app.step_words import step_said
from ravden.journal.entry import iso

if TYPE_CHECKING:
    from ravden.app.shop_plan import ShopPlanned
    from ravden.core.schedule.why_moved import Shift

TOLD_H = 24.0  # that a move is told


class Move(msgspec.Struct, frozen=True, omit_defaults=True, kw_only=True):
    """A piece of work that was moved. what: by its name; was, now, told: ISO in UTC; code: as in
    core/schedule/why_moved.py, or promise, crew or anew, where all was planned anew for what was told, or since a step
    found no place; by_min: by how much a wait grew; other: the name of what took the hands, or whose they are."""

    instrument: str
    name: str
    what: str
    was: str
    now: str
    told: str
    code: str
    by_min: int = 0
    other: str = ""


def moves_of(found: ShopPlanned) -> tuple[Move, ...]:
    """What a plan moved of the one before."""
    at = Clock(found.asked.hours, found.asked.now).moment
    return tuple(_move(found, shift, at(shift.was_min), at(shift.now_min)) for shift in found.shifts)


def _move(found: ShopPlanned, shift: Shift, was: datetime, now: datetime) -> Move:
    names = list(found.parts)
    instrument, outlooks = names[shift.job], found.asked.outlooks
    other = "" if shift.of < 0 else outlooks[names[shift.of]].project.instrument.name
    if shift.code == "away" and found.problem is not None:
        who = found.problem.previous.get((shift.job, shift.step))
        other = "" if who is None or found.asked.crew.named(who.who) is None else who.who
    return Move(
        instrument=instrument, name=outlooks[instrument].project.instrument.name,
        what=step_said(outlooks[instrument], found.parts[instrument].what[shift.step]), was=iso(was), now=iso(now),
        told=iso(found.asked.now), code=shift.code, by_min=shift.by_min, other=other,
    )  # fmt: skip


def still_told(moves: tuple[Move, ...], new: tuple[Move, ...], now: datetime) -> tuple[Move, ...]:
    """What is told by now: the new ones first, and those of the last day of instruments that were not moved again."""
    again = {m.instrument for m in new}
    since = now - timedelta(hours=TOLD_H)
    return (*new, *(m for m in moves if m.instrument not in again and datetime.fromisoformat(m.told) > since))
