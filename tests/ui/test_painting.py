"""Pixels: the film image, tallies, the palettes."""

import itertools
import unittest
from pathlib import Path
from unittest import mock

import numpy as np
from PyQt6.QtCore import qInstallMessageHandler
from PyQt6.QtGui import QImage, QPainter, QRawFont
from PyQt6.QtWidgets import QComboBox

from ravden.catalogue.shipped_files import DATA
from ravden.core.ahead.timeline import FilmTimeline
from ravden.ui.app import make_app
from ravden.ui.theme import style
from ravden.ui.theme.palette import DARK, LIGHT, PALETTES, RAMP_MARGINS_K, mix, ramp_index, ramp_table, rgb
from ravden.ui.theme.style import sheet
from ravden.ui.widgets import strata, tally


def line(margins=(-40.0, 30.0), film=(50.0, 50.0)):
    """A film whose lower half has the first margin and upper half the second, from hour 0 to 10."""
    hours = np.array([0.0, 10.0])
    depth = np.repeat(np.array(margins)[None, :], 2, axis=0).repeat(12, axis=1)
    um = np.array(film)
    return FilmTimeline(
        hours=hours, film_um=um, dry_um=um * 0.9, low_um=um * 0.8, high_um=um * 1.2, margin_K=depth,
        phi_mean=np.zeros(2),
    )  # fmt: skip


def luminance(colour):
    parts = [c / 255 for c in rgb(colour)]
    linear = [c / 12.92 if c <= 0.03928 else ((c + 0.055) / 1.055) ** 2.4 for c in parts]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


def contrast(a, b):
    high, low = sorted((luminance(a), luminance(b)), reverse=True)
    return (high + 0.05) / (low + 0.05)


class Type(unittest.TestCase):
    def setUp(self):
        self.app = make_app(["ravden"])

    def test_every_sign_the_program_says_is_in_the_type_it_ships(self):
        fonts = [QRawFont(str(DATA / "fonts" / name), 14) for name in style.FONT_FILES]
        self.assertTrue(all(font.isValid() for font in fonts))
        source = DATA.parent
        lacking = {}
        for path in (p for end in ("py", "toml", "csv") for p in source.rglob(f"*.{end}")):
            for sign in set(path.read_text(encoding="utf-8")):
                if ord(sign) > 126 and not any(font.supportsCharacter(ord(sign)) for font in fonts):
                    lacking.setdefault(sign, path.name)
        self.assertEqual(lacking, {})
        self.assertEqual(style.font().families(), [style.FONT_FAMILY, style.SIGN_FAMILY])

    def test_a_program_in_a_folder_with_blanks_and_umlauts_keeps_its_looks(self):
        said = []
        with mock.patch.object(style, "DATA", Path("/a b/größe (1)")):
            before = qInstallMessageHandler(lambda kind, where, text: said.append(text))
            try:
                box = QComboBox()
                style.dress(box)
                box.show()
                box.deleteLater()
            finally:
                qInstallMessageHandler(before)
        self.assertIn("/a b/größe (1)", box.styleSheet())
        self.assertEqual([text for text in said if "stylesheet" in text], [])


class FilmImage(unittest.TestCase):
    def setUp(self):
        self.app = make_app(["ravden"])

    def test_above_the_film_there_is_nothing(self):
        image = strata.film_image(line(), np.linspace(1, 9, 20), 100, 100.0, 10.0, LIGHT)
        self.assertEqual(image.pixelColor(10, 10).alpha(), 0)
        self.assertEqual(image.pixelColor(10, 90).alpha(), 255)
        self.assertEqual((image.width(), image.height()), (20, 100))

    def test_soft_is_pale_and_hard_is_dark_at_its_own_depth(self):
        image = strata.film_image(line(), np.linspace(1, 9, 20), 100, 50.0, 10.0, LIGHT)
        soft, hard = image.pixelColor(10, 90).lightness(), image.pixelColor(10, 10).lightness()
        self.assertGreater(soft, hard + 60)

    def test_what_is_planned_is_paler(self):
        hours = np.array([2.0, 8.0])
        image = strata.film_image(line((30.0, 30.0)), hours, 50, 50.0, 5.0, LIGHT)
        past, planned = (image.pixelColor(x, 25).lightness() for x in (0, 1))
        self.assertGreater(planned, past + 40)

    def test_before_the_first_coat_is_bare_wood(self):
        image = strata.film_image(line(), np.array([-5.0, 5.0]), 50, 50.0, 20.0, DARK)
        self.assertEqual([image.pixelColor(x, 45).alpha() for x in (0, 1)], [0, 255])

    def test_a_growing_film_is_interpolated(self):
        image = strata.film_image(line(film=(0.0, 100.0)), np.array([2.5, 7.5]), 100, 100.0, 20.0, LIGHT)
        heights = [sum(image.pixelColor(x, y).alpha() > 0 for y in range(100)) for x in (0, 1)]
        self.assertEqual(heights, [25, 75])


class Palettes(unittest.TestCase):
    def test_the_ramp_darkens_all_the_way_so_that_it_reads_without_colour(self):
        for palette in PALETTES.values():
            light = [luminance(c) for c in palette.ramp]
            self.assertEqual(light, sorted(light, reverse=True))
            self.assertEqual(len(palette.ramp), len(RAMP_MARGINS_K))
            self.assertGreater(light[0] / light[-1], 6)
            table = ramp_table(palette)
            index = ramp_index(np.array([-500.0, np.nan, 0.0, 500.0]))
            self.assertEqual((index[0], index[1], index[3]), (0, 0, len(table) - 1))

    def test_text_can_be_read_on_its_ground(self):
        for p in PALETTES.values():
            pairs = (
                (p.ink, p.panel), (p.ink, p.ground), (p.muted, p.panel), (p.muted, p.ground), (p.warn, p.panel),
                (p.open_ink, p.panel), (p.accent_ink, p.accent), (p.ink, p.open_soft), (p.ink, p.warn_soft),
                (p.ink, p.accent_soft), (p.rail_ink, p.rail), (p.accent, p.panel), (p.open_ink, p.ground),
            )  # fmt: skip
            for ink, ground in pairs:
                self.assertGreaterEqual(contrast(ink, ground), 4.5, (p.name, ink, ground))

    def test_mixing_and_the_sheet(self):
        self.assertEqual(mix("#000000", "#ffffff", 0.5), "#808080")
        for p in PALETTES.values():
            self.assertIn(p.accent, sheet(p))
            self.assertNotIn("{", sheet(p).replace("{ ", "").split("QToolTip")[0][:0])


class Tallies(unittest.TestCase):
    def setUp(self):
        self.app = make_app(["ravden"])

    def ink(self, count, planned=False):
        image = QImage(260, 30, QImage.Format.Format_ARGB32)
        image.fill(0)
        painter = QPainter(image)
        box = tally.draw(painter, 4, 4, count, "#000000", planned=planned)
        painter.end()
        dark = [x for x in range(260) if any(image.pixelColor(x, y).alpha() > 100 for y in range(30))]
        return box, dark

    def test_more_coats_take_more_room_and_groups_of_five_stand_apart(self):
        widths = [tally.width_px(n) for n in range(41)]
        self.assertEqual(widths, sorted(widths))
        self.assertEqual(tally.width_px(0), 0)
        box, dark = self.ink(10)
        self.assertLessEqual(max(dark), box.right() + 3)
        gaps = [b - a for a, b in itertools.pairwise(dark)]
        self.assertGreaterEqual(max(gaps), 3)

    def test_every_stroke_is_there(self):
        _, dark = self.ink(4)
        runs = 1 + sum(b - a > 1 for a, b in itertools.pairwise(dark))
        self.assertEqual(runs, 4)
