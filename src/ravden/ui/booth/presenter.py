"""What the Booth shows at a moment, as plain data. No Qt."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import TYPE_CHECKING

from ravden.core.climate.air import spare_K
from ravden.core.errors import InputError
from ravden.core.film import wetcoat
from ravden.core.materials.mixing import landed_solids, thinned_solids
from ravden.core.plan.booth import Turn, turn
from ravden.core.plan.history import air_at
from ravden.journal.entries import CoatLogged, PassLogged
from ravden.ui import words
from ravden.ui.session import ShopSession
from ravden.ui.unit_words import session_words

if TYPE_CHECKING:
    from ravden.core.plan.outlook import Outlook

LONGEST_OVERRUN_S = 3600.0
LEAST_SPARE_K = 3.0  # [A] a surface nearer to the dew point than this may blush


@dataclass(frozen=True, slots=True, kw_only=True)
class BenchRow:
    """Another instrument of the session: id, name, what is next on it, and whether it is ready for hands."""

    id: str
    name: str
    text: str
    ready: bool
    here: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class BoothShown:
    """now: in a few words; count: minutes and seconds, with a plus once overrun; tone: open when hands may go on,
    plain while it flashes off, warn to stop; done, of: coats for the tally."""

    title: str
    now: str
    count: str
    under_count: str
    tone: str
    next: str
    done: int
    of: int
    film: str
    air: str
    air_tone: str
    limit: str
    cautions: tuple[str, ...]
    rows: tuple[BenchRow, ...]
    space: str


def turn_of(session: ShopSession, instrument: str, found: Outlook | None) -> Turn:
    """Where the session on an instrument stands now."""
    rack = session.shop.on_rack(instrument)
    opens = None
    if found is not None:
        mine = [c.at_h for c in found.forward.coats if c.zones is None]
        opens = mine[0] if mine else None
    way = session.catalogue.applied[rack.instrument.material]
    return turn(rack.project, rack.method, way, rack.hours(session.now), opens)


def act(session: ShopSession, found: Outlook | None) -> CoatLogged | PassLogged:
    """What Space logs now. Raises InputError where no coat is next."""
    rack = session.rack
    if rack is None:
        raise InputError("", "add an instrument first (N)")
    now = turn_of(session, session.selected, found)
    if now.kind in ("other", "done"):
        raise InputError("", f"no coat is next on {rack.instrument.name}: {now.label}")
    if not now.ends_coat:
        return PassLogged()
    material = session.catalogue.material(now.finish) if now.finish else rack.project.material
    return CoatLogged(dry_um=material.coat_dry_um, finish=now.finish)


def clock_text(seconds: float) -> str:
    """Minutes and seconds; from an hour on, hours and minutes."""
    whole = int(abs(seconds))
    if whole >= 3600:
        return f"{whole // 3600} h {whole % 3600 // 60:02d}"
    return f"{whole // 60}:{whole % 60:02d}"


def show(session: ShopSession, outlooks: dict[str, Outlook], found: Outlook | None) -> BoothShown:
    """The place at this moment."""
    rack = session.shop.on_rack(session.selected)
    now = session.now
    here = turn_of(session, session.selected, found)
    due = None if here.due_h is None else rack.moment(here.due_h)
    text, count, under, tone, after = _said(session, here, due)
    air, air_tone, limit = _conditions(session, now)
    return BoothShown(
        title=rack.instrument.name, now=text, count=count, under_count=under, tone=tone, next=after,
        done=max(here.coat - 1, 0) if here.kind in ("pass", "coat", "stop") else here.coat, of=here.coats,
        film=_film(session, found), air=air, air_tone=air_tone, limit=limit,
        cautions=rack.project.material.cautions, rows=_rows(session, outlooks),
        space="Space: the coat is on" if here.ends_coat else "Space: the pass is on",
    )  # fmt: skip


def _said(session: ShopSession, here: Turn, due: datetime | None) -> tuple[str, str, str, str, str]:
    """Now, the count, what the count means, the tone, and what is next."""
    name = f"Coat {here.coat} of {here.coats}"
    now = session.now
    if here.kind == "done":
        return "The method is done", "", "", "plain", "Nothing more is planned."
    if here.kind == "other":
        return here.label, "", "no coat is next", "plain", "The Film place says when, the plan says how."
    if here.kind == "stop":
        more = "" if due is None else f"; {name.lower()} from {words.moment(session.local(due), session.local(now))}"
        told = f"{here.in_session} of {here.per_session} coats of a session are on: another would keep the bottom soft."
        return "Stop here today", "", told, "warn", f"Clean the gun or the brush{more}."
    what = f"{name}, pass {here.nth_pass} of {here.passes}" if here.passes > 1 else name
    after = _after(here)
    left = (due - now).total_seconds() if due is not None else 0.0
    if due is not None and left > 0:
        if left > 12 * 3600:
            return what, words.day(session.local(due), session.local(now)), "is when the film is ready", "plain", after
        return what, clock_text(left), "until the film is ready", "plain", after
    # A flash-off overrun is counted; what has been ready for longer than an hour is simply ready.
    counted = due is not None and here.since_h is not None and -left < LONGEST_OVERRUN_S
    over = f"+{clock_text(left)}" if counted else ""
    return what, over or "now", "ready since" if over else "ready for hands", "open", after


def _after(here: Turn) -> str:
    if here.before:
        return f"Before it the plan has: {here.before[:1].lower()}{here.before[1:]}."
    if not here.ends_coat:
        return f"Next: flash off, then pass {here.nth_pass + 1}."
    if here.in_session + 1 >= here.per_session:
        return "Next: that is the last coat of this session."
    return f"Next: flash off, then coat {here.coat + 1}."


def _film(session: ShopSession, found: Outlook | None) -> str:
    if found is None or found.project.instrument.id != session.selected or not found.project.coats:
        return "No film yet." if not session.shop.on_rack(session.selected).project.coats else "…"
    zone = found.zones[0]
    film = session.units.film(zone.film.mean_um)
    span = session.units.film_range(zone.film.p05_um, zone.film.p95_um)
    text = f"{zone.label}: {film} ({span})"
    for w in found.windows[:1]:
        if w.likely_h is not None:
            at = session.local(session.shop.on_rack(session.selected).moment(w.likely_h))
            text += f"; {words.ACTS[w.name]} about {words.day(at, session.local(session.now))}"
    return text


def _conditions(session: ShopSession, now: datetime) -> tuple[str, str, str]:
    rack = session.shop.on_rack(session.selected)
    project = rack.project_at(now)
    air = air_at(project, rack.hours(now))
    units = session.units
    text = f"{units.temperature(air.temp_C)}, {100 * air.rh:.0f} % humidity"
    material = project.material
    family = session.catalogue.families.get(material.flow)
    poured = session.catalogue.applied[material.id] in ("spray", "brush")  # a pad or cloth leaves nothing to comb
    if family is None or family.flow is None or not poured:
        return text, "plain", ""
    tone = "plain"
    if family.flow.blushes:
        wet = material.coat_dry_um / landed_solids(
            thinned_solids(material.volume_solids, material.thinner_ratio), material.flight_loss
        )
        spare = spare_K(wet, air.temp_C, air.rh)
        text += f"; a fresh coat is {abs(spare):.0f} K {'over' if spare >= 0 else 'under'} the dew point"
        tone = "warn" if spare < LEAST_SPARE_K else "plain"
    at = wetcoat.Conditions(temp_C=air.temp_C, rh=max(air.rh, 0.01), thinner_ratio=material.thinner_ratio)
    limit = wetcoat.window(family.flow, at)
    if not limit.open:
        return text, "warn", session_words(f"No safe wet coat upright in this air: {limit.high_why}.", session)
    return (
        text,
        tone,
        session_words(f"Wet coat, upright: {limit.low_um:.0f} to {limit.high_um:.0f} um on the comb.", session),
    )


def _rows(session: ShopSession, outlooks: dict[str, Outlook]) -> tuple[BenchRow, ...]:
    """Every instrument a coat is next on, the one that is ready soonest first."""
    out = []
    for instrument, rack in session.shop.racked.items():
        here = turn_of(session, instrument, outlooks.get(instrument))
        if here.kind not in ("pass", "coat", "stop"):
            continue
        due = session.now if here.due_h is None else rack.moment(here.due_h)
        left = (due - session.now).total_seconds()
        ready = left <= 0 and here.kind != "stop"
        when = "now" if ready else clock_text(left) if left < 12 * 3600 else words.day(
            session.local(due), session.local(session.now))  # fmt: skip
        text = "stop today" if here.kind == "stop" else f"coat {here.coat} of {here.coats}: {when}"
        out.append((due if left > 0 else session.now - timedelta(seconds=1),
                    BenchRow(id=instrument, name=rack.instrument.name, text=text, ready=ready,
                             here=instrument == session.selected)))  # fmt: skip
    return tuple(row for _, row in sorted(out, key=lambda pair: (pair[0], pair[1].name)))
