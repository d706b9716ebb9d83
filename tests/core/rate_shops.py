"""Made-up shops that look at their films: does what is learnt of a drying rate settle on the truth? Used by a test and
by benchmarks/waits.py."""

import math
from datetime import UTC, datetime, timedelta

from ravden.core.ahead.drying_rate import heard
from ravden.core.ahead.foretold import NOTICED_BY_NAIL, NOTICED_BY_PAPER, WINDOW, Foretold

USUAL_H, PLANNED = 12.2 * 24, 18.8 / 12.2  # the likely wait at the usual rate, and the planned one over the likely
LATE, AGAIN_D, TRIED_D, TAKEN_EVERY = 1.9, 2, 4, 6
AT = datetime(2026, 1, 1, tzinfo=UTC)


def wait_of(way, rng, true_h, likely_h, planned_h, look_h):
    """Hours between which a film was found to get ready, and the odds that softness would have been noticed. way: paper
    levels when planned, and is troubled in seven of ten that are soft; nail tries on the planned day and then every
    second day; look tries on the day that was asked for."""
    if way == "paper":
        low, at = 0.0, planned_h
        while at < true_h and rng.random() < NOTICED_BY_PAPER:
            low, at = at, at + 24.0 * TRIED_D
        return low, at, NOTICED_BY_PAPER
    low, at = 0.0, planned_h if way == "nail" else look_h
    while at < true_h:
        low, at = at, at + 24.0 * AGAIN_D
    return low, at, NOTICED_BY_NAIL


def learnt(rng, rate, way, noise, instruments, *, take=True):
    """The likely wait in use over the true one after each instrument of one shop, what is put forward taken over every
    six."""
    told, used, out = [], 0.0, []
    look_h = USUAL_H
    for n in range(instruments):
        likely = USUAL_H * math.exp(-used)
        true = USUAL_H / rate * math.exp(noise * rng.normal())
        low, high, noticed = wait_of(way, rng, true, likely, likely * PLANNED, look_h)
        told.append(
            Foretold(
                what=WINDOW, of=str(n), name="", label="", finish="", at=AT + timedelta(days=n), low=likely / LATE,
                likely=likely, high=likely * LATE, came_low=low, came_high=high, rate_ln=used, noticed=noticed,
            )
        )  # fmt: skip
        found = heard(told)
        look_h = found.look_h
        if take and (n + 1) % TAKEN_EVERY == 0 and found.forward is not None:
            used = found.forward.ln_mean
        out.append(rate * math.exp(-used))
    return out
