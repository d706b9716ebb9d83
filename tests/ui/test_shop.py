"""The Shop place: what it says of the air and the tools, and that its picture shows it."""

from datetime import timedelta
from unittest import mock

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from ravden.journal.kinds.air import AirLogged, AirSeries, AirUsual
from ravden.journal.kinds.rate import RateAccepted
from ravden.ui.places.shop import presenter
from tests.ui.support import NOW, WindowTest, settle
from tests.ui.test_session import SessionTest


def log(hours, temp=18.0):
    return AirSeries(
        source="log", hours=tuple(hours), temp_C=(temp,) * len(hours), rh=(0.5,) * len(hours), name="x.csv"
    )


class Says(SessionTest):
    def show(self, **found):
        return presenter.show(self.session, found)

    def test_the_air_now_and_its_dew_point(self):
        shown = self.show()
        self.assertEqual(shown.heading, "21 °C, 47 % humidity now, logged by hand")
        self.assertIn("Dew point 9 °C", shown.detail)
        self.assertEqual((shown.now - shown.start).days, 49)
        self.assertEqual([p.temp_C for p in shown.points], [20, 19, 21])

    def test_a_gap_is_told_and_bridged(self):
        self.session.log(AirUsual(temp_C=(12.0,) * 12, rh=(0.7,) * 12))
        self.session.log(log((0.0, 1.0, 2.0, 60.0, 61.0)), at=NOW - timedelta(days=5))
        shown = self.show()
        self.assertIn("gap", shown.detail)
        self.assertGreaterEqual(len(shown.gaps), 1)
        begin, end = shown.gaps[0]
        self.assertEqual((end - begin).total_seconds() / 3600, 60 - 2 - 6)
        self.assertIn("usual", {p.source for p in shown.points})

    def test_without_any_air_it_says_what_is_taken(self):
        for entry in [e for e in self.session.entries if isinstance(e.body, AirLogged)]:
            self.session.take_back(entry.id)
        shown = self.show()
        self.assertIn("No shop air logged", shown.heading)
        self.assertIn("as warm as each instrument's bench", shown.detail)

    def test_what_finishes_and_tools_do_here(self):
        found = {"tern": self.session.request("tern").run(), "wren": self.session.request("wren").run()}
        tools = dict(self.show(**found).tools)
        self.assertRegex(tools["Sprayed lacquer"], r"dries as assumed .*lays down \d.% less than nominal")
        self.assertIn("is not known yet", tools["Pad shellac"])
        self.session.log(RateAccepted(material="lacquer-sprayed", ln_mean=-0.2, ln_sd=0.08))
        moved = dict(self.show(tern=self.session.request("tern").run()).tools)
        self.assertIn("dries 18\u00a0% slower than assumed", moved["Sprayed lacquer"])

    def test_a_rate_for_what_nobody_uses_is_refused(self):
        from ravden.core.errors import InputError

        for body in (
            RateAccepted(material="two-part-clear", ln_mean=0.0, ln_sd=0.1),
            RateAccepted(material="lacquer-sprayed", ln_mean=9.0, ln_sd=0.1),
            RateAccepted(material="lacquer-sprayed", ln_mean=0.0, ln_sd=0.0),
        ):
            self.assertRaises(InputError, self.session.log, body)


class Shows(WindowTest):
    def setUp(self):
        super().setUp()
        self.window.turn_to("shop")
        settle(self.window)

    def test_it_is_a_place_like_the_others(self):
        self.key(Qt.Key.Key_1, Qt.KeyboardModifier.ControlModifier)
        self.key(Qt.Key.Key_5, Qt.KeyboardModifier.ControlModifier)
        self.assertIs(self.window.stack.currentWidget(), self.window.shop)
        self.assertTrue(self.window.shop.buttons["air"].hasFocus())

    def test_the_picture_follows_what_is_logged(self):
        before = self.window.shop.plot.grab().toImage()
        self.session.log(AirLogged(temp_C=27, rh=0.8))
        settle(self.window)
        self.assertNotEqual(self.window.shop.plot.grab().toImage(), before)
        self.assertIn("27 °C, 80 %", self.window.shop.told.heading.text())
        self.window.looks.turn_units()
        settle(self.window)
        self.assertIn("81 °F", self.window.shop.told.heading.text())

    def test_its_buttons_ask(self):
        for name, kind in (("air", "air"), ("forecast", "forecast"), ("usual", "usual")):
            QTest.mouseClick(self.window.shop.buttons[name], Qt.MouseButton.LeftButton)
            self.assertEqual((self.window.card.kind, self.window.card.isHidden()), (kind, False))
            self.window.card.hide()

    def test_a_file_chosen_is_read_and_told_and_a_bad_one_refused(self):
        path = self.folder / "air.csv"
        for text, told in (("time,temp,rh\n2026-05-01T08:00:00Z,12,60\n", "1 row read"), ("hello\n", "air.csv: ")):
            path.write_text(text)
            with mock.patch("ravden.ui.shell.file_dialogs.QFileDialog.getOpenFileName", return_value=(str(path), "")):
                QTest.mouseClick(self.window.shop.buttons["log"], Qt.MouseButton.LeftButton)
            settle(self.window)
            self.assertIn(told, self.window.notice.text.text())

    def test_a_card_cannot_be_weighed_without_a_scale(self):
        self.assertFalse(self.window.shop.weigh.isEnabled())
        self.window.shop.weight_taken.emit()
        self.assertIn("let the scale speak", self.window.notice.text.text())

    def test_it_paints_in_the_dark_too(self):
        light = self.window.shop.plot.grab().toImage()
        self.window.looks.turn_theme()
        settle(self.window)
        self.assertNotEqual(self.window.shop.plot.grab().toImage(), light)
        self.assertGreater(self.colours(self.window.shop.plot), 10)
