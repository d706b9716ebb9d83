"""Looks at instruments three and twelve months after they were handed over: which are due, what is noted, and what that
teaches. No Qt."""

from __future__ import annotations

import math
from collections.abc import Mapping
from datetime import datetime, timedelta
from typing import TYPE_CHECKING

from msgspec import Struct

from ravden.app.forms import Field, moment, when_tip
from ravden.app.lessons import keep, keep_more
from ravden.core.errors import NO_FILE, InputError
from ravden.core.record.word import SINK, Word, key_of
from ravden.journal.book import SEEN, SINKS
from ravden.journal.kinds.handed_over import CheckSeen
from ravden.text import book_words

if TYPE_CHECKING:
    from ravden.app.session import ShopSession
    from ravden.journal.book import Booked

MONTHS = (3, 12)  # [A] a lacquer shrinks for months; a year has had a winter's dry air in it
MONTH = timedelta(days=30.44)
EARLY = timedelta(days=14)  # a look so long before it is due counts as it
FORGOTTEN = timedelta(days=120)  # after which nobody is asked any more
AHEAD = timedelta(days=14)
# How far a film has sunk that is said to have [um, A]: none is what nobody sees, and slight shows in raking light.
SUNK_UM = {"none": 0.5, "slight": 2.0, "clear": 5.0}
SEEN_LN_SD = 0.6  # [A] the eye on that
LEAST_UM = 0.3  # of what was foretold: less is nothing
MOST_LN = 2.5


class Due(Struct, frozen=True, kw_only=True):
    """A look that is due, or will be. months: after the handing over; on: the day."""

    instrument: str
    name: str
    months: int
    on: datetime


def due_of(booked: Booked, now: datetime) -> Due | None:
    """The next look at an instrument, or the one that is due; None: there is none any more."""
    for months in MONTHS:
        on = booked.handed + months * MONTH
        if any(c.at >= on - EARLY for c in booked.checks) or now > on + FORGOTTEN:
            continue
        return Due(instrument=booked.id, name=booked.name, months=months, on=on)
    return None


def coming(session: ShopSession) -> tuple[Due, ...]:
    """Every look that is due or will be, the soonest first."""
    now = session.now
    oldest = now - MONTHS[-1] * MONTH - FORGOTTEN
    late = (b for b in reversed(tuple(session.shop.book.values())) if b.handed >= oldest)
    return tuple(sorted((d for b in late if (d := due_of(b, now)) is not None), key=lambda d: d.on))


def due(session: ShopSession) -> tuple[Due, ...]:
    """Those that are due by now, or within two weeks."""
    return tuple(d for d in coming(session) if d.on <= session.now + AHEAD)


def fields() -> tuple[Field, ...]:
    """What is asked of a look."""
    return (
        Field(name="sink", label="Has it sunk?", value="none",
              choices=tuple((s, f"{book_words.SINKS[s][:1].upper()}{book_words.SINKS[s][1:]}") for s in SINKS),
              tip="Grain or an old scratch that shows in raking light. It teaches how much this finish sinks here."),
        *(
            Field(name=what, label=label, value="no", choices=(("no", "no"), ("yes", "yes")))
            for what, label in zip(SEEN, ("A print in the film", "Checking", "Tacky"), strict=True)
        ),
        Field(name="note", label="Note", tip="May be left empty."),
        Field(name="at", label="When", value="now", tip=when_tip()),
    )  # fmt: skip


def log(session: ShopSession, instrument: str, typed: Mapping[str, str]) -> None:
    """Note a look, and keep what it teaches. Raises InputError at the field."""
    if session.journal is None:
        raise InputError("", NO_FILE, remedy="file")
    at = moment(typed["at"], session.local(session.now), session.shop.hours)
    body = CheckSeen(sink=typed["sink"], seen=tuple(w for w in SEEN if typed[w] == "yes"), note=typed["note"].strip())
    body.check(session.shop, instrument, at)
    word = sunk(session, instrument, body.sink, at)
    before = session.journal.lessons().get(instrument)
    lesson = session.request_booked(instrument).lesson() if before is None else None
    entry = session.log(body, instrument=instrument, at=at, origin="book")
    if lesson is not None:
        keep(session.journal, instrument, entry.id, lesson, session.read_booked(instrument).draws)
    keep_more(session.journal, instrument, entry.id, before or session.journal.lessons()[instrument], word)
    session.kept.book_turned()


def sunk(session: ShopSession, instrument: str, sink: str, at: datetime) -> Word:
    """What a look says of how much a finish sinks here, against what was still to come when it was handed over."""
    material = session.shop.book[instrument].material
    foretold = max(session.request_booked(instrument).shrink_um(), LEAST_UM)
    ln = min(max(math.log(SUNK_UM[sink] / foretold), -MOST_LN), MOST_LN)
    return Word(key=key_of(SINK, material), ln=ln, sd=SEEN_LN_SD, at=at, of=instrument)


def calendar(session: ShopSession) -> bytes:
    """Every look to come as a day in a calendar."""
    from ravden.exchange.calendar import of_days

    days = [
        (f"{d.instrument}-look-{d.months}", f"Look at {d.name}: {d.months} months on", session.local(d.on).date())
        for d in coming(session)
    ]
    return of_days(days, "Look for sinking, prints, checking and tack.", session.local(session.now))
