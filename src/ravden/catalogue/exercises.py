"""The exercises of levelling."""

from __future__ import annotations

import functools
from typing import Literal

from msgspec import Struct

from ravden.catalogue.reading import convert, read_toml, text_of


class Exercise(Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """What is to be practised, and on what; hidden: its numbers are not shown while it is a matter of the eye."""

    id: str
    kind: Literal["gloss", "rub", "lows", "halves", "fingers", "strays", "plan"]
    title: str
    task: str
    basis: str
    pv_um: float = 18.0
    film_um: float = 110.0
    edge: bool = False
    run_um: float = 0.0
    mode: str = "wet"
    pieces: int = 0
    strays_most: int = 0
    ends_um: float = 0.0
    hidden: bool = False
    backing: str = "firm"
    face: str = "block"
    papers: tuple[str, ...] = ()


@functools.cache
def exercises() -> dict[str, Exercise]:
    """By id, in the order they are offered in."""
    rows = read_toml(text_of("exercises.toml"), "exercises.toml")["exercise"]
    found = [convert(row, Exercise, f"exercises.toml, exercise {row.get('id', '?')}") for row in rows]
    return {e.id: e for e in found}
