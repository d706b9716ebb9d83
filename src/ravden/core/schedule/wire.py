"""What goes to the process that searches, and what comes back, as bytes."""

from __future__ import annotations

from typing import Any

import msgspec
from msgspec import Struct
from msgspec.structs import replace

from ravden.core.schedule.clash import Clash
from ravden.core.schedule.problem import Before, Figures, Placed, Plan, Problem, Session
from ravden.core.schedule.squeeze import Squeezed, Way

Spots = tuple[tuple[int, int, Placed], ...]


class PlanSent(Struct, frozen=True, kw_only=True):
    """A plan in a row of steps."""

    placed: Spots
    sessions: tuple[Session, ...]


class SearchAsked(Struct, frozen=True, kw_only=True):
    """A search: the shop, the plan before, what is wanted first, a plan to begin from, and how long. squeeze: the job
    that is asked about and by when, -1 for none; clash: which firm promises cannot all be kept."""

    problem: Problem
    previous: tuple[tuple[int, int, Before], ...] = ()
    mode: str = "fresh"
    start: PlanSent | None = None
    seconds: float = 20.0
    rounds: int | None = None
    seed: int = 1
    squeeze: int = -1
    by_min: int = 0
    clash: bool = False


class WaySent(Struct, frozen=True, kw_only=True):
    """A way to have a job ready by a moment: when it would be over, and late days of others then and before."""

    end_min: int
    others: tuple[tuple[int, int, int], ...]
    plan: PlanSent


class SearchTold(Struct, frozen=True, kw_only=True):
    """Something found: after so many seconds, a plan in figures and whole; over: the search has ended; proved: nothing
    is better; squeezed: what was asked of a job (alone_min None: not at all);
    clash: what was asked of the firm promises."""

    seconds: float
    figures: Figures | None = None
    plan: PlanSent | None = None
    over: bool = False
    proved: bool = False
    squeezed: bool = False
    alone_min: int | None = None
    first: WaySent | None = None
    best: WaySent | None = None
    clash: Clash | None = None


def asked(problem: Problem, **more: Any) -> SearchAsked:
    """A request for a problem. more: fields of SearchAsked."""
    before = tuple((j, k, b) for (j, k), b in sorted(problem.previous.items()))
    return SearchAsked(problem=replace(problem, previous={}), previous=before, **more)


def problem_in(request: SearchAsked) -> Problem:
    """The problem of a request, with the plan before in it."""
    return replace(request.problem, previous={(j, k): b for j, k, b in request.previous})


def sent(plan: Plan) -> PlanSent:
    """A plan as it is sent."""
    return PlanSent(placed=tuple((j, k, p) for (j, k), p in sorted(plan.placed.items())), sessions=plan.sessions)


def taken(plan: PlanSent) -> Plan:
    """A plan that was sent."""
    return Plan(placed={(j, k): p for j, k, p in plan.placed}, sessions=plan.sessions)


def way_sent(way: Way | None) -> WaySent | None:
    """A way as it is sent."""
    if way is None:
        return None
    return WaySent(
        end_min=way.end_min, others=tuple((o.job, o.late_days, o.before) for o in way.others), plan=sent(way.plan)
    )


def squeezed_told(found: Squeezed, seconds: float) -> SearchTold:
    """What was found of a job that is asked about."""
    return SearchTold(
        seconds=seconds, over=True, squeezed=True, alone_min=found.alone_min, first=way_sent(found.first),
        best=way_sent(found.best),
    )  # fmt: skip


_packed = msgspec.msgpack.Encoder()


def pack(what: SearchAsked | SearchTold) -> bytes:
    """As bytes, with how many they are in front."""
    body = _packed.encode(what)
    return len(body).to_bytes(8, "big") + body


def unpack_asked(body: bytes) -> SearchAsked:
    """A request from its bytes."""
    return msgspec.msgpack.decode(body, type=SearchAsked)


def unpack_told(body: bytes) -> SearchTold:
    """An answer from its bytes."""
    return msgspec.msgpack.decode(body, type=SearchTold)
