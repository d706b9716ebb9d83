"""A search for a better plan, in a process of its own: begun, told of, ended. No Qt."""

from __future__ import annotations

import subprocess
import sys
import threading
from collections.abc import Callable
from typing import IO, TYPE_CHECKING

from msgspec import MsgspecError

if TYPE_CHECKING:
    from ravden.core.schedule.wire import SearchAsked, SearchTold

ENDED = "The search for a better plan came to an end by itself; the plan made at once stands."
MOST_BYTES = 50_000_000
WAIT_S = 0.2  # that a process that is ended has to go by itself

Told = Callable[["SearchTold"], None]
Died = Callable[[str], None]


class Search:
    """One search. told: called from another thread with each thing found; died: with a sentence, where the process goes
    before it has said that it is over."""

    def __init__(self, request: SearchAsked, told: Told, died: Died) -> None:
        from ravden.core.schedule.wire import pack

        self._told, self._died, self._request = told, died, request
        self._ended = False
        self.process = subprocess.Popen(
            command(), stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL
        )
        self._thread = threading.Thread(target=self._run, args=(pack(request),), daemon=True)
        self._thread.start()

    def end(self) -> None:
        """No more of it: it is told of no longer, and its process goes."""
        self._ended = True
        self.process.terminate()
        try:
            self.process.wait(WAIT_S)
        except subprocess.TimeoutExpired:
            self.process.kill()
            self.process.wait()
        self._thread.join(WAIT_S)

    def _run(self, request: bytes) -> None:
        over = False
        try:
            assert self.process.stdin is not None and self.process.stdout is not None
            self.process.stdin.write(request)
            self.process.stdin.close()
            while not self._ended and not over and (body := _frame(self.process.stdout)) is not None:
                over = self._tell(body)
        except (OSError, MsgspecError, ValueError, LookupError, ArithmeticError):
            pass  # what it says makes no sense: it is as if it had gone
        finally:
            self.process.wait()
            if not over and not self._ended:
                self._died(ENDED)

    def _tell(self, body: bytes) -> bool:
        from ravden.core.schedule.wire import unpack_told

        told = unpack_told(body)
        need_sense(self._request, told)
        if not self._ended:
            self._told(told)
        return told.over


def need_sense(request: SearchAsked, told: SearchTold) -> None:
    """Raise ValueError unless what was found is of the shop that was asked about: the steps it has, and a plan that can
    stand."""
    from ravden.core.schedule.verify import verify
    from ravden.core.schedule.wire import problem_in, taken

    of_it = None if request.start is None else {(j, k) for j, k, _ in request.start.placed}
    for plan in (told.plan, *(way.plan for way in (told.first, told.best) if way is not None)):
        if plan is not None and of_it is not None and {(j, k) for j, k, _ in plan.placed} != of_it:
            raise ValueError("a plan of other steps")
    if told.plan is not None and request.start is not None and not told.squeezed:
        problem = problem_in(request)
        # One that begins from what cannot stand, such as a pin on a day off, need not end in what can.
        if verify(problem, taken(told.plan)) and not verify(problem, taken(request.start)):
            raise ValueError("a plan that cannot stand")


def _frame(pipe: IO[bytes]) -> bytes | None:
    """The next thing told; None: there is no more."""
    head = pipe.read(8)
    size = int.from_bytes(head, "big")
    if len(head) < 8 or size > MOST_BYTES:
        return None
    body = pipe.read(size)
    return body if len(body) == size else None


def command() -> list[str]:
    """The program again, as nothing but a searcher."""
    if getattr(sys, "frozen", False):
        return [sys.executable, "search-plan"]
    return [sys.executable, "-m", "ravden.app.search_child"]
