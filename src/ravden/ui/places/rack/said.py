"""The shop's plan in sentences: why then, what a way out moves, whether it can be ready."""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING

from ravden.text import words, written

if TYPE_CHECKING:
    from ravden.app.shop_questions import Clashing, Moved, Ready, WayOut, WhyLink

DAY_MIN = 1440
MOST_MOVES = 4
BETTER, OFFERED = "A better plan", "In the place of the one that stands"
OFFERS = {"changes": "Fewest changes", "late": "Fewest late days"}
STOOD = {
    "film": "", "needs": "", "begin": "", "day": "because the day's work is kept together",
    "pin": "because it is pinned there", "shut": "because nobody is there", "hands": "because hands were on other work",
    "air": "because of the air", "company": "for company in the booth",
}  # fmt: skip


NOT_ON = {
    "": "", "film": "Its film, or the work before it, is not ready by then",
    "nobody": "Nobody is there for so long who may do it",
    "air": "The air does not bear it that day",
}  # fmt: skip


def chain(links: tuple[WhyLink, ...], now: datetime) -> tuple[str, ...]:
    """Why an instrument is over when it is, a line each, from its end back."""
    return tuple(_link(link, now) for link in links)


def _link(link: WhyLink, now: datetime) -> str:
    began = f"{link.what}: {at_clock(link.at, now)}"
    parts = []
    if link.film_min >= 60:
        parts.append(f"{lasted(link.film_min)} for the film")
    if link.waited_min >= 15:
        why = STOOD[link.code]
        if link.code == "hands" and link.other not in ("", "hands"):
            why = f"because {link.other} was on other work"
        parts.append(f"{lasted(link.waited_min)} {why}".strip())
    if not parts:
        return f"{began}, as soon as what comes before it was done" if link.code != "begin" else f"{began}, at once"
    return f"{began}; it waited {' and '.join(parts)}"


def at_clock(at: datetime, now: datetime) -> str:
    """A planned moment to the minute: Thu 7 May 14:00."""
    return f"{words.day(at, now)} {written.clock(at)}"


def clash_lines(found: Clashing, now: datetime) -> tuple[str, ...]:
    """Firm promises that cannot all be kept: which, and what it would cost to keep none firm."""
    out = []
    for name, promised, alone in found.firm:
        ready = "does not get there within sight" if alone is None else f"alone {at_clock(alone, now)} at the earliest"
        out.append(f"{name}, firm for {words.day(promised, now)}: {ready}")
    if len(found.clash) == 1:
        out.append(f"{found.clash[0]} cannot be ready by then even alone.")
    elif found.clash:
        out.append(f"They clash: {words.listed(list(found.clash))}; one of these dates has to give.")
    if found.relief is not None:
        out.append(f"With none of them firm: {days_late(found.relief)} in all.")
    return tuple(out)


def lasted(minutes: int) -> str:
    """How long something took: 25 min, 3.5 h, 9.0 days."""
    if minutes < 120:
        return f"{minutes} min"
    if minutes < 2 * DAY_MIN:
        return f"{written.number(minutes / 60, '.1f').removesuffix('.0').removesuffix(',0')} h"
    return f"{written.number(minutes / DAY_MIN, '.1f')} days"


def way_lines(way: WayOut, now: datetime, named: bool) -> tuple[str, ...]:
    """A way out: its figures, who is late, and what it moves."""
    out = [
        f"{words.plural(len(way.moves), 'piece')} of work moved; {days_late(way.figures.late_days)}; "
        f"{words.plural(way.figures.setups, 'set-up')} of the gun"
    ]
    out += [f"{name}: {days_late(late)}{_before(late, was)}" for name, late, was in way.late]
    out += [_move(m, now, named) for m in way.moves[:MOST_MOVES]]
    if len(way.moves) > MOST_MOVES:
        out.append(f"and {len(way.moves) - MOST_MOVES} more")
    return tuple(out)


def cannot_stand(steps: int) -> str:
    """So many steps of the plan that is kept cannot be done as they stand."""
    return f"{words.plural(steps, 'step')} of this plan cannot stand"


def days_late(days: int) -> str:
    """How late, in days."""
    return "none late" if days == 0 else f"{words.plural(days, 'day')} late"


def _before(late: int, was: int) -> str:
    return "" if late == was else f" (before: {'on time' if was == 0 else words.plural(was, 'day')})"


def _move(moved: Moved, now: datetime, named: bool) -> str:
    who = f", by {moved.who}" if named and moved.who != moved.who_was else ""
    what = f"{moved.name}, {moved.what[:1].lower()}{moved.what[1:]}"
    return f"{what}: {at_clock(moved.was, now)} → {at_clock(moved.now, now)}{who}"


def ready_lines(found: Ready, now: datetime) -> tuple[str, ...]:
    """Whether an instrument can be promised, and who would pay."""
    out = []
    if found.alone is None:
        out.append(f"Alone: {found.name} does not get there within sight.")
    else:
        out.append(f"With the shop for itself: {words.moment(found.alone, now)} at the earliest.")
    if found.first is not None:
        said = "Yes" if found.first <= found.by else "No"
        out.append(f"If it goes first: {said.lower()}, {words.moment(found.first, now)}.{_pays(found)}")
    for what, at in found.helps:
        sooner = 0 if found.first is None else round((found.first - at).total_seconds() / 60)
        out.append(f"{what[:1].upper()}{what[1:]}: {words.moment(at, now)}, {lasted(sooner)} sooner.")
    if not found.helps:
        out.append("Neither longer days, more hands nor a warm cabinet would bring it sooner: the film decides.")
    out.append("As far as can be searched." if found.searched else "Searching for a better way …")
    return tuple(out)


def _pays(found: Ready) -> str:
    late = [f"{name} {words.plural(now - was, 'day')} later" for name, now, was in found.others if now > was]
    return f" It costs: {'; '.join(late)}." if late else " Nobody else is late by it."
