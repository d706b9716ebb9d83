"""What the Film place shows of one instrument, as plain data. No Qt."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime

import numpy as np

from ravden.app import defect_words
from ravden.app.defects import defects_of, open_defects
from ravden.app.next_act import NextAct, next_act, ready_text, when_text, why_later
from ravden.app.session import ShopSession
from ravden.core.ahead.outlook import Outlook
from ravden.core.ahead.steps import grown_old
from ravden.core.ahead.timeline import FilmTimeline
from ravden.core.cure.models import Oxidation
from ravden.core.instrument.outline import Outline
from ravden.core.method.steps import WORK_KINDS
from ravden.core.record import Coat, Reading, Sanding, Zone
from ravden.core.state.colour import colour_of
from ravden.core.state.damage import depth_of, height_of
from ravden.text import plan_words, words
from ravden.text.measure_words import measure_next
from ravden.text.told import Told
from ravden.ui.places.film.step_marks import StepMark, step_marks
from ravden.ui.places.film.time_axis import TimeWarp, warp

LOOK_BACK_H = 3.0
TOOLS = {"spray": "gun", "pad": "pad", "brush": "brush", "wipe": "cloth"}
SECTION_DEPTHS = ((0.94, "top"), (0.5, "middle"), (0.06, "wood"))


@dataclass(frozen=True, slots=True, kw_only=True)
class ZoneRow:
    """A zone beside the picture. odds: below the least wanted there, as a class; tone open, plain or warn."""

    name: str
    label: str
    film: str
    range: str
    odds: str
    tone: str
    mean_um: float
    least: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Mark:
    """A window's upright line."""

    at_h: float
    label: str


@dataclass(frozen=True, slots=True, kw_only=True)
class WoundMark:
    """A defect of the zone looked at: when, how far over the wood it lies [um], what it is; heavy, open: as it
    stands."""

    at_h: float
    um: float
    words: str
    heavy: bool
    open: bool


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class FilmShown:
    """The whole Film place; timeline None: bare wood. Outline None: not drawn yet."""

    title: str
    about: str
    told: Told
    zone: str
    zone_label: str
    rows: tuple[ZoneRow, ...]
    timeline: FilmTimeline | None
    warp: TimeWarp | None
    zero: datetime
    days: tuple[datetime, ...]
    now_h: float
    top_um: float
    floor_um: float
    coats_h: tuple[float, ...]
    planned_coats_h: tuple[float, ...]
    cuts_h: tuple[tuple[float, float], ...]
    planned_cuts_h: tuple[tuple[float, float], ...]
    readings: tuple[tuple[float, float, bool], ...]
    marks: tuple[Mark, ...]
    body: Outline | None
    neck_mm: float
    next_heading: str
    next_lines: tuple[str, ...]
    cautions: tuple[str, ...]
    gun: str
    measure: str = ""
    places: tuple[tuple[float, float, str], ...] = ()
    steps: tuple[StepMark, ...] = ()
    never_hard: bool = False
    colour_um: float = 0.0
    act: str = "coat"
    wounds: tuple[WoundMark, ...] = ()
    wrong: str = ""
    spots: tuple[tuple[float, float, str], ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class SectionShown:
    """The film at the cursor: its moment, thickness, and how soft at three heights, in words."""

    moment: str
    film: str
    lines: tuple[tuple[float, str], ...]
    planned: bool


def section(session: ShopSession, shown: FilmShown, at_h: float) -> SectionShown:
    """The cross-section at an hour."""
    line = shown.timeline
    if line is None:
        return SectionShown(moment="bare wood", film="", lines=(), planned=False)
    now = session.local(session.now)
    at = session.local(session.shop.on_rack(session.selected).moment(at_h)) if session.rack else now
    film = float(np.interp(at_h, line.hours, line.film_um))
    low, high = (float(np.interp(at_h, line.hours, x)) for x in (line.low_um, line.high_um))
    index = line.index_at(at_h)
    nearby = min(index + 1, len(line.hours) - 1)
    span = line.hours[nearby] - line.hours[index]
    share = 0.0 if span <= 0 else float(np.clip((at_h - line.hours[index]) / span, 0, 1))
    margin = line.margin_K[index] * (1 - share) + line.margin_K[nearby] * share
    lines = []
    if shown.never_hard:
        lines.append((0.5, "in the wood: it never hardens"))
    if shown.colour_um > 0 and film > 0 and at_h >= shown.now_h - 1e-6:
        lines.append((min(shown.colour_um / film, 1.0), "colour up to here"))
    for height, label in SECTION_DEPTHS if not shown.never_hard else ():
        value = float(margin[min(int(height * len(margin)), len(margin) - 1)])
        if np.isfinite(value):
            lines.append((height, f"{label}: {words.at_depth(value)}"))
    film_text = f"{session.units.film(film)}, {session.units.film_range(low, high)}" if film > 0 else "bare wood"
    return SectionShown(
        moment=words.moment(at, now), film=film_text, lines=tuple(lines), planned=at_h > shown.now_h + 1e-6
    )


# What one reading of it would narrow every zone, best first.
NARROWS = {
    "gauge": "one gauge reading", "comb": "a comb in the next coat", "micrometer": "a micrometer on the witness card",
    "scale": "the witness card on a scale",
}  # fmt: skip


def gun_words(found: Outlook, applied: str = "spray", tools: Sequence[str] = tuple(NARROWS)) -> str:
    """What the readings have taught about the applicator, in plain words; tools: what there is to measure with."""
    mean, sd = found.ledger.applicator()
    percent = 100 * (np.exp(mean) - 1)
    tool = TOOLS[applied]
    if sd > 0.2:
        by = next((NARROWS[t] for t in NARROWS if t in tools), "how much the next coat takes")
        return f"Your {tool} is not known yet (±{100 * sd:.0f}\u00a0%): {by} would narrow every zone."
    if abs(percent) < 2:
        return f"Your {tool} lays down what is nominal (±{100 * sd:.0f}\u00a0%)."
    which = "more" if percent > 0 else "less"
    return f"Your {tool} lays down {abs(percent):.0f} % {which} than nominal (±{100 * sd:.0f}\u00a0%)."


def _colour_um(found: Outlook, zone: Zone) -> float:
    """Film of a zone up to the top of its last tinted coat [um]; 0: no coat has colour in it."""
    colour = colour_of(found.project, found.ledger, zone, found.now_h)
    return 0.0 if colour is None else colour.top_um


def _odds(below: float) -> tuple[str, str]:
    if below < 0.01:
        return "under 1 %", "open"
    if below < 0.05:
        return "1–5 %", "open"
    if below < 0.20:
        return "5–20 %", "plain"
    if below < 0.5:
        return "20–50 %", "warn"
    return "over 50 %", "warn"


def show(session: ShopSession, found: Outlook, body: Outline | None, who: str = "") -> FilmShown:
    """The Film place of the instrument turned to. who: whose hands the shop's plan has on it next."""
    project = found.project
    item = project.instrument
    rack = session.shop.on_rack(item.id)
    now = session.local(session.now)
    units = session.units
    act = next_act(session, found, item.id)
    rows = []
    laid = {z.name for z in project.zones for c in project.coats if c.at_h <= found.now_h and _lands(c, z.name)}
    for z in found.zones:
        if z.name in project.masked and z.film.mean_um <= 0:
            rows.append(
                ZoneRow(name=z.name, label=z.label, film="–", range="masked", odds="", tone="plain", mean_um=0.0)
            )
            continue
        odds, tone = _odds(z.below_floor) if z.floor_um > 0 else ("", "plain")
        if z.name not in laid:
            # Wood that has had nothing yet is no alarm.
            rows.append(ZoneRow(name=z.name, label=z.label, film="bare", range="", odds="", tone="plain", mean_um=0.0))
            continue
        rows.append(
            ZoneRow(
                name=z.name, label=z.label + (" (masked)" if z.name in project.masked else ""),
                film=units.film_number(z.film.mean_um),
                range=units.film_range(z.film.p05_um, z.film.p95_um).replace(f" {units.film_unit}", ""),
                odds=odds, tone=tone, mean_um=z.film.mean_um,
                least=units.film_number(z.floor_um) if z.floor_um > 0 else "",
            )
        )  # fmt: skip
    past = [a for a in project.acts if a.at_h <= found.now_h]
    here = project.zone(found.zone)
    coats = tuple(h for a in past if isinstance(a, Coat) and _lands(a, found.zone) for h in a.hours)
    cuts = tuple((a.at_h, a.share(here)) for a in past if isinstance(a, Sanding) and a.share(here) > 0)
    planned = tuple(c.at_h for c in found.forward.coats if _lands(c, found.zone))
    planned_cuts = tuple((s.at_h, s.share(here)) for s in found.forward.sandings if s.share(here) > 0)
    line = found.timeline
    zone = project.zone(found.zone)
    method = found.method
    axis = _axis(coats, planned, cuts, planned_cuts, found)
    ends = (rack.zero, rack.zero) if axis is None else (rack.moment(float(h)) for h in axis.hours[[0, -1]])
    return FilmShown(
        colour_um=_colour_um(found, zone),
        title=item.name,
        about=f"{session.catalogue.kind(item.kind).label} · {method.label} · {item.sheen}"
        + (f" · promised {words.day(session.local(rack.moment(item.promised_h)), now)}" if item.promised_h else ""),
        told=_told(session, found, act, now, who),
        zone=zone.name,
        zone_label=zone.label,
        rows=tuple(rows),
        timeline=line,
        warp=axis,
        zero=session.local(rack.zero),
        days=tuple(session.shop.hours.midnights(*ends, before=True)),
        now_h=found.now_h,
        top_um=_top_um(item.min_film_um, line),
        floor_um=item.min_film_um,
        coats_h=coats,
        planned_coats_h=planned,
        cuts_h=cuts,
        planned_cuts_h=planned_cuts,
        readings=tuple(
            (a.at_h, a.um, a.zone == zone.name) for a in past if isinstance(a, Reading) and a.what == "gauge"
        ),
        marks=_marks(found),
        body=body,
        neck_mm=item.measures.neck_length_mm,
        act=act_next(found, act),
        next_heading=f"Next: {act.what[:1].lower()}{act.what[1:]}",
        next_lines=_next_lines(session, found, act, now),
        cautions=project.material.cautions,
        gun=gun_words(found, session.catalogue.applied[project.material.id], session.tools),
        never_hard=project.finish(found.zone).cure.model == "never",
        measure="" if found.counsel is None else measure_next(session, found, found.counsel),
        steps=step_marks(found),
        wounds=_wounds(session, found),
        wrong=defect_words.open_line(session, rack),
        spots=tuple(
            (*d.mishap.place, f"{defect_words.label(session, rack, d)}: {defect_words.state(session, rack, d)}")
            for d in open_defects(rack, session.now)
            if d.mishap.place is not None
        ),
        places=tuple(
            (*a.place, words.reading(a, units)) for a in past if isinstance(a, Reading) and a.place is not None
        ),
    )


def _wounds(session: ShopSession, found: Outlook) -> tuple[WoundMark, ...]:
    """The defects of the zone looked at, at their depth and moment; closed ones stay to be seen."""
    rack = session.shop.on_rack(found.project.instrument.id)
    out = []
    for defect in defects_of(rack, session.now):
        mishap = defect.mishap
        if mishap.zone != found.zone or (defect.light and not defect.open):
            continue
        line = found.timeline
        film = 0.0 if line is None else float(np.interp(mishap.at_h, line.hours, line.film_um, left=0.0))
        depth, height = depth_of(mishap), height_of(mishap)
        um = 0.0 if depth is None else max(film - depth, 0.0) if depth > 0 else film + height
        words_ = f"{defect_words.label(session, rack, defect)}: {defect_words.state(session, rack, defect)}"
        out.append(WoundMark(at_h=mishap.at_h, um=um, words=words_, heavy=not defect.light, open=defect.open))
    return tuple(out)


def tried(shown: FilmShown, found: Outlook) -> FilmShown:
    """The picture with another plan in it: what was stays as it is, on the same scale."""
    line = found.timeline
    if line is None:
        return shown
    planned = tuple(c.at_h for c in found.forward.coats if _lands(c, found.zone))
    planned_cuts = tuple((s.at_h, s.um) for s in found.forward.sandings)
    return replace(
        shown,
        timeline=line,
        warp=_axis(shown.coats_h, planned, shown.cuts_h, planned_cuts, found),
        top_um=max(shown.top_um, _top_um(shown.floor_um, line)),
        planned_coats_h=planned,
        planned_cuts_h=planned_cuts,
        marks=_marks(found),
        steps=step_marks(found),
    )


def _lands(coat: Coat, zone: str) -> bool:
    """Whether a coat is one of the zone looked at: those meant for other zones alone are not."""
    return coat.zones is None or zone in coat.zones


def _axis(
    coats: tuple[float, ...], planned: tuple[float, ...], cuts: tuple[tuple[float, float], ...],
    planned_cuts: tuple[tuple[float, float], ...], found: Outlook,
) -> TimeWarp | None:  # fmt: skip
    line = found.timeline
    if line is None:
        return None
    before = [s.from_h for s in step_marks(found) if s.from_h < line.hours[0] and s.kind != "wait"]
    events = sorted({*before, *coats, *planned, *(h for h, _ in cuts), *(h for h, _ in planned_cuts), found.now_h})
    return warp(events, min([float(line.hours[0]), *before]) - LOOK_BACK_H, float(line.hours[-1]))


def _top_um(floor_um: float, line: FilmTimeline | None) -> float:
    """Top of the scale: wet coats may shoot over it, films that stay may not."""
    top = max(floor_um * 1.5, 20.0)
    calm = None if line is None else line.phi_mean < 0.22
    if line is None or calm is None or not calm.any():
        return top
    film, high = float(line.film_um[calm].max()), float(line.high_um[calm].max())
    return max(top, 1.08 * film, min(1.04 * high, 1.3 * film))


def _marks(found: Outlook) -> tuple[Mark, ...]:
    return tuple(Mark(at_h=w.likely_h, label=words.ACTS[w.name]) for w in found.windows if w.likely_h is not None)


def act_next(found: Outlook, act: NextAct) -> str:
    """What the large button does: coat, sanding, light, step, or reading while there is only waiting."""
    if act.kind in ("coat", "light"):
        return act.kind
    if act.kind == "scuff":
        return "sanding"
    if act.kind == "work":
        stage = found.method.stage[found.progress.index]
        return "sanding" if stage.kind in ("level", "scuff", "rub-out") else "step"
    if act.kind == "window":
        stage = found.method.stage[found.progress.index]
        return "reading" if not act.open else "step" if stage.window == "case" else "sanding"
    return "coat" if act.kind in ("dry", "refused") else "reading"


def _told(session: ShopSession, found: Outlook, act: NextAct, now: datetime, who: str) -> Told:
    when = when_text(act, now)
    heading = f"{act.what}: {when}." if when else f"{act.what}."
    rack = session.shop.on_rack(found.project.instrument.id)
    waits = why_later(act, who, now)
    parts: list[str] = []
    if found.margin_now_K is not None and found.project.material.cure.model == "never":
        parts.append("it stays in the wood and never hardens")
    elif found.margin_now_K is not None:
        # The day goes by the slowest zone, which need not be the one looked at.
        slow = found.slowest_zone
        where = "" if slow in ("", found.zone) else f" ({found.project.zone(slow).label.lower()}, the slowest)"
        parts.append(f"How firm, at its softest depth{where}: {words.margin(found.margin_now_K)}")
        parts.append(f"{session.units.film(found.shrink_left_um)} of shrink still to come")
    told = found.forward.windows[:1] if act.kind == "window" else ()
    later = [w for w in found.windows if w not in told]
    for w in later[:2]:
        if w.likely_h is not None:
            planned = "" if w.likely_h <= found.now_h else ", as planned,"
            parts.append(f"{words.ACTS[w.name]}{planned} {ready_text(session, rack.instrument.id, w)}")
    tone = "open" if act.open else "plain"
    detail = "; ".join(parts) + ("." if parts else "")
    more = "" if found.margin_now_K is None else words.softens(found.margin_now_K)
    first = f"It {waits}. " if waits else ""
    return Told(tone=tone, heading=heading, detail=f"{first}{detail[:1].upper()}{detail[1:]}", more=more)


def _next_lines(session: ShopSession, found: Outlook, act: NextAct, now: datetime) -> tuple[str, ...]:
    material, units = found.project.material, session.units
    index = found.progress.index
    stage = found.method.stage[index] if index < len(found.method.stage) else None
    if act.kind == "coat" and stage is not None:
        laid = found.project.layers.get(stage.finish) or material
        dry = units.film(found.project.dry_um(laid, stage.by, stage.um))
        said = (
            f"{dry} dry a coat; {words.plural(stage.per_session, 'coat')} a session, {words.wait(stage.between_h)} "
            "between.",
            "Stop for the day after that: more leaves the bottom soft.",
        )
        white = "In this air the usual thinner turns it white: slow thinner, or wait for a drier day."
        return (white, *said) if act.thinner else said
    if act.kind == "light":
        lamp = "" if found.project.lamp_mW_cm2 else " Say how strong the lamp is, and the minutes are told."
        return (*("{}: {}.{}".format(*plan_words.between(found, b), lamp) for b in found.forward.between[:1]),
                "Shield the lamp, cover up, and wear the glasses it names.")  # fmt: skip
    if act.kind == "scuff":
        if grown_old(found.progress.last_coat_h, found.now_h):
            return (
                "The last coat is over a year old. Wipe off dust, grease and wax with what its data sheet names; "
                "then a light scuff (S), or the next one crawls or peels.",
            )
        if isinstance(material.cure, Oxidation):
            return ("The last coat has dried: a light scuff (S) before the next one, which holds on to that.",)
        return ("The last coat is past its recoat window: a light scuff first (S), or the next one peels.",)
    if act.kind in ("dry", "refused"):
        return (plan_words.stuck(session.units, found),)
    ladder = found.rub_out.ladder
    if act.kind == "work" and stage is not None and stage.kind in (*WORK_KINDS, "scuff"):
        lines = [
            stage.how,
            f"Look for: {stage.inspect}" if stage.inspect else "",
            "D when it is done.",
            plan_words.stuck(session.units, found),
        ]
        return tuple(line for line in lines if line)
    levels = act.what == "Level sand" or (stage is not None and stage.kind == "level")
    if act.kind in ("window", "work") and levels and ladder is not None:
        first = ladder.steps[0]
        lines = [
            f"{first.rung.abrasive.name} on a {first.rung.backing.label}, "
            f"about {units.film(first.remove_um)} off the flats in some {words.minutes(first.minutes)}.",
            "Until no shiny low spot is left; clear the paper before it pills.",
            material.dust_colour,
        ]
        if ladder.edges_kept_out:
            lines.append("Keep off the edges.")
        elif ladder.edges_from not in (None, first.rung.abrasive.name):
            lines.append(f"Keep off the edges until {ladder.edges_from}.")
        return tuple(lines)
    if act.kind == "window" and act.what == "Rub out":
        return ("The ladder is in the Rub-out place.", "Hunt stray deep scratches before any compound.")
    if act.kind == "done":
        return ("Nothing more is planned.",)
    return ("Until then: no print, no strap, no stand that touches the film.",)
