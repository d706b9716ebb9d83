"""The rub-out of a project: its film, softness and sheen handed to the ladder."""

from dataclasses import dataclass, replace

from ravden.core.abrasive.grades import Abrasive
from ravden.core.abrasive.sandthrough import ZoneFilmLeft
from ravden.core.abrasive.scratch import Backing, Rung, hardness_from_margin_MPa
from ravden.core.abrasive.sequence import Job, Ladder, evaluate, plan
from ravden.core.errors import InputError
from ravden.core.film.ledger import Ledger
from ravden.core.record import Project

LEAST_SANDING_MARGIN_K = 15.0  # docs/maths.md: below it film gums and paper loads


@dataclass(frozen=True, slots=True, kw_only=True)
class Drawer:
    """What is owned, and which backing each kind is used on: ids into backings by kind of abrasive."""

    abrasives: tuple[Abrasive, ...]
    backings: dict[str, Backing]
    block: str = "firm"
    polisher: str = "pad"

    def rungs(self, mode: str, hardness_MPa: float) -> tuple[Rung, ...]:
        """Every abrasive in the hand, on its backing, on a film this hard."""
        use = {"paper": self.block, "foam": "foam", "polish": self.polisher, "wool": "foam"}
        return tuple(
            Rung(abrasive=a, backing=self.backings[use[a.kind]], mode=mode, hardness_MPa=hardness_MPa)
            for a in self.abrasives
        )


@dataclass(frozen=True, slots=True, kw_only=True)
class RubOut:
    """A ladder for a project, or why there is none; margin_K: softest depth over the bench now, None without film.

    at_cured: the film is too soft to sand now, and the ladder is for when it has hardened enough.
    """

    ladder: Ladder | None
    refusal: str
    margin_K: float | None
    at_cured: bool
    texture_um: float
    target: str
    mode: str
    job: Job

    def on(self, project: Project, ledger: Ledger) -> "RubOut":
        """The same ladder judged on another film: which rungs are best does not depend on how much there is."""
        if self.ladder is None:
            return self
        job = replace(self.job, zones=_zones(project, ledger))
        return replace(self, job=job, ladder=evaluate(job, [s.rung for s in self.ladder.steps]))


def _zones(project: Project, ledger: Ledger) -> tuple[ZoneFilmLeft, ...]:
    out = []
    for z in project.zones:
        film = ledger.film(z.name)
        out.append(ZoneFilmLeft(name=z.label, kind=z.kind, film_um=film.mean_um, sd_um=film.sd_um, area_cm2=z.area_cm2))
    return tuple(out)


def rub_out(
    project: Project, ledger: Ledger, drawer: Drawer, *, margin_K: float | None, texture_um: float, target: str,
    mode: str = "wet", ratio_max: float = 1.8, objective: str = "balanced",
) -> RubOut:  # fmt: skip
    """The ladder on the film as the ledger knows it. A film still soft gets the ladder for the day it may be sanded."""
    soft = margin_K is None or margin_K < LEAST_SANDING_MARGIN_K
    hardness = hardness_from_margin_MPa(max(margin_K or 0.0, LEAST_SANDING_MARGIN_K))
    job = Job(
        texture_um=texture_um, zones=_zones(project, ledger), min_film_um=project.instrument.min_film_um, target=target,
        hardness_MPa=hardness, refractive_index=project.material.refractive_index, mode=mode, ratio_max=ratio_max,
        objective=objective,
    )  # fmt: skip
    ladder, refusal = None, ""
    try:
        ladder = plan(job, drawer.rungs(mode, hardness))
    except InputError as error:
        refusal = error.sentence
    return RubOut(
        ladder=ladder,
        refusal=refusal,
        margin_K=margin_K,
        at_cured=soft,
        texture_um=texture_um,
        target=target,
        mode=mode,
        job=job,
    )


def split(ladder: Ladder | None, texture_um: float) -> tuple[float, float]:
    """Film the papers take (levelling) and the compounds and last scratches take (rubbing out) [um]."""
    if ladder is None:
        return 1.15 * 0.8 * texture_um, 1.0
    level = sum(s.remove_um for s in ladder.steps if s.rung.abrasive.kind == "paper")
    rest = sum(s.remove_um for s in ladder.steps if s.rung.abrasive.kind != "paper")
    return max(level, 0.5), max(rest, 0.2)
