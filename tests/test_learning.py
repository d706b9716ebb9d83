"""What a shop learns, in its journal: kept when an instrument goes, frozen, set back, used by plans at once; and what
was foretold worked out again from the journal as it stood."""

from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, datetime, timedelta

from msgspec.structs import replace

from ravden.app import checks, compare_two, finish_record, learnt_here, was_right
from ravden.app.clock import HandClock
from ravden.app.session import ShopSession
from ravden.app.session_words import session_words, spans
from ravden.catalogue.assemble import measures_of
from ravden.catalogue.tables import shipped
from ravden.core.ahead.foretold import FILM, MINUTES, READY, WINDOW
from ravden.core.errors import InputError
from ravden.demo import ferrow_book, ferrow_lane
from ravden.exchange import instrument
from ravden.journal.kinds.air import AirLogged
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.instrument import InstrumentAdded
from ravden.journal.kinds.learning import LearningRuled
from ravden.journal.kinds.look import LookNoted, PhotoNamed
from ravden.journal.kinds.reading import ReadingLogged
from ravden.journal.kinds.sanding import SandingLogged
from ravden.journal.kinds.session import SessionBegun, SessionEnded, SessionPaused
from ravden.journal.shelves import LATE
from tests.in_folder import InFolder, OnShop

NOW = datetime(2026, 5, 4, 15, tzinfo=UTC)
HOUR = timedelta(hours=1)


def added(name, method="lacquer-fine-start", kind="parlour-guitar"):
    found = shipped()
    return InstrumentAdded(
        id=name, name=name.title(), instrument_kind=kind, measures=measures_of(found.kind(kind)),
        material=found.method(method).material, method=method, sheen="gloss", min_film_um=50,
    )  # fmt: skip


class Taught(OnShop):
    def setUp(self):
        super().setUp()
        ferrow_lane.build(self.path, NOW, ("wren",))
        self.clock = HandClock(NOW)
        self.session = self.open()

    def later(self, **ago):
        self.clock.time += timedelta(**ago)

    def log(self, body, who=""):
        return self.session.log(body, instrument=who)

    def made(self, name, films=(130, 130, 80), texture=16.0, minutes=60.0):
        """An instrument coated, gauged on three zones, and levelled."""
        self.log(added(name))
        for _ in range(9):
            self.later(hours=2)
            self.log(CoatLogged(dry_um=12), name)
        self.later(days=25)
        for zone, um in zip(("top", "back", "sides"), films, strict=True):
            self.log(ReadingLogged(zone=zone, um=um, n=3), name)
        self.later(hours=1)
        self.log(
            SandingLogged(um=9, grade="P800", mode="wet", texture_um=texture, minutes=minutes, zones=("top",)), name
        )
        self.later(hours=1)

    def beliefs(self):
        return self.session.kept.teaching().beliefs()

    def figures(self):
        return learnt_here.figures(self.session, self.beliefs(), self.session.kept.applicators().run())

    def known(self):
        figures = (f for f in self.figures() if not f.key.startswith("gun/"))
        return {f.key: (round(f.ln, 4), round(f.sd, 4), f.readings) for f in figures}

    def figure(self, start):
        return next(f for f in self.figures() if f.key.startswith(start))


class Learns(Taught):
    def test_texture_and_minutes_are_learnt_and_plans_go_by_them_at_once(self):
        self.log(added("next"))
        before = self.session.request("next").run()
        for name in ("a", "b"):
            self.made(name)
        found = self.beliefs()
        self.assertGreater(found.of("texture/lacquer-fine-start").factor, 1.3)
        after = self.session.request("next").run()
        self.assertGreater(after.rub_out.texture_um, 1.3 * before.rub_out.texture_um)
        self.assertEqual(after.method.texture_um, after.rub_out.texture_um)
        paper = self.figure("minutes/")
        self.assertEqual((paper.name, paper.readings), ("Minutes: P800", 2))
        rung = {s.rung.abrasive.name: s.rung.pace for s in after.rub_out.ladder.steps}
        self.assertAlmostEqual(rung.get("P800", found.of(paper.key).factor), found.of(paper.key).factor)

    def test_zone_factors_come_with_the_third_instrument_and_reach_the_next(self):
        for name in ("a", "b"):
            self.made(name)
        self.assertFalse(any(f.key.startswith("zone/") for f in self.figures()))
        self.made("c")
        sides = self.figure("zone/waisted/spray/sides")
        self.assertEqual((sides.rests_on, sides.usual), ("3 instruments", "85 %"))
        self.assertLess(sides.ln, -0.05)
        self.assertEqual(len(sides.evidence), 3)
        self.log(added("next"))
        zones = {z.name: z for z in self.session.request("next").run().project.zones}
        self.assertLess(zones["sides"].k_mean, 0.85)
        self.log(added("slab", kind="solid-slab"))
        other = {z.name: z for z in self.session.request("slab").run().project.zones}
        self.assertEqual(other["sides"].k_mean, 0.85)

    def test_what_was_learnt_stays_when_the_instruments_go_and_the_file_is_read_in_parts(self):
        for name in ("a", "b", "c"):
            self.made(name)
        before = self.known()
        for name in ("a", "b", "c"):
            self.session.select(name, "test")
            self.session.hand_over(self.session.now)
        for i in range(LATE):
            self.session.journal.append(
                CoatLogged(dry_um=3), at=self.session.now + i * timedelta(seconds=1), logged_at=self.session.now,
                instrument="wren",
            )  # fmt: skip
        self.later(hours=1)
        self.again()
        self.assertIsNone(self.session.shop.book["a"].rack)
        self.assertEqual(self.known(), before)
        self.session.bring_back("b")
        self.assertEqual(self.known(), before)

    def test_frozen_it_stays_set_back_it_begins_anew_and_both_are_taken_back(self):
        self.made("a")
        figure = self.figure("texture/")
        learnt_here.freeze(self.session, figure)
        self.made("b", texture=60.0)
        self.assertAlmostEqual(self.figure("texture/").ln, figure.ln)
        self.assertTrue(self.figure("texture/").frozen)
        learnt_here.freeze(self.session, self.figure("texture/"))
        self.assertGreater(self.figure("texture/").ln, figure.ln)
        learnt_here.set_back(self.session, self.figure("texture/"))
        self.assertEqual(self.beliefs().of(figure.key).readings, 0)
        self.again()
        self.assertEqual(self.beliefs().of(figure.key).readings, 0)
        self.session.undo()
        self.assertEqual(self.beliefs().of(figure.key).readings, 2)

    def test_an_applicator_is_frozen_and_set_back(self):
        self.made("a", films=(170, 170, 140))
        gun = self.figure("gun/")
        self.assertGreater(gun.ln, 0.1)
        learnt_here.freeze(self.session, gun)
        self.log(added("next"))
        priors = self.session.request("next").applicator()
        self.assertAlmostEqual(priors.g_ln_mean, gun.ln)
        self.assertAlmostEqual(priors.g_ln_sd, gun.sd, places=6)
        learnt_here.set_back(self.session, gun)
        self.assertEqual(self.session.request("next").applicator().g_ln_mean, 0.0)

    def test_a_rate_is_set_back_to_what_is_assumed(self):
        from ravden.journal.kinds.rate import RateAccepted

        self.made("a")
        self.log(RateAccepted(material="lacquer-sprayed", ln_mean=0.3, ln_sd=0.1))
        rate = self.figure("rate/")
        self.assertIn("faster", rate.here)
        self.assertRaises(InputError, learnt_here.freeze, self.session, rate)
        learnt_here.set_back(self.session, rate)
        self.assertEqual(self.session.shop.rates["lacquer-sprayed"][0], 0.0)
        self.assertRaises(InputError, learnt_here.set_back, self.session, self.figure("rate/"))

    def test_what_is_no_figure_is_refused(self):
        for key, what in (("colour/red", "back"), ("cut", "melt"), ("cut" + "x" * 300, "back")):
            self.assertRaises(InputError, self.session.log, LearningRuled(key=key, what=what))
        with self.assertRaises(InputError):
            self.session.log(LearningRuled(key="cut", what="freeze", ln_mean=40.0, ln_sd=0.1))


class Hours(Taught):
    def session_of(self, coats=1, hours=1.5, pause=0.0):
        self.later(days=1)
        self.log(SessionBegun(instruments=("a",)))
        for i in range(coats):
            self.later(hours=hours if i == 0 else 3)
            self.log(CoatLogged(dry_um=12), "a")
        if pause:
            self.log(SessionPaused())
            self.later(hours=pause)
            self.log(SessionPaused(on=False))
        self.later(hours=0.1)
        self.log(SessionEnded())

    def words(self):
        told, racked = self.session.entries, self.session.shop.racked
        return session_words(spans(told), racked)

    def test_hours_come_from_begin_to_end_without_pauses_and_waits(self):
        self.log(added("a"))
        planned = next(s.hours for s in self.session.shop.racked["a"].method.stage if s.kind == "coats")
        self.session_of(hours=1.2)
        self.session_of(hours=1.2, pause=2.0)
        self.session_of(coats=3, hours=1.2)
        from math import exp

        one, paused, three = (exp(w.ln) for w in self.words())
        self.assertAlmostEqual(one, 1.3 / planned)
        self.assertAlmostEqual(paused, one)
        self.assertAlmostEqual(three, (1.3 + 2 * planned) / (3 * planned))
        self.assertEqual({w.key for w in self.words()}, {"hours/coats"})
        learnt = self.session.request("a").run()
        coats = next(s for s in learnt.method.stage if s.kind == "coats")
        self.assertGreater(coats.takes, 1.0)
        self.assertEqual(coats.hours, planned)

    def test_a_nail_between_coats_says_nothing_of_the_wait_after_all_of_them(self):
        self.log(added("a"))
        for what in ("nail-dents", "nail-holds"):
            self.log(CoatLogged(dry_um=12), "a")
            self.later(days=2)
            self.log(ReadingLogged(what=what), "a")
        asked = was_right.asked(self.session, "a")
        self.assertEqual([f for f in asked.run() if f.what == WINDOW], [])

    def test_a_session_with_paper_in_it_or_left_open_tells_nothing(self):
        self.log(added("a"))
        self.session_of()
        self.later(days=1)
        self.log(SessionBegun(instruments=("a",)))
        self.log(CoatLogged(dry_um=12), "a")
        self.log(SandingLogged(um=1, purpose="scuff"), "a")
        self.later(hours=1)
        self.log(SessionEnded())
        self.later(days=1)
        self.log(SessionBegun(instruments=("a",)))
        self.log(CoatLogged(dry_um=12), "a")
        self.assertEqual(len(self.words()), 1)

    def test_a_plan_that_is_kept_has_the_hours_as_they_were_told(self):
        from ravden.app import by_plan

        self.log(added("a"))
        for _ in range(3):
            self.session_of(hours=1.5)
        learnt = self.session.request("a").run().method.stage
        self.assertTrue(any(s.takes > 1 for s in learnt))
        self.session.select("a", "test")
        by_plan.edit_plan(self.session, learnt, "as it is", "test")
        self.assertTrue(all(s.takes == 1.0 for s in self.session.shop.racked["a"].plan))

    def test_sessions_of_before_the_file_was_opened_are_read(self):
        self.log(added("a", method="shellac-pad-rounds"))
        for _ in range(25):
            self.session_of(hours=0.5)
        count, (key,) = len(self.words()), {w.key for w in self.words()}
        self.assertEqual(count, 25)
        self.again()
        self.assertEqual(self.beliefs().of(key).readings, count)
        self.session.undo()  # the end of the last one
        self.assertEqual(self.beliefs().of(key).readings, count - 1)


class WasRight(InFolder):
    """The three guitars of the made-up shop."""

    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        import tempfile
        from pathlib import Path

        cls.home = tempfile.TemporaryDirectory()
        cls.addClassCleanup(cls.home.cleanup)
        path = Path(cls.home.name) / "lane.ravden"
        ferrow_lane.build(path, NOW)
        cls.session = ShopSession(shipped(), HandClock(NOW))
        cls.session.open(path)
        cls.addClassCleanup(cls.session.close)
        cls.found = {i: was_right.asked(cls.session, i).run() for i in was_right.finished(cls.session, 24)}

    def of(self, name, what):
        return [f for f in self.found[name] if f.what == what]

    def test_two_were_right_and_one_was_wrong_and_says_why(self):
        for name, right in (("plover", True), ("avocet", True), ("teal", False)):
            (wait,) = self.of(name, WINDOW)
            self.assertEqual((wait.tells, wait.inside), (True, right), name)
        self.assertIn("heater", self.session.shop.book["teal"].note)

    def test_every_kind_of_thing_that_came_is_told(self):
        self.assertEqual(len(self.of("plover", FILM)), 3)
        self.assertEqual(len(self.of("plover", MINUTES)), 2)
        self.assertEqual(len(self.of("plover", READY)), 1)
        self.assertEqual(self.found["gannet"], ())

    def test_it_is_told_from_the_journal_as_it_stood(self):
        """What was learnt later did not make what was said then any surer."""
        first, last = self.of("plover", MINUTES), self.of("teal", MINUTES)
        self.assertGreater(first[0].high / first[0].low, 1.2 * last[-1].high / last[-1].low)
        top, back = (next(f for f in self.of("plover", FILM) if f.label == z) for z in ("Top", "Back"))
        self.assertGreater(top.high / top.low, 1.2 * back.high / back.low)  # the gun was known once it was read
        asked = was_right.asked(self.session, "plover")
        told = [e for e in asked.entries if not isinstance(e.body, ReadingLogged) or e.body.zone != "back"]
        again = replace(asked, entries=tuple(told)).run()
        self.assertEqual([f for f in again if f.label == "Top"], [f for f in self.found["plover"] if f.label == "Top"])

    def test_another_thread_reads_the_record_by_a_way_of_its_own(self):
        asked = was_right.to_ask(self.session, "plover")
        with ThreadPoolExecutor(1) as pool:
            found = pool.submit(lambda: asked.elsewhere().run()).result()
        self.assertEqual(found, self.found["plover"])

    def test_nothing_is_asked_of_an_instrument_that_is_not_there(self):
        self.assertRaises(InputError, was_right.asked, self.session, "nobody")


class InTheBook(InFolder):
    def setUp(self):
        super().setUp()
        ferrow_lane.build(self.path, NOW)
        self.session = ShopSession(shipped(), HandClock(NOW))
        self.session.open(self.path)
        self.addCleanup(self.session.close)

    def typed(self, **more):
        return {f.name: f.value for f in checks.fields()} | more

    def test_looks_are_due_after_three_and_twelve_months_until_they_are_noted(self):
        self.assertEqual({(d.instrument, d.months) for d in checks.due(self.session)}, {("avocet", 3), ("teal", 3)})
        checks.log(self.session, "teal", self.typed(sink="slight", note="by the bridge"))
        self.assertEqual({d.instrument for d in checks.due(self.session)}, {"avocet"})
        coming = {(d.instrument, d.months) for d in checks.coming(self.session)}
        self.assertIn(("teal", 12), coming)
        text = checks.calendar(self.session).decode()
        self.assertIn("Look at Teal: 12 months on", text)
        self.assertNotIn("Holloway", text)

    def test_a_look_teaches_how_much_a_finish_sinks_and_is_kept(self):
        before = self.session.request("tern").run().shrink_left_um
        for name in ("teal", "avocet"):
            checks.log(self.session, name, self.typed(sink="clear"))
        learnt = self.session.kept.teaching().beliefs().sinks("lacquer-sprayed")
        self.assertGreater(learnt, 1.2)
        self.assertAlmostEqual(self.session.request("tern").run().shrink_left_um, learnt * before, places=4)
        self.session.close()
        self.session.open(self.path)
        self.assertEqual(len(self.session.shop.book["teal"].checks), 1)
        self.assertAlmostEqual(self.session.kept.teaching().beliefs().sinks("lacquer-sprayed"), learnt)
        self.session.undo()
        self.assertEqual(self.session.shop.book["avocet"].checks, ())
        self.assertLess(self.session.kept.teaching().beliefs().sinks("lacquer-sprayed"), learnt)

    def test_a_print_seen_months_later_speaks_of_the_rate(self):
        checks.log(self.session, "avocet", self.typed(print="yes"))
        found = [f for f in was_right.asked(self.session, "avocet").run() if f.label == "case"]
        self.assertEqual(len(found), 1)
        self.assertFalse(found[0].inside)

    def test_a_look_noted_late_counts_at_once_as_it_does_when_the_file_is_read_again(self):
        before = self.session.now - timedelta(days=10)
        checks.log(self.session, "teal", self.typed(sink="clear"))
        for _ in range(LATE):
            self.session.journal.append(AirLogged(temp_C=20, rh=0.45), at=self.session.now,
                                        logged_at=self.session.now)  # fmt: skip
        self.session.close()
        self.session.open(self.path)
        self.assertIsNone(self.session.shop.book["teal"].rack)
        checks.log(self.session, "teal", self.typed(sink="slight", at=before.strftime("%Y-%m-%d %H:%M")))
        seen = [c.sink for c in self.session.shop.book["teal"].checks]
        self.assertEqual(seen, ["slight", "clear"])
        learnt = self.session.kept.teaching().beliefs().sinks("lacquer-sprayed")
        self.session.close()
        self.session.open(self.path)
        self.assertEqual([c.sink for c in self.session.shop.book["teal"].checks], seen)
        self.assertAlmostEqual(self.session.kept.teaching().beliefs().sinks("lacquer-sprayed"), learnt)

    def test_one_that_was_looked_at_and_brought_back_is_taken_to_another_shop(self):
        checks.log(self.session, "plover", self.typed(sink="slight"))
        self.session.bring_back("plover")
        film = self.session.request("plover").run().ledger.mean_um("top")
        raw = instrument.write(self.session.entries, self.session.shop, "plover")
        other = ShopSession(shipped(), HandClock(NOW))
        other.open(self.path.with_name("other.ravden"), create=True)
        self.addCleanup(other.close)
        name = other.bring_in(raw, "plover.json")
        self.assertAlmostEqual(other.request(name).run().ledger.mean_um("top"), film, places=1)

    def test_a_look_before_it_was_handed_over_and_one_of_nothing_are_refused(self):
        self.assertRaises(InputError, checks.log, self.session, "teal", self.typed(at="2025-01-01"))
        self.assertRaises(InputError, checks.log, self.session, "tern", self.typed())
        self.assertEqual(self.session.shop.book["teal"].checks, ())

    def test_photos_of_it_are_told_of_in_the_record(self):
        self.session.select("tern", "test")
        seen = tuple(PhotoNamed(sha256=c * 64, name=f"{c}.jpg") for c in "ab")
        for _ in range(2):  # the same photos twice are the same photos
            self.session.log(LookNoted(zone="top", said="lows-left", photos=seen), instrument="tern")
        record = finish_record.record(self.session, self.session.request("tern").run())
        self.assertIn(("Photos", "2 photos beside the shop file"), record.lines)
        self.session.undo()
        self.session.undo()
        record = finish_record.record(self.session, self.session.request("tern").run())
        self.assertNotIn("Photos", [what for what, _ in record.lines])

    def test_two_are_told_side_by_side(self):
        one, other = (self.session.request_booked(n).run() for n in ("teal", "plover"))
        shown = compare_two.compared(self.session, one, other)
        rows = {what: (a, b) for what, a, b in shown.rows}
        self.assertEqual(shown.names, ("Teal", "Plover"))
        self.assertEqual(rows["Coats"], ("10", "10"))
        self.assertIn("µm", rows["Film, top"][0])
        self.assertIn("Print", rows["Went wrong"][0])
        self.assertIn("<b>", compare_two.html(shown))

    def test_what_is_corrected_does_not_teach_its_own_foretelling(self):
        self.session.bring_back("plover")
        before = [f for f in was_right.asked(self.session, "plover").run() if f.what == MINUTES]
        mine = [e for e in self.session.everything() if e.instrument == "plover"]
        timed = next(e for e in mine if isinstance(e.body, SandingLogged) and e.body.minutes > 0)
        self.session.correct(timed.id, replace(timed.body, minutes=4 * timed.body.minutes))
        after = [f for f in was_right.asked(self.session, "plover").run() if f.what == MINUTES]
        self.assertEqual([(f.low, f.likely, f.high) for f in after], [(f.low, f.likely, f.high) for f in before])
        self.assertNotEqual([f.came_low for f in after], [f.came_low for f in before])

    def test_it_comes_back_with_all_that_was_known_and_goes_again(self):
        film = self.session.request_booked("plover").run().ledger.mean_um("top")
        acts = self.session.read_booked("plover").acts
        checks.log(self.session, "plover", self.typed())
        self.session.bring_back("plover")
        self.assertEqual(self.session.shop.racked["plover"].acts, acts)
        self.assertAlmostEqual(self.session.request("plover").run().ledger.mean_um("top"), film, places=6)
        self.session.select("plover", "test")
        self.session.hand_over(self.session.now, person=ferrow_book.TO["plover"])
        self.assertEqual(self.session.read_booked("plover").acts, acts)
        self.assertEqual(self.session.people[self.session.shop.book["plover"].person], "M. Arden")
