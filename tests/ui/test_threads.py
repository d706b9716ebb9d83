"""Safe on two threads: a closed window leaves nothing alive that a worker could take apart, circles are looked for on
the GUI thread alone, and a painter is ended whatever happens to who paints."""

import gc
import threading
import unittest

from benchmarks.windows import orphans
from PyQt6.QtCore import QObject, QThreadPool, qInstallMessageHandler
from PyQt6.QtWidgets import QApplication, QWidget
from PyQt6.sip import isdeleted

from ravden.ui.app import make_app
from ravden.ui.collecting import Collecting
from ravden.ui.widgets.latest_job import LatestJob
from ravden.ui.widgets.painting import painting
from ravden.ui.widgets.picture import Picture
from tests.ui.support import WindowTest, settle


class Closed(WindowTest):
    def test_a_closed_window_leaves_nothing_alive(self):
        for place in ("film", "booth", "rubout", "shop", "methods", "rack"):
            self.window.turn_to(place)
            settle(self.window)
        while self.window.places.build_next():
            pass
        gc.collect()
        before = set(orphans())
        self._delete(self.window)
        self.window = QWidget()  # in its place, for who closes it
        self.assertEqual(sorted(set(orphans()) - before - {"QWidget"}), [])

    def _delete(self, window):
        if isinstance(window, QWidget):
            super()._delete(window)


class Waiting(WindowTest):
    def test_a_window_that_is_taken_apart_waits_for_no_work(self):
        """A pool taken apart with it would wait, holding the interpreter, for work that wants the interpreter."""
        rubout = self.window.places.at("rubout")
        go_on, begun = threading.Event(), threading.Event()

        def work():
            begun.set()
            go_on.wait(30)

        pools = [p for p in gc.get_objects() if isinstance(p, QThreadPool) and not isdeleted(p)]
        self.assertGreaterEqual(len(pools), 2, rubout)
        for pool in pools:
            self.assertFalse(isinstance(pool.parent(), QWidget), pool.parent())
        job = LatestJob(self.window)
        job.submit(work)
        begun.wait(10)
        self._delete(self.window)
        go_on.set()
        self.window = None
        self.window = self.open()


class Collected(unittest.TestCase):
    def test_circles_are_looked_for_in_one_thread(self):
        app = make_app(["ravden"])
        self.addCleanup(gc.enable)
        collecting, seen = Collecting(app), []

        class Circle:
            def __init__(self):
                self.me = self

            def __del__(self):
                seen.append(threading.current_thread())

        def work():
            for _ in range(3000):
                Circle()

        worker = threading.Thread(target=work)
        worker.start()
        worker.join()
        self.assertEqual(seen, [])
        self.assertFalse(gc.isenabled())
        for _ in range(3):
            collecting.look()
        gc.collect()
        self.assertEqual(len(seen), 3000)
        self.assertEqual(set(seen), {threading.current_thread()})
        collecting.settle()
        self.addCleanup(gc.unfreeze)
        self.assertGreater(gc.get_freeze_count(), 0)
        collecting.deleteLater()


class Painters(unittest.TestCase):
    def test_a_fault_in_the_middle_of_painting_ends_the_painter(self):
        app, kept, told = make_app(["ravden"]), [], []

        class Faulty(Picture):
            def paintEvent(self, event):
                try:
                    with self.painting() as painter:
                        painter.drawLine(0, 0, 5, 5)
                        raise ValueError("in the middle")
                except ValueError as error:
                    kept.append((error, painter))  # with its traceback, and so with all that was there

        before = qInstallMessageHandler(lambda kind, where, text: told.append(text))
        self.addCleanup(lambda: qInstallMessageHandler(before))
        shown = Faulty()
        self.addCleanup(shown.deleteLater)
        shown.resize(40, 40)
        shown.show()
        for _ in range(3):
            shown.repaint()
            app.processEvents()
        self.assertGreater(len(kept), 2)
        self.assertFalse(any(painter.isActive() for _, painter in kept))
        self.assertEqual([t for t in told if "painter" in t.lower()], [])

    def test_it_paints(self):
        make_app(["ravden"])
        from PyQt6.QtGui import QColor, QImage

        image = QImage(4, 4, QImage.Format.Format_RGB32)
        image.fill(0)
        with painting(image) as painter:
            painter.fillRect(0, 0, 4, 4, QColor("#ff0000"))
        self.assertEqual(image.pixelColor(1, 1).red(), 255)
        self.assertIsInstance(QApplication.instance(), QObject)
