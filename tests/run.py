"""Runs every test and ends with one plain line; no test found, or a folder that would be skipped, is a failure."""

import os
import sys
import tempfile
import unittest
from pathlib import Path

HERE = Path(__file__).resolve().parent


def main(argv: list[str]) -> int:
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    os.environ["TZ"] = "UTC"
    sys.path.insert(0, str(HERE.parent))
    bare = [p for p in HERE.rglob("test_*.py") if not (p.parent / "__init__.py").exists()]
    if bare:
        print(f"these tests would be skipped for want of __init__.py: {bare}", file=sys.stderr)
        return 1
    loader = unittest.TestLoader()
    suite = loader.loadTestsFromNames(argv) if argv else loader.discover(str(HERE), top_level_dir=str(HERE.parent))
    with tempfile.TemporaryDirectory() as home:
        os.environ["RAVDEN_HOME"] = home
        result = unittest.TextTestRunner(verbosity=1, buffer=False).run(suite)
    failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    skipped = len(result.skipped)
    passed = result.testsRun - failed - skipped
    print(f"{passed} passed, {failed} failed, {skipped} skipped")
    return 1 if failed or result.testsRun == 0 else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
