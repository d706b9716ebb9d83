"""The shelf in the journal: bought, drawn from, weighed, asked about, taken back, to a table and from one."""

import json
from contextlib import redirect_stderr, redirect_stdout
from datetime import UTC, datetime, timedelta
from io import BytesIO, StringIO, TextIOWrapper
from unittest import mock

from msgspec.structs import replace

from ravden.app import costs, quote, repairing, stock, stock_files, stock_forms
from ravden.app.clock import HandClock
from ravden.app.prices import per_litre
from ravden.app.session import ShopSession
from ravden.catalogue.assemble import measures_of
from ravden.catalogue.shelf import age_of, can_then
from ravden.catalogue.tables import shipped
from ravden.cli import main
from ravden.core.abrasive.scratch import pieces_of_paper
from ravden.core.ahead.waits import waits as waits_of
from ravden.core.errors import InputError
from ravden.core.record import Mishap
from ravden.core.repair.causes import causes
from ravden.core.stock.lots import stocked
from ravden.core.stock.product import Can, Product
from ravden.demo import ferrow_lane
from ravden.exchange import stock_csv
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.drawer import DrawerSet
from ravden.journal.kinds.instrument import InstrumentAdded
from ravden.journal.kinds.plan import PlanSet
from ravden.journal.kinds.price import PriceSet
from ravden.journal.kinds.sanding import SandingLogged
from ravden.journal.kinds.session import MixMade, SessionBegun, SessionEnded
from ravden.journal.kinds.stock import CanWeighed, LotBought, LotGone, LotOpened, LotTaken, ProductTold
from ravden.text import written
from ravden.text.units import Units
from ravden.ui.places.booth import before
from ravden.ui.places.film import waits as film_waits
from ravden.ui.places.methods import plan_presenter
from ravden.ui.places.shop import stock_presenter
from tests.in_folder import InFolder, OnShop

NOW = datetime(2026, 5, 4, 15, tzinfo=UTC)
LACQUER = Product(id="bench", name="Bench", material="lacquer-sprayed", cans=(Can(ml=1000, price=30.0),))


class OnAShelf(OnShop):
    def setUp(self):
        super().setUp()
        ferrow_lane.build(self.path, NOW, ("heron", "tern", "wren"))
        self.clock = HandClock(NOW)
        self.session = self.open()

    def bought(self, product=LACQUER, ml=1000.0, ago=40, opened=39, price=30.0):
        self.session.log(ProductTold(product=product))
        lot = self.session.log(LotBought(product=product.id, ml=ml, price=price), at=NOW - timedelta(days=ago)).id
        if opened is not None:
            self.session.log(LotOpened(lot=lot), at=NOW - timedelta(days=opened))
        return lot

    def outlooks(self, session=None):
        session = session or self.session
        return {i: session.request(i).run() for i in session.shop.racked}

    def known(self, session=None):
        session = session or self.session
        return stock.shelved(session, stock.wanted(session, self.outlooks(session)))

    def left(self, lot):
        return stocked(self.session.shop.stock, stock.draws(self.session)).lots[lot]

    def sure(self, who):
        low, high = self.session.request(who).run().ledger.quantiles("top", (0.05, 0.95))
        return high - low


class Brings(OnShop):
    def test_what_a_method_is_done_with_and_nobody_owns_is_on_the_list(self):
        ferrow_lane.build(self.path, NOW, ("siskin",))
        self.clock = HandClock(NOW)
        self.session = self.open()
        papers = tuple(f"FEPA-P:P{n}" for n in (600, 800, 1000, 1200, 1500, 2000))
        self.session.log(DrawerSet(owned=papers))
        brought = self.brought()
        self.assertEqual([line.partition(":")[0] for line in brought], ["Pumice FFF", "Pumice FFFF"])
        self.assertRegex(brought[1], r": Siskin is rubbed out with it from .*, and it is not in your drawer\.")
        self.session.log(DrawerSet(owned=(*papers, "LOOSE-POWDER:pumice FFF", "LOOSE-POWDER:pumice FFFF")))
        self.assertEqual(self.brought(), [])

    def test_a_method_looked_at_beside_ones_own_brings_its_own(self):
        ferrow_lane.build(self.path, NOW, ("siskin",))
        self.clock = HandClock(NOW)
        self.session = self.open()
        asked = self.session.request("siskin")
        learnt, other = asked.teaching.beliefs(), self.session.catalogue.method("varnish-brushed")
        self.assertIn("LOOSE-POWDER:rottenstone", asked.drawer_of(learnt, other).brought)
        self.assertNotIn("LOOSE-POWDER:rottenstone", asked.drawer_of(learnt, asked.method).brought)

    def brought(self):
        wants = stock.wanted(self.session, {"siskin": self.session.request("siskin").run()})
        lines = stock_presenter.show(self.session, stock.shelved(self.session, wants)).to_buy
        return [line for line in lines if "drawer" in line]


class Shelf(OnAShelf):
    def test_a_logged_coat_is_drawn_and_taken_back_it_is_in_the_can_again(self):
        lot = self.bought(ml=5000)
        before = self.left(lot)
        self.assertAlmostEqual(before.ml + before.drawn_ml, 5000, places=6)
        self.session.log(CoatLogged(dry_um=12), instrument="heron")
        took = before.ml - self.left(lot).ml
        self.assertTrue(20 < took < 90, took)  # a mandola, sprayed
        self.session.undo()
        self.assertAlmostEqual(self.left(lot).ml, before.ml, places=9)

    def test_what_an_instrument_took_stays_drawn_when_it_has_gone_into_the_book(self):
        lot = self.bought(ml=5000)
        left = self.left(lot).ml
        self.session.select("tern", "test")
        self.session.hand_over(NOW)
        self.assertAlmostEqual(self.left(lot).ml, left, places=6)
        with mock.patch("ravden.journal.shelves.LATE", 1):  # as in a long shop: its entries are not read again
            self.session.log(CoatLogged(dry_um=12), instrument="heron", at=NOW)
            later = self.left(lot).ml
            again = self.again()
        self.assertIsNone(again.shop.book["tern"].rack)
        self.assertAlmostEqual(self.left(lot).ml, later, delta=0.3)

    def test_weighed_before_and_after_a_coat_it_is_a_reading_of_the_coat_too(self):
        lot = self.bought(ml=5000)
        heron = self.session.request("heron").run()
        at = NOW + timedelta(minutes=5)
        self.clock.turn(days=1)
        self.assertIn("was reckoned", stock.weigh(self.session, CanWeighed(lot=lot, left_ml=3000), at))
        self.session.log(CoatLogged(dry_um=12), instrument="heron", at=at + timedelta(hours=1))
        wide = self.sure("heron")
        took = stock.draws(self.session)[-1].ml
        learnt = stock.weigh(self.session, CanWeighed(lot=lot, left_ml=3000 - took), at + timedelta(hours=2))
        self.assertIn("Heron", learnt)
        found = self.session.request("heron").run().ledger
        self.assertLess(self.sure("heron"), wide)
        self.assertGreater(found.mean_um("top"), heron.ledger.mean_um("top"))
        readings = [a for a in self.session.shop.racked["heron"].acts if getattr(a, "what", "") == "volume"]
        self.assertAlmostEqual(readings[-1].um, 12, delta=1.5)
        # Two coats in between: of neither is it known what it took.
        for n in (1, 2):
            self.session.log(CoatLogged(dry_um=12), instrument="heron", at=at + timedelta(hours=2 + n))
        body = CanWeighed(lot=lot, left_ml=2800)
        self.assertNotIn("its film is known", stock.weigh(self.session, body, at + timedelta(hours=6)))

    def test_a_mix_takes_what_was_made_and_its_coats_no_more(self):
        lot = self.bought(ml=5000)
        begun = self.left(lot).ml
        self.session.log(SessionBegun(instruments=("heron",)))
        self.session.log(MixMade(material="lacquer-sprayed", ml=240))
        self.assertAlmostEqual(begun - self.left(lot).ml, 200, places=6)  # a fifth of it is thinner
        self.session.log(CoatLogged(dry_um=12), instrument="heron")
        self.assertAlmostEqual(begun - self.left(lot).ml, 200, places=6)
        self.session.log(SessionEnded())
        self.again()
        self.assertAlmostEqual(self.left(lot).ml, begun - 200, places=6)

    def test_a_mix_of_another_proportion_takes_that_and_one_from_flakes_no_can(self):
        lot = self.bought(ml=5000)
        begun = self.left(lot).ml
        self.session.log(SessionBegun(instruments=("heron",)))
        self.session.log(MixMade(material="lacquer-sprayed", ml=200, supplied_ml=100, thinner_ml=100))
        self.session.log(CoatLogged(dry_um=12), instrument="heron")
        self.assertAlmostEqual(begun - self.left(lot).ml, 100, places=6)
        self.session.undo()
        self.session.undo()
        self.session.log(MixMade(material="lacquer-sprayed", ml=20, supplied_ml=0, thinner_ml=0))
        self.session.log(CoatLogged(dry_um=12), instrument="heron")
        coat = [d for d in self.session.shop.racked["heron"].draws if d.kind == "finish"][-1]
        whole = coat.ml + coat.thinner_ml
        self.assertGreater(whole, 20)  # more than was mixed: the rest came out of the can
        self.assertAlmostEqual(begun - self.left(lot).ml, coat.ml * (1 - 20 / whole), places=6)
        for told in ({"supplied_ml": -1, "thinner_ml": 0}, {"supplied_ml": 5}):
            with self.subTest(told), self.assertRaises(InputError):
                self.session.log(MixMade(material="lacquer-sprayed", ml=20, **told))

    def test_short_on_a_day_and_what_to_buy(self):
        self.bought(ml=1000, ago=2, opened=2)
        lot = max(self.session.shop.stock.lots)
        self.session.log(CanWeighed(lot=lot, left_ml=20))
        shelf = next(p for p in self.known().products if p.product.id == "bench")
        self.assertAlmostEqual(shelf.reach.short_ml, shelf.reach.wanted_ml - 20 * 0.97, places=6)
        self.assertGreaterEqual(shelf.reach.at, NOW)
        self.assertEqual(shelf.buy.cans, (1,))
        shown = stock_presenter.show(self.session, self.known())
        self.assertRegex(shown.to_buy[0], r"Bench: short of \d+ ml .*\(Heron\)\. Buy 1 × 1 l, 30\.00 in all")
        self.assertTrue(any(line.startswith("Pad shellac: ") for line in shown.to_buy))

    def test_a_can_too_old_to_use_does_not_count_for_the_plan(self):
        lot = self.bought(replace(LACQUER, id="old", name="Old"), ago=4000, opened=3900)
        shelf = next(p for p in self.known().products if p.product.id == "old")
        self.assertEqual((shelf.ages[0].word, shelf.cans[0].lot.id), ("not", lot))
        self.assertEqual(shelf.reach.short_ml, shelf.reach.wanted_ml)
        self.assertIn("do not use it", " ".join(stock_presenter.show(self.session, self.known()).told))

    def test_an_old_can_slows_the_film_it_went_into(self):
        before = self.session.request("wren").run()
        polish = Product(id="polish", name="Polish", material="shellac-pad")
        self.bought(polish, ago=500, opened=480)
        after = self.session.request("wren").run()
        self.assertLess(after.project.rate_ln[0], before.project.rate_ln[0])
        self.assertGreater(after.project.rate_ln[1], before.project.rate_ln[1])
        self.assertGreaterEqual(after.forward.finished_h, before.forward.finished_h)
        self.session.select("wren", "test")
        said = [t for _, t in film_waits.show(self.session, after, waits_of(after)).lines]
        self.assertTrue(any("from an old can: it is reckoned to dry" in t for t in said), said)
        self.assertFalse(any("old can" in t for _, t in film_waits.show(
            self.session, self.session.request("heron").run(), waits_of(before)).lines))  # fmt: skip

    def test_a_tacky_film_has_its_old_can_named_by_the_record(self):
        wren = self.session.shop.racked["wren"]
        tacky = Mishap(at_h=wren.hours(NOW), what="tacky", zone="top", id=5)

        def found():
            outlook = self.session.request("wren").run()
            record = repairing.record_of(self.session.shop, self.session.catalogue, outlook, tacky, {})
            return {c.code: c for c in causes(record)}

        self.assertEqual(found()["old-can"].asks, "old-can")
        self.bought(Product(id="polish", name="Polish", material="shellac-pad"), ago=500, opened=480)
        self.assertNotIn("old-can", found())
        self.assertGreater(found()["can-aged"].value, 1.0)

    def test_two_open_cans_are_asked_about_once(self):
        self.bought(ml=5000)
        second = self.bought(ml=5000, ago=38, opened=37)
        self.assertIn("say which one is used", " ".join(stock_presenter.show(self.session, self.known()).told))
        self.session.log(LotTaken(lot=second), at=NOW - timedelta(days=36))
        self.assertEqual(stock_presenter.show(self.session, self.known()).told, ())
        self.assertGreater(self.left(second).drawn_ml, 0)

    def test_what_cannot_be_is_refused_and_changes_nothing(self):
        lot = self.bought(opened=None)
        gone = self.bought(ml=200)
        self.session.log(LotGone(lot=gone, what="thrown", why="gelled"))
        entries = len(self.session.entries)
        for body, at, path in (
            (LotBought(product="nobody", ml=1), NOW, "product"), (LotBought(product="bench", ml=-5), NOW, "ml"),
            (LotBought(product="bench", ml=1e9), NOW, "ml"), (LotBought(product="bench", ml=5, price=-1), NOW, "price"),
            (LotBought(product="bench", ml=5, use_by="soon"), NOW, "use_by"), (LotOpened(lot=999), NOW, "lot"),
            (LotOpened(lot=lot), NOW - timedelta(days=41), "at"), (CanWeighed(lot=lot, left_ml=1200), NOW, "left_ml"),
            (CanWeighed(lot=lot, left_ml=-1), NOW, "left_ml"), (LotGone(lot=lot, what="sold"), NOW, "what"),
            (LotGone(lot=gone, what="empty"), NOW, "lot"), (LotOpened(lot=gone), NOW, "lot"),
            (ProductTold(product=LACQUER, gone=True), NOW, "name"),
            (ProductTold(product=replace(LACQUER, kind="wax")), NOW, "kind"),
            (ProductTold(product=replace(LACQUER, id="other")), NOW, "name"),
            (ProductTold(product=Product(id="x", name="X", material="soap")), NOW, "material"),
        ):  # fmt: skip
            with self.subTest(body=body), self.assertRaises(InputError) as caught:
                self.session.log(body, at=at)
            self.assertEqual(caught.exception.path, path)
        self.assertEqual(len(self.session.entries), entries)

    def test_a_litre_costs_what_its_last_can_did(self):
        self.session.log(PriceSet(material="lacquer-sprayed", per_litre=19.0))
        self.assertEqual(per_litre(self.session.shop)["lacquer-sprayed"], 19)
        self.bought(ml=500, price=14.0)
        self.assertEqual(per_litre(self.session.shop)["lacquer-sprayed"], 28)

    def test_what_an_instrument_cost_is_what_its_coats_took_at_the_price_of_their_cans(self):
        self.bought(ml=1000, ago=40, opened=39, price=40.0)
        all_draws = stock.draws(self.session)
        known = stocked(self.session.shop.stock, all_draws)
        each = {who: costs.took(self.session, who).money for who in ("tern", "heron")}
        lacquer = sum(d.ml for d in all_draws if d.material == "lacquer-sprayed")
        self.assertAlmostEqual(sum(each.values()), lacquer * 0.04, places=6)
        self.assertAlmostEqual(sum(c.drawn_ml for c in known.lots.values()), lacquer, places=6)
        self.assertEqual(dict(costs.took(self.session, "wren").unpriced_ml).keys(), {"shellac-pad"})
        found = self.session.request("heron").run()
        wants = stock.wanted(self.session, {"heron": found})
        more = sum(n.ml for n in wants["finish", "lacquer-sprayed"])
        self.assertAlmostEqual(costs.to_come(self.session, found).money, more * 0.04, places=6)
        line = costs.line(self.session, found)
        self.assertIn(f"{each['heron']:.2f} so far", line)
        self.assertIn(f"{each['heron'] + more * 0.04:.2f} in all as planned", line)
        self.assertIn(line, plan_presenter.show(self.session, found, None).fit_words)
        self.assertEqual(costs.line(self.session, self.session.request("wren").run()), "")
        # A later can at another price changes nothing of what came out of the earlier one.
        before = costs.took(self.session, "tern").money
        self.session.log(LotBought(product="bench", ml=1000, price=90.0))
        self.assertEqual(costs.took(self.session, "tern").money, before)

    def test_a_quote_has_the_work_and_the_days_and_nothing_of_what_it_costs(self):
        self.bought(ml=1000, price=40.0)
        found = self.session.request("tern").run()
        typed = {"price": "EUR 1,850", "tax": "tax included", "note": "With <its> case", "days": "30"}
        text = quote.html(self.session, found, typed)
        for words in (
            "Quote for Tern",
            "polished to a mirror",
            "between ",
            "EUR 1,850 (tax included)",
            "With &lt;its&gt;",
        ):
            self.assertIn(words, text)
        self.assertNotIn(costs.line(self.session, found).split()[0], text)
        self.assertNotIn("Price", quote.html(self.session, found, typed | {"price": " "}))
        for change, path in (({"days": "0"}, "days"), ({"days": "soon"}, "days"), ({"note": "x" * 700}, "note")):
            with self.subTest(path=path), self.assertRaises(InputError) as caught:
                quote.html(self.session, found, typed | change)
            self.assertEqual(caught.exception.path, path)

    def test_the_booth_says_when_the_open_can_will_not_reach(self):
        lot = self.bought(ml=5000)
        self.assertEqual(stock.will_not_reach(self.session, "lacquer-sprayed", 100), "")
        self.session.log(CanWeighed(lot=lot, left_ml=30))
        self.assertEqual(
            stock.will_not_reach(self.session, "lacquer-sprayed", 100), "the open can has 30 ml: there is no other"
        )
        self.clock.turn(days=1)
        rows = before.show(self.session, self.outlooks(), before.Choice(by_hand={"heron": True, "wren": False}))
        self.assertTrue(any("the open can has 30 ml" in line for line in rows.mixes), rows.mixes)

    def test_forms_say_what_was_typed_back(self):
        made = stock_forms.product(
            self.session.shop.stock,
            {"name": "Water clear", "product_kind": "finish", "material": "waterborne",
             "cans": "250 ml at 9; 1 l at 26,50",
             "grade": "",
             "volume_solids": "31", "recoat_h": "", "coat_wet_um": "4", "cure_days": "7", "least_C": "50",
             "hardener": "", "pot_h": "", "density_g_ml": "", "sealed_months": "24", "open_months": ""},
            None, Units(system="us"),
        ).product  # fmt: skip
        self.assertEqual(made.cans, (Can(ml=250, price=9), Can(ml=1000, price=26.5)))
        self.assertEqual((made.figures.volume_solids, made.figures.open_months), (0.31, None))
        self.assertAlmostEqual(made.figures.coat_wet_um, 101.6)
        self.assertAlmostEqual(made.figures.least_C, 10.0)
        for units in (Units(), Units(system="us")):
            fields = {f.name: f.value for f in stock_forms.product_fields(shipped(), made, units)}
            again = stock_forms.product(self.session.shop.stock, fields, made, units).product
            self.assertEqual(again, made)  # to the digit, whatever the units it is shown in
        weighed = {"g": "612", "empty_g": "148", "density": "0,93", "left_ml": "", "at": "now"}
        self.assertAlmostEqual(stock_forms.weighed(1, weighed).left_ml, 464 / 0.93)
        for change, path in (
            ({"density": ""}, "density"), ({"empty_g": "700"}, "empty_g"), ({"left_ml": "30"}, "g"),
            ({"density": "9"}, "density"),
        ):  # fmt: skip
            with self.subTest(change), self.assertRaises(InputError) as caught:
                stock_forms.weighed(1, weighed | change)
            self.assertEqual(caught.exception.path, path)
        with self.assertRaises(InputError) as caught:
            stock_forms.cans("a bucket")
        self.assertEqual(caught.exception.path, "cans")


class Tables(OnAShelf):
    def test_out_and_in_again_nothing_is_lost(self):
        self.bought(replace(LACQUER, name="=Bench+1"))
        self.session.log(ProductTold(product=Product(id="wax", name="Wax", kind="wax")))
        path = self.path.with_name("shelf.csv")
        stock_files.write_stock(self.session, self.known(), path)
        text = path.read_text()
        self.assertIn("'=Bench+1", text)
        self.session.close()
        other = ShopSession(shipped(), self.clock)
        other.open(self.path.with_name("other.ravden"), create=True)
        self.addCleanup(other.close)
        self.session = other
        self.assertEqual(stock_files.import_stock(other, path), "shelf.csv: 2 rows read.")
        names = {p.name: p for p in other.shop.stock.products.values()}
        self.assertEqual(set(names), {"=Bench+1", "Wax"})
        self.assertEqual(names["=Bench+1"].cans, LACQUER.cans)
        (lot,) = other.shop.stock.lots.values()
        self.assertEqual((lot.ml, lot.price, lot.opened is not None), (1000, 30, True))

    def test_ones_own_table_is_read_where_a_comma_is_the_decimal_sign(self):
        self.bought(replace(LACQUER, cans=(Can(ml=1.125, price=29.125),)), ml=1.125, price=29.125)
        path = self.path.with_name("shelf.csv")
        stock_files.write_stock(self.session, self.known(), path)
        self.addCleanup(written.use, written.current())
        written.use(written.Written(decimal="comma"))
        found = stock_csv.read(path.read_text("utf-8"))
        self.assertEqual(found.bad, ())
        self.assertEqual([(r.content_ml, r.price) for r in found.rows], [(1.125, 29.125)])

    def test_from_another_country_and_with_rows_that_cannot_be(self):
        path = self.path.with_name("in.csv")
        path.write_text(
            "Product;what;finish;content_ml;price;bought;opened\n"
            "Klar;finish;waterborne;1.000,5;26,50;2026-04-01;2026-04-02\n"
            "Holz;soap;;;;;\nDick;finish;waterborne;-5;;;\nSpät;finish;waterborne;100;;2026-04-02;2026-04-01\n"
            "Fremd;finish;nothing such;100;;;\nLeer;finish;waterborne;viel;;;\n",
            encoding="utf-8",
        )
        told = stock_files.import_stock(self.session, path)
        self.assertIn("1 row read, 5 left out", told)
        self.assertIn("row 3: ", told)
        (lot,) = self.session.shop.stock.lots.values()
        self.assertEqual((lot.ml, lot.price), (1000.5, 26.5))
        self.assertEqual([n for n, _ in stock_csv.read(path.read_text("utf-8")).bad], [3, 4, 7])
        for text in ("", "a,b\n1,2\n"):
            path.write_text(text)
            with self.subTest(text), self.assertRaises(InputError) as caught:
                stock_files.import_stock(self.session, path)
            self.assertEqual(caught.exception.path, "in.csv")


CASE = {
    "now": "2026-05-04T15:00:00Z",
    "products": [{"id": "a", "material": "shellac-pad", "cans": [{"ml": 250, "price": 9}, {"ml": 1000, "price": 26}]}],
    "lots": [{"product": "a", "ml": 500, "bought": "2025-01-01T00:00:00Z", "opened": "2025-09-20T00:00:00Z",
              "weighed": [{"at": "2026-05-01T00:00:00Z", "left_ml": 120}]}],
    "draws": [{"at": "2026-05-02T00:00:00Z", "material": "shellac-pad", "ml": 20}],
    "needs": [{"at": "2026-05-06T00:00:00Z", "material": "shellac-pad", "ml": 160, "of": "Wren"}],
}  # fmt: skip


class Headless(InFolder):
    def run_case(self, case):
        out, err = StringIO(), StringIO()
        source = TextIOWrapper(BytesIO(json.dumps(case).encode()))
        with mock.patch("sys.stdin", source), redirect_stdout(out), redirect_stderr(err):
            code = main(["compute", "stock"])
        return code, out.getvalue(), err.getvalue()

    def test_a_shelf(self):
        code, out, _ = self.run_case(CASE)
        self.assertEqual(code, 0)
        found = json.loads(out)
        (lot,), (product,) = found["lots"], found["products"]
        self.assertEqual((lot["left_ml"], lot["state"], lot["age"]["word"]), (100, "open", "soon"))
        self.assertAlmostEqual(product["short_ml"], 160 - 97)
        self.assertEqual((product["buy"]["cans"], product["short_at"][:10]), ([1, 0], "2026-05-06"))

    def test_bad_input_names_its_field(self):
        lot = CASE["lots"][0]
        for change, path in (
            ({"now": "yesterday"}, "now"), ({"now": "2026-05-04T15:00:00"}, "now"),
            ({"lots": [lot | {"opened": "2024-01-01T00:00:00Z"}]}, "lots[0].opened"),
            ({"lots": [lot | {"product": "b"}]}, "lots[0].product"), ({"lots": [lot | {"ml": 0}]}, "lots[0].ml"),
            ({"draws": [CASE["draws"][0] | {"ml": -1}]}, "draws[0].ml"),
            ({"products": [CASE["products"][0] | {"kind": "soap"}]}, "products[0].product_kind"),
        ):  # fmt: skip
            with self.subTest(change):
                code, out, err = self.run_case(CASE | change)
                self.assertEqual((code, out), (2, ""))
                self.assertIn(path, err)
                self.assertEqual(err.count("\n"), 1)


class Paper(OnAShelf):
    SHEETS = Product(
        id="p800", name="Wet paper 800", kind="paper", material="FEPA-P:P800", cans=(Can(ml=50, price=25.0),)
    )
    POLISH = Product(id="fine", name="Fine polish", kind="compound", material="", cans=(Can(ml=250, price=20.0),))

    def rubbed(self, **kw):
        return self.session.log(SandingLogged(**({"um": 8, "grade": "P800", "mode": "wet"} | kw)), instrument="tern")

    def test_sheets_go_down_with_every_rung_and_come_back_when_it_is_taken_back(self):
        lot = self.bought(self.SHEETS, ml=50, price=25.0)
        self.rubbed()
        left = self.left(lot)
        # A sheet makes nine faces of a block, and the ladder reckons in faces.
        project, drawer = self.session.request("tern").run().project, self.session.drawer
        grade = next(a for a in drawer.abrasives if a.name == "P800")
        area = sum(z.area_cm2 for z in project.zones if z.kind != "edge")
        faces = pieces_of_paper(drawer.rung(grade, "wet", 120.0), 8, area)
        self.assertAlmostEqual(50 - left.ml, faces * 70 / 644)
        self.rubbed(um=4)
        self.assertAlmostEqual(50 - self.left(lot).ml, 1.5 * (50 - left.ml), places=6)
        self.session.undo()
        self.assertAlmostEqual(self.left(lot).ml, left.ml)
        self.rubbed(grade="P1200")  # another grade is another pack
        self.rubbed(grade="whatever was at hand")
        self.assertAlmostEqual(self.left(lot).ml, left.ml)

    def test_compound_goes_by_the_area_and_money_by_the_pack(self):
        lot, pack = self.bought(self.POLISH, ml=250, price=20.0), self.bought(self.SHEETS, ml=50, price=25.0)
        before = costs.took(self.session, "tern").money
        self.rubbed()
        self.rubbed(grade="fine compound", um=0.5, purpose="rub-out")
        area = sum(z.area_cm2 for z in self.session.shop.racked["tern"].project.zones if z.kind != "edge")
        self.assertAlmostEqual(250 - self.left(lot).ml, 0.0015 * area)
        spent = (250 - self.left(lot).ml) * 0.08 + (50 - self.left(pack).ml) * 0.5
        self.assertAlmostEqual(costs.took(self.session, "tern").money - before, spent)

    def test_what_ladders_still_take_is_wanted_where_paper_is_counted(self):
        outlooks = self.outlooks()
        self.assertFalse(any(kind in ("paper", "compound") for kind, _ in stock.wanted(self.session, outlooks)))
        self.bought(self.SHEETS, ml=2, price=1.0)
        wants = stock.wanted(self.session, outlooks)
        self.assertTrue(any(kind == "paper" for kind, _ in wants))
        text = "\n".join(stock_presenter.to_buy(self.session, self.known()))
        if ("paper", "FEPA-P:P800") in wants:
            self.assertIn("sheets", text)

    def test_a_pack_is_counted_and_not_weighed(self):
        lot = self.bought(self.SHEETS, ml=50)
        names = [f.name for f in stock_forms.weigh_fields(self.left(lot), None, "paper")]
        self.assertEqual(names, ["left_ml", "at"])
        self.session.log(stock_forms.weighed(lot, {"left_ml": "31"}))
        self.assertEqual(self.left(lot).ml, 31)
        shown = stock_presenter.detail(self.session, self.known(), "p800")
        self.assertIn("50 sheets pack: 31 sheets", shown.cans[0].text)
        self.assertNotIn("ml", shown.cans[0].text)
        self.assertRaises(InputError, stock_forms.weighed, lot, {"left_ml": "3.27"})

    def test_a_grade_nobody_knows_is_refused_by_form_and_by_table(self):
        with self.assertRaises(InputError):
            self.session.log(ProductTold(product=replace(self.SHEETS, material="P77777")))
        path = self.folder / "in.csv"
        path.write_text(
            "product;what;finish;sizes;content_ml\nOwn paper;paper;P800;50 sheets at 25;50\nBad;paper;P9x;;5\n"
        )
        said = stock_files.import_stock(self.session, path)
        self.assertIn("1 row read, 1 left out (row 3", said)
        self.assertEqual(self.session.shop.stock.products["own-paper"].material, "FEPA-P:P800")
        stock_files.write_stock(self.session, self.known(), path)
        self.assertIn("50 sheets at 25", path.read_text())

    def test_what_was_rubbed_is_kept_with_the_instrument_that_went(self):
        lot = self.bought(self.SHEETS, ml=50)
        self.rubbed()
        left = self.left(lot).ml
        self.session.select("tern", "test")
        self.session.hand_over(self.session.now)
        self.assertAlmostEqual(self.left(lot).ml, left, places=2)
        kept = [d for d in self.session.kept.drawn()["tern"] if d.kind == "paper"]
        self.assertEqual(len(kept), 1)


class Scale(OnAShelf):
    def test_a_weighing_that_fits_nothing_is_kept_and_asked_about(self):
        lot = self.bought(ml=1000, ago=3, opened=2)
        for left, words in ((960, "drift"), (300, "nobody logged")):
            with self.subTest(left):
                self.session.log(CanWeighed(lot=lot, left_ml=600), at=NOW)
                said = stock.weigh(self.session, CanWeighed(lot=lot, left_ml=left), NOW)
                self.assertIn(words, said)
                self.assertEqual(self.left(lot).ml, left)
        self.assertEqual(stock.weigh(self.session, CanWeighed(lot=lot, left_ml=305), NOW), "")

    def test_what_lies_on_the_scale_stands_in_the_form(self):
        lot = self.bought(ml=1000)
        fields = {f.name: f.value for f in stock_forms.weigh_fields(self.left(lot), 0.93, "finish", 412.34)}
        self.assertEqual(fields["g"], "412.3")
        self.assertEqual({f.name: f.value for f in stock_forms.weigh_fields(self.left(lot), 0.93)}["g"], "")


class OnThePlan(OnAShelf):
    def test_what_runs_short_on_an_instrument_stands_at_its_plan_and_at_no_others(self):
        self.bought(ml=5000)
        outlooks = self.outlooks()
        self.assertEqual(stock.on_plan(self.session, outlooks, "heron"), ())
        self.session.undo()
        self.session.undo()
        self.bought(ml=40)
        told = {name: stock.on_plan(self.session, self.outlooks(), name) for name in ("heron", "tern", "wren")}
        self.assertEqual(sum(bool(t) for t in told.values()), 1, told)
        name, (line,) = next((n, t) for n, t in told.items() if t)
        self.assertRegex(line, r"Bench: short of \d+ ml")
        found = self.session.request(name).run()
        shown = plan_presenter.show(self.session, found, None, self.outlooks())
        self.assertIn(line, shown.fit_words)

    def test_what_will_be_too_old_by_then_is_said(self):
        polish = Product(id="polish", name="Own polish", material="shellac-pad")
        self.bought(polish, ml=2000, ago=300, opened=290)
        (line,) = stock.on_plan(self.session, self.outlooks(), "wren")
        self.assertRegex(
            line, r"Own polish, when it is needed on .*: open \d+ months: (test a drop first|do not use it)"
        )


class Money(OnAShelf):
    def test_hours_come_in_once_an_hour_has_a_price(self):
        found = self.session.request("tern").run()
        self.assertEqual(costs.lines(self.session, found), ())
        self.session.log(stock_forms.hour({"per_hour": "40"}))
        (line,) = costs.lines(self.session, found)
        self.assertRegex(line, r"\d+\.\d h of hands so far, \d+\.\d\d; \d+\.\d h in all, \d+\.\d\d")
        self.session.select("tern", "test")
        self.session.hand_over(self.session.now)
        gone = costs.lines(self.session, self.session.request_booked("tern").run())
        self.assertIn("planned", gone[0])
        self.session.log(stock_forms.hour({"per_hour": ""}))
        self.assertEqual(self.session.shop.per_hour, 0.0)
        with self.assertRaises(InputError):
            self.session.log(stock_forms.hour({"per_hour": "-3"}))

    def test_methods_side_by_side_have_the_hours_in_their_cost(self):
        from ravden.ui.places.methods import presenter

        self.session.select("heron", "test")
        project, method, now_h = presenter.candidates(self.session, ("lacquer-fine-start",))[0]
        asked = self.session.request("heron")
        offer = asked.offer(project, method, asked.work_hours())
        self.assertNotIn("for hands", presenter.offer_shown(self.session, offer, now_h).numbers)
        self.session.log(stock_forms.hour({"per_hour": "40"}))
        told = presenter.offer_shown(self.session, offer, now_h).numbers
        self.assertIn(f"{written.money(40 * offer.hands_h)} for hands", told)

    def test_what_is_left_of_a_method_is_the_film_after_its_last_paper(self):
        from ravden.ui.places.methods import presenter

        self.session.select("heron", "test")
        asked = self.session.request("heron")
        for name in ("lacquer-flow-coat", "epoxy-under-lacquer", "satin-over-gloss"):  # levelled between their coats
            project, method, _ = presenter.candidates(self.session, (name,))[0]
            offer = asked.offer(project, method, asked.work_hours())
            laid = sum(s.count * (s.um or 12.0) for s in offer.method.stage if s.kind == "coats")
            self.assertTrue(0.6 * laid < offer.film_um[0] < 1.1 * laid, (name, offer.film_um, laid))

    def test_timed_paper_counts_as_it_was_and_the_rest_as_planned(self):
        from ravden.core.ahead.hands_done import done_h

        before = done_h(self.session.request("tern").run())
        self.session.log(SandingLogged(um=8, grade="P800", mode="wet", minutes=45, part=True), instrument="tern")
        self.assertAlmostEqual(done_h(self.session.request("tern").run()), before + 0.75)
        coat = next(s.hours for s in self.session.shop.racked["tern"].method.stage if s.kind == "coats")
        self.session.undo()
        self.session.log(CoatLogged(dry_um=12), instrument="tern")
        self.assertAlmostEqual(done_h(self.session.request("tern").run()), before + coat)

    def test_a_coat_has_the_hours_of_the_step_it_was_laid_in(self):
        from ravden.core.ahead.hands_done import done_h, planned_h

        name = "robin"
        measures = measures_of(shipped().kind("parlour-guitar"))
        self.session.log(
            InstrumentAdded(
                id=name, name="Robin", instrument_kind="parlour-guitar", measures=measures, material="lacquer-sprayed",
                method="lacquer-flow-coat", sheen="gloss", min_film_um=50,
            )
        )  # fmt: skip
        rack = self.session.shop.racked[name]
        first = next(i for i, s in enumerate(rack.method.stage) if s.kind == "coats")
        steps = [replace(s, hours=(0.5 if i == first else 2.0) if s.kind == "coats" else s.hours)
                 for i, s in enumerate(rack.method.stage)]  # fmt: skip
        self.session.log(PlanSet(method=rack.method.id, stage=tuple(steps)), instrument=name)
        hours = []
        for n in range(rack.method.stage[first].count + 1):
            if n == rack.method.stage[first].count:
                self.clock.time += timedelta(days=30)
                sanded = SandingLogged(um=20, grade="P800", mode="wet", purpose="level", minutes=30)
                self.session.log(sanded, instrument=name)
            before = done_h(self.session.request(name).run())
            self.clock.time += timedelta(hours=3)
            self.session.log(CoatLogged(dry_um=12), instrument=name)
            hours.append(done_h(self.session.request(name).run()) - before)
        for here, there in zip(hours, [0.5] * rack.method.stage[first].count + [2.0], strict=True):
            self.assertAlmostEqual(here, there)
        self.assertGreater(planned_h(self.session.request(name).run()), sum(hours))

    def test_the_first_coat_from_a_sealed_can_opens_it_in_the_record_too(self):
        lot = self.bought(opened=None, ago=40)
        others = {n: c for n, c in self.session.shop.stock.lots.items() if n != lot}
        for number in others:  # the one that is poured from is the new one
            if not others[number].gone:
                self.session.log(LotGone(lot=number, what="empty"), at=NOW - timedelta(days=39))
        self.clock.time += timedelta(days=1)
        told = []
        self.session.listen(told.append)
        self.session.log(CoatLogged(dry_um=12), instrument="tern")
        opened = self.session.shop.stock.lots[lot].opened
        self.assertIsNotNone(opened)
        self.assertEqual(opened, self.left(lot).opened)
        self.assertEqual(len(told), 1)
        self.assertIn("Coat", told[0].message)
        later = NOW + timedelta(days=400)
        film = can_then(self.session.catalogue, self.session.shop.stock, "lacquer-sprayed", later)
        shelf = age_of(self.session.catalogue, self.session.shop.stock, self.left(lot), later)
        self.assertEqual((film.months, film.open), (shelf.months, shelf.open))
        self.session.log(CoatLogged(dry_um=12), instrument="tern")
        self.assertEqual(self.session.shop.stock.lots[lot].opened, opened)
        self.session.undo()
        said = self.session.undo()
        self.assertIn("opened", said)
        self.assertIsNone(self.session.shop.stock.lots[lot].opened)
        self.session.redo()
        self.assertEqual(self.session.shop.stock.lots[lot].opened, opened)
        self.assertEqual(self.open().shop.stock.lots[lot].opened, opened)

    def test_a_share_of_what_was_thrown_away_is_its_too(self):
        lot = self.bought(ml=1000.0, price=30.0, ago=60, opened=59)
        self.session.log(LotGone(lot=lot, what="thrown", why="gelled"), at=NOW - timedelta(days=1))
        other = costs.thrown(self.session, "heron")
        mine = costs.thrown(self.session, "tern")
        self.assertGreater(mine, other)
        self.assertAlmostEqual(mine + other, 30.0 * max(self.left(lot).ml, 0) / 1000, places=6)
        found = self.session.request("tern").run()
        self.assertTrue(any("thrown away" in line for line in costs.lines(self.session, found)))

    def test_money_is_written_as_here(self):
        before = written.current()
        self.addCleanup(written.use, before)
        self.assertEqual(written.money(12.5), "12.50")
        written.use(written.Written(decimal="comma", currency="€"))
        self.assertEqual(written.money(12.5), "12,50\N{NO-BREAK SPACE}€")
        written.use(written.Written(currency="$", sign_first=True))
        self.assertEqual(written.money(1234.5), "$1234.50")

    def test_the_sign_of_the_money_is_the_desktops_or_none(self):
        from PyQt6.QtCore import QLocale

        from ravden.ui.shell.local import money_of

        self.assertEqual(money_of(QLocale("de_DE")), ("€", False))
        self.assertEqual(money_of(QLocale("en_US")), ("$", True))
        self.assertEqual(money_of(QLocale.c())[0], "")
