"""One zone's cure and ten zones', of each way of hardening, against another checkout in the same run; and 200 samples
of a wait of oil and of two parts against those of lacquer.

    python benchmarks/history.py --against FOLDER     FOLDER: an older checkout, its solver warm; none: only this one

Each checkout is timed in processes of its own, turn about; the median of all is printed, and the ratio.
"""

import argparse
import json
import os
import statistics
import subprocess
import sys
from pathlib import Path

HERE = Path(__file__).resolve().parent.parent
ROUNDS = 4
TIMED = """
import json, statistics, time
from ravden.core.cure.asked import Conditions, Sampling
from ravden.catalogue.tables import shipped
from ravden.core.cure.film import harden
from ravden.core.record import Air, Coat

BUILDS = {"lacquer-sprayed": (12, 10.0, 3, 1.5), "waterborne": (10, 20.0, 3, 1.0), "shellac-pad": (8, 3.0, 1, 1.0),
          "two-part-clear": (6, 32.0, 3, 0.25), "polymerising-oil": (8, 2.5, 1, 1.0), "oil-varnish": (4, 24.0, 1, 1.0)}

def laid(count, um, a_day, gap_h):
    return [Coat(at_h=24 * (i // a_day) + gap_h * (i % a_day), dry_um=um) for i in range(count)]

def history(material, share=1.0, rough=False, rate=1.0):
    count, um, a_day, gap_h = BUILDS[material]
    coats = laid(count, um * share, a_day, gap_h)
    return harden({"": shipped().material(material).cure}, coats,
                  under=Conditions(air=[Air(at_h=0, temp_C=20.0, rh=0.5)], rate_factor=rate),
                  sampling=Sampling(until_h=coats[-1].at_h + 5760, rough=rough))

def ms(work, runs):
    work()
    out = []
    for _ in range(runs):
        start = time.perf_counter(); work(); out.append(1e3 * (time.perf_counter() - start))
    return statistics.median(out)

found = {}
for material in BUILDS:
    found[material + ", one zone"] = ms(lambda: history(material), 15)
    found[material + ", ten zones"] = ms(lambda: [history(material, 0.6 + 0.08 * z) for z in range(10)], 3)
    found[material + ", 200 samples"] = ms(
        lambda: [history(material, 0.8 + 0.002 * i, True, 0.8 + 0.002 * i) for i in range(200)], 1)
print(json.dumps(found))
"""


def timed(checkout):
    """What one process finds of a checkout."""
    env = os.environ | {"PYTHONPATH": str(checkout / "src")}
    done = subprocess.run([sys.executable, "-c", TIMED], env=env, capture_output=True, text=True, check=True)
    return json.loads(done.stdout)


def main():
    parser = argparse.ArgumentParser()
    parser.add_argument("--against", type=Path)
    other = parser.parse_args().against
    mine, theirs = [], []
    for _ in range(ROUNDS):
        mine.append(timed(HERE))
        if other is not None:
            theirs.append(timed(other.resolve()))
    now = {name: statistics.median(run[name] for run in mine) for name in mine[0]}
    for name, took in now.items():
        line = f"{name}: {took:.1f} ms"
        if theirs:
            before = statistics.median(run[name] for run in theirs)
            line += f"; before {before:.1f} ms; ratio {took / before:.2f}"
        print(line)
    lacquer = now["lacquer-sprayed, 200 samples"]
    for material in ("polymerising-oil", "two-part-clear"):
        print(f"200 samples of {material} over lacquer's: {now[f'{material}, 200 samples'] / lacquer:.2f}")


if __name__ == "__main__":
    main()
