"""A sum with every row of a shop file, so that what a disk has changed since it was written is noticed."""

import sqlite3
import zlib

from msgspec import Struct

CHANGED = "it was changed on the disk since it was written"
SEPARATOR, NOTHING = "\x1f", "\0"


def row_sum(*fields: str | int | None) -> int:
    """The sum of a row's fields in their order: CRC-32 of their text in UTF-8 (ISO 3309), a separator between them.

    >>> row_sum(1, "a", None) == _of_raw(1, b"a", None), row_sum(1, "a") == row_sum(1, "b")
    (True, False)
    """
    text = SEPARATOR.join([NOTHING if f is None else str(f) for f in fields])
    return zlib.crc32(text.encode("utf-8", "surrogatepass"))


def _of_raw(*fields: bytes | int | None) -> int:
    """The same of texts as they lie on the disk, whether they can be read or not."""
    texts = [NOTHING if f is None else str(f) for f in fields if not isinstance(f, bytes)]
    rest = iter(texts)
    return zlib.crc32(SEPARATOR.encode().join(f if isinstance(f, bytes) else next(rest).encode() for f in fields))


def register(db: sqlite3.Connection) -> None:
    """Let statements of a connection reckon it, of texts as blobs."""
    db.create_function("row_sum", -1, _of_raw, deterministic=True)


class Unsound(Struct, frozen=True, kw_only=True):
    """What is not as it was written: entries, by number, how many are missing, and how many names of people."""

    entries: tuple[int, ...] = ()
    missing: int = 0
    people: int = 0

    def __bool__(self) -> bool:
        return bool(self.entries or self.missing or self.people)

    @property
    def said(self) -> str:
        """In words."""
        one, lost = len(self.entries) == 1, self.missing == 1
        told = {
            f"{len(self.entries)} {'entry was' if one else 'entries were'} changed on the disk": len(self.entries),
            f"{self.missing} {'entry is' if lost else 'entries are'} missing": self.missing,
            "the name of somebody was changed on the disk": self.people,
        }
        return ", and ".join(text for text, many in told.items() if many)


def unsound(db: sqlite3.Connection, sums: dict[str, str]) -> Unsound:
    """Look through all of a file. sums: by table, the sum of a row as SQL. A row without one was put in by other hands
    than Ravden's, and is as it reads."""
    register(db)
    off = {
        table: tuple(
            int(row[0])
            for row in db.execute(f"SELECT rowid FROM {table} WHERE sum IS NOT NULL AND sum IS NOT {sums[table]}")
        )
        for table in ("entry", "person")
    }
    there, last = db.execute("SELECT count(*), coalesce(max(id), 0) FROM entry").fetchone()
    wrote = db.execute("SELECT coalesce(max(seq), 0) FROM sqlite_sequence WHERE name = 'entry'").fetchone()[0]
    return Unsound(
        entries=off["entry"], missing=max(max(int(wrote), int(last)) - int(there), 0), people=len(off["person"])
    )
