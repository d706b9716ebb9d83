"""The shop file on disk. What append() has returned is kept, whatever happens to the process or the machine's power."""

import fcntl
import os
import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from typing import IO, Any

from ravden.core.errors import InputError
from ravden.journal.entry import Entry, decode, encode, iso
from ravden.journal.kinds.instrument import InstrumentAdded
from ravden.journal.kinds.kind import Kind
from ravden.journal.kinds.undone import Undone

APPLICATION_ID = 0x52564E31  # "RVN1", in the header of every shop file
SUFFIX = ".ravden"
MIGRATIONS: tuple[tuple[str, ...], ...] = (
    (
        """CREATE TABLE entry (
            id INTEGER PRIMARY KEY AUTOINCREMENT,
            at TEXT NOT NULL,
            logged_at TEXT NOT NULL,
            instrument TEXT NOT NULL,
            body TEXT NOT NULL,
            corrects INTEGER REFERENCES entry(id)
        ) STRICT""",
        "CREATE TRIGGER entry_kept BEFORE DELETE ON entry BEGIN SELECT RAISE(ABORT, 'the journal keeps entries'); END",
        "CREATE TRIGGER entry_fixed BEFORE UPDATE ON entry BEGIN SELECT RAISE(ABORT, 'the journal keeps entries'); END",
    ),
    (  # 2: a shop of many years is read in parts; people are kept apart from what happened
        """ALTER TABLE entry ADD COLUMN kind TEXT GENERATED ALWAYS AS
            (CASE WHEN json_valid(body) THEN coalesce(json_extract(body, '$.kind'), '') ELSE '' END) VIRTUAL""",
        "CREATE INDEX entry_kind ON entry (kind, instrument, at)",
        "CREATE INDEX entry_instrument ON entry (instrument, id)",
        "CREATE INDEX entry_corrects ON entry (corrects) WHERE corrects IS NOT NULL",
        "CREATE TABLE person (id INTEGER PRIMARY KEY AUTOINCREMENT, name TEXT NOT NULL UNIQUE) STRICT",
        """CREATE TABLE lesson (
            instrument TEXT PRIMARY KEY,
            upto INTEGER NOT NULL REFERENCES entry(id),
            body TEXT NOT NULL
        ) STRICT""",
    ),
)
VERSION = len(MIGRATIONS)
LONG_BYTES = 8_000_000  # some years of air; reading all of it takes longer than a window may wait
# Distinct values by jumping along an index, not by reading every row.
_APART = """WITH RECURSIVE one (v) AS (
    SELECT min({column}) FROM entry
    UNION ALL SELECT (SELECT min({column}) FROM entry WHERE {column} > v) FROM one WHERE v IS NOT NULL
) SELECT v FROM one WHERE v IS NOT NULL"""
GONE = "was moved or deleted since it was opened, so nothing can be logged: put it back, or open it where it is now"


@dataclass(frozen=True, slots=True, kw_only=True)
class Row:
    """An entry to be written with others; follows: the place among them of the one it corrects."""

    body: Kind
    at: datetime
    logged_at: datetime
    instrument: str = ""
    follows: int | None = None


class Journal:
    """An open shop file. read_only: another Ravden holds it, or the file or folder cannot be written; looked_over:
    whether it was found to be whole, and copied."""

    def __init__(self, path: Path, db: sqlite3.Connection, lock: IO[bytes] | None, why_read_only: str) -> None:
        self.path = path
        self.looked_over = True
        self._db = db
        self._lock = lock
        self._file = _identity(path)
        self.why_read_only = why_read_only

    @property
    def read_only(self) -> bool:
        return self._lock is None

    @property
    def doubt(self) -> str:
        """What has become of the file since it was opened that its user should know; empty: nothing."""
        if _identity(self.path) != self._file:
            return GONE
        if not self.read_only and not self.path.stat().st_mode & 0o222:
            return "was made read-only by something else: what is logged now is still kept, the next opening cannot log"
        return ""

    @classmethod
    def create(cls, path: Path) -> "Journal":
        """A new, empty shop file. Raises InputError when something is there already or it cannot be written."""
        if path.exists():
            raise InputError(str(path), "is there already; choose another name, or open it")
        if not path.parent.is_dir():
            raise InputError(str(path.parent), "is not a folder")
        if not os.access(path.parent, os.W_OK):
            raise InputError(str(path.parent), "cannot be written to; choose another folder")
        try:
            db = _connect(path)
            db.execute(f"PRAGMA application_id = {APPLICATION_ID}")
            _migrate(db, 0)
        except sqlite3.Error as error:
            path.unlink(missing_ok=True)
            raise InputError(str(path), f"cannot be made: {error}") from None
        db.close()
        return cls.open(path)

    @classmethod
    def open(cls, path: Path, *, at_once: bool = False) -> "Journal":
        """Open a shop file, checking that it is one and is whole; upgrade it, after a copy, when it is older.

        at_once: looking through a long one, and copying it, is left to ``look_over`` and another thread.
        """
        if not path.is_file():
            raise InputError(str(path), "is not there" if not path.exists() else "is not a file")
        _check_header(path)
        lock, why = _take_lock(path)
        db: sqlite3.Connection | None = None
        try:
            db = _connect(path) if lock is not None else _connect_read_only(path)
            if db.execute("PRAGMA application_id").fetchone()[0] != APPLICATION_ID:
                raise InputError(str(path), "is a database of some other program; nothing was changed")
            found = db.execute("PRAGMA user_version").fetchone()[0]
            if found > VERSION:
                raise InputError(str(path), f"was written by a newer Ravden (file version {found}, this one {VERSION})")
            later = at_once and found == VERSION and path.stat().st_size > LONG_BYTES
            if not later:
                _need_whole(db, path)
            if found < VERSION:
                if lock is None:
                    raise InputError(str(path), "needs upgrading, and cannot be written to")
                _copy_before(db, path, found)
                _migrate(db, found)
            if lock is not None and not later:
                _back_up(db, path)
        except InputError:
            _close(db, lock)
            raise
        except sqlite3.DatabaseError as error:
            _close(db, lock)
            raise InputError(
                str(path), f"is damaged ({error}); nothing was changed; the last backup is {backup_path(path).name}"
            ) from None
        out = cls(path, db, lock, why)
        out.looked_over = not later
        return out

    @staticmethod
    def look_over(path: Path, *, copy: bool) -> None:
        """Look through an open file by a way of its own, and copy it; on another thread. Raises InputError with what is
        wrong with it."""
        try:
            db = _connect_read_only(path)
            try:
                _need_whole(db, path)
                if copy:
                    _back_up(db, path)
            finally:
                db.close()
        except sqlite3.DatabaseError as error:
            raise InputError(str(path), f"is damaged ({error}); the last backup is {backup_path(path).name}") from None

    def append(
        self, body: Kind, *, at: datetime, logged_at: datetime, instrument: str = "", corrects: int | None = None
    ) -> Entry:
        """Write one entry and return it once it is safely on disk. Raises InputError and changes nothing otherwise."""
        row = Row(body=body, at=at, logged_at=logged_at, instrument=instrument)
        return self._write([row], corrects)[0]

    def append_all(self, rows: Sequence[Row]) -> list[Entry]:
        """Write several entries, all or none."""
        return self._write(rows, None)

    def _write(self, rows: Sequence[Row], corrects: int | None) -> list[Entry]:
        if self.read_only:
            raise InputError(self.path.name, f"is open for reading only: {self.why_read_only}")
        if _identity(self.path) != self._file:
            # What would be written now would end in a file that no name leads to.
            raise InputError(self.path.name, GONE)
        out: list[Entry] = []
        try:
            self._db.execute("BEGIN IMMEDIATE")
            for row in rows:
                target = corrects if row.follows is None else out[row.follows].id
                cursor = self._db.execute(
                    "INSERT INTO entry (at, logged_at, instrument, body, corrects) VALUES (?, ?, ?, ?, ?)",
                    (iso(row.at), iso(row.logged_at), row.instrument, encode(row.body), target),
                )
                out.append(
                    Entry(
                        id=cursor.lastrowid or 0, at=row.at.astimezone(UTC), logged_at=row.logged_at.astimezone(UTC),
                        instrument=row.instrument, body=row.body, corrects=target,
                    )
                )  # fmt: skip
            self._db.execute("COMMIT")
        except (sqlite3.Error, InputError) as error:
            try:
                if self._db.in_transaction:
                    self._db.execute("ROLLBACK")
            except sqlite3.Error:
                pass
            if isinstance(error, InputError):
                raise
            raise InputError(self.path.name, f"could not be written, nothing was logged: {error}") from None
        return out

    def entries(self) -> list[Entry]:
        """Everything ever written, in the order it was written."""
        return self.select("TRUE ORDER BY id", ())

    def of(self, instrument: str) -> list[Entry]:
        """All that was written about an instrument."""
        return self.select("instrument = ? ORDER BY id", (instrument,))

    def of_shop(self, kind: str) -> list[Entry]:
        """All of a kind that is about no instrument, or puts one on the rack."""
        return self.select("kind = ? AND instrument = ''", (kind,))

    def instruments(self) -> list[str]:
        """All instruments there ever was an entry about, by id."""
        return self.names(_APART.format(column="instrument"), ())

    def kinds(self) -> list[str]:
        """All kinds of entries there are."""
        return self.names(_APART.format(column="kind"), ())

    def names(self, query: str, values: Sequence[object]) -> list[str]:
        """The first column of a query."""
        return [row[0] for row in self.rows(query, values)]

    def rows(self, query: str, values: Sequence[object]) -> list[tuple[Any, ...]]:
        """All rows of a query. Raises InputError where the file is damaged."""
        try:
            return self._db.execute(query, tuple(values)).fetchall()
        except sqlite3.DatabaseError as error:
            raise InputError(
                str(self.path), f"is damaged ({error}); the last backup is {backup_path(self.path).name}"
            ) from None

    def person(self, name: str) -> int:
        """The number of a person, kept from now on where it was not; 0 for nobody."""
        if not name:
            return 0
        if self.read_only:
            raise InputError(self.path.name, f"is open for reading only: {self.why_read_only}")
        self._db.execute("INSERT OR IGNORE INTO person (name) VALUES (?)", (name,))
        return int(self._db.execute("SELECT id FROM person WHERE name = ?", (name,)).fetchone()[0])

    def people(self) -> dict[int, str]:
        """Names by number."""
        return dict(self.rows("SELECT id, name FROM person", ()))

    def keep_lesson(self, instrument: str, upto: int, body: str) -> None:
        """Keep what an instrument taught, worked out from its entries up to one."""
        self._db.execute("INSERT OR REPLACE INTO lesson VALUES (?, ?, ?)", (instrument, upto, body))

    def lessons(self) -> dict[str, str]:
        """What instruments taught, of which nothing was written since."""
        newest = "SELECT max(id) FROM entry WHERE entry.instrument = lesson.instrument"
        return dict(self.rows(f"SELECT instrument, body FROM lesson WHERE upto = ({newest})", ()))

    def select(self, where: str, values: Sequence[object]) -> list[Entry]:
        """Entries that a condition holds for."""
        out = []
        rows = self.rows(f"SELECT id, at, logged_at, instrument, body, corrects FROM entry WHERE {where}", values)
        for number, at, logged_at, instrument, body, corrects in rows:
            try:
                entry = Entry(
                    id=number, at=datetime.fromisoformat(at), logged_at=datetime.fromisoformat(logged_at),
                    instrument=instrument, body=decode(body), corrects=corrects,
                )  # fmt: skip
            except (InputError, ValueError) as error:
                said = error.said if isinstance(error, InputError) else str(error)
                raise InputError(f"{self.path.name}, entry {number}", said) from None
            out.append(entry)
        return out

    def close(self) -> None:
        """Release the file for others."""
        _close(self._db, self._lock)
        self._lock = None


def effective(entries: list[Entry]) -> list[Entry]:
    """The entries that count: not undone or corrected, or brought back, and of an instrument that did come onto the
    rack, as far as that is among them. Undone entries themselves are left out."""
    gone = gone_of([(e.id, e.corrects, lets_go(e.body)) for e in entries if e.corrects is not None])
    came = {e.instrument: e.id in gone for e in sorted(entries, key=lambda e: e.id not in gone) if _came(e)}
    return [
        e for e in entries if e.id not in gone and not isinstance(e.body, Undone) and not came.get(e.instrument, False)
    ]


def _came(entry: Entry) -> bool:
    return isinstance(entry.body, InstrumentAdded)


def lets_go(body: Kind) -> bool:
    """Whether what an entry takes back gives up its own hold on what it had corrected."""
    return isinstance(body, Undone) and not body.whole


def gone_of(corrections: Sequence[tuple[int, int, bool]]) -> set[int]:
    """The entries that no longer count. corrections: in the order written, each by its number, that of the entry it
    takes the place of, and whether that one lets go of what it had corrected itself."""
    gone: set[int] = set()
    held: set[int] = set()
    for number, target, lets in reversed(corrections):
        # Walking back, every undo or correction that still counts is known before what it takes the place of. What was
        # itself corrected keeps its hold on the entry before it; what was undone lets go, unless it went as a whole.
        if number not in gone or number in held:
            gone.add(target)
            if not lets:
                held.add(target)
    return gone


def last_to_undo(entries: list[Entry]) -> Entry | None:
    """The newest entry of hands that still counts: what a sensor wrote is none of theirs."""
    counting = [e for e in effective(entries) if not e.body.by_machine]
    return counting[-1] if counting else None


def last_to_redo(entries: list[Entry]) -> Entry | None:
    """The newest undo that could itself be undone: nothing else has been logged since."""
    gone: set[int] = set()
    for entry in reversed(entries):
        if entry.body.by_machine:
            continue
        if not isinstance(entry.body, Undone):
            return None
        if entry.id in gone:
            continue
        target = next((e for e in entries if e.id == entry.corrects), None)
        if target is not None and isinstance(target.body, Undone):
            gone.add(target.id)  # this is a redo: it takes its undo out of the running, and is none itself
            continue
        return entry
    return None


def _identity(path: Path) -> tuple[int, int] | None:
    """Which file a name leads to; None: none."""
    try:
        found = path.stat()
    except OSError:
        return None
    return found.st_dev, found.st_ino


def backup_path(path: Path) -> Path:
    """Where the copy made at every opening lies."""
    return path.with_name(f"{path.name}.backup")


def _connect(path: Path) -> sqlite3.Connection:
    db = sqlite3.connect(path, isolation_level=None, timeout=2.0)
    db.execute("PRAGMA journal_mode = WAL")
    db.execute("PRAGMA synchronous = FULL")
    db.execute("PRAGMA foreign_keys = ON")
    return db


def _connect_read_only(path: Path) -> sqlite3.Connection:
    uri = path.resolve().as_uri()
    db = sqlite3.connect(f"{uri}?mode=ro", uri=True, isolation_level=None, timeout=2.0)
    try:
        db.execute("SELECT count(*) FROM sqlite_schema").fetchone()
    except sqlite3.OperationalError:
        # A folder that cannot be written has no place for the write-ahead log's index.
        db.close()
        db = sqlite3.connect(f"{uri}?mode=ro&immutable=1", uri=True, isolation_level=None)
    return db


def _check_header(path: Path) -> None:
    """Refuse a foreign or cut-off file before SQLite touches it."""
    try:
        with path.open("rb") as f:
            head = f.read(100)
    except OSError as error:
        raise InputError(str(path), f"cannot be read: {error.strerror}") from None
    if len(head) < 100 or not head.startswith(b"SQLite format 3\0"):
        raise InputError(str(path), "is not a Ravden shop file; nothing was changed")
    if int.from_bytes(head[68:72], "big") != APPLICATION_ID:
        raise InputError(str(path), "is a database of some other program; nothing was changed")


def _take_lock(path: Path) -> tuple[IO[bytes] | None, str]:
    """An exclusive lock that the system lets go of when the process dies; or why there is none."""
    if not os.access(path, os.W_OK) or not os.access(path.parent, os.W_OK):
        return None, "the file or its folder cannot be written to"
    handle = path.with_name(f".{path.name}.lock").open("ab")
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        handle.close()
        return None, "another Ravden has it open"
    return handle, ""


def _need_whole(db: sqlite3.Connection, path: Path) -> None:
    fault = db.execute("PRAGMA integrity_check").fetchone()[0]
    if fault != "ok":
        raise InputError(str(path), f"is damaged ({fault}); the last backup is {backup_path(path).name}")


def _copy_before(db: sqlite3.Connection, path: Path, found: int) -> None:
    """A whole copy of the file as the last version left it, what is still in its write-ahead log too; made by way of a
    temporary file, so that a copy that was cut off is never taken for one."""
    partial = path.with_name(f"{path.name}.v{found}.partial")
    partial.unlink(missing_ok=True)
    db.execute("VACUUM INTO ?", (str(partial),))
    partial.replace(path.with_name(f"{path.name}.v{found}"))


def _migrate(db: sqlite3.Connection, found: int) -> None:
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


def _back_up(db: sqlite3.Connection, path: Path) -> None:
    """A rolling copy, made by way of a temporary file so that a full disk never spoils the last good one."""
    partial = backup_path(path).with_suffix(".partial")
    try:
        copy = sqlite3.connect(partial)
        with copy:
            db.backup(copy)
        copy.close()
        partial.replace(backup_path(path))
    except (sqlite3.Error, OSError):
        partial.unlink(missing_ok=True)


def _close(db: sqlite3.Connection | None, lock: IO[bytes] | None) -> None:
    if db is not None:
        db.close()
    if lock is not None:
        lock.close()
