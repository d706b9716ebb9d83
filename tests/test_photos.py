"""Photos from files: read by a process of their own, hostile ones refused in words; looked at from the command line."""

import io
import json
import os
import struct
import tempfile
import unittest
import zlib
from pathlib import Path
from unittest import mock

import numpy as np
from PIL import Image

from ravden.app.compute import run
from ravden.core.errors import InputError
from ravden.exchange import photo, photo_child
from ravden.exchange.inspecting import Shot, inspect
from ravden.text.say import say
from tests import photos


class Folder(unittest.TestCase):
    def setUp(self):
        made = tempfile.TemporaryDirectory()
        self.addCleanup(made.cleanup)
        self.folder = Path(made.name)

    def picture(self, name, size=(400, 300), **how):
        path = self.folder / name
        noise = np.random.default_rng(1).integers(60, 200, (size[1], size[0], 3), dtype=np.uint8)
        Image.fromarray(noise).save(path, **how)
        return path

    def refusal(self, path):
        """What is said of a photo that cannot be read, after the name of its file."""
        with self.assertRaises(InputError) as caught:
            photo.preview(path)
        self.assertEqual(caught.exception.path, path.name)
        return say(caught.exception.said)


class Files(Folder):
    def test_a_photo_is_read_in_every_way_it_may_lie(self):
        for turn in range(1, 9):
            exif = Image.Exif()
            exif[0x0112] = turn
            left = np.zeros((60, 90, 3), dtype=np.uint8)
            left[:20, :30] = 255  # top left as it was taken
            path = self.folder / f"{turn}.jpg"
            Image.fromarray(left).transpose(UNDO[turn]).save(path, exif=exif, quality=95) if turn in UNDO else (
                Image.fromarray(left).save(path, exif=exif, quality=95)
            )
            read = photo.preview(path)
            self.assertEqual(read.pixels.shape, (60, 90, 3), turn)
            self.assertGreater(int(read.pixels[5, 5, 0]), 200, turn)
            self.assertLess(int(read.pixels[50, 80, 0]), 60, turn)

    def test_every_kind_of_colour_becomes_light(self):
        for mode, name in (
            ("L", "grey.png"),
            ("RGBA", "clear.png"),
            ("P", "few.png"),
            ("CMYK", "print.jpg"),
            ("1", "bit.png"),
        ):
            path = self.folder / name
            Image.new("RGB", (80, 60), (255, 255, 255)).convert(mode).save(path)
            self.assertGreater(float(photo.preview(path).light.mean()), 0.9)

    def test_a_large_photo_is_made_smaller_for_looking_and_as_large_as_is_needed(self):
        path = self.picture("large.jpg", (4000, 3000))
        small = photo.preview(path)
        self.assertLessEqual(small.pixels.shape[0] * small.pixels.shape[1], photo.PREVIEW_PX)
        corners = ((0.0, 0.0), (4000.0, 0.0), (4000.0, 3000.0), (0.0, 3000.0))
        for wide, factor in ((900.0, 1), (450.0, 2), (200.0, 4), (100.0, 8)):
            needed = photo.for_panel(path, (wide, wide * 0.75), corners)
            self.assertEqual(round(needed.factor), factor)
        self.assertEqual(small.sha256, needed.sha256)

    def test_files_that_are_no_photo_are_refused_in_words(self):
        text = self.folder / "notes.jpg"
        text.write_text("not a photo")
        self.assertIn("no JPEG or PNG photo", self.refusal(text))
        self.assertIn("no such file", self.refusal(self.folder / "gone.jpg"))
        self.assertIn("is a folder", self.refusal(self.folder))
        half = self.folder / "half.jpg"
        half.write_bytes(self.picture("whole.jpg").read_bytes()[:4000])
        self.assertIn("damaged", self.refusal(half))
        gif = self.folder / "moving.png"
        Image.new("P", (20, 20)).save(gif, format="GIF")
        self.assertIn("no JPEG or PNG photo", self.refusal(gif))
        many = self.folder / "many.png"
        first = Image.new("RGB", (20, 20))
        first.save(many, save_all=True, append_images=[Image.new("RGB", (20, 20), (9, 9, 9))])
        self.assertIn("more than one picture", self.refusal(many))

    def test_a_bomb_falls_at_its_header(self):
        bomb = self.folder / "bomb.png"
        header = struct.pack(">IIBBBBB", 60_000, 60_000, 8, 2, 0, 0, 0)
        data = zlib.compress(bytes(1000))
        chunks = [(b"IHDR", header), (b"IDAT", data), (b"IEND", b"")]
        raw = b"".join(struct.pack(">I", len(d)) + k + d + struct.pack(">I", zlib.crc32(k + d)) for k, d in chunks)
        bomb.write_bytes(b"\x89PNG\r\n\x1a\n" + raw)
        self.assertIn("pixels", self.refusal(bomb))
        long = self.folder / "long.png"
        Image.new("L", (17_000, 40)).save(long)
        self.assertIn("17000 pixels long", self.refusal(long))
        heavy = self.folder / "heavy.jpg"
        with heavy.open("wb") as file:
            file.truncate(photo_child.MOST_BYTES + 1)
        self.assertIn("larger than 40 MB", self.refusal(heavy))

    def test_a_reader_that_dies_or_hangs_is_told(self):
        path = self.picture("fine.jpg")
        with mock.patch.object(photo, "_child", lambda: ["false"]):
            self.assertIn("came to an end", self.refusal(path))
        with mock.patch.object(photo, "_child", lambda: ["sleep", "60"]), mock.patch.object(photo, "SECONDS", 0.2):
            self.assertIn("took longer", self.refusal(path))
        with mock.patch.object(photo, "_child", lambda: ["printf", '{"wide": 9, "high": 9}\n\x01']):
            self.assertIn("to its end", self.refusal(path))

    def test_the_child_answers_for_itself(self):
        path, out = self.picture("fine.png", (30, 20)), io.BytesIO()
        with mock.patch.object(photo_child.resource, "setrlimit") as limit:
            code = photo_child.main(io.StringIO(json.dumps({"path": str(path)}) + "\n"), out)
        self.assertEqual((code, limit.call_count), (0, 2))
        head, _, raw = out.getvalue().partition(b"\n")
        self.assertEqual((json.loads(head)["wide"], len(raw)), (30, 30 * 20 * 3))
        with mock.patch.object(photo_child, "decoded", side_effect=MemoryError), \
                mock.patch.object(photo_child.resource, "setrlimit"):  # fmt: skip
            out = io.BytesIO()
            photo_child.main(io.StringIO(json.dumps({"path": str(path)}) + "\n"), out)
        self.assertIn("more memory", json.loads(out.getvalue())["refused"])

    def test_a_small_copy_has_nothing_in_it_but_the_picture(self):
        exif = Image.Exif()
        exif[0x010F] = "a camera"
        path = self.picture("with.jpg", (2400, 1800), exif=exif)
        to = self.folder / "shop.photos" / "copy.jpg"
        photo.copy_small(path, to)
        with Image.open(to) as copy:
            self.assertLessEqual(max(copy.size), photo.COPY_PX)
            self.assertEqual(dict(copy.getexif()), {})
        self.assertFalse(list(to.parent.glob("*.partial")))
        before = to.stat().st_mtime_ns
        photo.copy_small(path, to)
        self.assertEqual(to.stat().st_mtime_ns, before)


UNDO = {
    2: Image.Transpose.FLIP_LEFT_RIGHT, 3: Image.Transpose.ROTATE_180, 4: Image.Transpose.FLIP_TOP_BOTTOM,
    5: Image.Transpose.TRANSPOSE, 6: Image.Transpose.ROTATE_90, 7: Image.Transpose.TRANSVERSE,
    8: Image.Transpose.ROTATE_270,
}  # fmt: skip


class Inspected(Folder):
    def case(self, paths, **change):
        case = {
            "shots": [{"path": str(p), "lamp": lamp} for lamp, p in paths.items()],
            "corners_px": [list(c) for c in photos.CORNERS], "size_mm": list(photos.SIZE_MM),
        }  # fmt: skip
        return run("inspect", json.dumps({**case, **change}).encode())

    def test_three_photos_of_a_panel_half_done(self):
        paths = photos.three(self.folder, 0.85)
        found = self.case(paths)
        self.assertEqual((found["verdict"], found["limit_from"], found["why"]), ("shiny_spots", "simulated panels", []))
        self.assertGreater(found["lit_share"], 0.1)
        self.assertLessEqual(len(found["spots"]), 200)
        self.assertGreater(found["spots"][0]["mm2"], found["spots"][-1]["mm2"])
        for i, shot in enumerate(found["shots"]):
            self.assertIsNone(shot["refused"])
            self.assertAlmostEqual(shot["shift_px"][0], i * 0.6, delta=0.25)  # the camera had moved so far
            self.assertAlmostEqual(shot["shift_px"][1], -i * 0.9, delta=0.25)
        done = self.case(photos.three(self.folder, 0.995))
        self.assertEqual(done["verdict"], "cannot_tell")  # never that it is done
        self.assertLess(done["lit_share"], found["lit_share"])

    def test_two_photos_are_views_and_no_rings(self):
        paths = photos.three(self.folder)
        del paths["broad"]
        found = self.case(paths)
        self.assertEqual((found["verdict"], found["spots"], found["lit_share"]), ("cannot_tell", [], None))
        self.assertIn("no rings", found["why"][0])

    def test_photos_that_cannot_be_used_are_told_in_their_place(self):
        trial = photos.panel(0.8)
        good = {lamp: self.folder / f"{lamp}.jpg" for lamp in ("low", "low-other", "broad")}
        for i, (lamp, path) in enumerate(good.items()):
            photos.photo(trial, lamp, path, seed=i)
        bad = self.folder / "bad.jpg"
        for how, words in (
            ({"exposure": 0.02}, "too dark"), ({"moved": (42.0, 20.0)}, "mm beside"),
        ):  # fmt: skip
            photos.photo(trial, "broad", bad, **how)
            found = self.case({**good, "broad": bad})
            self.assertIn(words, found["shots"][2]["refused"])
            self.assertEqual(found["verdict"], "cannot_tell")
            self.assertIn("bad.jpg", found["why"][0])
        photos.photo(trial, "broad", bad, exposure=9.0)
        text = self.folder / "text.jpg"
        text.write_text("no")
        two = self.case({"low": good["low"], "low-other": text, "broad": bad})
        self.assertIn("burnt out", two["shots"][2]["refused"])
        self.assertIn("no JPEG", two["shots"][1]["refused"])
        found = self.case({**good, "broad": good["low"]})
        self.assertIn("same file", found["shots"][2]["refused"])
        coarse = self.case(good, size_mm=[400, 400])
        self.assertIn("too coarse", coarse["shots"][0]["refused"])
        outside = [[x - 300, y] for x, y in photos.CORNERS]
        self.assertIn("whole panel", self.case(good, corners_px=outside)["shots"][0]["refused"])
        other = photos.panel(0.8, seed=11)
        photos.photo(other, "broad", bad, seed=9)
        self.assertTrue(self.case({**good, "broad": bad})["shots"][2]["refused"])

    def test_cases_that_cannot_be(self):
        paths = photos.three(self.folder)
        corners = [list(c) for c in photos.CORNERS]
        for change, path in (
            ({"corners_px": [corners[i] for i in (0, 2, 1, 3)]}, "corners_px"),
            ({"corners_px": corners[:3]}, "corners_px"),
            ({"corners_px": [*corners[:3], [1]]}, "corners_px[3]"), ({"size_mm": [90]}, "size_mm"),
            ({"size_mm": [5, 90]}, "size_mm"), ({"size_mm": [900, 90]}, "size_mm"), ({"shots": []}, "shots"),
            ({"shots": [{"path": "a", "lamp": "low"}] * 2}, "shots"), ({"untouched_mm": [0, 0]}, "untouched_mm"),
            ({"untouched_mm": [-1, 0, 5, 5]}, "untouched_mm"),
        ):  # fmt: skip
            with self.subTest(change), self.assertRaises(InputError) as caught:
                self.case(paths, **change)
            self.assertEqual(caught.exception.path, path)

    def test_it_can_be_left_between_two_photos(self):
        paths = photos.three(self.folder)
        asked = []
        with self.assertRaises(InputError):
            inspect(
                [Shot(path=p, lamp=lamp) for lamp, p in paths.items()], photos.CORNERS, photos.SIZE_MM,
                go_on=lambda: asked.append(1) or len(asked) < 2,
            )  # fmt: skip
        self.assertEqual(len(asked), 2)

    def test_from_the_command_line(self):
        import subprocess
        import sys

        paths = photos.three(self.folder)
        case = json.dumps({
            "shots": [{"path": str(p), "lamp": lamp} for lamp, p in paths.items()],
            "corners_px": [list(c) for c in photos.CORNERS], "size_mm": list(photos.SIZE_MM),
        })  # fmt: skip
        done = subprocess.run([sys.executable, "-m", "ravden", "compute", "inspect"], input=case, capture_output=True,
                              text=True, env={**os.environ, "RAVDEN_HOME": str(self.folder)})  # fmt: skip
        self.assertEqual((done.returncode, done.stderr), (0, ""))
        self.assertEqual(json.loads(done.stdout)["verdict"], "shiny_spots")
