"""A shop file as it lies on the disk: told from other files, locked, linked in whole, upgraded after a copy."""

import errno
import fcntl
import glob
import os
import shutil
import sqlite3
from pathlib import Path
from typing import IO

from ravden.core.errors import InputError
from ravden.journal.copies import APPLICATION_ID, DamagedError, StrangeError, newest
from ravden.journal.schema import MIGRATIONS, VERSION, strange
from ravden.journal.sums import register

MAGIC = b"SQLite format 3\0"
HEADER_BYTES = 100


def identity(path: Path) -> tuple[int, int] | None:
    """Which file a name leads to; None: none."""
    try:
        found = path.stat()
    except OSError:
        return None
    return found.st_dev, found.st_ino


def connect(path: Path) -> sqlite3.Connection:
    db = sqlite3.connect(path, isolation_level=None, timeout=2.0)
    db.text_factory = _text
    db.execute("PRAGMA journal_mode = WAL")
    db.execute("PRAGMA synchronous = FULL")
    db.execute("PRAGMA foreign_keys = ON")
    return db


def connect_read_only(path: Path) -> sqlite3.Connection:
    uri = path.resolve().as_uri()
    db = sqlite3.connect(f"{uri}?mode=ro", uri=True, isolation_level=None, timeout=2.0)
    try:
        db.execute("SELECT count(*) FROM sqlite_schema").fetchone()
    except sqlite3.OperationalError:
        # A folder that cannot be written has no place for the write-ahead log's index.
        db.close()
        log = path.with_name(f"{path.name}-wal")
        if log.exists() and log.stat().st_size > 0:
            return read_aside(path, log)
        db = sqlite3.connect(f"{uri}?mode=ro&immutable=1", uri=True, isolation_level=None)
    db.text_factory = _text
    return db


def read_aside(path: Path, log: Path) -> sqlite3.Connection:
    """A copy of a file with what is still in its write-ahead log, elsewhere, and gone when it is let go of."""
    import tempfile

    aside = tempfile.TemporaryDirectory(prefix="ravden-reading-")
    there = Path(aside.name) / path.name
    shutil.copyfile(path, there)
    shutil.copyfile(log, there.with_name(f"{path.name}-wal"))
    db = sqlite3.connect(there, isolation_level=None, factory=_Aside)
    db.aside = aside
    db.text_factory = _text
    db.execute("PRAGMA query_only = ON")
    return db


class _Aside(sqlite3.Connection):
    """A connection to a copy, which it keeps for as long as it lives."""

    aside: object


def _text(raw: bytes) -> str:
    """Text as it stands in the file; bytes that are none show as such, and do not keep the rest from being read."""
    return raw.decode(errors="replace")


def is_a_database(head: bytes) -> bool:
    """Whether a file that begins so is a database, its header whole."""
    return len(head) >= HEADER_BYTES and head.startswith(MAGIC)


def is_a_shop(head: bytes) -> bool:
    """Whether that database is one of ours."""
    return int.from_bytes(head[68:72], "big") == APPLICATION_ID


def check_header(path: Path) -> None:
    """Refuse a foreign or cut-off file before SQLite touches it."""
    try:
        with path.open("rb") as f:
            head = f.read(HEADER_BYTES)
    except OSError as error:
        raise InputError(str(path), f"cannot be read: {error.strerror}") from None
    if (not is_a_database(head) or not is_a_shop(head)) and newest(path) is not None:
        raise DamagedError(path, "its beginning is not that of a shop file")
    if not is_a_database(head):
        raise InputError(str(path), "is not a Ravden shop file; nothing was changed")
    if not is_a_shop(head):
        raise InputError(str(path), "is a database of some other program; nothing was changed")


def take_lock(path: Path) -> tuple[IO[bytes] | None, str]:
    """An exclusive lock on the file itself, by whatever name, that the system lets go of when the process dies; or why
    there is none."""
    if not os.access(path, os.W_OK) or not os.access(path.parent, os.W_OK):
        return None, "the file or its folder cannot be written to"
    handle: IO[bytes] | None = None
    try:
        handle = path.open("rb")
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError as error:
        if handle is not None:
            handle.close()
        held = error.errno in (errno.EWOULDBLOCK, errno.EACCES)
        return None, "another Ravden has it open" if held else f"it cannot be locked: {error.strerror}"
    return handle, ""


def tidy(path: Path) -> None:
    """Remove what a process killed while making this very file has left beside it."""
    for left in path.parent.glob(f".{glob.escape(path.name)}.*.making"):
        maker = left.name.removesuffix(".making").rpartition(".")[2].partition("-")[0]
        if maker.isdecimal() and not Path(f"/proc/{maker}").exists():
            left.unlink(missing_ok=True)


def link_in(aside: Path, path: Path) -> None:
    """Give a file its name, unless that is taken. Raises FileExistsError."""
    try:
        os.link(aside, path)
    except FileExistsError:
        raise
    except OSError:
        # A disk without links, such as a memory stick: the name is taken first, and then filled in one stroke.
        with path.open("xb"):
            pass
        aside.replace(path)


def need_whole(db: sqlite3.Connection, path: Path) -> None:
    fault = db.execute("PRAGMA integrity_check").fetchone()[0]
    if fault != "ok":
        raise DamagedError(path, fault)


def need_own(db: sqlite3.Connection, path: Path, version: int, *, writable: bool) -> None:
    """Refuse a file whose tables, indexes and triggers are not those of its version, before anything of them is run;
    an index or a trigger that is wanting is made again. Raises StrangeError."""
    found = strange(db, version)
    if found.other:
        raise StrangeError(path, f"it has {found.other}")
    for statement in found.wanting if writable else ():
        db.execute(statement)


def copy_before(db: sqlite3.Connection, path: Path, found: int) -> None:
    """A whole copy of the file as the last version left it, what is still in its write-ahead log too; made by way of a
    temporary file, so that a copy that was cut off is never taken for one."""
    partial = path.with_name(f"{path.name}.v{found}.partial")
    partial.unlink(missing_ok=True)
    db.execute("VACUUM INTO ?", (str(partial),))
    partial.replace(path.with_name(f"{path.name}.v{found}"))


def migrate(db: sqlite3.Connection, found: int) -> None:
    register(db)
    for number in range(found, VERSION):
        db.execute("BEGIN IMMEDIATE")
        try:
            for statement in MIGRATIONS[number]:
                db.execute(statement)
            db.execute(f"PRAGMA user_version = {number + 1}")
        except sqlite3.Error:
            db.execute("ROLLBACK")
            raise
        db.execute("COMMIT")


def wipe_person(db: sqlite3.Connection, where: str, value: object) -> None:
    """Take people out of a file, down to the bytes: freed pages are overwritten, the file is written anew, and its log
    is emptied."""
    db.execute("PRAGMA secure_delete = ON")
    db.execute(f"DELETE FROM person WHERE {where}", (value,))
    db.execute("VACUUM")
    db.execute("PRAGMA wal_checkpoint(TRUNCATE)")


def close(db: sqlite3.Connection | None, lock: IO[bytes] | None) -> None:
    if db is not None:
        db.close()
    if lock is not None:
        lock.close()
