"""The shop's air as a table. No Qt."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ravden.text import words, written
from ravden.text.tables import Table

if TYPE_CHECKING:
    from ravden.text.units import Units
    from ravden.ui.places.shop.presenter import ShopShown

KNOWN = {"told": "told by hand", "log": "logger", "forecast": "forecast", "usual": "usual for the month",
         "own": "as in the last 14 days"}  # fmt: skip


def tables(shown: ShopShown, units: Units) -> tuple[Table, ...]:
    """Every stretch of air shown."""
    rows = tuple(
        (
            words.moment(p.at, shown.now),
            written.number(units.temperature_value(p.temp_C), ".1f"),
            f"{100 * p.rh:.0f}",
            KNOWN.get(p.source, p.source),
        )
        for p in shown.points
    )
    columns = ("from", f"temperature, {units.temperature_unit}", "humidity, %", "known by")
    return (Table(title=f"{shown.name}: the air", columns=columns, rows=rows),)
