"""The Film place's pictures as tables. No Qt."""

from __future__ import annotations

from datetime import timedelta
from typing import TYPE_CHECKING

import numpy as np

from ravden.text import words, written
from ravden.text.tables import Table

if TYPE_CHECKING:
    from ravden.app.session import ShopSession
    from ravden.core.ahead.outlook import Outlook
    from ravden.ui.places.film.presenter import FilmShown

DEPTHS = (0.95, 0.5, 0.05)  # of the film, from the wood: top, middle, wood
MOST_ROWS = 400


def tables(session: ShopSession, shown: FilmShown, found: Outlook) -> tuple[Table, ...]:
    """The film of the zone looked at through time, and every zone now."""
    units = session.units
    film = units.film_unit
    out = []
    line, now = shown.timeline, session.local(session.now)
    if line is not None:
        every = max(len(line.hours) // MOST_ROWS, 1)
        rows = []
        for i in (*range(0, len(line.hours) - 1, every), len(line.hours) - 1):
            at = session.local(shown.zero + timedelta(hours=float(line.hours[i])))
            depth = line.margin_K[i]
            soft = [float(depth[min(int(share * len(depth)), len(depth) - 1)]) for share in DEPTHS]
            said = [words.at_depth(v) if np.isfinite(v) else "" for v in soft]
            rows.append(
                (
                    f"{words.day(at, now)} {written.clock(at)}",
                    "planned" if line.hours[i] > shown.now_h + 1e-6 else "so far",
                    *(units.film_number(float(v)) for v in (line.film_um[i], line.low_um[i], line.high_um[i])), *said,
                )
            )  # fmt: skip
        columns = (
            "when",
            "",
            f"film, {film}",
            f"least likely, {film}",
            f"most likely, {film}",
            "top",
            "middle",
            "wood",
        )
        out.append(
            Table(title=f"{shown.title}, {shown.zone_label}: film through time", columns=columns, rows=tuple(rows))
        )
    zones = [(r.label, r.film, r.range, r.least, r.odds) for r in shown.rows]
    names = ("zone", f"once dry, {film}", f"nine in ten between, {film}", f"least wanted, {film}", "odds of less")
    out.append(Table(title=f"{shown.title}: film on every zone", columns=names, rows=tuple(zones)))
    return tuple(out)
