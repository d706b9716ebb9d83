"""A quote of one page for a customer: the work, the finish, its care, when it is ready, and a price if one is wished.
What it costs the shop is not on it. No Qt."""

from __future__ import annotations

from collections.abc import Mapping
from html import escape
from typing import TYPE_CHECKING

from ravden.app.forms import Field, number
from ravden.core.errors import need
from ravden.core.method.refinish import class_of
from ravden.text import words, written

if TYPE_CHECKING:
    from ravden.app.session import ShopSession
    from ravden.core.ahead.outlook import Outlook

MOST_NOTE = 600
DAYS_VALID = 30  # [A] usual for a quote
SHEENS = {"mirror": "polished to a mirror", "gloss": "rubbed to gloss", "semi-gloss": "semi-gloss", "satin": "satin"}


def fields() -> tuple[Field, ...]:
    """What is asked for a quote."""
    return (
        Field(name="price", label="Price", tip="As you would write it, with your currency; may be left empty."),
        Field(name="tax", label="Line under the price", tip="Such as: tax included. May be left empty."),
        Field(name="note", label="What else to say", tip="May be left empty."),
        Field(name="days", label="Valid for", unit="days", value=str(DAYS_VALID)),
    )


def html(session: ShopSession, found: Outlook, typed: Mapping[str, str]) -> str:
    """The page. Raises InputError at the field."""
    note = typed["note"].strip()
    need(len(note) <= MOST_NOTE, "note", f"must be at most {MOST_NOTE} letters")
    valid = number(typed["days"], "days")
    need(valid == int(valid) and 1 <= valid <= 365, "days", "must be 1 to 365 whole days")
    item, method, material = found.project.instrument, found.method, found.project.material
    kind = session.catalogue.kind(item.kind).label
    sheen = SHEENS.get(item.sheen, item.sheen)
    work = [f"{material.label}, {sheen}."]
    if method.looks:
        work.append(f"It looks and feels: {method.looks[:1].lower()}{method.looks[1:].rstrip('.')}.")
    care = session.catalogue.cares[class_of(material)]
    rows = [("Work", " ".join(work)), ("Ready", _ready(session, found)), ("Care", care["care"]),
            ("Keep away", care["avoid"]), ("Mending", care["repair"])]  # fmt: skip
    if note:
        rows.append(("Note", note))
    price = typed["price"].strip()
    if price:
        tax = typed["tax"].strip()
        rows.append(("Price", price + (f" ({tax})" if tax else "")))
    now = session.local(session.now)
    cells = "".join(f"<tr><td><b>{escape(a)}</b></td><td>{escape(b)}</td></tr>" for a, b in rows)
    return (
        f"<p class='title'>{escape(session.shop.name)}</p><p>Quote for {escape(item.name)}, "
        f"{escape(kind[:1].lower() + kind[1:])} · {now.date().isoformat()}</p>"
        f"<table cellspacing='0' cellpadding='6'>{cells}</table>"
        f"<p class='small'>Valid for {words.plural(int(valid), 'day')}. A film is ready when it is hard, and no day "
        f"sooner: the range is estimated from the finish and the air of the shop.</p>"
    )


def _ready(session: ShopSession, found: Outlook) -> str:
    """Between when and when, by the plan."""
    rack = session.shop.on_rack(found.project.instrument.id)
    early, likely, late = (
        None if h is None else session.local(rack.moment(h)).date() for h in found.forward.ready_h
    )  # fmt: skip
    if likely is None:
        return "not to be said yet"
    if early is None or late is None or early == late:
        return f"about {written.day(likely)}"
    return f"between {written.day(early)} and {written.day(late)}, most likely {written.day(likely)}"
