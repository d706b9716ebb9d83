"""A picture's numbers as a table: read out, copied, or saved. No Qt."""

from __future__ import annotations

import csv
import io

from msgspec import Struct


class Table(Struct, frozen=True, kw_only=True):
    """What a picture shows: a heading, the names of its columns with their units, and its rows."""

    title: str
    columns: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]


def cell(text: str) -> str:
    """A text as a spreadsheet shows it and does not reckon with it."""
    return f"'{text}" if text[:1] in ("=", "+", "-", "@", "\t", "\r") else text


def as_csv(table: Table) -> str:
    """The table for a spreadsheet."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(table.columns)
    writer.writerows([cell(text) for text in row] for row in table.rows)
    return out.getvalue()
