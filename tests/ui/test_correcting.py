"""Correct: what is typed is what is kept; with nothing changed nothing changes, and a change changes only itself."""

from datetime import timedelta

from hypothesis import given, settings
from hypothesis import strategies as st
from PyQt6.QtWidgets import QComboBox, QWidget

from ravden.core.errors import InputError
from ravden.journal.kinds.air import AirLogged
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.reading import ReadingLogged
from ravden.journal.kinds.sanding import SandingLogged
from ravden.ui.app import make_app
from ravden.ui.forms.log_card import LogCard
from ravden.ui.forms.logging_acts import Acts
from tests.ui.test_session import NOW, SessionTest

ZONES = st.sampled_from((None, ("top",), ("top", "back", "sides")))
ODDS = st.sampled_from(((), ((9, 0.7), (10, 0.3))))
um = st.floats(1.0, 30.0)
# By key, by the booth or by an older version: nothing of what was typed is kept.
BODIES = st.one_of(
    st.builds(CoatLogged, dry_um=um, zones=ZONES, count_odds=ODDS, how=st.sampled_from(("", "150 ml/min, 1 passes"))),
    st.builds(CoatLogged, dry_um=um, count=st.integers(2, 9), finish=st.sampled_from(("", "shellac-pad"))),
    st.builds(SandingLogged, um=st.floats(0.1, 2.0), purpose=st.sampled_from(("scuff", "level")), mode=st.just("wet"),
              grade=st.just("P400"), zones=ZONES, part=st.booleans(), minutes=st.floats(0, 9)),
    st.builds(AirLogged, temp_C=st.floats(10, 30), rh=st.floats(0.2, 0.8)),
    st.builds(ReadingLogged, zone=st.just("top"), um=um, n=st.integers(1, 9), place=st.just((31.25, -40.5))),
    st.builds(ReadingLogged, what=st.just("card"), um=um, how=st.just("0.046 g")),
    st.builds(ReadingLogged, what=st.just("gloss"), zone=st.just("top"), gu60=st.floats(3, 90)),
    st.builds(ReadingLogged, what=st.sampled_from(("through", "not-through")), zone=st.just("top"), spot=st.booleans(),
              place=st.just((3.0, 4.0))),
)  # fmt: skip
WHEN = st.integers(0, 6 * 3600 - 1).map(lambda s: timedelta(seconds=s, microseconds=17))
# Each way a form can be filled in, with another number for each.
FORMS = (
    ("coat", "dry", {"dry_um": "11.125"}, {"dry_um": "12"}),
    ("coat", "wet", {"wet_um": "61.5", "thinner": "35"}, {"wet_um": "60"}),
    ("coat", "gun", {"fluid": "171", "travel": "22", "overlap": "66"}, {"passes": "2"}),
    ("coat", "volume", {"ml": "120", "transfer": "30"}, {"ml": "130"}),
    ("coat", "can", {"grams": "81"}, {"grams": "82"}),
    ("coat", "brush", {"wet_um": "31"}, {"thinner": "5"}),
    ("coat", "cloth", {"ml": "22", "left": "3"}, {"left": "4"}),
    ("sanding", "", {"um": "3.0625", "grade": "P800"}, {"minutes": "8"}),
    ("reading", "gauge", {"um": "88.125", "n": "5"}, {"n": "7"}),
    ("reading", "card", {"g": "0.0461", "cm2": "50"}, {"g": "0.047"}),
    ("reading", "volume", {"ml": "120", "transfer": "30"}, {"thinner": "40"}),
    ("reading", "comb", {"um": "50", "high_um": "75", "thinner": "12"}, {"high_um": "80"}),
    ("reading", "micrometer", {"um": "88"}, {"um": "90"}),
    ("reading", "gloss", {"gu60": "41.5"}, {"gu60": "44"}),
    ("air", "", {"temp_C": "19.25", "rh": "41.5"}, {"rh": "43"}),
    ("cabinet", "", {"temp_C": "33", "hours": "7.5"}, {"rh": "22"}),
    ("forecast", "", {"day0": "18.25 51.5", "day1": "19 52"}, {"day1": "20 52"}),
)


class CorrectingTest(SessionTest):
    def setUp(self):
        super().setUp()
        self.app = make_app(["ravden"])
        self.session.select("heron", "rack")
        holder = QWidget()
        self.addCleanup(holder.deleteLater)
        self.card = LogCard(holder, lambda: self.session.units)
        self.acts = Acts(self.session, self.card)

    def fill(self, **typed):
        for name, text in typed.items():
            box = self.card.inputs[name]
            if isinstance(box, QComboBox):
                box.setCurrentIndex(box.findData(text))
            else:
                box.setText(text)

    def keep(self):
        self.card.submit()
        if self.card.as_typed.isVisibleTo(self.card):  # what fits nothing is asked about, and believed when asked
            self.card.as_typed.click()
        faults = [f.text() for f in (*self.card.faults.values(), self.card.fault) if f.text()]
        self.assertEqual(faults, [])
        return self.session.entries[-1]

    def by_form(self, kind, choice, typed):
        self.acts.ask(kind, None, "top", (5.5, 6.5), choice)
        self.fill(**typed)
        return self.keep()

    def corrected(self, entry, **typed):
        self.acts.correct(entry)
        self.assertEqual(self.card.keep.text(), "Correct it  (Enter)")
        self.fill(**typed)
        return self.keep()


class NothingChanged(CorrectingTest):
    @settings(max_examples=60)
    @given(body=BODIES, ago=WHEN, units=st.sampled_from(("metric", "us")))
    def test_correcting_nothing_changes_nothing(self, body, ago, units):
        self.session.set_units(units)
        entry = self.session.log(body, instrument="heron" if not isinstance(body, AirLogged) else "", at=NOW - ago)
        self.assertIs(self.corrected(entry), entry)
        self.session.undo()

    @settings(max_examples=60)
    @given(body=BODIES, ago=WHEN, units=st.sampled_from(("metric", "us")))
    def test_another_time_changes_the_time_alone(self, body, ago, units):
        self.session.set_units(units)
        entry = self.session.log(body, instrument="heron" if not isinstance(body, AirLogged) else "", at=NOW - ago)
        fixed = self.corrected(entry, at=f"{self.session.local(NOW - timedelta(hours=7)):%Y-%m-%d %H:%M}")
        self.assertEqual(fixed.at, NOW - timedelta(hours=7))
        kept = {f: getattr(fixed.body, f) for f in body.__struct_fields__ if f != "typed"}
        self.assertEqual(kept, {f: getattr(body, f) for f in body.__struct_fields__ if f != "typed"})
        self.session.undo()

    def test_every_form_comes_back_as_it_was_filled_in(self):
        for kind, choice, typed, other in FORMS:
            for units, then in (("metric", "us"), ("us", "metric")):
                with self.subTest(kind=kind, choice=choice, units=units):
                    self.session.set_units(units)
                    entry = self.by_form(kind, choice, typed)
                    self.session.set_units(then)
                    self.acts.correct(entry)
                    shown = self.card.typed()
                    self.assertEqual({k: shown[k] for k in typed}, typed)
                    self.assertIs(self.keep(), entry)
                    fixed = self.corrected(entry, **other)
                    self.assertEqual(fixed.at, entry.at)
                    self.session.undo()
                    self.session.set_units(units)
                    self.assertEqual(self.by_form(kind, choice, typed | other).body, fixed.body)
                    self.session.undo()


class OneChange(CorrectingTest):
    def test_the_count_alone_leaves_the_film_the_zones_and_how_it_is_known(self):
        body = CoatLogged(dry_um=12.3456, zones=("top", "back", "sides"), how="150 ml/min, 1 passes")
        fixed = self.corrected(self.session.log(body, instrument="heron"), count="2").body
        self.assertEqual((fixed.dry_um, fixed.zones, fixed.how, fixed.count), (12.3456, body.zones, body.how, 2))

    def test_another_film_is_no_longer_known_as_the_old_one_was(self):
        body = CoatLogged(dry_um=12.3456, how="150 ml/min, 1 passes", count_odds=((9, 0.7), (10, 0.3)))
        fixed = self.corrected(self.session.log(body, instrument="heron"), dry_um="13").body
        self.assertEqual((fixed.dry_um, fixed.how, fixed.count_odds), (13.0, "", body.count_odds))

    def test_a_card_of_an_older_shop_keeps_its_area(self):
        um = 0.0463 / 1.2 / 50.0 * 1e4
        entry = self.session.log(ReadingLogged(what="card", um=um, how="0.0463 g"), instrument="heron")
        twice = self.corrected(entry, g="0.0926").body
        self.assertAlmostEqual(twice.um, 2 * um, delta=0.01)

    def test_whatever_an_older_entry_says_of_itself_it_can_be_corrected(self):
        for how in ("", "some g", "0 g", "\u00bd g"):
            entry = self.session.log(ReadingLogged(what="card", um=9.0, how=how), instrument="heron")
            self.assertIs(self.corrected(entry), entry)

    def test_another_way_of_knowing_asks_for_its_own_fields(self):
        entry = self.session.log(CoatLogged(dry_um=12.3456, zones=("top", "back")), instrument="heron")
        self.acts.correct(entry)
        by = self.card.inputs["by"]
        by.setCurrentIndex(by.findData("wet"))
        by.activated.emit(by.currentIndex())
        self.assertIn("wet_um", self.card.inputs)
        self.fill(wet_um="70")
        fixed = self.keep()
        self.assertEqual((fixed.corrects, fixed.body.zones), (entry.id, ("top", "back")))
        self.assertAlmostEqual(fixed.body.dry_um, 70 * 0.1725, delta=3)
        self.assertIn("wet", fixed.body.how)

    def test_from_one_way_of_knowing_to_another_and_back(self):
        entry = self.by_form("coat", "gun", {"fluid": "171", "count": "2"})
        self.acts.correct(entry)
        for way in ("wet", "volume", "gun"):
            by = self.card.inputs["by"]
            by.setCurrentIndex(by.findData(way))
            by.activated.emit(by.currentIndex())
            self.assertEqual(self.card.inputs["count"].text(), "2")
        self.assertEqual(self.card.inputs["fluid"].text(), "171")
        self.assertIs(self.keep(), entry)
        self.acts.correct(entry)
        by = self.card.inputs["by"]
        by.setCurrentIndex(by.findData("volume"))
        by.activated.emit(by.currentIndex())
        self.fill(ml="90")
        fixed = self.keep()
        self.assertEqual((fixed.body.count, fixed.body.how), (2, "90 ml used, thinned 20 %"))

    def test_what_was_never_typed_and_cannot_be_told_back_is_taken_back_instead(self):
        entry = self.session.entries[0]
        self.assertRaises(InputError, self.acts.correct, entry)

    def test_the_first_of_several_keeps_its_day(self):
        half_ago = self.session.local(NOW - timedelta(minutes=30))
        entry = self.by_form("coat", "dry", {"dry_um": "11", "count": "3", "first": f"{half_ago:%H:%M}"})
        self.assertAlmostEqual(entry.body.over_h, 0.5, places=6)
        self.acts.correct(entry)
        self.assertEqual(self.card.typed()["first"], f"{half_ago:%Y-%m-%d %H:%M}")
        self.assertIs(self.keep(), entry)
        self.assertEqual(self.corrected(entry, count="4").body.over_h, entry.body.over_h)
        for typed, said in ((f"{self.session.local(NOW):%H:%M}", "before the last"), ("soon", "write 14:30")):
            self.acts.ask("coat", None, "top", None, "dry")
            self.fill(count="2", first=typed)
            self.card.submit()
            self.assertIn(said, self.card.faults["first"].text())
