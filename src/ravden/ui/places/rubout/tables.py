"""The ladder as tables. No Qt."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ravden.text.tables import Table

if TYPE_CHECKING:
    from ravden.ui.places.rubout.presenter import RubShown


def tables(shown: RubShown) -> tuple[Table, ...]:
    """Every rung, and every zone before and after."""
    unit = shown.ladder.unit
    rungs = tuple(
        (r.grade, r.grain, r.off, r.left, r.scratch, r.sheen, r.band, r.time, r.paper, r.odds, r.look_for, r.hand_over)
        for r in shown.ladder.rungs
    )
    columns = (
        "grade", "grain", f"takes off, {unit}", f"leaves, {unit}", f"scratch, {unit}", "sheen", "at 60° / 20°", "time",
        "paper", "odds", "look for", "handing over",
    )  # fmt: skip
    zones = tuple((z.label, z.before, z.after, z.least, z.odds, z.strokes) for z in shown.zones.zones)
    names = (
        "zone",
        f"film, {unit}",
        f"after, {unit}",
        f"least wanted, {unit}",
        "odds of less",
        "strokes that are safe",
    )
    return (
        Table(title=f"{shown.title}: the ladder", columns=columns, rows=rungs),
        Table(title=f"{shown.title}: its zones", columns=names, rows=zones),
    )
