"""The project's own promises: pins, scripts, pictures, documents."""

import ast
import os
import re
import shutil
import subprocess
import sys
import tarfile
import tempfile
import tomllib
import unittest
import xml.etree.ElementTree as ElementTree
from pathlib import Path

from ravden import __version__

ROOT = Path(__file__).resolve().parent.parent


def text(name):
    return (ROOT / name).read_text(encoding="utf-8")


class Requirements(unittest.TestCase):
    def test_everything_is_pinned_with_hashes_and_no_addresses(self):
        for name in ("run", "dev", "package"):
            lines = text(f"requirements/{name}.txt")
            pins = re.findall(r"^([a-z0-9-]+)==", lines, re.MULTILINE)
            blocks = re.split(r"^(?=[a-z])", lines, flags=re.MULTILINE)
            self.assertGreater(len(pins), 6)
            self.assertTrue(all("--hash=sha256:" in b for b in blocks if "==" in b))
            self.assertNotIn("http", lines)

    def test_what_is_installed_with_the_program_is_what_it_asks_for(self):
        asked = {
            re.split(r"[><=]", d)[0].lower() for d in tomllib.loads(text("pyproject.toml"))["project"]["dependencies"]
        }
        pinned = set(re.findall(r"^([a-z0-9-]+)==", text("requirements/run.txt"), re.MULTILINE))
        self.assertLessEqual(asked, pinned)


class Scripts(unittest.TestCase):
    def test_they_parse_and_can_be_run(self):
        scripts = ("tools/screenshots.sh", "tools/package.sh", "tools/package_test.sh")
        for name in ("demo", "check", ".ci/run", "tools/setup.sh", *scripts):
            subprocess.run(["bash", "-n", str(ROOT / name)], check=True)
            if name != "tools/setup.sh":
                self.assertTrue(os.access(ROOT / name, os.X_OK), name)
        self.assertIn("./check", text(".ci/run"))

    def test_the_runner_fails_on_no_tests(self):
        with tempfile.TemporaryDirectory() as folder:
            tests = Path(folder) / "tests"
            tests.mkdir()
            (tests / "__init__.py").touch()
            (tests / "run.py").write_text(text("tests/run.py"))
            done = subprocess.run([sys.executable, str(tests / "run.py")], capture_output=True, text=True)
            self.assertEqual((done.returncode, done.stdout), (1, "0 passed, 0 failed, 0 skipped\n"))
            hidden = tests / "more"
            hidden.mkdir()
            (hidden / "test_x.py").touch()
            done = subprocess.run([sys.executable, str(tests / "run.py")], capture_output=True, text=True)
            self.assertEqual(done.returncode, 1)
            self.assertIn("__init__.py", done.stderr)


class SourceArchive(unittest.TestCase):
    def test_it_carries_what_is_needed_to_work_on_it(self):
        with tempfile.TemporaryDirectory() as folder:
            copy = Path(folder) / "ravden"
            left_out = shutil.ignore_patterns(".git", ".venv", "build", "dist", "__pycache__", "*.egg-info", ".*_cache")
            shutil.copytree(ROOT, copy, ignore=left_out)
            make = f"from setuptools import build_meta; print(build_meta.build_sdist({folder!r}))"
            done = subprocess.run([sys.executable, "-c", make], cwd=copy, capture_output=True, text=True, check=True)
            with tarfile.open(Path(folder) / done.stdout.split()[-1]) as archive:
                inside = {name.split("/", 1)[1] for name in archive.getnames() if "/" in name}
        for name in ("demo", "check", "tools/setup.sh", "requirements/run.txt", "docs/guide.md", "README.md", ".ci/run",
                     "src/ravden/data/materials.toml", "tests/run.py", "docs/screenshots/rack.png"):  # fmt: skip
            self.assertIn(name, inside)
        self.assertFalse([name for name in inside if "__pycache__" in name])


class Documents(unittest.TestCase):
    def test_every_picture_is_linked_and_every_link_leads_somewhere(self):
        readme = text("README.md")
        pictures = sorted(p.name for p in (ROOT / "docs/screenshots").glob("*.png"))
        self.assertTrue(4 <= len(pictures) < 20)
        for name in pictures:
            self.assertIn(f"docs/screenshots/{name}", readme)
        for target in re.findall(r"\]\(([^)#]+)\)", readme):
            self.assertTrue((ROOT / target).exists(), target)

    def test_the_keys_in_the_guide_are_the_keys_of_the_window(self):
        menus, guide = text("src/ravden/ui/shell/menus.py"), text("src/ravden/data/guide/keys.md")
        keys = ("C", "S", "R", "A", "N", "M", "L", "W", "T", "D", "H", "F1", "?", "Shift+C", "Ctrl+Z", "Ctrl+Shift+Z")
        for key in (*keys, "Ctrl+U", "Ctrl+D", "Ctrl+H", "Ctrl+N", "Ctrl+O", "Ctrl+P", "Ctrl+,", "F11"):
            self.assertIn(f"`{key}`", guide)
            self.assertIn(f'"{key}"', menus)

    def test_every_page_of_the_guide_is_in_its_list(self):
        listed = text("docs/guide.md")
        for page in (ROOT / "src/ravden/data/guide").glob("*.md"):
            self.assertIn(f"guide/{page.name})", listed)

    def test_desktop_files_and_version_agree(self):
        metainfo = ElementTree.parse(ROOT / "src/ravden/data/desktop/org.ravden.ravden.metainfo.xml").getroot()
        self.assertEqual(metainfo.find("releases/release").get("version"), __version__)
        self.assertEqual(tomllib.loads(text("pyproject.toml"))["project"]["version"], __version__)
        self.assertIn(f"## {__version__}", text("CHANGELOG.md"))
        entry = text("src/ravden/data/desktop/ravden.desktop")
        self.assertIn("Exec=ravden %f", entry)
        kind = ElementTree.parse(ROOT / "src/ravden/data/desktop/ravden-shop.xml").getroot()[0].get("type")
        self.assertIn(f"MimeType={kind};", entry)
        self.assertEqual(metainfo.find("provides/mediatype").text, kind)
        self.assertIn(f"ravden {__version__}", text("src/ravden/data/desktop/ravden.1"))


class Code(unittest.TestCase):
    def test_public_functions_of_the_core_say_what_they_do(self):
        bare = []
        for path in (ROOT / "src/ravden/core").rglob("*.py"):
            tree = ast.parse(path.read_text(encoding="utf-8"))
            for node in ast.iter_child_nodes(tree):
                named = isinstance(node, ast.FunctionDef | ast.ClassDef) and not node.name.startswith("_")
                if named and not ast.get_docstring(node):
                    bare.append(f"{path.name}: {node.name}")
        allowed = {"scratch.py: Rung", "gloss.py: is_mirror", "sandthrough.py: normal_cdf"}
        self.assertLessEqual(set(bare), allowed)

    def test_tests_look_at_behaviour_and_not_at_private_fields(self):
        found = []
        for path in (ROOT / "tests").rglob("*.py"):
            for n, line in enumerate(path.read_text(encoding="utf-8").splitlines(), start=1):
                inside = re.search(r"\b(?!self|sys|os|unittest|cls)\w+\)?\._[a-z]\w*", line.split("#")[0])
                if inside is not None and "re.search" not in line:
                    found.append(f"{path.name}:{n}: {inside[0]}")
        self.assertEqual(found, [])

    def test_tests_never_sleep(self):
        for path in (ROOT / "tests").rglob("*.py"):
            calls = [n.attr for n in ast.walk(ast.parse(path.read_text())) if isinstance(n, ast.Attribute)]
            self.assertFalse({"sleep", "qSleep", "qWait"} & set(calls), path.name)
