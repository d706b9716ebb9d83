"""What the program asks of the machine: a display that answers, a folder that can be written, a place in the menu."""

import os
import shutil
import socket
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path
from unittest import mock

from ravden.core.errors import InputError
from ravden.system import desktop, display, solver_cache
from ravden.system.writable import may_write, need_writable

ROOT = Path(__file__).resolve().parent.parent
CASE = ROOT / "tools" / "package" / "cure.json"


class InFolder(unittest.TestCase):
    def setUp(self):
        self.folder = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, self.folder)

    def run_program(self, *words, given="", setup="", **env):
        """The program in a process of its own; setup: Python run before it. Returns (code, said, complaints)."""
        run = f"import sys; {setup}\nfrom ravden.cli import main; sys.exit(main())"
        plain = {
            k: v for k, v in os.environ.items() if not k.startswith(("XDG_", "RAVDEN_", "QT_", "WAYLAND", "DISPLAY"))
        }
        done = subprocess.run(
            [sys.executable, "-c", run, *map(str, words)], input=given, capture_output=True, text=True,
            env=plain | {k: str(v) for k, v in env.items()}, timeout=120,
        )  # fmt: skip
        return done.returncode, done.stdout, done.stderr


class Displays(InFolder):
    def compositor(self):
        line = socket.socket(socket.AF_UNIX)
        self.addCleanup(line.close)
        line.bind(str(self.folder / "wayland-0"))
        line.listen()
        return {"XDG_RUNTIME_DIR": str(self.folder), "WAYLAND_DISPLAY": "wayland-0"}

    def test_pictures_need_none(self):
        self.assertEqual(display.platform_for({"QT_QPA_PLATFORM": "offscreen"}), "")

    def test_a_compositor_is_taken_where_no_x_server_answers(self):
        env = self.compositor()
        self.assertEqual(display.platform_for(env), "wayland")
        self.assertEqual(display.platform_for(env | {"XDG_SESSION_TYPE": "wayland"}), "")
        self.assertEqual(display.platform_for(env | {"QT_QPA_PLATFORM": "xcb", "DISPLAY": ":9871"}), "wayland")
        self.assertEqual(display.platform_for(env | {"QT_QPA_PLATFORM": "wayland"}), "")

    def test_dead_ones_are_named(self):
        with self.assertRaisesRegex(InputError, r"DISPLAY is :9871, but nothing answers there"):
            display.platform_for({"DISPLAY": ":9871"})
        with self.assertRaisesRegex(InputError, "WAYLAND_DISPLAY is way-off"):
            display.platform_for({"WAYLAND_DISPLAY": "way-off", "XDG_RUNTIME_DIR": str(self.folder)})
        with self.assertRaisesRegex(InputError, "no display"):
            display.platform_for({})

    def test_the_program_says_so_before_the_toolkit_aborts(self):
        for env in ({"DISPLAY": ":9871"}, {"QT_QPA_PLATFORM": "wayland"}, {}):
            code, said, wrong = self.run_program(HOME=self.folder, **env)
            self.assertEqual((code, said), (3, ""), wrong)
            self.assertEqual(len(wrong.splitlines()), 1, wrong)
            self.assertTrue(wrong.startswith("ravden: "), wrong)


class Folders(InFolder):
    def test_a_folder_that_cannot_be_written_is_named(self):
        (self.folder / "file").touch()
        with self.assertRaisesRegex(InputError, "file: is not a folder"):
            need_writable(self.folder / "file")
        with self.assertRaisesRegex(InputError, "is not a folder"):
            need_writable(self.folder / "file" / "below")
        self.assertFalse(may_write(Path("/proc/nothing")))
        self.assertTrue(may_write(self.folder / "a" / "b"))
        self.assertEqual(list((self.folder / "a" / "b").iterdir()), [])

    def test_the_demo_and_its_pictures_say_where_they_cannot_write(self):
        for words, env in (
            (["demo", "--offscreen", "/proc/shots"], {}),
            (["demo"], {"RAVDEN_HOME": "/proc/none", "QT_QPA_PLATFORM": "offscreen"}),
        ):
            code, said, wrong = self.run_program(*words, HOME="/proc/none", **env)
            self.assertEqual((code, said), (2, ""), wrong)
            ours = [line for line in wrong.splitlines() if line.startswith("ravden: ")]
            self.assertEqual(len(ours), 1, wrong)
            self.assertIn("/proc/", ours[0])
            self.assertNotIn("Traceback", wrong)

    def test_a_full_disk_at_the_end_is_one_line(self):
        with open("/dev/full", "w") as full:
            done = subprocess.run(
                [sys.executable, "-m", "ravden", "compute", "cure"], stdin=CASE.open(), stdout=full,
                stderr=subprocess.PIPE, text=True,
            )  # fmt: skip
        self.assertEqual(done.returncode, 2)
        self.assertEqual(len(done.stderr.splitlines()), 1, done.stderr)

    def test_a_reader_that_stops_early_is_no_fault(self):
        for words in (["compute", "cure", "--schema"], ["--help"]):
            program = subprocess.Popen(
                [sys.executable, "-m", "ravden", *words], stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True
            )
            program.stdout.close()  # before a word of it is written
            self.assertEqual((program.stderr.read(), program.wait(60)), ("", 0))
            program.stderr.close()


class SolverCache(InFolder):
    def test_it_computes_where_nothing_can_be_kept_and_leaves_nothing(self):
        # As if neither the program's own folder nor a home could be written, which root always may.
        away = "from ravden.system import solver_cache; from pathlib import Path; solver_cache.SOURCE = Path('/proc/x')"
        temporary = self.folder / "tmp"
        temporary.mkdir()
        code, said, wrong = self.run_program(
            "compute", "cure", given=CASE.read_text(), setup=away, HOME="/proc/none", TMPDIR=temporary,
            NUMBA_CACHE_LOCATOR_CLASSES="UserProvidedCacheLocator",
        )  # fmt: skip
        self.assertEqual((code, wrong), (0, ""))
        self.assertIn('"windows"', said)
        self.assertEqual(list(temporary.iterdir()), [])

    def test_what_a_package_brings_is_copied_once_and_older_copies_go(self):
        shipped = self.folder / "shipped"
        shipped.mkdir()
        (shipped / "a.nbc").write_text("compiled")
        home = {"XDG_CACHE_HOME": str(self.folder / "cache")}
        with mock.patch.dict(os.environ, home):
            first = solver_cache.bring(shipped, "1.0")
            self.assertEqual((first / "a.nbc").read_text(), "compiled")
            self.assertEqual(os.environ[solver_cache.ASKED], str(first))
            (first / "a.nbc").write_text("as it was used")
            self.assertEqual(solver_cache.bring(shipped, "1.0"), first)
            self.assertEqual((first / "a.nbc").read_text(), "as it was used")
            second = solver_cache.bring(shipped, "1.1")
            self.assertEqual(list(second.parent.iterdir()), [second])

    def test_without_a_home_it_lies_in_a_temporary_folder(self):
        shipped = self.folder / "shipped"
        shipped.mkdir()
        (shipped / "a.nbc").write_text("compiled")
        with mock.patch.dict(os.environ, {"XDG_CACHE_HOME": "/proc/none"}):
            found = solver_cache.bring(shipped, "1.0")
        self.addCleanup(shutil.rmtree, found, ignore_errors=True)
        self.assertEqual((found / "a.nbc").read_text(), "compiled")
        self.assertIn(tempfile.gettempdir(), str(found))


class Menu(InFolder):
    def test_the_entry_starts_this_program_and_goes_again(self):
        home = self.folder / "a home with 50% more ä"
        code, said, wrong = self.run_program("desktop", "--install", XDG_DATA_HOME=home, HOME=self.folder)
        self.assertEqual((code, wrong), (0, ""))
        self.assertEqual(len(said.splitlines()), 3)
        entry = (home / "applications/ravden.desktop").read_text()
        self.assertIn(f'Exec="{sys.executable}" "-m" "ravden" %f', entry)
        if shutil.which("desktop-file-validate"):
            subprocess.run(["desktop-file-validate", home / "applications/ravden.desktop"], check=True)
        self.assertTrue((home / "icons/hicolor/scalable/apps/ravden.svg").exists())
        self.assertIn("application/x-ravden-shop", (home / "mime/packages/ravden-shop.xml").read_text())
        code, said, _ = self.run_program("desktop", "--remove", XDG_DATA_HOME=home, HOME=self.folder)
        self.assertEqual((code, len(said.splitlines())), (0, 3))
        self.assertEqual([p.name for p in home.rglob("*ravden*")], [])
        self.assertIn("nothing", self.run_program("desktop", "--remove", XDG_DATA_HOME=home)[1])

    def test_words_of_the_entry_are_quoted_twice(self):
        self.assertEqual(desktop.quoted('/a "b"/c'), r'"/a \\"b\\"/c"')
        self.assertEqual(desktop.quoted("/a$b%"), r'"/a\\$b%%"')

    def test_a_menu_that_cannot_be_written_is_one_line(self):
        code, said, wrong = self.run_program("desktop", "--install", XDG_DATA_HOME="/proc/none")
        self.assertEqual((code, said, len(wrong.splitlines())), (2, "", 1), wrong)
