"""How a wait is said, everywhere: when hands are planned for what it waits for, when the film is likely ready, nine in
ten by when, and why an open window is let lie."""

from __future__ import annotations

from datetime import datetime

from ravden.text import words, written


def told(likely: datetime, late: datetime | None, planned: datetime | None, now: datetime) -> str:
    """planned Mon 11 May; likely ready Sat 25 Apr (nine in ten by 9 May).

    likely: when the film bears the work as likely as not, late: nine times in ten, None: not within sight; planned:
    when the shop's plan has hands for it, None: it has none.
    """
    hands = "" if planned is None else f"planned {words.day(planned, now)}; "
    return f"{hands}{ready(likely, late, now)}"


def ready(likely: datetime | None, late: datetime | None, now: datetime) -> str:
    """likely ready Sat 25 Apr (nine in ten by 9 May); open since Sat 25 Apr; not within sight."""
    if likely is None:
        return "not within sight"
    if likely <= now:
        return f"open since {words.day(likely, now)}"
    return f"likely ready {words.day(likely, now)} ({by(likely, late, now)})"


def by(likely: datetime, late: datetime | None, now: datetime) -> str:
    """By when it is ready nine times in ten, beside the likely day."""
    if late is None:
        return "nobody can say by when"
    if late.date() == likely.date():
        return "nine in ten"
    return f"nine in ten by {_date(late, now)}"


def dated(likely: datetime, late: datetime | None) -> str:
    """The same on paper and in calendars, where no day is *tomorrow*: likely ready Sat 25 Apr 2026 (nine in ten by 9
    May 2026)."""
    last = "nobody can say by when" if late is None else f"nine in ten by {_whole(late, weekday=False)}"
    if late is not None and late.date() == likely.date():
        last = "nine in ten"
    return f"likely ready {_whole(likely, weekday=True)} ({last})"


def why_later(sevenths: datetime | None, who: str | None, now: datetime) -> str:
    """Why hands are planned later than the film is likely ready: waits until it is ready seven times in ten, and for
    Ida's hands. sevenths: when it is that, None: hands do not wait for it; who: whose hands are on other work until
    then, empty: nobody in particular's, None: they are not waited for."""
    waits = [] if sevenths is None else [f"until it is ready seven times in ten ({words.day(sevenths, now)})"]
    if who is not None:
        waits.append(f"for {who}'s hands" if who else "for hands")
    return f"waits {', and '.join(waits)}" if waits else ""


def _date(at: datetime, now: datetime) -> str:
    """Without its weekday: what is known no better needs none."""
    return written.day(at, weekday=False, year=at.year != now.year)


def _whole(at: datetime, *, weekday: bool) -> str:
    return written.day(at, weekday=weekday, year=True)
