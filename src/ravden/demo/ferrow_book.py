"""Three guitars of the made-up workshop that were finished and handed over, with what was measured on them: two came as
foretold, one did not, and its note says why."""

from __future__ import annotations

from collections.abc import Callable

from msgspec import Struct

from ravden.journal.kinds.air import AirLogged
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.handed_over import HandedOver
from ravden.journal.kinds.instrument import InstrumentAdded
from ravden.journal.kinds.kind import Kind
from ravden.journal.kinds.mishap import DefectLooked, MishapLogged
from ravden.journal.kinds.reading import ReadingLogged
from ravden.journal.kinds.sanding import SandingLogged
from ravden.journal.kinds.step import StepLogged

Note = Callable[[int, float, str, Kind], None]
Added = Callable[[str, str, str, str, int], InstrumentAdded]
METHOD = "lacquer-fine-start"
PRINTED = MishapLogged(what="print", zone="back", size_mm=60)
PRINT = -1  # its number, until the journal gives it one
TO = {"plover": "M. Arden", "avocet": "the Quay Street players", "teal": "J. Holloway"}  # made up


class Finished(Struct, frozen=True, kw_only=True):
    """One of them. came, level, gone: days ago; films: gauge on top, back and sides, um; soft: days ago that a nail
    still dented it, 0 for never; printed: whether a cloth printed it after levelling; minutes: of P800 and P1200."""

    id: str
    name: str
    came: int
    level: int
    gone: int
    films: tuple[float, float, float]
    texture_um: float
    minutes: tuple[float, float]
    note: str
    promised: int
    soft: int = 0
    printed: bool = False


THREE = (
    Finished(
        id="plover", name="Plover", came=330, level=311, gone=290, films=(127, 131, 101), texture_um=12,
        minutes=(31, 17), promised=292, soft=317, note="Gloss as wished; set up with light strings.",
    ),
    Finished(
        id="avocet", name="Avocet", came=240, level=222, gone=200, films=(121, 118, 97), texture_um=10,
        minutes=(27, 15), promised=202, soft=228, note="For the spring concert.",
    ),
    Finished(
        id="teal", name="Teal", came=150, level=118, gone=88, films=(146, 149, 116), texture_um=14, minutes=(34, 18),
        promised=110, printed=True,
        note="Four weeks, and levelled too soon all the same: the heater was off for most of them, and nobody had told "
        "Ravden of the cold. It printed overnight and was levelled once more.",
    ),
)  # fmt: skip


def book(note: Note, added: Added) -> None:
    """Everything that happened to them."""
    note(331, 8, "", AirLogged(temp_C=20, rh=0.5))
    for one in THREE:
        _one(note, added, one)


def _one(note: Note, added: Added, one: Finished) -> None:
    note(one.came, 8, one.id, added("parlour-guitar", one.name, METHOD, "gloss", one.promised))
    for days_ago, coats in ((one.came - 2, 3), (one.came - 3, 3), (one.came - 4, 3), (one.came - 5, 1)):
        for i in range(coats):
            note(days_ago, 9 + 1.5 * i, one.id, CoatLogged(dry_um=12))
    if one.soft:
        note(one.soft, 12, one.id, ReadingLogged(what="nail-dents"))
    for i, (zone, um) in enumerate(zip(("top", "back", "sides"), one.films, strict=True)):
        note(one.level + 1, 10 + 0.1 * i, one.id, ReadingLogged(zone=zone, um=um, n=3))
    _levelled(note, one, one.level)
    if one.printed:
        note(one.level - 2, 9, one.id, PRINTED)
        _levelled(note, one, one.level - 20)
        note(one.level - 20, 13, one.id, DefectLooked(defect=PRINT, outcome="gone"))
    note(one.gone + 4, 10, one.id, SandingLogged(um=1.2, grade="fine compound", purpose="rub-out", mode="wet"))
    note(one.gone + 4, 11, one.id, ReadingLogged(what="gloss", zone="top", gu60=88))
    note(one.gone + 2, 10, one.id, StepLogged(step="Unmask, relieve, clean, refit"))
    note(one.gone, 16, one.id, HandedOver(note=one.note))


def _levelled(note: Note, one: Finished, days_ago: int) -> None:
    first, second = one.minutes
    note(days_ago, 10, one.id, SandingLogged(um=8, grade="P800", mode="wet", part=True, minutes=first,
                                             texture_um=one.texture_um, zones=("top",)))  # fmt: skip
    rest = ("back", "sides", "neck", "head")
    note(days_ago, 10.6, one.id, SandingLogged(um=8, grade="P800", mode="wet", part=True, zones=rest))
    note(days_ago, 11, one.id, SandingLogged(um=3, grade="P1200", mode="wet", part=True, minutes=second,
                                             zones=("top",)))  # fmt: skip
    note(days_ago, 11.4, one.id, SandingLogged(um=3, grade="P1200", mode="wet", zones=rest))
