"""Searches for a better plan of the shop in a process of its own, so that the window never waits for it.

Takes one request (core/schedule/wire.py) on its standard input, and tells what it finds on its standard output, each
with its length in front, at most four times a second; ends with the search, or when it is ended.
"""

from __future__ import annotations

import os
import sys
import time
from typing import IO

LEAST_GAP_S = 0.25
NICE = 10  # whoever paints comes first


def search(request: bytes, out: IO[bytes]) -> None:
    """The search a request asks for."""
    from ravden.core.schedule.clash import clash
    from ravden.core.schedule.improve import Effort, improve
    from ravden.core.schedule.problem import Plan, figures
    from ravden.core.schedule.renew import AIMS
    from ravden.core.schedule.squeeze import squeeze
    from ravden.core.schedule.wire import (
        SearchTold,
        pack,
        problem_in,
        sent,
        squeezed_told,
        taken,
        unpack_asked,
    )

    asked = unpack_asked(request)
    problem, began = problem_in(asked), time.monotonic()
    effort = Effort(seconds=asked.seconds, rounds=asked.rounds, seed=asked.seed)
    start = None if asked.start is None else taken(asked.start)

    def tell(told: SearchTold) -> None:
        out.write(pack(told))
        out.flush()

    if asked.squeeze >= 0 and start is not None:
        found = squeeze(problem, start, asked.squeeze, asked.by_min, effort)
        tell(squeezed_told(found, time.monotonic() - began))
        return
    if asked.clash:
        found_clash = clash(problem, effort)
        tell(SearchTold(seconds=time.monotonic() - began, over=True, clash=found_clash))
        return
    last = 0.0

    def better(seconds: float, plan: Plan) -> None:
        nonlocal last
        if seconds - last >= LEAST_GAP_S:
            last = seconds
            tell(SearchTold(seconds=seconds, figures=figures(problem, plan), plan=sent(plan)))

    best = improve(problem, AIMS[asked.mode], effort, start, tell=better)
    plan = best.plan
    tell(
        SearchTold(
            seconds=time.monotonic() - began, figures=None if plan is None else figures(problem, plan),
            plan=None if plan is None else sent(plan), over=True, proved=best.proved,
        )
    )  # fmt: skip


def main() -> None:
    """One request, then the end."""
    os.nice(NICE)
    size = int.from_bytes(sys.stdin.buffer.read(8), "big")
    search(sys.stdin.buffer.read(size), sys.stdout.buffer)


if __name__ == "__main__":
    main()
