"""The house stands as it is drawn: no circle of imports anywhere, those for types alone counted too."""

import os
import subprocess
import sys
import tempfile
import unittest
from datetime import UTC, datetime
from pathlib import Path

import grimp

from ravden.demo import ferrow_lane


def circles(succeeding):
    """Groups of modules that import one another in a circle, by Tarjan's search with a stack of its own."""
    index, low, waiting, found = {}, {}, [], []
    for root in succeeding:
        if root in index:
            continue
        work = [(root, iter(succeeding[root]))]
        index[root] = low[root] = len(index)
        waiting.append(root)
        while work:
            node, rest = work[-1]
            step = next(rest, None)
            if step is None:
                work.pop()
                if work:
                    low[work[-1][0]] = min(low[work[-1][0]], low[node])
                if low[node] == index[node]:
                    at = waiting.index(node)
                    if len(waiting) - at > 1:
                        found.append(sorted(waiting[at:]))
                    del waiting[at:]
            elif step not in index:
                index[step] = low[step] = len(index)
                waiting.append(step)
                work.append((step, iter(succeeding[step])))
            elif step in waiting:
                low[node] = min(low[node], index[step])
    return found


class House(unittest.TestCase):
    def test_the_search_finds_a_circle(self):
        self.assertEqual(circles({"a": ["b"], "b": ["c"], "c": ["a", "d"], "d": []}), [["a", "b", "c"]])
        self.assertEqual(circles({"a": ["b", "c"], "b": ["c"], "c": []}), [])

    def test_no_modules_import_one_another_in_a_circle(self):
        graph = grimp.build_graph("ravden")
        modules = sorted(graph.modules)
        self.assertGreater(len(modules), 250)
        self.assertEqual(circles({m: sorted(graph.find_modules_directly_imported_by(m)) for m in modules}), [])


class FirstPaint(unittest.TestCase):
    def test_neither_science_nor_dataclasses_are_loaded_before_the_window(self):
        slow = ("numpy", "scipy", "numba", "dataclasses", "tempfile")
        line = f"import sys; import ravden.ui.app; print([m for m in {slow} if m in sys.modules])"
        env = os.environ | {"QT_QPA_PLATFORM": "offscreen"}
        done = subprocess.run([sys.executable, "-c", line], capture_output=True, text=True, env=env, check=True)
        self.assertEqual(done.stdout.strip(), "[]")

    def test_nor_for_a_whole_shop_painted(self):
        """With repairs, cans and pins in it: what is told of them at first takes no outline and no film."""
        slow = ("numpy", "scipy", "dataclasses")
        with tempfile.TemporaryDirectory() as folder:
            shop = Path(folder) / "lane.ravden"
            ferrow_lane.build(shop, datetime.now(UTC))
            line = (
                "import sys; from pathlib import Path; from ravden.app.clock import SystemClock; "
                "from ravden.ui.app import make_app, make_window; app = make_app(['ravden']); "
                f"w = make_window(app, clock=SystemClock(), settings_file=Path({str(folder)!r}) / 's.json', "
                f"path=Path({str(shop)!r})); w.show(); app.processEvents(); "
                f"print(len(w.session.shop.racked), [m for m in {slow} if m in sys.modules])"
            )
            env = os.environ | {"QT_QPA_PLATFORM": "offscreen"}
            done = subprocess.run([sys.executable, "-c", line], capture_output=True, text=True, env=env)
        self.assertEqual((done.stdout.strip(), done.returncode), ("8 []", 0), done.stderr)

    def test_nothing_of_help_settings_and_first_start_is_loaded_before_the_window(self):
        later = ("ravden.ui.help", "ravden.ui.places.settings", "ravden.ui.places.start", "ravden.catalogue.guide")
        line = f"import sys; import ravden.ui.app; print([m for m in {later} if m in sys.modules])"
        env = os.environ | {"QT_QPA_PLATFORM": "offscreen"}
        done = subprocess.run([sys.executable, "-c", line], capture_output=True, text=True, env=env, check=True)
        self.assertEqual(done.stdout.strip(), "[]")


ENDED = """
import atexit, sys
from pathlib import Path
from PyQt6.QtCore import QObject, QTimer
from ravden.ui import app, ending
# Called after our own end, and before the toolkit's.
atexit.register(lambda: print("left", len(ending.owned(QObject))))
make = app.make_window
def closing(*args, **how):
    window = make(*args, **how)
    QTimer.singleShot(int(sys.argv[2]), window.close)
    app.begun = window
    return window
app.make_window = closing
shop = Path(sys.argv[1])
if sys.argv[3] == "closed":
    code = app.run(shop)
else:  # an application nobody runs, and a window nobody closes
    app.app = app.make_app(["ravden"])
    closing(app.app, settings_file=shop.parent / "s.json", path=shop).show()
    code = 0
print("owned", bool(ending.owned(QObject)))
sys.exit(code)
"""


class TheEnd(unittest.TestCase):
    def test_the_toolkit_finds_nothing_of_ours_to_take_apart_at_exit(self):
        with tempfile.TemporaryDirectory() as folder:
            shop = Path(folder) / "lane.ravden"
            ferrow_lane.build(shop, datetime.now(UTC))
            env = os.environ | {"QT_QPA_PLATFORM": "offscreen", "RAVDEN_HOME": folder}
            for wait_ms, how, owned in (("0", "closed", "False"), ("400", "closed", "False"), ("0", "open", "True")):
                words = [sys.executable, "-c", ENDED, str(shop), wait_ms, how]
                done = subprocess.run(words, capture_output=True, text=True, env=env)
                with self.subTest(how, after_ms=wait_ms):
                    self.assertEqual(done.stdout.split(), ["owned", owned, "left", "0"], done.stderr)
                    self.assertEqual(done.returncode, 0, done.stderr)


if __name__ == "__main__":
    unittest.main()
