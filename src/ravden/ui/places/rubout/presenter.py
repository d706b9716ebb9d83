"""What the Rub-out place shows, as plain data. No Qt."""

from dataclasses import dataclass

from ravden.app.session import ShopSession
from ravden.catalogue.assemble import body
from ravden.core.abrasive.climb import Ladder, Step
from ravden.core.abrasive.explain import Change
from ravden.core.abrasive.gloss import ceiling_gu
from ravden.core.abrasive.grades import Abrasive
from ravden.core.abrasive.job import KEY, is_soft
from ravden.core.abrasive.reasons import kept_off
from ravden.core.abrasive.sandthrough import odds_class
from ravden.core.ahead.outlook import Outlook
from ravden.core.instrument.outline import Outline
from ravden.core.record import SHEENS
from ravden.core.rubout.rub_out import Ask, RubOut
from ravden.core.surface.handover import handing_over
from ravden.text import words, written
from ravden.text.say import grade_name, say, sentence
from ravden.text.told import Told
from ravden.ui.places.rubout.readiness import told

BLOCKS = ("firm", "rigid", "foam", "finger", "orbital", "orbital-foam")
MODES = (("wet", "wet"), ("dry", "dry"))
TONE_OF_ODDS = ((0.05, "open"), (0.20, "plain"), (2.0, "warn"))
EMPTY = "To see a ladder all the same, choose above what it should come to."
KEY_WORDS = "a key for the next coat"
AIMS = {
    "satin": "level before the satin coat",
    "padded": "level before the next round",
    "plain": "level before the next coats",
}


@dataclass(frozen=True, slots=True, kw_only=True)
class RungShown:
    """One rung: what it is, what it costs, what it leaves and what to see before moving on; key: the digit that logs
    it; needed: why it cannot be left out, or what that would do; odds: of the zone at most risk, after it; id: its
    grade."""

    id: str
    key: str
    grade: str
    grain: str
    backing: str
    off: str
    left_um: float
    left: str
    scratch: str
    sheen: str
    band: str
    time: str
    paper: str
    why: str
    needed: str
    look_for: str
    tight: bool
    odds: str
    tone: str
    hand_over: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class SpareShown:
    """A grade of the drawer that is not in the ladder: where it would stand, and what putting it in would do."""

    id: str
    grade: str
    at: int
    words: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ZoneShown:
    """A zone before and after the ladder, the least wanted there with the odds of less, and strokes of the first rung
    that are still safe on it; measure: whether to measure there first."""

    name: str
    label: str
    before: str
    after: str
    odds: str
    strokes: str
    tone: str
    least: str
    measure: bool = False

    @property
    def film(self) -> str:
        """What the outline writes on the zone."""
        return self.after

    @property
    def range(self) -> str:
        """The second line on the outline."""
        return self.odds


@dataclass(frozen=True, slots=True, kw_only=True)
class LadderShown:
    """The ladder, rung by rung over the film. spares: grades not in it; done: rungs logged; empty: what stands where
    there is none; own: the user's sequence; start_um, floor_um: film before it, and the least wanted [um]; flat: the
    zone the film drawn is of; as_now: that film is there already."""

    rungs: tuple[RungShown, ...]
    spares: tuple[SpareShown, ...]
    done: tuple[str, ...]
    empty: str
    own: bool
    start_um: float
    start: str
    floor_um: float
    floor: str
    flat: str
    as_now: bool
    unit: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ZonesShown:
    """Every zone before and after, on the outline and in a table, and what goes for all of them."""

    zones: tuple[ZoneShown, ...]
    body: Outline | None
    neck_mm: float
    totals: str
    edges: str
    edges_tone: str
    cautions: tuple[str, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class AskedShown:
    """What the ladder is asked for, and what else could be: surface, sheen, block, wet or dry, edges."""

    textures: tuple[tuple[str, float, str], ...]
    texture_um: float
    sheens: tuple[tuple[str, str], ...]
    sheen: str
    sheen_tip: str
    blocks: tuple[tuple[str, str], ...]
    block: str
    mode: str
    edges_worked: bool
    ask: Ask


@dataclass(frozen=True, slots=True, kw_only=True)
class RubShown:
    """The whole Rub-out place, in its parts; remarks: on the user's own ladder, by tone."""

    title: str
    about: str
    told: Told
    ladder: LadderShown
    zones: ZonesShown
    asked: AskedShown
    remarks: tuple[tuple[str, str], ...]


def show(session: ShopSession, found: Outlook, rub: RubOut | None = None) -> RubShown:
    """The ladder of the instrument turned to, judged on the film there will be when the build is done.

    rub: another ladder than the outlook's own, because something else was asked.
    """
    units = session.units
    project = found.project
    item = project.instrument
    rub = rub or found.rub_out
    ladder = rub.ladder
    flat = max(project.zones, key=lambda z: (z.name not in project.bare, z.kind == "flat", z.k_mean))
    built = any(c.zones is None for c in found.forward.coats)
    tone, heading, detail = told(session, found, rub)
    start_um = next((z.film_um for z in rub.job.zones if z.name == flat.label), 0.0)
    totals = edges = ""
    if ladder is not None:
        totals, edges = _totals(session, rub, ladder), _edges(rub, ladder)
        edges = " ".join([edges, *kept_words(session, rub, ladder)])
    when = "when the build is done" if built else "as it is now"
    after = rub.job.after
    surface = f"after {after.abrasive.name}" if after is not None else when
    return RubShown(
        title=item.name,
        about=f"{flat.label}, {surface} · {aim_words(rub)}" + (" · your own ladder" if rub.own else ""),
        told=Told(
            tone=tone, heading=heading, detail=detail,
            more="" if rub.margin_K is None else words.softens(rub.margin_K, rub.film.least_K),
        ),
        ladder=LadderShown(
            rungs=_rungs(session, rub, ladder, flat.label) if ladder is not None else (), spares=_spares(session, rub),
            done=_done(session, found, rub), empty=EMPTY if rub.idle else "", own=rub.own, start_um=start_um,
            start=units.film(start_um), floor_um=rub.job.min_film_um, floor=units.film(rub.job.min_film_um),
            flat=flat.label, as_now=not built, unit=units.film_unit,
        ),
        zones=ZonesShown(
            zones=_zones(session, rub, ladder), body=body(item.measures), neck_mm=item.measures.neck_length_mm,
            totals=totals, edges=edges, edges_tone="open" if edges.startswith("The edges can") else "plain",
            cautions=(
                "Sanding dust: extraction and a mask. Water stays away from open wood and mains-powered tools.",
                project.material.dust_colour,
            ),
        ),
        asked=_asked(session, rub),
        remarks=tuple(("warn" if r.grave else "plain", sentence(r.said, units)) for r in rub.remarks),
    )  # fmt: skip


def _asked(session: ShopSession, rub: RubOut) -> AskedShown:
    catalogue, units = session.catalogue, session.units
    return AskedShown(
        textures=tuple(
            (t.label, t.pv_um, f"{t.words} About {units.film(t.pv_um)} peak to valley.") for t in catalogue.textures
        ),
        texture_um=rub.texture_um, sheens=((KEY, KEY_WORDS), *((name, name) for name in SHEENS)), sheen=rub.target,
        sheen_tip=ceiling_note(rub.job.refractive_index),
        blocks=tuple((b, catalogue.backings[b].label) for b in BLOCKS),
        block=rub.ask.block or rub.held.block, mode=rub.mode, edges_worked=rub.ask.edges, ask=rub.ask,
    )  # fmt: skip


def _rungs(session: ShopSession, rub: RubOut, ladder: Ladder, flat: str) -> tuple[RungShown, ...]:
    units = session.units
    said = {c.rung.abrasive.id: c for c in rub.changes if c.used}
    out = []
    for i, s in enumerate(ladder.steps):
        change = said.get(s.rung.abrasive.id)
        needed = ""
        if change is not None:
            needed = say(change.needed, units) if change.needed else _without(session, change)
        zone, worst = max(s.odds.items(), key=lambda pair: pair[1])
        unknown = zone in ladder.verdict.measure
        out.append(
            RungShown(
                id=s.rung.abrasive.id,
                key=str(i + 1) if i < 9 else "",
                grade=grade_name(s.rung.abrasive.name),
                grain=_grain(s.rung.abrasive),
                backing=f"{'by hand' if s.rung.abrasive.kind == 'wool' else s.rung.backing.label}, {rub.mode}",
                off=units.film(s.remove_um),
                left_um=s.film_left_um[flat],
                left=units.film(s.film_left_um[flat]),
                scratch=units.film(s.rung.rz_um),
                sheen=s.sheen,
                band=_band(s),
                time=words.minutes(s.minutes),
                paper=_paper(s.pieces),
                why=say(s.why, units),
                needed=_to_get(rub, s) or needed,
                look_for=say(s.look_for, units),
                tight=s.tight,
                odds=f"measure {zone} first" if unknown else _odds(worst, zone),
                tone="plain" if unknown else next(t for limit, t in TONE_OF_ODDS if worst <= limit),
                hand_over=_hand_over(session, rub, ladder) if i == 0 else "",
            )
        )
    return tuple(out)


def _to_get(rub: RubOut, step: Step) -> str:
    """That a paper or powder of the method is not in the drawer."""
    if step.rung.abrasive.id not in rub.held.brought:
        return ""
    return f"You need {grade_name(step.rung.abrasive.name)}: it is not in the drawer."


def _hand_over(session: ShopSession, rub: RubOut, ladder: Ladder) -> str:
    """What going on to the next paper costs, by how much is dull; empty where nothing can be said of it."""
    if rub.job.after is not None:
        return ""
    units = session.units
    ways = handing_over(ladder.steps, rub.texture_um)
    if not ways:
        return ""
    said = "; ".join(f"{100 * w.touched:.0f} %: {units.film(w.film_um)}, {words.minutes(w.minutes)}" for w in ways)
    return f"Then {grade_name(ladder.steps[1].rung.abrasive.name)}, for both, when this much is dull: {said}."


def _odds(worst: float, zone: str) -> str:
    return f"odds {odds_class(worst)}" + (f", {zone}" if worst >= 0.01 else "")


def _grain(grade: Abrasive) -> str:
    low, high = (written.number(um, ".3g") for um in (grade.low_um, grade.high_um))
    return f"{written.number(grade.d50_um, 'g')} µm grain ({low}–{high})"


def _band(step: Step) -> str:
    low, high = step.band.gu60
    return f"{low:.0f}–{high:.0f} / {step.band.gu20[0]:.0f}–{step.band.gu20[1]:.0f}"


def _paper(pieces: float) -> str:
    if pieces <= 0:
        return ""
    return "1 paper" if pieces <= 1 else f"{int(-(-pieces // 1))} papers"


def _more(session: ShopSession, minutes: float, film_um: float) -> str:
    sign = "+" if minutes >= 0 else "−"
    film = f"{'+' if film_um >= 0 else '−'}{session.units.film(abs(film_um))}"
    return f"{sign}{abs(minutes):.0f} min, {film} film"


def _without(session: ShopSession, change: Change) -> str:
    return f"Without it: {_more(session, change.minutes, change.film_um)}."


def _spares(session: ShopSession, rub: RubOut) -> tuple[SpareShown, ...]:
    return tuple(
        SpareShown(
            id=c.rung.abrasive.id, grade=grade_name(c.rung.abrasive.name), at=c.at,
            words=_more(session, c.minutes, c.film_um),
        )
        for c in rub.changes
        if not c.used
    )  # fmt: skip


def _done(session: ShopSession, found: Outlook, rub: RubOut) -> tuple[str, ...]:
    """The rungs logged since the last coat."""
    rack = session.shop.on_rack(found.project.instrument.id)
    now = session.local(session.now)
    labels = {z.name: z.label for z in found.project.zones}
    most = {z.name for z in found.project.zones if z.kind != "edge" and z.name not in found.project.bare}
    out = []
    for d in rub.film.done:
        on = ", ".join(labels.get(z, z) for z in d.zones)
        if not d.zones or set(d.zones) == most:
            on = "all zones" if not d.zones else "all but the edges"
        out.append(f"{d.grade} done, {words.moment(session.local(rack.moment(d.at_h)), now)}, {on}")
    return tuple(out)


def _totals(session: ShopSession, rub: RubOut, ladder: Ladder) -> str:
    units = session.units
    low, high = 0.75 * ladder.film_used_um, 1.3 * ladder.film_used_um
    cut = rub.held.hands.cut
    slow, fast = (1.6, 1 / 1.6) if not cut.readings else (cut.range()[1] / cut.factor, cut.range()[0] / cut.factor)
    text = (
        f"In all about {units.film(ladder.film_used_um)} ({units.film_range(low, high)}) with the last scratches, "
        f"and some {words.minutes(ladder.minutes)} of work ({written.number(ladder.minutes / 60 * fast, '.1f')}–"
        f"{written.number(ladder.minutes / 60 * slow, '.1f')} h)."
    )
    if cut.readings:
        times = written.number(cut.factor, ".1f")
        text += f" Your papers cut {times} times as fast as assumed ({words.plural(cut.readings, 'reading')})."
    scratch = rub.held.hands.scratch
    if scratch.readings:
        text += f" They scratch {written.number(scratch.factor, '.1f')} times as deep."
    return text


def _edges(rub: RubOut, ladder: Ladder) -> str:
    if not ladder.edges:
        return ""
    if rub.ask.edges:
        return "The edges are worked with the rest, and have to bear it."
    if ladder.edges_kept_out:
        if not any(is_soft(r) for r in ladder.rungs):
            return "Keep off the edges with these papers."
        return "Keep off the edges altogether, or tape them: there is too little film on them to sand."
    if ladder.edges_from == ladder.steps[0].rung.abrasive.name:
        return "The edges can stand all of this, lightly."
    return f"Keep off the edges until {ladder.edges_from}."


def kept_words(session: ShopSession, rub: RubOut, ladder: Ladder) -> tuple[str, ...]:
    """What to do with small zones that cannot bear the whole ladder."""
    said = [kept_off(ladder, z.name) for z in rub.job.zones if z.kind != "edge"]
    return tuple(say(text, session.units) for text in said if text)


def aim_words(rub: RubOut) -> str:
    """What a ladder is for."""
    if rub.idle:
        return "nothing to sand"
    if rub.target != KEY:
        return f"to {rub.target}"
    return AIMS.get(rub.film.aim.before, f"to {KEY_WORDS}")


def _zones(session: ShopSession, rub: RubOut, ladder: Ladder | None) -> tuple[ZoneShown, ...]:
    units = session.units
    names = {z.label: z.name for z in rub.film.project.zones}
    out = []
    for z in rub.job.zones:
        least = units.film_number(rub.job.min_film_um * z.floor)
        if ladder is None:
            film = units.film_number(z.film_um)
            out.append(
                ZoneShown(
                    name=names[z.name], label=z.name, before=film, after=film, odds="", strokes="", tone="plain",
                    least=least,
                )
            )  # fmt: skip
            continue
        first, last = ladder.steps[0], ladder.steps[-1]
        odds = ladder.odds[z.name]
        spared = ladder.verdict.joins[z.name] is None
        tone = next(t for limit, t in TONE_OF_ODDS if odds < limit)
        measure = z.name in ladder.verdict.measure
        out.append(
            ZoneShown(
                name=names[z.name], label=z.name, before=units.film_number(z.film_um),
                after=units.film_number(last.film_left_um[z.name]),
                odds="kept off" if spared else "measure" if measure else odds_class(odds),
                strokes=_strokes(first.strokes[z.name]), tone="plain" if spared or measure else tone, measure=measure,
                least=least,
            )
        )  # fmt: skip
    return tuple(out)


def _strokes(count: int) -> str:
    """Strokes to two figures: more is not known."""
    if count >= 1000:
        return "over 1000"
    if count < 100:
        return str(count)
    return str(10 * (count // 10))


def ceiling_note(index: float) -> str:
    """What the best possible surface of a film reads, for the tooltip of the sheen."""
    return f"A perfectly smooth film of this kind reads about {ceiling_gu(index, 60):.0f} gloss units at 60°."
