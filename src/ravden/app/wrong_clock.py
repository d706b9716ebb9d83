"""Entries dated after now: a clock was wrong when they were written, or is wrong today. They are asked about, and put
right together. No Qt."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import datetime, timedelta
from typing import TYPE_CHECKING

from ravden.app.forms import Field, moment, when_tip
from ravden.core.errors import InputError, need
from ravden.journal.counting import effective
from ravden.journal.kinds.undone import Undone
from ravden.journal.kinds.unknown import Unknown
from ravden.text import words, written
from ravden.text.say import whole_fault

if TYPE_CHECKING:
    from ravden.app.session import ShopSession
    from ravden.journal.entry import Entry

SLACK = timedelta(minutes=5)  # two clocks of one bench differ by so much
NEWS = timedelta(days=7)  # that entries of a wrong clock, whose day has come, are told of
LIVE = timedelta(seconds=1)  # between what happened and its being written down, where it was logged as it happened
NOW, THEN, LEAVE = "now", "then", "leave"


def dated_ahead(session: ShopSession) -> tuple[Entry, ...]:
    """Entries that count and are dated after now; and of those whose day came within the last week the ones that were
    written by a clock that was put back afterwards, since they count from that day on."""
    now = session.now
    late = [e for e in session.entries if e.at > now - NEWS]
    if not late:
        return ()
    since = session.entries[session.entries.index(late[0]) :]
    live = [e for e in since if e.act is None and abs(e.logged_at - e.at) < LIVE and not isinstance(e.body, Unknown)]
    put_back: set[int] = set()
    least: datetime | None = None
    for e in reversed(live):
        if least is not None and e.at > least + SLACK:
            put_back.add(e.id)
        least = e.logged_at if least is None else min(least, e.logged_at)
    suspect = {e.id for e in late if e.at > now + SLACK} | put_back
    if not suspect:
        return ()
    return tuple(e for e in effective(session.entries) if e.id in suspect and not isinstance(e.body, Undone))


def sentence(session: ShopSession, some: Sequence[Entry]) -> str:
    """What is told of them."""
    today, day = (written.day(session.local(at), year=True) for at in (session.now, max(e.at for e in some)))
    what = f"{words.plural(len(some), 'entry', 'entries')}, the last of {day},"
    one = len(some) == 1
    if one:
        what = f"{session.describe(some[0])},"
    if max(e.at for e in some) > session.now:
        is_so = f"{'is' if one else 'are'} dated after now and {'counts' if one else 'count'} from then on"
        return f"{what} {is_so}. Was a clock wrong, or is it now ({today})?"
    was = f"{'was' if one else 'were'} dated by a clock that was put back afterwards, and {'has' if one else 'have'}"
    return f"{what} {was} counted since. Is that right?"


def fields(some: Sequence[Entry]) -> tuple[Field, ...]:
    """What is asked of them."""
    one = len(some) == 1
    return (
        Field(
            name="what", label="It happened" if one else "The last of them happened", value=NOW,
            choices=((NOW, "just now"), (THEN, "at the time below"), (LEAVE, "when it says: leave it")),
            tip="" if one else "The others keep their distance in time from the last.",
        ),
        Field(name="at", label="When", value="", tip=when_tip()),
    )  # fmt: skip


def set_right(session: ShopSession, some: Sequence[Entry], typed: Mapping[str, str], origin: str = "clock") -> str:
    """Put them where they belong, as one act; returns what is to be said. Raises InputError at the field: nothing is
    changed then."""
    if typed["what"] == LEAVE:
        return "Left as it is."
    now = session.now
    if typed["what"] == THEN:
        need(bool(typed["at"].strip()), "at", "type when the last of them happened")
        to = moment(typed["at"], session.local(now), session.shop.hours)
        need(to <= now + SLACK, "at", "that is after now too")
    else:
        to = now
    back = max(e.at for e in some) - to
    with session.one_act():
        for e in sorted(some, key=lambda e: e.id):
            try:
                session.correct(e.id, e.body, at=e.at - back, origin=origin)
            except InputError as error:
                raise InputError("at", f"{session.describe(e)}: {whole_fault(error, session.units)}") from None
    when = words.moment(session.local(to), session.local(now))
    return f"{words.plural(len(some), 'entry', 'entries')} put to {when}."
