"""Where the solver keeps what was compiled of it: beside its source, in the user's cache, or for this run only.

The compiler gives up with an error where it may write nowhere; a folder of our own, taken away again at the end, lets
the program work there too, only slower to begin.
"""

import os
import tempfile
from pathlib import Path

from ravden.core.errors import InputError
from ravden.system.writable import may_write

ASKED = "NUMBA_CACHE_DIR"
SOURCE = Path(__file__).parents[1] / "core" / "cure" / "__pycache__"


def prepare() -> None:
    """See to it that there is a place; called before the solver is first imported. Raises InputError where none is."""
    if os.environ.get(ASKED):
        if may_write(Path(os.environ[ASKED])):
            return
    elif may_write(SOURCE) or may_write(user_cache()):
        return
    for_this_run()


def for_this_run() -> Path:
    """A temporary folder, removed at the end."""
    import atexit
    import shutil

    try:
        folder = tempfile.mkdtemp(prefix="ravden-solver-")
    except OSError as error:
        raise InputError("", f"there is no folder to write to, not even a temporary one: {error.strerror}") from None
    os.environ[ASKED] = folder
    atexit.register(shutil.rmtree, folder, ignore_errors=True)
    return Path(folder)


def user_cache() -> Path:
    """The user's cache folder, as the desktop standard has it."""
    return Path(os.environ.get("XDG_CACHE_HOME") or os.path.expanduser("~/.cache"))


def bring(shipped: Path, version: str) -> Path:
    """Copy what a package brings compiled to where the compiler may write, once a version; returns where it lies.

    The compiler refuses a folder it may not write to, even one where all it needs is there already.
    """
    import shutil

    stamp = f"{version}-{int(shipped.stat().st_mtime)}"
    kept = user_cache() / "ravden" / "solver"
    target = kept / stamp
    if target.is_dir():
        os.environ[ASKED] = str(target)
        return target
    try:
        kept.mkdir(parents=True, exist_ok=True)
        with tempfile.TemporaryDirectory(dir=kept) as making:
            shutil.copytree(shipped, Path(making) / stamp)
            for old in kept.iterdir():
                if old != Path(making):
                    shutil.rmtree(old, ignore_errors=True)
            (Path(making) / stamp).rename(target)
    except OSError:
        if not target.is_dir():  # another Ravden may have been quicker
            target = for_this_run()
            shutil.copytree(shipped, target, dirs_exist_ok=True)
    os.environ[ASKED] = str(target)
    return target
