"""The tables of what goes wrong and what puts it right."""

from __future__ import annotations

from ravden.catalogue.reading import read_csv, text_of
from ravden.core.errors import need
from ravden.core.repair.table import DefectKind, MendHabit, Recipe, Tables


def repair_tables() -> Tables:
    """All of them, each row checked against the others."""
    kinds = {k.id: k for k in read_csv(text_of("defects.csv"), DefectKind, "defects.csv")}
    mends = {m.op: m for m in read_csv(text_of("mends.csv"), MendHabit, "mends.csv")}
    recipes = read_csv(text_of("repairs.csv"), Recipe, "repairs.csv")
    for i, row in enumerate(recipes):
        need(row.defect in kinds, f"repairs.csv row {i + 2}", f"there is no defect called {row.defect}")
        for op in row.operations:
            need(op in mends or op.rstrip("?") in mends, f"repairs.csv row {i + 2}", f"there is no operation {op}")
    return Tables(kinds=kinds, mends=mends, recipes=tuple(recipes))
