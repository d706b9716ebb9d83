"""Shop files as earlier versions wrote them."""

import sqlite3
from contextlib import closing

from ravden.journal.copies import fill


def as_version(path, version):
    """Put a file of today in the form of an earlier version, with the entries it has."""
    older = path.with_suffix(".older")
    with closing(sqlite3.connect(path)) as old, closing(sqlite3.connect(older, isolation_level=None)) as new:
        fill(old, new, version)
    for end in ("-wal", "-shm"):
        path.with_name(f"{path.name}{end}").unlink(missing_ok=True)
    older.replace(path)
