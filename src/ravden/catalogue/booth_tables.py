"""Reads the tables the Booth goes by."""

from __future__ import annotations

import csv
import functools
from collections.abc import Mapping

from ravden.catalogue.reading import read_csv, text_of
from ravden.core.errors import need
from ravden.core.method.habit import AirLimits, CareHabit, Habit, LightHabit, PassHabit, Pot
from ravden.core.session.wet_edge import Place


class BoothTables:
    """Each table read when it is first asked for. applied: the usual way of laying each finish."""

    def __init__(self, applied: Mapping[str, str]) -> None:
        self._applied = applied

    @functools.cached_property
    def _habits(self) -> tuple[tuple[PassHabit, ...], tuple[CareHabit, ...], tuple[LightHabit, ...], tuple[Pot, ...]]:
        return (
            read_csv(text_of("passes.csv"), PassHabit, "passes.csv"),
            read_csv(text_of("aftercare.csv"), CareHabit, "aftercare.csv"),
            read_csv(text_of("lights.csv"), LightHabit, "lights.csv"),
            read_csv(text_of("pots.csv"), Pot, "pots.csv"),
        )

    def habit(self, material: str, way: str = "") -> Habit:
        """How a finish is laid and looked after; way: spray, brush, pad or wipe where it is not its usual one."""
        way = way or self._applied.get(material, "spray")
        passes, cares, lights, pots = self._habits
        mine = sorted((p for p in passes if p.material == material and p.way == way), key=lambda p: p.nth)
        need(all(p.nth == i for i, p in enumerate(mine, 1)), "passes.csv", f"{material} misses a pass")
        return Habit(
            way=way, passes=tuple(mine), cares=tuple(c for c in cares if c.material == material),
            lights=tuple(sorted((r for r in lights if r.material == material), key=lambda r: r.nth)),
            pot=next((p for p in pots if p.material == material), None),
        )  # fmt: skip

    @functools.cached_property
    def places(self) -> dict[str, Place]:
        """Where zones lie: the face they belong to, and what they touch."""
        return {p.zone: p for p in read_csv(text_of("faces.csv"), Place, "faces.csv")}

    @functools.cached_property
    def limits(self) -> dict[str, AirLimits]:
        """The air each family of finishes is laid in."""
        return {a.family: a for a in read_csv(text_of("limits.csv"), AirLimits, "limits.csv")}

    def checks(self, ways: set[str]) -> tuple[tuple[str, str], ...]:
        """What is looked at before a session that lays finishes in these ways: id and words."""
        return tuple((r["id"], r["label"]) for r in self._rows("checklist.csv") if ways & set(r["ways"].split()))

    @functools.cached_property
    def patterns(self) -> dict[tuple[str, str], str]:
        """How paper goes over a zone so that nothing is left out, by kind of zone and wet, dry or machine."""
        return {(r["kind"], r["mode"]): r["pattern"] for r in self._rows("patterns.csv")}

    @functools.cached_property
    def bench_cautions(self) -> dict[str, str]:
        """What sanding wet, dry or by machine asks to be careful of."""
        return {r["mode"]: r["words"] for r in self._rows("bench_cautions.csv")}

    @functools.cached_property
    def cleanups(self) -> dict[str, str]:
        """What becomes of tools, rags and leavings, by the family of a finish."""
        return {r["family"]: r["words"] for r in self._rows("cleanup.csv")}

    @staticmethod
    def _rows(name: str) -> list[dict[str, str]]:
        return list(csv.DictReader(text_of(name).splitlines()))
