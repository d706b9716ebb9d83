"""Waits by the built-in figures of before, beside what is said now, for a shop whose own rate multiplies them."""

from ravden.journal.kinds.rate import RateAccepted
from ravden.journal.kinds.sanding import SandingLogged
from tests.ui.support import WindowTest, settle


class Beside(WindowTest):
    def test_nobody_is_told_of_an_earlier_ravden(self):
        self.session.log(SandingLogged(um=5, grade="P800", mode="wet", part=True), instrument="tern")
        self.session.log(RateAccepted(material="lacquer-sprayed", ln_mean=0.1, ln_sd=0.1))
        settle(self.window)
        self.window = self.open()
        self.assertTrue(self.window.notice.isHidden(), self.window.notice.text.text())
        self.compare()

    def compare(self):
        """What was said before stands beside what is said now, for as long as it is asked."""
        self.choose("tern", "film")
        self.window.film.side.turn_to("waits")
        settle(self.window)
        panel = self.window.film.side.waits
        self.assertFalse(panel.compare.isHidden())
        self.assertFalse(any("before:" in cells[2].text() for cells in panel.cells))
        panel.compare.setChecked(True)
        settle(self.window)
        rows = {cells[0].text(): cells[2].text() for cells in panel.cells}
        self.assertRegex(rows["Buff"], r"\nbefore: \w+ \d+ \w+")
        panel.compare.setChecked(False)
        settle(self.window)
        self.assertNotIn("before:", panel.cells[3][2].text())
