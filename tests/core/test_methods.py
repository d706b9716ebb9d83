"""Every shipped method on every family of bodies: dated, in order, with no contradiction; and compared."""

import itertools
import unittest

from msgspec.structs import replace

from ravden.catalogue import assemble
from ravden.catalogue.amounts import stage_amounts
from ravden.catalogue.method_files import line_of, read_method_file, write_method
from ravden.core.ahead.compare import offer, suits
from ravden.core.ahead.fit import fitted
from ravden.core.ahead.outlook import outlook
from ravden.core.ahead.timeline import line_ahead
from ravden.core.calendar.hours import WorkHours, work
from ravden.core.cure.asked import Sampling
from ravden.core.cure.windows import windows
from ravden.core.errors import InputError
from ravden.core.method.steps import WORK_KINDS, Method, Stage, progress
from ravden.core.record import Air, Coat, Exposure, Instrument, Sanding, StepDone
from ravden.core.state.history import cure, thickest
from ravden.text.say import fault
from tests.core.test_plan import CATALOGUE, DRAWER

METHODS = CATALOGUE.methods
NINE = WorkHours(hour_at_zero=9.0)
AIRS = ((20.0, 0.45), (14.0, 0.7), (27.0, 0.4))
FAMILIES = {k.family: k.id for k in CATALOGUE.kinds.values()}


def bare(method, kind="parlour-guitar", air=AIRS[0]):
    found = CATALOGUE.kind(kind)
    material = CATALOGUE.material(method.material)
    item = Instrument(
        id="x", name="Plover", kind=kind, measures=assemble.measures_of(found), material=material.id, method=method.id,
        sheen="satin" if "satin" in method.id else "gloss", min_film_um=method.least_um(material),
    )  # fmt: skip
    # A light-cured film is given its light on the second day.
    acts = [Air(at_h=0.0, temp_C=air[0], rh=air[1])]
    return assemble.project(CATALOGUE, item, tuple(acts))


class EveryMethod(unittest.TestCase):
    def test_each_says_what_it_is(self):
        self.assertGreaterEqual(len(METHODS), 16)
        for m in METHODS.values():
            with self.subTest(method=m.id):
                self.assertIs(METHODS[m.id], m)  # the file is named after it
                self.assertTrue(m.why and m.against and m.looks and m.basis)
                self.assertEqual(m.stage[0].kind, "prepare")
                self.assertEqual(m.stage[-1].window, "case")
                for s in m.stage:
                    if s.kind in WORK_KINDS:
                        self.assertTrue(s.how and s.inspect and s.wrong, s.label)

    def test_method_by_family_by_air(self):
        """Hundreds of plans: nothing before what it rests on, hands in opening hours, no sanding below the film."""
        plans = 0
        for n, (family, kind) in enumerate(FAMILIES.items()):
            for m in METHODS.values():
                if not suits(m, family):
                    continue
                air = AIRS[(n + len(m.id)) % 3]
                with self.subTest(method=m.id, family=family, air=air):
                    self.check(outlook(bare(m, kind, air), m, DRAWER, 0.0, NINE, whole=False))
                    plans += 1
        self.assertGreater(plans, 100)

    def one_hand(self, ahead, method):
        """One thing after the other, and nothing in no time."""
        hands = sorted(stint for s in (*ahead.steps, *ahead.between) for stint in s.hands)
        for (_, end), (begin, _) in itertools.pairwise(hands):
            self.assertLessEqual(end, begin + 1e-9)
        for s in ahead.steps:
            if method.stage[s.index].kind != "wait":
                self.assertGreater(s.to_h, s.from_h, method.stage[s.index].label)
                self.assertGreater(sum(b - a for a, b in s.hands), 0.0)

    def check(self, found):
        steps, method = found.forward.steps, found.method
        self.one_hand(found.forward, method)
        self.assertEqual([s.index for s in steps], sorted(s.index for s in steps))
        for a, b in itertools.pairwise(steps):
            self.assertGreaterEqual(b.from_h, a.from_h)
        for s in steps:
            self.assertGreaterEqual(s.to_h, s.from_h)
            if method.stage[s.index].kind in WORK_KINDS:
                hour = NINE.local(s.from_h)[1]
                self.assertTrue(8 - 1e-6 <= hour <= 20 + 1e-6, (s, hour))
        coats, sandings = found.forward.coats, found.forward.sandings
        if sandings:
            self.assertGreater(sandings[0].at_h, coats[0].at_h)
        laid = sum(c.dry_um for c in coats)
        self.assertLessEqual(laid, found.project.material.max_film_um)
        self.assertLess(sum(s.um for s in sandings), laid)
        material = found.project.material
        lit = material.cure.model == "light"
        if found.forward.finished_h is not None:
            days = (found.forward.finished_h - (coats[-1].at_h if coats else 0.0)) / 24
            self.assertTrue(0 <= days < 200, days)
            self.assertEqual(len(steps), len(method.stage))
        else:
            self.assertTrue(lit or any(w.likely_h is None for w in found.windows))
        self.assertTrue(0.3 < found.forward.hands_h < 60, found.forward.hands_h)
        kinds = [s.kind for s in method.stage]
        if material.cure.model == "never" or material.flatted:
            self.assertNotIn("rub-out", kinds)
        first = kinds.index("coats")
        colour = [i for i, k in enumerate(kinds) if k == "colour"]
        barred = method.id in ("lacquer-contrast-grain", "kit-in-a-week")
        self.assertTrue(all(i < first for i in colour) or barred)

    def test_fitted_to_a_body_it_is_ready_when_it_says(self):
        """At 20 C and half humidity, every method on every third body: in its time, and the film it wants is left."""
        plans = 0
        for n, kind in enumerate(FAMILIES.values()):
            for i, m in enumerate(METHODS.values()):
                if (n + i) % 3 == 0 and suits(m, CATALOGUE.kind(kind).family):
                    with self.subTest(method=m.id, kind=kind):
                        self.fitted_plan(m, kind)
                        plans += 1
        self.assertGreater(plans, 40)

    def fitted_plan(self, method, kind):
        made = bare(method, kind, (20.0, 0.5))
        fit = fitted(outlook(made, method, DRAWER, 0.0, NINE, whole=False))
        if fit is not None:
            method = replace(method, stage=fit.stage)
        found = outlook(made, method, DRAWER, 0.0, NINE, whole=False)
        ahead = found.forward
        self.one_hand(ahead, method)
        low, high = METHODS[method.id].ready_days
        self.assertTrue(0.5 * low <= ahead.finished_h / 24 <= 2 * high, ahead.finished_h / 24)
        material = made.material
        done = line_ahead(made, found.ledger, ahead, 0.0, found.zone, None, rough=True).end
        left = [done.mean_um(z.name) for z in made.zones if z.kind == "flat"]
        self.assertLessEqual(max(left), 1.05 * material.max_film_um)
        if fit is not None and not fit.capped:
            self.assertGreaterEqual(min(left), made.instrument.min_film_um)

    def test_no_coat_is_planned_outside_its_window(self):
        """On one body, in three climates: asked of the cure engine anew, coat by coat."""
        asked = 0
        for m, air in itertools.product(METHODS.values(), ((20.0, 0.5), (12.0, 0.6), (28.0, 0.4))):
            with self.subTest(method=m.id, air=air):
                asked += self.coat_by_coat(m, air)
        self.assertGreater(asked, 250)

    def coat_by_coat(self, method, air):
        made = bare(method, "solid-body", air)
        found = outlook(made, method, DRAWER, 0.0, NINE, whole=False)
        zone = thickest(made, found.ledger)
        cuts = found.forward.sandings
        laid, asked, absorbs = [], 0, list(made.absorbed.get(zone.name, ()))
        for coat in (c for c in found.forward.coats if c.zones is None):
            if laid:
                gone = [s for s in cuts if laid[-1].at_h < s.at_h <= coat.at_h]
                taken = [replace(s, um=s.um * zone.sanding) for s in cuts if s.at_h <= coat.at_h]
                opens = windows(cure(made, laid, taken, Sampling(until_h=coat.at_h + 400), light=found.forward.light))
                self.assertLessEqual(opens.next_coat_h, coat.at_h + 0.02, coat)
                thin = laid[-1].dry_um <= 0.3
                late = opens.recoat_until_h is not None and coat.at_h > opens.recoat_until_h + 0.02
                self.assertTrue(gone or thin or not late, (coat, opens.recoat_until_h))
                asked += 1
            um = coat.dry_um * zone.k_mean - (absorbs.pop(0) if absorbs else 0.0)
            laid.append(Coat(at_h=coat.at_h, dry_um=max(um, 0.05), finish=coat.finish))
        return asked

    def test_a_satin_coat_is_the_last_and_is_left_alone(self):
        m = METHODS["satin-over-gloss"]
        found = outlook(bare(m), m, DRAWER, 0.0, NINE)
        self.assertEqual(found.forward.coats[-1].finish, "lacquer-satin")
        self.assertEqual([s.purpose for s in found.forward.sandings], ["level"])

    def test_light_given_makes_the_light_cured_one_ready(self):
        m = METHODS["light-cured-polyester"]
        p = bare(m)
        acts = (*p.acts, *(Coat(at_h=h, dry_um=120) for h in (30, 31, 33)), Exposure(at_h=36.0, dose_mJ_cm2=6000))
        found = outlook(replace(p, acts=acts), m, DRAWER, 40.0, NINE)
        self.assertIsNotNone(found.forward.finished_h)


class StepsDone(unittest.TestCase):
    M = METHODS["kit-in-a-week"]

    def at(self, *acts):
        return self.M.stage[progress(self.M, acts, 1e6).index].label

    def test_work_is_ticked_off_one_by_one(self):
        self.assertEqual(self.at(), "Sand the bare wood")
        self.assertEqual(self.at(StepDone(at_h=1, step="Sand the bare wood")), "Fill the pores")
        self.assertEqual(self.at(StepDone(at_h=1, step="Mask what stays bare")), "Primer")
        self.assertEqual(self.at(StepDone(at_h=1, step="No such step")), "Sand the bare wood")

    def test_a_coat_passes_over_what_nobody_logged(self):
        primed = Coat(at_h=5, dry_um=12)
        self.assertEqual(self.at(primed), "Scuff")
        self.assertEqual(self.at(primed, Sanding(at_h=6, um=2, purpose="scuff")), "Colour")
        self.assertEqual(self.at(primed, Coat(at_h=30, dry_um=12)), "Light clear coats")

    def test_layers_of_another_finish_belong_to_their_stage(self):
        m = METHODS["shellac-under-waterborne"]
        shellac = Coat(at_h=1, dry_um=3, finish="shellac-pad")
        self.assertEqual(m.stage[progress(m, (shellac,), 9).index].label, "Shellac by cloth")
        two = (shellac, replace(shellac, at_h=2))
        self.assertEqual(m.stage[progress(m, two, 9).index].label, "Smooth with worn paper")
        self.assertEqual(progress(m, two, 9).coats_done, 0)
        stranger = Coat(at_h=3, dry_um=3, finish="two-part-clear")
        self.assertEqual(progress(m, (*two, stranger), 9).index, progress(m, two, 9).index)

    def test_what_was_laid_passes_over_scuffs_nobody_logged(self):
        m = METHODS["epoxy-under-lacquer"]
        seals = [Coat(at_h=h, dry_um=6, finish="epoxy-seal") for h in (0.0, 30.0)]
        one_day = [Coat(at_h=h, dry_um=6, finish="epoxy-seal") for h in (0.0, 1.0)]
        labels = [m.stage[progress(m, laid, 40).index].label for laid in (one_day, seals)]
        self.assertEqual(labels, ["Until it takes paper", "Until it takes paper again"])  # an hour on, it is one more
        sealer = Coat(at_h=60.0, dry_um=12, finish="lacquer-sealer")
        self.assertEqual(m.stage[progress(m, (*seals, sealer), 70).index].label, "Sanding sealer")

    def test_oil_that_never_hardens_is_refitted_once_it_can_be_handled(self):
        m = METHODS["oil-and-wax"]
        found = outlook(bare(m), m, DRAWER, 0.0, NINE, whole=False)
        last, refit = found.forward.coats[-1].at_h, next(
            s for s in found.forward.steps if m.stage[s.index].kind == "finish")  # fmt: skip
        self.assertGreaterEqual(refit.from_h, last + 23.9)
        self.assertAlmostEqual(found.forward.coats[1].at_h - found.forward.coats[0].at_h, 0.5)

    def test_long_work_goes_on_the_next_morning(self):
        self.assertEqual(work(NINE, 0.0, 14.0), ((0.0, 11.0), (23.0, 26.0)))
        self.assertEqual(work(NINE, 14.0, 1.0), ((23.0, 24.0),))


class SideBySide(unittest.TestCase):
    def offers(self, *ids):
        return {i: offer(bare(METHODS[i]), METHODS[i], DRAWER, 0.0, NINE) for i in ids}

    def test_what_a_finisher_would_expect(self):
        found = self.offers("lacquer-fine-start", "oil-and-wax", "shellac-pad-rounds")
        lacquer, oil, pad = found["lacquer-fine-start"], found["oil-and-wax"], found["shellac-pad-rounds"]
        self.assertLess(oil.ready_h[1], lacquer.ready_h[1])
        self.assertLess(oil.hands_h, pad.hands_h)
        self.assertGreater(pad.sessions, lacquer.sessions)
        self.assertGreater(lacquer.film_um[0], pad.film_um[0])
        ml = {}
        for o in found.values():
            amounts = stage_amounts(CATALOGUE, o.project, enumerate(o.method.stage)).values()
            ml[o.method.id] = sum(a.mix.total_ml for a in amounts)
        self.assertGreater(ml["lacquer-fine-start"], ml["oil-and-wax"])
        for o in found.values():
            early, likely, late = o.ready_h
            self.assertTrue(early is None or late is None or early <= likely <= late, (o.method.id, o.ready_h))
            self.assertTrue(o.risks)

    def test_cold_takes_longer(self):
        m = METHODS["lacquer-fine-start"]
        warm, cold = (offer(bare(m, air=a), m, DRAWER, 0.0, NINE) for a in (AIRS[2], AIRS[1]))
        self.assertGreater(cold.ready_h[1], warm.ready_h[1])


class MethodFiles(unittest.TestCase):
    TEXT = write_method(METHODS["lacquer-fine-start"])

    def refuse(self, text):
        with self.assertRaises(InputError) as caught:
            read_method_file(text, "mine.toml", CATALOGUE)
        return caught.exception.path, fault(caught.exception)

    def test_every_method_reads_back_the_same(self):
        for m in METHODS.values():
            self.assertEqual(read_method_file(write_method(m), "m.toml", CATALOGUE), m)

    def test_faults_name_the_line_and_the_reason(self):
        lines = self.TEXT.splitlines()
        at = next(i for i, line in enumerate(lines) if line.startswith("count"))
        for old, new, line, words in (
            (lines[at], "cuont = 10", at + 1, "unknown field"),
            (lines[at], "count = 0", None, "count"),
            (lines[at], 'count = "ten"', at + 1, "int"),
            ('material = "lacquer-sprayed"', 'material = "unobtainium"', 3, "unknown material"),
            ('id = "lacquer-fine-start"', 'id = "Lacquer Fine!"', 1, "small letters"),
            ('kind = "level"', 'kind = "explode"', None, "must be one of"),
            ('next = "sealer"', 'next = "paint"', None, "must be one of stain"),
        ):
            with self.subTest(new=new):
                self.assertIn(old, self.TEXT)
                path, sentence = self.refuse(self.TEXT.replace(old, new, 1))
                self.assertTrue(path.startswith("mine.toml"), path)
                self.assertIn(words, sentence)
                if line is not None:
                    self.assertEqual(path, f"mine.toml, line {line}")

    def test_what_is_no_method_is_refused(self):
        self.assertIn("line 2", " ".join(self.refuse('id = "x"\nthis is not toml')))
        self.assertIn("larger than", self.refuse("x" * 10_000_000)[1])
        code = 'id = "__import__"\n' + "\n".join(self.TEXT.splitlines()[1:])
        self.assertIn("small letters", self.refuse(code)[1])
        early = self.TEXT.replace('kind = "pores"', 'kind = "level"', 1)
        self.assertIn("before any coat", self.refuse(early)[1])
        none = Method(id="m", label="M", material="lacquer-sprayed", why="", texture_um=3,
                      stage=(Stage(kind="prepare", label="Sand", hours=1.0),))  # fmt: skip
        self.assertIn("no coat of its own", self.refuse(write_method(none))[1])
        satin = METHODS["satin-over-gloss"]
        rubbed = replace(satin, stage=(*satin.stage[:-1], Stage(kind="rub-out", label="Buff"), satin.stage[-1]))
        self.assertIn("never rubbed out", self.refuse(write_method(rubbed))[1])

    def test_lines_are_found(self):
        self.assertEqual(line_of("a = 1\n[[stage]]\nkind = 2\n[[stage]]\nkind = 3", "stage[1].kind"), 5)
        self.assertEqual(line_of("a = 1\nb = 2", "b"), 2)
        self.assertIsNone(line_of("a = 1", "stage[4].kind"))
