"""What is shown and typed: units, words for moments and margins, forms, the time axis, settings."""

import itertools
import tempfile
import unittest
from datetime import UTC, datetime, timedelta
from pathlib import Path

import numpy as np
from msgspec.structs import replace

from ravden.app import forms, settings
from ravden.core.errors import InputError, need_in
from ravden.core.stock.buying import Purchase
from ravden.core.stock.product import Can, Product
from ravden.journal.kinds.air import AirLogged
from ravden.journal.kinds.sanding import SandingLogged
from ravden.text import say, stock_words, wait_words, words
from ravden.text.units import Units
from ravden.ui.places.film.time_axis import day_ticks, warp

METRIC, US = Units(), Units(system="us")
NOW = datetime(2026, 5, 4, 15, 20, tzinfo=UTC)


class Shown(unittest.TestCase):
    def test_film_in_both_units(self):
        self.assertEqual(
            [METRIC.film(x) for x in (0, 0.34, 3.0, 9.96, 91.7)], ["0 µm", "0.3 µm", "3 µm", "10 µm", "92 µm"]
        )
        self.assertEqual([US.film(x) for x in (91.7, 5.08)], ["3.6 mil", "0.20 mil"])
        self.assertEqual(METRIC.film_range(-3, 104), "0–104 µm")
        for units in (METRIC, US):
            self.assertAlmostEqual(units.film_to_um(units.film_value(37)), 37)
            self.assertAlmostEqual(units.temperature_to_C(units.temperature_value(21.5)), 21.5)
            self.assertAlmostEqual(units.length_to_mm(units.length_value(470)), 470)
        self.assertEqual((METRIC.temperature(20), US.temperature(20)), ("20 °C", "68 °F"))
        self.assertEqual((METRIC.area(645.16), US.area(645.16)), ("645 cm²", "100 in²"))

    def test_long_hours_are_days_and_long_minutes_hours(self):
        self.assertEqual([say.hours(h) for h in (1.5, 47.0, 48.0, 100.0)], ["1.5 h", "47 h", "2 days", "4 days"])
        self.assertEqual([say.minutes(m) for m in (5.0, 89.0, 90.0)], ["5 min", "89 min", "1.5 h"])

    def test_a_purchase_says_what_would_spoil_where_it_is_worth_a_word(self):
        product = Product(id="p", name="P", kind="finish", material="shellac-pad", cans=(Can(ml=1000.0, price=30.0),))
        buy = Purchase(cans=(2,), ml=2000.0, price=60.0, spoils_ml=300.0)
        self.assertRegex(stock_words.buys(product, buy), r"^2 × 1 l, 60.* in all; about 300 ml of it would be too old")
        little = stock_words.buys(product, replace(buy, spoils_ml=90.0))
        self.assertRegex(little, r"^2 × 1 l, 60.* in all$")

    def test_moments_get_vaguer_with_distance(self):
        table = (
            (timedelta(0), "today 15:20"),
            (timedelta(days=1), "tomorrow 15:20"), (timedelta(days=-1), "yesterday 15:20"),
            (timedelta(days=5), "Sat 9 May"), (timedelta(days=300), "Sun 28 Feb 2027"),
        )  # fmt: skip
        for by, text in table:
            self.assertEqual(words.moment(NOW + by, NOW), text)

    def test_a_wait_is_said_in_one_form(self):
        soon, late = NOW + timedelta(days=3), NOW + timedelta(days=9)
        self.assertEqual(wait_words.ready(soon, late, NOW), "likely ready Thu 7 May (nine in ten by 13 May)")
        self.assertEqual(
            wait_words.told(soon, late, late, NOW), f"planned Wed 13 May; {wait_words.ready(soon, late, NOW)}"
        )
        self.assertEqual(wait_words.ready(soon, soon, NOW), "likely ready Thu 7 May (nine in ten)")
        self.assertEqual(wait_words.ready(soon, None, NOW), "likely ready Thu 7 May (nobody can say by when)")
        self.assertEqual(wait_words.ready(NOW - timedelta(days=2), soon, NOW), "open since Sat 2 May")
        self.assertEqual(wait_words.ready(None, None, NOW), "not within sight")
        self.assertEqual(wait_words.dated(soon, late), "likely ready Thu 7 May 2026 (nine in ten by 13 May 2026)")
        self.assertEqual(
            wait_words.why_later(late, "Ida", NOW),
            "waits until it is ready seven times in ten (Wed 13 May), and for Ida's hands",
        )
        self.assertEqual(wait_words.why_later(None, "", NOW), "waits for hands")
        self.assertEqual(wait_words.why_later(None, None, NOW), "")

    def test_waits_margins_and_minutes(self):
        self.assertEqual([words.wait(h) for h in (0.3, 1.5, 2, 20, 72, 700)],
                         ["20 min", "1.5 h", "2 h", "20 h", "3 days", "4 weeks"])  # fmt: skip
        self.assertEqual([words.margin(m) for m in (-40, -3, 4, 9, 16, 24)],
                         ["wet", "soft", "firm on top", "can be levelled", "can be buffed",
                          "ready for the case"])  # fmt: skip
        self.assertEqual([words.at_depth(m) for m in (-40, -3, 4, 9, 16)], ["wet", "soft", "firm", "firm", "hard"])
        self.assertEqual([words.kelvin(m) for m in (-0.3, 8.4, -21)], ["0 K", "+8 K", "−21 K"])
        self.assertEqual([words.minutes(m) for m in (2, 43, 120, 150)], ["5 min", "45 min", "2 h", "2.5 h"])
        self.assertEqual((words.plural(1, "coat"), words.plural(3, "coat")), ("1 coat", "3 coats"))

    def test_ranges_fail_on_nan(self):
        self.assertRaises(InputError, need_in, float("nan"), 0, 1, "x")


class Typed(unittest.TestCase):
    def test_numbers_as_people_type_them(self):
        self.assertEqual([forms.number(t, "x") for t in ("12", " 7,5 ", "−3")], [12, 7.5, -3])
        for bad in ("", "twelve", "nan", "inf", "1e400"):
            self.assertRaises(InputError, forms.number, bad, "x")

    def test_moments_as_people_type_them(self):
        self.assertEqual(forms.moment("", NOW), NOW)
        self.assertEqual(forms.moment("9:05", NOW), NOW.replace(hour=9, minute=5))
        self.assertEqual(forms.moment("Yesterday 18.30", NOW), NOW.replace(day=3, hour=18, minute=30))
        self.assertEqual(forms.moment("2026-04-30 08:15", NOW), datetime(2026, 4, 30, 8, 15, tzinfo=UTC))
        for bad in ("25:00", "soon", "yesterday", "2026-13-01"):
            with self.assertRaises(InputError) as caught:
                forms.moment(bad, NOW)
            self.assertEqual(caught.exception.path, "at")

    def test_forms_become_entries_in_either_unit(self):
        typed = {"um": "8", "grade": " P1500 ", "purpose": "level", "edges": "worked"}
        self.assertEqual(forms.read("sanding", typed, METRIC), SandingLogged(um=8, grade="P1500", edges_worked=True))
        self.assertEqual(forms.read("air", {"temp_C": "68", "rh": "45"}, US), AirLogged(temp_C=20, rh=0.45))

    def test_slugs_are_never_taken_twice(self):
        self.assertEqual(forms.slug("Mrs. Ôyl's Viola", set()), "mrs-yl-s-viola")
        self.assertEqual(forms.slug("Heron", {"heron", "heron-2"}), "heron-3")
        self.assertEqual(forms.slug("琴", set()), "instrument")


class Axis(unittest.TestCase):
    def test_time_stretches_where_things_happen_and_never_turns_back(self):
        events = [0, 1.5, 3, 24, 25.5, 27]
        line = warp(events, -3, 700)
        self.assertTrue((np.diff(line.places) > 0).all())
        session = line.place(4) - line.place(0)
        quiet = line.place(604) - line.place(600)
        self.assertGreater(session, 6 * quiet)
        for hour in (0.0, 13.0, 300.0):
            self.assertAlmostEqual(line.hour(line.place(hour)), hour, places=6)
        self.assertEqual(len(line.columns(800)), 800)

    def test_day_labels_keep_their_distance(self):
        line = warp([0, 24, 48], -3, 2000)
        ticks = day_ticks(line, NOW, [NOW.replace(hour=0) + timedelta(days=i) for i in range(84)], 800)
        places = [p * 800 for p, _ in ticks]
        self.assertTrue(all(b - a >= 50 for a, b in itertools.pairwise(places)))
        self.assertEqual(ticks[0][1], "4 May")


class Remembered(unittest.TestCase):
    def test_settings_come_back_and_damage_is_survived(self):
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "sub" / "settings.json"
            self.assertEqual(settings.load(path), settings.Settings())
            kept = settings.Settings(units="us", theme="dark", window=[1, 2, 1300, 900])
            for i in range(12):
                kept.remember(Path(folder) / f"{i}.ravden")
            settings.save(kept, path)
            again = settings.load(path)
            self.assertEqual((again.units, again.theme, len(again.recent)), ("us", "dark", 8))
            self.assertTrue(again.last_file.endswith("11.ravden"))
            path.write_text('{"units": "furlongs", "theme": "plaid"}')
            self.assertEqual((settings.load(path).units, settings.load(path).theme), ("metric", "light"))
            path.write_text("{")
            self.assertEqual(settings.load(path), settings.Settings())
