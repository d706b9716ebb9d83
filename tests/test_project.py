"""The project's own promises: pins, scripts, pictures, documents."""

import ast
import os
import re
import subprocess
import sys
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
        for name in ("run", "dev"):
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
        for name in ("demo", "check", ".ci/run", "tools/setup.sh", "tools/screenshots.sh"):
            subprocess.run(["bash", "-n", str(ROOT / name)], check=True)
            if name != "tools/setup.sh":
                self.assertTrue(os.access(ROOT / name, os.X_OK), name)
        self.assertIn("./check", text(".ci/run"))

    def test_missing_libraries_are_listed_when_they_may_not_be_installed(self):
        with tempfile.TemporaryDirectory() as folder:
            tools = Path(folder)
            for tool in ("id", "ldconfig", "sudo"):
                body = {"id": "echo 1000", "ldconfig": "true", "sudo": "exit 1"}[tool]
                (tools / tool).write_text(f"#!/bin/sh\n{body}\n")
                (tools / tool).chmod(0o755)
            env = os.environ | {"PATH": f"{folder}:{Path(sys.executable).parent}:{os.environ['PATH']}"}
            done = subprocess.run(
                ["bash", "-c", "source tools/setup.sh && setup run"], cwd=ROOT, env=env, capture_output=True, text=True
            )
        self.assertEqual(done.returncode, 4)
        self.assertIn("libxcb-cursor0", done.stderr)
        self.assertIn("sudo apt-get install", done.stderr)

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


class Documents(unittest.TestCase):
    def test_every_picture_is_linked_and_every_link_leads_somewhere(self):
        readme = text("README.md")
        pictures = sorted(p.name for p in (ROOT / "docs/screenshots").glob("*.png"))
        self.assertTrue(4 <= len(pictures) < 20)
        for name in pictures:
            self.assertIn(f"docs/screenshots/{name}", readme)
        for target in re.findall(r"\]\(([^)#]+)\)", readme):
            self.assertTrue((ROOT / target).exists(), target)

    def test_the_keys_in_the_readme_are_the_keys_of_the_window(self):
        window = text("src/ravden/ui/menus.py")
        for key in ("C", "S", "R", "A", "N", "M", "L", "W", "Shift+C", "Ctrl+Z", "Ctrl+Shift+Z", "Ctrl+U", "Ctrl+D"):
            self.assertIn(f"`{key}`", text("README.md"))
            self.assertIn(f'"{key}"', window)

    def test_desktop_files_and_version_agree(self):
        metainfo = ElementTree.parse(ROOT / "src/ravden/data/desktop/org.ravden.ravden.metainfo.xml").getroot()
        self.assertEqual(metainfo.find("releases/release").get("version"), __version__)
        self.assertEqual(tomllib.loads(text("pyproject.toml"))["project"]["version"], __version__)
        self.assertIn(f"## {__version__}", text("CHANGELOG.md"))
        self.assertIn("Exec=ravden", text("src/ravden/data/desktop/ravden.desktop"))
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

    def test_tests_never_sleep(self):
        for path in (ROOT / "tests").rglob("*.py"):
            calls = [n.attr for n in ast.walk(ast.parse(path.read_text())) if isinstance(n, ast.Attribute)]
            self.assertFalse({"sleep", "qSleep", "qWait"} & set(calls), path.name)
