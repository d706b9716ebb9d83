"""What the Rub-out place shows, as plain data. No Qt."""

from dataclasses import dataclass

from ravden.core.abrasive.gloss import ceiling_gu
from ravden.core.abrasive.sandthrough import odds_class
from ravden.core.abrasive.sequence import Ladder
from ravden.core.plan.outlook import Outlook
from ravden.core.plan.rubout import LEAST_SANDING_MARGIN_K
from ravden.core.record import SHEENS
from ravden.ui import words
from ravden.ui.session import ShopSession


@dataclass(frozen=True, slots=True, kw_only=True)
class RungShown:
    """One rung: what it is, what it costs, what it leaves and what to see before moving on."""

    grade: str
    grain: str
    backing: str
    off: str
    left_um: float
    left: str
    scratch: str
    sheen: str
    time: str
    why: str
    look_for: str
    tight: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class ZoneShown:
    """A zone before and after the ladder, with the odds of going below its floor."""

    label: str
    before: str
    after: str
    odds: str
    tone: str


@dataclass(frozen=True, slots=True, kw_only=True)
class RubShown:
    """The whole Rub-out place."""

    title: str
    about: str
    tone: str
    heading: str
    detail: str
    rungs: tuple[RungShown, ...]
    start_um: float
    start: str
    as_now: bool
    floor_um: float
    floor: str
    flat: str
    zones: tuple[ZoneShown, ...]
    totals: str
    edges: str
    edges_tone: str
    unit: str
    cautions: tuple[str, ...]
    textures: tuple[tuple[str, float, str], ...]
    texture_um: float
    sheens: tuple[str, ...]
    sheen: str


def show(session: ShopSession, found: Outlook) -> RubShown:
    """The ladder of the instrument turned to, judged on the film there will be when the build is done."""
    units = session.units
    project = found.project
    item = project.instrument
    rub = found.rub_out
    ladder = rub.ladder
    flat = max(project.zones, key=lambda z: (z.kind == "flat", z.k_mean))
    built = bool(found.forward.coats)
    tone, heading, detail = _told(session, found)
    rungs: tuple[RungShown, ...] = ()
    zones: tuple[ZoneShown, ...] = ()
    start_um = 0.0
    totals = edges = ""
    if ladder is not None:
        start_um = ladder.steps[0].film_left_um[flat.label] + ladder.steps[0].remove_um
        rungs = tuple(
            RungShown(
                grade=s.rung.abrasive.name,
                grain=f"{s.rung.abrasive.d50_um:g} µm grain",
                backing=f"{s.rung.backing.label}, {rub.mode}",
                off=units.film(s.remove_um),
                left_um=s.film_left_um[flat.label],
                left=units.film(s.film_left_um[flat.label]),
                scratch=units.film(s.rung.rz_um),
                sheen=s.sheen,
                time=words.minutes(s.minutes),
                why=session_words(s.why, session),
                look_for=s.look_for,
                tight=s.tight,
            )
            for s in ladder.steps
        )
        zones = _zones(session, found, ladder)
        low, high = 0.75 * ladder.film_used_um, 1.3 * ladder.film_used_um
        totals = (
            f"In all about {units.film(ladder.film_used_um)} ({units.film_range(low, high)}) with the last scratches, "
            f"and some {words.minutes(ladder.minutes)} of work ({ladder.minutes / 60 / 1.6:.1f}–"
            f"{ladder.minutes / 60 * 1.6:.1f} h)."
        )
        if ladder.edges_kept_out:
            edges = "Keep off the edges altogether, or tape them: there is too little film on them to sand."
        elif ladder.edges_from == ladder.steps[0].rung.abrasive.name:
            edges = "The edges can stand all of this, lightly."
        else:
            edges = f"Keep off the edges until {ladder.edges_from}."
    catalogue = session.catalogue
    when = "when the build is done" if built else "as it is now"
    return RubShown(
        title=item.name,
        about=f"{flat.label}, {when} · to {rub.target}",
        tone=tone,
        heading=heading,
        detail=detail,
        rungs=rungs,
        start_um=start_um,
        start=units.film(start_um),
        as_now=not built,
        floor_um=item.min_film_um,
        floor=units.film(item.min_film_um),
        flat=flat.label,
        zones=zones,
        totals=totals,
        edges=edges,
        unit=units.film_unit,
        edges_tone="warn" if ladder is not None and (ladder.edges_kept_out or not edges.startswith("The")) else "open",
        cautions=(
            "Sanding dust: extraction and a mask. Water stays away from open wood and mains-powered tools.",
            project.material.dust_colour,
        ),
        textures=tuple(
            (t.label, t.pv_um, f"{t.words} About {units.film(t.pv_um)} peak to valley.") for t in catalogue.textures
        ),
        texture_um=rub.texture_um,
        sheens=SHEENS,
        sheen=rub.target,
    )  # fmt: skip


def _zones(session: ShopSession, found: Outlook, ladder: Ladder) -> tuple[ZoneShown, ...]:
    units = session.units
    out = []
    first, last = ladder.steps[0].film_left_um, ladder.steps[-1].film_left_um
    for z in found.project.zones:
        odds = ladder.odds[z.label]
        spared = z.kind == "edge" and ladder.edges_kept_out
        tone = "open" if odds < 0.05 else "plain" if odds < 0.20 else "warn"
        before = found.ledger.mean_um(z.name)
        planned = sum(c.dry_um for c in found.forward.coats) * z.k_mean
        before = max(before + planned, first[z.label])
        out.append(
            ZoneShown(
                label=z.label, before=units.film_number(before), after=units.film_number(last[z.label]),
                odds="kept off" if spared else odds_class(odds), tone="plain" if spared else tone,
            )
        )  # fmt: skip
    return tuple(out)


def _told(session: ShopSession, found: Outlook) -> tuple[str, str, str]:
    rub = found.rub_out
    rack = session.shop.on_rack(found.project.instrument.id)
    now = session.local(session.now)
    level = next((w for w in found.windows if w.name in ("level", "buff")), None)
    when = ""
    if level is not None and level.likely_h is not None and level.likely_h > found.now_h:
        when = words.day(session.local(rack.moment(level.likely_h)), now)
    if rub.ladder is None:
        return "warn", "No ladder from this drawer.", f"{rub.refusal[:1].upper()}{rub.refusal[1:]}."
    index = found.rub_out.ladder
    if rub.margin_K is None:
        heading, tone, detail = "There is no film yet.", "plain", "This is the ladder for the film that is planned."
    elif when:
        heading, tone = f"Not yet: the film is too soft; levelling opens about {when}.", "plain"
        detail = "This is the ladder for that day."
    elif rub.at_cured:
        heading, tone = "The level window is open; the top layers are still a little soft.", "plain"
        detail = (
            f"{words.kelvin(rub.margin_K)} where the paper will cut; "
            f"from {LEAST_SANDING_MARGIN_K:.0f} K on it loads less. "
            "Change paper twice as often, or give it a few more days."
        )
    else:
        heading, tone = "Hard enough to sand now.", "open"
        detail = f"{words.kelvin(rub.margin_K)} over the bench where the paper will cut."
    if index is not None and index.verdict == "refused":
        tone = "warn"
        reason = session_words(index.reason, session)
        return tone, "This film does not carry the ladder for sure.", f"{reason} {heading}"
    return tone, heading, detail


def session_words(text: str, session: ShopSession) -> str:
    """Core sentences speak of um; the screen of the user's unit."""
    if not session.units.us:
        return text.replace(" um", " µm")
    parts = text.split(" ")
    for i, part in enumerate(parts):
        if part.strip(",.") == "um" and i:
            bare = parts[i - 1].lstrip("±")
            try:
                value = float(bare)
            except ValueError:
                continue
            sign = "±" if parts[i - 1].startswith("±") else ""
            parts[i - 1] = sign + session.units.film_number(value)
            parts[i] = part.replace("um", "mil")
    return " ".join(parts)


def ceiling_note(index: float) -> str:
    """What the best possible surface of a film reads, for the tooltip of the sheen."""
    return f"A perfectly smooth film of this kind reads about {ceiling_gu(index, 60):.0f} gloss units at 60°."
