"""What the Booth shows at a moment, as plain data. No Qt."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import timedelta
from typing import TYPE_CHECKING

from ravden.app.defects import LIGHT
from ravden.app.mixing import pot_of
from ravden.app.session import ShopSession
from ravden.core.abrasive.gloss import rq_um
from ravden.journal.kinds.mishap import MishapLogged
from ravden.journal.kinds.undone import Undone
from ravden.text import words
from ravden.ui.places.booth import beside, turns
from ravden.ui.places.booth.beside import LiveAir
from ravden.ui.places.booth.said import Said, clock_text, coat_name, say

if TYPE_CHECKING:
    from ravden.core.ahead.one_more import OneMore
    from ravden.core.ahead.outlook import Outlook
    from ravden.core.record import Project
    from ravden.core.session.turns import Turn


PAGE = " G: what puts it right."


@dataclass(frozen=True, slots=True, kw_only=True)
class BenchRow:
    """Another instrument of the session: id, name, what is next on it, and whether it is ready for hands."""

    id: str
    name: str
    text: str
    ready: bool
    here: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class ZoneBar:
    """Film on a zone: likely, between what and what, and the least wanted [um]; text: the likely film in the units in
    use."""

    label: str
    mean_um: float
    low_um: float
    high_um: float
    floor_um: float
    text: str


@dataclass(frozen=True, slots=True, kw_only=True)
class BoothShown:
    """The run. said: the large type; done, of: coats for the tally; zones: in their order, each with done, now or
    nothing; bars: film by zone; lines: words and tone of what stands beside it; told: the newest act, and its tone;
    paused: whether the session is left; banner: words on that, or on a mix that is used up; rough_um: what the paper in
    hand leaves, 0 without one; colour: of the film over wood; pot: the material to be mixed, empty where none has a pot
    life."""

    title: str
    said: Said
    done: int
    of: int
    zones: tuple[tuple[str, str], ...]
    film: str
    bars: tuple[ZoneBar, ...]
    lines: tuple[tuple[str, str], ...]
    cautions: tuple[str, ...]
    rows: tuple[BenchRow, ...]
    told: tuple[str, str]
    paused: bool
    banner: str
    pot: str
    rough_um: float = 0.0
    colour: tuple[float, float, float] = (0.0, 0.0, 0.0)


def show(
    session: ShopSession, outlooks: dict[str, Outlook], found: Outlook | None, live: LiveAir | None = None,
    more: OneMore | None = None,
) -> BoothShown:  # fmt: skip
    """The run at this moment."""
    rack = session.shop.on_rack(session.selected)
    here = turns.turn_of(session, session.selected, found)
    material, _ = beside.material_of(session, here)
    said = say(session, here, found, more)
    done, of = max(here.coat - 1, 0) if here.kind in ("pass", "coat", "stop") else here.coat, here.coats
    zones = said.zones or tuple((label, "") for label in beside.order(session, here))
    around = beside.conditions(session, here, live)
    lines = [(_file(session), "warn"), (said.beside, "warn"), (beside.open_for(session, here), "plain")]
    mixes, left = beside.mixes(session), _paused(session, here)
    banner = left or " ".join(text for text, tone in mixes if tone == "warn")
    lines += [(text, tone) for text, tone in mixes if tone != "warn" or left]
    lines.append((around.air, around.air_tone))
    cautions = material.cautions
    sheet = cautions[-1:]  # who to follow stands last with every finish
    if said.paper:
        cautions = (session.catalogue.booth.bench_cautions[said.paper], material.dust_colour, *sheet)
    else:
        lines.append((around.finish, around.finish_tone))
    paper = turns.bench_of(session, here, found) if said.paper else None
    return BoothShown(
        title=f"{rack.instrument.name}   {said.step}".rstrip(), said=said, done=done, of=of, zones=zones,
        film=beside.film(session, found, here), bars=_bars(session, found),
        lines=tuple((t, tone) for t, tone in lines if t), cautions=cautions, rows=_rows(session, outlooks),
        told=newest(session), paused=bool(left), banner=banner, pot=pot_material(session),
        rough_um=0.0 if paper is None else rq_um(paper.rung.rz_um), 
        colour=_colour(session, rack.project),
    )  # fmt: skip


def _colour(session: ShopSession, project: Project) -> tuple[float, float, float]:
    from ravden.app.seen import colour_of

    return colour_of(session.catalogue, project)


def _bars(session: ShopSession, found: Outlook | None) -> tuple[ZoneBar, ...]:
    """The film of every zone that has any."""
    if found is None or not found.project.coats:
        return ()
    return tuple(
        ZoneBar(
            label=z.label, mean_um=z.film.mean_um, low_um=z.film.p05_um, high_um=z.film.p95_um, floor_um=z.floor_um,
            text=session.units.film(z.film.mean_um),
        )
        for z in found.zones
        if z.film.mean_um > 0
    )  # fmt: skip


def newest(session: ShopSession) -> tuple[str, str]:
    """The newest entry since the session began, in words, and its tone: what Backspace would take back."""
    open_session = turns.going_on(session)
    if open_session is None or not session.entries or session.entries[-1].id < open_session.entry:
        return "", "plain"
    last = session.entries[-1]
    if isinstance(last.body, MishapLogged):
        label, now = session.catalogue.defects[last.body.what]
        where = session.shop.on_rack(last.instrument).project.zone(last.body.zone).label.lower()
        return f"{label}, {where}. {now}{'' if last.body.what in LIGHT else PAGE}", "warn"
    if last.corrects is not None and isinstance(last.body, Undone):
        return f"Taken back: {session.describe(session.entry(last.corrects))}.", "plain"
    return f"{session.describe(last)}.", "plain"


def _file(session: ShopSession) -> str:
    """What has become of the shop file in the middle of the session."""
    doubt = "" if session.journal is None else session.journal.doubt
    return f"{session.journal.path.name} {doubt}." if session.journal is not None and doubt else ""


def _paused(session: ShopSession, here: Turn) -> str:
    """That the session is left, and since when; the film knows of no pause."""
    open_session = turns.going_on(session)
    if open_session is None or open_session.paused is None:
        return ""
    away = clock_text((session.now - open_session.paused).total_seconds())
    edge = " A wet edge is lost after a pause: go on at the next face." if here.kind == "pass" else ""
    return f"Left for {away}. The film goes on drying.{edge} P: back at it"


def pot_material(session: ShopSession) -> str:
    """The material of this session that has a pot life: what M mixes."""
    for name in turns.in_rotation(session):
        rack = session.shop.racked[name]
        for stage in rack.method.stage:
            material = stage.finish or rack.instrument.material
            if stage.kind == "coats" and pot_of(session, material) is not None:
                return material
    return ""


def _rows(session: ShopSession, outlooks: dict[str, Outlook]) -> tuple[BenchRow, ...]:
    """The instruments of the session, the one that is ready soonest first; with no session, every one that wants
    hands."""
    chosen = turns.in_rotation(session)
    out = []
    for instrument in chosen or session.shop.racked:
        rack = session.shop.racked[instrument]
        found = outlooks.get(instrument)
        here = turns.turn_of(session, instrument, found)
        if not chosen and not turns.wants_hands(session, here, found):
            continue
        due = turns.due_at(session, instrument, here) or session.now
        left = (due - session.now).total_seconds()
        sanded = turns.to_sand(here, found)
        ready = (left <= 0 and here.kind in ("pass", "coat", "care", "light", "lit", "mend")) or sanded
        when = "now" if ready else clock_text(left) if left < 12 * 3600 else words.day(
            session.local(due), session.local(session.now))  # fmt: skip
        text = _row_text(here, coat_name(session, here, instrument), when, sanded)
        row = BenchRow(
            id=instrument, name=rack.instrument.name, text=text, ready=ready, here=instrument == session.selected
        )  # fmt: skip
        out.append((due if left > 0 else session.now - timedelta(seconds=1), row))
    return tuple(row for _, row in sorted(out, key=lambda pair: (pair[0], pair[1].name)))


def _row_text(here: Turn, name: str, when: str, sanded: bool) -> str:
    """When hands are wanted on an instrument, which must not be cut off, and what for. name: of the coat."""
    if here.kind == "stop":
        return "stop today"
    if here.kind in ("other", "done"):
        return f"{when}   paper" if sanded else here.label
    if here.kind in ("care", "mend"):
        return f"{when}   {here.label.lower()}"
    if here.kind in ("light", "lit"):
        return f"{when}   lamp {'on' if here.kind == 'lit' else 'next'}"
    what = f"{name[:1].lower()}{name[1:]}"
    return f"{when}   {what}" if here.nth_pass == 1 else f"{when}   {what}, pass {here.nth_pass}"
