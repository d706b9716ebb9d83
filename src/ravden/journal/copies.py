"""Copies of a shop file beside it: three generations, and none of them ever gives way to one that says less."""

import contextlib
import os
import shutil
import sqlite3
from collections.abc import Iterator
from datetime import UTC, datetime
from pathlib import Path

from ravden.core.errors import InputError

GENERATIONS = 3
UNREADABLE = (sqlite3.Error, UnicodeError, OverflowError, IndexError)  # what a damaged file can come to


class DamagedError(InputError):
    """A shop file that cannot be read. copy: the newest copy of it that can; None: there is none."""

    def __init__(self, path: Path, why: object) -> None:
        self.file, self.copy = path, newest(path)
        way = "there is no copy of it" if self.copy is None else f"there is a copy of {made(self.copy):%Y-%m-%d}"
        super().__init__(str(path), f"is damaged ({why}); nothing was changed; {way}")


def backup_path(path: Path, generation: int = 0) -> Path:
    """Where a copy lies: 0 is the newest, 1 and 2 are of days before."""
    return path.with_name(f"{path.name}.backup{f'.{generation}' if generation else ''}")


def made(copy: Path) -> datetime:
    """When a copy was made."""
    return datetime.fromtimestamp(copy.stat().st_mtime, UTC)


def newest(path: Path) -> Path | None:
    """The newest copy of a file that can be read through."""
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
    stem = f"{path.stem}-before-{datetime.now(UTC):%Y-%m-%d}"
    names = (path.with_name(f"{stem}{'' if n == 1 else f'-{n}'}{path.suffix}") for n in range(1, 100))
    kept = next((name for name in names if not name.exists()), None)
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


def back_up(db: sqlite3.Connection, path: Path) -> None:
    """Copy an open file by way of a temporary one, so that a full disk never spoils the last good copy; the copy of an
    earlier day moves on one place."""
    last, partial = backup_path(path), backup_path(path).with_suffix(".partial")
    try:
        if last.exists() and not _of_one_shop(db, last):
            _put_by(path)  # another file has this name now: the copies are of the one before
        if db.execute("SELECT count(*) FROM entry").fetchone()[0] < _entries(last):
            return
        partial.unlink(missing_ok=True)
        copy = sqlite3.connect(partial)
        with contextlib.closing(copy):
            db.backup(copy)
        if last.exists() and made(last).date() != datetime.now(UTC).date():
            for i in range(GENERATIONS - 1, 0, -1):
                if backup_path(path, i - 1).exists():
                    backup_path(path, i - 1).replace(backup_path(path, i))
        partial.replace(last)
    except (sqlite3.Error, OSError):
        partial.unlink(missing_ok=True)


def sync(path: Path) -> None:
    """Have a file, or the names in a folder, on the disk itself."""
    handle = os.open(path, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)


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
    stem = f"{path.stem}-other-{datetime.now(UTC):%Y-%m-%d}"
    names = (path.with_name(f"{stem}{'' if n == 1 else f'-{n}'}{path.suffix}") for n in range(1, 100))
    free = next((name for name in names if not name.exists()), None)
    for i in range(GENERATIONS):
        if free is not None and backup_path(path, i).exists():
            backup_path(path, i).replace(free if i == 0 else backup_path(free, i))


def _entries(copy: Path, *, whole: bool = False) -> int:
    """How many entries a copy has; -1: it is not there, or cannot be read. whole: all of it is looked through."""
    try:
        with _read(copy) as db:
            if whole and db.execute("PRAGMA quick_check").fetchone()[0] != "ok":
                return -1
            return int(db.execute("SELECT count(*) FROM entry").fetchone()[0])
    except (*UNREADABLE, OSError):
        return -1


@contextlib.contextmanager
def _read(path: Path) -> Iterator[sqlite3.Connection]:
    db = sqlite3.connect(f"{path.resolve().as_uri()}?mode=ro&immutable=1", uri=True, isolation_level=None)
    with contextlib.closing(db):
        yield db
