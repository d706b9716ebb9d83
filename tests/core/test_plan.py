"""Journal and method folded forward: progress, dates, history and outlook."""

import unittest

from ravden.catalogue import assemble
from ravden.catalogue.tables import shipped
from ravden.core.ahead.forward import plan_forward
from ravden.core.ahead.outlook import outlook
from ravden.core.calendar.hours import WorkHours
from ravden.core.errors import InputError
from ravden.core.method.steps import Stage, progress
from ravden.core.record import Air, Coat, Instrument, Reading, Sanding, StepDone
from ravden.core.rubout.rub_out import Ask, RubFilm, Sands, rub_out, sands
from ravden.core.state.history import film_events, known, scale_of, thickest

CATALOGUE = shipped()
DRAWER = assemble.drawer_of(CATALOGUE, None)
LACQUER = CATALOGUE.method("lacquer-fine-start")
SHELLAC = CATALOGUE.method("shellac-pad-rounds")
NINE = WorkHours(hour_at_zero=9)
TEN_COATS = (0, 1.5, 3, 24, 25.5, 27, 48, 49.5, 51, 72)


def project(acts=(), method=LACQUER, kind="mandola", floor=50.0):
    found = CATALOGUE.kind(kind)
    item = Instrument(
        id="x", name="Heron", kind=kind, measures=assemble.measures_of(found), material=method.material,
        method=method.id, sheen="gloss", min_film_um=floor,
    )  # fmt: skip
    return assemble.project(CATALOGUE, item, tuple(acts))


def coats(hours=TEN_COATS, um=12.0):
    return tuple(Coat(at_h=h, dry_um=um) for h in hours)


class Progress(unittest.TestCase):
    def at(self, acts, method=LACQUER):
        found = progress(method, acts, 1e6)
        # Counted from the first coats: the work on the wood before them is passed over.
        first = next(i for i, s in enumerate(method.stage) if s.kind == "coats")
        return found.index - first, found.coats_in_stage, found.in_session

    def test_coats_fill_their_stage(self):
        self.assertEqual(progress(LACQUER, (), 1e6).index, 0)
        self.assertEqual(self.at(coats()[:7]), (0, 7, 1))
        self.assertEqual(self.at(coats()), (1, 0, 1))

    def test_level_and_rub_out_move_on_and_a_scuff_does_not(self):
        done = coats()
        scuff = Sanding(at_h=60, um=2, purpose="scuff")
        level = Sanding(at_h=400, um=8, purpose="level")
        rub = Sanding(at_h=700, um=3, purpose="rub-out")
        self.assertEqual(self.at((*done, scuff))[0], 1)
        self.assertEqual(self.at((*done, level))[0], 3)
        self.assertEqual(self.at((*done, level, level))[0], 3)
        self.assertEqual(self.at((*done, level, rub))[0], 5)

    def test_the_scuff_that_a_wait_stands_before_counts(self):
        """Two-part clear, and epoxy under lacquer: the coats after it are next, as soon as it is done."""
        for name in ("two-part-clear", "epoxy-under-lacquer"):
            method = CATALOGUE.method(name)
            wait = next(i for i, s in enumerate(method.stage) if s.kind == "wait" and s.window == "scuff")
            coats_of = next(s for s in method.stage if s.kind == "coats")
            acts = [Coat(at_h=3.0 * n, dry_um=20, finish=coats_of.finish) for n in range(coats_of.count)]
            self.assertEqual(progress(method, acts, 1e6).index, wait)
            scuffed = [*acts, Sanding(at_h=100, um=2, purpose="scuff")]
            self.assertEqual(progress(method, scuffed, 1e6).index, wait + 2, name)

    def test_two_or_three_coats_are_two_and_a_half(self):
        for low, mean in ((2, 2.5), (3, 3.5)):
            unsure = Coat(at_h=0, dry_um=12, count_odds=((low, 0.5), (low + 1, 0.5)))
            self.assertEqual(progress(LACQUER, [unsure], 1e6).coats_done, low)
            made = project([unsure])
            laid, _ = film_events(made, made.zone("top"), 1.0, 10.0)
            self.assertAlmostEqual(sum(c.dry_um for c in laid), 12 * mean)
            film = known(made, 10.0).ledger.film("top")
            self.assertAlmostEqual(film.mean_um, 12 * mean * 1.03, delta=0.06 * 12 * mean)
            sure = known(project([Coat(at_h=0, dry_um=12, count=low)]), 10.0).ledger.film("top")
            self.assertGreater(film.sd_um / film.mean_um, sure.sd_um / sure.mean_um)

    def test_a_step_done_begins_the_next_one_from_nothing(self):
        found = progress(LACQUER, [StepDone(at_h=1.0, step=LACQUER.stage[0].label)], 10.0)
        self.assertEqual((found.index, found.coats_in_stage, found.coats_done), (1, 0, 0))
        again = progress(LACQUER, [*coats()[:3], StepDone(at_h=80.0, step=LACQUER.stage[-1].label)], 100.0)
        self.assertEqual((again.index, again.coats_in_stage), (len(LACQUER.stage), 0))

    def test_a_coat_in_a_wait_starts_the_wait_again(self):
        level = Sanding(at_h=400, um=8, purpose="level")
        late = Coat(at_h=500, dry_um=12)
        self.assertEqual(self.at((*coats(), level, late))[0], 1)

    def test_what_lies_in_the_future_does_not_count(self):
        self.assertEqual(progress(LACQUER, coats(), 10).coats_done, 3)

    def test_two_rounds_of_shellac(self):
        first = tuple(Coat(at_h=24.0 * i, dry_um=3) for i in range(8))
        level = Sanding(at_h=300, um=2, purpose="level")
        self.assertEqual(self.at((*first, level), SHELLAC)[:2], (3, 0))
        self.assertEqual(self.at((*first, level, Coat(at_h=320, dry_um=3)), SHELLAC)[:2], (3, 1))

    def test_stages_are_checked(self):
        for bad in (
            lambda: Stage(kind="dance", label=""), lambda: Stage(kind="coats", label="", count=0),
            lambda: Stage(kind="wait", label="", window="never"),
        ):  # fmt: skip
            self.assertRaises(InputError, bad)


class Hours(unittest.TestCase):
    def test_the_shop_opens_and_closes(self):
        self.assertEqual(NINE.next_open(0), 0)  # nine in the morning
        self.assertEqual(NINE.next_open(-3), -1)  # six waits for eight
        self.assertEqual(NINE.next_open(12), 23)  # nine at night waits for the next morning
        self.assertEqual(NINE.next_morning(1), 23)


class Ahead(unittest.TestCase):
    def ahead(self, acts, now, method=LACQUER):
        p = project(acts, method)
        return p, plan_forward(
            p, method, known(p, now).ledger, now, NINE, Sands(level_um=7.0, rubout_um=3.0, key_um=7.0)
        )

    def test_the_rest_of_the_coats_keep_the_session_limit(self):
        _, found = self.ahead(coats()[:7], 49.0)
        self.assertEqual(len(found.coats), 3)
        self.assertEqual([c.at_h for c in found.coats[:2]], [49.5, 51.0])
        self.assertGreaterEqual(found.coats[2].at_h, 71.0)  # a fourth waits for the next morning

    def test_bare_wood_has_the_whole_plan(self):
        _, found = self.ahead((), 0.0)
        self.assertEqual(len(found.coats), 10)
        sessions = {int((c.at_h + 9) // 24) for c in found.coats}
        self.assertEqual(len(sessions), 4)
        self.assertEqual([w.name for w in found.windows], ["level", "buff", "case"])
        self.assertEqual([s.purpose for s in found.sandings], ["level", "rub-out"])

    def test_windows_come_in_order_with_their_ranges(self):
        _, found = self.ahead(coats(), 80.0)
        likely = [w.likely_h for w in found.windows]
        self.assertEqual(likely, sorted(likely))
        for w in found.windows:
            self.assertLess(w.early_h, w.likely_h)
            self.assertLess(w.likely_h, w.late_h)

    def test_nothing_is_planned_in_the_past(self):
        _, found = self.ahead(coats(), 2000.0)
        self.assertTrue(all(s.at_h >= 2000 for s in found.sandings))
        self.assertLess(found.windows[0].likely_h, 2000)

    def test_a_reading_narrows_the_range(self):
        _, vague = self.ahead(coats(), 200.0)
        _, sure = self.ahead((*coats(), Reading(at_h=199, zone="top", um=125, n=5)), 200.0)
        spread = [w.late_h - w.early_h for w in (vague.windows[0], sure.windows[0])]
        self.assertLess(spread[1], 0.8 * spread[0])

    def test_a_cold_room_puts_everything_off(self):
        _, mild = self.ahead(coats(), 80.0)
        _, cold = self.ahead((Air(at_h=0, temp_C=12), *coats()), 80.0)
        self.assertGreater(cold.windows[0].likely_h, mild.windows[0].likely_h + 48)

    def test_without_an_end_in_sight_it_says_so(self):
        _, found = self.ahead((Air(at_h=0, temp_C=-15), *coats()), 80.0)
        self.assertIsNone(found.windows[-1].likely_h)
        self.assertIsNone(found.finished_h)


class History(unittest.TestCase):
    def test_the_cure_is_given_the_film_of_the_ledger(self):
        p = project((*coats(), Reading(at_h=200, zone="top", um=100, n=3)))
        ledger = known(p, 201).ledger
        zone = p.zone("top")
        laid, cuts = film_events(p, zone, scale_of(p, zone, ledger, 201), 201)
        self.assertAlmostEqual(
            sum(c.dry_um for c in laid) - sum(s.um for s in cuts), ledger.film("top").mean_um, places=6
        )

    def test_solvent_in_a_reading_is_no_film(self):
        young = project((*coats(), Reading(at_h=73, zone="top", um=120, n=3)))
        old = project((*coats(), Reading(at_h=2000, zone="top", um=120, n=3)))
        films = [known(p, 2100).ledger.film("top").mean_um for p in (young, old)]
        self.assertLess(films[0], films[1] - 8)

    def test_sanding_counts_by_zone_and_edges_when_worked(self):
        shy = project((*coats(), Sanding(at_h=400, um=10)))
        rough = project((*coats(), Sanding(at_h=400, um=10, edges_worked=True)))
        before = known(project(coats()), 500).ledger
        after, worked = (known(p, 500).ledger for p in (shy, rough))
        self.assertAlmostEqual(before.film("top").mean_um - after.film("top").mean_um, 10, delta=0.5)
        self.assertAlmostEqual(before.film("edges").mean_um - after.film("edges").mean_um, 1.5, delta=0.2)
        self.assertAlmostEqual(before.film("edges").mean_um - worked.film("edges").mean_um, 15, delta=1.0)

    def test_the_thickest_zone_is_the_last_to_be_ready(self):
        p = project((*coats(), Reading(at_h=200, zone="top", um=60, n=3)))
        self.assertEqual(thickest(p, known(p, 300).ledger).name, "back")


class Outlooks(unittest.TestCase):
    def test_all_of_it_hangs_together(self):
        p = project(coats())
        found = outlook(p, LACQUER, DRAWER, 100.0, NINE, "top")
        line = found.timeline
        now = line.index_at(100.0)
        top = next(z for z in found.zones if z.name == "top")
        self.assertAlmostEqual(line.dry_um[now], top.film.mean_um, delta=0.01)
        self.assertGreater(line.film_um[now], line.dry_um[now])
        self.assertTrue(line.low_um[now] < line.film_um[now] < line.high_um[now])
        self.assertTrue((line.hours[1:] > line.hours[:-1]).all())
        self.assertLess(line.film_um[-1], line.film_um[now] - 8)  # levelled and rubbed out by then

    def test_bare_wood(self):
        found = outlook(project(), LACQUER, DRAWER, 0.0, NINE, "top")
        self.assertEqual([z.film.mean_um for z in found.zones], [0.0] * 6)
        self.assertIsNone(found.margin_now_K)
        self.assertGreater(found.timeline.film_um[-1], 80)  # all of it still planned

    def test_an_unknown_zone_is_refused(self):
        self.assertRaises(InputError, outlook, project(coats()), LACQUER, DRAWER, 100.0, NINE, "lid")

    def test_shellac_between_rounds(self):
        first = tuple(Coat(at_h=24.0 * i, dry_um=3) for i in range(8))
        found = outlook(project(first, SHELLAC, "parlour-guitar", 10.0), SHELLAC, DRAWER, 24 * 10.0, NINE, "top")
        self.assertEqual(len(found.forward.coats), 5)
        self.assertEqual(found.windows[0].name, "level")
        self.assertLess(found.windows[0].likely_h, 24 * 10.0)
        self.assertGreaterEqual(min(c.at_h for c in found.forward.coats), 24 * 10.0)

    def test_forty_coats(self):
        many = coats([24.0 * (i // 3) + 1.5 * (i % 3) for i in range(40)], 3.0)
        found = outlook(project(many), LACQUER, DRAWER, 24 * 30.0, NINE, "edges")
        self.assertEqual(found.progress.coats_done, 40)
        self.assertGreater(found.timeline.film_um.max(), 50)

    def test_sanded_down_to_next_to_nothing(self):
        acts = (*coats([0.0]), Sanding(at_h=300, um=20))
        found = outlook(project(acts), LACQUER, DRAWER, 400.0, NINE, "top")
        top = next(z for z in found.zones if z.name == "top")
        self.assertLess(top.film.mean_um, 9)
        self.assertGreaterEqual(top.film.p05_um, 0)

    def test_what_sanding_will_take_of_a_ladder(self):
        p = project(coats())
        film = RubFilm(
            project=p, ledger=known(p, 900).ledger, margin_K=lambda um: 30.0, whole_K=30.0, texture_um=18, at_h=900
        )
        rub = rub_out(film, DRAWER, Ask(target="mirror"))
        taken = sands(18, rub.ladder, None, True, True)
        self.assertGreater(taken.level_um, 15)
        self.assertLess(taken.rubout_um, 6)
        self.assertGreater(taken.level_h, taken.rubout_h)
        self.assertAlmostEqual(sands(10, None, None, True, True).level_um, 9.2)
        self.assertAlmostEqual(sands(10, None, None, True, True).key_um, 9.2)
        whole = sands(18, rub.ladder, None, True, False)  # nothing rubs out after it, so that the level does all of it
        self.assertAlmostEqual(whole.level_um, taken.level_um + taken.rubout_um)
        self.assertAlmostEqual(whole.level_h, taken.level_h + taken.rubout_h)
