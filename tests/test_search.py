"""The search in a process of its own: what goes there and comes back, its end, and its death."""

import os
import signal
import sys
import threading
import unittest
from unittest import mock

from msgspec.structs import replace

from ravden.app.search import ENDED, Search
from ravden.core.schedule import squeeze
from ravden.core.schedule.dispatch import dispatch
from ravden.core.schedule.problem import figures
from ravden.core.schedule.repair import before_plan
from ravden.core.schedule.verify import verify
from ravden.core.schedule.wire import SearchTold, asked, pack, problem_in, sent, taken, unpack_asked
from tests.core.shops import shop
from tests.core.test_schedule import problem as as_problem

SAYS = "import sys; sys.stdin.buffer.read(); sys.stdout.buffer.write({!r})"


class Heard:
    """What a search tells, waited for."""

    def __init__(self):
        self.told, self.died, self.over = [], [], threading.Event()

    def take(self, told):
        self.told.append(told)
        if told.over:
            self.over.set()

    def dies(self, why):
        self.died.append(why)
        self.over.set()


class OfItsOwn(unittest.TestCase):
    def setUp(self):
        self.problem = as_problem(shop(5, pieces=2))
        self.plan = dispatch(self.problem).plan
        self.heard = Heard()

    def test_it_comes_back_with_a_plan_that_stands_and_is_no_worse(self):
        request = asked(self.problem, start=sent(self.plan), rounds=1, seconds=5.0)
        search = Search(request, self.heard.take, self.heard.dies)
        self.assertTrue(self.heard.over.wait(60))
        search.end()
        self.assertEqual(self.heard.died, [])
        last = self.heard.told[-1]
        plan = taken(last.plan)
        self.assertEqual(verify(self.problem, plan), ())
        was, now = figures(self.problem, self.plan), last.figures
        self.assertLessEqual((now.late_days, now.cost), (was.late_days, was.cost))
        self.assertEqual(figures(self.problem, plan), now)

    def test_nonsense_is_as_if_it_had_gone(self):
        """A process that says what is no answer, of another shop, or a plan that cannot stand."""
        whole = sent(self.plan)
        other = replace(whole, placed=whole.placed[1:])
        (j, k, first), *rest = whole.placed
        early = replace(first, starts_min=tuple(-10_000 for _ in first.starts_min))
        for said in (
            b"\x00" * 40, len(b"nonsense").to_bytes(8, "big") + b"nonsense", b"\xff" * 8,
            pack(SearchTold(seconds=1.0, plan=other)), pack(SearchTold(seconds=1.0, plan=whole, best=None))[:-3],
            pack(SearchTold(seconds=1.0, plan=replace(whole, placed=((j, k, early), *rest)))),
        ):  # fmt: skip
            heard = Heard()
            with mock.patch("ravden.app.search.command", return_value=[sys.executable, "-c", SAYS.format(said)]):
                search = Search(asked(self.problem, start=whole), heard.take, heard.dies)
                self.assertTrue(heard.over.wait(60))
                search.end()
            self.assertEqual((heard.told, heard.died), ([], [ENDED]), said[:20])

    def test_it_is_asked_whether_one_can_be_ready(self):
        request = asked(self.problem, start=sent(self.plan), rounds=1, seconds=1.0, squeeze=0, by_min=3 * 1440)
        search = Search(request, self.heard.take, self.heard.dies)
        self.assertTrue(self.heard.over.wait(60))
        search.end()
        told = self.heard.told[-1]
        self.assertTrue(told.squeezed)
        self.assertLessEqual(told.alone_min, told.best.end_min)

    def test_a_solver_cut_off_does_not_say_that_it_cannot_be_done(self):
        usual = squeeze.alone(self.problem, 0)
        with mock.patch.object(squeeze, "ALONE_SECONDS", 0.0):
            at_once = squeeze.alone(self.problem, 0)
        self.assertGreaterEqual(at_once, usual)

    def test_one_that_is_ended_tells_nothing_more(self):
        search = Search(asked(self.problem, start=sent(self.plan), seconds=60.0), self.heard.take, self.heard.dies)
        search.end()
        self.assertEqual((self.heard.told, self.heard.died), ([], []))
        self.assertIsNotNone(search.process.poll())

    def test_one_that_dies_says_so(self):
        search = Search(asked(self.problem, start=sent(self.plan), seconds=60.0), self.heard.take, self.heard.dies)
        os.kill(search.process.pid, signal.SIGKILL)
        self.assertTrue(self.heard.over.wait(60))
        self.assertEqual(self.heard.died, [ENDED])

    def test_a_program_that_cannot_be_found_is_an_error_at_once(self):
        with mock.patch("ravden.app.search.command", return_value=["/nowhere/at-all"]), self.assertRaises(OSError):
            Search(asked(self.problem), self.heard.take, self.heard.dies)


class AsBytes(unittest.TestCase):
    def test_a_request_comes_out_as_it_went_in(self):
        problem = as_problem(shop(5, pieces=2))
        plan = dispatch(problem).plan
        request = asked(problem, mode="fewest_changes", start=sent(plan), seed=7)
        again = unpack_asked(pack(request)[8:])
        self.assertEqual(again, request)
        self.assertEqual(problem_in(again), problem)
        self.assertEqual(taken(again.start), plan)
        self.assertEqual(before_plan(problem_in(again)), {})
