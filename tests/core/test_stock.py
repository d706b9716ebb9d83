"""Cans: what is left, how old, how far it goes, what to buy."""

import itertools
import math
import unittest
from datetime import UTC, datetime, timedelta

from hypothesis import given, settings
from hypothesis import strategies as st

from ravden.catalogue.shelf import age_of, old_can, shelves
from ravden.catalogue.tables import shipped
from ravden.core.errors import InputError
from ravden.core.stock.age import word_of
from ravden.core.stock.buying import Need, cheapest, reach
from ravden.core.stock.lots import Draw, Left, Lot, Stock, Taken, Weighed, stocked
from ravden.core.stock.product import Can, Product

T = datetime(2026, 1, 1, tzinfo=UTC)
WORDS = ("fine", "soon", "test", "not")


def day(n):
    return T + timedelta(days=n)


def shelf(*lots, taken=(), weighed=(), products=None):
    made = products or {"a": Product(id="a", name="A", material="shellac-pad")}
    return Stock(products=made, lots={lot.id: lot for lot in lots}, taken=taken, weighed=weighed)


def coat(n, ml, material="shellac-pad", thinner=0.0):
    return Draw(at=day(n), material=material, ml=ml, thinner_ml=thinner, of="tern")


class Cans(unittest.TestCase):
    @settings(max_examples=60)
    @given(st.data())
    def test_all_that_was_drawn_is_out_of_some_can_to_a_tenth_of_a_ml(self, data):
        number = st.integers(0, 60)
        lots = []
        for n in range(data.draw(st.integers(1, 4))):
            bought = data.draw(number)
            opened = data.draw(st.none() | st.integers(bought, 70))
            gone = data.draw(st.none() | st.integers(bought + 1, 90))
            lots.append(
                Lot(
                    id=n + 1, product="a", ml=500, bought=day(bought), opened=None if opened is None else day(opened),
                    gone="" if gone is None else "empty", gone_at=None if gone is None else day(gone),
                )
            )  # fmt: skip
        draws = [coat(n, ml) for n, ml in sorted(data.draw(st.lists(st.tuples(number, st.floats(0.1, 80)))))]
        found = stocked(shelf(*lots), draws)
        self.assertEqual(len(found.drawn), len(draws))
        for left in found.lots.values():
            taken = sum(ml for took in found.drawn for number, ml in took if number == left.lot.id)
            self.assertAlmostEqual(left.ml + taken, left.lot.ml, delta=0.1)
            self.assertAlmostEqual(left.drawn_ml, taken, delta=0.1)
        for draw, (took, _) in zip(draws, found.drawn, strict=True):
            there = any(lot.there(draw.at) for lot in lots)
            self.assertEqual(took, (took[0], draw.ml) if there else (0, 0.0))
            if took[0]:
                self.assertTrue(found.lots[took[0]].lot.there(draw.at))

    def test_weighed_it_is_known_again_and_what_comes_after_counts_from_there(self):
        lot = Lot(id=1, product="a", ml=1000, bought=day(0), opened=day(0))
        draws = [coat(1, 300), coat(9, 100)]
        reckoned = stocked(shelf(lot), draws).lots[1]
        known = stocked(shelf(lot, weighed=(Weighed(at=day(5), lot=1, left_ml=650, sd_ml=3),)), draws).lots[1]
        self.assertEqual(reckoned.ml, 600)
        self.assertAlmostEqual(reckoned.sd_ml, 80)
        self.assertEqual(known.ml, 550)
        self.assertAlmostEqual(known.sd_ml, math.hypot(3, 20))

    def test_the_oldest_sealed_can_is_opened_by_the_coat_that_came_out_of_it(self):
        lots = [Lot(id=n, product="a", ml=500, bought=day(n)) for n in (2, 1)]
        found = stocked(shelf(*lots), [coat(5, 40)])
        self.assertEqual((found.lots[1].opened, found.lots[2].opened), (day(5), None))
        self.assertEqual([found.lots[n].state for n in (1, 2)], ["open", "sealed"])

    def test_of_two_open_cans_it_is_asked_which_and_remembered(self):
        lots = [Lot(id=n, product="a", ml=500, bought=day(0), opened=day(n)) for n in (1, 2)]
        asked = stocked(shelf(*lots), [coat(5, 40)])
        self.assertEqual(dict(asked.unsure), {"shellac-pad": (1, 2)})
        self.assertEqual(asked.lots[1].ml, 460)
        said = stocked(shelf(*lots, taken=(Taken(at=day(3), lot=2),)), [coat(5, 40), coat(6, 10)])
        self.assertEqual((dict(said.unsure), said.lots[1].ml, said.lots[2].ml), ({}, 500, 450))

    def test_no_can_goes_below_nothing_without_a_question(self):
        found = stocked(shelf(Lot(id=1, product="a", ml=100, bought=day(0))), [coat(1, 130)])
        self.assertEqual([c.lot.id for c in found.short()], [1])
        weighed = Weighed(at=day(2), lot=1, left_ml=20, sd_ml=3)
        again = stocked(shelf(Lot(id=1, product="a", ml=100, bought=day(0)), weighed=(weighed,)), [coat(1, 130)])
        self.assertEqual((again.short(), again.lots[1].ml), ((), 20))

    def test_thinner_comes_from_its_own_can_and_no_finish_from_another(self):
        products = {
            "a": Product(id="a", name="A", material="lacquer-sprayed"), "t": Product(id="t", name="T", kind="thinner"),
        }  # fmt: skip
        lots = [Lot(id=1, product="a", ml=500, bought=day(0)), Lot(id=2, product="t", ml=500, bought=day(0))]
        found = stocked(
            shelf(*lots, products=products), [coat(1, 100, "lacquer-sprayed", 20), coat(2, 50, "waterborne")]
        )
        self.assertEqual([found.lots[n].ml for n in (1, 2)], [400, 480])
        self.assertEqual(found.drawn[1], ((0, 0.0), (0, 0.0)))


class Age(unittest.TestCase):
    def test_words_only_ever_get_worse_with_time(self):
        catalogue = shipped()
        for material in catalogue.materials.values():
            product = Product(id="a", name="A", material=material.id)
            for full, opened in itertools.product((1.0, 0.3, 0.02), (None, day(0), day(100))):
                lot = Lot(id=1, product="a", ml=500, bought=day(0), opened=opened)
                left = Left(lot=lot, ml=full * 500, sd_ml=0, drawn_ml=0, opened=opened)
                stock = shelf(lot, products={"a": product})
                found = [age_of(catalogue, stock, left, day(n)) for n in range(0, 4000, 50)]
                with self.subTest(material=material.id, full=full):
                    self.assertEqual(found, sorted(found, key=lambda a: a.share))
                    words = [WORDS.index(a.word) for a in found]
                    self.assertEqual(words, sorted(words))
                    self.assertEqual((words[0], words[-1]), (0, 3))

    def test_what_the_trade_says_of_open_cans(self):
        catalogue = shipped()

        def word(material, months, full=0.9):
            lot = Lot(id=1, product="a", ml=500, bought=day(0), opened=day(0))
            left = Left(lot=lot, ml=full * 500, sd_ml=0, drawn_ml=0, opened=day(0))
            product = {"a": Product(id="a", name="A", material=material)}
            return age_of(catalogue, shelf(lot, products=product), left, day(30.4 * months)).word

        self.assertEqual([word("shellac-pad", m) for m in (2, 8, 12, 20)], ["fine", "soon", "test", "not"])
        self.assertEqual(word("lacquer-sprayed", 24), "fine")
        self.assertEqual(word("polymerising-oil", 16), "not")
        self.assertEqual((word("polymerising-oil", 4), word("polymerising-oil", 5, 0.05)), ("fine", "test"))

    def test_past_the_day_on_its_label_a_drop_is_tested(self):
        product = Product(id="a", name="A", material="lacquer-sprayed")
        lot = Lot(id=1, product="a", ml=500, bought=day(0), use_by=day(30).date())
        stock, left = shelf(lot, products={"a": product}), Left(lot=lot, ml=500, sd_ml=0, drawn_ml=0, opened=None)
        words = [age_of(shipped(), stock, left, day(n)).word for n in (29, 32)]
        self.assertEqual(words, ["fine", "test"])

    def test_an_old_can_dries_slower_and_one_is_less_sure(self):
        lot = Lot(id=1, product="a", ml=500, bought=day(0), opened=day(0))
        found = [old_can(shipped(), shelf(lot), "shellac-pad", day(n)) for n in (10, 300, 400, 2000)]
        self.assertEqual(found[0], (0.0, 0.0))
        self.assertEqual([s for s, _ in found], sorted((s for s, _ in found), reverse=True))
        self.assertEqual([sd for _, sd in found], sorted(sd for _, sd in found))
        self.assertGreaterEqual(found[-1][0], -0.7)
        self.assertEqual(old_can(shipped(), shelf(lot), "waterborne", day(2000)), (0.0, 0.0))

    def test_every_finish_has_a_shelf_life_with_its_source(self):
        for material in shipped().materials.values():
            self.assertIn(material.family, shelves())
        self.assertTrue(all(s.basis.startswith("A:") for s in shelves().values()))
        self.assertEqual([word_of(x) for x in (0.74, 0.76, 1.0, 1.6)], list(WORDS))


def brute(short, cans, month, keeps):
    """The least cost over all numbers of cans."""
    per_ml = min(c.price / c.ml for c in cans)
    best = math.inf
    for counts in itertools.product(*(range(math.ceil(short / c.ml) + 1) for c in cans)):
        ml = sum(n * c.ml for n, c in zip(counts, cans, strict=True))
        if ml >= short:
            price = sum(n * c.price for n, c in zip(counts, cans, strict=True))
            best = min(best, price - min(ml - short, month * keeps) * per_ml)
    return best


class Buying(unittest.TestCase):
    @settings(max_examples=60)
    @given(
        st.integers(1, 3000), st.lists(st.tuples(st.sampled_from([100, 250, 500, 750, 1000, 5000]), st.integers(1, 90)),
                                       min_size=1, max_size=3, unique_by=lambda c: c[0]),
        st.integers(0, 300), st.integers(1, 24),
    )  # fmt: skip
    def test_no_other_cans_cost_less(self, short, sizes, month, keeps):
        cans = [Can(ml=ml, price=price) for ml, price in sizes]
        found = cheapest(short, cans, month, keeps)
        self.assertGreaterEqual(found.ml, short)
        self.assertAlmostEqual(found.ml, sum(n * c.ml for n, c in zip(found.cans, cans, strict=True)))
        self.assertAlmostEqual(found.price, sum(n * c.price for n, c in zip(found.cans, cans, strict=True)), places=6)
        per_ml = min(c.price / c.ml for c in cans)
        cost = found.price - min(found.ml - short, month * keeps) * per_ml
        self.assertLessEqual(cost, brute(short, cans, month, keeps) + 1e-6)
        self.assertAlmostEqual(found.spoils_ml, max(found.ml - short - month * keeps, 0), places=6)

    def test_the_large_can_only_where_it_is_used_in_time(self):
        cans = [Can(ml=250, price=12), Can(ml=1000, price=30)]
        self.assertEqual(cheapest(300, cans, 0, 12).cans, (2, 0))
        self.assertEqual(cheapest(300, cans, 100, 12).cans, (0, 1))
        self.assertIsNone(cheapest(0, cans, 100, 12))
        self.assertIsNone(cheapest(300, [], 100, 12))
        self.assertEqual(cheapest(300, [Can(ml=250), Can(ml=1000, price=30)], 100, 12).cans, (2, 0))

    def test_where_it_ends_and_how_sure(self):
        needs = [Need(at=day(n), ml=100, of=f"i{n}") for n in (1, 2, 3)]
        self.assertEqual((reach(250, 0, needs).at, reach(250, 0, needs).of), (day(3), "i3"))
        self.assertAlmostEqual(reach(250, 0, needs).short_ml, 300 - 250 * 0.97)
        self.assertEqual(reach(400, 0, needs).short_ml, 0)
        self.assertAlmostEqual(reach(300 / 0.97, 50, needs).odds, 0.5)
        self.assertEqual(reach(0, 0, []).odds, 0)

    def test_what_cannot_be_is_told_by_field(self):
        for make, path in (
            (lambda: Product(id="a", name=" "), "name"),
            (lambda: Product(id="a", name="a", kind="soap"), "product_kind"),
            (lambda: Product(id="a", name="a"), "material"), (lambda: Can(ml=-1), "ml"),
            (lambda: Can(ml=1, price=-2), "price"),
        ):  # fmt: skip
            with self.subTest(path=path), self.assertRaises(InputError) as caught:
                make()
            self.assertEqual(caught.exception.path, path)
