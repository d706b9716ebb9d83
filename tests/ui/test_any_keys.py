"""Keys of the Booth in any order, at any pace, with the clock jumping and instruments going: no fault, nothing lost."""

import random

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from ravden.app.clock import HandClock
from ravden.app.session import ShopSession
from ravden.catalogue.assemble import measures_of
from ravden.catalogue.tables import shipped
from ravden.journal.kinds.instrument import InstrumentAdded
from tests.ui.support import WindowTest, settle

PRESSES = 110
K = Qt.Key
KEYS = (
    *[K.Key_Space] * 14, *[K.Key_Backspace] * 2, K.Key_P, K.Key_M, K.Key_E, K.Key_N, K.Key_Z, K.Key_Escape, K.Key_Left,
    K.Key_Right, K.Key_Up, K.Key_Down, K.Key_A, K.Key_B, K.Key_1, K.Key_2, K.Key_3, K.Key_4, K.Key_5,
)  # fmt: skip
SECONDS = (*(0.1, 0.5, 5, 60, 70, 300, 1800) * 4, 5400, 8 * 3600, 3 * 86_400, 20 * 86_400, -3600)
OTHERS = ("light-cured-polyester", "two-part-clear", "waterborne-sprayed", "shellac-under-waterborne")


class AnyKeys(WindowTest):
    def setUp(self):
        super().setUp()
        found = self.session.catalogue
        for method in map(found.method, OTHERS):
            body = InstrumentAdded(
                id=method.id, name=method.id, instrument_kind="solid-slab", material=method.material, method=method.id,
                measures=measures_of(found.kind("solid-slab")), sheen="gloss", min_film_um=30.0,
            )  # fmt: skip
            self.session.log(body, instrument=method.id)
        self.wrong = []
        self.window.places.failed.connect(lambda outcome: self.wrong.append(f"{outcome.error}\n{outcome.trace}"))
        self.choose("heron", "booth")

    def test_no_order_of_keys_does_harm(self):
        chance = random.Random(11)
        booth = self.window.booth
        pages = set()
        for press in range(PRESSES):
            if press == PRESSES // 2:
                gone = next(e for e in self.session.entries if isinstance(e.body, InstrumentAdded))
                self.session.take_back(gone.id, "log")
            elif chance.random() < 0.05:
                self.session.select(chance.choice(list(self.session.shop.racked)), "test")
            else:
                QTest.keyClick(booth, chance.choice(KEYS))
            self.clock.turn(seconds=chance.choice(SECONDS))
            self.window.places.booth.tick.timeout.emit()
            pages.add(booth.page)
            if chance.random() < 0.3:
                settle(self.window)
            self.assertEqual((self.wrong, self.faults), ([], []), press)
        settle(self.window)
        self.assertEqual(pages, {"before", "run", "after"})
        self.assertGreater(len(self.session.entries), PRESSES // 3)
        here = ({n: r.acts for n, r in self.session.shop.racked.items()}, self.session.shop.session)
        self.session.close()
        again = ShopSession(shipped(), HandClock(self.clock.time))
        self.addCleanup(again.close)
        again.open(self.path)
        self.assertEqual(({n: r.acts for n, r in again.shop.racked.items()}, again.shop.session), here)
