"""A plan as iCalendar (RFC 5545), for any calendar program."""

from __future__ import annotations

import unicodedata
from collections.abc import Iterable
from datetime import UTC, date, datetime, timedelta

from icalendar import Calendar, Event

from ravden.core.ahead.outlook import Outlook
from ravden.journal.shop import Shop
from ravden.text import wait_words
from ravden.text.plan_words import BETWEEN_LABEL

LEAST = timedelta(minutes=15)
DATA_SHEET = "Estimated: the film decides, and the product's data sheet comes first."


def calendar(shop: Shop, instrument_id: str, found: Outlook, now: datetime) -> bytes:
    """Every step still to come as an event: hands at their hours, waits as free time with the day they may end."""
    rack = shop.on_rack(instrument_id)
    out = Calendar()
    out.add("prodid", "-//Ravden//Finish plan//EN")
    out.add("version", "2.0")
    stages = found.method.stage
    windows = {w.label: w for w in found.forward.windows}
    for step in found.forward.steps:
        stage = stages[step.index]
        event = Event()
        begins, ends = (shop.hours.local(rack.moment(h)) for h in (step.from_h, step.to_h))
        event.add("uid", f"{instrument_id}-{rack.zero:%Y%m%d%H%M%S}-{step.index}@ravden.invalid")
        event.add("dtstamp", now)
        event.add("summary", _text(f"{rack.instrument.name}: {stage.label}"))
        told = [stage.how, f"Look for: {stage.inspect}" if stage.inspect else ""]
        if stage.kind == "wait":
            event.add("dtstart", begins.date())
            event.add("dtend", max(ends.date(), begins.date()) + timedelta(days=1))
            event.add("transp", "TRANSPARENT")
            window = windows.get(stage.label)
            if window is not None and window.likely_h is not None:
                late = None if window.late_h is None else shop.hours.local(rack.moment(window.late_h))
                said = wait_words.dated(shop.hours.local(rack.moment(window.likely_h)), late)
                told.append(f"{said[:1].upper()}{said[1:]}.")
        else:
            event.add("dtstart", _minute(begins))
            event.add("dtend", _minute(max(ends, begins + LEAST)))
        event.add("description", _text("\n".join([line for line in told if line] + [DATA_SHEET])))
        out.add_component(event)
    for nth, step in enumerate(found.forward.between):
        event = Event()
        begins, ends = (shop.hours.local(rack.moment(h)) for h in (step.from_h, step.to_h))
        event.add("uid", f"{instrument_id}-{rack.zero:%Y%m%d%H%M%S}-between-{nth}@ravden.invalid")
        event.add("dtstamp", now)
        event.add("summary", _text(f"{rack.instrument.name}: {BETWEEN_LABEL[step.kind]}"))
        event.add("dtstart", _minute(begins))
        event.add("dtend", _minute(max(ends, begins + LEAST)))
        event.add("description", DATA_SHEET)
        out.add_component(event)
    return out.to_ical()


def of_hands(events: Iterable[tuple[str, str, datetime, datetime]], now: datetime) -> bytes:
    """Somebody's work in the shop's plan: each piece by its uid, what it is, when it begins and ends."""
    out = Calendar()
    out.add("prodid", "-//Ravden//Shop plan//EN")
    out.add("version", "2.0")
    for uid, what, begins, ends in events:
        event = Event()
        event.add("uid", f"{uid}@ravden.invalid")
        event.add("dtstamp", now)
        event.add("summary", _text(what))
        event.add("dtstart", _minute(begins))
        event.add("dtend", _minute(max(ends, begins + LEAST)))
        event.add("description", DATA_SHEET)
        out.add_component(event)
    return out.to_ical()


def of_days(days: Iterable[tuple[str, str, date]], about: str, now: datetime) -> bytes:
    """Whole days: each by its uid and what it is; about: what is said of all of them."""
    out = Calendar()
    out.add("prodid", "-//Ravden//Looks//EN")
    out.add("version", "2.0")
    for uid, what, on in days:
        event = Event()
        event.add("uid", f"{uid}@ravden.invalid")
        event.add("dtstamp", now)
        event.add("summary", _text(what))
        event.add("dtstart", on)
        event.add("dtend", on + timedelta(days=1))
        event.add("transp", "TRANSPARENT")
        event.add("description", about)
        out.add_component(event)
    return out.to_ical()


def _text(text: str) -> str:
    """Without what no calendar may hold, such as the escapes a terminal obeys."""
    return "".join(c for c in text if c == "\n" or unicodedata.category(c) not in ("Cc", "Cs"))


def _minute(at: datetime) -> datetime:
    """In UTC, which every calendar program reads alike, whatever its zone and on whichever side of a clock change."""
    return at.astimezone(UTC).replace(second=0, microsecond=0)
