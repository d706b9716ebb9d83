"""Figures of the shop's own in words: what each is, what is usual, and what was found here."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from ravden.core.errors import InputError
from ravden.core.record.word import (
    CUT,
    GUN,
    HOURS,
    MINUTES,
    POLISHING,
    RATE,
    SCRATCH,
    SINK,
    TEXTURE,
    ZONE,
)
from ravden.text import words
from ravden.text.say import grade_name

if TYPE_CHECKING:
    from ravden.catalogue.tables import Catalogue
    from ravden.text.units import Units

Z90 = 1.645  # of a normal: nine times in ten
SURE = ((0.08, "sure"), (0.18, "fairly sure"), (0.30, "a first idea"), (math.inf, "hardly known"))
HANDS = {
    "coats": "a coat", "spray": "a coat by gun", "brush": "a coat by brush", "pad": "a coat by pad",
    "wipe": "a coat by cloth", "prepare": "preparing wood", "colour": "colouring", "pores": "filling pores",
    "mask": "masking", "finish": "finishing off", "scuff": "a scuff", "level": "levelling", "rub-out": "rubbing out",
}  # fmt: skip
SHAPES = {"waisted": "guitar body", "bowed": "violin body", "box": "box", "shell": "drum shell", "neck": "neck alone"}
GROUPS = {
    GUN: "Coats", ZONE: "Coats", RATE: "Drying", SINK: "Drying", TEXTURE: "Sanding", CUT: "Sanding",
    SCRATCH: "Sanding", MINUTES: "Time", POLISHING: "Time", HOURS: "Time",
}  # fmt: skip
ORDER = (GUN, ZONE, RATE, SINK, TEXTURE, CUT, SCRATCH, MINUTES, POLISHING, HOURS)
BY_GRADE = "minutes told with a sanding, or timed on the Booth's own pages without the pauses"
FROM = {
    GUN: "gauge, comb, card and volume readings on each instrument", ZONE: "gauge readings on at least three instruments",
    RATE: "witness cards and what was noticed, taken over when you say so",
    SINK: "looks at finished instruments months later",
    TEXTURE: "peak to valley told before levelling, or what the first grit took between two gauge readings",
    CUT: "gauge readings before and after a rung that was timed", SCRATCH: "gloss read after a rung",
    MINUTES: BY_GRADE, POLISHING: BY_GRADE,
    HOURS: "sessions of the Booth from begin to end, without the waits between coats",
}  # fmt: skip
USED = {
    GUN: "the film of every coat to come", ZONE: "the film on this zone of the next instruments of this shape",
    RATE: "every wait of this finish", SINK: "how much is said to sink after rubbing out",
    TEXTURE: "the first grit and what it takes", CUT: "minutes, paper and strokes of every rung",
    SCRATCH: "which grades follow each other, and the sheen", MINUTES: "minutes of this grade in ladders and plans",
    POLISHING: "minutes of this grade in ladders and plans", HOURS: "hours of hands in plans",
}  # fmt: skip


def name(catalogue: Catalogue, key: str) -> str:
    """What a figure is called."""
    what, _, of = key.partition("/")
    if what == CUT:
        return "How fast your papers cut"
    if what == SCRATCH:
        return "How deep they scratch"
    if what in (GUN, RATE, SINK):
        label = catalogue.materials[of].label if of in catalogue.materials else of
        return {GUN: "Film of a coat", RATE: "How it dries", SINK: "How much it sinks"}[what] + f": {label.lower()}"
    if what == TEXTURE:
        label = catalogue.methods[of].label if of in catalogue.methods else of
        return f"Texture to level: {label[:1].lower()}{label[1:]}"
    if what in (MINUTES, POLISHING):
        return f"Minutes: {grade(catalogue, of)}"
    if what == HOURS:
        return f"Hours: {HANDS.get(of, of)}"
    family, way, zone = _zone(of)
    label = next((h.label for h in catalogue.zone_habits if h.name == zone), zone)
    shape = SHAPES.get(family, family)
    return f"Film on {label.lower()}: {shape}, {'sprayed' if way == 'spray' else 'by hand'}"


def grade(catalogue: Catalogue, of: str) -> str:
    """A grade as it is called at the bench."""
    from ravden.core.abrasive.grades import find

    try:
        return grade_name(find(catalogue.abrasives, of).name)
    except InputError:
        return of.rpartition(":")[2]


def usual(catalogue: Catalogue, key: str, units: Units) -> str:
    """What is assumed where nothing was found."""
    what, _, of = key.partition("/")
    if what == TEXTURE and of in catalogue.methods:
        return units.film(catalogue.methods[of].texture_um)
    if what == ZONE:
        habit = _habit(catalogue, of)
        return "" if habit is None else f"{100 * habit:.0f} %"
    return "as assumed" if what == RATE else "100 %"


def _zone(of: str) -> tuple[str, str, str]:
    """Family, way and zone of a zone's figure; a family may be called anything."""
    family, way, zone = [*of.rsplit("/", 2), "", ""][:3]
    return family, way, zone


def _habit(catalogue: Catalogue, of: str) -> float | None:
    _, way, zone = _zone(of)
    row = next((h for h in catalogue.zone_habits if h.name == zone), None)
    return None if row is None else row.k_spray if way == "spray" else row.k_pad


def here(catalogue: Catalogue, key: str, ln: float, sd: float, units: Units) -> str:
    """What was found here, with the range that holds nine times in ten."""
    what, _, of = key.partition("/")
    low, middle, high = (math.exp(ln + n * Z90 * sd) for n in (-1, 0, 1))
    if what == RATE:
        return words.rate(ln)
    if what == TEXTURE and of in catalogue.methods:
        um = catalogue.methods[of].texture_um
        return f"{units.film(um * middle)} ({units.film_range(um * low, um * high)})"
    if what == ZONE and (habit := _habit(catalogue, of)) is not None:
        return f"{100 * habit * middle:.0f} % ({100 * habit * low:.0f}–{100 * habit * high:.0f})"
    return f"{100 * middle:.0f} % ({100 * low:.0f}–{100 * high:.0f})"


def sure(ln_sd: float) -> str:
    """How sure one can be of a figure."""
    return next(word for most, word in SURE if ln_sd <= most)
