"""``ravden compute schedule``: the plan of a whole shop, and what is asked of it, written out."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from ravden.core.errors import need, need_in
from ravden.core.schedule.problem import Problem
from ravden.exchange.compute_schedule_in import FAR, ScheduleIn, problem_of

if TYPE_CHECKING:
    from ravden.core.schedule.clash import Clash
    from ravden.core.schedule.improve import Effort
    from ravden.core.schedule.problem import Plan
    from ravden.core.schedule.squeeze import Way


def schedule(case: ScheduleIn, catalogue: Any) -> dict[str, Any]:
    """A plan for the shop, or why there is none."""
    from ravden.core.schedule.clash import clash
    from ravden.core.schedule.improve import Effort, improve
    from ravden.core.schedule.renew import AIMS, firm_missed
    from ravden.core.schedule.repair import keep
    from ravden.core.schedule.tidy import tidied

    problem = problem_of(case)
    told = case.effort
    need(told.seconds is None or told.rounds is None, "effort", "seconds or rounds, not both")
    if told.seconds is not None:
        need_in(told.seconds, 0, 600, "effort.seconds")
    if told.rounds is not None:
        need_in(told.rounds, 0, 1000, "effort.rounds")
    effort = Effort(seconds=20.0 if told.seconds is None else told.seconds, rounds=told.rounds, seed=told.seed)
    squeezed = _squeeze_job(case)
    _odds_checked(case)
    aim = AIMS[case.mode]
    start = keep(problem) if case.mode != "fresh" else None
    found = improve(problem, aim, effort, start)
    if found.impossible or found.plan is None or firm_missed(problem, found.plan):
        why = clash(problem, effort)
        if why.clash or why.pin is not None:
            return _impossible(problem, why)
        return {"status": "none", "because": [_stuck(problem, found.stuck)] if found.stuck is not None else []}
    plan = tidied(problem, found.plan)
    out = _told(problem, plan, "proved" if found.proved else "found", case)
    if squeezed is not None:
        out["squeeze"] = _squeezed(problem, plan, squeezed, case, effort)
    return out


def _told(problem: Problem, plan: Plan, status: str, case: ScheduleIn) -> dict[str, Any]:
    from ravden.core.schedule.odds import Draw, odds
    from ravden.core.schedule.problem import figures, job_end, late_days
    from ravden.core.schedule.reasons import because

    found = figures(problem, plan)
    chances = {}
    if case.odds is not None:
        asked = case.odds
        chances = odds(problem, plan, Draw(samples=asked.samples, seed=asked.seed, sick_odds=asked.sick_odds,
                                           hand_sd=asked.hand_sd))  # fmt: skip
    ends = []
    for j, job in enumerate(problem.jobs):
        if not job.steps:
            continue
        end = job_end(problem, plan, j)
        row: dict[str, Any] = {"instrument": job.id, "end_min": end, "late_days": late_days(job, end)}
        if j in chances:
            row["odds"] = chances[j]
        row["because"] = [
            {"step": n.step, "at_min": n.at_min, "code": n.code, "wait_min": n.wait_min, "film_min": n.film_min,
             **({"other": n.other} if n.other else {})} for n in because(problem, plan, j)
        ]  # fmt: skip
        ends.append(row)
    return {
        "status": status, "late_days": found.late_days, "moved": found.moved, "setups": found.setups,
        "sum_end_days": found.sum_end_days, "cost": found.cost, "idle_min": found.idle_min,
        "steps": [
            {"instrument": problem.jobs[j].id, "step": problem.jobs[j].steps[k].id, "who": p.who,
             "starts_min": list(p.starts_min), "scuff_min": p.scuff_min,
             **({"scuff_who": p.scuff_who} if p.scuff_who else {}), "cabinet": p.cabinet}
            for (j, k), p in sorted(plan.placed.items())
        ],
        "sessions": [
            {"material": s.material, "who": s.who, "from_min": s.from_min, "to_min": s.to_min} for s in plan.sessions
        ],
        "ends": ends,
    }  # fmt: skip


def _impossible(problem: Problem, why: Clash) -> dict[str, Any]:
    out: dict[str, Any] = {"status": "impossible"}
    if why.pin is not None:
        j, k = why.pin
        return {**out, "pin": [problem.jobs[j].id, problem.jobs[j].steps[k].id],
                "because": [{"code": "pin", "step": problem.jobs[j].steps[k].id}]}  # fmt: skip
    return {
        **out,
        "impossible": [
            {"instrument": problem.jobs[j].id, "earliest_min": end} for j, end in why.alone_min.items()
        ],
        "clash": [problem.jobs[j].id for j in why.clash], "relief_late_days": why.relief_late_days,
        "because": [{"code": "alone" if len(why.clash) == 1 else "clash"}],
    }  # fmt: skip


def _stuck(problem: Problem, at: tuple[int, int]) -> dict[str, Any]:
    job = problem.jobs[at[0]]
    return {"code": "horizon", "instrument": job.id, "step": job.steps[at[1]].id}


def _squeeze_job(case: ScheduleIn) -> int | None:
    if case.squeeze is None:
        return None
    ids = [x.id for x in case.instruments]
    need(
        case.squeeze.instrument in ids, "squeeze.instrument", f"there is no such instrument ({case.squeeze.instrument})"
    )
    need_in(case.squeeze.by_min, -FAR, FAR, "squeeze.by_min")
    return ids.index(case.squeeze.instrument)


def _odds_checked(case: ScheduleIn) -> None:
    if case.odds is None:
        return
    need_in(case.odds.samples, 1, 100_000, "odds.samples")
    need_in(case.odds.sick_odds, 0, 1, "odds.sick_odds")
    need_in(case.odds.hand_sd, 0, 2, "odds.hand_sd")


def _squeezed(problem: Problem, plan: Plan, j: int, case: ScheduleIn, effort: Effort) -> dict[str, Any]:
    from ravden.core.schedule.squeeze import squeeze

    assert case.squeeze is not None
    found = squeeze(problem, plan, j, case.squeeze.by_min, effort)

    def way(one: Way | None) -> dict[str, Any] | None:
        if one is None:
            return None
        others = [
            {"instrument": problem.jobs[o.job].id, "late_days": o.late_days, "before": o.before} for o in one.others
        ]
        return {"end_min": one.end_min, "others": others}

    return {"alone_min": found.alone_min, "first": way(found.first), "best": way(found.best)}
