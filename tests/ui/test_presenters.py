"""What the places say, without a window."""

from datetime import timedelta

from ravden.app import by_plan
from ravden.app.next_act import next_act, when_text
from ravden.catalogue.assemble import body
from ravden.core.record import Coat
from ravden.core.rubout.rub_out import Ask, rub_out
from ravden.journal.kinds.air import AirLogged
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.reading import ReadingLogged
from ravden.journal.kinds.sanding import SandingLogged
from ravden.ui.places.film import presenter as film
from ravden.ui.places.instrument import presenter as page
from ravden.ui.places.rack import presenter as rack
from ravden.ui.places.rubout import presenter as rubout
from tests.ui.test_session import NOW, SessionTest


class Says(SessionTest):
    def outlook(self, instrument, **kw):
        return self.session.request(instrument, **({"zone": "top"} | kw)).run()

    def act(self, instrument):
        found = self.outlook(instrument)
        act = next_act(self.session, found, instrument)
        return act.what, when_text(act, self.session.local(self.session.now)), act.open


class NextActs(Says):
    def test_a_coat_that_may_be_laid_now_and_one_that_may_not_yet(self):
        self.assertEqual(self.act("heron"), ("Coat 8 of 10", "now", True))
        self.session.log(CoatLogged(dry_um=12), instrument="heron")
        what, when, ready = self.act("heron")
        self.assertEqual((what, when, ready), ("Coat 9 of 10", "from today 16:30", False))
        self.clock.turn(hours=1.5)
        self.session.log(CoatLogged(dry_um=12), instrument="heron")
        self.assertEqual(self.act("heron")[1], "from tomorrow 08:00")

    def test_a_window_open_and_one_to_come(self):
        what, when, ready = self.act("wren")
        self.assertEqual((what, ready), ("Level sand", True))
        self.assertTrue(when.startswith("open since "), when)
        what, when, ready = self.act("tern")
        self.assertEqual((what, ready), ("Level sand", False))
        self.assertRegex(when, r"^(planned \w+.*; )?likely ready \w+.* .nine in ten")

    def test_the_way_through_to_the_end(self):
        self.clock.turn(days=40)
        self.assertEqual(self.act("tern")[0], "Level sand")
        self.session.log(SandingLogged(um=7), instrument="tern")
        self.assertEqual(self.act("tern")[0], "Rub out")
        self.session.log(SandingLogged(um=3, purpose="rub-out"), instrument="tern")
        self.assertEqual(self.act("tern")[0], "Unmask, relieve, clean, refit")
        by_plan.log_next_step(self.session)
        self.assertEqual(self.act("tern")[0], "Case or hang")

    def test_a_freezing_shop_has_no_end_in_sight(self):
        self.session.log(AirLogged(temp_C=-18), at=NOW - timedelta(days=5))
        what, when, ready = self.act("tern")
        self.assertEqual((what, ready), ("Level sand", False))
        self.assertIn("does not dry here", when)


class RackSays(Says):
    def test_lanes_before_and_after_the_cure_is_known(self):
        bare = rack.show(self.session, {})
        self.assertEqual([lane.name for lane in bare.lanes], ["Tern", "Wren", "Heron"])
        self.assertEqual(bare.told, ())
        self.assertTrue(all("working out" in lane.next_act for lane in bare.lanes))
        found = {i: self.outlook(i) for i in self.session.shop.racked}
        full = rack.show(self.session, found)
        heron = full.lanes[2]
        self.assertEqual((len(heron.coats), len(heron.planned_coats), len(heron.sandings)), (7, 3, 1))
        self.assertEqual([w.label for w in heron.windows], ["level sand", "buff", "case"])
        self.assertTrue(full.start < full.now < full.end)
        self.assertEqual([t.heading for t in full.told], ["Ready for hands", "Opens next", "Promise at risk"])

    def test_nothing_ready_is_said_too(self):
        self.clock.time = NOW.replace(hour=21)
        found = {"tern": self.outlook("tern")}
        if not next_act(self.session, found["tern"], "tern").open:
            self.assertIn("let it dry", rack.show(self.session, found).told[0].detail)


class FilmSays(Says):
    def show(self, instrument, **kw):
        found = self.outlook(instrument, **kw)
        return found, film.show(self.session, found, body(found.project.instrument.measures))

    def test_numbers_agree_with_the_ledger_and_carry_units_elsewhere(self):
        found, shown = self.show("tern")
        self.assertEqual([r.label for r in shown.rows][:5], ["Top", "Back", "Sides", "Contours", "End grain"])
        for row, zone in zip(shown.rows, found.zones, strict=True):
            self.assertEqual(row.film, f"{zone.film.mean_um:.0f}")
            self.assertIn("–", row.range)
        self.assertIn("promised", shown.about)
        self.assertGreaterEqual(shown.top_um, max(zone.film.mean_um for zone in found.zones[:1]))

    def test_the_gun_is_described_by_what_was_measured(self):
        _, known = self.show("tern")
        self.assertRegex(known.gun, r"lays down \d+.% less than nominal")
        _, carried = self.show("heron")
        self.assertRegex(carried.gun, r"lays down \d+.% less than nominal")
        for entry in [e for e in self.session.entries if isinstance(e.body, ReadingLogged)]:
            self.session.take_back(entry.id)
        _, unknown = self.show("heron")
        self.assertIn("gun is not known yet", unknown.gun)
        _, pad = self.show("wren")
        self.assertIn("pad is not known yet", pad.gun)

    def test_the_next_step_says_what_with_and_what_to_watch(self):
        _, heron = self.show("heron")
        self.assertIn("12 µm dry a coat; 3 coats a session, 1.5 h between.", heron.next_lines)
        _, wren = self.show("wren")
        self.assertTrue(any("off the flats" in line for line in wren.next_lines))
        self.assertTrue(any("dust" in line for line in wren.next_lines))
        self.assertTrue(all(shown.cautions for shown in (heron, wren)))

    def test_sections_at_any_moment(self):
        _, shown = self.show("tern")
        now = film.section(self.session, shown, shown.now_h)
        self.assertFalse(now.planned)
        self.assertEqual([text.split(":")[0] for _, text in now.lines], ["top", "middle", "wood"])
        later = film.section(self.session, shown, shown.now_h + 400)
        self.assertTrue(later.planned)
        before = film.section(self.session, shown, float(shown.timeline.hours[0]) - 2)
        self.assertEqual((before.film, before.lines), ("bare wood", ()))

    def test_harder_with_time_and_depth(self):
        found, shown = self.show("tern")
        line = shown.timeline
        now = line.index_at(shown.now_h)
        self.assertGreater(line.margin_K[now][-1], line.margin_K[now][0] + 5)
        self.assertGreater(line.margin_K[-1][0], line.margin_K[now][0] + 5)
        self.assertEqual(film.section(self.session, shown, found.now_h).lines[0][1], "top: hard")

    def test_each_zone_says_the_least_its_odds_are_of(self):
        found, shown = self.show("tern")
        least = {r.name: r.least for r in shown.rows}
        self.assertEqual((least["top"], least["neck"], least["edges"]), ("50", "38", "19"))
        for row, zone in zip(shown.rows, found.zones, strict=True):
            if zone.film.p05_um < zone.floor_um:
                self.assertNotIn(row.odds, ("under 1 %", "1–5 %"), row.label)

    def test_coats_and_cuts_past_and_planned_are_kept_apart(self):
        found, shown = self.show("heron")
        past = [a.at_h for a in found.project.acts if isinstance(a, Coat)]
        self.assertEqual(list(shown.coats_h), past)
        self.assertEqual(len(shown.planned_coats_h), 3)
        self.assertTrue(all(h >= shown.now_h for h in shown.planned_coats_h))
        self.assertEqual((len(shown.cuts_h), len(shown.planned_cuts_h)), (1, 2))

    def test_readings_of_this_zone_and_of_others(self):
        _, top = self.show("tern")
        _, sides = self.show("tern", zone="sides")
        self.assertEqual([r[2] for r in top.readings], [True, False])
        self.assertEqual([r[2] for r in sides.readings], [False, True])


class RubOutSays(Says):
    def test_built_or_not_yet(self):
        heron = rubout.show(self.session, self.outlook("heron"))
        self.assertIn("when the build is done", heron.about)
        self.assertEqual((heron.told.tone, heron.told.heading), ("plain", "Measure first, on Sides."))
        self.assertIn("A few touches of a gauge there settle it.", heron.told.detail)
        self.assertEqual([z.name for z in heron.zones.zones if z.measure], ["sides"])
        self.assertTrue(all(r.tone != "warn" for r in heron.ladder.rungs))
        tern = rubout.show(self.session, self.outlook("tern"))
        self.assertIn("as it is now", tern.about)
        self.assertTrue(tern.ladder.rungs)

    def test_what_the_ladder_is_for(self):
        for name, aim in (("tern", "to mirror"), ("wren", "level before the next round")):
            self.assertIn(aim, rubout.show(self.session, self.outlook(name)).about)
        wren = rubout.show(self.session, self.outlook("wren"))
        self.assertEqual([r.grade for r in wren.ladder.rungs], ["P1000"])
        self.assertIn(("key", "a key for the next coat"), wren.asked.sheens)
        self.clock.turn(days=2)
        self.session.log(SandingLogged(um=2), instrument="wren")
        done = rubout.show(self.session, self.outlook("wren"))
        self.assertEqual(
            (done.told.tone, done.told.heading, done.ladder.rungs), ("plain", "Nothing is to be sanded.", ())
        )

    def test_without_a_film_gauge_none_is_asked_for(self):
        self.session.set_tools(("comb", "scale"))
        found = self.outlook("heron")
        self.assertIn("A witness card weighed", rubout.show(self.session, found).told.detail)
        self.assertNotIn("gauge there", rubout.show(self.session, found).told.detail)

    def test_after_measuring_it_is_carried(self):
        for zone, um in (("top", 150), ("back", 150), ("sides", 130), ("neck", 130), ("head", 140),
                         ("edges", 90), ("contours", 130), ("end-grain", 110)):  # fmt: skip
            self.session.log(ReadingLogged(zone=zone, um=um, n=5), instrument="tern")
        self.clock.turn(days=30)
        shown = rubout.show(self.session, self.outlook("tern"))
        self.assertEqual((shown.told.tone, shown.told.heading), ("open", "Hard enough to sand now."))
        self.assertTrue(
            all(z.odds in ("under 1 %", "1–5 %", "kept off") for z in shown.zones.zones[:5]), shown.zones.zones
        )

    def test_film_left_falls_rung_by_rung(self):
        found = self.outlook("tern")
        asked = rub_out(found.rub_out.film, self.session.drawer, Ask(texture_um=18.0, target="mirror"), full=True)
        shown = rubout.show(self.session, found, asked)
        left = [shown.ladder.start_um, *(r.left_um for r in shown.ladder.rungs)]
        self.assertEqual(left, sorted(left, reverse=True))

    def test_the_ceiling_is_the_films_own(self):
        self.assertIn("about 91 gloss units", rubout.ceiling_note(1.51))


class PageSays(Says):
    def test_a_preview_follows_what_is_typed(self):
        kind = self.session.catalogue.kind("parlour-guitar")
        typed = page.start_values(kind, self.session.units)
        shown = page.preview(typed, kind, self.session.units)
        self.assertIn("Top and back 1119 cm² each", shown.words)
        wrong = page.preview(typed | {"length_mm": "long"}, kind, self.session.units)
        self.assertEqual((wrong.body, wrong.fault_field), (None, "length_mm"))
        self.session.set_units("us")
        inches = page.start_values(kind, self.session.units)
        self.assertEqual(inches["length_mm"], "18.50")
        same = page.preview(inches, kind, self.session.units)
        self.assertAlmostEqual(same.body.plan_cm2, shown.body.plan_cm2, delta=2)

    def test_a_method_says_why(self):
        text = page.method_words(self.session.catalogue, "shellac-pad-rounds", self.session.units)
        self.assertIn("13 coats of about 3 µm dry; 10–25 µm is usual", text)
