"""What the page of a defect shows, as plain data. No Qt."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import TYPE_CHECKING

from ravden.app import defect_words, defects
from ravden.core.record import Mishap
from ravden.core.repair.case import doubt
from ravden.text import repair_words as said
from ravden.text import words
from ravden.ui.places.repair.answers import SHOWS, SPREADS, Field

if TYPE_CHECKING:
    from ravden.app.defects import Defect
    from ravden.app.repairing import Days, Worked
    from ravden.app.session import ShopSession
    from ravden.core.ahead.timeline import FilmTimeline
    from ravden.core.repair.work_out import Repair
    from ravden.journal.rack import OnRack

OUTCOMES = (("gone", "It is gone"), ("better", "Better, leave it at that"), ("still", "Still there"))
THIN = 0.05  # odds of another zone's ending too thin that are worth saying
THINS = "ends-thin"
SPOT, HEIGHT, DEPTH = "size", "height", "depth"


@dataclass(frozen=True, slots=True, kw_only=True)
class DefectRow:
    """A defect in the list. tone: open, plain or warn."""

    id: int
    label: str
    about: str
    tone: str


@dataclass(frozen=True, slots=True, kw_only=True)
class CauseLine:
    """How sure it is, the sentence, and the question it asks, empty where the record answers it."""

    confidence: str
    words: str
    asks: str = ""


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class WayShown:
    """One repair beside the others. best: what it is best at; ready: its day against the one before; numbers: hands,
    film, material; risk: the first that can go wrong; line: the film there through time; days_h: hour of now."""

    name: str
    best: str
    ready: str
    later: bool
    numbers: str
    risk: str
    line: FilmTimeline | None
    now_h: float
    floor_um: float
    ready_h: float | None
    leaves: bool
    chosen: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class WayDetails:
    """The repair that is looked at: its steps, the film of each zone after it, other promises, risks and cautions."""

    steps: tuple[str, ...]
    film: tuple[str, ...]
    others: tuple[str, ...]
    risks: tuple[str, ...]
    cautions: tuple[str, ...]
    skill: str


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class PageShown:
    """The whole page. look: the picture's kind; worked: whether it is to be looked at; chosen: the repair in the plan,
    empty for none; told: questions that were answered, yes or no."""

    title: str
    rows: tuple[DefectRow, ...]
    picked: int
    label: str
    shows: str
    now: str
    fields: tuple[Field, ...]
    causes: tuple[CauseLine, ...]
    told: tuple[CauseLine, ...]
    ways: tuple[WayShown, ...]
    at: int
    details: WayDetails | None
    head: str
    closed: bool
    worked: bool
    chosen: str
    place: tuple[float, float] | None
    zone: str
    look: str
    none_because: str = ""
    doubt: str = ""


def rows_of(session: ShopSession, rack: OnRack) -> tuple[DefectRow, ...]:
    """The defects of an instrument, the open ones first, the newest of each first."""
    now = session.local(session.now)
    every = defects.defects_of(rack, session.now)
    ordered = sorted(every, key=lambda d: (not d.open, -d.mishap.at_h))
    return tuple(_row(session, rack, d, now) for d in ordered)


def _row(session: ShopSession, rack: OnRack, found: Defect, now: datetime) -> DefectRow:
    mishap = found.mishap
    day = words.day(session.local(rack.moment(mishap.at_h)), now)
    about = f"{day}: {defect_words.state(session, rack, found)}"
    return DefectRow(
        id=found.id, label=defect_words.label(session, rack, found), about=about,
        tone="plain" if not found.open else "open" if found.state == defects.WORKED else "warn",
    )  # fmt: skip


def page(
    session: ShopSession, rack: OnRack, picked: int, worked: Worked | None, at: int
) -> PageShown:  # fmt: skip
    """The page of one defect; worked: None while it is being worked out; at: the repair looked at."""
    found = next(d for d in defects.defects_of(rack, session.now) if d.id == picked)
    mishap, catalogue = found.mishap, session.catalogue
    kind = catalogue.repairs.kinds[mishap.what]
    ways = () if worked is None else tuple(_way(session, rack, worked, n, found) for n in range(len(worked.ml)))
    at = min(at, max(len(ways) - 1, 0))
    now = session.local(session.now)

    def when(at_h: float) -> datetime:
        return session.local(rack.moment(at_h))

    causes: list[CauseLine] = []
    for cause in () if worked is None else worked.causes:
        text = said.cause(cause, session.units, when, now)
        causes.append(CauseLine(confidence=said.CONFIDENCE[cause.confidence], words=text, asks=cause.asks))
    because = None if worked is None else worked.repairs.none_because
    return PageShown(
        title=f"What went wrong on {rack.instrument.name}", rows=rows_of(session, rack), picked=picked,
        label=f"{kind.label}, {said.zone_label(rack.project, mishap.zone)}", shows=kind.shows, now=kind.now,
        fields=_fields(session, rack, mishap), causes=tuple(causes), told=_told(mishap), ways=ways, at=at,
        details=None if worked is None or not ways else _details(session, rack, worked, at),
        head=_head(session, rack, found, worked), closed=not found.open,
        worked=found.state == defects.WORKED, chosen=found.mending.chosen if found.mending.steps else "",
        place=mishap.place, zone=mishap.zone, look="" if mishap.what not in catalogue.looks else mishap.what,
        doubt=_doubt(session, worked),
        none_because="" if because is None else said.none_because(because, kind.label),
    )  # fmt: skip


def _told(mishap: Mishap) -> tuple[CauseLine, ...]:
    return tuple(
        CauseLine(confidence="yes" if yes else "no", words=said.question(code), asks=code) for code, yes in mishap.told
    )


def _fields(session: ShopSession, rack: OnRack, mishap: Mishap) -> tuple[Field, ...]:
    """What is asked of it: how far across, how high or deep, how much of it."""
    kind, units = session.catalogue.repairs.kinds[mishap.what], session.units
    out = []
    if mishap.what == "sand-through" and rack.project.coloured(mishap.zone, mishap.at_h):
        out.append(Field(name="colour", label="What shows", value=SHOWS[0 if mishap.colour else 1][0], choices=SHOWS))
    if kind.ask != "spread":
        names = [(f"{value:g}", f"like {name} ({units.length_value(value):.2g} {units.length_unit})")
                 for name, value in said.comparisons(SPOT)]  # fmt: skip
        out.append(Field(name="size_mm", label="How far across", value=_typed(mishap.size_mm), choices=tuple(names)))
    if kind.ask in (HEIGHT, DEPTH):
        label = "How high it stands" if kind.ask == HEIGHT else "How deep it goes"
        names = [(f"{value:g}", f"{name} ({units.film(value)})") for name, value in said.comparisons(kind.ask)]
        value = _typed(mishap.height_um if kind.ask == HEIGHT else mishap.depth_um)
        out.append(Field(name=f"{kind.ask}_um", label=label, value=value, choices=tuple(names)))
    out.append(Field(name="spread", label="How much of it", value=mishap.spread, choices=SPREADS))
    return tuple(out)


def _doubt(session: ShopSession, worked: Worked | None) -> str:
    found = None if worked is None else doubt(worked.repairs.case)
    return "" if found is None else said.doubt(found, lambda what: session.catalogue.defects[what][0])


def _typed(value: float | None) -> str:
    return "" if value is None else f"{value:g}"


def _head(session: ShopSession, rack: OnRack, found: Defect, worked: Worked | None) -> str:
    if not found.open:
        return f"Closed: {defect_words.state(session, rack, found)}."
    if found.state == defects.WORKED:
        return f"{found.mending.chosen}: every step is worked. Look at it along the lamp: how is it now?"
    if found.mending.steps:
        return f"In the plan: {found.mending.chosen[:1].lower()}{found.mending.chosen[1:]}."
    if worked is None:
        return "Working out what puts it right …"
    ready = worked.before.ready
    now = session.local(session.now)
    day = "" if ready is None else f" Without a repair it would be ready {words.day(session.local(ready), now)}."
    return f"{len(worked.ml)} ways, each worked out on this film and in this shop's days.{day}"


def _way(session: ShopSession, rack: OnRack, worked: Worked, n: int, found: Defect) -> WayShown:
    way, days, units = worked.repairs.ways[n], worked.days[n], session.units
    now = session.local(session.now)
    before = None if worked.before.ready is None else session.local(worked.before.ready)
    after = None if days.ready is None else session.local(days.ready)
    ml = worked.ml[n]
    zone = way.zones[1] if len(way.zones) > 1 and way.zones[1].name.startswith("spot-") else way.zones[0]
    film = f"{units.film(zone.film_um)} there at the end"
    if zone.floor_um > 0:
        film += f" ({said.odds_thin(zone, units)})"
    parts = [f"hands {words.minutes(60 * way.hands_h)}" if way.hands_h > 0 else "no hands", film]
    parts += [units_ml(ml)] if ml >= 0.5 else []
    # That it may end thin stands among its numbers already.
    risks = [said.risk(r, lambda z: said.zone_label(rack.project, z), units) for r in way.risks if r.code != THINS]
    later = before is not None and (after is None or after.date() > before.date())
    return WayShown(
        name=way.name, best=said.best(_best(worked, n)), later=later,
        ready=said.ready_words(before, after, _late(way, after), now),
        numbers=" · ".join(parts), risk=risks[0] if risks else "", line=way.line, now_h=worked.found.now_h,
        floor_um=zone.floor_um, ready_h=None if after is None else rack.hours(after), leaves=way.leaves,
        chosen=bool(found.mending.steps) and found.mending.chosen == way.name,
    )  # fmt: skip


def _late(way: Repair, ready: datetime | None) -> datetime | None:
    """By when it is ready nine times in ten, as far behind the likely day as by the film alone."""
    likely_h, late_h = way.ready_h[1], way.early_late_h[1]
    if ready is None or likely_h is None or late_h is None:
        return None
    return ready + timedelta(hours=max(late_h - likely_h, 0.0))


def _best(worked: Worked, n: int) -> tuple[str, ...]:
    """What it is best at; which is soonest goes by the days of the shop."""
    own = [b for b in worked.repairs.ways[n].best if b != "soonest"]
    days = [d.ready for d in worked.days]
    mine = days[n]
    if len(days) > 1 and mine is not None and all(i == n or d is None or d > mine for i, d in enumerate(days)):
        own.append("soonest")
    return tuple(own)


def units_ml(ml: float) -> str:
    """Material beyond the plan's own."""
    return f"{ml:.0f} ml more"


SKILL = {1: "A first time is enough.", 2: "Wants some practice.", 3: "Wants a practised hand."}


def _details(session: ShopSession, rack: OnRack, worked: Worked, at: int) -> WayDetails:
    way, days = worked.repairs.ways[at], worked.days[at]
    units, now = session.units, session.local(session.now)
    film = []
    spots = [z for z in way.zones[1:] if z.name.startswith("spot-")]
    thin = max(way.zones[1:], key=lambda z: z.odds, default=None)
    more = [thin] if thin is not None and thin not in spots and thin.odds > THIN else []
    for zone in (way.zones[0], *spots, *more):
        label = said.zone_label(rack.project, zone.name)
        least = f", {said.odds_thin(zone, units)}, the least wanted" if zone.floor_um > 0 else ""
        film.append(f"{label[:1].upper()}{label[1:]}: {units.film(zone.film_um)}{least}.")
    return WayDetails(
        steps=_steps(session, rack, way, now), film=tuple(film), others=_others(session, days, now),
        risks=tuple(
            said.risk(r, lambda z: said.zone_label(rack.project, z), units) for r in way.risks if r.code != THINS
        ),
        cautions=cautions(session, rack, worked, at), skill=SKILL[way.work.skill] if way.steps else "",
    )  # fmt: skip


def cautions(session: ShopSession, rack: OnRack, worked: Worked, at: int) -> tuple[str, ...]:
    """Those of the repair's own tools, and who to follow."""
    way = worked.repairs.ways[at]
    own = [session.catalogue.mend_cautions[c] for c in way.work.cautions]
    return (*own, *rack.project.material.cautions[-1:])


def _others(session: ShopSession, days: Days, now: datetime) -> tuple[str, ...]:
    if not days.moved:
        return ("No other promise moves.",)
    return tuple(
        f"{name}, promised, moves from {words.day(session.local(was), now)} to {words.day(session.local(ends), now)}."
        for name, was, ends in days.moved
    )


def _steps(session: ShopSession, rack: OnRack, way: Repair, now: datetime) -> tuple[str, ...]:
    """Each step of it, with the day the film and the hours let it begin."""
    planned = {s.index: s for s in way.forward.steps}
    mine = [(i, s) for i, s in enumerate(way.method.stage) if s.mends and s.id in {x.id for x in way.steps}]
    again = [(i, s) for i, s in enumerate(way.method.stage) if s.mends and s.op == "again"]
    out = []
    for i, stage in (*mine, *again):
        step = planned.get(i)
        day = "" if step is None else f" · {words.day(session.local(rack.moment(step.from_h)), now)}"
        count = f", {words.plural(stage.count, 'coat')}" if stage.kind == "coats" and stage.count > 1 else ""
        out.append(f"{stage.label}{count}{day}")
    return tuple(out)
