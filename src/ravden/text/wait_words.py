"""How a wait is said: when hands are planned for what it waits for, when the film is likely ready, and nine in ten."""

from __future__ import annotations

from datetime import datetime

from ravden.text import words, written


def told(likely: datetime, late: datetime | None, planned: datetime | None, now: datetime) -> str:
    """planned Mon 11 May; likely ready Sat 25 Apr (nine in ten by 9 May).

    likely: when the film bears the work as likely as not, late: nine times in ten, None: not within sight; planned:
    when the shop's plan has hands for it, None: it has none.
    """
    ready = f"likely ready {words.day(likely, now)}"
    by = "nobody can say by when" if late is None else f"nine in ten by {_date(late, now)}"
    if late is not None and late.date() == likely.date():
        by = "nine in ten"
    hands = "" if planned is None else f"planned {words.day(planned, now)}; "
    return f"{hands}{ready} ({by})"


def _date(at: datetime, now: datetime) -> str:
    """Without its weekday: what is known no better needs none."""
    return written.day(at, weekday=False, year=at.year != now.year)
