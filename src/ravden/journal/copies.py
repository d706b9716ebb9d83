"""Copies of a shop file beside it: three generations, and none of them ever gives way to one that says less."""

import contextlib
import os
import shutil
import sqlite3
import time
from collections.abc import Callable, Collection, Iterator
from datetime import UTC, datetime
from pathlib import Path

from ravden.core.errors import InputError
from ravden.journal.schema import MIGRATIONS, SUMS, VERSION, strange
from ravden.journal.sums import register, unsound
from ravden.system.files import sync

GENERATIONS = 3
APPLICATION_ID = 0x52564E31  # "RVN1", in the header of every shop file
LONGEST_S = 60.0
WITH_ID = 3  # the version from which on a shop has an id of its own
UNREADABLE = (sqlite3.Error, UnicodeError, OverflowError, IndexError)  # what a damaged file can come to


class DamagedError(InputError):
    """A shop file that cannot be read. copy: the newest copy of it that can; None: there is none."""

    is_so = "is damaged"

    def __init__(self, path: Path, why: object) -> None:
        self.file, self.copy = path, newest(path)
        way = "there is no copy of it" if self.copy is None else f"there is a copy of {made(self.copy):%Y-%m-%d}"
        self.why = str(why)
        super().__init__(str(path), f"{self.is_so} ({why}); nothing was changed; {way}")


class StrangeError(DamagedError):
    """A shop file with tables or triggers in it that no Ravden made: its entries may be taken out into a new one."""

    is_so = "is not opened"


def backup_path(path: Path, generation: int = 0) -> Path:
    """Where a copy lies: 0 is the newest, 1 and 2 are of days before."""
    return path.with_name(f"{path.name}.backup{f'.{generation}' if generation else ''}")


def made(copy: Path) -> datetime:
    """When a copy was made."""
    return datetime.fromtimestamp(copy.stat().st_mtime, UTC)


def unsure_path(path: Path) -> Path:
    """Where a copy of a file lies in which something is not as it was written: it takes the place of no other."""
    return path.with_name(f"{path.name}.backup.unsure")


def newest(path: Path) -> Path | None:
    """The newest copy of a file that can be read through, and is as it was written."""
    return next((c for i in range(GENERATIONS) if _entries(c := backup_path(path, i), whole=True) > 0), None)


def there(path: Path) -> list[Path]:
    """The copies beside a file that can be read, the newest first."""
    return [c for i in range(GENERATIONS) if _entries(c := backup_path(path, i)) > 0]


def go_back(copy: Path, path: Path) -> Path:
    """Put a copy in the place of a closed shop file, which stays beside it under another name with its other copies;
    returns that name. There is a whole file at the path at every moment. Raises InputError: nothing is changed then.
    """
    if _entries(copy, whole=True) < 0:
        raise InputError(str(copy), "cannot be read; nothing was changed")
    if path.with_name(f"{path.name}-wal").exists():
        # What stands in it belongs to the file as it is now, and would be read into the copy.
        raise InputError(str(path), "is open elsewhere; close it there first")
    kept = _free(path, "before")
    if kept is None:
        raise InputError(str(path), "has too many files beside it already")
    partial = path.with_name(f".{path.name}.going-back")
    try:
        shutil.copyfile(copy, partial)
        sync(partial)
        _same(path, kept)
        # What says more than the file now would keep it from being copied: it goes with what it is a copy of.
        for i in range(GENERATIONS):
            if backup_path(path, i).exists():
                backup_path(path, i).replace(backup_path(kept, i))
        partial.replace(path)
        sync(path.parent)
    except OSError as error:
        partial.unlink(missing_ok=True)
        raise InputError(str(path), f"cannot be put back: {error.strerror}") from None
    return kept


def _free(path: Path, what: str) -> Path | None:
    """A name beside a file that says what it is and of which day, and that nothing has yet."""
    stem = f"{path.stem}-{what}-{datetime.now(UTC):%Y-%m-%d}"
    names = (path.with_name(f"{stem}{'' if n == 1 else f'-{n}'}{path.suffix}") for n in range(1, 100))
    return next((name for name in names if not name.exists()), None)


def _same(path: Path, other: Path) -> None:
    """The file under a second name; a copy of it where the disk knows no second names."""
    try:
        os.link(path, other)
    except OSError:
        shutil.copyfile(path, other)


def bring_back(copy: Path, path: Path) -> Path:
    """A copy as a shop file of its own beside the damaged one, which stays as it is. Raises InputError."""
    stem = f"{path.stem}-copy-{made(copy):%Y-%m-%d}"
    for n in range(1, 100):
        name = path.with_name(f"{stem}{'' if n == 1 else f'-{n}'}{path.suffix}")
        try:
            with name.open("xb") as out:
                out.write(copy.read_bytes())
        except FileExistsError:
            continue
        except OSError as error:
            raise InputError(str(name), f"cannot be written: {error.strerror}") from None
        return name
    raise InputError(str(path), "has too many copies beside it already")


def back_up(db: sqlite3.Connection, path: Path, aside: Collection[int] = (), *, sound: bool = True) -> None:
    """Copy an open file by way of a temporary one, so that a full disk never spoils the last good copy; the copy of an
    earlier day moves on one place.

    aside: entries that could not be read or folded; sound: whether all of it is as it was written. A file that is worse
    than its copy takes the place of no copy: it is kept beside them, for what was logged in it since.
    """
    last = backup_path(path)
    partial = last.with_suffix(".partial")
    try:
        if last.exists() and not _of_one_shop(db, last):
            _put_by(path)  # another file has this name now: the copies are of the one before
        if db.execute("SELECT count(*) FROM entry").fetchone()[0] < _entries(last):
            return
        partial.unlink(missing_ok=True)
        copy = sqlite3.connect(partial)
        with contextlib.closing(copy):
            db.backup(copy)
        sync(partial)
        if not sound or (aside and not _as_in(db, last, aside)):
            partial.replace(unsure_path(path))
            return
        if _entries(partial, whole=True) < 0:
            return
        if last.exists() and made(last).date() != datetime.now(UTC).date():
            for i in range(GENERATIONS - 1, 0, -1):
                if backup_path(path, i - 1).exists():
                    backup_path(path, i - 1).replace(backup_path(path, i))
        partial.replace(last)
        unsure_path(path).unlink(missing_ok=True)  # what was amiss is no more
        sync(path.parent)
    except (sqlite3.Error, OSError):
        pass
    finally:
        partial.unlink(missing_ok=True)


def _as_in(db: sqlite3.Connection, copy: Path, numbers: Collection[int]) -> bool:
    """Whether a copy has these entries no better: word for word the same, or not at all."""
    asked = "SELECT at, logged_at, instrument, body, corrects FROM entry WHERE id = ?"
    try:
        with _read(copy) as other:
            for number in numbers:
                there = other.execute(asked, (number,)).fetchone()
                if there is not None and there != db.execute(asked, (number,)).fetchone():
                    return False
    except (*UNREADABLE, OSError):
        pass  # what cannot be read is no better
    return True


def take_out(path: Path) -> Path:
    """The entries of a file that has something strange in it, in a new file of its own beside it; the old one stays as
    it is. Raises InputError."""
    to = _free(path, "taken-out")
    if to is None:
        raise InputError(str(path), "has too many files beside it already")
    partial = to.with_name(f".{to.name}.partial")
    try:
        with _read(path) as old, contextlib.closing(sqlite3.connect(partial, isolation_level=None)) as new:
            version = int(old.execute("PRAGMA user_version").fetchone()[0])
            old.set_progress_handler(_enough(), 100_000)
            fill(old, new, version)
        sync(partial)
        os.link(partial, to)
    except (*UNREADABLE, OSError) as error:
        raise InputError(str(path), f"its entries cannot be taken out: {error}") from None
    finally:
        partial.unlink(missing_ok=True)
    return to


def _enough() -> Callable[[], bool]:
    """Whether a statement has gone on for longer than reading any shop takes: a view may have no end."""
    until = time.monotonic() + LONGEST_S
    return lambda: time.monotonic() > until


def fill(old: sqlite3.Connection, new: sqlite3.Connection, version: int) -> None:
    """Every row of a file into an empty one of the same version; of each table the columns it should have."""
    register(new)
    for statements in MIGRATIONS[:version]:
        for statement in statements:
            new.execute(statement)
    new.execute("BEGIN")
    if version >= WITH_ID:
        new.execute("DELETE FROM shop")
    for (table,) in new.execute(
        "SELECT name FROM sqlite_schema WHERE type = 'table' AND name <> 'sqlite_sequence'"
    ).fetchall():
        columns = [row[1] for row in new.execute(f"PRAGMA table_info({table})") if row[1] != "kind"]
        names, marks = ", ".join(columns), ", ".join("?" * len(columns))
        rows = old.execute(f"SELECT {names} FROM {table}")
        new.executemany(f"INSERT INTO {table} ({names}) VALUES ({marks})", rows)
    new.execute(f"PRAGMA application_id = {APPLICATION_ID}")
    new.execute(f"PRAGMA user_version = {version}")
    new.execute("COMMIT")


def _of_one_shop(db: sqlite3.Connection, copy: Path) -> bool:
    """Whether a copy is of this shop: by the id both have, or else by the entry they begin with."""
    first = "SELECT at, body FROM entry ORDER BY id LIMIT 1"
    try:
        with _read(copy) as other:
            for asked in ("SELECT id FROM shop", first):
                with contextlib.suppress(sqlite3.OperationalError):  # of before shops had ids
                    there = other.execute(asked).fetchone()
                    return there is None or there == db.execute(asked).fetchone()
    except (*UNREADABLE, OSError):
        pass
    return True  # what cannot be read is nothing to keep


def _put_by(path: Path) -> None:
    """The copies beside a file under other names: they are of another shop."""
    free = _free(path, "other")
    for i in range(GENERATIONS):
        if free is not None and backup_path(path, i).exists():
            backup_path(path, i).replace(free if i == 0 else backup_path(free, i))


def _entries(copy: Path, *, whole: bool = False) -> int:
    """How many entries a copy has; -1: it is not there, or cannot be read. whole: all of it is looked through."""
    try:
        with _read(copy) as db:
            if whole and not _sound(db):
                return -1
            return int(db.execute("SELECT count(*) FROM entry").fetchone()[0])
    except (*UNREADABLE, OSError):
        return -1


def _sound(db: sqlite3.Connection) -> bool:
    version = int(db.execute("PRAGMA user_version").fetchone()[0])
    if version <= VERSION and strange(db, version).other:
        return False
    if db.execute("PRAGMA quick_check").fetchone()[0] != "ok":
        return False
    return version != VERSION or not unsound(db, SUMS)


@contextlib.contextmanager
def _read(path: Path) -> Iterator[sqlite3.Connection]:
    db = sqlite3.connect(f"{path.resolve().as_uri()}?mode=ro&immutable=1", uri=True, isolation_level=None)
    with contextlib.closing(db):
        yield db
