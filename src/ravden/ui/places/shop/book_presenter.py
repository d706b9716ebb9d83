"""What the Book shows, as plain data. No Qt."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from ravden.app import checks
from ravden.text import words

if TYPE_CHECKING:
    from ravden.app.session import ShopSession


@dataclass(frozen=True, slots=True, kw_only=True)
class BookRow:
    """An instrument in the Book, as a line of the list."""

    id: str
    name: str
    kind: str
    finish: str
    handed: str
    to: str
    looked_for: str  # all it is found by, in small letters


@dataclass(frozen=True, slots=True, kw_only=True)
class BookShown:
    """rows: the newest first; told: what stands over the list; due: which looks are due."""

    rows: tuple[BookRow, ...]
    told: str
    due: str = ""


def rows(session: ShopSession) -> tuple[BookRow, ...]:
    """Every instrument in the Book, the one handed over last first."""
    catalogue, out = session.catalogue, []
    for b in reversed(tuple(session.shop.book.values())):
        kind, finish = catalogue.kinds[b.kind].label if b.kind in catalogue.kinds else b.kind, b.material
        if b.material in catalogue.materials:
            finish = catalogue.materials[b.material].label
        to, day = session.people.get(b.person, ""), session.local(b.handed).date().isoformat()
        came = session.local(b.added).date().isoformat()
        out.append(
            BookRow(
                id=b.id, name=b.name, kind=kind, finish=f"{finish}, {b.sheen}", handed=day, to=to,
                looked_for=" ".join((b.name, kind, finish, b.sheen, day, came, to, b.note)).casefold(),
            )
        )  # fmt: skip
    return tuple(out)


def found(all_rows: tuple[BookRow, ...], words: str) -> BookShown:
    """Those that every word typed is found in."""
    parts = words.casefold().split()
    kept = tuple(r for r in all_rows if all(part in r.looked_for for part in parts))
    if not all_rows:
        return BookShown(rows=(), told="Nothing has been handed over yet. Log, Hand it over (H) moves the instrument "
                         "turned to from the rack into the Book, with all that is known of it.")  # fmt: skip
    if not kept:
        return BookShown(rows=(), told=f"None of {len(all_rows)} has “{words.strip()}” in it.")
    many = f"{len(kept)} of {len(all_rows)} instruments" if parts else f"{len(all_rows)} instruments handed over"
    return BookShown(rows=kept, told="1 instrument handed over" if len(all_rows) == 1 and not parts else many)


MOST_DUE = 4


def due(session: ShopSession) -> str:
    """Looks that are due, in one sentence; empty without any."""
    now = session.local(session.now)
    found = checks.due(session)
    told = [f"{d.name}, {d.months} months on ({words.day(session.local(d.on), now)})" for d in found[:MOST_DUE]]
    more = f" and {len(found) - MOST_DUE} more" if len(found) > MOST_DUE else ""
    return f"A look is due: {'; '.join(told)}{more}." if told else ""
