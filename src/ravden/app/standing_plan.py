"""The plan that stands, kept in the shop file: what is opened tomorrow is what was looked at today. No Qt."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING

import msgspec

from ravden.app.plan_moves import Move
from ravden.core.climate.series import Cabinet
from ravden.core.errors import InputError, need, need_in
from ravden.core.method.slots import DONE, parts
from ravden.journal.crew import KeptStep, moment

if TYPE_CHECKING:
    from ravden.app.shop_problem import Steps
    from ravden.core.ahead.steps import Held
    from ravden.journal.store import Journal

NAME = "plan"
MOST_STEPS, MOST_COATS, MOST_H = 20_000, 500, 1e6
Hours = tuple[float, float]


class Standing(msgspec.Struct, frozen=True, omit_defaults=True, kw_only=True):
    """A plan as it stands. last: the newest entry of the journal it knows; hands: where it has hands on each
    instrument, in that one's own hours, and stays: in the warm cabinet, by which the films were followed; moves: what
    was moved of late, and why; declined: what an offer would have gained that was left."""

    last: int = 0
    steps: tuple[KeptStep, ...] = ()
    hands: dict[str, dict[str, Hours]] = {}
    stays: dict[str, tuple[Cabinet, ...]] = {}
    moves: tuple[Move, ...] = ()
    declined: tuple[int, int, int] | None = None

    @property
    def by_step(self) -> Steps:
        return {(s.instrument, s.step): s for s in self.steps}


def standing(
    steps: Steps, hands: Mapping[str, Held], stays: Mapping[str, tuple[Cabinet, ...]], last: int,
    moves: tuple[Move, ...], declined: tuple[int, int, int] | None,
) -> Standing:  # fmt: skip
    """A plan to be kept. The ends of waits are among the hands, where they are held; the plan has them as the film
    breathes."""
    work = tuple(step for (_, name), step in steps.items() if parts(name)[1] != DONE)
    return Standing(
        last=last, steps=work, hands={i: dict(h) for i, h in hands.items()}, stays=dict(stays), moves=moves,
        declined=declined,
    )  # fmt: skip


def keep(journal: Journal, found: Standing) -> None:
    """Keep it in the file. Raises InputError where that cannot be written."""
    journal.remember(NAME, msgspec.json.encode(found).decode())


def kept(journal: Journal) -> Standing:
    """The plan that stood when the file was last open; nothing where none can be read."""
    text = journal.recall(NAME)
    try:
        found = msgspec.json.decode(text, type=Standing) if text else Standing()
        _need_sound(found)
    except (msgspec.ValidationError, msgspec.DecodeError, InputError, ValueError, RecursionError):
        return Standing()
    return found


def _need_sound(found: Standing) -> None:
    """Raise InputError at what no shop's plan can have: the file may come from anybody."""
    need(len(found.steps) <= MOST_STEPS and len(found.moves) <= MOST_STEPS, "plan", "is longer than any")
    for step in found.steps:
        need(0 < len(step.starts) <= MOST_COATS, "plan.starts", "are too many, or none")
        for text in (*step.starts, *([step.scuff] if step.scuff else [])):
            moment(text, "plan.starts")
    for move in found.moves:
        for text in (move.was, move.now, move.told):
            moment(text, "plan.moves")
        need_in(move.by_min, 0, MOST_H * 60, "plan.moves.by_min")
    for hands in found.hands.values():
        for a, b in hands.values():
            need_in(a, -MOST_H, MOST_H, "plan.hands")
            need_in(b, a, MOST_H, "plan.hands")
    for stays in found.stays.values():
        for stay in stays:
            need_in(stay.at_h, -MOST_H, MOST_H, "plan.stays")
            need_in(stay.hours, 0.0, MOST_H, "plan.stays")
            need_in(stay.temp_C, 0.0, 80.0, "plan.stays")
            need_in(stay.rh, 0.0, 1.0, "plan.stays")
