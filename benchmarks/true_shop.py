"""A shop acted out for a year with a truth the program cannot see: what it foretold, learnt and promised against what
came. `true_shop.py SEED DAYS SHOP [--laws N or FILE.py] [--mistakes] [--keep FILE]`, SHOP being hobby, one or four.

People do what the plan has them do, on films of laws of their own (`acted/laws.py`): coats, nails, sandings, gauges,
all through the session as the window logs them, the plan kept as the window keeps it; every six instruments what *Was
Ravden right?* puts forward is taken over. Prints a table; exits 1 where bars are missed, and names them on the last
line.
"""

from __future__ import annotations

import argparse
import statistics
import sys
import tempfile
import time
from collections.abc import Sequence
from datetime import datetime
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from benchmarks.acted.acting import ActedShop, Came
from benchmarks.acted.laws import laws_from
from benchmarks.acted.shops import SHOPS

Told = tuple[datetime, float, float, float, float]
LOW, HIGH = 0.85, 0.95  # of truths in a range of nine times in ten
BY_80 = 1.2816 / 1.645
FEWEST = 12  # of a kind below which a share is printed and no bar is held against it


def thirds(told: Sequence[Told]) -> list[Sequence[Told]]:
    """By time, in three parts of as many."""
    some = sorted(told, key=lambda t: t[0])
    return [some[len(some) * i // 3 : len(some) * (i + 1) // 3] for i in range(3)]


def held(told: Sequence[Told], *, eight: bool = False) -> float | None:
    """The share whose truth lies in the range of nine (or eight) times in ten."""
    if not told:
        return None
    inside = 0
    for _, truth, low, likely, high in told:
        if eight:
            low, high = likely - BY_80 * (likely - low), likely + BY_80 * (high - likely)
        inside += low <= truth <= high
    return inside / len(told)


def ratio(told: Sequence[Told]) -> float | None:
    """The middle of truth over likely."""
    some = [truth / likely for _, truth, _, likely, _ in told if likely > 0]
    return statistics.median(some) if some else None


def shown(value: float | None, form: str = ".2f") -> str:
    return "-" if value is None else format(value, form)


def of_share(told: Sequence[Told]) -> tuple[float, float]:
    """Between which shares the truth lies, nine times in ten: so few cannot tell more. The score interval [S]."""
    n, p, z2 = len(told), held(told) or 0.0, 1.645**2
    middle = (p + z2 / (2 * n)) / (1 + z2 / n)
    half = 1.645 * (p * (1 - p) / n + z2 / (4 * n * n)) ** 0.5 / (1 + z2 / n)
    return middle - half, middle + half


class Bars:
    """What is held against what; missed: those that fall short."""

    def __init__(self) -> None:
        self.missed: list[str] = []

    def hold_share(self, name: str, told: Sequence[Told]) -> None:
        """Missed only where so many could not come from a share within the bar."""
        if len(told) >= FEWEST:
            low, high = of_share(told)
            if high < LOW or low > HIGH:
                self.missed.append(f"{name} {held(told):.2f} of {len(told)} ({LOW:g}-{HIGH:g})")

    def hold(self, name: str, value: float | None, low: float, high: float) -> None:
        if value is not None and not low <= value <= high:
            self.missed.append(f"{name} {value:.2f} ({low:g}-{high:g})")


def report(came: Came, took_s: float) -> list[str]:
    """The table, and the bars that are missed."""
    bars = Bars()
    print("what        n   in 90 % by thirds    in 80 %   true/likely by thirds")
    for name, told in (
        ("film", came.films),
        ("wait", came.waits),
        ("minutes", came.minutes),
        ("ready day", came.readies),
    ):
        parts = thirds(told)
        nine, ratios = [held(p) for p in parts], [ratio(p) for p in parts]
        eight = shown(held(told, eight=True))
        shares, ratios_said = (" ".join(f"{shown(v):>5}" for v in some) for some in (nine, ratios))
        print(f"{name:10} {len(told):4}  {shares}     {eight:>5}     {ratios_said}")
        if name in ("film", "minutes"):
            bars.hold_share(f"{name} in its range", told)
        if name == "wait" and len(parts[2]) >= FEWEST:
            bars.hold_share("waits of the last third in range", parts[2])
            bars.hold("waits of the last third true/likely", ratios[2], 0.9, 1.1)
        if name == "ready day" and len(told) >= FEWEST:
            bars.hold("ready day true/likely", ratio(told), 0.9, 1.1)
    n = max(came.cases, 1)
    days, rule = statistics.mean(came.days or [0]), statistics.mean(came.rule_days or [0])
    print(f"instruments done {came.cases}, promises late {came.late} of {came.promised}, sanded through {came.through}")
    print(f"levels found soft {came.soft_levels} of {came.levels}, cased soft {came.soft_cases} (by rules of thumb "
          f"{came.rule_soft})")  # fmt: skip
    print(f"mistakes made: {came.mistakes}")
    print(f"coats more than planned, since the film did not bear the ladder: {came.mended}")
    print(f"days an instrument {days:.1f} (by rules of thumb {rule:.1f})")
    print(f"looks {came.looks}, moved by a day without news {came.moves}; of {came.seen} looks at an instrument "
          f"{came.untold} moved with no reason told ({100 * came.untold / max(came.seen, 1):.1f} %)")  # fmt: skip
    failed = ", ".join(sorted(came.failed)) or "none"
    print(f"in no plan {came.unplanned} looks of an instrument; outlooks that failed: {failed}")
    print(f"two answers to one question: {len(came.disagreed)}")
    for line in came.disagreed[:3] + came.refused[:5]:
        print(f"  {line}")
    print(f"refused {len(came.refused)}; taken over: {'; '.join(came.taken) or 'nothing'}")
    slower = {}
    for name, some in (("coat", came.coat_s), ("tick of an instrument", came.tick_s)):
        parts = [some[: len(some) // 4 or 1], some[-(len(some) // 4 or 1) :]]
        first, last = (statistics.median([s for _, s in p]) if p else 0.0 for p in parts)
        slower[name] = last / first if first else 0.0
        print(
            f"{name}: {1000 * first:.0f} ms in the first quarter, {1000 * last:.0f} ms in the last, {slower[name]:.2f}"
        )
    print(f"took {took_s:.0f} s")
    bars.hold("in no plan", float(came.unplanned), 0, 0)
    bars.hold("outlooks that failed", float(len(came.failed)), 0, 0)
    bars.hold("two answers to one question", float(len(came.disagreed)), 0, 0)
    bars.hold("cased soft of an instrument", came.soft_cases / n, 0, came.rule_soft / n)
    bars.hold("days of those by rules of thumb", days / rule if rule else None, 0, 1)
    if len(came.coat_s) >= 4 * FEWEST:
        bars.hold("a coat at the end", slower["coat"], 0, 1.3)
    return bars.missed


def main(argv: Sequence[str] | None = None) -> int:
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("seed", type=int)
    parser.add_argument("days", type=int)
    parser.add_argument("shop", choices=sorted(SHOPS))
    parser.add_argument("--laws", default="0", help="a number, or a file with a class Laws")
    parser.add_argument("--mistakes", action="store_true", help="one act in 25 is done wrong")
    parser.add_argument("--keep", type=Path, help="where the shop file goes")
    args = parser.parse_args(argv)
    with tempfile.TemporaryDirectory() as folder:
        path = args.keep or Path(folder) / "true.ravden"
        path.unlink(missing_ok=True)
        began = time.perf_counter()
        acted = ActedShop(path, args.seed, SHOPS[args.shop], laws_from(args.laws, args.seed), mistakes=args.mistakes)
        came = acted.run(args.days)
        missed = report(came, time.perf_counter() - began)
    print(f"missed: {'; '.join(missed)}" if missed else "all bars held")
    return 1 if missed else 0


if __name__ == "__main__":
    sys.exit(main())
