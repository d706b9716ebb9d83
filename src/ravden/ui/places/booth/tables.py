"""The Booth as a table. No Qt."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ravden.text.tables import Table

if TYPE_CHECKING:
    from ravden.text.units import Units
    from ravden.ui.places.booth.presenter import BoothShown


def tables(shown: BoothShown | None, units: Units) -> tuple[Table, ...]:
    """What is in the session, and the film of the instrument in hand."""
    if shown is None:
        return ()
    rows = tuple((r.name, r.text) for r in shown.rows)
    zones = tuple(
        (b.label, *(units.film_number(um) for um in (b.mean_um, b.low_um, b.high_um, b.floor_um))) for b in shown.bars
    )
    unit = units.film_unit
    columns = ("zone", f"film, {unit}", f"least likely, {unit}", f"most likely, {unit}", f"least wanted, {unit}")
    return (
        Table(title="In this session", columns=("instrument", "what is next"), rows=rows),
        Table(title=f"{shown.title}: film", columns=columns, rows=zones),
    )
