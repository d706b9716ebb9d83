"""Looks that would tell most of how fast a finish dries here: does a nail dent the film? Asked for only where that is
not known well, and no more than one a week of a finish. No Qt."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from datetime import datetime, timedelta
from typing import TYPE_CHECKING

from msgspec import Struct

from ravden.app.shop_problem import Clock, ShopAsked, wall_of
from ravden.core.climate.series import COMING_H, mean_C
from ravden.core.record import NOTICES, Coat, Reading

if TYPE_CHECKING:
    from ravden.core.ahead.drying_rate import Heard
    from ravden.core.ahead.foretold import Foretold
    from ravden.core.ahead.outlook import Outlook

KNOWN_SD = 0.08  # [A] of ln of a rate, from which on no more looks are asked for
WEEK_H = 7 * 24.0
SOON_H = 12.0  # [A] so soon before hands are on it anyway, or so long after it most told, no look is asked for


class Look(Struct, frozen=True, kw_only=True):
    """A nail to be tried on an instrument, from a moment on the shop's wall on."""

    instrument: str
    name: str
    finish: str
    at: datetime


def looks(asked: ShopAsked, hands: Mapping[str, datetime], told: Iterable[Foretold]) -> tuple[Look, ...]:
    """The looks to ask for in the week to come. hands: when the plan has hands on each instrument next; told: what was
    foretold of instruments in the Book, and came."""
    from ravden.core.ahead.drying_rate import heard

    by: dict[str, list[Foretold]] = {}
    for one in told:
        by.setdefault(one.finish, []).append(one)
    airs = {
        o.project.material.id: mean_C(o.project.dries_in, o.now_h, o.now_h + COMING_H) for o in asked.outlooks.values()
    }
    of_finish = {finish: heard(some, airs.get(finish)) for finish, some in by.items()}
    waiting: dict[str, list[tuple[datetime, str]]] = {}
    busy: set[str] = set()
    for name, found in asked.outlooks.items():
        finish = found.project.material.id
        if any(_looked(a, found.now_h) for a in found.project.acts):
            busy.add(finish)
        at_h = _look_h(found, of_finish.get(finish))
        if at_h is None or at_h > found.now_h + WEEK_H:
            continue
        at = Clock(asked.hours, asked.now).moment(wall_of(asked, name).minute(at_h))
        if name not in hands or at < hands[name] - timedelta(hours=SOON_H):
            waiting.setdefault(finish, []).append((at, name))
    firsts = [(finish, *min(some)) for finish, some in waiting.items() if finish not in busy]
    out = [
        Look(instrument=name, name=asked.outlooks[name].project.instrument.name, finish=finish, at=at)
        for finish, at, name in firsts
    ]
    return tuple(sorted(out, key=lambda look: (look.at, look.name)))


def _looked(act: object, now_h: float) -> bool:
    return isinstance(act, Reading) and act.what in NOTICES and 0.0 <= now_h - act.at_h < WEEK_H


def _look_h(found: Outlook, known: Heard | None) -> float | None:
    """When a nail would tell most on an instrument that waits to be levelled; None: it does not, or it is known well
    enough."""
    index, stages = found.progress.index, found.method.stage
    if index >= len(stages) or stages[index].kind != "wait" or stages[index].window != "level" or stages[index].mends:
        return None
    if known is not None and known.ln_sd <= KNOWN_SD:
        return None
    window = next(iter(found.windows), None)
    coats = [a.at_h for a in found.project.acts if isinstance(a, Coat) and not a.spot and a.at_h <= found.now_h]
    if window is None or window.name != "level" or window.likely_h is None or not coats:
        return None
    mean = found.project.rate_ln[0] if known is None else known.ln_mean
    wait_h = (window.likely_h - max(coats)) * math.exp(found.project.rate_ln[0] - mean)
    if max(coats) + wait_h < found.now_h - SOON_H:
        return None  # by now it would leave nothing, whatever the rate
    return found.hours.next_open(max(max(coats) + wait_h, found.now_h))
