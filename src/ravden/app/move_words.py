"""What a plan moved, and why; what a better one would gain."""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING

from ravden.text import words, written

if TYPE_CHECKING:
    from ravden.app.better_plan import Offer
    from ravden.app.plan_moves import Move

MOST_NAMED = 3
WHY = {
    "missed": "it was not done then",
    "film": "its film takes longer than it was planned with",
    "pin": "it is pinned there",
    "away": "nobody is there then",
    "air": "the air does not bear it then",
    "taken": "hands are on {other} then",
    "window": "its recoat window would be shut by then",
    "sooner": "it can be done sooner, and nobody else moves",
    "rest": "what comes before it moved",
    "promise": "a promise was told, which asks for it",
    "crew": "it was told who works here, or when",
    "anew": "the days were planned anew",
}


def why(move: Move) -> str:
    """Why a piece of work was moved."""
    if move.code == "film" and move.by_min >= 60:
        return f"its film takes {words.wait(move.by_min / 60)} longer than it was planned with"
    if move.code == "away" and move.other:
        return f"{move.other} is not there then"
    if move.code == "taken" and not move.other:
        return "hands are on something else then"
    return WHY.get(move.code, WHY["rest"]).format(other=move.other)


def moved(move: Move, now: datetime) -> str:
    """A piece of work that was moved: from when to when, and why. now: on the shop's wall."""
    was, then = (datetime.fromisoformat(text).astimezone(now.tzinfo) for text in (move.was, move.now))
    return f"{move.what}: {_at(was, now)} → {_at(then, now)}, since {why(move)}"


def _at(at: datetime, now: datetime) -> str:
    return f"{words.day(at, now)} {written.clock(at)}"


def offered(offer: Offer) -> str:
    """What a better plan would gain, in a line."""
    gains = []
    if offer.firm > 0:
        gains.append(f"firm promises are kept {words.plural(offer.firm, 'day')} better")
    if offer.late > 0:
        gains.append(f"{words.plural(offer.late, 'late day')} fewer")
    sooner = [(name, days) for name, days in offer.ends if days > 0]
    gains += [f"{name} {words.plural(days, 'day')} sooner" for name, days in sooner[:MOST_NAMED]]
    if len(sooner) > MOST_NAMED:
        gains.append(f"{len(sooner) - MOST_NAMED} more sooner")
    later = sorted(((name, -days) for name, days in offer.ends if days < 0), key=lambda e: -e[1])
    pays = [f"{name} {words.plural(days, 'day')} later" for name, days in later[:MOST_NAMED]]
    if len(later) > MOST_NAMED:
        pays.append(f"{len(later) - MOST_NAMED} more later")
    said = words.listed(gains) if gains else "fewer set-ups of the gun"
    return f"{said[:1].upper()}{said[1:]}{'; ' + words.listed(pays) if pays else ''}"
