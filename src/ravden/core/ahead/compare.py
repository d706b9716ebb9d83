"""Methods side by side, for one instrument, its wood, its air and this day: each computed by the same engines."""

from dataclasses import dataclass

from msgspec.structs import replace

from ravden.core.abrasive.sandthrough import ODDS_LIMIT
from ravden.core.ahead.fit import Fit, fitted
from ravden.core.ahead.outlook import Outlook, outlook
from ravden.core.ahead.timeline import FilmTimeline
from ravden.core.calendar.hours import WorkHours
from ravden.core.fact import PLAIN, Fact, fact
from ravden.core.film.filter import Priors
from ravden.core.film.ledger import Ledger
from ravden.core.method.steps import Method
from ravden.core.record import Coat, Project, Sanding
from ravden.core.rubout.rub_out import Drawer
from ravden.core.state.history import planned

MOST_COMPARED = 4


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Offer:
    """What one method comes to.

    ready_h: early, likely and late hour of casing, None past the horizon; hands_h: hours of hands; sessions: days with
    coats on them; film_um: mean and sd of the thickest flat after rub-out; odds: of a zone going below its floor, and
    which; line: the film through time, None without film; steps: kind, begin and end of each [h];
    fit: how its coats were fitted, None where nothing asked for it.
    """

    method: Method
    project: Project
    ready_h: tuple[float | None, float | None, float | None]
    hands_h: float
    sessions: int
    film_um: tuple[float, float]
    floor_um: float
    odds: tuple[str, float]
    risks: tuple[Fact, ...]
    line: FilmTimeline | None
    steps: tuple[tuple[str, float, float], ...]
    fit: Fit | None = None


def offer(
    project: Project, method: Method, drawer: Drawer, now_h: float, hours: WorkHours, priors: Priors | None = None
) -> Offer:
    """A method worked out on a project with nothing on it yet, its coats fitted to the film wanted. priors: of the
    applicator, where it is known."""
    fit = fitted(outlook(project, method, drawer, now_h, hours, priors=priors, whole=False))
    if fit is not None:
        method = replace(method, stage=fit.stage)
    found = outlook(project, method, drawer, now_h, hours, priors=priors)
    ahead = found.forward
    flat = max(project.zones, key=lambda z: (z.kind == "flat", z.k_mean * z.area_cm2))
    ladder = found.rub_out.ladder
    film = _at_the_end(found).film(flat.name)
    odds = ("", 0.0)
    if ladder is not None and any(s.kind in ("level", "rub-out") for s in method.stage):
        odds = max(ladder.odds.items(), key=lambda pair: pair[1] / ODDS_LIMIT[_kind(project, pair[0])])
    return Offer(
        method=method,
        project=project,
        ready_h=ahead.ready_h,
        hands_h=ahead.hands_h,
        sessions=len({hours.local(c.at_h)[0] for c in ahead.coats}),
        film_um=(max(film.mean_um, 0.0), film.sd_um),
        floor_um=project.instrument.min_film_um,
        odds=odds,
        risks=_risks(found, method, odds),
        line=found.timeline,
        steps=tuple((method.stage[s.index].kind, s.from_h, s.to_h) for s in ahead.steps),
        fit=fit,
    )


def _at_the_end(found: Outlook) -> Ledger:
    """The film once every coat and sanding of the plan is done."""
    ledger, done = found.ledger, list(found.project.acts)
    to_come: list[Coat | Sanding] = [*found.forward.coats, *found.forward.sandings]
    for act in sorted(to_come, key=lambda a: a.at_h):
        ledger = planned(found.project, ledger, act, done)
        done.append(act)
    return ledger


def _kind(project: Project, label: str) -> str:
    return next(z.kind for z in project.zones if z.label == label)


def _risks(found: Outlook, method: Method, odds: tuple[str, float]) -> tuple[Fact, ...]:
    """What can go wrong with it here."""
    out = []
    if odds[1] > ODDS_LIMIT[_kind(found.project, odds[0])] if odds[0] else False:
        floor = next(z.floor for z in found.project.zones if z.label == odds[0]) * found.rub_out.job.min_film_um
        out.append(fact("risk-thin", zone=odds[0], floor_um=floor))
    if found.rub_out.ladder is None and found.rub_out.refusal and not found.rub_out.idle:
        out.append(found.rub_out.refusal)
    if any(w.likely_h is None for w in found.forward.windows):
        out.append(fact("risk-window"))
    if found.project.material.cure.model == "light":
        out.append(fact("risk-light"))
    if method.against:
        out.append(fact(PLAIN, text=method.against[:1].lower() + method.against[1:].rstrip(".")))
    return tuple(out)


def suits(method: Method, family: str) -> bool:
    """Whether a method is meant for a family of bodies."""
    return not method.for_families or family in method.for_families
