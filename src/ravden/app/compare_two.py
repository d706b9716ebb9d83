"""Two instruments of the Book side by side. No Qt."""

from __future__ import annotations

from html import escape
from typing import TYPE_CHECKING

from msgspec import Struct

from ravden.app import built_in, costs, defect_words
from ravden.app.finish_record import coats_on
from ravden.core.record import Coat, Reading, Sanding
from ravden.text import book_words, words

if TYPE_CHECKING:
    from ravden.app.session import ShopSession
    from ravden.core.ahead.outlook import Outlook

NOTHING = "–"


class Compared(Struct, frozen=True, kw_only=True):
    """names: of the two; rows: what, and of each."""

    names: tuple[str, str]
    rows: tuple[tuple[str, str, str], ...]


def compared(session: ShopSession, one: Outlook, other: Outlook) -> Compared:
    """Everything that can be told of both, in the order of the work; what neither has is left out."""
    left, right = (dict(_about(session, found)) for found in (one, other))
    rows = tuple((what, left.get(what, NOTHING), right.get(what, NOTHING)) for what in dict.fromkeys((*left, *right)))
    names = (one.project.instrument.name, other.project.instrument.name)
    return Compared(names=names, rows=rows)


def _about(session: ShopSession, found: Outlook) -> list[tuple[str, str]]:
    item, units, project = found.project.instrument, session.units, found.project
    rack, booked = session.read_booked(item.id), session.shop.book[item.id]
    coats = [a for a in project.acts if isinstance(a, Coat)]
    cuts = [a for a in project.acts if isinstance(a, Sanding)]
    out = [
        ("Kind", session.catalogue.kind(item.kind).label), ("Finish", project.material.label),
        ("Method", found.method.label), ("Sheen meant", item.sheen),
    ]  # fmt: skip
    if coats:
        out.append(("Coats", coats_on(project, coats)))
        first = rack.moment(min(c.at_h for c in coats))
        out.append(("First coat to handing over", words.plural((booked.handed - first).days, "day")))
    for z in found.zones:
        if z.film.mean_um > 0:
            low, high = z.film.p05_um, z.film.p95_um
            text = f"{units.film(z.film.mean_um)} ({units.film_range(low, high).removesuffix(f' {units.film_unit}')})"
            out.append((f"Film, {z.label.lower()}", text))
    if cuts:
        flats = [z for z in project.zones if z.kind == "flat" and z.sanding == 1.0] or project.zones
        out.append(("Off the flats", units.film(max(sum(s.share(z) for s in cuts) for z in flats))))
        out.append(("Grades", ", ".join(dict.fromkeys(s.grade for s in cuts if s.grade)) or "not noted"))
    if minutes := built_in.paper_minutes(rack):
        out.append(("Paper on it, as timed", words.minutes(minutes)))
    gloss = [r for r in project.readings if isinstance(r, Reading) and r.what == "gloss"]
    if gloss:
        out.append(("Gloss read last", f"{gloss[-1].gu60:.0f} at 60°"))
    if air := built_in.air(session, project):
        out.append(("Air while it was built", air))
    wrong = defect_words.record_lines(session, rack)
    out.append(("Went wrong", "; ".join(wrong) or "nothing that was noted"))
    for look in booked.checks:
        months = round((look.at - booked.handed).days / 30.44)
        out.append((f"Looked at after {months} months", book_words.seen(look.sink, look.seen)))
    if cost := "; ".join(costs.lines(session, found)):
        out.append(("Cost", cost))
    return out


def html(shown: Compared) -> str:
    """As a table; what differs stands out."""
    head = "".join(f"<th align='left'>{escape(n)}</th>" for n in ("", *shown.names))
    body = ""
    for what, one, other in shown.rows:
        mark = ("<b>", "</b>") if one != other else ("", "")
        cells = "".join(f"<td>{mark[0]}{escape(text)}{mark[1]}</td>" for text in (one, other))
        body += f"<tr><td>{escape(what)}</td>{cells}</tr>"
    return (
        f"<p><span class='title'>{escape(' and '.join(shown.names))}</span></p>"
        f"<table width='100%' cellspacing='0' cellpadding='4'><tr>{head}</tr>{body}</table>"
        "<p>Bold: where they differ.</p>"
    )
