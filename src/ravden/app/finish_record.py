"""The finish record: what is on an instrument, how thick, how to care for it and how to mend it. No Qt."""

from __future__ import annotations

from dataclasses import dataclass
from html import escape

from ravden.app import built_in, defect_words
from ravden.app.session import ShopSession
from ravden.core.ahead.outlook import Outlook
from ravden.core.method.refinish import class_of
from ravden.core.record import Coat, Project, Sanding
from ravden.text import book_words, wait_words, words


@dataclass(frozen=True, slots=True, kw_only=True)
class FinishRecord:
    """What the page says: lines of a name and a text, the zones with their film, and the closing sentences."""

    title: str
    about: str
    lines: tuple[tuple[str, str], ...]
    zones: tuple[tuple[str, str, str, str], ...]
    unit: str
    care: tuple[tuple[str, str], ...]
    note: str


def record(session: ShopSession, found: Outlook, *, named: bool = True) -> FinishRecord:
    """The record of an instrument as it stands. named: with who has it."""
    item, units = found.project.instrument, session.units
    booked = session.shop.book.get(item.id)
    rack = session.read_booked(item.id) if booked is not None else session.shop.on_rack(item.id)
    now = session.local(session.now if booked is None else booked.handed)
    past = [a for a in found.project.acts if a.at_h <= found.now_h]
    coats = [a for a in past if isinstance(a, Coat)]
    cuts = [a for a in past if isinstance(a, Sanding)]

    def day(at_h: float) -> str:
        return session.local(rack.moment(at_h)).date().isoformat()  # a record is read years later

    lines = [("Finish", found.project.material.label), ("Method", found.method.label), ("Sheen meant", item.sheen)]
    if coats:
        laid = [h for c in coats for h in c.hours or [c.at_h]]
        lines.append(("Coats", f"{coats_on(found.project, coats)}, {day(min(laid))} to {day(max(laid))}"))
    others = dict.fromkeys(c.finish for c in coats if c.finish)
    if others:
        names = (session.catalogue.material(f).label.lower() for f in others)
        lines.append(("Also on it", ", ".join(names)))
    if made := built_in.cans(session, item.id):
        lines.append(("Out of", made))
    if air := built_in.air(session, found.project):
        lines.append(("Air while it was built", air))
    if cuts:
        grades = ", ".join(dict.fromkeys(s.grade for s in cuts if s.grade)) or "grades not noted"
        flats = [z for z in found.project.zones if z.kind == "flat" and z.sanding == 1.0] or found.project.zones
        off = [sum(s.share(z) for s in cuts) for z in flats]
        lines.append(("Sanded and rubbed", f"{units.film_range(min(off), max(off))} off the flats; {grades}"))
    for text in defect_words.record_lines(session, rack):
        lines.append(("Went wrong", text))
    done = found.progress.index >= len(found.method.stage)
    last = found.windows[-1] if found.windows else None
    if booked is not None:
        to = f" to {session.people[booked.person]}" if named and booked.person in session.people else ""
        lines.append(("Handed over", f"{now.date().isoformat()}{to}"))
        if booked.note:
            lines.append(("Noted then", booked.note))
    if photos := built_in.photos(session, item.id):
        lines.append(("Photos", photos))
    if booked is not None:
        for look in booked.checks:
            note = f" ({look.note})" if look.note else ""
            on = session.local(look.at).date().isoformat()
            lines.append(("Looked at", f"{on}: {book_words.seen(look.sink, look.seen)}{note}"))
    elif done:
        lines.append(("State", "finished"))
    elif last is not None and last.likely_h is not None:
        now_is = "still being built" if found.forward.coats else "still curing"
        late = None if last.late_h is None else session.local(rack.moment(last.late_h))
        what = {"case": "ready for the case"}.get(last.name, words.ACTS[last.name])
        said = wait_words.dated(session.local(rack.moment(last.likely_h)), late).removeprefix("likely ready ")
        lines.append(("State", f"{now_is}; {what} likely {said}"))
    else:
        lines.append(("State", "not finished yet"))
    zones = tuple(
        (z.label, found.project.finish(z.name).label, units.film_number(z.film.mean_um),
         units.film_range(z.film.p05_um, z.film.p95_um).replace(f" {units.film_unit}", ""))
        if z.film.mean_um > 0 else (z.label, "bare", "–", "")
        for z in found.zones
    )  # fmt: skip
    care = []
    for material in dict.fromkeys([found.project.material, *found.project.finishes.values()]):
        row = session.catalogue.cares[class_of(material)]
        care += [(f"{material.label}: care", row["care"]), ("Mending", row["repair"]), ("Keep away", row["avoid"])]
    return FinishRecord(
        title=item.name, about=f"{session.catalogue.kind(item.kind).label} · {session.shop.name} · "
        f"{now.date().isoformat()}",
        lines=tuple(lines), zones=zones, unit=units.film_unit, care=tuple(care),
        note="Film is estimated from what was laid, taken off and measured; the range holds nine times in ten. The "
        "products' own data sheets come first.",
    )  # fmt: skip


def coats_on(project: Project, coats: list[Coat]) -> str:
    """How many coats lie on its own zones: half a coat here and half there is one coat on each."""
    own = [z.name for z in project.zones if z.name not in project.finishes] or [z.name for z in project.zones]
    on = [round(sum(c.likely_count for c in coats if not c.finish and c.covers(name))) for name in own]
    laid = [n for n in on if n > 0] or [0]
    return str(max(laid)) if min(laid) == max(laid) else f"{min(laid)} to {max(laid)} by zone"


def html(shown: FinishRecord) -> str:
    """The page's text."""
    lines = "".join(f"<tr><td><b>{escape(a)}</b></td><td>{escape(b)}</td></tr>" for a, b in shown.lines)
    zones = "".join("<tr>" + "".join(f"<td>{escape(cell)}</td>" for cell in row) + "</tr>" for row in shown.zones)
    care = "".join(f"<p><b>{escape(a)}.</b> {escape(b)}</p>" for a, b in shown.care)
    return f"""<p><span class="title">{escape(shown.title)}</span></p><p>{escape(shown.about)}</p>
    <table cellspacing="0" cellpadding="5">{lines}</table>
    <p><b>Film on every zone</b></p>
    <table width="100%" cellspacing="0" cellpadding="5" border="1" style="border-collapse: collapse">
    <tr><th>zone</th><th>finish</th><th>film, {shown.unit}</th><th>nine times in ten, {shown.unit}</th></tr>{zones}
    </table>{care}<p class="small">{escape(shown.note)}</p>"""
