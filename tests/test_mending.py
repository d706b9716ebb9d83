"""A defect's life in the journal: told, planned, worked, looked at, and taken back to the byte."""

import json
from contextlib import redirect_stderr, redirect_stdout
from datetime import UTC, datetime
from io import BytesIO, StringIO, TextIOWrapper
from unittest import mock

import msgspec

from ravden.app import by_plan, defect_words, defects, finish_record, repairing
from ravden.app.clock import HandClock
from ravden.app.next_coat import next_mend
from ravden.app.session import ShopSession
from ravden.catalogue.method_files import write_method
from ravden.catalogue.tables import shipped
from ravden.cli import main
from ravden.core.errors import InputError
from ravden.core.method.slots import place_of
from ravden.core.method.steps import progress
from ravden.core.session.turns import CoatTurn, MendTurn
from ravden.demo import ferrow_lane
from ravden.exchange import instrument
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.mishap import DefectLooked, DefectTold, MishapLogged, OfDefect, RepairChosen, RepairLeft
from ravden.journal.kinds.pin import PinSet
from ravden.journal.kinds.sanding import SandingLogged
from ravden.journal.store import Journal
from ravden.ui.places.booth import acts, turns
from tests.in_folder import InFolder

NOW = datetime(2026, 5, 4, 15, tzinfo=UTC)
CASE = {
    "start": "2026-03-02T09:00+01:00", "now_h": 400,
    "instrument": {"kind": "solid-body", "method": "lacquer-flow-coat"},
    "acts": [
        {"kind": "coat", "at_h": 1, "dry_um": 12, "count": 6}, {"kind": "coat", "at_h": 24, "dry_um": 12, "count": 5},
        {"kind": "sanding", "at_h": 399, "um": 70, "purpose": "level", "grade": "P800"},
    ],
    "defect": {"what": "sand-through", "zone": "top", "at_h": 399.5, "size_mm": 6},
}  # fmt: skip


class Mending(InFolder):
    def setUp(self):
        super().setUp()
        ferrow_lane.build(self.path, NOW, ("heron", "tern", "wren"))
        self.clock = HandClock(NOW)
        self.session = ShopSession(shipped(), self.clock)
        self.session.open(self.path)
        self.addCleanup(self.session.close)

    def note(self, what="sand-through", who="tern", **fields):
        self.session.select(who, "test")
        return self.session.log(MishapLogged(what=what, zone="top", **fields), instrument=who).id

    def work(self, number, who="tern"):
        return repairing.work(self.session, who, number, {}, {})()

    def choose(self, number, at=0, who="tern"):
        worked = self.work(number, who)
        return repairing.choose(self.session, who, worked.mishap, worked.repairs.ways[at])

    def state(self, number, who="tern"):
        rack = self.session.shop.racked[who]
        return next(d for d in defects.defects_of(rack, self.session.now) if d.id == number)

    def plan(self, who="tern"):
        return msgspec.json.encode(self.session.shop.racked[who].method.stage)

    def test_undo_gives_the_plan_back_to_the_byte(self):
        number, before = self.note(), self.plan()
        ready = self.session.request("tern").run().forward.finished_h
        self.choose(number)
        self.assertNotEqual(self.plan(), before)
        self.session.undo()
        self.assertEqual(self.plan(), before)
        self.assertEqual(self.session.request("tern").run().forward.finished_h, ready)
        self.assertEqual(self.state(number).state, defects.NOTICED)

    def test_what_was_shown_is_what_choosing_gives(self):
        number = self.note()
        worked = self.work(number)
        for at, way in enumerate(worked.repairs.ways):
            self.choose(number, at)
            found = self.session.request("tern").run()
            self.assertEqual(found.forward.finished_h, way.ready_h[1])
            self.assertEqual([s.op for s in found.method.stage if s.mends], [s.op for s in way.method.stage if s.mends])

    def test_worked_from_the_booth_step_by_step_and_looked_at(self):
        number = self.note(size_mm=6.0)
        self.choose(number, 1)
        kinds = []
        for _ in range(40):
            found = self.session.request("tern").run()
            here = turns.turn_of(self.session, "tern", found)
            if next_mend(self.session.rack, self.session.now) is None:
                if self.state(number).state == defects.WORKED:
                    break
                self.clock.turn(days=5)  # it waits for the film
                self.session.log(SandingLogged(um=4, zones=("top",), mends=number, spot=True), instrument="tern")
                continue
            self.assertIsInstance(here, MendTurn | CoatTurn | turns.Turn)
            kinds.append(here.kind)
            self.session.log(acts.act(self.session, found), instrument="tern")
            self.clock.turn(hours=26)
        self.assertEqual(kinds[:2], ["mend", "mend"])
        self.assertIn("coat", kinds)
        top = self.session.request("tern").run().ledger.mean_um("top")
        self.assertAlmostEqual(top, 120, delta=15)  # the zone has none of the local coats
        repairing.looked(self.session, "tern", number, "gone")
        self.assertEqual(self.state(number).state, defects.CLOSED)

    def test_begun_and_left_keeps_what_was_done(self):
        number, before = self.note(), self.plan()
        self.choose(number)
        by_plan.log_next_step(self.session)
        repairing.leave(self.session, "tern", number)
        stages = self.session.rack.method.stage
        self.assertEqual([s.op for s in stages if s.mends], ["clean"])
        self.assertEqual(self.state(number).state, defects.NOTICED)
        self.assertIn("repair left", defect_words.open_line(self.session, self.session.rack))
        self.assertNotEqual(self.plan(), before)
        self.choose(number, 1)
        self.assertEqual(self.state(number).state, defects.PLANNED)

    def test_put_in_amid_the_coats_and_taken_out_the_plan_and_its_pins_are_what_they_were(self):
        number, before = self.note("blush", "heron"), self.plan("heron")
        rack = self.session.shop.racked["heron"]
        done = progress(rack.method, rack.acts, rack.hours(self.session.now), rack.body)
        self.assertTrue(0 < done.coats_in_stage < rack.method.stage[done.index].count)
        pin = f"{done.index}.{done.coats_in_stage + 1}"
        self.session.log(PinSet(step=pin, who="Ida"), instrument="heron")
        ready = self.work(number, "heron").before.ready
        worked = self.work(number, "heron")
        self.choose(number, next(i for i, w in enumerate(worked.repairs.ways) if w.steps and not w.work.later), "heron")
        put = self.session.shop.racked["heron"]
        half = put.method.stage[place_of(put.method.stage, "Build#8")]
        self.assertEqual(list(put.pins), ["Build#8"])
        self.assertEqual((half.label, half.count), ("Build", rack.method.stage[done.index].count - done.coats_in_stage))
        self.assertEqual(self.work(number, "heron").before.ready, ready)
        repairing.leave(self.session, "heron", number)
        self.assertEqual(self.plan("heron"), before)
        self.assertEqual(list(self.session.shop.racked["heron"].pins), ["Build#8"])

    def test_still_there_opens_it_again_and_lived_with_closes_it(self):
        number = self.note("blush", "heron")
        self.choose(number, 0, "heron")
        by_plan.log_next_step(self.session)
        self.assertEqual(self.state(number, "heron").state, defects.WORKED)
        repairing.looked(self.session, "heron", number, "still")
        self.assertEqual(self.state(number, "heron").state, defects.NOTICED)
        repairing.looked(self.session, "heron", number, "lived-with")
        self.assertFalse(self.state(number, "heron").open)
        lines = finish_record.record(self.session, self.session.request("heron").run()).lines
        self.assertIn("lived with", dict(lines)["Went wrong"])

    def test_the_next_paper_deals_with_a_nib(self):
        number = self.note("nib", "heron")
        self.assertTrue(self.state(number, "heron").light)
        self.assertEqual(defect_words.for_hands(self.session, self.session.rack), [])
        self.session.log(SandingLogged(um=2, purpose="scuff", grade="P400"), instrument="heron")
        self.assertTrue(self.state(number, "heron").by_work)

    def test_two_on_one_zone_share_what_they_can(self):
        first, second = self.note("milky"), self.note("blush")
        self.choose(first, 1)
        worked = self.work(second)
        at = next(i for i, w in enumerate(worked.repairs.ways) if any(s.op == "overall" for s in w.steps))
        self.choose(second, at)
        stages = self.session.rack.method.stage
        self.assertEqual(sum(s.op == "overall" for s in stages), 1)
        repairing.leave(self.session, "tern", first)
        stages = self.session.rack.method.stage
        self.assertEqual([s.mends for s in stages if s.op == "overall"], [second])

    def test_pins_go_along_with_their_steps(self):
        place = next(i for i, s in enumerate(self.session.shop.racked["tern"].method.stage) if s.kind == "level")
        self.session.select("tern", "test")
        self.session.log(PinSet(step=f"{place}.1", who="Ida"), instrument="tern")
        self.choose(self.note())
        rack = self.session.rack
        (held,) = rack.pins
        there = place_of(rack.method.stage, held)
        self.assertGreater(there, place)
        self.assertEqual(rack.method.stage[there].kind, "level")

    def test_what_is_told_stays_told_and_changes_what_is_worked_out(self):
        number = self.note("run", "heron")
        waits = [self.work(number, "heron").repairs.ways[0].ready_h[1]]
        self.session.log(DefectTold(defect=number, height_um=120.0, told=(("too-wet", True),)), instrument="heron")
        waits.append(self.work(number, "heron").repairs.ways[0].ready_h[1])
        self.assertGreater(waits[1], waits[0])
        self.assertEqual(self.session.shop.racked["heron"].acts[-1].told, (("too-wet", True),))

    def test_to_another_shop_and_back_the_numbers_go_along(self):
        number = self.note()
        self.choose(number)
        by_plan.log_next_step(self.session)
        raw = instrument.write(self.session.everything(), self.session.shop, "tern")
        other = self.path.with_name("other.ravden")
        ferrow_lane.build(other, NOW)
        away = ShopSession(shipped(), HandClock(NOW))
        away.open(other)
        self.addCleanup(away.close)
        name = away.bring_in(raw, "tern.json")
        there = next(d for d in defects.defects_of(away.shop.racked[name], NOW) if d.mishap.what == "sand-through")
        self.assertNotEqual(there.id, number)
        self.assertEqual(there.state, defects.PLANNED)
        here = [(s.label, s.count) for s in self.session.rack.method.stage]
        self.assertEqual([(s.label, s.count) for s in away.shop.racked[name].method.stage], here)
        now_h = self.session.rack.hours(NOW)
        at = [progress(r.method, r.acts, now_h, r.body).index for r in (self.session.rack, away.shop.racked[name])]
        self.assertEqual(at[0], at[1])
        away.close()
        again = Journal.open(other)
        self.addCleanup(again.close)
        told = [e.body.defect for e in again.entries() if isinstance(e.body, OfDefect) and e.instrument == name]
        self.assertEqual(told, [there.id])

    def test_what_cannot_be_is_refused_and_changes_nothing(self):
        number = self.note()
        steps = self.work(number).repairs.ways[0].steps
        count = len(self.session.entries)
        for body, word in (
            (DefectTold(defect=4711), "4711"), (DefectLooked(defect=number, outcome="cured"), "outcome"),
            (RepairLeft(defect=number), "no repair"), (RepairChosen(defect=number, name="-", steps=()), "steps"),
            (RepairChosen(defect=number + 1, name="-", steps=steps), "belongs to another defect"),
            (DefectTold(defect=number, height_um=-4.0), "height_um"),
            (DefectTold(defect=number, spread="everywhere"), "spread"),
            (MishapLogged(what="run", zone="top", size_mm=-1.0), "size_mm"),
            (CoatLogged(dry_um=12, spot=True), "zones"),
        ):  # fmt: skip
            with self.subTest(body=body), self.assertRaises(InputError) as caught:
                self.session.log(body, instrument="tern")
            self.assertIn(word, str(caught.exception))
        self.assertEqual(len(self.session.entries), count)

    def test_a_shared_method_has_no_repair_in_it(self):
        self.choose(self.note())
        text = write_method(self.session.rack.method)
        self.assertNotIn("mends", text)
        self.assertNotIn("Clean the place", text)


class Headless(InFolder):
    def run_it(self, case):
        out, err = StringIO(), StringIO()
        raw = TextIOWrapper(BytesIO(json.dumps(case).encode()))
        with mock.patch("sys.stdin", raw), redirect_stdout(out), redirect_stderr(err):
            code = main(["compute", "repair"])
        return code, out.getvalue(), err.getvalue()

    def test_causes_and_repairs_of_a_sand_through(self):
        code, out, _ = self.run_it(CASE)
        self.assertEqual(code, 0)
        told = json.loads(out)
        self.assertEqual(told["causes"][0]["cause"], "film-thin")
        self.assertEqual(told["causes"][0]["evidence"][0]["what"], "odds")
        self.assertEqual(len(told["repairs"]), 2)
        for way in told["repairs"]:
            self.assertGreater(way["ready"]["after"], way["ready"]["before"])
            self.assertEqual([s["op"] for s in way["steps"]][:3], ["clean", "colour", "local"])
            self.assertIn("spot", way["film_after"])
            self.assertLessEqual(way["odds_after"]["spot"], 0.15)
            self.assertGreater(way["material_ml"], 0)
        self.assertIsNone(told["none_because"])

    def test_bad_input_names_its_field(self):
        for fields, word in (
            ({"what": "earthquake"}, "defect.what"), ({"at_h": 500}, "defect.at_h"), ({"zone": "horn"}, "defect.zone"),
            ({"what": "print", "depth_um": 900}, "defect.depth_um"), ({"height_um": -1}, "defect.height_um"),
            ({"size": 4}, "size"),
        ):  # fmt: skip
            with self.subTest(fields=fields):
                code, out, err = self.run_it({**CASE, "defect": {**CASE["defect"], **fields}})
                self.assertEqual((code, out), (2, ""))
                self.assertIn(word, err)
