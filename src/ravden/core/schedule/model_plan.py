"""A plan told to a model to begin from, and the plan its solver found."""

from __future__ import annotations

from typing import Any

from ravden.core.schedule.model_steps import Model
from ravden.core.schedule.problem import DAY, GRID, Placed, Plan, Session


def hint(model: Model, plan: Plan) -> None:
    """A whole plan to begin from."""
    m = model.m
    for key, placed in plan.placed.items():
        if key[0] not in model.free:
            continue
        for var, t in zip(model.starts[key], placed.starts_min, strict=True):
            m.AddHint(var, t // GRID)
        who = model.names[placed.who]
        for i, present in model.who[key].items():
            m.AddHint(present, int(i == who))
        for day, here in model.on_day.get(key, {}).items():
            m.AddHint(here, int(day == placed.starts_min[0] // DAY))
        if key in model.warm:
            m.AddHint(model.warm[key], int(placed.cabinet))
        if key in model.scuffs:
            late, at, hands = model.scuffs[key]
            m.AddHint(late, int(placed.scuff_min is not None))
            m.AddHint(at, (placed.starts_min[0] if placed.scuff_min is None else placed.scuff_min) // GRID)
            scuffer = model.names.get(placed.scuff_who or "")
            for i, mine in hands.items():
                m.AddHint(mine, int(i == scuffer))
    sessions = {(s.material, s.day): s for s in plan.sessions}
    for where, (active, hands, first, last) in model.sittings.items():
        session = sessions.get(where)
        if model.is_loaded(*where):
            continue
        m.AddHint(active, int(session is not None))
        for i, mine in hands.items():
            m.AddHint(mine, int(session is not None and model.names[session.who] == i))
        if session is not None:
            m.AddHint(first, session.from_min // GRID)
            m.AddHint(last, session.to_min // GRID)


def read(model: Model, solver: Any) -> Plan:
    """The plan the solver found."""
    names = [p.name for p in model.p.people]
    placed: dict[tuple[int, int], Placed] = dict(model.base.placed) if model.base is not None else {}
    for key, starts in model.starts.items():
        who = next(i for i, present in model.who[key].items() if solver.Value(present))
        scuff_min = scuff_who = None
        if key in model.scuffs:
            late, at, hands = model.scuffs[key]
            if solver.Value(late):
                scuff_min = solver.Value(at) * GRID
                scuff_who = next((names[i] for i, mine in hands.items() if solver.Value(mine)), None)
        placed[key] = Placed(
            who=names[who], starts_min=tuple(solver.Value(t) * GRID for t in starts), scuff_min=scuff_min,
            scuff_who=scuff_who, cabinet=bool(key in model.warm and solver.Value(model.warm[key])),
        )  # fmt: skip
    sessions = []
    for (name, day), (active, hands, first, last) in model.sittings.items():
        if solver.Value(active):
            who = next(i for i, mine in hands.items() if solver.Value(mine))
            sessions.append(
                Session(material=name, who=names[who], from_min=solver.Value(first) * GRID,
                        to_min=solver.Value(last) * GRID, loaded=model.is_loaded(name, day))
            )  # fmt: skip
    return Plan(placed=placed, sessions=tuple(sorted(sessions, key=lambda s: s.from_min)))
