"""The days ahead as rows, as plain data. No Qt."""

from __future__ import annotations

from datetime import datetime, time
from typing import TYPE_CHECKING

from msgspec import Struct

from ravden.text import words, written

if TYPE_CHECKING:
    from ravden.app.shop_days import Doing, ShopDays

DAYS = 7
NOTE = (
    "One pair of hands for all instruments, in the shop's hours; in its lane and under Film each is planned as if it "
    "had them to itself. Waits are planned to be enough seven times in ten: the film, a test spot and the data sheet "
    "decide."
)
WORKING, NONE = "Working out the days …", "Nothing on the rack wants hands in these seven days."


class DayRow(Struct, frozen=True, kw_only=True):
    """A line: a day's heading alone, or a piece of work; instrument, where: what it turns to, empty for none."""

    heading: str = ""
    cells: tuple[str, str, str, str] = ("", "", "", "")
    instrument: str = ""
    where: str = ""


class DaysShown(Struct, frozen=True, kw_only=True):
    """Seven days. told: what there is to say of them."""

    rows: tuple[DayRow, ...]
    told: str


def show(planned: ShopDays | None, now: datetime) -> DaysShown:
    """The days from the shop's plan; None: it is being worked out. now: on the shop's wall."""
    if planned is None:
        return DaysShown(rows=(), told=WORKING)
    rows: list[DayRow] = []
    for day, doings in planned.by_day(DAYS, now.date()):
        named = words.day(datetime.combine(day, time(12), now.tzinfo), now)
        date = written.day(day)
        said = date if named == date else f"{named[:1].upper()}{named[1:]}, {date}"
        hands = sum(d.minutes for d in doings)
        rows.append(DayRow(heading=f"{said}: {words.wait(hands / 60)} of hands"))
        rows += [_row(d) for d in doings]
    told = [NOTE] if rows else [NONE]
    if planned.aside:
        told.append(f"Not in it, since the film does not get there in this air: {', '.join(planned.aside)}.")
    if planned.too_long:
        told.append(
            f"Not in it, since no day of the shop is long enough for one of its steps: {', '.join(planned.too_long)}."
        )
    return DaysShown(rows=tuple(rows), told=" ".join(told))


def _row(doing: Doing) -> DayRow:
    return DayRow(
        cells=(written.clock(doing.at), doing.name, doing.what, _took(doing.minutes)),
        instrument=doing.instrument,
        where=doing.where,
    )


def _took(minutes: int) -> str:
    if minutes < 120:
        return f"{minutes} min" if minutes else ""
    hours, rest = divmod(minutes, 60)
    return f"{hours} h {rest:02d} min" if rest else f"{hours} h"
