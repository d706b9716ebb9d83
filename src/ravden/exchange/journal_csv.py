"""The journal as a table, one row an entry."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Container, Sequence

from ravden.journal.counting import effective
from ravden.journal.entry import Entry, encode, iso
from ravden.journal.kinds.undone import Undone
from ravden.text.tables import cell

COLUMNS = ("entry", "happened_utc", "written_utc", "instrument", "kind", "counts", "corrects", "details")


def journal_csv(entries: Sequence[Entry], instrument_id: str = "", aside: Container[int] = ()) -> str:
    """Every entry, or those of one instrument; counts: whether it was neither corrected nor taken back; aside: those
    that have no effect, since nobody can tell what they mean."""
    counting = {e.id for e in effective(list(entries))}
    out = io.StringIO()
    table = csv.writer(out, lineterminator="\r\n")
    table.writerow(COLUMNS)
    for e in entries:
        if instrument_id and e.instrument != instrument_id and getattr(e.body, "id", "") != instrument_id:
            continue
        body = json.loads(encode(e.body))
        kind = body.pop("kind")
        counts = "" if isinstance(e.body, Undone) else "yes" if e.id in counting else "no"
        counts = "set aside" if e.id in aside else counts
        table.writerow(
            (e.id, iso(e.at), iso(e.logged_at), cell(e.instrument), kind, counts,
             "" if e.corrects is None else e.corrects,
             json.dumps(body, ensure_ascii=False))
        )  # fmt: skip
    return out.getvalue()
