"""The journal folded with what is remembered of it: the same to the digit as folded anew, and little is kept."""

import unittest

from ravden.core.record import Air, Coat, Reading, Sanding
from ravden.core.state.history import LEAST_LEFT_UM, Memory, film_events, known
from tests.core.test_plan import project

ODDS = (0.05, 0.5, 0.95)


def acts(many):
    """Coats with a scuff after every fifth and a gauge reading after every seventh."""
    out = []
    for i in range(many):
        if i % 7 == 6:
            out.append(Reading(at_h=2.0 * i, what="gauge", zone="top", um=6.0 * i, id=i))
        elif i % 5 == 4:
            out.append(Sanding(at_h=2.0 * i, um=2.0, purpose="scuff", id=i))
        else:
            out.append(Coat(at_h=2.0 * i, dry_um=10.0, id=i))
    return tuple(out)


def told(folded):
    now = [(f.mean_um, f.sd_um, f.p05_um, f.p95_um) for f in folded.ledger.films()]
    return now, [(k.at_h, k.film.moments("top"), k.film.quantiles("top", ODDS), k.film.flags) for k in folded.history]


class Remembered(unittest.TestCase):
    def test_added_to_taken_back_and_corrected_it_is_as_folded_anew(self):
        memory: Memory = {}
        all_of = acts(30)
        corrected = (*all_of[:9], Coat(at_h=18.0, dry_um=14.0, id=9), *all_of[10:])
        for now in (all_of[:28], all_of[:29], all_of, all_of[:29], all_of[:20], all_of, corrected, all_of):
            again, anew = known(project(now), 80, memory), known(project(now), 80)
            self.assertEqual(told(again), told(anew), len(now))

    def test_only_few_ledgers_stay_whole_and_the_next_entry_finds_one(self):
        memory: Memory = {}
        known(project(acts(30)), 80, memory)
        self.assertEqual(len(memory), 31)
        self.assertLessEqual(sum(one.ledger is not None for one in memory.values()), 6)
        last = list(memory.values())[-1]
        known(project((*acts(30), Coat(at_h=70, dry_um=10.0))), 80, memory)
        self.assertIs(list(memory.values())[-2], last)
        self.assertIsNotNone(last.ledger)

    def test_a_card_is_weighed_and_a_micrometer_touches_it(self):
        for what in ("card", "micrometer", "gauge"):
            reading = Reading(at_h=400.0, what=what, um=900.0, zone="top" if what == "gauge" else "")
            found = known(project((*acts(4), reading)), 500)
            self.assertEqual([f.what for f in found.ledger.flags], [f"{what} top".strip() if what == "gauge" else what])

    def test_air_of_which_no_humidity_was_told_is_half_damp(self):
        self.assertEqual((Air(at_h=0, temp_C=20).rh, Air(at_h=0, temp_C=20).source), (0.5, "told"))

    def test_cuts_come_off_what_lies_there_and_never_all_of_it(self):
        told = (
            Coat(at_h=0.0, dry_um=10.0), Sanding(at_h=5.0, um=4.0), Coat(at_h=9.0, dry_um=10.0, zones=("back",)),
            Sanding(at_h=12.0, um=50.0, zones=("top",)),
        )  # fmt: skip
        built = project(told)
        top = built.zone("top")
        laid, cuts = film_events(built, top, 1.5, 20.0)
        self.assertEqual([(c.at_h, c.dry_um) for c in laid], [(0.0, 15.0 * top.k_mean)])
        self.assertEqual(cuts[0].um, 4.0 * top.sanding)
        self.assertAlmostEqual(cuts[1].um, laid[0].dry_um - cuts[0].um - LEAST_LEFT_UM)
        self.assertEqual([len(events) for events in film_events(built, top, 1.5, 6.0)], [1, 1])
        back = film_events(built, built.zone("back"), 1.0, 20.0)
        self.assertEqual([len(events) for events in back], [2, 1])

    def test_frost_of_one_degree_is_not_taken_for_two(self):
        def film(temp_C, memory=None):
            air = Air(at_h=-1.0, temp_C=temp_C)
            return told(
                known(project((*acts(5), Reading(at_h=11.0, what="gauge", zone="top", um=30.0), air)), 80, memory)
            )

        memory: Memory = {}
        film(-1.0, memory)
        self.assertEqual(film(-2.0, memory), film(-2.0))
        self.assertNotEqual(film(-2.0), film(-1.0))


if __name__ == "__main__":
    unittest.main()
