"""A step of the plan with its hours."""

import math
from collections.abc import Mapping
from dataclasses import dataclass

from ravden.core.calendar.hours import Spans

HORIZON_H = 24 * 240.0  # how far ahead a plan looks
BOND_H = 24 * 14.0  # how far ahead the next coat's own window is looked for
SCUFF_H = 0.4  # [A] hands on a scuff that the method does not name
OLD_FILM_H = 24.0 * 365  # [A] so old a film carries dust, grease and wax: cleaned and keyed before a coat

# When the shop's plan has hands on a piece of work [h]: by place in the method and number, 4.2 for the second coat or
# piece of the fifth step, 4.2s for the scuff before it.
Held = Mapping[str, tuple[float, float]]


@dataclass(frozen=True, slots=True, kw_only=True)
class Bond:
    """What the next coat has to keep to [h]: from when on it may be laid and the film bears a scuff (None: not within
    sight), and until when it holds without one (None: always)."""

    next_h: float | None
    scuff_h: float | None
    recoat_until_h: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class PlannedStep:
    """A step still to come: its place in the method, when hands begin and end, and hours of hands in between [h].

    hands: the stretches in which hands are on it [h]; kind: what is done between coats that the method does not name,
    light or scuff, empty for the step itself; dose_mJ_cm2: of the light; habit_h: hour before which habit ends no wait,
    whatever the film says; film_h: from when the film bears the work, hands or no hands, None where nothing is waited
    for; bonds: what each coat of it had to keep to, None where it only follows the habit; free_h: from when on hands
    may be on it, whatever else the shop's plan has them do, None where that is from_h.
    """

    index: int
    from_h: float
    to_h: float
    hands_h: float
    hands: Spans = ()
    kind: str = ""
    dose_mJ_cm2: float = 0.0
    habit_h: float = -math.inf
    film_h: float | None = None
    bonds: tuple[Bond | None, ...] = ()
    free_h: float | None = None


def bonds_until_h(recoat_until_h: float | None, last_coat_h: float, at_h: float) -> float | None:
    """Until when a coat at an hour holds without a scuff [h]: to the film's own limit, None where it has none; and on
    no film that has stood for more than a year, be it one that melts into the next."""
    if not grown_old(last_coat_h, at_h):
        return recoat_until_h
    return min(math.inf if recoat_until_h is None else recoat_until_h, last_coat_h + OLD_FILM_H)


def grown_old(last_coat_h: float | None, at_h: float) -> bool:
    """Whether a film has stood for a year or more."""
    return last_coat_h is not None and at_h - last_coat_h > OLD_FILM_H
