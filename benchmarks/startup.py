"""From process start to the first painted Rack with the demo shop, against a bare PyQt6 window that imports NumPy.

Both are whole processes, taken in turn in the same run; prints the medians and their ratio.
"""

import os
import statistics
import subprocess
import sys
import tempfile
import time
from datetime import UTC, datetime
from pathlib import Path

RUNS = 21
BARE = """
import os, sys
import numpy
from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication, QMainWindow
app = QApplication(sys.argv)
window = QMainWindow()
window.resize(1280, 800)
window.show()
QTimer.singleShot(0, lambda: (print("painted", flush=True), os._exit(0)))
app.exec()
"""


def once(words, env):
    start = time.perf_counter()
    done = subprocess.run([sys.executable, *words], env=env, capture_output=True, text=True, timeout=60)
    took = time.perf_counter() - start
    if "painted" not in done.stdout:
        raise SystemExit(f"nothing was painted: {done.stderr}")
    return took


def main():
    with tempfile.TemporaryDirectory() as folder:
        from ravden.demo import ferrow_lane

        shop = Path(folder) / "lane.ravden"
        ferrow_lane.build(shop, datetime.now(UTC))
        env = os.environ | {"QT_QPA_PLATFORM": os.environ.get("QT_QPA_PLATFORM", "offscreen"), "RAVDEN_HOME": folder}
        env["RAVDEN_REPORT_PAINT"] = "1"
        # An installed program has its bytecode beside it; a work tree is given the same, kept out of the tree.
        env.pop("PYTHONDONTWRITEBYTECODE", None)
        env["PYTHONPYCACHEPREFIX"] = str(Path(folder) / "bytecode")
        ours, bare = [], []
        for i in range(RUNS):
            a = once(["-m", "ravden", "window", str(shop)], env)
            b = once(["-c", BARE], env)
            if i:  # the first pair warms the disk and writes the bytecode
                ours.append(a)
                bare.append(b)
    mine, base = statistics.median(ours), statistics.median(bare)
    print(f"first painted Rack {mine:.3f} s; bare window with NumPy {base:.3f} s")
    print(f"ratio, ours over bare: {mine / base:.2f}")


if __name__ == "__main__":
    main()
