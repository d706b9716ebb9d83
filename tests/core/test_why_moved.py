"""A plan that something came between: of each instrument the first piece of work that moved, and why."""

import unittest

from msgspec.structs import replace

from ravden.core.schedule.dispatch import dispatch
from ravden.core.schedule.problem import (
    Before,
    Job,
    OpenSession,
    Paint,
    Person,
    Pin,
    Placed,
    Plan,
    Problem,
    Session,
    Step,
)
from ravden.core.schedule.repair import keep
from ravden.core.schedule.verify import verify
from ravden.core.schedule.why_moved import shifts

NINE = (((540, 1020),),) * 7
DAY = 1440
ODD = Person(name="Odd", week=NINE)


def hand(name, minutes=60, after=None, wait=0, **more):
    return Step(id=name, hands_min=minutes, after=after, wait_min=((0, wait),), since_min=0, **more)


def shop(*jobs, **more):
    return Problem(people=(ODD,), jobs=tuple(Job(id=f"job {n}", steps=steps) for n, steps in enumerate(jobs)), **more)


def as_before(plan):
    return {key: Before(who=p.who, starts_min=p.starts_min) for key, p in plan.placed.items()}


def planned(problem):
    """A problem with its first plan as the one before."""
    return replace(problem, previous=as_before(dispatch(problem).plan))


class Why(unittest.TestCase):
    def why(self, stood, happened, now_min=0):
        plan = keep(happened)
        self.assertEqual(verify(happened, plan), ())
        return {shift.job: shift for shift in shifts(happened, plan, now_min)}

    def test_what_stands_is_no_shift(self):
        stood = planned(shop((hand("a"), hand("b", after=0, wait=600)), (hand("c"),)))
        self.assertEqual(self.why(stood, stood), {})

    def test_what_was_not_done_in_time(self):
        stood = planned(shop((hand("a"),), (hand("b"),)))
        late = replace(stood, now_min=800)
        found = self.why(stood, late, 800)
        self.assertEqual({n: s.code for n, s in found.items()}, {0: "missed", 1: "missed"})
        self.assertEqual((found[0].was_min, found[0].now_min), (540, 800))

    def test_a_wait_that_grew_is_told_with_by_how_much(self):
        stood = planned(shop((hand("a"), hand("b", after=0, wait=600), hand("c", after=1))))
        grown = (stood.jobs[0].steps[0], hand("b", after=0, wait=600 + 3 * DAY), stood.jobs[0].steps[2])
        found = self.why(stood, replace(stood, jobs=(replace(stood.jobs[0], steps=grown),)))
        # It stood at nine the next morning, when it was over 6 h after its wait.
        self.assertEqual((found[0].step, found[0].code), (1, "film"))
        self.assertEqual(found[0].by_min, 600 + 3 * DAY + 600 - (DAY + 540))

    def test_somebody_who_is_not_there(self):
        stood = planned(shop((hand("a"),)))
        away = (replace(stood.people[0], away=((0, DAY),)),)
        self.assertEqual(self.why(stood, replace(stood, people=away))[0].code, "away")

    def test_hands_that_are_on_another(self):
        stood = planned(shop((hand("a"),)))
        pinned = hand("b", 120, pin=Pin(at_min=540))
        happened = replace(stood, jobs=(*stood.jobs, Job(id="new", steps=(pinned,))), previous={
            **stood.previous, (1, 0): Before(who="Odd", starts_min=(540,)),
        })  # fmt: skip
        plan = Plan(placed={(0, 0): Placed(who="Odd", starts_min=(660,)), (1, 0): Placed(who="Odd", starts_min=(540,))})
        found = shifts(happened, plan, 0)
        self.assertEqual([(s.job, s.code, s.of) for s in found], [(0, "taken", 1)])

    def test_air_that_does_not_bear_a_coat_and_a_pin(self):
        coat = Step(id="coat", material="lacquer", coats=1, coat_min=20)
        booth = {"lacquer": Paint(setup_min=10, clean_min=10)}
        stood = planned(shop((coat,), materials=booth))
        damp = {"lacquer": replace(booth["lacquer"], no_spray=((0, DAY),))}
        self.assertEqual(self.why(stood, replace(stood, materials=damp))[0].code, "air")
        pinned = (replace(stood.jobs[0], steps=(replace(coat, pin=Pin(day=2)),)),)
        self.assertEqual(self.why(stood, replace(stood, jobs=pinned))[0].code, "pin")

    def test_sooner_and_with_what_comes_before(self):
        stood = shop((hand("a"),), previous={(0, 0): Before(who="Odd", starts_min=(DAY + 540,))})
        plan = Plan(placed={(0, 0): Placed(who="Odd", starts_min=(540,))})
        self.assertEqual([s.code for s in shifts(stood, plan, 0)], ["sooner"])
        later = Plan(placed={(0, 0): Placed(who="Odd", starts_min=(2 * DAY + 540,))})
        self.assertEqual([s.code for s in shifts(stood, later, 0)], ["rest"])


class Gun(unittest.TestCase):
    """A gun that is loaded while a plan is kept: its cleaning is in nobody's way."""

    def test_the_coat_that_stands_next_is_laid_with_it(self):
        coat = Step(id="coat", material="lacquer", coats=1, coat_min=20)
        booth = {"lacquer": Paint(setup_min=20, clean_min=20)}
        for starts in (600, 605, 700):
            before = {(0, 0): Before(who="Odd", starts_min=(starts,)), (1, 0): Before(who="Odd", starts_min=(620,))}
            problem = shop((coat,), (hand("wipe", 15),), materials=booth, now_min=600, previous={
                key: was for key, was in before.items() if key == (0, 0) or starts != 605
            }, open_session=OpenSession(material="lacquer", who="Odd", since_min=600))  # fmt: skip
            plan = keep(problem)
            self.assertEqual(verify(problem, plan), ())
            self.assertEqual(plan.placed[0, 0].starts_min, (starts,))
            self.assertEqual([s.loaded for s in plan.sessions], [True])

    def test_with_nothing_left_to_lay_it_is_cleaned_all_the_same(self):
        problem = shop((hand("a"),), materials={"lacquer": Paint(setup_min=20, clean_min=20)}, now_min=600, previous={
            (0, 0): Before(who="Odd", starts_min=(600,)),
        }, open_session=OpenSession(material="lacquer", who="Odd", since_min=600))  # fmt: skip
        plan = keep(problem)
        self.assertEqual(verify(problem, plan), ())
        self.assertEqual(plan.placed[0, 0].starts_min, (600,))
        self.assertEqual(
            plan.sessions, (Session(material="lacquer", who="Odd", from_min=600, to_min=680, loaded=True),)
        )
