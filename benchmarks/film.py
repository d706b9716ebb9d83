"""The film ledger: its speed against brute-force sampling of the same model, and how its intervals hold.

    benchmarks/film.py              speed, slider, and 2 000 made-up shops for each amount of data (some minutes)
    benchmarks/film.py --shops 200  fewer shops

Prints the time of every kind of update with 10 zones, 40 coats and 30 readings, the time of a what-if as a slider is
dragged, the ratio of sampling over the ledger for the same answer, and the share of true films inside the intervals.
"""

import argparse
import statistics
import sys
import time
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

import numpy as np

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from tests.core.film import shops
from tests.core.film.drinking import believed
from tests.core.film.shops import FEW, MANY, MID, NONE, ZONES, World

CASES = (
    ("no reading", NONE, World()), ("one comb", FEW, World()), ("some", MID, World()), ("many", MANY, World()),
    ("some, gun 1.5 x", MID, World(gun=1.5)), ("some, noise 1.5 x", MID, World(noise=1.5)),
    ("many, noise 1.5 x", MANY, World(noise=1.5)), ("some, 5 % gross", MID, World(gross=0.05)),
)  # fmt: skip


def timed(work, runs=15):
    out = []
    for _ in range(runs):
        start = time.perf_counter()
        value = work()
        out.append(time.perf_counter() - start)
    return 1e3 * statistics.median(out), value


def updates():
    from ravden.core.film.advice import choices
    from ravden.core.film.ledger import Ledger

    ledger, all_of_it = Ledger(ZONES), time.perf_counter()
    for n in range(40):
        ledger = ledger.coat(12)
        if n % 2 == 0:
            ledger = ledger.comb("0", 50, 75, 0.2)
        if n % 8 == 7:
            ledger = ledger.sanding({str(z): 6.0 for z in range(10)}).volume(11)
    for zone in range(5):
        ledger = ledger.gauge(str(zone), 380, 3)
    took = 1e3 * (time.perf_counter() - all_of_it)
    print(f"40 coats, 20 combs, 5 volumes, 5 gauges, 5 sandings, replayed: {took:.0f} ms")
    sand = {str(z): 6.0 for z in range(10)}
    for name, work in (
        ("coat", lambda: ledger.coat(12)), ("sanding of ten zones", lambda: ledger.sanding(sand)),
        ("gauge", lambda: ledger.gauge("7", 210, 3)), ("card", lambda: ledger.card(470)),
        ("comb", lambda: ledger.coat(12).comb("0", 50, 75, 0.2)), ("volume", lambda: ledger.coat(12).volume(11)),
        ("quantiles of ten zones", lambda: ledger.worn({}).films()),
        ("what to measure", lambda: choices(ledger, "7", 12, 0.2)),
    ):  # fmt: skip
        print(f"  {name}: {timed(work)[0]:.2f} ms")


def against_sampling(draws=400_000):
    """The ledger and importance sampling on the same history: 6 coats, sanding, 6 coats, sanding, card 150."""
    from tests.core.film.test_brute_force import Drawn

    from ravden.core.film.ledger import Ledger

    def ours():
        ledger = Ledger(ZONES)
        for um in (15.0, 20.0):
            for _ in range(6):
                ledger = ledger.coat(12)
            ledger = ledger.sanding({str(z): um * float(shops.SHARES[z]) for z in range(10)})
        return ledger.card(150).film("0")

    def sampled():
        drawn = Drawn(1, range(10), draws)
        for um in (15, 20):
            drawn.coats(6, 12)
            drawn.sand(um)
        drawn.card(150)
        return drawn.told(0)

    mine, film = timed(ours, 5)
    other, told = timed(sampled, 1)
    print(f"top after a card: ledger {film.mean_um:.1f} ± {film.sd_um:.1f} um in {mine:.0f} ms; "
          f"{draws} draws {told[0]:.1f} ± {told[1]:.1f} um in {other:.0f} ms")  # fmt: skip
    print(f"ratio, sampling over ledger: {other / mine:.0f}")


def slider():
    """From the slider's move to the picture painted, offscreen, in the real window."""
    import os
    import tempfile
    from datetime import UTC, datetime

    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from PyQt6.QtWidgets import QApplication

    from ravden.app.clock import HandClock
    from ravden.demo import ferrow_lane
    from ravden.ui.app import make_app, make_window
    from ravden.ui.shots import settle

    app = make_app(["ravden"])
    now = datetime(2026, 5, 4, 15, tzinfo=UTC)
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "lane.ravden"
        ferrow_lane.build(path, now)
        window = make_window(app, clock=HandClock(now), settings_file=Path(folder) / "s.json", path=path)
        window.resize(1280, 800)
        window.show()
        window.begin()
        settle(window)
        window.turn_to("film")
        window.film.side.turn_to("coat")
        for instrument in list(window.session.shop.racked):
            window.session.select(instrument, "bench")
            settle(window)
            panel, took, alone = window.film.side.coat, [], []
            for step in range(30):
                start = time.perf_counter()
                panel.sliders["amount"].setValue(60 + step)
                while window.places.film.tryout.busy:
                    QApplication.processEvents()
                QApplication.processEvents()
                took.append(time.perf_counter() - start)
                start = time.perf_counter()
                window.session.request(instrument, zone="top").run()
                alone.append(time.perf_counter() - start)
            drag, whole = 1e3 * statistics.median(took), 1e3 * statistics.median(alone)
            print(f"slider on {instrument}: moved to painted {drag:.0f} ms; a whole outlook alone {whole:.0f} ms; "
                  f"ratio {drag / whole:.2f}")  # fmt: skip
        window.close()


def covered(case):
    name, data, world, seed, count = case
    return name, shops.coverage(np.random.default_rng(seed), count, data, world), count


def coverage(count):
    print(f"share of true films inside the 50 % and the 90 % interval, {count} shops each:")
    chunks = 8
    cases = [
        (name, data, world, 100 * i + c, count // chunks)
        for i, (name, data, world) in enumerate(CASES)
        for c in range(chunks)
    ]
    with ProcessPoolExecutor() as pool:
        found = {}
        for name, shares, n in pool.map(covered, cases):
            found.setdefault(name, []).append((shares, n))
    for name, parts in found.items():
        total = sum(n for _, n in parts)
        half, most = (sum(s[i] * n for s, n in parts) / total for i in (0, 1))
        print(f"  {name}: {half:.3f} {most:.3f}")


DRINKS = (("none", ()), ("half", (10.0, 5.0, 2.5)), ("whole", (20.0, 10.0, 5.0)))


def drinking(count):
    """Wood that drinks 20, 10 and 5 um of the first coats, half of that, and nothing, with one scuff and with two."""
    print(f"wood that drinks, {count} shops each: true, believed [um], share in 90 %, ln of the gun too high")
    for said, drinks in DRINKS:
        for after in ((2,), (2, 3)):
            true, mean, inside, ln = believed(np.random.default_rng(11), count, drinks, after=after)
            scuffs = " and ".join(map(str, after))
            print(f"  {said}, scuffed after {scuffs}: {true:.1f} {mean:.1f} {inside:.2f} {ln:+.2f}")


RANDOM_SCUFFS = 10_000


def scuffed(count):
    """Scuffs of random films that drink nothing: how many believed means rose, or sank by less than half of the cut."""
    from ravden.core.film.ledger import Ledger

    rng, rose, short = np.random.default_rng(3), 0, 0
    for _ in range(count):
        ledger = Ledger(ZONES)
        for _ in range(int(rng.integers(1, 9))):
            ledger = ledger.coat(float(rng.uniform(6.0, 40.0)))
        um = float(rng.uniform(0.3, 3.0))
        before = {f.name: f.mean_um for f in ledger.films()}
        cut = {z.name: um * z.sanding for z in ZONES}
        after = {f.name: f.mean_um for f in ledger.sanding(cut).films()}
        rose += any(after[n] > before[n] + 1e-6 for n in cut)
        short += any(after[n] > before[n] - 0.5 * cut[n] + 1e-6 for n in cut if before[n] > 4 * cut[n])
    print(f"{count} scuffs of random films: {rose} rose, {short} sank by less than half of what was taken")


def main():
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("--shops", type=int, default=2000)
    args = parser.parse_args()
    updates()
    against_sampling()
    slider()
    coverage(args.shops)
    drinking(max(args.shops // 5, 20))
    scuffed(RANDOM_SCUFFS if args.shops >= 2000 else 5 * args.shops)


if __name__ == "__main__":
    main()
