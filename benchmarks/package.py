"""The packaged program against the checkout: to the first painted Rack, and the first `compute cure` of a new home.

Whole processes, taken in turn in the same run; prints medians and ratios. Wants the package installed:
`.venv/bin/python benchmarks/package.py [/opt/ravden/ravden]`.
"""

import os
import statistics
import subprocess
import sys
import tempfile
import time
from datetime import UTC, datetime
from pathlib import Path

RUNS = 11
CASE = (Path(__file__).parents[1] / "tools" / "package" / "cure.json").read_bytes()


def once(words, env, given=b""):
    start = time.perf_counter()
    done = subprocess.run(words, env=env, input=given, capture_output=True, timeout=120)
    took = time.perf_counter() - start
    if done.returncode:
        raise SystemExit(f"{words}: {done.stderr.decode()}")
    return took


def main():
    packaged = sys.argv[1] if len(sys.argv) > 1 else "/opt/ravden/ravden"
    checkout = str(Path(sys.executable).parent / "ravden")
    with tempfile.TemporaryDirectory() as folder:
        from ravden.demo import ferrow_lane

        shop = Path(folder) / "lane.ravden"
        ferrow_lane.build(shop, datetime.now(UTC))
        env = os.environ | {"QT_QPA_PLATFORM": "offscreen", "RAVDEN_HOME": folder, "RAVDEN_REPORT_PAINT": "1"}
        painted = {packaged: [], checkout: []}
        for i in range(RUNS):
            for program, took in painted.items():
                seconds = once([program, "window", str(shop)], env)
                if i:  # the first warms the disk
                    took.append(seconds)
        mine, base = (statistics.median(painted[p]) for p in (packaged, checkout))
        print(f"first painted Rack: packaged {mine:.3f} s, checkout {base:.3f} s, ratio {mine / base:.2f}")
        first = []
        for i in range(RUNS):
            home = Path(folder) / f"home{i}"
            home.mkdir()
            fresh = os.environ | {"HOME": str(home)}
            fresh.pop("XDG_CACHE_HOME", None)
            first.append(once([packaged, "compute", "cure"], fresh, CASE))
        print(f"first compute cure of a new home: packaged {statistics.median(first):.3f} s, worst {max(first):.3f} s")


if __name__ == "__main__":
    main()
