"""Pictures of a film: raking light, what goes wrong, and what comes back however it is asked."""

import unittest

import numpy as np

from ravden.app import seen
from ravden.catalogue.tables import shipped
from ravden.core.errors import InputError
from ravden.core.surface import defects_seen as defects
from ravden.core.surface import panel, rake
from ravden.core.surface.lamp import bent, radiance
from ravden.core.surface.shade import lit, pixels, wood

BROWN = (0.2, 0.085, 0.028)
WIDE, HIGH = 90, 60


def of(kind, seed=7, base=BROWN):
    return defects.defect_seen(kind, base, WIDE, HIGH, seed)


class Bent(unittest.TestCase):
    def test_a_flat_film_bends_nothing(self):
        flat = np.zeros((HIGH, WIDE), dtype=np.float32)
        for rough, angle in ((0.01, 20), (0.1, 60), (0.3, 20)):
            near = np.abs(bent(rough, angle, flat, flat) - radiance(rough, angle, WIDE, HIGH))
            self.assertLess(float(np.median(near)), 0.003)

    def test_a_slope_moves_the_lamp_by_twice_itself(self):
        flat = np.zeros((HIGH, 240), dtype=np.float32)
        steady, leant = (bent(0.01, 20, flat + s, flat)[30] for s in (0.0, np.float32(np.radians(1.5))))
        by = np.argmax(np.correlate(steady, leant, "full")) - (len(steady) - 1)
        self.assertAlmostEqual(by / 240 * 24.0, 3.0, delta=0.15)

    def test_the_rougher_the_texture_the_more_edges(self):
        def edges(pv):
            row = defects.peel_seen(pv, BROWN, 180, 120, 3)[..., 0] > 0.6
            return int(np.abs(np.diff(row.astype(int), axis=1)).sum())

        counted = [edges(pv) for pv in (3, 8, 18, 35)]
        self.assertEqual(counted, sorted(counted))


class Raked(unittest.TestCase):
    def setUp(self):
        self.dx = 0.3
        self.height = panel.peel(120, self.dx, 18, panel.PEEL_MM, 3).astype(np.float32)
        self.under = wood(BROWN, 120, 120, self.dx)
        self.lines = rake.scratches((120, 120), self.dx, 15.0, 1)

    def light(self, dull, **how):
        return rake.raked(self.height, dull, self.under, self.dx, self.lines, **how)

    def test_dull_is_lighter_than_shiny_and_dust_veils_both(self):
        shiny = np.zeros_like(self.height)
        bright = [float(self.light(d).mean()) for d in (shiny, shiny + 1)]
        self.assertGreater(bright[1], 1.5 * bright[0])
        half = shiny.copy()
        half[:, :60] = 1
        plain, dusty = (self.light(half, dust=d) for d in (None, shiny + 1))
        self.assertLess(dusty[:, :60].mean() - dusty[:, 60:].mean(), plain[:, :60].mean() - plain[:, 60:].mean())

    def test_a_slope_towards_the_lamp_is_lighter_than_one_away(self):
        dull, even = np.ones_like(self.height), np.zeros_like(self.lines)
        seen_ = rake.raked(self.height, dull, self.under * 0, self.dx, even, from_deg=0.0)[..., 1]
        along, _ = rake.slopes(self.height, self.dx)
        self.assertLess(float(np.corrcoef(along.ravel(), seen_.ravel())[0, 1]), -0.8)

    def test_dullness_grows_with_film_gone(self):
        gone = np.array([0.0, 0.2, 0.33, 3.0], dtype=np.float32)
        told = rake.dullness(gone, 0.33)
        self.assertEqual(list(told), sorted(told))
        self.assertAlmostEqual(float(told[2]), 1 - np.exp(-1.1), places=5)

    def test_scratches_run_as_they_were_rubbed(self):
        lines = rake.scratches((120, 120), 0.3, 0.0, 2)
        along, across = (float(np.abs(np.diff(lines, axis=a)).mean()) for a in (1, 0))
        self.assertGreater(across, 4 * along)


class Defects(unittest.TestCase):
    def test_each_is_told_from_the_others_and_from_a_sound_film(self):
        sound = lit(wood(BROWN, HIGH, WIDE, 0.4), radiance(0.01, 20, WIDE, HIGH))
        kinds = (*defects.HONEST, *defects.DRAWN)
        shown = {kind: of(kind) for kind in kinds}
        for kind, picture in shown.items():
            self.assertEqual(picture.shape, (HIGH, WIDE, 3))
            self.assertTrue(np.isfinite(picture).all(), kind)
            self.assertGreater(float(np.abs(picture - sound).mean()), 0.004, kind)
            self.assertTrue((picture == of(kind)).all(), kind)  # the same again
        for i, one in enumerate(kinds):
            for other in kinds[:i]:
                self.assertGreater(float(np.abs(shown[one] - shown[other]).mean()), 0.003, (one, other))

    def test_what_each_shows(self):
        holes = (of("pinholes").max(axis=2) < 0.02).sum()
        self.assertGreater(int(holes), 10)
        ring = of("sand-through")
        self.assertGreater(ring[32, 45, 0], 1.4 * ring[32, 45, 1])  # wood colour in the middle, grey around it
        self.assertLess(ring[5, 5, 0], 1.3 * ring[5, 5, 1])
        hump = of("run")[30, :, 0] > 0.6
        widths = np.diff(np.flatnonzero(np.diff(np.concatenate(([0], hump.astype(int), [0])))))[::2]
        self.assertGreater(max(widths), 2 * min(widths))
        sound = float(radiance(0.01, 20, WIDE, HIGH)[:, :20].mean())
        cloud = of("blush").mean() - lit(wood(BROWN, HIGH, WIDE, 0.4), radiance(0.008, 20, WIDE, HIGH)).mean()
        self.assertGreater(float(cloud), 0.01 + sound)

    def test_a_loupe_shows_wider_scratches_of_a_coarser_paper(self):
        coarse, fine = (defects.loupe_seen(g, BROWN, 180, 120, 3)[..., 0] for g in (35.0, 10.3))
        self.assertGreater(float(coarse.mean()), float(fine.mean()))
        changes = [float(np.abs(np.diff(p > p.mean(), axis=0)).mean()) for p in (coarse, fine)]
        self.assertGreater(changes[1], changes[0])

    def test_what_there_is_no_picture_of_is_refused(self):
        with self.assertRaises(InputError):
            of("peeling")

    def test_a_screen_gets_what_light_there_is(self):
        ramp = np.linspace(0, 1.5, 64, dtype=np.float32)[None, :, None] * np.ones((8, 1, 3), dtype=np.float32)
        shown = pixels(ramp)[0, :, 0].astype(int)
        self.assertEqual((shown[0], shown[-1]), (0, 255))
        self.assertTrue((np.diff(shown) >= 0).all())
        self.assertAlmostEqual(pixels(np.full((8, 8, 3), 0.2140, np.float32))[0, 0, 0], 127, delta=1)


class Told(unittest.TestCase):
    """Tables and words of what is seen."""

    def setUp(self):
        self.catalogue = shipped()

    def test_every_look_has_its_picture_or_is_words_alone(self):
        looks = self.catalogue.looks
        honest = {k for k, look in looks.items() if look.shown == "honest"}
        drawn = {k for k, look in looks.items() if look.shown == "drawn"}
        self.assertEqual((honest, drawn), (set(defects.HONEST), set(defects.DRAWN)))
        self.assertEqual({look.shown for look in looks.values()}, {"honest", "drawn", "words"})
        self.assertLessEqual(set(self.catalogue.defects), set(looks))

    def test_what_is_drawn_is_said_to_be(self):
        for want in seen.looks_of(self.catalogue, self.catalogue.looks, BROWN):
            drawn = self.catalogue.looks[want.key.split(" ")[0]].shown == "drawn"
            self.assertEqual("drawn" in want.caption, drawn)
            self.assertEqual("not to scale" in want.words, drawn)

    def test_steps_name_looks_there_are(self):
        for kinds in (*seen.STEP_LOOKS.values(), *seen.COAT_LOOKS.values()):
            self.assertLessEqual(set(kinds), set(self.catalogue.looks))

    def test_the_sheet_over_each_wood(self):
        brown, pale, black = (seen.sheet(self.catalogue, tone) for tone, _ in seen.TONES)
        self.assertEqual([h for h, _ in brown], [h for h, _ in black])
        first = [wanted[0][1][0].make() for wanted in (brown, pale, black)]
        light = [float(p.mean()) for p in first]
        self.assertEqual(sorted(light), [light[2], light[0], light[1]])
        self.assertFalse(first[0].flags.writeable)  # kept for who asks next
        self.assertIs(brown[0][1][0].make(), first[0])
        soft, firm = (
            next(w for w in brown[1][1] if n in w.caption and "polished" in w.caption) for n in ("Soft", "Firm")
        )
        broken = [int(np.abs(np.diff((w.make()[..., 2] > 180).astype(int), axis=1)).sum()) for w in (soft, firm)]
        self.assertGreater(broken[0], 1.5 * broken[1])
