"""What stands in a shop file besides its rows: tables, indexes and triggers, version by version, and what is there that
no version makes."""

import functools
import re
import sqlite3

from msgspec import Struct

from ravden.journal.sums import register

_TEXTS = ("at", "logged_at", "instrument", "body")
_SUM = f"row_sum(id, {', '.join(f'CAST({name} AS BLOB)' for name in _TEXTS)}, corrects, act)"
ENTRY_FIXED = (
    "CREATE TRIGGER entry_fixed BEFORE UPDATE ON entry BEGIN SELECT RAISE(ABORT, 'the journal keeps entries'); END"
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
        ENTRY_FIXED,
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
    (  # 3: what was done at one stroke is read, and taken back, as one
        "ALTER TABLE entry ADD COLUMN act INTEGER",
        "CREATE INDEX entry_act ON entry (act) WHERE act IS NOT NULL",
        "CREATE TABLE act (id INTEGER PRIMARY KEY, entries INTEGER NOT NULL) STRICT",
        # A copy belongs to the shop it was made of, whatever file has its name now.
        "CREATE TABLE shop (id TEXT NOT NULL) STRICT",
        "INSERT INTO shop VALUES (lower(hex(randomblob(16))))",
    ),
    (  # 4: what a disk has changed is noticed; none where a row was put in by other hands than Ravden's
        "ALTER TABLE entry ADD COLUMN sum INTEGER",
        "ALTER TABLE lesson ADD COLUMN sum INTEGER",
        "ALTER TABLE person ADD COLUMN sum INTEGER",
        "DROP TRIGGER entry_fixed",
        f"UPDATE entry SET sum = {_SUM}",
        ENTRY_FIXED,
        "UPDATE lesson SET sum = row_sum(CAST(instrument AS BLOB), upto, CAST(body AS BLOB))",
        "UPDATE person SET sum = row_sum(id, CAST(name AS BLOB))",
    ),
    (  # 5: what was shown last stands beside what happened: the plan of the shop above all
        "CREATE TABLE remembered (name TEXT PRIMARY KEY, body TEXT NOT NULL, sum INTEGER NOT NULL) STRICT",
    ),
)
VERSION = len(MIGRATIONS)
SUMS = {
    "entry": _SUM,
    "lesson": "row_sum(CAST(instrument AS BLOB), upto, CAST(body AS BLOB))",
    "person": "row_sum(id, CAST(name AS BLOB))",
}
MOST_PARTS, MOST_LETTERS = 60, 20_000  # of a schema that is looked at: ours has a dozen of a few lines


class Strange(Struct, frozen=True, kw_only=True):
    """What a schema has that its version does not: wanting: what is made again, as SQL; else: the first part no Ravden
    made, or made so, in words, empty where there is none."""

    wanting: tuple[str, ...] = ()
    other: str = ""


def strange(db: sqlite3.Connection, version: int) -> Strange:
    """How a file's schema differs from that of its version; nothing of it is run. Our own index reads JSON, which the
    database does not let a schema do that is not trusted: so it is compared, word for word, and then trusted."""
    there: dict[tuple[str, str], str] = {}
    rows = db.execute(
        "SELECT type, name, substr(sql, 1, ?) FROM sqlite_schema WHERE sql IS NOT NULL LIMIT ?",
        (MOST_LETTERS, MOST_PARTS),
    )
    for kind, name, sql in rows:
        if name != "sqlite_sequence":
            there[str(kind), str(name)] = _plain(str(sql))
    ours = _expected(version)
    for part, sql in there.items():
        if part not in ours:
            return Strange(other=f"a {part[0]} called {part[1]} that no Ravden made")
        if _plain(ours[part]) != sql:
            return Strange(other=f"a {part[0]} {part[1]} that is not as Ravden makes it")
    missing = [part for part in ours if part not in there]
    for kind, name in missing:
        if kind == "table":
            return Strange(other=f"no table {name}")
    return Strange(wanting=tuple(ours[part] for part in missing))


@functools.cache
def _expected(version: int) -> dict[tuple[str, str], str]:
    db = sqlite3.connect(":memory:", isolation_level=None)
    try:
        register(db)
        for statements in MIGRATIONS[:version]:
            for statement in statements:
                db.execute(statement)
        rows = db.execute("SELECT type, name, sql FROM sqlite_schema WHERE sql IS NOT NULL").fetchall()
    finally:
        db.close()
    return {(kind, name): sql for kind, name, sql in rows if name != "sqlite_sequence"}


def _plain(sql: str) -> str:
    """A statement without what one version of the database writes otherwise than another."""
    return re.sub(r"[\s\"`\[\]]+", "", sql).lower()
