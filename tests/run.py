"""Runs every test, a module at a time on every core, and ends with one plain line; no test found, or a folder that
would be skipped, is a failure. Names of modules, classes or tests as arguments run those alone, in this process."""

import gc
import multiprocessing
import os
import re
import sys
import tempfile
import time
import unittest
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

HERE = Path(__file__).resolve().parent
# The slowest first, so that none is left to run alone at the end.
SLOW = (
    "test_booth_session",
    "test_film_side",
    "test_rubout",
    "test_any_keys",
    "test_methods",
    "test_plan",
    "test_true_shop",
    "test_journal",
)

COUNTS = re.compile(r"(\d+) passed, (\d+) failed, (\d+) skipped")
# Every process begins as a copy of one that has read these already, and the solver with them.
FORKED = multiprocessing.get_context("forkserver")
FIRST = (
    "hypothesis",
    "numpy",
    "scipy.ndimage",
    "PyQt6.QtTest",
    "PyQt6.QtWidgets",
    "PyQt6.QtSvg",
    "msgspec",
    "icalendar",
    "tests.warm",
)


def here(names: list[str]) -> int:
    """Run these in this process."""
    loader = unittest.TestLoader()
    suite = loader.loadTestsFromNames(names)
    with tempfile.TemporaryDirectory() as home:
        os.environ["RAVDEN_HOME"] = home
        result = unittest.TextTestRunner(verbosity=1, buffer=False).run(suite)
    failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    skipped = len(result.skipped)
    print(f"{result.testsRun - failed - skipped} passed, {failed} failed, {skipped} skipped", flush=True)
    return 1 if failed or result.testsRun == 0 else 0


def forked(module: str, told: str) -> None:
    """Run a module in the process this is called in, which is its own; what is said goes into a file."""
    gc.freeze()
    gc.set_threshold(100_000, 50, 100)  # a process of some seconds has little to sweep
    with open(told, "w") as out:
        for stream in (sys.stdout, sys.stderr):
            stream.flush()
            os.dup2(out.fileno(), stream.fileno())
        code = here([module])
        sys.stdout.flush()
        sys.stderr.flush()
    os._exit(code)  # nothing a test left running keeps it


def apart(module: str) -> tuple[str, tuple[int, int, int], str]:
    """Run a module in a process of its own: its name, what passed, failed and was skipped, and what it said."""
    start = time.monotonic()
    with tempfile.TemporaryDirectory() as folder:
        told = Path(folder) / "told"
        process = FORKED.Process(target=forked, args=(module, str(told)))
        process.start()
        process.join()
        said = told.read_text(errors="replace").strip().splitlines() if told.exists() else []
    took = time.monotonic() - start
    lasts = [i for i, line in enumerate(said) if COUNTS.fullmatch(line)]
    counts = tuple(int(word) for word in COUNTS.fullmatch(said[lasts[-1]]).groups()) if lasts else (0, 1, 0)
    if process.exitcode and not counts[1]:
        counts = (counts[0], 1, counts[2])  # no test in it, or ended by something else than a test
    return f"{module} ({took:.0f} s)", counts, "\n".join(said)


def main(argv: list[str]) -> int:
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    # A zone with summer time, which in May stands at UTC: hours that are told wrong over a change of clocks show.
    os.environ["TZ"] = "Atlantic/Azores"
    sys.path.insert(0, str(HERE.parent))
    bare = [p for p in HERE.rglob("test_*.py") if not (p.parent / "__init__.py").exists()]
    if bare:
        print(f"these tests would be skipped for want of __init__.py: {bare}", file=sys.stderr)
        return 1
    if argv:
        return here(argv)
    FORKED.set_forkserver_preload([*FIRST])
    files = sorted(HERE.rglob("test_*.py"), key=lambda p: (p.stem not in SLOW, -p.stat().st_size))
    modules = [".".join(p.relative_to(HERE.parent).with_suffix("").parts) for p in files]
    total = [0, 0, 0]
    with ThreadPoolExecutor(os.cpu_count() or 2) as pool:
        for module, counts, said in pool.map(apart, modules):
            total = [a + b for a, b in zip(total, counts, strict=True)]
            if counts[1]:
                print(f"-- {module}\n{said}", flush=True)
            else:
                print(f"{module}: {counts[0]}", flush=True)
    print(f"{total[0]} passed, {total[1]} failed, {total[2]} skipped")
    return 1 if total[1] or sum(total) == 0 else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
