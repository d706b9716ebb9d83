"""What is out of this world, wherever it comes from: what log() refuses in any shop, a file that has it sets aside,
before any work is done with it, and the rest goes on."""

import json
import random
import unittest
from datetime import UTC, datetime, timedelta

import msgspec

from ravden.app import compute
from ravden.app.clock import HandClock
from ravden.app.session import ShopSession
from ravden.catalogue.tables import shipped
from ravden.core.errors import InputError
from ravden.exchange import instrument
from ravden.journal.entry import Entry, decode, encode
from ravden.journal.fold import Fold, check
from ravden.journal.kinds import every_kind
from ravden.journal.kinds.cabinet import CabinetLogged
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.learning import LearningRuled
from ravden.journal.kinds.promise import PromiseSet
from ravden.journal.kinds.rate import RateAccepted
from ravden.journal.store import Journal
from ravden.text.say import whole_fault
from tests.deeds import Deeds
from tests.in_folder import InFolder
from tests.ui.test_session import SessionTest

NOW = datetime(2026, 5, 4, 15, tzinfo=UTC)
FAR = (1e300, -1e300, 1e12, -1e12, 30_000_000, -1, 0)
DAYS = ("9999-12-31", "0001-01-01", "soon")
MOMENTS = ("9999-12-31T23:59:59+00:00", "0001-01-01T00:00:00+00:00", "soon", "2026-05-04T15:00:00")
SHOPS = ((1, 160), (2, 160), (5, 160), (9, 160))


def variants(body):
    """A body with one of its numbers, days or moments out of this world: as JSON writes them."""
    plain = {f: getattr(body, f) for f in body.__struct_fields__}
    raw = {f: v for f, v in plain.items() if isinstance(v, int | float)} | json.loads(encode(body))

    def walk(value, put):
        if isinstance(value, bool):
            return
        if isinstance(value, int | float):
            for far in FAR:
                yield put(far)
        elif isinstance(value, str) and value[:2] == "20" and value[4:5] == "-":
            for far in MOMENTS if "T" in value else DAYS:
                yield put(far)
        elif isinstance(value, list):
            for i, one in enumerate(value[:2]):
                yield from walk(one, lambda x, i=i: put([*value[:i], x, *value[i + 1 :]]))
        elif isinstance(value, dict):
            for key, one in value.items():
                if key not in ("kind", "typed"):
                    yield from walk(one, lambda x, key=key: put({**value, key: x}))

    for made in walk(raw, lambda x: x):
        try:
            yield decode(json.dumps(made))
        except InputError:
            continue  # set aside as what cannot be read


class WhateverIsRefused(InFolder):
    def shop(self, seed, deeds):
        path = self.folder / f"{seed}.ravden"
        clock = HandClock(NOW)
        session = ShopSession(shipped(), clock)
        self.addCleanup(session.close)
        session.open(path, create=True)
        hands = Deeds(session, clock, random.Random(seed))
        for _ in range(deeds):
            hands.one()
        return session

    def test_what_no_shop_can_have_a_file_that_has_it_sets_aside(self):
        met, tried = set(), 0
        for seed, deeds in SHOPS:
            session = self.shop(seed, deeds)
            entries = session.everything()
            newest = {type(e.body): i for i, e in enumerate(entries) if e.corrects is None}
            for kind, i in newest.items():
                if kind in met or (kind.__struct_fields__ and not any(variants(entries[i].body))):
                    continue
                met.add(kind)
                one, before = entries[i], Fold(entries[:i], shipped())
                for body in variants(one.body):
                    tried += 1
                    if self.refused(before, body, one):
                        self.aside(entries[:i], before, body, one)
        self.assertGreater(len(met), 28)
        self.assertGreater(tried, 300)

    @staticmethod
    def refused(before, body, one):
        """Whether no shop could have it: by its own limits, or by what it makes of an instrument."""
        try:
            body.limits()
            check(before.shop, body, one.instrument, one.at, one.at + timedelta(days=1))
        except InputError as error:
            return error
        return None

    def aside(self, entries, before, body, one):
        there = Entry(id=one.id, at=one.at, logged_at=one.logged_at, instrument=one.instrument, body=body)
        folded = Fold([*entries, there], shipped())
        if one.id not in folded.aside:
            why = self.refused(before, body, one)
            self.assertEqual(folded.shop, before.shop, f"{body} had an effect, and is refused: {why!r}")

    def test_every_kind_says_so_in_a_sentence(self):
        for kind in every_kind():
            self.assertTrue(callable(kind.limits))
        self.assertTrue(issubclass(CoatLogged, msgspec.Struct))


class OutOfThisWorld(SessionTest):
    def reopened_with(self, *told):
        """The shop with entries put into its file by other hands."""
        self.session.close()
        journal = Journal.open(self.path)
        ids = [journal.append(b, at=at, logged_at=NOW, instrument=i).id for b, i, at in told]
        journal.close()
        self.session.open(self.path)
        return ids

    def test_what_hung_it_is_set_aside_and_it_goes_on(self):
        before = self.session.request("heron").run().forward.ready_h
        rows = [
            (CoatLogged(dry_um=12, count=30_000_000), "heron"),
            (CoatLogged(dry_um=12, count=3, over_h=1e300), "heron"),
            (CoatLogged(dry_um=12, count_odds=((30_000_000, 0.5), (9, 0.5))), "heron"),
            (CabinetLogged(hours=1e12, temp_C=30.0), "heron"),
            (RateAccepted(material="lacquer-sprayed", ln_mean=700.0, ln_sd=0.1), ""),
            (LearningRuled(key="gun/lacquer-sprayed", what="freeze", ln_mean=800.0, ln_sd=0.1), ""),
            (PromiseSet(promised="9999-12-31T00:00:00+00:00"), "heron"),
        ]
        late = [(CoatLogged(dry_um=12), "heron", datetime(9999, 12, 31, tzinfo=UTC))]
        ids = self.reopened_with(*((b, i, NOW) for b, i in rows), *late)
        self.assertEqual(sorted(self.session.aside), ids)
        self.assertEqual(self.session.request("heron").run().forward.ready_h, before)
        for body, name in rows:
            self.assertRaises(InputError, self.session.log, body, instrument=name)
        self.session.log(CoatLogged(dry_um=9), instrument="heron")  # a year 9999 stops nobody
        with self.assertRaises(InputError):
            self.session.log(CoatLogged(dry_um=9), instrument="heron", at=datetime(2201, 1, 1, tzinfo=UTC))

    def test_a_case_and_an_instrument_s_file_are_refused_before_any_work(self):
        case = {
            "start": "2026-01-12T09:00:00+00:00", "now_h": 10,
            "instrument": {"kind": "parlour-guitar", "method": "lacquer-fine-start"},
            "acts": [{"kind": "coat", "at_h": 5, "dry_um": 12, "count": 30_000_000}],
        }  # fmt: skip
        with self.assertRaises(InputError) as caught:
            compute.run("plan", json.dumps(case).encode())
        self.assertIn("acts[0]", caught.exception.path)
        raw = instrument.write(self.session.entries, self.session.shop, "heron")
        bad = raw.replace(b'"kind": "coat",', b'"kind": "coat", "count": 30000000,', 1)
        self.assertNotEqual(bad, raw)
        many = len(self.session.entries)
        with self.assertRaises(InputError) as caught:
            self.session.bring_in(bad, "heron.json")
        self.assertIn("count", whole_fault(caught.exception))
        self.assertEqual(len(self.session.entries), many)


if __name__ == "__main__":
    unittest.main()
