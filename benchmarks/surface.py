"""Levelling, raking light, lamp pictures, photos and the trainer, each against a pair of Fourier transforms of the same
size in the same run. Prints milliseconds, the ratio of the medians, and the bar it is held to."""

import os
import subprocess
import sys
import tempfile
import time
from datetime import UTC, datetime
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

import numpy as np
from scipy.fft import irfft2, rfft2
from timing import median_ms

from ravden.catalogue.tables import shipped
from ravden.core.surface import panel, rake
from ravden.core.surface.block import BlockWork, Face
from ravden.core.surface.contact import Levelling, Rubbing, backs_of
from ravden.core.surface.lamp import radiance
from ravden.core.surface.shade import wood

BACKINGS = shipped().backings


def rubbing(name):
    return Rubbing(grain_um=21.8, kappa=0.191, backs=backs_of(BACKINGS[name]), iterations=1 if name == "firm" else 2)


def pair(shape):
    field = np.random.default_rng(1).standard_normal(shape).astype(np.float32)
    return median_ms(lambda: irfft2(rfft2(field), s=shape), 41)


def told(what, ms, against, bar):
    ratio = ms / against
    over = "" if ratio <= bar else "  OVER"
    print(f"{what:26s} {ms:7.2f} ms, {ratio:5.2f} of a pair of {against:.2f} ms (bar {bar}){over}")


def panels():
    for cells in (256, 512):
        height = panel.peel(cells, 90 / cells, 18, panel.PEEL_MM, 1).astype(np.float32)
        work, firm = Levelling(height, np.full_like(height, 500), 90 / cells), rubbing("firm")
        work.rub(firm, 2.0, 0.05)
        told(
            f"whole panel, {cells}²", median_ms(lambda w=work, f=firm: w.rub(f, 2.0, 0.02), 31), pair((cells, cells)), 4
        )
    height = panel.peel(384, 90 / 384, 18, panel.PEEL_MM, 1).astype(np.float32)
    for name in ("firm", "foam"):
        work, face = BlockWork(height.copy(), np.full_like(height, 500), 90 / 384), Face(wide_mm=60, high_mm=30)
        held = rubbing(name)
        work.move(held, face, 2.0, (45, 45), 0.05)
        moves = median_ms(lambda w=work, h=held, f=face: w.move(h, f, 2.0, (45, 45), 0.02), 31)
        told(f"block, {name}", moves, pair((180, 320)), 8)
    for cells in (256, 512):
        height = panel.peel(cells, 90 / cells, 18, panel.PEEL_MM, 1).astype(np.float32)
        dull, under = (height > 0).astype(np.float32), wood((0.2, 0.085, 0.03), cells, cells, 90 / cells)
        lines = rake.scratches(height.shape, 90 / cells, 15.0, 1)
        lit = median_ms(lambda h=height, d=dull, u=under, s=lines, c=cells: rake.raked(h, d, u, 90 / c, s), 21)
        told(f"raking light, {cells}²", lit, pair((cells, cells)), 5)
    told("lamp picture, 180 x 120", median_ms(lambda: radiance(0.119, 60, 180, 120), 31), pair((256, 256)), 10)


def trainer():
    """A thousand moves asked for as fast as they come, and the time from the last one to its picture."""
    from PyQt6.QtWidgets import QApplication

    from ravden.app.clock import HandClock
    from ravden.ui.app import make_app, make_window

    with tempfile.TemporaryDirectory() as folder:
        app = make_app(["surface"])
        window = make_window(app, clock=HandClock(datetime.now(UTC)), settings_file=Path(folder) / "settings.json")
        window.resize(1280, 800)
        window.show()
        window.begin()
        rubout = window.places.rubout
        rubout.practise("lows")
        practice, frames = rubout.practice, []
        while practice.busy:
            app.processEvents()
        draw, way = np.random.default_rng(1), 0.0
        practice.order.shown.connect(lambda _: frames.append(time.perf_counter()))
        one = []
        for _ in range(25):  # a move by itself, from being asked for to being seen
            frames.clear()
            start = time.perf_counter()
            practice.rub((40, 45), (43, 45))
            while not frames or practice.busy:
                app.processEvents()
            one.append(1e3 * (frames[-1] - start))
            way += 3 * practice.hold.stands_for / 1000
        longest, start = 0.0, time.perf_counter()
        for _ in range(1000):
            x, y = draw.uniform(32, 55), draw.uniform(20, 70)
            practice.rub((x, y), (x + 3, y))
            way += 3 * practice.hold.stands_for / 1000
            turn = time.perf_counter()
            app.processEvents()
            longest = max(longest, time.perf_counter() - turn)
        while practice.busy:
            QApplication.processEvents()
        took, lost = time.perf_counter() - start, way / 0.4 / 60 - practice.told.minutes
        usual, worst = sorted(one)[12], max(one)
        print(f"trainer, 384²: a move is seen after {usual:.0f} ms (two frames: 33), worst of 25 {worst:.0f}")
        print(f"trainer: 1000 moves in {took:.1f} s, {abs(lost) * 60:.3f} s of sliding lost")
        print(f"trainer: the window was held up for {1e3 * longest:.0f} ms at the most")
        window.close()


def three_photos():
    """Three shots of 12 million pixels, from files to rings, in a process of its own."""
    from tests import photos

    with tempfile.TemporaryDirectory() as folder:
        paths = photos.three(Path(folder), 0.9, scale=4.0)
        code = (
            "import sys, time, resource; from pathlib import Path; "
            "from ravden.exchange.inspecting import Shot, inspect; "
            f"t = time.perf_counter(); inspect([Shot(path=Path(sys.argv[i + 1]), lamp=l) for i, l in enumerate(('low', "
            f"'low-other', 'broad'))], {tuple((4 * x, 4 * y) for x, y in photos.CORNERS)}, {photos.SIZE_MM}); "
            "peak = Path('/proc/self/status').read_text().split('VmHWM:')[1].split()[0]; "
            "print(time.perf_counter() - t, int(peak) // 1024, "
            "resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss // 1024)"
        )
        done = subprocess.run([sys.executable, "-c", code, *map(str, paths.values())], capture_output=True, text=True)
        seconds, mine, child = done.stdout.split()
        sizes = f"{mine} MB, readers {child} MB (bar 600)"
        print(f"three photos of 11 million pixels: {float(seconds):.1f} s (bar 15), {sizes}")


if __name__ == "__main__":
    panels()
    three_photos()
    trainer()
    os._exit(0)
