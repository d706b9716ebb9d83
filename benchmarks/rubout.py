"""The ladder: a full drawer answered, and the optimum against every sequence tried.

    benchmarks/rubout.py               3 000 random drawers (some minutes)
    benchmarks/rubout.py --cases 300   fewer

Prints the time of an answer from a full drawer as a ratio over working out one sequence of the same drawer, and how
often the dynamic programme and the exhaustive search disagree.
"""

import argparse
import random
import sys
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from tests.core.rubbing import COMPOUNDS, OWNED, WOOL, every_sequence, job, random_case, rung, rungs, zone
from timing import median_ms

from ravden.core.abrasive import sequence
from ravden.core.abrasive.choice import plan
from ravden.core.abrasive.ladder import evaluate
from ravden.core.abrasive.sandthrough import most_removal_um
from ravden.core.abrasive.sequence import affordable, equally_good


def forget():
    sequence._workable.cache_clear()
    most_removal_um.cache_clear()


def speed():
    drawer = [rung(o) for o in (*OWNED, WOOL, "FEPA-P:P80", "FEPA-P:P120", "FEPA-P:P180", "FEPA-P:P220")]
    zones = (zone(name="top"), zone("contour", 108, 12, 200, "arch"), zone("edge", 72, 14, 60, "edges"))
    thin = (zone(film=84, name="top"), zone("contour", 80, 9, 200, "arch"), zones[2])
    ladder = rungs("P1000", "P2000", *COMPOUNDS)
    base = median_ms(lambda: evaluate(job(18, zones=zones), ladder))
    print(f"one sequence worked out: {base:.2f} ms")
    for name, work in (
        ("best ladder, film enough", lambda: plan(job(18, zones=zones), drawer)),
        ("and the equally good ones", lambda: equally_good(job(18, zones=zones), drawer)),
        ("best ladder, film decides", lambda: plan(job(18, zones=thin), drawer)),
        ("no film for any, and what would do", lambda: plan(job(35, zones=zones), drawer)),
    ):
        took = median_ms(lambda work=work: (forget(), work()))  # a drawer and a film not seen before
        print(f"{name}: {took:.1f} ms, {took / base:.0f} x one sequence (<= 30 ms wanted)")


def agrees(seed):
    """Whether both find the same, and whether there was anything to find."""
    the_job, drawer = random_case(random.Random(seed))
    every = list(every_sequence(the_job, drawer))
    best = min((cost for cost, _ in every), default=None)
    found = affordable(the_job, drawer)
    if best is None or found is None:
        return best is None and found is None, best is not None
    got = next((cost for cost, pick in every if pick == found), None)
    return got is not None and abs(got - best) < 1e-6, True


def main():
    parser = argparse.ArgumentParser()
    parser.add_argument("--cases", type=int, default=3000)
    cases = parser.parse_args().cases
    speed()
    with ProcessPoolExecutor(2) as pool:
        results = list(pool.map(agrees, range(cases), chunksize=20))
    print(
        f"{cases} random drawers, {sum(f for _, f in results)} with a ladder: {sum(not a for a, _ in results)} disagree"
    )


if __name__ == "__main__":
    main()
