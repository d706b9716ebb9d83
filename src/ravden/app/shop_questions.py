"""Questions to the shop's plan: why then, can it be ready by, which ways are there. No Qt."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date, datetime, timedelta
from functools import partial
from typing import TYPE_CHECKING

from msgspec import Struct
from msgspec.structs import replace

from ravden.app.shop_plan import ShopPlanned, placed_of
from ravden.app.shop_problem import Clock
from ravden.app.step_words import step_said
from ravden.core.errors import InputError

if TYPE_CHECKING:
    from ravden.core.schedule.clash import Clash
    from ravden.core.schedule.problem import Figures, Person, Plan, Problem, Span
    from ravden.core.schedule.squeeze import Way
    from ravden.core.schedule.wire import SearchAsked, WaySent

OFFER_S, READY_S = 6.0, 5.0


class WhyLink(Struct, frozen=True, kw_only=True):
    """A link of a chain: a piece of work, when it begins, and what it waited for longest. code: as in
    core/schedule/reasons.py; other: who, or a finish; waited_min: after it could have begun, film_min: for the film."""

    what: str
    at: datetime
    code: str
    waited_min: int
    film_min: int
    other: str


class Moved(Struct, frozen=True, kw_only=True):
    """A piece of work that a way out moves."""

    name: str
    what: str
    was: datetime
    now: datetime
    who_was: str
    who: str


class WayOut(Struct, frozen=True, kw_only=True):
    """A plan that could be taken. kind: changes or late; late: instruments and days late, now and before."""

    kind: str
    plan: Plan
    figures: Figures
    moves: tuple[Moved, ...]
    late: tuple[tuple[str, int, int], ...]


class Ready(Struct, frozen=True, kw_only=True):
    """Whether an instrument can be ready by a moment. alone, first: when it is over with the shop for itself, and if it
    goes first, None: not within sight; others: names and days late then and before; helps: what else would help, each
    with when it would be over then; searched: no quick answer any more."""

    instrument: str
    name: str
    by: datetime
    alone: datetime | None
    first: datetime | None
    others: tuple[tuple[str, int, int], ...]
    helps: tuple[tuple[str, datetime], ...] = ()
    searched: bool = False


class Clashing(Struct, frozen=True, kw_only=True):
    """Firm promises that cannot all be kept. firm: each by name, when it is promised, and when it could be ready alone;
    clash: those that cannot all be kept, by name; relief: late days in all if none were firm."""

    firm: tuple[tuple[str, datetime, datetime | None], ...]
    clash: tuple[str, ...]
    relief: int | None


def job_of(found: ShopPlanned, instrument: str) -> int:
    """The number of an instrument in the plan. Raises InputError where it is in none."""
    names = list(found.parts)
    if found.problem is None or found.plan is None or instrument not in names:
        raise InputError("", "it is in no plan: nothing is left of it, or its film does not get there")
    return names.index(instrument)


def why(found: ShopPlanned, instrument: str) -> tuple[WhyLink, ...]:
    """The chain of an instrument, its last piece of work first."""
    from ravden.core.schedule.reasons import because

    j = job_of(found, instrument)
    assert found.problem is not None and found.plan is not None
    clock, left, outlook = Clock(found.asked.hours, found.asked.now), found.parts[instrument], found.asked.outlooks
    named = {s.id: w for s, w in zip(left.job.steps, left.what, strict=True)}
    return tuple(
        WhyLink(
            what=step_said(outlook[instrument], named[link.step]), at=clock.moment(link.at_min), code=link.code,
            waited_min=link.wait_min, film_min=link.film_min, other=found.asked.labels.get(link.other, link.other),
        )
        for link in because(found.problem, found.plan, j)
    )  # fmt: skip


def days_for(found: ShopPlanned, instrument: str, step: str, until: date) -> dict[date, str]:
    """Every day from today on, each with what keeps a step from it: film (that, or the work before, is not ready),
    nobody (no hands for so long), air; empty where nothing does. What comes after it is planned anew."""
    from ravden.core.schedule.hold import opens_min
    from ravden.core.schedule.problem import DAY

    j, left = job_of(found, instrument), found.parts[instrument]
    problem = found.problem
    at = next((k for k, s in enumerate(left.job.steps) if s.id == step), None)
    if at is None or problem is None:
        return {}
    work = problem.jobs[j].steps[at]
    opens = opens_min(left, placed_of(found, instrument))[at]
    may = [p for p in problem.people if (p.spray or not work.sprayed) and (p.buff or not work.arbor)]
    hours = [span for p in may for span in problem.hours(p)]
    bad = problem.paint(work).no_spray if work.sprayed else ()
    out = {}
    for n in range((until - found.asked.now.date()).days + 1):
        day = n * DAY, (n + 1) * DAY
        here = [(max(a, opens), b) for a, b in hours if day[0] <= a < day[1]]
        here = [(a, b) for a, b in here if b - a >= work.least_min]
        fair = [(a, b) for a, b in here if not any(x <= a and y >= b for x, y in bad)]
        why = "film" if day[1] <= opens else "nobody" if not here else "" if fair else "air"
        out[found.asked.now.date() + timedelta(days=n)] = why
    return out


def way_out(found: ShopPlanned, plan: Plan, kind: str) -> WayOut:
    """What a plan would move, and who is late by it."""
    from ravden.core.schedule.problem import figures, job_end, late_days
    from ravden.core.schedule.repair import before_plan

    problem = found.problem
    assert problem is not None
    clock, outlooks, moves = Clock(found.asked.hours, found.asked.now), found.asked.outlooks, []
    before = before_plan(problem)
    for (j, k), was in sorted(before.items(), key=lambda one: one[1].starts_min):
        now, name = plan.placed[j, k], problem.jobs[j].id
        if now.who == was.who and abs(now.starts_min[0] - was.starts_min[0]) <= 15:
            continue
        what = step_said(outlooks[name], found.parts[name].what[k])
        moves.append(
            Moved(
                name=outlooks[name].project.instrument.name, what=what, was=clock.moment(was.starts_min[0]),
                now=clock.moment(now.starts_min[0]), who_was=was.who, who=now.who,
            )
        )  # fmt: skip
    late = []
    for j, job in enumerate(problem.jobs):
        days = late_days(job, job_end(problem, plan, j))
        steps = [k for k in range(len(job.steps)) if (j, k) in before]
        ends = [before[j, k].starts_min[-1] + max(job.steps[k].hands_min, job.steps[k].coat_min) for k in steps]
        was_late = late_days(job, max(ends)) if len(steps) == len(job.steps) else days
        if days or was_late:
            late.append((outlooks[job.id].project.instrument.name, days, was_late))
    return WayOut(kind=kind, plan=plan, figures=figures(problem, plan), moves=tuple(moves), late=tuple(late))


def offers_asked(found: ShopPlanned) -> SearchAsked:
    """The search for the way with the fewest late days, begun from that with the fewest changes."""
    from ravden.core.schedule.wire import asked, sent

    assert found.problem is not None and found.plan is not None
    return asked(found.problem, mode="fewest_late_days", start=sent(found.plan), seconds=OFFER_S)


def better_asked(found: ShopPlanned, seconds: float) -> SearchAsked:
    """The search for a better plan."""
    from ravden.core.schedule.wire import asked, sent

    assert found.problem is not None and found.plan is not None
    return asked(replace(found.problem, previous={}), start=sent(found.plan), seconds=seconds)


def ready_asked(found: ShopPlanned, instrument: str, by: datetime) -> SearchAsked:
    """The search that makes an instrument ready by a moment."""
    from ravden.core.schedule.wire import asked, sent

    j = job_of(found, instrument)
    assert found.problem is not None and found.plan is not None
    by_min = Clock(found.asked.hours, found.asked.now).minute(by)
    problem = replace(found.problem, previous={})
    return asked(problem, start=sent(found.plan), seconds=READY_S, squeeze=j, by_min=max(by_min, 0))


def ready(found: ShopPlanned, instrument: str, by: datetime) -> Callable[[], Ready]:
    """Work to be done off the GUI thread: the first answer, and what else would help."""
    j = job_of(found, instrument)

    def work() -> Ready:
        from ravden.core.schedule.dispatch import dispatch
        from ravden.core.schedule.problem import job_end

        problem, plan = found.problem, found.plan
        assert problem is not None and plan is not None
        clock = Clock(found.asked.hours, found.asked.now)
        own = replace(problem.jobs[j], firm=False)
        only = replace(problem, jobs=(own,), previous={})
        alone = dispatch(only).plan
        first = _first(problem, plan, j)
        helps = []
        for name, other in (*_helped(problem), *_with_cabinet(found, instrument)):
            way = _first(other, plan, j)
            if way is not None and first is not None and way.end_min < first.end_min - 60:
                helps.append((name, clock.moment(way.end_min)))
        return Ready(
            instrument=instrument, name=found.asked.outlooks[instrument].project.instrument.name, by=by,
            alone=None if alone is None else clock.moment(job_end(only, alone, 0)),
            first=None if first is None else clock.moment(first.end_min), others=_others(found, first),
            helps=tuple(sorted(helps, key=lambda h: h[1])),
        )  # fmt: skip

    return work


def firm_missed(found: ShopPlanned) -> bool:
    """Whether a firm promise is not kept by the plan."""
    from ravden.core.schedule.renew import firm_missed as missed

    return found.problem is not None and found.plan is not None and missed(found.problem, found.plan) > 0


def clash_asked(found: ShopPlanned) -> SearchAsked:
    """The search for which firm promises cannot all be kept."""
    from ravden.core.schedule.wire import asked

    assert found.problem is not None
    return asked(replace(found.problem, previous={}), seconds=READY_S, clash=True)


def clashing(found: ShopPlanned, told: Clash) -> Clashing:
    """What was found of them."""
    clock, names = Clock(found.asked.hours, found.asked.now), list(found.parts)
    assert found.problem is not None
    called = [found.asked.outlooks[i].project.instrument.name for i in names]
    firm = []
    for j, alone in sorted(told.alone_min.items()):
        promised = found.problem.jobs[j].promised_min
        if promised is not None:
            firm.append((called[j], clock.moment(promised), None if alone is None else clock.moment(alone)))
    return Clashing(firm=tuple(firm), clash=tuple(called[j] for j in told.clash), relief=told.relief_late_days)


def answered(found: ShopPlanned, quick: Ready, alone_min: int | None, best: WaySent | None) -> Ready:
    """The answer as the search has made it; alone as the exact model has it where there is one."""
    clock = Clock(found.asked.hours, found.asked.now)
    alone = quick.alone if alone_min is None else clock.moment(alone_min)
    if best is None:
        return replace(quick, alone=alone, searched=True)
    names = [f.project.instrument.name for f in (found.asked.outlooks[i] for i in found.parts)]
    others = tuple((names[j], now, was) for j, now, was in best.others)
    return replace(quick, alone=alone, first=clock.moment(best.end_min), others=others, searched=True)


def _others(found: ShopPlanned, way: Way | None) -> tuple[tuple[str, int, int], ...]:
    if way is None:
        return ()
    names = [found.asked.outlooks[i].project.instrument.name for i in found.parts]
    return tuple((names[o.job], o.late_days, o.before) for o in way.others)


def _first(problem: Problem, plan: Plan, j: int) -> Way | None:
    from ravden.core.schedule.squeeze import first_way

    return first_way(problem, plan, j)


def _helped(problem: Problem) -> list[tuple[str, Problem]]:
    """The same shop with what could be had: Saturdays, evenings, somebody more."""
    out = []
    day = (9 * 60, 17 * 60)

    def with_week(change: Callable[[Person], Person]) -> Problem:
        return replace(problem, people=tuple(change(p) for p in problem.people), previous={})

    for n, name in ((5, "Saturdays worked, 9 to 17"), (6, "Sundays worked, 9 to 17")):
        if all(not p.week[n] for p in problem.people):
            out.append((name, with_week(partial(_on_day, n=n, span=day))))
            break
    out.append(("two hours longer every day", with_week(_longer)))
    more = replace(problem.people[0], name="somebody more")
    out.append(("one more pair of hands", replace(problem, people=(*problem.people, more), previous={})))
    return out


def _with_cabinet(found: ShopPlanned, instrument: str) -> list[tuple[str, Problem]]:
    """The same shop with a place in a warm cabinet for an instrument, where it has none."""
    from ravden.app.shop_plan import left_in
    from ravden.app.shop_problem import problem_of

    crew = found.asked.crew
    if crew.stations.cabinet_places:
        return []
    asked = replace(found.asked, crew=replace(crew, stations=replace(crew.stations, cabinet_places=1)), standing={})
    warm = left_in(asked, instrument, asked.outlooks[instrument], warm=True)
    if warm is None or [s.id for s in warm.job.steps] != [s.id for s in found.parts[instrument].job.steps]:
        return []
    parts = {name: warm if name == instrument else left for name, left in found.parts.items()}
    return [("a place in a warm cabinet", problem_of(asked, parts, list(found.loose_pins)))]


def _on_day(person: Person, n: int, span: Span) -> Person:
    week = list(person.week)
    week[n] = (span,)
    return replace(person, week=tuple(week))


def _longer(person: Person) -> Person:
    """Two hours more at the end of every day worked."""
    week = tuple((*day[:-1], (day[-1][0], min(day[-1][1] + 120, 24 * 60))) if day else day for day in person.week)
    return replace(person, week=week)
