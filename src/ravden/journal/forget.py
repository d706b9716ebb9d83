"""A person forgotten: no byte of the name stays in the shop file, its write-ahead log, its copies, or what was left of
them by a process that was killed."""

from __future__ import annotations

import contextlib
import json
import os
import re
import sqlite3
from pathlib import Path

from msgspec import Struct

from ravden.core.errors import InputError, need
from ravden.journal import on_disk
from ravden.journal.store import Journal

LEFT_OVER = (".partial", ".going-back", ".making")  # what a process was making when it was killed


class Left(Struct, frozen=True, kw_only=True):
    """Names of files beside a shop file that hold a name still: said, in the words of an entry, which are kept;
    unreached, since they cannot be rewritten, with why."""

    said: tuple[str, ...] = ()
    unreached: tuple[tuple[str, str], ...] = ()


def forget(journal: Journal, number: int) -> Left:
    """Forget a person by number: in the file, and in every other of this shop beside it. Those come first, so that what
    is cut off in between is done again by asking again. Raises InputError where there is no such person, or where the
    shop file itself cannot be written: nobody is forgotten then.
    """
    name = journal.people().get(number, "")
    need(bool(name), "person", "nobody of that number is known")
    need(not journal.read_only, journal.path.name, f"is open for reading only: {journal.why_read_only}")
    need(journal.looked_over, journal.path.name, "is being looked through and copied: ask again in a moment")
    raw, unreached, others = _raw(name), dict[str, str](), set[str]()
    for path in beside(journal.path):
        if path.name.endswith(LEFT_OVER):
            with contextlib.suppress(OSError):
                path.unlink()
            continue
        try:
            if _of_another(path, journal):
                others.add(path.name)
            else:
                _wipe(path, name)
        except (sqlite3.Error, OSError, InputError) as error:
            why = error.strerror if isinstance(error, OSError) else str(error)
            unreached[path.name] = why or type(error).__name__
    journal.forget(number)
    holding = {p.name for p in beside(journal.path) if p.name not in others and _holds(p, raw)}
    return Left(
        said=tuple(sorted(holding - unreached.keys())),
        unreached=tuple((p, why) for p, why in sorted(unreached.items()) if p in holding),
    )


def beside(path: Path) -> list[Path]:
    """Every other file of a shop in its folder: copies by day and of before its versions, what was put back before or
    brought out of a copy, and what a process that was killed has left of any of them."""
    stem, end = re.escape(path.stem), re.escape(path.suffix)
    day = r"\d{4}-\d\d-\d\d(-\d+)?"
    mine = re.compile(rf"\.?{stem}(-(before|copy|taken-out|other)-{day})?{end}(\..+)?")
    there = (p for p in path.parent.iterdir() if mine.fullmatch(p.name) and p.name != path.name)
    return sorted(p for p in there if p.is_file() and not p.is_symlink())


def _raw(name: str) -> tuple[bytes, ...]:
    """A name as it may stand in a file: as it is, and as JSON writes it."""
    return tuple({name.encode(), *(json.dumps(name, ensure_ascii=a)[1:-1].encode() for a in (False, True))})


def _holds(path: Path, raw: tuple[bytes, ...]) -> bool:
    try:
        there = path.read_bytes()
    except OSError:
        return True  # nobody knows
    return any(r in there for r in raw)


def _of_another(path: Path, journal: Journal) -> bool:
    """Whether a file is known to be of another shop, whatever its name."""
    own = journal.names("SELECT id FROM shop", ())
    try:
        with contextlib.closing(sqlite3.connect(f"{path.resolve().as_uri()}?mode=ro&immutable=1", uri=True)) as db:
            there = db.execute("SELECT id FROM shop").fetchone()
    except sqlite3.Error:
        return False  # of before shops had ids, or damaged
    return there is not None and own != [there[0]]


def _wipe(path: Path, name: str) -> None:
    """Take a name out of another shop file, which stays as old as it was. Raises what keeps it from being done."""
    stat = path.stat()
    with path.open("rb") as f:
        if not on_disk.is_a_database(f.read(on_disk.HEADER_BYTES)):
            raise InputError("", "it is damaged")
    lock, why = on_disk.take_lock(path)
    if lock is None:
        raise InputError("", why)
    try:
        with contextlib.closing(sqlite3.connect(path, isolation_level=None, timeout=2.0)) as db:
            if db.execute("SELECT count(*) FROM sqlite_master WHERE name = 'person'").fetchone()[0]:
                on_disk.wipe_person(db, "name = ?", name)
    finally:
        lock.close()
    os.utime(path, ns=(stat.st_atime_ns, stat.st_mtime_ns))
