"""Products and cans as a table, out and in: a row a can, or a product without any.

Columns by their headings: product, what it is, finish, sizes, content_ml, price, bought, opened, use_by, place.
Commas, semicolons or tabs; decimal points or commas. A cell a spreadsheet would take for a formula goes out with an
apostrophe before it and is text when it comes in. A row that cannot be is told by number and left out.
"""

from __future__ import annotations

import csv
import io
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date

from ravden.core.errors import InputError, need
from ravden.core.stock.product import KINDS
from ravden.text.tables import cell
from ravden.text.written import number_in

COLUMNS = ("product", "what", "finish", "sizes", "content_ml", "price", "bought", "opened", "use_by", "place")
MOST_ROWS = 5000
FORMULA = ("=", "+", "-", "@", "\t", "\r")


@dataclass(frozen=True, slots=True, kw_only=True)
class StockRow:
    """A row as read: number in the file; content_ml, price None where the cell is empty."""

    number: int
    product: str
    what: str
    finish: str
    sizes: str
    content_ml: float | None
    price: float | None
    bought: date | None
    opened: date | None
    use_by: date | None
    place: str


@dataclass(frozen=True, slots=True, kw_only=True)
class StockFile:
    """rows that can be; bad: number and why of those left out."""

    rows: tuple[StockRow, ...]
    bad: tuple[tuple[int, str], ...]


def read(text: str, file: str = "the file") -> StockFile:
    """Rows of a table. Raises InputError where it is none, naming the file."""
    lines = text.splitlines()
    need(any(line.strip() for line in lines), file, "is empty")
    need(len(lines) <= MOST_ROWS, file, f"has more than {MOST_ROWS} rows")
    head = next(line for line in lines if line.strip())
    delimiter = max(";\t,", key=head.count)
    try:
        table = [(i, row) for i, row in enumerate(csv.reader(lines, delimiter=delimiter), start=1) if any(row)]
    except csv.Error:
        raise InputError(file, "has a cell that does not end: is a quotation mark missing?") from None
    names = [cell.strip().lower() for cell in table[0][1]]
    need("product" in names, file, f"has no column called product: its first row names {', '.join(COLUMNS)}")
    rows, bad = [], []
    # Where commas stand between the cells, what is in them has points: so it is written here, too.
    decimal = "point" if delimiter == "," else ""
    for number, cells in table[1:]:
        named = {n: _text(c) for n, c in zip(names, cells, strict=False)}
        try:
            rows.append(_row(number, named, decimal))
        except InputError as error:
            bad.append((number, f"{error.path}: {error.said}"))
    return StockFile(rows=tuple(rows), bad=tuple(bad))


def _row(number: int, cells: Mapping[str, str], decimal: str) -> StockRow:
    name, what = cells.get("product", ""), cells.get("what", "").lower() or "finish"
    need(bool(name), "product", "has no name")
    need(what in KINDS, "what", f"{what} is none of {', '.join(KINDS)}")
    return StockRow(
        number=number, product=name, what=what, finish=cells.get("finish", ""), sizes=cells.get("sizes", ""),
        content_ml=_number(cells, "content_ml", decimal), price=_number(cells, "price", decimal),
        bought=_day(cells, "bought"), opened=_day(cells, "opened"),
        use_by=_day(cells, "use_by"), place=cells.get("place", ""),
    )  # fmt: skip


def _number(cells: Mapping[str, str], name: str, decimal: str) -> float | None:
    text = cells.get(name, "").replace(" ", "").replace("\N{NO-BREAK SPACE}", "")
    if not text:
        return None
    value = number_in(text, name, decimal)
    need(0 <= value < 1e9, name, f"{text} cannot be")
    return value


def _day(cells: Mapping[str, str], name: str) -> date | None:
    from ravden.text.written import read_day

    text = cells.get(name, "")
    if not text:
        return None
    found = read_day(text)
    if found is None:
        raise InputError(name, f"{text} is no day: write 2026-11-28")
    return found


def _text(raw: str) -> str:
    clean = raw.strip()
    return clean[1:] if clean.startswith("'") and clean[1:2] in FORMULA else clean


def write(rows: Sequence[Mapping[str, str]]) -> str:
    """The table of rows by column."""
    out = io.StringIO()
    made = csv.DictWriter(out, COLUMNS, lineterminator="\n")
    made.writeheader()
    for row in rows:
        made.writerow({name: cell(row.get(name, "")) for name in COLUMNS})
    return out.getvalue()


def one_column(heading: str, lines: Sequence[str]) -> str:
    """A table of one column."""
    out = io.StringIO()
    made = csv.writer(out, lineterminator="\n")
    made.writerow((heading,))
    made.writerows((cell(line),) for line in lines)
    return out.getvalue()
