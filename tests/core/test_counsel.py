"""Advice on the film, plans tried out, what one instrument teaches the next, and zones that are not like the rest."""

import itertools
import unittest

from msgspec.structs import replace

from ravden.core.ahead.counsel import counsel
from ravden.core.ahead.dated import WhatIf
from ravden.core.ahead.outlook import outlook
from ravden.core.ahead.whatif import tried
from ravden.core.film.filter import Priors
from ravden.core.record import Coat, Reading, Sanding
from ravden.core.state.history import known
from ravden.core.state.learnt import learnt, started_from
from tests.core.test_plan import CATALOGUE, DRAWER, LACQUER, NINE, SHELLAC, TEN_COATS, coats, project

SHELLAC_ID = "shellac-pad"


def seen(built, now_h=80.0, method=LACQUER, zone="top"):
    return outlook(built, method, DRAWER, now_h, NINE, zone)


class Counsel(unittest.TestCase):
    def test_what_each_entry_did_adds_up_to_the_film(self):
        built = project(
            (*coats(TEN_COATS[:6]), Sanding(at_h=60, um=4, purpose="scuff"), Reading(at_h=70, zone="top", um=60))
        )
        found = seen(built)
        entries = counsel(found).entries
        self.assertEqual([e.act.at_h for e in entries], [*TEN_COATS[:6], 60, 70])
        self.assertAlmostEqual(sum(e.after_um - e.before_um for e in entries), found.ledger.mean_um("top"), delta=1e-6)
        self.assertTrue(all(e.sd_after_um > e.sd_before_um for e in entries[:6]))
        self.assertLess(entries[-1].sd_after_um, 0.5 * entries[-1].sd_before_um)

    def test_more_coats_are_asked_for_when_more_is_to_be_sanded(self):
        thin, thick = (counsel(seen(project(coats(TEN_COATS[:n])))).coats for n in (2, 8))
        self.assertGreater(thin.coats, thick.coats)
        self.assertEqual(thin.zone, "sides")  # edges ask for a share of the least film only
        sure = counsel(seen(project(coats(TEN_COATS[:2]))), odds=0.99).coats
        self.assertGreater(sure.coats, thin.coats)

    def test_pores_sink_less_the_longer_one_waits(self):
        sinks = counsel(seen(project(coats()))).sinks
        self.assertEqual([s.window for s in sinks], ["level", "buff", "case"])
        for early, late in itertools.pairwise(sinks):
            self.assertLess(late.by_filling["unfilled"], early.by_filling["unfilled"])
        for sink in sinks:
            self.assertLess(sink.by_filling["filled"], 0.1 * sink.by_filling["unfilled"])

    def test_witness_lines_only_where_a_layer_lies_on_a_sanded_one(self):
        self.assertIsNone(counsel(seen(project(coats()))).witness)
        scuffed = project((*coats(TEN_COATS[:8]), Sanding(at_h=60, um=3, purpose="scuff"), *coats((72, 73.5))))
        melted = counsel(seen(scuffed)).witness
        self.assertTrue(melted.dissolving)
        layered = replace(scuffed, material=replace(scuffed.material, dissolving=False))
        apart = counsel(seen(layered)).witness
        self.assertAlmostEqual(melted.odds, 0.02 * apart.odds, places=9)
        self.assertGreater(apart.needed_um, 0)

    def test_the_zone_at_risk_is_what_is_measured_first(self):
        found = counsel(seen(project(coats())))
        self.assertEqual(found.risk_zone, "sides")
        self.assertEqual((found.measure[0].measurement, found.measure[0].zone), ("gauge", "sides"))


class Tried(unittest.TestCase):
    def test_more_and_heavier_coats_end_thicker_and_later(self):
        found = seen(project(coats(TEN_COATS[:7])))
        usual = tried(found, WhatIf())
        more, heavy = tried(found, WhatIf(coats=8)), tried(found, WhatIf(coat_um=20))
        self.assertEqual(len(usual.outlook.forward.coats), 3)
        self.assertEqual(len(more.outlook.forward.coats), 8)
        for other in (more, heavy):
            self.assertGreater(other.middle_um, usual.middle_um + 15)
            self.assertGreater(other.odds_of_floor, usual.odds_of_floor - 1e-9)
            self.assertGreater(other.finished_h, usual.finished_h)

    def test_the_sketch_agrees_with_the_full_outlook(self):
        found = seen(project(coats(TEN_COATS[:7])))
        quick = tried(found, WhatIf()).outlook
        for a, b in zip(quick.windows, found.windows, strict=True):
            self.assertAlmostEqual(a.likely_h, b.likely_h, delta=0.03 * b.likely_h)
        self.assertAlmostEqual(quick.timeline.film_um[-1], found.timeline.film_um[-1], delta=0.5)

    def test_none_at_all_and_more_after_the_build(self):
        half = seen(project(coats(TEN_COATS[:7])))
        self.assertEqual(tried(half, WhatIf(coats=0)).outlook.forward.coats, ())
        built = seen(project(coats()))
        again = tried(built, WhatIf(coats=2)).outlook.forward
        self.assertEqual(len(again.coats), 2)
        self.assertEqual([w.name for w in again.windows], ["level", "buff", "case"])

    def test_bare_wood_can_be_tried_too(self):
        self.assertGreater(tried(seen(project()), WhatIf(coats=12)).middle_um, 80)


class Carried(unittest.TestCase):
    def test_the_next_instrument_starts_with_what_the_gun_was_found_to_do(self):
        thin = project(
            (*coats(), Reading(at_h=900, zone="top", um=90, n=5), Reading(at_h=901, zone="back", um=90, n=5))
        )
        belief = learnt([(thin, 1000.0, {})])
        self.assertLess(belief.mean, -0.1)
        fresh, warned = (known(project(coats()), 80, {}, p).ledger for p in (None, started_from(belief)))
        self.assertLess(warned.mean_um("top"), fresh.mean_um("top") - 8)
        self.assertLess(warned.film("top").sd_um, 0.7 * fresh.film("top").sd_um)

    def test_an_instrument_without_a_coat_teaches_nothing(self):
        self.assertEqual(learnt([(project(), 10.0, {})]), learnt([]))
        mean, sd = learnt([]).for_next
        self.assertEqual(mean, 0)
        self.assertAlmostEqual(sd, Priors().g_ln_sd, places=6)


class OddZones(unittest.TestCase):
    def test_a_masked_zone_is_left_out_of_the_plan(self):
        masked = replace(project(tuple(replace(c, bare=("neck",)) for c in coats(TEN_COATS[:4]))), masked=("neck",))
        found = seen(masked)
        self.assertEqual(found.ledger.mean_um("neck"), 0)
        self.assertTrue(all(not c.covers("neck") for c in found.forward.coats))
        self.assertNotEqual(counsel(found).risk_zone, "neck")
        self.assertIsNone(seen(masked, zone="neck").timeline)

    def test_another_finish_cures_as_what_it_is(self):
        shellac = CATALOGUE.material(SHELLAC_ID)
        bare = tuple(replace(c, bare=("neck",)) for c in coats(TEN_COATS[:4]))
        own = tuple(Coat(at_h=h, dry_um=4, zones=("neck",), finish=SHELLAC_ID) for h in (5.0, 30.0))
        built = replace(project((*bare, *own)), finishes={"neck": shellac})
        found = seen(built, zone="neck")
        self.assertAlmostEqual(found.ledger.mean_um("neck"), 8 * 0.85, delta=0.1)
        self.assertEqual(found.progress.coats_done, 4)
        self.assertIn(SHELLAC_ID, found.ledger.others)
        other = seen(replace(built, finishes={"neck": replace(shellac, cure=built.material.cure)}), zone="neck")
        solvent = [float(f.timeline.phi_mean[f.timeline.index_at(50.0)]) for f in (found, other)]
        self.assertNotAlmostEqual(*solvent, places=3)

    def test_bare_open_grain_swallows_the_first_coats(self):
        sealed = project(coats(TEN_COATS[:4]))
        thirsty = replace(sealed, absorbed={z.name: CATALOGUE.absorbed("open-grain") for z in sealed.zones})
        gap = known(sealed, 80).ledger.mean_um("top") - known(thirsty, 80).ledger.mean_um("top")
        self.assertAlmostEqual(gap, 12 + 10 + 5, delta=1.5)  # the first coat cannot lose more than it brought

    def test_an_uncertain_count_moves_the_method_on_by_its_mean(self):
        unsure = project((Coat(at_h=0, dry_um=12, count_odds=((9, 0.5), (10, 0.5))),))
        found = seen(unsure)
        self.assertEqual(found.progress.coats_done, 9)  # one more, rather than one that was never laid
        self.assertAlmostEqual(found.ledger.mean_um("top"), 9.5 * 12 * 1.03, delta=4)

    def test_readings_of_every_kind_reach_the_ledger(self):
        base = coats(TEN_COATS[:4])
        plain = known(project(base), 80).ledger.film("top").sd_um
        for reading in (
            Reading(at_h=25, what="comb", zone="top", um=50, high_um=75, landed=0.18),
            Reading(at_h=26, what="volume", um=12), Reading(at_h=70, what="card", um=50),
            Reading(at_h=70, what="micrometer", um=50), Reading(at_h=70, zone="top", um=50, n=3),
        ):  # fmt: skip
            acts = sorted((*base, reading), key=lambda a: a.at_h)
            self.assertLess(known(project(acts), 80).ledger.film("top").sd_um, plain)

    def test_shellac_is_advised_in_its_own_measure(self):
        found = counsel(seen(project(coats((0, 24, 48), 3), SHELLAC, floor=10), method=SHELLAC))
        self.assertGreaterEqual(found.coats.coats, 1)
        self.assertLess(found.coats.thickest_um, 60)
