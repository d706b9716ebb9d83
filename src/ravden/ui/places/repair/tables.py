"""The page of what went wrong as tables. No Qt."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ravden.text.tables import Table

if TYPE_CHECKING:
    from ravden.ui.places.repair.presenter import PageShown


def tables(shown: PageShown) -> tuple[Table, ...]:
    """Its repairs side by side, its causes, and the defects of the instrument."""
    ways = tuple((w.name, w.ready, w.numbers, w.best, w.risk) for w in shown.ways)
    causes = tuple((c.confidence, c.words) for c in shown.causes)
    rows = tuple((r.label, r.about) for r in shown.rows)
    return (
        Table(title=f"{shown.label}: what puts it right", columns=("repair", "ready", "takes", "best at", "risk"),
              rows=ways),
        Table(title=f"{shown.label}: what did it", columns=("how sure", "why"), rows=causes),
        Table(title=shown.title, columns=("defect", "state"), rows=rows),
    )  # fmt: skip
