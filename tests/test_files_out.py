"""Every file that leaves the program is whole or not there: a full disk, a kill, a name that is taken, a folder in the
way; and no other way of writing one is in the sources."""

import ast
import os
import resource
import signal
import stat
import subprocess
import sys
from contextlib import contextmanager
from pathlib import Path
from unittest import mock

import ravden
from ravden.app import settings, stock_files
from ravden.core.errors import InputError
from ravden.system.files import put, put_text, safe_name, take_in, take_text
from ravden.text.say import whole_fault
from tests.in_folder import InFolder

SOURCES = Path(ravden.__file__).parent
# Who else may write, and what: a shop file and its copies are written by the database.
# Compiled code is kept by the compiler.
OTHERS = {
    "system/files.py", "system/solver_cache.py", "journal/on_disk.py", "journal/copies.py", "journal/store.py",
}  # fmt: skip
WRITES = {"write_text", "write_bytes", "copyfile", "copy2", "copytree", "setOutputFileName"}
KILLED = """
import sys, time
from pathlib import Path
from ravden.system.files import put_by
def write(aside):
    aside.write_bytes(b"half of it")
    print("writing", flush=True)
    time.sleep(60)
put_by(Path(sys.argv[1]), write, lambda aside: True)
"""


@contextmanager
def disk_of(most_bytes):
    """A disk on which no file may be larger: what a full one comes to, for one file."""
    soft, hard = resource.getrlimit(resource.RLIMIT_FSIZE)
    resource.setrlimit(resource.RLIMIT_FSIZE, (most_bytes, hard))
    try:
        yield
    finally:
        resource.setrlimit(resource.RLIMIT_FSIZE, (soft, hard))


class Whole(InFolder):
    def refused(self, slot, *said):
        with self.assertRaises(InputError) as caught:
            slot()
        for some in said:
            self.assertIn(some, whole_fault(caught.exception))

    def there(self):
        return sorted(p.name for p in self.folder.iterdir())

    def test_a_full_disk_leaves_what_was_there(self):
        path = self.folder / "journal.csv"
        put(path, b"last month")
        with disk_of(4000):
            self.refused(lambda: put(path, b"x" * 9000), "journal.csv", "the disk is full; what was there is as it was")
            self.refused(lambda: put(self.folder / "new.csv", b"x" * 9000), "new.csv", "nothing was written")
        self.assertEqual(path.read_bytes(), b"last month")
        self.assertEqual(self.there(), ["journal.csv"])
        put(path, b"x" * 9000)
        self.assertEqual(path.stat().st_size, 9000)

    def test_settings_stay_whole_on_a_full_disk(self):
        path = self.folder / "settings.json"
        settings.save(settings.Settings(tools=["gauge"]), path)
        with disk_of(20):
            settings.save(settings.Settings(tools=["comb"]), path)
        self.assertIn("gauge", settings.load(path).tools)

    def test_what_the_disk_has_otherwise_is_not_called_written(self):
        path = self.folder / "a.csv"
        with mock.patch.object(Path, "read_bytes", return_value=b"other"):
            self.refused(lambda: put(path, b"mine"), "is not what was sent")
        self.assertEqual(self.there(), [])

    def test_killed_while_writing_nothing_is_half_there_and_what_is_left_goes(self):
        path = self.folder / "record.pdf"
        put(path, b"whole")
        child = subprocess.Popen([sys.executable, "-c", KILLED, str(path)], stdout=subprocess.PIPE, text=True)
        self.assertEqual(child.stdout.readline(), "writing\n")
        child.send_signal(signal.SIGKILL)
        child.wait()
        child.stdout.close()
        self.assertEqual(path.read_bytes(), b"whole")
        self.assertEqual(len(self.there()), 2)
        put(self.folder / "other.pdf", b"whole")
        self.assertEqual(self.there(), ["other.pdf", "record.pdf"])

    def test_a_link_leads_on_and_a_right_stays(self):
        far, link = self.folder / "far.csv", self.folder / "link.csv"
        put(far, b"1")
        far.chmod(0o640)
        link.symlink_to(far)
        put(link, b"2")
        self.assertTrue(link.is_symlink())
        self.assertEqual(far.read_bytes(), b"2")
        self.assertEqual(stat.S_IMODE(far.stat().st_mode), 0o640)

    def test_what_is_no_file_is_not_written_to(self):
        os.mkfifo(self.folder / "pipe")
        (self.folder / "folder").mkdir()
        self.refused(lambda: put(self.folder / "pipe", b"1"), "is not a file")
        self.refused(lambda: put(self.folder / "folder", b"1"), "is a folder")
        self.refused(lambda: put(self.folder / "nowhere" / "a", b"1"), "cannot be written")
        self.refused(lambda: put(self.folder / "a\0b", b"1"), "cannot be written")
        self.refused(lambda: put(self.folder / ("x" * 300), b"1"), "cannot be written")
        self.assertEqual(self.there(), ["folder", "pipe"])
        self.assertTrue((self.folder / "pipe").is_fifo())

    def test_a_name_of_a_person_leads_nowhere(self):
        for name in ("../../etc", "a/b", "..", "C:\\x", "\n", "x" * 400, "", "Zoë"):
            found = safe_name(name)
            self.assertEqual(Path(found).name, found)
            self.assertNotIn(found, (".", ".."))
            put_text(self.folder / f"plan-{found}.ics", "1")
        self.assertEqual(safe_name("Zoë"), "Zoë")

    def test_the_list_to_buy_is_written_by_the_standard(self):
        path = self.folder / "buy.csv"
        stock_files.write_list(('Lacquer, "clear"', "=1+1"), path)
        self.assertEqual(path.read_text(), 'to buy\n"Lacquer, ""clear"""\n\'=1+1\n')


class In(InFolder):
    def refused(self, path, *said):
        with self.assertRaises(InputError) as caught:
            take_in(path, 100)
        for some in said:
            self.assertIn(some, whole_fault(caught.exception))

    def test_what_is_no_file_is_not_waited_for(self):
        os.mkfifo(self.folder / "pipe")
        (self.folder / "folder").mkdir()
        self.refused(self.folder / "pipe", "is not a file")
        self.refused(self.folder / "folder", "is a folder")
        self.refused(Path("/dev/zero"), "is not a file")
        self.refused(self.folder / "nowhere", "cannot be read")
        put(self.folder / "large", b"x" * 101)
        self.refused(self.folder / "large", "is too large")
        put(self.folder / "fits", b"x" * 100)
        self.assertEqual(len(take_in(self.folder / "fits", 100)), 100)

    def test_letters_of_old_programs_are_read(self):
        for code in ("utf-8", "utf-8-sig", "utf-16", "cp1252"):
            (path := self.folder / code).write_bytes("Schellack-Lösung für Böden".encode(code))
            self.assertEqual(take_text(path, 1000), "Schellack-Lösung für Böden", code)
        (path := self.folder / "cut").write_bytes("Lösung ü".encode()[:-1])
        self.assertEqual(take_text(path, 1000)[:7], "Lösung ")


class NoOtherWay(InFolder):
    def test_no_other_way_of_writing_a_file_is_in_the_sources(self):
        found = []
        for path in sorted(SOURCES.rglob("*.py")):
            name = path.relative_to(SOURCES).as_posix()
            if name in OTHERS:
                continue
            for node in ast.walk(ast.parse(path.read_text())):
                if isinstance(node, ast.Call) and _writes(node):
                    found.append(f"{name}:{node.lineno}")
        self.assertEqual(found, [])

    def test_the_search_finds_one(self):
        for line in ("p.write_text('x')", "open(p, 'w')", "p.open('ab')", "QPdfWriter(str(p))", "pic.save(str(p))"):
            self.assertTrue(_writes(ast.parse(line).body[0].value), line)
        for line in ("open(p)", "p.open('rb')", "QPdfWriter(page)", "pic.save(out, 'PNG')", "painter.save()"):
            self.assertFalse(_writes(ast.parse(line).body[0].value), line)


def _writes(call):
    name = call.func.attr if isinstance(call.func, ast.Attribute) else getattr(call.func, "id", "")
    if name in WRITES:
        return True
    if name == "open":
        told = [a.value for a in (*call.args, *(k.value for k in call.keywords)) if isinstance(a, ast.Constant)]
        return any(
            isinstance(m, str) and len(m) <= 3 and set(m) & set("wax+") and set(m) <= set("rwaxbt+") for m in told
        )
    to_path = call.args and isinstance(call.args[0], ast.Call) and getattr(call.args[0].func, "id", "") == "str"
    return name in ("QPdfWriter", "save") and bool(to_path)
