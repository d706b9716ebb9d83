"""What is said once to who has worked with an earlier Ravden."""

from ravden.app import once
from ravden.journal.kinds.rate import RateAccepted
from ravden.journal.kinds.sanding import SandingLogged
from tests.ui.support import WindowTest, settle


class Once(WindowTest):
    def test_changed_times_are_told_once_and_only_to_who_has_sanded(self):
        self.assertNotIn("reckoned anew", self.window.notice.text.text())
        self.session.log(SandingLogged(um=5, grade="P800", mode="wet", part=True), instrument="tern")
        settle(self.window)
        self.assertEqual(once.due(self.session.entries, ()), (once.TIMES,))
        self.window = self.open()
        self.assertIn("reckoned anew", self.window.notice.text.text())
        self.window.notice.read.click()
        self.assertTrue(self.window.notice.isHidden())
        self.session.log(RateAccepted(material="lacquer-sprayed", ln_mean=0.1, ln_sd=0.1))
        settle(self.window)
        self.assertEqual(once.due(self.session.entries, self.window.remembered.told), (once.WAITS,))
        self.window.remembered.told.append(once.WAITS)
        self.compare()
        self.window = self.open()
        self.assertNotIn("reckoned anew", self.window.notice.text.text())

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
