"""The Rack as a table. No Qt."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ravden.text import words, written
from ravden.text.tables import Table

if TYPE_CHECKING:
    from datetime import datetime

    from ravden.app.shop_days import ShopDays
    from ravden.ui.places.rack.presenter import RackShown


def tables(shown: RackShown) -> tuple[Table, ...]:
    """Every lane: what is next, what was done, when each window opens."""
    now = shown.now
    rows = []
    for lane in (lane for _, lanes in shown.groups for lane in lanes) if shown.groups else shown.lanes:
        windows = "; ".join(f"{w.label} {words.day(w.likely, now)}" for w in lane.windows if w.likely is not None)
        rows.append(
            (
                lane.name, lane.about.replace("\n", ", "), lane.next_act, lane.next_when, str(len(lane.coats)),
                str(len(lane.planned_coats)), str(len(lane.sandings)), windows,
                "" if lane.promised is None else words.day(lane.promised, now),
            )
        )  # fmt: skip
    columns = (
        "instrument", "what it is", "next", "when", "coats laid", "coats to come", "sandings", "windows", "promised",
    )  # fmt: skip
    return (Table(title=f"{shown.shop}: the Rack", columns=columns, rows=tuple(rows)),)


def days_table(shop: str, planned: ShopDays, now: datetime) -> Table:
    """Every piece of work in the shop's plan, as far as it reaches."""
    rows = tuple(
        (words.day(d.at, now), written.clock(d.at), d.name, d.what, str(d.minutes)) for d in planned.doings
    )  # fmt: skip
    return Table(title=f"{shop}: the days ahead", columns=("day", "from", "on", "what", "hands [min]"), rows=rows)
