"""The rub-out of a project: its film, softness and sheen handed to the ladder."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace

from msgspec import structs

from ravden.core.abrasive.choice import plan
from ravden.core.abrasive.climb import Ladder, Step
from ravden.core.abrasive.explain import Change, changes
from ravden.core.abrasive.grades import Abrasive
from ravden.core.abrasive.hands import Hands
from ravden.core.abrasive.job import KEY, Job, finishes
from ravden.core.abrasive.ladder import evaluate
from ravden.core.abrasive.remarks import Remark, judge
from ravden.core.abrasive.sandthrough import ZoneFilmLeft
from ravden.core.abrasive.schools import School, schools
from ravden.core.abrasive.scratch import (
    BY_MACHINE,
    KEY_SOFTEST_K,
    SOFTEST_K,
    USUAL_WEAR,
    Backing,
    Rung,
    hardness_from_margin_MPa,
)
from ravden.core.abrasive.sequence import Path, equally_good
from ravden.core.errors import InputError
from ravden.core.fact import Fact, fact
from ravden.core.film.ledger import Ledger
from ravden.core.record import Project, Sanding, Zone
from ravden.core.rubout.aim import KEY_FLOOR, SHEEN, Aim
from ravden.core.state.colour import STIRRED_UM, colour_of

STEEL = "STEEL-WOOL"
NAMED_BLOCK = "foam"  # what papers that a method names are held on
LEAST_SANDING_MARGIN_K = SOFTEST_K
EDGES_WORKED_SHARE = 0.5  # [ENG] of the strokes, where edges are worked with the rest
USUAL_MODE = "wet"  # [A] where neither the method nor the user says


@dataclass(frozen=True, slots=True, kw_only=True)
class Drawer:
    """What is owned, how worn, and which backing each kind is used on.

    wear: by grade id, 0 fresh to 1 worn out; block: what papers are used on; cut, scratch: this user's
    removal and scratch against the built-in ones, where the grain is fixed; hands: what was learnt of them, on top;
    brought: grades, by id, that are not owned and a method is done with.
    """

    abrasives: tuple[Abrasive, ...]
    backings: Mapping[str, Backing]
    block: str = "firm"
    polisher: str = "pad"
    wear: Mapping[str, float] = field(default_factory=dict)
    cut: float = 1.0
    scratch: float = 1.0
    hands: Hands = field(default_factory=Hands)
    brought: frozenset[str] = frozenset()

    def bringing(self, grades: Sequence[Abrasive]) -> "Drawer":
        """The same with what a method is done with, owned or not."""
        have = {a.id for a in self.abrasives}
        more = tuple(a for a in grades if a.id not in have)
        return replace(self, abrasives=(*self.abrasives, *more), brought=frozenset(a.id for a in more))

    def without_steel(self) -> "Drawer":
        """The same for a film that water has dried out of: what steel leaves in it rusts."""
        return replace(self, abrasives=tuple(a for a in self.abrasives if a.system != STEEL))

    def rung(self, grade: Abrasive, mode: str, hardness_MPa: float, wear: float | None = None) -> Rung:
        """One abrasive in the hand."""
        machine = mode == "machine"
        disc = "orbital-foam" if machine else "foam-disc"
        # A hand's block is no use under a machine.
        block = "orbital" if machine and self.block not in BY_MACHINE else self.block
        usual = {
            "paper": block, "polish": self.polisher, "powder": "felt", "foam": disc, "wool": "foam-disc"
        }.get(grade.kind, "foam")  # fmt: skip
        cut, found = self.hands.cut.factor if grade.coated else 1.0, self.hands.pace.get(grade.id)
        return Rung(
            abrasive=grade, backing=self.backings[usual], mode=mode, hardness_MPa=hardness_MPa,
            wear=self.wear.get(grade.id, USUAL_WEAR) if wear is None else wear,
            scratch=self.scratch * self.hands.scratch.factor if grade.ra_um is None else 1.0,
            cut=self.cut * cut if grade.coated else 1.0, pace=1.0 if found is None else cut * found.factor,
        )  # fmt: skip

    def rungs(self, mode: str, hardness_MPa: float) -> tuple[Rung, ...]:
        """Every abrasive in the hand, on its backing, on a film this hard."""
        return tuple(self.rung(a, mode, hardness_MPa) for a in self.abrasives)


@dataclass(frozen=True, slots=True, kw_only=True)
class Ask:
    """What is asked of a rub-out; None or empty: as the method and the instrument have it.

    sequence: the user's own, as grade ids; block, mode: how it is worked; edges: worked with the rest.
    """

    texture_um: float | None = None
    target: str | None = None
    mode: str = ""
    block: str = ""
    objective: str = "balanced"
    sequence: tuple[str, ...] | None = None
    edges: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Done:
    """A rung logged since the last coat."""

    at_h: float
    grade: str
    zones: tuple[str, ...]
    part: bool


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class RubFilm:
    """The film a ladder is worked out for: what is on every zone, how soft it is at a depth, what was done to it.

    margin_K: of a depth [um], the least softening point over the bench to that depth; None without film; whole_K: the
    same of the whole film, warmed_K: of what a wheel warms; at_h: the moment asked about; aim: what the next sanding is
    for; grades: ids of the papers its method names for it, which are not planned anew; mode: wet or dry as its
    method says, empty: as is usual; coming: the instrument with the
    coats on it that the ledger has and are still to come, None: there are none.
    """

    project: Project
    ledger: Ledger
    margin_K: Callable[[float], float | None]
    whole_K: float | None
    warmed_K: float | None = None
    texture_um: float
    at_h: float
    aim: Aim = SHEEN
    grades: tuple[str, ...] = ()
    mode: str = ""
    coming: Project | None = None

    @property
    def with_coats(self) -> Project:
        """The instrument with every coat that the ledger has."""
        return self.project if self.coming is None else self.coming

    @property
    def least_K(self) -> float:
        """The margin wanted before paper touches it [K]: less where coats follow and close the scratch again."""
        return KEY_SOFTEST_K if self.aim.key else LEAST_SANDING_MARGIN_K

    @property
    def done(self) -> tuple[Done, ...]:
        """Rungs logged since the last coat, in order."""
        coats = [c.at_h for c in self.project.coats if c.at_h <= self.at_h and not c.spot]
        since = max(coats, default=-1e18)
        return tuple(
            Done(
                at_h=s.at_h,
                grade=s.grade,
                part=s.part,
                zones=s.zones or tuple(z.name for z in self.project.zones if s.share(z) > 0),
            )
            for s in sorted(self.project.sandings, key=lambda s: s.at_h)
            if since < s.at_h <= self.at_h and s.purpose != "scuff" and s.grade and not s.spot
        )

    @property
    def flatted(self) -> bool:
        """Whether the film on top is dulled by particles."""
        coats = sorted((c for c in self.project.coats if c.at_h <= self.at_h and not c.spot), key=lambda c: c.at_h)
        if not coats or not coats[-1].finish:
            return self.project.material.flatted
        return self.project.layers[coats[-1].finish].flatted


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class RubOut:
    """A ladder for a project, or why there is none; margin_K: softest depth over the bench now, None without film.

    at_cured: the film is too soft to sand now, and the ladder is for when it has hardened enough; own: it is the
    user's sequence, judged in remarks; changes, equal, others: what else could be done; job, drawer, held: what it was
    worked out from; idle: there is nothing to sand, which is no fault.
    """

    ladder: Ladder | None
    refusal: Fact | None
    margin_K: float | None
    at_cured: bool
    ask: Ask
    texture_um: float
    target: str
    mode: str
    job: Job
    drawer: tuple[Rung, ...]
    held: Drawer
    film: RubFilm
    remarks: tuple[Remark, ...] = ()
    changes: tuple[Change, ...] = ()
    equal: tuple[Path, ...] = ()
    others: tuple[School, ...] = ()
    idle: bool = False

    @property
    def own(self) -> bool:
        return self.ask.sequence is not None

    def on(self, coming: Project, ledger: Ledger) -> "RubOut":
        """The same asked of another film: what it can pay for decides which rungs are proposed. coming: the instrument
        with the coats on it that are still to come."""
        if ledger is self.film.ledger:
            return self
        return rub_out(replace(self.film, coming=coming, ledger=ledger), self.held, self.ask)


def _of_water(project: Project) -> bool:
    """Whether any finish on an instrument carries water."""
    every = (project.material, *project.finishes.values(), *project.layers.values())
    return any(getattr(m.cure, "water_share", 0.0) > 0 for m in every)


def zones_left(project: Project, ledger: Ledger) -> tuple[ZoneFilmLeft, ...]:
    """Every zone a ladder goes over, with the film the ledger knows there."""
    out = []
    for z in project.zones:
        if z.name in project.bare and len(project.bare) < len(project.zones):
            continue
        out.append(zone_left(z, ledger, project))
    return tuple(out)


def zone_left(zone: Zone, ledger: Ledger, project: Project | None = None) -> ZoneFilmLeft:
    """One zone with its film, its share of the strokes and of the least film. project: with colour in its coats the
    film is what lies over it, and the floor is inside that."""
    film = ledger.film(zone.name)
    mean, sd, floor = film.mean_um, film.sd_um, zone.floor
    colour = colour_of(project, ledger, zone) if project is not None and _tinted(project) else None
    if colour is not None and project is not None:
        mean, sd = colour.over_um, colour.sd_um
        least = least_of(project)
        floor = min(max(zone.floor * least - colour.top_um, colour.keep_um) / least, 1.0)
    return ZoneFilmLeft(
        name=zone.label, kind=zone.kind, film_um=mean, sd_um=sd, area_cm2=zone.area_cm2,
        share=EDGES_WORKED_SHARE if zone.kind == "edge" else zone.sanding, floor=floor,
    )  # fmt: skip


def least_of(project: Project) -> float:
    """The least film a rub-out goes by [um]: the instrument's; over colour never less than what must stay on it."""
    least = project.instrument.min_film_um
    return max(least, STIRRED_UM) if _tinted(project) else least


def _tinted(project: Project) -> bool:
    return any(c.tinted for c in project.coats)


def rub_out(film: RubFilm, drawer: Drawer, ask: Ask, *, full: bool = False) -> RubOut:
    """The ladder on the film as the ledger knows it. A film still soft gets the ladder for the day it may be sanded.

    full: with remarks, the rungs that could be put in or left out, the equally good ladders and the two schools.
    """
    project, aim = film.project, film.aim
    texture, target = ask.texture_um or film.texture_um, ask.target or aim.target or project.instrument.sheen
    least_K = film.least_K if target == KEY else LEAST_SANDING_MARGIN_K
    margin = film.margin_K(texture)
    soft = margin is None or margin < least_K
    hardness = hardness_from_margin_MPa(max(margin or 0.0, least_K), least_K)
    held = replace(drawer, block=ask.block) if ask.block else drawer
    held = held.without_steel() if _of_water(project) else held
    mode = ask.mode or film.mode or USUAL_MODE
    rungs = held.rungs(mode, hardness)
    after = _after(film, rungs)
    floor = least_of(film.with_coats)
    job = Job(
        texture_um=texture, zones=zones_left(film.with_coats, film.ledger),
        min_film_um=KEY_FLOOR * floor if target == KEY else floor, target=target, hardness_MPa=hardness,
        refractive_index=project.material.refractive_index, mode=mode, objective=ask.objective,
        flatted=film.flatted, after=after, edges_count=ask.edges, key_um=aim.key_um,
    )  # fmt: skip
    ladder, refusal = None, None
    remarks: tuple[Remark, ...] = ()
    idle = not aim.left and ask.target is None and ask.sequence is None
    try:
        if idle:
            raise InputError("target", fact("all-sanded" if aim.ever else "nothing-sanded"))
        if ask.sequence is not None:
            mine = [r for name in ask.sequence for r in rungs if r.abrasive.id == name]
            if not mine:
                raise InputError("sequence", "no rung is left in the ladder: put one in")
            ladder = evaluate(job, mine)
            remarks = judge(job, mine, rungs)
        elif film.grades and ask.target is None and after is None:
            soft_held = replace(held, block=NAMED_BLOCK)
            named = [soft_held.rung(a, mode, hardness) for n in film.grades for a in held.abrasives if a.id == n]
            if not named:
                raise InputError("sequence", fact("none-owned", grades=film.grades))
            ladder = evaluate(job, named)
        elif after is not None and finishes(job, after):
            raise InputError(
                "sequence",
                fact("reached-key" if target == KEY else "reached-sheen", target=target, grade=after.abrasive.name),
            )
        else:
            ladder = plan(job, rungs, explain=full)
    except InputError as error:
        refusal = error.said
    if ladder is not None and target == KEY:
        # The same depth as the window asks about: the whole cut, and what lies just below it.
        margin = film.margin_K(ladder.film_used_um)
        soft = margin is None or margin < least_K
    found = RubOut(
        ladder=ladder, refusal=refusal, margin_K=margin, at_cured=soft, ask=ask, texture_um=texture, target=target,
        mode=mode, job=job, drawer=rungs, held=drawer, film=film, remarks=remarks,
        idle=idle,
    )  # fmt: skip
    return beside(found) if full else found


def on_zones(found: RubOut, names: Sequence[str]) -> RubOut:
    """The ladder of these zones alone: from the rungs that were over them, by the odds of their own film."""
    project = found.film.project
    others = tuple(z.name for z in project.zones if z.name not in names)
    acts = tuple(
        a for a in project.acts if not isinstance(a, Sanding) or a.zones is None or any(z in names for z in a.zones)
    )
    film = replace(found.film, project=structs.replace(project, masked=others, acts=acts))
    return rub_out(film, found.held, found.ask)


def beside(found: RubOut) -> RubOut:
    """The same with what else could be done: rungs in and out, equally good ladders, the two schools."""
    job, rungs = found.job, found.drawer
    if found.ladder is None:
        return found
    return replace(
        found, changes=changes(job, found.ladder, rungs), equal=tuple(equally_good(job, rungs, 6)),
        others=schools(job, rungs),
    )  # fmt: skip


def _after(film: RubFilm, rungs: Sequence[Rung]) -> Rung | None:
    """The rung the work stands at: the last one logged since the last coat, if it is in the drawer."""
    for done in reversed(film.done):
        for rung in rungs:
            if done.grade in (rung.abrasive.id, rung.abrasive.name):
                return rung
    return None


@dataclass(frozen=True, slots=True, kw_only=True)
class Sands:
    """What sanding will take: film [um] and hours [h] of levelling (papers) and of rubbing out (the rest) for the
    sheen, and of a level that coats follow; sheen, key: the ladders this is from, None where there is none."""

    level_um: float
    rubout_um: float
    level_h: float = 1.5
    rubout_h: float = 1.5
    key_um: float
    key_h: float = 1.5
    sheen: Ladder | None = None
    key: Ladder | None = None


LEAST_H = 0.25  # [A] taking up the paper, looking along the lamp, wiping off


def split(ladder: Ladder, levels: bool, rubs: bool) -> tuple[tuple[Step, ...], tuple[Step, ...]]:
    """The steps of a ladder for the sheen by whether they level or rub out: papers level, the rest rubs out; where the
    plan has only one of both, it does all of it, and neither is left with nothing to do where two steps can be shared.
    """
    steps = ladder.steps
    if not levels or not rubs:
        return (steps, ()) if levels else ((), steps)
    papers = sum(s.rung.abrasive.kind == "paper" for s in steps)
    at = min(max(papers, 1), max(len(steps) - 1, 1))
    return steps[:at], steps[at:]


def sands(texture_um: float, sheen: Ladder | None, key: Ladder | None, levels: bool, rubs: bool) -> Sands:
    """From both ladders; 1.5 h each where there is none [A]. levels, rubs: whether the plan has a last level, and a
    rub-out."""
    usual_um = 1.15 * 0.8 * texture_um
    key_um = usual_um if key is None else sum(s.remove_um for s in key.steps)
    key_h = 1.5 if key is None else max(key.minutes / 60.0, LEAST_H)
    if sheen is None:
        return Sands(level_um=usual_um, rubout_um=1.0, key_um=key_um, key_h=key_h, key=key)
    level, rest = split(sheen, levels, rubs)
    return Sands(
        level_um=max(sum(s.remove_um for s in level), 0.5), rubout_um=max(sum(s.remove_um for s in rest), 0.2),
        level_h=max(sum(s.minutes for s in level) / 60.0, LEAST_H),
        rubout_h=max(sum(s.minutes for s in rest) / 60.0, LEAST_H), key_um=key_um, key_h=key_h, sheen=sheen, key=key,
    )  # fmt: skip
