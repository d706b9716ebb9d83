"""Instruments, plans and journals as files: out of a shop, into another, and nothing lost on the way."""

import contextlib
import csv
import io
import json
import random
import sqlite3
from datetime import UTC, datetime, timedelta
from unittest import mock

import msgspec
from icalendar import Calendar
from msgspec.structs import replace

from ravden.app.clock import HandClock
from ravden.app.plan_of import plan_of, steps_out
from ravden.app.session import ShopSession
from ravden.catalogue.method_files import write_method
from ravden.catalogue.tables import shipped
from ravden.cli import main
from ravden.core.errors import InputError
from ravden.core.method.mending import mend_renumbered
from ravden.core.record import StepDone
from ravden.demo import ferrow_lane
from ravden.exchange import instrument
from ravden.exchange.calendar import calendar
from ravden.exchange.journal_csv import journal_csv
from ravden.journal.fold import Fold, fold
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.method import MethodKept
from ravden.journal.kinds.plan import PlanSet
from ravden.journal.kinds.reading import ReadingLogged
from ravden.journal.kinds.sanding import SandingLogged
from ravden.journal.kinds.step import StepLogged
from ravden.journal.kinds.undone import Undone
from ravden.journal.kinds.zones import ZonesSet
from ravden.journal.store import Journal
from ravden.text.say import whole_fault
from tests.in_folder import InFolder

FINE = shipped().method("lacquer-fine-start")
NOW = datetime(2026, 5, 4, 15, tzinfo=UTC)


class ExchangeTest(InFolder):
    def setUp(self):
        super().setUp()
        ferrow_lane.build(self.path, NOW)
        self.journal = Journal.open(self.path)
        self.addCleanup(self.journal.close)

    def shop(self, journal=None):
        return fold((journal or self.journal).entries(), shipped())

    def out(self, name, journal=None):
        journal = journal or self.journal
        return instrument.write(journal.entries(), self.shop(journal), name)

    def acts(self, shop, name):
        """What happened to an instrument and in what air, whatever the numbers of the entries are."""
        acts = shop.racked[name].project_at(NOW).acts
        numbers = dict.fromkeys((a.id for a in acts), 0)
        return [
            replace(a, id=0, **({"step": mend_renumbered(a.step, numbers)} if isinstance(a, StepDone) else {}))
            for a in acts
        ]  # fmt: skip

    def empty(self, name="other.ravden"):
        other = Journal.create(self.folder / name)
        self.addCleanup(other.close)
        return other

    def bring(self, raw, journal):
        found = instrument.read(raw, "x.json")
        return instrument.bring_in(found, "x.json", journal, journal.entries(), self.shop(journal))


class RoundTrip(ExchangeTest):
    def test_every_demo_instrument_comes_back_the_same(self):
        shop = self.shop()
        for name in shop.racked:
            with self.subTest(instrument=name):
                raw = self.out(name)
                other = self.empty(f"{name}.ravden")
                there, written = self.bring(raw, other)
                self.assertEqual(there, name)
                self.assertGreater(len(written), 1)
                self.assertEqual(self.out(name, other), raw)
                self.assertEqual(self.acts(self.shop(other), name), self.acts(shop, name))

    def test_random_journals_come_back_the_same(self):
        """Coats, sandings, readings, steps, plans, corrections and takings back in any order."""
        for seed in range(10):
            dice = random.Random(seed)
            at = NOW + timedelta(hours=1)
            for _ in range(dice.randint(1, 40)):
                at += timedelta(minutes=dice.randint(1, 600))
                mine = [e for e in self.journal.entries() if e.instrument == "heron"]
                body = dice.choice(
                    (
                        CoatLogged(dry_um=dice.uniform(1, 40), how='a "wet" one; 67 µm', count=dice.randint(1, 3)),
                        SandingLogged(um=dice.uniform(0.1, 3), grade="P1000", part=dice.random() < 0.5),
                        ReadingLogged(zone="top", um=dice.uniform(20, 90), n=dice.randint(1, 5), place=(1.5, -2.25)),
                        StepLogged(step="Mask what stays bare", skipped=dice.random() < 0.5),
                        ZonesSet(masked=("head",), finishes={"neck": "polymerising-oil"}),
                        PlanSet(method="lacquer-fine-start", stage=FINE.stage[3:], what="x"),
                        Undone(),
                    )
                )  # fmt: skip
                corrects = dice.choice(mine[1:]).id if isinstance(body, Undone) else None
                self.journal.append(body, at=at, logged_at=at, instrument="heron", corrects=corrects)
            raw = self.out("heron")
            other = self.empty(f"{seed}.ravden")
            self.bring(raw, other)
            self.assertEqual(self.out("heron", other), raw, seed)

    def test_an_id_that_is_taken_gets_another(self):
        there, _ = self.bring(self.out("heron"), self.journal)
        self.assertEqual(there, "heron-2")
        shop = self.shop()
        self.assertEqual(shop.racked["heron-2"].project.coats[0].dry_um, shop.racked["heron"].project.coats[0].dry_um)
        self.assertEqual(len(shop.racked["heron-2"].acts), len(shop.racked["heron"].acts))

    def test_the_methods_of_the_shop_come_with_it(self):
        text = write_method(shipped().method("oil-and-wax")).replace('"oil-and-wax"', '"house-oil"')
        self.journal.append(MethodKept(text=text, name="house.toml"), at=NOW, logged_at=NOW)
        added = next(e for e in self.journal.entries() if e.instrument == "petrel" and hasattr(e.body, "method"))
        body = msgspec.structs.replace(added.body, method="house-oil", material="oil-wax")
        self.journal.append(body, at=added.at, logged_at=NOW, instrument="petrel", corrects=added.id)
        other = self.empty()
        self.bring(self.out("petrel"), other)
        self.assertIn("house-oil", self.shop(other).catalogue.methods)
        self.assertEqual(self.shop(other).racked["petrel"].method.id, "house-oil")

    def test_the_air_stays_the_shops_own(self):
        other = self.empty()
        self.bring(self.out("heron"), other)
        count = len(other.entries())
        self.bring(self.out("dunlin"), other)
        airs = [e for e in other.entries() if type(e.body).__name__ == "AirLogged"]
        self.assertEqual(len(airs), 3)
        self.assertGreater(len(other.entries()), count)

    def test_the_schema_knows_the_file(self):
        schema = instrument.schema()
        told = json.loads(self.out("heron"))
        known = schema["$defs"]["InstrumentFile"]["properties"]
        self.assertLessEqual(set(told), set(known))


class BadFiles(ExchangeTest):
    def refuse(self, change, *words):
        raw = json.loads(self.out("heron"))
        change(raw)
        before = len(self.journal.entries())
        with self.assertRaises(InputError) as caught:
            self.bring(json.dumps(raw).encode(), self.journal)
        text = whole_fault(caught.exception)
        for word in ("x.json", *words):
            self.assertIn(word, text)
        self.assertEqual(len(self.journal.entries()), before)

    def test_each_is_told_and_changes_nothing(self):
        def entry(i, **change):
            return lambda raw: raw["entries"][i].update(change)

        def body(i, **change):
            return lambda raw: raw["entries"][i]["body"].update(change)

        self.refuse(lambda raw: raw.update(format="something else"), "format")
        self.refuse(lambda raw: raw.update(version=9), "newer")
        self.refuse(lambda raw: raw.update(extra=1), "extra")
        self.refuse(lambda raw: raw["entries"].clear(), "puts the instrument")
        self.refuse(entry(1, n=7), "entries[1]", "number 7")
        self.refuse(entry(1, corrects=5), "entries[1]", "does not come before")
        self.refuse(entry(1, at="yesterday"), "at")
        self.refuse(entry(1, at="2026-05-01T10:00:00"), "time zone")
        self.refuse(body(1, dry_um="much"), "dry_um")
        self.refuse(body(1, dry_um=-4.0), "dry_um")
        self.refuse(body(1, zones=["horn"]), "horn")
        self.refuse(body(0, method="no-such"), "no-such")
        self.refuse(body(0, id="swan"), "swan")
        self.refuse(body(0, name="x\ny"), "line break")
        for name in ("../../x", "x" * 5000, "a\nb"):
            with self.subTest(name=name[:9]):
                self.refuse(lambda raw, name=name: self.renamed(raw, name), "letters, digits")
        for raw in (
            b"",
            b"not json",
            b'{"format":"\x86"}',
            b"[" * 100_000,
            b'{"n":' + b"9" * 5000 + b"}",
            b"[]",
            b"{" * 100,
            b"x" * 10_000_001,
        ):
            with self.assertRaises(InputError):
                instrument.read(raw, "x.json")

    @staticmethod
    def renamed(raw, name):
        raw["instrument"] = raw["entries"][0]["body"]["id"] = name

    def test_only_an_instrument_is_told_of(self):
        for body in (
            {"kind": "shop", "name": "Mine now"}, {"kind": "price", "material": "lacquer-sprayed", "per_litre": 1},
            {"kind": "rate", "material": "lacquer-sprayed", "ln_mean": 1e6, "ln_sd": 0.1},
            {"kind": "drawer", "owned": ["NO:1"]}, {"kind": "session", "instruments": ["nobody"]},
            {"kind": "mix", "material": "nothing", "ml": 3}, {"kind": "hours", "zone": "Europe/Rome"},
        ):  # fmt: skip
            with self.subTest(kind=body["kind"]):
                before = self.shop()
                self.refuse(lambda raw, body=body: raw["entries"][2].update(body=body), "entries[2]", "of the shop")
                self.refuse(lambda raw, body=body: raw.update(methods=[raw["entries"][2] | {"body": body}]), "methods")
                self.assertEqual(self.shop(), before)

    def test_what_nobody_can_reckon_with_is_not_written(self):
        session = ShopSession(shipped(), HandClock(NOW))
        self.addCleanup(session.close)
        raw = self.out("heron")
        self.journal.close()
        session.open(self.path)
        before = len(session.everything())
        with (
            mock.patch("ravden.app.outlook_request.OutlookRequest.run", side_effect=ZeroDivisionError),
            self.assertRaises(InputError) as caught,
        ):
            session.bring_in(raw, "x.json")
        self.assertIn("nobody can reckon with", whole_fault(caught.exception))
        late = json.loads(raw)
        late["entries"][-1]["logged_at"] = "2031-01-01T00:00:00+00:00"
        with self.assertRaises(InputError) as caught:
            session.bring_in(json.dumps(late).encode(), "x.json")
        self.assertIn("days to come", whole_fault(caught.exception))
        self.assertEqual(len(session.everything()), before)

    def test_a_method_goes_along_by_its_own_name_alone(self):
        text = write_method(replace(shipped().method("lacquer-fine-start"), id="lacquer-fine-start-own"))
        self.journal.append(MethodKept(text=text, name="own"), at=NOW, logged_at=NOW)
        self.assertEqual(json.loads(self.out("heron")).get("methods", []), [])

    def test_several_rows_are_written_or_none(self):
        entries = self.journal.entries()
        found = instrument.read(self.out("heron"), "x.json")
        self.journal.close()
        read_only = Journal.open(self.path)
        self.addCleanup(read_only.close)
        second = Journal.open(self.path)  # the second one may only read
        self.addCleanup(second.close)
        with self.assertRaises(InputError):
            instrument.bring_in(found, "x.json", second, entries, fold(entries, shipped()))
        self.assertEqual(len(second.entries()), len(entries))


class Elsewhere(ExchangeTest):
    def test_a_plan_is_a_calendar(self):
        shop = self.shop()
        found = plan_of(shop, "heron", NOW)
        read = Calendar.from_ical(calendar(shop, "heron", found, NOW))
        events = list(read.walk("VEVENT"))
        self.assertEqual(len(events), len(found.forward.steps))
        self.assertEqual(len({str(e["uid"]) for e in events}), len(events))
        level = next(e for e in events if "Level sand" in str(e["summary"]))
        self.assertEqual(str(level["summary"]), "Heron: Level sand")
        self.assertGreater(level["dtend"].dt, level["dtstart"].dt)
        wait = next(e for e in events if "Cure to level" in str(e["summary"]))
        self.assertEqual(str(wait["transp"]), "TRANSPARENT")
        self.assertRegex(str(wait["description"]), r"^Likely ready \w{3} .* 2026 \(nine in ten by .* 2026\)\.")

    def test_a_calendar_holds_no_escapes(self):
        steps = tuple(replace(s, label=f"{s.label}\x1b[2J\x00", how="a\x00b\nc") for s in FINE.stage)
        self.journal.append(PlanSet(method=FINE.id, stage=steps), at=NOW, logged_at=NOW, instrument="heron")
        raw = calendar(self.shop(), "heron", plan_of(self.shop(), "heron", NOW), NOW)
        self.assertIn(b"[2J", raw)
        self.assertNotIn(b"\x1b", raw)
        self.assertNotIn(b"\x00", raw)

    def test_a_terminal_is_told_nothing_it_obeys(self):
        self.journal.close()
        with contextlib.redirect_stderr(io.StringIO()) as said:
            self.assertEqual(main(["export", str(self.path), "--instrument", "x\x1b[2J"]), 2)
        self.assertIn("[2J", said.getvalue())
        self.assertNotIn("\x1b", said.getvalue())

    def test_what_cannot_be_read_goes_out_as_what_it_is(self):
        with contextlib.closing(sqlite3.connect(self.path)) as db, db:
            row = "('2026-05-04T14:00:00.000+00:00', '2026-05-04T14:00:00.000+00:00', 'heron', '{\"kind\": \"coat\"}')"
            db.execute(f"INSERT INTO entry (at, logged_at, instrument, body) VALUES {row}")
        entries = self.journal.entries()
        raw = instrument.write(entries, Fold(entries, shipped()).shop, "heron")
        there, written = self.bring(raw, self.empty("other.ravden"))
        self.assertEqual((there, written[-1].body.kind_name), ("heron", "unread"))
        self.journal.close()
        with contextlib.redirect_stdout(io.StringIO()) as said:
            self.assertEqual(main(["export", str(self.path)]), 0)
        self.assertEqual(json.loads(said.getvalue())["entries"][-1]["body"]["text"], '{"kind": "coat"}')

    def test_a_file_s_plan_is_the_window_s(self):
        """One way to a plan: of every instrument of a shop, and with what was logged a moment ago in it."""
        session = ShopSession(shipped(), HandClock(NOW))
        self.journal.close()
        session.open(self.path)
        self.addCleanup(session.close)
        for name in session.shop.racked:
            with self.subTest(instrument=name):
                window, file = session.request(name).run(), plan_of(session.shop, name, NOW)
                self.assertEqual(window.forward.steps, file.forward.steps)
                self.assertEqual(window.forward.windows, file.forward.windows)
                films = [[(z.name, z.film.mean_um) for z in found.zones] for found in (window, file)]
                self.assertEqual(*films)

    def test_a_journal_is_a_table(self):
        heron = [e for e in self.journal.entries() if e.instrument == "heron"]
        self.journal.append(Undone(), at=NOW, logged_at=NOW, instrument="heron", corrects=heron[-1].id)
        rows = list(csv.DictReader(io.StringIO(journal_csv(self.journal.entries(), "heron"))))
        self.assertEqual(len(rows), len(heron) + 1)
        self.assertEqual([r["counts"] for r in rows[-2:]], ["no", ""])
        self.assertEqual(json.loads(rows[-2]["details"])["dry_um"], 12)
        self.assertEqual(rows[-1]["corrects"], rows[-2]["entry"])
        self.assertEqual(len(journal_csv(self.journal.entries()).splitlines()), len(self.journal.entries()) + 1)

    def test_the_plan_is_told_in_the_file(self):
        shop = self.shop()
        steps = steps_out(shop, "heron", plan_of(shop, "heron", NOW))
        raw = instrument.write(self.journal.entries(), shop, "heron", steps)
        told = json.loads(raw)["plan"]
        self.assertEqual(told[0]["step"], "Build")
        self.assertLessEqual(told[0]["begins"], told[-1]["ends"])
        self.bring(raw, self.empty())

    def run_cli(self, *words):
        out, fault = io.TextIOWrapper(io.BytesIO(), encoding="utf-8"), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(fault):
            code = main([str(w) for w in words])
        out.flush()
        return code, out.buffer.getvalue(), fault.getvalue()

    def test_from_the_command_line(self):
        self.journal.close()
        code, raw, _ = self.run_cli("export", self.path, "--instrument", "heron")
        self.assertEqual(code, 0)
        kept = self.folder / "heron.json"
        kept.write_bytes(raw)
        other = self.folder / "other.ravden"
        Journal.create(other).close()
        code, said, _ = self.run_cli("import", other, kept)
        self.assertEqual(code, 0)
        self.assertIn(b"heron: ", said)
        code, table, _ = self.run_cli("export", other, "--as", "csv")
        self.assertEqual((code, table.splitlines()[0][:18]), (0, b"entry,happened_utc"))
        code, plan, _ = self.run_cli("export", other, "--instrument", "heron", "--as", "calendar")
        self.assertTrue(plan.startswith(b"BEGIN:VCALENDAR"))
        self.assertEqual(self.run_cli("export", "--schema")[0], 0)
        for words in (("export", other, "--as", "calendar"), ("export", other, "--instrument", "swan"),
                      ("import", other, self.folder / "none.json")):  # fmt: skip
            code, said, fault = self.run_cli(*words)
            self.assertEqual((code, said), (2, b""))
            self.assertEqual(fault.count("\n"), 1)
