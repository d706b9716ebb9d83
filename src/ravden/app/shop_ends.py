"""The end of a plan where only the film decides it: nobody's hands are on it, so that it is when the instrument's own
outlook has it, and never another day in two places. No Qt."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING

from msgspec.structs import replace

from ravden.app.shop_days import ShopDays, over_by
from ravden.app.shop_problem import Clock, wall_of
from ravden.core.method.slots import DONE, parts

if TYPE_CHECKING:
    from ravden.app.shop_plan import ShopPlanned
    from ravden.core.ahead.outlook import Outlook
    from ravden.core.ahead.steps import Held
    from ravden.core.schedule.problem import Plan


Ends = Mapping[str, tuple[str, float]]  # by instrument, the step that is over with its last wait, and when [h]


def with_ends(days: ShopDays, outlooks: Mapping[str, Outlook]) -> ShopDays:
    """The same days with the end of each instrument that ends with a wait where its outlook, dated by them, has it."""
    from ravden.core.schedule.problem import job_end

    made = days.made
    if made is None or made.plan is None or made.problem is None:
        return days
    ends = _ends(made, outlooks)
    plan = _moved(made.plan, ends)
    if plan is made.plan:
        return days
    problem, at = made.problem, Clock(made.asked.hours, made.asked.now).moment
    new = replace(made, plan=plan, shown=None if made.shown is None else _moved(made.shown, ends))
    names = list(made.parts)
    mine = {names[j]: minute for (j, _), minute in ends.items()}
    doings = [
        replace(d, at=at(mine[d.instrument]), what=over_by(new, d.instrument, d.step, at(mine[d.instrument])))
        if d.kind == "case" and d.instrument in mine
        else d
        for d in days.doings
    ]
    promises = [
        replace(p, ends=at(job_end(problem, plan, names.index(p.instrument)))) if p.instrument in mine else p
        for p in days.promises
    ]
    return replace(
        days, made=new, promises=tuple(promises),
        doings=tuple(sorted(doings, key=lambda d: (d.at, d.who, d.name))),
    )  # fmt: skip


def waits_over(outlooks: Mapping[str, Outlook]) -> Ends:
    """When the last wait of each instrument is over, as it is told now: there it is held from now on."""
    from ravden.core.schedule.hold import end_of_wait

    found = {name: end_of_wait(outlook) for name, outlook in outlooks.items()}
    return {name: over for name, over in found.items() if over is not None}


def with_waits(held: Mapping[str, Held], ends: Ends) -> dict[str, Held]:
    """Where a plan has hands, with where the last waits are held."""
    out = dict(held)
    for name, (step, over_h) in ends.items():
        out[name] = {**out.get(name, {}), step: (over_h, over_h)}
    return out


def told_waits(held: Mapping[str, Held]) -> Ends:
    """Where the last waits are held, out of all that is."""
    over = {name: next((s for s in hands if parts(s)[1] == DONE), "") for name, hands in held.items()}
    return {name: (step, held[name][step][0]) for name, step in over.items() if step}


def _ends(made: ShopPlanned, outlooks: Mapping[str, Outlook]) -> dict[tuple[int, int], int]:
    """When the last wait of each instrument is over by its outlook, by the key of that step [min]."""
    out = {}
    for j, (name, left) in enumerate(made.parts.items()):
        found = outlooks.get(name)
        done = [k for k, w in enumerate(left.what) if w.kind == "case" and not _beside(found, w.place)]
        if found is not None and found.forward.finished_h is not None and done:
            out[j, done[-1]] = wall_of(made.asked, name).minute(found.forward.finished_h)
    return out


def _beside(found: Outlook | None, place: int) -> bool:
    return found is not None and bool(found.method.stage[place].zones)


def _moved(plan: Plan, ends: Mapping[tuple[int, int], int]) -> Plan:
    """A plan with these steps at these minutes; the same where they stand there."""
    off = {key: m for key, m in ends.items() if key in plan.placed and plan.placed[key].starts_min != (m,)}
    if not off:
        return plan
    placed = {k: replace(p, starts_min=(off[k],)) if k in off else p for k, p in plan.placed.items()}
    return replace(plan, placed=placed)
