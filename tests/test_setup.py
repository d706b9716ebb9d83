"""tools/setup.sh, run for real in a folder of its own, with stand-ins for the system's tools and for Python."""

import fcntl
import os
import shutil
import subprocess
import tempfile
import unittest
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
# Makes an environment whose own Python is the stand-in again, and whose pip fails as it is told.
PYTHON = """#!/bin/bash
echo "python $*" >> "$LOG"
case "$*" in
  *"-m venv"*)
    folder=${@: -1}
    mkdir -p "$folder/bin" && cp "$0" "$folder/bin/python"
    printf '#!/bin/sh\\n' > "$folder/bin/ravden" && chmod +x "$folder/bin/ravden" ;;
  *"-m pip"*)
    if [ -n "$PIP_SAYS" ]; then printf '%b\\n' "$PIP_SAYS" >&2; exit 1; fi
    echo "Downloading 16 MB"; echo "WARNING: The directory is not owned" >&2 ;;
esac
"""


class SetUp(unittest.TestCase):
    def setUp(self):
        self.base = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, self.base)
        self.folder = self.checkout("a shop für two")
        self.tools = self.base / "tools"
        self.tools.mkdir()
        self.log = self.base / "log"
        self.log.touch()
        self.stand_in("id", "echo 1000")
        self.stand_in("sudo", 'echo "sudo $*" >> "$LOG"; [ "$MAY" = yes ] || exit 1; [ "$1" = -n ] && shift; "$@"')
        self.stand_in("apt-get", 'echo "apt-get $* as $DEBIAN_FRONTEND" >> "$LOG"')
        for name in ("Xvfb", "dbus-daemon"):
            self.stand_in(name, "true")
        self.python = self.tools / "python-stand-in"
        self.python.write_text(PYTHON)
        self.python.chmod(0o755)
        self.libraries(everything=True)

    def checkout(self, name):
        folder = self.base / name
        (folder / "tools").mkdir(parents=True)
        (folder / "requirements").mkdir()
        (folder / "src").mkdir()
        shutil.copy(ROOT / "tools/setup.sh", folder / "tools")
        shutil.copy(ROOT / "pyproject.toml", folder)
        for kind in ("run", "dev"):
            (folder / f"requirements/{kind}.txt").write_text("numpy==1\n")
        return folder

    def stand_in(self, name, body):
        path = self.tools / name
        path.write_text(f"#!/bin/bash\n{body}\n")
        path.chmod(0o755)

    def libraries(self, *, everything):
        """What the loader knows: all that Qt needs, early in a list long enough to fill any pipe; or nothing of it."""
        needs = (ROOT / "tools/setup.sh").read_text().split('QT_NEEDS="')[1].split('"')[0].split()[1::2]
        lines = [f"\t{lib} (libc6,x86-64) => /lib/{lib}" for lib in (needs if everything else [])]
        lines += [f"\tlibother{i}.so.1 (libc6,x86-64) => /lib/libother{i}.so.1" for i in range(20_000)]
        (self.base / "known").write_text("\n".join(lines) + "\n")
        self.stand_in("ldconfig", f'cat "{self.base / "known"}"')

    def env(self, **more):
        return os.environ | {
            "PATH": f"{self.tools}:{os.environ['PATH']}", "LOG": str(self.log), "MAY": "no", "PIP_SAYS": "",
            "RAVDEN_PYTHON": str(self.python), "RAVDEN_VENV": "",
        } | more  # fmt: skip

    def bash(self, script, folder=None, **more):
        return subprocess.run(
            ["bash", "-c", f"source tools/setup.sh && {script}"],
            cwd=folder or self.folder, env=self.env(**more), capture_output=True, text=True,
        )  # fmt: skip

    def logged(self, word):
        return [line for line in self.log.read_text().splitlines() if line.startswith(word)]

    def test_what_is_there_is_never_missing(self):
        for _ in range(20):
            done = self.bash('missing_packages dev "$RAVDEN_PYTHON"')
            self.assertEqual((done.returncode, done.stdout), (0, ""))

    def test_everything_missing_is_said_once_with_one_command(self):
        self.libraries(everything=False)
        (self.tools / "Xvfb").unlink()
        # Only the stand-ins and the plainest tools, so that this machine's own Xvfb is not found.
        plain = self.base / "plain"
        plain.mkdir()
        for name in ("bash", "cat", "grep", "basename", "cut", "sha256sum", "flock", "env", "sed", "dirname", "rm"):
            (plain / name).symlink_to(shutil.which(name))
        done = self.bash("setup dev", PATH=f"{self.tools}:{plain}")
        self.assertEqual(done.returncode, 4)
        commands = [line for line in done.stderr.splitlines() if "apt-get" in line]
        self.assertEqual(len(commands), 1, done.stderr)
        for word in ("apt-get update", "--no-install-recommends", "libxcb-cursor0", "libwayland-egl1", "libgl1",
                     " xvfb", "libgssapi-krb5-2"):  # fmt: skip
            self.assertIn(word, commands[0])
        self.assertEqual(self.logged("apt-get"), [])

    def test_what_is_missing_is_installed_where_it_may_be(self):
        self.libraries(everything=False)
        done = self.bash("setup run", MAY="yes")
        self.assertEqual(done.returncode, 0, done.stderr)
        update, install = self.logged("apt-get")
        self.assertIn("update", update)
        self.assertIn("install -y --no-install-recommends libgl1 libegl1", install)
        self.assertTrue(install.endswith("as noninteractive"), install)
        self.assertTrue(self.logged("sudo env DEBIAN_FRONTEND"))

    def test_no_python_is_named_with_the_rest(self):
        done = self.bash('missing_packages run ""')
        self.assertEqual(done.stdout.split(), ["python3", "python3-venv"])
        self.assertEqual(self.bash("find_python", RAVDEN_PYTHON="no-such-python").stdout, "")

    def test_a_second_run_does_nothing_and_another_kind_adds_to_it(self):
        self.assertEqual(self.bash("setup dev").returncode, 0)
        pips = len(self.logged("python -m pip"))
        self.assertEqual(len(self.logged("python -m pip install")), 2)
        for kind in ("dev", "run"):
            done = self.bash(f"setup {kind}")
            self.assertEqual((done.returncode, done.stdout, done.stderr), (0, "", ""))
        self.assertEqual(len(self.logged("python -m pip")), pips)
        self.assertEqual(self.logged("apt-get"), [])

    def test_a_moved_folder_is_set_up_anew(self):
        self.bash("setup run")
        moved = self.base / "elsewhere"
        self.folder.rename(moved)
        (moved / ".venv/of-before").touch()
        done = self.bash("setup run", folder=moved)
        self.assertEqual(done.returncode, 0, done.stderr)
        self.assertIn("Setting up", done.stdout)
        self.assertFalse((moved / ".venv/of-before").exists())

    def test_a_program_that_does_not_start_is_set_up_anew(self):
        self.bash("setup run")
        (self.folder / ".venv/bin/ravden").write_text("#!/bin/sh\nexit 1\n")
        self.assertIn("Setting up", self.bash("setup run").stdout)

    def test_half_a_set_up_is_begun_from_nothing(self):
        self.assertNotEqual(self.bash("setup run", PIP_SAYS="killed").returncode, 0)
        (self.folder / ".venv/half").touch()
        self.assertEqual(self.bash("setup run").returncode, 0)
        self.assertFalse((self.folder / ".venv/half").exists())

    def test_pip_that_fails_is_one_line(self):
        retry = "WARNING: Retrying (Retry(total=1)) after connection broken by 'NewConnectionError'"
        for said, wanted in (
            (f"{retry}\\n{retry}\\nERROR: Max retries exceeded", "out of reach"),
            ("ERROR: Could not install packages due to an OSError: [Errno 28] No space left on device", "disk is full"),
            ("ERROR: THESE PACKAGES DO NOT MATCH THE HASHES FROM THE REQUIREMENTS FILE", "damaged"),
            ("a note\\nERROR: of some other kind", "of some other kind"),
        ):
            done = self.bash("setup run", PIP_SAYS=said)
            self.assertEqual(done.returncode, 4)
            self.assertEqual(len(done.stderr.splitlines()), 1, done.stderr)
            self.assertIn(wanted, done.stderr)
            self.assertNotIn("WARNING", done.stderr)

    def test_without_a_network_nothing_is_asked_twice(self):
        done = self.bash("setup run", PIP_SAYS="ERROR: Max retries exceeded")
        self.assertEqual(done.returncode, 4)
        self.assertIn("registry is out of reach", done.stderr)
        self.assertIn("--retries 0", self.logged("python -m pip")[0])
        self.assertEqual(self.logged("python -m pip install"), [])
        self.assertIn("Setting up", self.bash("setup run").stdout)

    def test_a_python_that_was_named_and_does_not_run_is_named_back(self):
        done = self.bash("setup run", RAVDEN_PYTHON="python-of-another-day")
        self.assertEqual((done.returncode, len(done.stderr.splitlines())), (4, 1))
        self.assertIn("python-of-another-day", done.stderr)

    def test_another_python_and_another_folder_for_it(self):
        self.assertEqual(self.bash("setup run").returncode, 0)
        done = self.bash("setup run", RAVDEN_VENV=".venv-other")
        self.assertEqual(done.returncode, 0, done.stderr)
        self.assertTrue((self.folder / ".venv-other/ravden-setup").exists())
        other = self.tools / "python-other"
        other.write_text(PYTHON.replace("case", 'case "$*" in *version_info*) echo other ;; esac\ncase', 1))
        other.chmod(0o755)
        (self.folder / ".venv/of-before").touch()
        self.assertIn("Setting up", self.bash("setup run", RAVDEN_PYTHON=str(other)).stdout)
        self.assertFalse((self.folder / ".venv/of-before").exists())

    def test_pip_s_progress_is_shown_and_its_warnings_are_not(self):
        done = self.bash("setup run")
        self.assertIn("Downloading 16 MB", done.stdout)
        self.assertIn("250 MB", done.stdout)
        self.assertEqual(done.stderr, "")

    def test_two_set_ups_at_once_come_one_after_the_other(self):
        with (self.folder / ".setup-lock").open("w") as lock:
            fcntl.flock(lock, fcntl.LOCK_EX)
            second = subprocess.Popen(
                ["bash", "-c", "source tools/setup.sh && setup run"],
                cwd=self.folder, env=self.env(), stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True,
            )  # fmt: skip
            self.assertIn("waiting", second.stdout.readline())
            self.assertFalse((self.folder / ".venv").exists())
            fcntl.flock(lock, fcntl.LOCK_UN)
            said, wrong = second.communicate(timeout=60)
        self.assertEqual((second.returncode, wrong), (0, ""))
        self.assertIn("Setting up", said)

    @unittest.skipIf(os.geteuid() == 0 and not shutil.which("setpriv"), "root may write anywhere")
    def test_a_folder_that_cannot_be_written_is_one_sentence(self):
        self.folder.chmod(0o555)
        self.addCleanup(self.folder.chmod, 0o755)
        self.base.chmod(0o755)
        for path in (self.log, *self.tools.iterdir()):
            path.chmod(0o777)
        words = ["bash", "-c", "source tools/setup.sh && setup run"]
        if os.geteuid() == 0:
            words = ["setpriv", "--reuid=65534", "--regid=65534", "--clear-groups", *words]
        done = subprocess.run(words, cwd=self.folder, env=self.env(), capture_output=True, text=True)
        self.assertEqual(done.returncode, 4)
        self.assertEqual(len(done.stderr.splitlines()), 1, done.stderr)
        self.assertIn("cannot be written", done.stderr)
