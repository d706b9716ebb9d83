"""The days ahead as rows, as plain data. No Qt."""

from __future__ import annotations

from datetime import datetime, time
from typing import TYPE_CHECKING

from msgspec import Struct

from ravden.text import words, written

if TYPE_CHECKING:
    from ravden.app.shop_days import Doing, Promise, ShopDays

DAYS = 7
NOTE = (
    "One pair of hands for all instruments, in the shop's hours; in its lane and under Film each is planned as if it "
    "had them to itself. Waits are planned to be enough seven times in ten: the film, a test spot and the data sheet "
    "decide."
)
OF_ODDS = "Odds are as this plan stands, from spreads that are assumed until this shop's own waits have taught them."
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
    if planned.promises:
        rows += [DayRow(heading="Promised"), *(_promise(p, now) for p in planned.promises)]
        told.append(OF_ODDS)
    if planned.aside:
        told.append(f"Not in it, since the film does not get there in this air: {', '.join(planned.aside)}.")
    if planned.beyond:
        told.append(f"Not in it: {planned.beyond} more, those promised last or not at all.")
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


def _promise(promise: Promise, now: datetime) -> DayRow:
    cells = (promise.word.capitalize(), promise.name, said_of(promise, now), tens(promise.odds))
    return DayRow(cells=cells, instrument=promise.instrument, where="film")


def said_of(promise: Promise, now: datetime) -> str:
    """A promise against its plan, and what makes it loose."""
    loose = f"; loosest: {promise.loose[:1].lower()}{promise.loose[1:]}" if promise.loose else ""
    return f"promised {words.day(promise.promised, now)}, planned for {words.day(promise.ends, now)}{loose}"


def tens(odds: float) -> str:
    """Odds in whole tens, as one says them: 8 in 10."""
    of_ten = round(odds * 10)
    if of_ten == 0:
        return "hardly"
    return "nearly sure" if of_ten == 10 else f"{of_ten} in 10"


def _took(minutes: int) -> str:
    if minutes < 120:
        return f"{minutes} min" if minutes else ""
    hours, rest = divmod(minutes, 60)
    return f"{hours} h {rest:02d} min" if rest else f"{hours} h"
