"""The grades of paper, wool and polish."""

from __future__ import annotations

import csv
from typing import Any

from ravden.catalogue.reading import convert, text_of
from ravden.core.abrasive.grades import Abrasive

ABRASIVE_KINDS = {
    "foam disc": "foam", "polish": "polish", "wool": "wool", "non-woven": "wool", "cushioned cloth/pad": "cushion",
    "powder": "powder", "powder/bonded": "stone",
}  # fmt: skip
SCRATCH_OF_PAPER = {"CUSHION-CLOTH": 0.4, "GARNET": 0.85}  # [ENG] from the basis column of grades.csv

CLUMPS = {"rottenstone": 2.0}  # [A] it settles in clumps


def abrasives() -> tuple[Abrasive, ...]:
    """Every grade that can be a rung."""
    polishes = {row["label"]: row for row in csv.DictReader(text_of("polishes.csv").splitlines())}
    covered = {row["label"]: row["covered"] for row in csv.DictReader(text_of("wools.csv").splitlines())}
    out = []
    for line, row in enumerate(csv.DictReader(text_of("grades.csv").splitlines()), start=2):
        kind = ABRASIVE_KINDS.get(row["kind"], "paper")
        polish = polishes.get(row["label"])
        raw: dict[str, Any] = {k: row[k] for k in ("system", "label", "d50_um", "low_um", "high_um", "basis")}
        raw["kind"] = kind
        raw["scratch"] = SCRATCH_OF_PAPER.get(row["system"], CLUMPS.get(row["label"], 1.0))
        raw["covered"] = covered.get(row["label"], "1")
        if polish is not None:
            raw |= {"ra_um": polish["ra_um"], "polish_k": polish["k"], "polish_max_um": polish["d_max_um"]}
        out.append(convert(raw, Abrasive, f"grades.csv, line {line}"))
    return tuple(out)
