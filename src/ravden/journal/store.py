"""The shop file on disk. What append() has returned is kept, whatever happens to the process or the machine's power."""

import contextlib
import os
import sqlite3
import threading
from collections.abc import Collection, Iterator, Sequence
from datetime import UTC, datetime
from pathlib import Path
from typing import IO, Any

from msgspec import Struct

from ravden.core.errors import InputError, need
from ravden.journal import copies, on_disk
from ravden.journal.copies import UNREADABLE, DamagedError
from ravden.journal.counting import gone_of
from ravden.journal.entry import UNREAD, Entry, decode, encode, iso
from ravden.journal.kinds.instrument import InstrumentAdded
from ravden.journal.kinds.kind import Kind
from ravden.journal.kinds.undone import Undone
from ravden.journal.kinds.unknown import Unknown
from ravden.journal.schema import SUMS, VERSION
from ravden.journal.sums import CHANGED, Unsound, row_sum, unsound

SUFFIX = ".ravden"
COUNTS = "(id NOT IN (SELECT id FROM gone) AND instrument NOT IN (SELECT instrument FROM never))"
COLUMNS = "id, at, logged_at, instrument, body, corrects, act, sum"
UNDONE, ADDED = Undone.__struct_config__.tag, InstrumentAdded.__struct_config__.tag
NO_TIME = datetime(1950, 1, 1, tzinfo=UTC)  # of an entry that cannot be read
CUT_OFF = (
    "was cut off or written over by something else while it was open: nothing is logged in it any more. Open it again, "
    "or the last copy of it"
)
LONG_BYTES = 8_000_000  # some years of air; reading all of it takes longer than a window may wait
# Distinct values by jumping along an index, not by reading every row.
_APART = """WITH RECURSIVE one (v) AS (
    SELECT min({column}) FROM entry
    UNION ALL SELECT (SELECT min({column}) FROM entry WHERE {column} > v) FROM one WHERE v IS NOT NULL
) SELECT v FROM one WHERE v IS NOT NULL"""
GONE = "was moved or deleted since it was opened, so nothing can be logged: put it back, or open it where it is now"


class Row(Struct, frozen=True, kw_only=True):
    """An entry to be written with others; follows: the place among them of the one it corrects; numbered_from: the
    place of the one that its own numbers call 1, None where it has none."""

    body: Kind
    at: datetime
    logged_at: datetime
    instrument: str = ""
    follows: int | None = None
    numbered_from: int | None = None


class Journal:
    """An open shop file. read_only: another Ravden holds it, or the file or folder cannot be written; looked_over:
    whether it was found to be whole, and copied."""

    def __init__(self, path: Path, db: sqlite3.Connection, lock: IO[bytes] | None, why_read_only: str) -> None:
        self.path = path
        self.looked_over = True
        self.unsound = Unsound()  # what in it is not as it was written, as far as it was looked through
        self._db = db
        self._lock = lock
        self._file = on_disk.identity(path)
        self._least_bytes = path.stat().st_size
        self.why_read_only = why_read_only
        self._counted = 0  # the number the next entry had when what counts was last worked out
        self._stroke: list[int] | None = None  # numbers of what is written at one stroke, while it is under way

    @property
    def read_only(self) -> bool:
        return self._lock is None

    def is_at(self, path: Path) -> bool:
        """Whether a name leads to this very file."""
        return self._file is not None and on_disk.identity(path) == self._file

    @property
    def doubt(self) -> str:
        """What has become of the file since it was opened that its user should know; empty: nothing."""
        if on_disk.identity(self.path) != self._file:
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
        on_disk.tidy(path)
        aside = path.with_name(f".{path.name}.{os.getpid()}-{threading.get_ident()}.making")
        try:
            aside.unlink(missing_ok=True)
            db = sqlite3.connect(aside, isolation_level=None)
            db.execute(f"PRAGMA application_id = {copies.APPLICATION_ID}")
            db.execute("PRAGMA synchronous = FULL")
            on_disk.migrate(db, 0)
            db.close()
            on_disk.link_in(aside, path)
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
        on_disk.check_header(path)
        lock, why = on_disk.take_lock(path)
        db: sqlite3.Connection | None = None
        try:
            db = on_disk.connect(path) if lock is not None else on_disk.connect_read_only(path)
            if db.execute("PRAGMA application_id").fetchone()[0] != copies.APPLICATION_ID:
                raise InputError(str(path), "is a database of some other program; nothing was changed")
            found = db.execute("PRAGMA user_version").fetchone()[0]
            if found > VERSION:
                raise InputError(str(path), f"was written by a newer Ravden (file version {found}, this one {VERSION})")
            on_disk.need_own(db, path, found, writable=lock is not None)
            later = at_once and found == VERSION and path.stat().st_size > LONG_BYTES
            if not later:
                on_disk.need_whole(db, path)
            if found < VERSION:
                if lock is None:
                    raise InputError(str(path), "needs upgrading, and cannot be written to")
                on_disk.copy_before(db, path, found)
                on_disk.migrate(db, found)
            off = Unsound() if later else unsound(db, SUMS)
        except InputError:
            on_disk.close(db, lock)
            raise
        except UNREADABLE as error:
            on_disk.close(db, lock)
            if lock is None and isinstance(error, sqlite3.OperationalError):
                raise InputError(str(path), f"cannot be read now: {why} ({error})") from None
            raise DamagedError(path, error) from None
        out = cls(path, db, lock, why)
        out.looked_over, out.unsound = not later, off
        return out

    @classmethod
    def beside(cls, path: Path) -> "Journal":
        """A second way to read a shop file that is open, for another thread than the one that writes. Raises
        InputError."""
        try:
            return cls(path, on_disk.connect_read_only(path), None, "another way to write it is open")
        except (*UNREADABLE, OSError) as error:
            raise InputError(str(path), f"cannot be read now: {error}") from None

    def back_up(self, aside: Collection[int] = ()) -> None:
        """Copy the file, now that all of it could be read and folded but for some: what is worse never takes the place
        of a good copy."""
        if not self.read_only and self.looked_over:
            copies.back_up(self._db, self.path, aside, sound=not self.unsound)

    @staticmethod
    def look_over(path: Path, *, copy: bool, aside: Collection[int] = ()) -> Unsound:
        """Look through an open file by a way of its own, and copy it; on another thread. Returns what is not as it was
        written. Raises InputError where it cannot be read."""
        try:
            db = on_disk.connect_read_only(path)
            try:
                on_disk.need_whole(db, path)
                off = unsound(db, SUMS)
                if copy:
                    copies.back_up(db, path, aside, sound=not off)
            finally:
                db.close()
        except UNREADABLE as error:
            raise DamagedError(path, error) from None
        return off

    def append(
        self, body: Kind, *, at: datetime, logged_at: datetime, instrument: str = "", corrects: int | None = None
    ) -> Entry:
        """Write one entry and return it once it is safely on disk. Raises InputError and changes nothing otherwise."""
        row = Row(body=body, at=at, logged_at=logged_at, instrument=instrument)
        return self._write([row], corrects)[0]

    def append_all(self, rows: Sequence[Row]) -> list[Entry]:
        """Write several entries, all or none."""
        return self._write(rows, None)

    @contextlib.contextmanager
    def stroke(self, *, as_act: bool = False) -> Iterator[None]:
        """What is written in here is on disk at the end of it, all of it or none. as_act: it is one act, which is taken
        back as one."""
        if self._db.in_transaction:
            with self._within():
                yield
            return
        self._need_there()
        self._stroke = [] if as_act else None
        try:
            self._db.execute("BEGIN IMMEDIATE")
            yield
            if self._stroke:
                self._db.execute("INSERT INTO act VALUES (?, ?)", (self._stroke[0], len(self._stroke)))
            self._db.execute("COMMIT")
        except BaseException as error:
            self._counted = 0  # the table of what counts went back with the rest
            # Whatever it was: a transaction left open would keep everything that follows from being logged.
            with contextlib.suppress(sqlite3.Error):
                if self._db.in_transaction:
                    self._db.execute("ROLLBACK")
            if not isinstance(error, sqlite3.Error):
                raise
            raise InputError(self.path.name, f"could not be written, nothing was logged: {error}") from None
        finally:
            self._stroke = None
        self._need_there()

    @contextlib.contextmanager
    def _within(self) -> Iterator[None]:
        """A stroke within a stroke is part of it; what of it fails is not, though the rest goes on."""
        written = list(self._stroke or ())
        self._db.execute("SAVEPOINT within")
        try:
            yield
        except BaseException:
            self._counted = 0
            with contextlib.suppress(sqlite3.Error):
                self._db.execute("ROLLBACK TO within")
                self._db.execute("RELEASE within")
            if self._stroke is not None:
                self._stroke[:] = written
            raise
        self._db.execute("RELEASE within")

    def _write(self, rows: Sequence[Row], corrects: int | None) -> list[Entry]:
        told = [self._written_down(row) for row in rows]
        out: list[Entry] = []
        with self.stroke():
            for row, (at, logged_at, body) in zip(rows, told, strict=True):
                target = corrects if row.follows is None else out[row.follows].id
                said = row.body
                if row.numbered_from is not None:
                    # What it speaks of by number has another one here.
                    mine = out[row.numbered_from :]
                    said = said.renumbered({n: e.id for n, e in enumerate(mine, start=1)})
                    body = body if said == row.body else encode(said)
                number = self._next
                act = self._stroke[0] if self._stroke else None if self._stroke is None else number
                values = (number, at, logged_at, row.instrument, body, target, act)
                self._put(values)
                if self._stroke is not None:
                    self._stroke.append(number)
                # What is shown is what was written, as it will be read: a time to the millisecond, 50 as 50.0.
                out.append(
                    Entry(
                        id=number, at=_time(at), logged_at=_time(logged_at),
                        instrument=row.instrument, body=decode(body), corrects=target,
                        act=act,
                    )
                )  # fmt: skip
        return out

    def _put(self, values: tuple[str | int | None, ...]) -> None:
        """One row of the journal. Raises InputError where it is not there then, whatever the file said."""
        made = row_sum(*values)
        written = self._db.execute(
            f"INSERT INTO entry ({COLUMNS}) VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
            (*values, made),
        ).rowcount
        there = self._db.execute("SELECT sum FROM entry WHERE id = ?", values[:1]).fetchone()
        if written != 1 or there != (made,):
            raise InputError(self.path.name, "did not take what was written, nothing was logged: is it damaged?")

    @property
    def _next(self) -> int:
        """The number the next entry will have."""
        found = self.rows(
            "SELECT max(coalesce((SELECT max(seq) FROM sqlite_sequence WHERE name = 'entry'), 0), "
            "coalesce((SELECT max(id) FROM entry), 0))", (),
        )  # fmt: skip
        return int(found[0][0]) + 1

    def torn(self) -> dict[int, tuple[int, int]]:
        """Acts that are not whole, by number: how many of their entries are there, and how many were written."""
        rows = self.rows(
            "SELECT entry.act, count(*), coalesce((SELECT entries FROM act WHERE act.id = entry.act), 0) AS wrote "
            "FROM entry WHERE entry.act IS NOT NULL GROUP BY entry.act HAVING count(*) <> wrote", (),
        )  # fmt: skip
        return {act: (there, wrote) for act, there, wrote in rows}

    def _need_there(self) -> None:
        """Raise InputError unless what is written to the open file can be found there again."""
        if self._lock is None:
            raise InputError(self.path.name, f"is open for reading only: {self.why_read_only}")
        if on_disk.identity(self.path) != self._file:
            # What would be written now would end in a file that no name leads to.
            raise InputError(self.path.name, GONE)
        size = os.fstat(self._lock.fileno()).st_size
        head = os.pread(self._lock.fileno(), on_disk.HEADER_BYTES, 0)
        if size < self._least_bytes or not on_disk.is_a_database(head) or not on_disk.is_a_shop(head):
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

    def names(self, query: str, values: Sequence[object]) -> list[Any]:
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
            if not self._db.execute("SELECT 1 FROM person WHERE name = ?", (name,)).fetchone():
                number = self._db.execute("INSERT INTO person (name) VALUES (?)", (name,)).lastrowid
                self._db.execute("UPDATE person SET sum = ? WHERE id = ?", (row_sum(number, name), number))
        except (sqlite3.Error, UnicodeError) as error:
            raise InputError("to", f"could not be written down: {error}") from None
        return int(self._db.execute("SELECT id FROM person WHERE name = ?", (name,)).fetchone()[0])

    def forget(self, number: int) -> None:
        """Take a person out of the file, down to the bytes. Raises InputError where it cannot be written."""
        self._need_there()
        try:
            on_disk.wipe_person(self._db, "id = ?", number)
        except sqlite3.Error as error:
            raise InputError(self.path.name, f"could not be rewritten: {error}") from None
        self._least_bytes = self.path.stat().st_size

    def people(self) -> dict[int, str]:
        """Names by number, those left out that are not as they were written."""
        found = self.rows("SELECT id, name, sum FROM person", ())
        return {number: name for number, name, made in found if made in (None, row_sum(number, name))}

    def keep_lesson(self, instrument: str, upto: int, body: str) -> None:
        """Keep what an instrument taught, worked out from its entries up to one."""
        made = row_sum(instrument, upto, body)
        self._db.execute("INSERT OR REPLACE INTO lesson VALUES (?, ?, ?, ?)", (instrument, upto, body, made))

    def put_lesson(self, instrument: str, body: str) -> None:
        """Keep it as this, of the same entries."""
        found = self._db.execute("SELECT upto FROM lesson WHERE instrument = ?", (instrument,)).fetchone()
        if found is not None:
            self.keep_lesson(instrument, found[0], body)

    def lessons(self) -> dict[str, str]:
        """What instruments taught whose record is still as it was then: nothing counts that was written since, but for
        what takes back what was written since."""
        self.counts()
        since = (
            "SELECT 1 FROM entry WHERE entry.instrument = lesson.instrument AND entry.id > lesson.upto "
            "AND entry.id NOT IN (SELECT id FROM gone) AND NOT (entry.kind = ? AND entry.corrects > lesson.upto)"
        )
        asked = f"SELECT instrument, upto, body, sum FROM lesson WHERE NOT EXISTS ({since})"
        found = self.rows(asked, (UNDONE,))
        # One that a disk has changed is worked out again like one that was never kept.
        return {i: body for i, upto, body, made in found if made == row_sum(i, upto, body)}

    def last_written(self) -> dict[str, datetime]:
        """When the newest entry about each instrument whose lesson is kept happened."""
        found = self.rows("SELECT lesson.instrument, at FROM lesson JOIN entry ON entry.id = lesson.upto", ())
        return {instrument: _time(at) for instrument, at in found}

    def remember(self, name: str, body: str) -> None:
        """Keep something beside what happened, which can be worked out again without loss. Raises InputError."""
        if self.read_only:
            return
        try:
            values = (name, body, row_sum(name, body))
            self._db.execute("INSERT OR REPLACE INTO remembered VALUES (?, ?, ?)", values)
        except sqlite3.Error as error:
            raise InputError(self.path.name, f"could not be written: {error}") from None

    def recall(self, name: str) -> str:
        """What was kept by a name; empty: nothing was, or it is not as it was written."""
        found = self.rows("SELECT body, sum FROM remembered WHERE name = ?", (name,))
        return next((body for body, made in found if made == row_sum(name, body)), "")

    def select(self, where: str, values: Sequence[object]) -> list[Entry]:
        """Entries that a condition holds for."""
        out = []
        rows = self.rows(f"SELECT {COLUMNS} FROM entry WHERE {where}", values)
        for number, at, logged_at, instrument, body, corrects, act, made in rows:
            try:
                whole = made in (None, row_sum(number, at, logged_at, instrument, body, corrects, act))
                need(whole, "", CHANGED)
                when, written = _time(at), _time(logged_at)
                read = decode(body)
            except (ValueError, OverflowError, RecursionError) as error:  # an InputError is a ValueError
                # Set aside, told and counted (journal/fold.py), and never a reason not to open the rest.
                when = written = NO_TIME
                read = Unknown(kind_name=UNREAD, text=body, why=str(error) or type(error).__name__)
            out.append(
                Entry(
                    id=number, at=when, logged_at=written, instrument=instrument, body=read, corrects=corrects, act=act
                )
            )  # fmt: skip
        return out

    def counts(self) -> str:
        """A condition of SQL that holds for entries that count as the file stands now: what was taken back or
        corrected does not, nor what is told of an instrument that never came."""
        if self._counted == self._next:
            return COUNTS
        torn = [n for act in self.torn() for n in self.names("SELECT id FROM entry WHERE act = ?", (act,))]
        corrections = self.rows(
            "SELECT id, corrects, kind = ? AND coalesce(json_extract(body, '$.whole'), 0) = 0 FROM entry "
            "WHERE corrects IS NOT NULL ORDER BY id", (UNDONE,),
        )  # fmt: skip
        whole = [(number, target, bool(undone)) for number, target, undone in corrections if number not in torn]
        gone = gone_of(whole) | {int(n) for n in torn}
        try:
            self._db.execute("CREATE TEMP TABLE IF NOT EXISTS gone (id INTEGER PRIMARY KEY)")
            self._db.execute("CREATE TEMP TABLE IF NOT EXISTS never (instrument TEXT PRIMARY KEY)")
            self._db.execute("DELETE FROM gone")
            self._db.execute("DELETE FROM never")
            self._db.executemany("INSERT INTO gone VALUES (?)", [(number,) for number in gone])
            self._db.execute(
                "INSERT INTO never SELECT json_extract(body, '$.id') AS i FROM entry WHERE kind = ? AND i IS NOT NULL "
                "GROUP BY i HAVING sum(id NOT IN (SELECT id FROM gone)) = 0", (ADDED,),
            )  # fmt: skip
        except UNREADABLE as error:
            raise DamagedError(self.path, error) from None
        self._counted = self._next
        return COUNTS

    def close(self) -> None:
        """Release the file for others."""
        on_disk.close(self._db, self._lock)
        self._lock = None


def _time(text: str) -> datetime:
    try:
        return datetime.fromisoformat(text).astimezone(UTC)
    except (ValueError, OverflowError):
        raise InputError("at", "cannot be read as a time") from None
