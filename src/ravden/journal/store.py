"""The shop file on disk. What append() has returned is kept, whatever happens to the process or the machine's power."""

import contextlib
import errno
import fcntl
import glob
import os
import sqlite3
import threading
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from typing import IO, Any

from ravden.core.errors import InputError
from ravden.journal import copies
from ravden.journal.copies import UNREADABLE, DamagedError
from ravden.journal.entry import UNREAD, Entry, decode, encode, iso
from ravden.journal.kinds.instrument import InstrumentAdded
from ravden.journal.kinds.kind import Kind
from ravden.journal.kinds.undone import Undone
from ravden.journal.kinds.unknown import Unknown

APPLICATION_ID = 0x52564E31  # "RVN1", in the header of every shop file
SUFFIX = ".ravden"
NO_TIME = datetime(1950, 1, 1, tzinfo=UTC)  # of an entry that cannot be read
MAGIC = b"SQLite format 3\0"
HEADER_BYTES = 100
CUT_OFF = (
    "was cut off or written over by something else while it was open: nothing is logged in it any more. Open it again, "
    "or the last copy of it"
)
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
        self._least_bytes = path.stat().st_size
        self.why_read_only = why_read_only

    @property
    def read_only(self) -> bool:
        return self._lock is None

    def is_at(self, path: Path) -> bool:
        """Whether a name leads to this very file."""
        return self._file is not None and _identity(path) == self._file

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
        # Made aside and linked in whole: a name never leads to half a file, and never to another's instead of its own.
        _tidy(path)
        aside = path.with_name(f".{path.name}.{os.getpid()}-{threading.get_ident()}.making")
        try:
            aside.unlink(missing_ok=True)
            db = sqlite3.connect(aside, isolation_level=None)
            db.execute(f"PRAGMA application_id = {APPLICATION_ID}")
            db.execute("PRAGMA synchronous = FULL")
            _migrate(db, 0)
            db.close()
            _link_in(aside, path)
        except FileExistsError:
            raise InputError(str(path), "is there already; choose another name, or open it") from None
        except (sqlite3.Error, OSError) as error:
            raise InputError(str(path), f"cannot be made: {error}") from None
        finally:
            aside.unlink(missing_ok=True)
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
        except InputError:
            _close(db, lock)
            raise
        except UNREADABLE as error:
            _close(db, lock)
            if lock is None and isinstance(error, sqlite3.OperationalError):
                raise InputError(str(path), f"cannot be read now: {why} ({error})") from None
            raise DamagedError(path, error) from None
        out = cls(path, db, lock, why)
        out.looked_over = not later
        return out

    def back_up(self) -> None:
        """Copy the file, now that all of it could be read: what cannot be read never takes the place of a good copy."""
        if not self.read_only and self.looked_over:
            copies.back_up(self._db, self.path)

    @staticmethod
    def look_over(path: Path, *, copy: bool) -> None:
        """Look through an open file by a way of its own, and copy it; on another thread. Raises InputError with what is
        wrong with it."""
        try:
            db = _connect_read_only(path)
            try:
                _need_whole(db, path)
                if copy:
                    copies.back_up(db, path)
            finally:
                db.close()
        except UNREADABLE as error:
            raise DamagedError(path, error) from None

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
        self._need_there()
        told = [self._written_down(row) for row in rows]
        out: list[Entry] = []
        try:
            self._db.execute("BEGIN IMMEDIATE")
            for row, (at, logged_at, body) in zip(rows, told, strict=True):
                target = corrects if row.follows is None else out[row.follows].id
                cursor = self._db.execute(
                    "INSERT INTO entry (at, logged_at, instrument, body, corrects) VALUES (?, ?, ?, ?, ?)",
                    (at, logged_at, row.instrument, body, target),
                )
                out.append(
                    Entry(
                        id=cursor.lastrowid or 0, at=row.at.astimezone(UTC), logged_at=row.logged_at.astimezone(UTC),
                        instrument=row.instrument, body=row.body, corrects=target,
                    )
                )  # fmt: skip
            self._db.execute("COMMIT")
        except BaseException as error:
            # Whatever it was: a transaction left open would keep everything that follows from being logged.
            with contextlib.suppress(sqlite3.Error):
                if self._db.in_transaction:
                    self._db.execute("ROLLBACK")
            if not isinstance(error, sqlite3.Error):
                raise
            raise InputError(self.path.name, f"could not be written, nothing was logged: {error}") from None
        self._need_there()
        return out

    def _need_there(self) -> None:
        """Raise InputError unless what is written to the open file can be found there again."""
        if self._lock is None:
            raise InputError(self.path.name, f"is open for reading only: {self.why_read_only}")
        if _identity(self.path) != self._file:
            # What would be written now would end in a file that no name leads to.
            raise InputError(self.path.name, GONE)
        size = os.fstat(self._lock.fileno()).st_size
        head = os.pread(self._lock.fileno(), HEADER_BYTES, 0)
        if size < self._least_bytes or not head.startswith(MAGIC) or head[68:72] != APPLICATION_ID.to_bytes(4, "big"):
            raise InputError(self.path.name, CUT_OFF)
        self._least_bytes = size

    def _written_down(self, row: Row) -> tuple[str, str, str]:
        try:
            body = encode(row.body)
            for text in (body, row.instrument):
                text.encode()
            return iso(row.at), iso(row.logged_at), body
        except UnicodeError:
            raise InputError("", "has letters in it that cannot be kept: is a name not written in UTF-8?") from None
        except OverflowError:
            raise InputError("at", "that time is out of this world") from None

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
        except UNREADABLE as error:
            raise DamagedError(self.path, error) from None

    def person(self, name: str) -> int:
        """The number of a person, kept from now on where it was not; 0 for nobody."""
        if not name:
            return 0
        if self.read_only:
            raise InputError(self.path.name, f"is open for reading only: {self.why_read_only}")
        try:
            self._db.execute("INSERT OR IGNORE INTO person (name) VALUES (?)", (name,))
        except (sqlite3.Error, UnicodeError) as error:
            raise InputError("to", f"could not be written down: {error}") from None
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
                when, written = _time(at), _time(logged_at)
                read = decode(body)
            except (ValueError, OverflowError, RecursionError) as error:  # an InputError is a ValueError
                # Set aside, told and counted (journal/fold.py), and never a reason not to open the rest.
                when = written = NO_TIME
                read = Unknown(kind_name=UNREAD, text=body, why=str(error) or type(error).__name__)
            out.append(
                Entry(id=number, at=when, logged_at=written, instrument=instrument, body=read, corrects=corrects)
            )
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


def _connect(path: Path) -> sqlite3.Connection:
    db = sqlite3.connect(path, isolation_level=None, timeout=2.0)
    db.text_factory = _text
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
    db.text_factory = _text
    return db


def _time(text: str) -> datetime:
    try:
        return datetime.fromisoformat(text).astimezone(UTC)
    except (ValueError, OverflowError):
        raise InputError("at", "cannot be read as a time") from None


def _text(raw: bytes) -> str:
    """Text as it stands in the file; bytes that are none show as such, and do not keep the rest from being read."""
    return raw.decode(errors="replace")


def _check_header(path: Path) -> None:
    """Refuse a foreign or cut-off file before SQLite touches it."""
    try:
        with path.open("rb") as f:
            head = f.read(HEADER_BYTES)
    except OSError as error:
        raise InputError(str(path), f"cannot be read: {error.strerror}") from None
    if len(head) < HEADER_BYTES or not head.startswith(MAGIC):
        raise InputError(str(path), "is not a Ravden shop file; nothing was changed")
    if int.from_bytes(head[68:72], "big") != APPLICATION_ID:
        raise InputError(str(path), "is a database of some other program; nothing was changed")


def _take_lock(path: Path) -> tuple[IO[bytes] | None, str]:
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


def _tidy(path: Path) -> None:
    """Remove what a process killed while making this very file has left beside it."""
    for left in path.parent.glob(f".{glob.escape(path.name)}.*.making"):
        maker = left.name.removesuffix(".making").rpartition(".")[2].partition("-")[0]
        if maker.isdecimal() and not Path(f"/proc/{maker}").exists():
            left.unlink(missing_ok=True)


def _link_in(aside: Path, path: Path) -> None:
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


def _need_whole(db: sqlite3.Connection, path: Path) -> None:
    fault = db.execute("PRAGMA integrity_check").fetchone()[0]
    if fault != "ok":
        raise DamagedError(path, fault)


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


def _close(db: sqlite3.Connection | None, lock: IO[bytes] | None) -> None:
    if db is not None:
        db.close()
    if lock is not None:
        lock.close()
