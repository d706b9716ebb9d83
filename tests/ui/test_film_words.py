"""What the Film place's panels say: trials, plans, entries, waits and the card's verdict, in words and either unit."""

from dataclasses import replace
from datetime import timedelta

from ravden.core.ahead.counsel import counsel
from ravden.core.ahead.waits import waits
from ravden.core.ahead.whatif import tried
from ravden.core.ahead.witness import witness
from ravden.core.errors import InputError
from ravden.journal.kinds.air import AirLogged
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.reading import ReadingLogged
from ravden.journal.kinds.sanding import SandingLogged
from ravden.text import words
from ravden.text.measure_words import measure_next
from ravden.text.say import fault
from ravden.text.units import Units
from ravden.ui.places.film import advice, trial
from ravden.ui.places.film import waits as waits_words
from ravden.ui.places.film import witness as witness_words
from ravden.ui.places.film.trial import Trial
from tests.ui.test_session import NOW, SessionTest


class Words(SessionTest):
    def outlook(self, instrument, zone="top"):
        self.session.select(instrument, "test")
        return self.session.request(instrument, zone=zone, advise=True).run()


class Trials(Words):
    def said(self, found, asked, result=None):
        return trial.show(self.session, found, asked, result)

    def test_the_usual_coat_is_the_methods(self):
        found = self.outlook("heron")
        usual = trial.usual(self.session.catalogue, found)
        self.assertAlmostEqual(trial.dry_um(self.session.catalogue, found.project, usual), 12, places=6)
        self.assertEqual(usual.coats, 3)
        pad = trial.usual(self.session.catalogue, self.outlook("wren"))
        self.assertTrue(pad.padded)
        self.assertAlmostEqual(trial.dry_um(self.session.catalogue, self.outlook("wren").project, pad), 3, places=6)

    def test_with_nothing_moved_it_is_the_plan_to_the_digit(self):
        """In a method of one build and in one of several, whose later coats are laid once and at their own film."""
        for name in ("tern", "heron", "wren"):
            found = self.outlook(name)
            usual = trial.usual(self.session.catalogue, found)
            result = tried(found, trial.what_if(self.session.catalogue, found, usual))
            self.assertEqual(result.finished_h, found.forward.finished_h, name)
            self.assertEqual(result.outlook.forward.coats, found.forward.coats, name)
            self.assertEqual(result.outlook.forward.windows, found.forward.windows, name)
            more = tried(found, trial.what_if(self.session.catalogue, found, replace(usual, coats=usual.coats + 1)))
            own = [c.dry_um for c in found.forward.coats if not c.finish]
            tried_own = [c.dry_um for c in more.outlook.forward.coats if not c.finish]
            self.assertEqual(len(tried_own), len(own) + 1, name)

    def test_thinner_changes_film_and_limits(self):
        found = self.outlook("heron")
        thick, thin = (Trial(padded=False, amount=65, mix=m, coats=3) for m in (0.0, 0.5))
        dry = [trial.dry_um(self.session.catalogue, found.project, t) for t in (thick, thin)]
        self.assertGreater(dry[0], 1.3 * dry[1])
        self.assertGreater(self.said(found, thick).bar.upright[1], self.said(found, thin).bar.upright[1])

    def test_the_verdict_follows_the_air(self):
        asked = Trial(padded=False, amount=60, mix=0.2, coats=3)
        self.assertEqual(self.said(self.outlook("heron"), asked).tone, "open")
        self.session.log(AirLogged(temp_C=27, rh=0.74))
        near = self.said(self.outlook("heron"), asked)
        self.assertEqual(near.tone, "warn")
        self.assertIn("dew point", near.verdict)

    def test_the_outcome_names_film_odds_and_day(self):
        found = self.outlook("heron")
        asked = Trial(padded=False, amount=67, mix=0.2, coats=5)
        waiting = self.said(found, asked)
        self.assertIn("Working it out", waiting.outcome)
        result = tried(found, trial.what_if(self.session.catalogue, found, asked))
        told = self.said(found, asked, result)
        self.assertRegex(
            told.outcome,
            r"In the end: \d+ µm on the top \(\d+–\d+ µm\), (over )?\d+ % sure of 50 µm. Ready for the case",
        )

    def test_us_units_reach_the_panel(self):
        found = self.outlook("heron")
        self.session.units = Units(system="us")
        told = self.said(found, Trial(padded=False, amount=60, mix=0.2, coats=3))
        self.assertEqual(told.amount, "2.4 mil")
        self.assertIn("mil", told.verdict)
        self.assertEqual(trial.how(told.trial, self.session.units), "2.4 mil wet, thinned 20 %")

    def test_with_every_zone_masked_there_is_nothing_to_try(self):
        from ravden.journal.kinds.zones import ZonesSet

        names = tuple(z.name for z in self.session.shop.racked["wren"].project.zones)
        self.session.log(ZonesSet(masked=names), instrument="wren")
        self.assertRaises(InputError, trial.usual, self.session.catalogue, self.outlook("wren"))


class Advice(Words):
    def test_the_best_measurement_is_named_with_what_it_buys(self):
        found = self.outlook("heron")
        text = measure_next(self.session, found, found.counsel)
        self.assertRegex(
            text, r"Worth measuring: the sides, film gauge, 3 touches\. That takes the sides from ±\S+ to ±\S+ µm"
        )
        for um in (40, 41, 40, 42):
            self.session.log(ReadingLogged(zone="edges", um=um, n=9), instrument="heron")
        again = self.outlook("heron")
        self.assertNotEqual(measure_next(self.session, again, again.counsel), text)

    def test_enough_coats_is_said_as_such(self):
        self.session.log(CoatLogged(dry_um=12, count=4), instrument="heron")
        found = self.outlook("heron")
        tone, text = advice.plan(self.session, found, found.counsel).lines[0]
        self.assertEqual(tone, "open")
        self.assertIn("would do", text)

    def test_a_floor_out_of_reach_is_said(self):
        from dataclasses import replace

        from msgspec import structs

        found = self.outlook("heron")
        item = structs.replace(found.project.instrument, min_film_um=4000)
        high = replace(found, project=structs.replace(found.project, instrument=item))
        tone, text = advice.plan(self.session, high, counsel(high)).lines[0]
        self.assertEqual(tone, "warn")
        self.assertIn("No number of coats", text)

    def test_entries_are_the_newest_first_and_carry_their_numbers(self):
        self.session.log(SandingLogged(um=5, grade="P600"), instrument="heron")
        self.session.log(CoatLogged(dry_um=10, count_odds=((1, 0.5), (2, 0.5))), instrument="heron")
        found = self.outlook("heron")
        rows = advice.entries(self.session, found, found.counsel)
        self.assertIn("1 or 2 coats", rows[0].what)
        self.assertIn("level P600", rows[1].what)
        self.assertTrue(rows[1].did.startswith("−"))
        ids = [e.id for e in self.session.entries]
        self.assertTrue(all(row.id in ids for row in rows))

    def test_layering_films_are_told_about_witness_lines(self):
        from dataclasses import replace

        from msgspec import structs

        found = self.outlook("heron")
        layered = replace(
            found,
            project=structs.replace(found.project, material=structs.replace(found.project.material, dissolving=False)),
        )
        said = " ".join(text for _, text in advice.plan(self.session, layered, counsel(layered)).lines)
        self.assertIn("would keep them to 1 in 10", said)


class Waits(Words):
    def test_open_windows_say_since_when_and_others_their_range(self):
        found = self.outlook("tern")
        shown = waits_words.show(self.session, found, waits(found))
        rows = {r.label: r for r in shown.rows}
        self.assertEqual((rows["Scuff"].when, rows["Scuff"].tone), ("now", "open"))
        self.assertTrue(rows["Scuff"].range.startswith("since"))
        self.assertRegex(rows["Case"].when, r"^likely ready .* \(nine in ten by ")
        self.assertIn("a first estimate", shown.note)
        self.assertIn("200 samples", waits_words.show(self.session, found, waits(found, 200)).note)

    def test_bare_wood(self):
        shown = waits_words.show(self.session, self.outlook("tern"), None)
        self.assertEqual(shown.rows, ())
        self.assertIn("Bare wood", shown.lines[0][1])

    def test_the_cards_verdict(self):
        found = self.outlook("tern")
        verdict = witness(found)
        shown = witness_words.show(self.session, found, verdict)
        said = " ".join(shown.lines)
        for part in ("4 weighings", "of dry film", "solvent left", words.rate(verdict.fit.mean)):
            self.assertIn(part, said)
        self.assertEqual(shown.rows[0], ("", "now dated", "would be"))
        self.assertEqual([r[0] for r in shown.rows[1:]], ["Next coat", "Scuff", "Level sand", "Buff", "Case"])
        self.assertTrue(shown.can_accept)

    def test_a_reason_not_to_fit_is_a_sentence(self):
        with self.assertRaises(InputError) as caught:
            witness(self.outlook("heron"))
        shown = witness_words.refused(self.session, caught.exception)
        self.assertTrue(shown.lines[0].startswith("Weigh the witness card"))
        self.assertFalse(shown.can_accept)

    def test_a_card_before_any_coat_is_refused_when_logged(self):
        from ravden.catalogue.assemble import measures_of
        from ravden.journal.kinds.instrument import InstrumentAdded

        body = InstrumentAdded(
            id="new", name="New", instrument_kind="viola", measures=measures_of(self.session.catalogue.kind("viola")),
            material="lacquer-sprayed", method="lacquer-fine-start", sheen="gloss", min_film_um=50,
        )  # fmt: skip
        self.session.log(body, instrument="new", at=NOW - timedelta(days=1))
        with self.assertRaises(InputError) as caught:
            self.session.log(ReadingLogged(what="card", um=50), instrument="new")
        self.assertIn("no film to measure yet", fault(caught.exception))


class Rates(Words):
    def test_a_factor_in_plain_words(self):
        self.assertEqual(words.rate(0.0), "dries as assumed")
        self.assertEqual(words.rate(0.2), "dries 22 % faster than assumed")
        self.assertEqual(words.rate(-0.2), "dries 18 % slower than assumed")

    def test_readings_in_a_few_words(self):
        cases = (
            (ReadingLogged(zone="top", um=88), "film gauge, top: 88 µm"),
            (ReadingLogged(what="comb", zone="top", um=50, high_um=75, landed=0.2), "wet comb, top: 50–75 µm wet"),
            (ReadingLogged(what="card", um=90, how="1.2 g"), "witness card weighed: 1.2 g"),
            (ReadingLogged(what="through", zone="edges", spot=True), "wood or colour shows in a spot of edges"),
            (ReadingLogged(what="no-print"), "no print overnight"),
        )  # fmt: skip
        for body, text in cases:
            self.assertEqual(words.reading(body, Units()), text)
