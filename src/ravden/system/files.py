"""The one way a file leaves the program: written aside, flushed, read back, and put in its place whole. What was there
stays until then, and stays for good where any of it fails."""

from __future__ import annotations

import errno
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
            raise InputError(path.name, "is a folder" if stat.S_ISDIR(found.st_mode) else "is not a file")
        if found is not None and not os.access(target, os.W_OK):
            raise InputError(path.name, "cannot be written: it is kept from being changed")
        _tidy(target.parent)
        aside = target.with_name(f"{PREFIX}{os.getpid()}-{threading.get_ident()}{SUFFIX}")
        try:
            write(aside)
            sync(aside)
            if not whole(aside):
                why = "what is on the disk is not what was sent there"
                raise InputError(path.name, f"cannot be written: {why}; {_kept(found)}")
            if found is not None:
                os.chmod(aside, stat.S_IMODE(found.st_mode))
            aside.replace(target)
        finally:
            aside.unlink(missing_ok=True)
        sync(target.parent)
    except OSError as error:
        raise InputError(path.name, f"cannot be written: {_why(error)}; {_kept(_stat(path))}") from None
    except ValueError as error:  # a name no disk takes
        raise InputError(repr(path.name), f"cannot be written: {error}") from None


def take_in(path: Path, most_bytes: int, what: str = "is too large") -> bytes:
    """The whole of a file that somebody chose. what: said of one that is larger. Raises InputError naming it: also for
    what is no file, such as a pipe, which is not waited for."""
    try:
        handle = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC)
    except (OSError, ValueError) as error:
        why = _why(error) if isinstance(error, OSError) else str(error)
        raise InputError(path.name or str(path), f"cannot be read: {why}") from None
    try:
        kind = os.fstat(handle).st_mode
        if not stat.S_ISREG(kind):
            raise InputError(path.name, "is a folder" if stat.S_ISDIR(kind) else "is not a file")
        with os.fdopen(handle, "rb", closefd=False) as file:
            raw = file.read(most_bytes + 1)
    except OSError as error:
        raise InputError(path.name, f"cannot be read: {_why(error)}") from None
    finally:
        os.close(handle)
    if len(raw) > most_bytes:
        raise InputError(path.name, what)
    return raw


def take_text(path: Path, most_bytes: int, what: str = "is too large") -> str:
    """The same as text: UTF-8, UTF-16 where it says so, or else the letters of western Europe, as old programs wrote
    them."""
    return as_text(take_in(path, most_bytes, what))


def as_text(raw: bytes) -> str:
    """Bytes of a table as text.

    >>> as_text("Schellack-Lösung".encode("cp1252")), as_text("Löß".encode())
    ('Schellack-Lösung', 'Löß')
    """
    if raw[:2] in (b"\xff\xfe", b"\xfe\xff"):
        return raw.decode("utf-16", errors="replace")
    try:
        return raw.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        # A letter or two of another table, and not a file cut off in the middle of one.
        cut = error.end == len(raw) and len(raw) - error.start < 4
        return raw.decode("utf-8-sig", errors="replace") if cut else raw.decode("cp1252", errors="replace")


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


def _why(error: OSError) -> str:
    full = error.errno in (errno.ENOSPC, errno.EDQUOT, errno.EFBIG)
    return "the disk is full" if full else (error.strerror or str(error)).lower()


def _kept(found: os.stat_result | None) -> str:
    return "nothing was written" if found is None else "what was there is as it was"


def _tidy(folder: Path) -> None:
    """Remove what a process that was killed while it wrote has left there."""
    for left in folder.glob(f"{PREFIX}*{SUFFIX}"):
        maker = left.name[len(PREFIX) :].partition("-")[0]
        if maker.isdecimal() and not Path(f"/proc/{maker}").exists():
            left.unlink(missing_ok=True)
