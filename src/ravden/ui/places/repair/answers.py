"""Answers about a defect as entries: each is logged as it is given, and leaves the others as they are. No Qt."""

from __future__ import annotations

from dataclasses import dataclass

from msgspec.structs import replace

from ravden.core.record import Mishap
from ravden.journal.kinds.mishap import DefectTold

SHOWS = (("colour", "colour"), ("wood", "wood"))
SPREADS = (("spot", "only that spot"), ("zone", "all of that zone"), ("all", "all of the instrument"))


@dataclass(frozen=True, slots=True, kw_only=True)
class Field:
    """A question with its answers: value and words; value: the one in force, empty where nobody has said."""

    name: str
    label: str
    value: str
    choices: tuple[tuple[str, str], ...]


def told(mishap: Mishap, field: str = "", value: str = "") -> DefectTold:
    """What is known of it with one answer more; an empty one takes the answer back."""
    known = DefectTold(
        defect=mishap.id, place=mishap.place, size_mm=mishap.size_mm, height_um=mishap.height_um,
        depth_um=mishap.depth_um, spread=mishap.spread, told=mishap.told, colour=mishap.colour,
    )  # fmt: skip
    if field == "spread":
        return replace(known, spread=value)
    if field == "colour":
        return replace(known, colour=value == "colour")
    return replace(known, **{field: float(value) if value else None}) if field else known


def answered(mishap: Mishap, code: str, yes: bool | None) -> DefectTold:
    """A question answered, or no longer (None)."""
    others = tuple((c, y) for c, y in mishap.told if c != code)
    return replace(told(mishap), told=others if yes is None else (*others, (code, yes)))


def placed(mishap: Mishap, place: tuple[float, float]) -> DefectTold:
    """Where on the outline it is."""
    return replace(told(mishap), place=place)
