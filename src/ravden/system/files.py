"""The one way a file leaves the program: written aside, flushed, read back, and put in its place whole. What was there
stays until then, and stays for good where any of it fails."""

from __future__ import annotations

import os
import stat
import threading
from collections.abc import Callable
from pathlib import Path

from ravden.core.errors import InputError

PREFIX, SUFFIX = ".ravden-", ".partial"
NOT_IN_NAMES = str.maketrans(dict.fromkeys('/\\:*?"<>|', "-"))
MOST_NAME_BYTES = 120  # of what a person typed, in a name that has more in it


def put(path: Path, raw: bytes) -> None:
    """Write a whole file. Raises InputError naming it: it is as it was then, or still not there."""

    def write(aside: Path) -> None:
        aside.write_bytes(raw)

    put_by(path, write, lambda aside: aside.read_bytes() == raw)


def put_text(path: Path, text: str) -> None:
    """The same with text, in UTF-8 and with its line ends as they are."""
    put(path, text.encode("utf-8"))


def put_by(path: Path, write: Callable[[Path], None], whole: Callable[[Path], bool]) -> None:
    """The same of what writes itself to a path it is given. whole: whether that is what was meant."""
    try:
        target = Path(os.path.realpath(path))  # a link goes on leading where it led
        found = _stat(target)
        if found is not None and not stat.S_ISREG(found.st_mode):
            raise InputError(str(path), "is a folder" if stat.S_ISDIR(found.st_mode) else "is not a file")
        if found is not None and not os.access(target, os.W_OK):
            raise InputError(str(path), "cannot be written: it is kept from being changed")
        _tidy(target.parent)
        aside = target.with_name(f"{PREFIX}{os.getpid()}-{threading.get_ident()}{SUFFIX}")
        try:
            write(aside)
            sync(aside)
            if not whole(aside):
                why = "what is on the disk is not what was sent there"
                raise InputError(str(path), f"cannot be written: {why}; {_kept(found)}")
            if found is not None:
                os.chmod(aside, stat.S_IMODE(found.st_mode))
            aside.replace(target)
        finally:
            aside.unlink(missing_ok=True)
        sync(target.parent)
    except OSError as error:
        raise InputError(str(path), f"cannot be written: {error.strerror or error}; {_kept(_stat(path))}") from None
    except ValueError as error:  # a name no disk takes
        raise InputError(repr(str(path)), f"cannot be written: {error}") from None


def sync(path: Path) -> None:
    """Have a file, or the names in a folder, on the disk itself."""
    handle = os.open(path, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)


def safe_name(text: str) -> str:
    """A word of a person as part of a file's name: one that leads nowhere else.

    >>> safe_name("../Jo / Anna\\n")
    '-Jo - Anna'
    """
    plain = "".join(c for c in text.translate(NOT_IN_NAMES) if c.isprintable()).strip(". ")
    return plain.encode("utf-8", errors="replace")[:MOST_NAME_BYTES].decode("utf-8", errors="ignore") or "unnamed"


def _stat(path: Path) -> os.stat_result | None:
    try:
        return path.stat()
    except OSError:
        return None


def _kept(found: os.stat_result | None) -> str:
    return "nothing was written" if found is None else "what was there is as it was"


def _tidy(folder: Path) -> None:
    """Remove what a process that was killed while it wrote has left there."""
    for left in folder.glob(f"{PREFIX}*{SUFFIX}"):
        maker = left.name[len(PREFIX) :].partition("-")[0]
        if maker.isdecimal() and not Path(f"/proc/{maker}").exists():
            left.unlink(missing_ok=True)
