"""A person forgotten: no byte of the name stays in the shop file, its write-ahead log or its copies."""

from __future__ import annotations

import glob
import os
import sqlite3
from pathlib import Path

from ravden.core.errors import InputError, need
from ravden.journal import on_disk
from ravden.journal.copies import GENERATIONS, backup_path
from ravden.journal.store import Journal


def forget(journal: Journal, number: int) -> tuple[str, ...]:
    """Forget a person by number. Copies come first, so that what is cut off in between is done again by asking again.

    Returns the names of other files beside it that still hold the name. Raises InputError where there is no such
    person, or where a copy cannot be written; the shop file is left as it was then.
    """
    name = journal.people().get(number, "")
    need(bool(name), "person", "nobody of that number is known")
    need(not journal.read_only, journal.path.name, f"is open for reading only: {journal.why_read_only}")
    for copy in copies(journal.path):
        try:
            _wipe_copy(copy, name)
        except (sqlite3.Error, OSError) as error:
            raise InputError(copy.name, f"could not be rewritten: {error}; nobody was forgotten") from None
    journal.forget(number)
    raw = name.encode()
    return tuple(sorted(p.name for p in _beside(journal.path) if raw in p.read_bytes()))


def copies(path: Path) -> list[Path]:
    """The copies of a shop file, by day and from before its versions."""
    days = [backup_path(path, i) for i in range(GENERATIONS)]
    return [p for p in (*days, *path.parent.glob(f"{glob.escape(path.name)}.v*")) if p.exists()]


def _beside(path: Path) -> list[Path]:
    """Other files of the same stem in its folder: what was put back before, or brought out of a copy."""
    return [p for p in path.parent.glob(f"{glob.escape(path.stem)}-*") if p.is_file() and p != path]


def _wipe_copy(copy: Path, name: str) -> None:
    """Take a name out of a copy, which stays as old as it was."""
    stat = copy.stat()
    db = sqlite3.connect(copy, isolation_level=None, timeout=2.0)
    try:
        if db.execute("SELECT count(*) FROM sqlite_master WHERE name = 'person'").fetchone()[0]:
            on_disk.wipe_person(db, "name = ?", name)
    finally:
        db.close()
    os.utime(copy, ns=(stat.st_atime_ns, stat.st_mtime_ns))
