"""The shop plan: the first plan of forty against folding their outlooks, the search against the first plan, keeping
against planning anew, odds against a plain loop, tidied idle minutes. Prints each with the bar it is held to."""

import copy
import os
import sys
import tempfile
import time
from datetime import UTC, datetime
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

import msgspec
from tests.core.shops import EVENINGS, HOURS, shop
from timing import median_ms

from ravden.app.clock import HandClock
from ravden.app.session import ShopSession
from ravden.catalogue.tables import shipped
from ravden.core.schedule.dispatch import dispatch
from ravden.core.schedule.improve import Effort, first_plan, improve
from ravden.core.schedule.odds import Draw, odds
from ravden.core.schedule.problem import busy, day_idle, figures, moved
from ravden.core.schedule.renew import FEWEST_LATE, FRESH
from ravden.core.schedule.repair import keep
from ravden.core.schedule.tidy import SHOWN_DAYS, tidied
from ravden.demo import ferrow_lane
from ravden.exchange.compute_schedule_in import ScheduleIn, problem_of

SECONDS = float(sys.argv[1]) if len(sys.argv) > 1 else 20.0


def problem(case):
    return problem_of(msgspec.convert(case, ScheduleIn))


def outlook_ms():
    """Folding the outlook of one instrument of the demo, in the mean."""
    with tempfile.TemporaryDirectory() as folder:
        now = datetime.now(UTC)
        ferrow_lane.build(Path(folder) / "lane.ravden", now)
        session = ShopSession(shipped(), HandClock(now))
        session.open(Path(folder) / "lane.ravden")
        names = tuple(session.shop.racked)
        for name in names:
            session.request(name).run()
        start = time.perf_counter()
        for name in names:
            session.request(name).run()
        took = 1000 * (time.perf_counter() - start) / len(names)
        session.close()
    return took


def crowded(seed, pieces, people=1, week=HOURS):
    return problem(shop(seed, pieces, people, tight=1, week=week))


def main():
    forty = crowded(1, 40, 2)
    first, folding = median_ms(lambda: first_plan(forty), 5), 40 * outlook_ms()
    print(f"first plan of 40: {first:.0f} ms; their outlooks {folding:.0f} ms; ratio {first / folding:.2f} (bar 1)")
    print(f"dispatcher alone, 40: {median_ms(lambda: dispatch(forty), 9):.0f} ms")
    was = now = 0
    for seed in (1, 2, 3, 4):
        p = crowded(seed, 12, 1, EVENINGS)
        was += figures(p, dispatch(p).plan).late_days
        now += figures(p, improve(p, FRESH, Effort(seconds=SECONDS)).plan).late_days
    print(
        f"search of {SECONDS:.0f} s, four shops of 12 in evenings: late days {was} -> {now}, {now / was:.2f} (bar .8)"
    )
    case = shop(3, 12, 2, tight=1, week=EVENINGS)
    p = problem(case)
    plan = dispatch(p).plan
    away = copy.deepcopy(case)
    away["people"][0]["away"] = [[1440, 8 * 1440]]
    away["previous"] = {"steps": [
        {"instrument": p.jobs[j].id, "step": p.jobs[j].steps[k].id, "who": x.who, "starts_min": list(x.starts_min),
         "cabinet": x.cabinet} for (j, k), x in plan.placed.items()
    ]}  # fmt: skip
    q = problem(away)
    kept, late = keep(q), improve(q, FEWEST_LATE, Effort(seconds=6.0), keep(q)).plan
    a, b = moved(q, kept), moved(q, late)
    print(f"away a week, 12 pieces: kept moves {a}, fewest late days {b}; {a / max(b, 1):.2f} (bar .9), "
          f"in {median_ms(lambda: keep(q), 5):.0f} ms")  # fmt: skip
    twenty = crowded(5, 20, 2)
    plan = dispatch(twenty).plan
    many = median_ms(lambda: odds(twenty, plan, Draw(samples=2000)), 3) / 2000
    single = median_ms(lambda: odds(twenty, plan, Draw(samples=1)), 5)
    print(
        f"odds: {1000 * many:.0f} us a sample of 2000 drawn at once, {single:.1f} ms drawn one by one (bar: 30 times)"
    )
    was = now = 0
    for shop_of_12 in (crowded(3, 12), crowded(7, 12), crowded(8, 12, 2)):
        found = improve(shop_of_12, FRESH, Effort(seconds=min(SECONDS, 5.0))).plan
        was += shown_idle(shop_of_12, found)
        now += shown_idle(shop_of_12, tidied(shop_of_12, found))
    print(f"tidied, three shops of 12, days shown: {was} -> {now} idle minutes, {now / was:.2f} (bar .6)")


def shown_idle(p, plan):
    """Idle minutes of the days that are shown."""
    of_days = {}
    for who, span in busy(p, plan):
        if span[0] < SHOWN_DAYS * 1440:
            of_days.setdefault((who, span[0] // 1440), []).append(span)
    hours = {person.name: p.hours(person) for person in p.people}
    return sum(day_idle(spans, hours[who]) for (who, _), spans in of_days.items())


if __name__ == "__main__":
    main()
