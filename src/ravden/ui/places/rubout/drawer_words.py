"""The abrasive drawer: what is owned, what was typed, and the trap of one number on two papers. No Qt."""

import re
from dataclasses import dataclass

from msgspec import structs

from ravden.app.session import ShopSession
from ravden.core.abrasive.grades import (
    CUSTOM,
    Abrasive,
    ambiguity,
    candidates,
    custom,
    find,
    is_ambiguous,
    twins,
)
from ravden.core.abrasive.scratch import USUAL_WEAR
from ravden.core.errors import InputError
from ravden.core.rubout.rub_out import Drawer
from ravden.journal.kinds.drawer import DrawerSet, OwnAbrasive
from ravden.text import written
from ravden.text.say import say, sentence
from ravden.ui.places.rubout.presenter import BLOCKS

WEARS = (("fresh", 0.1), ("worn in", USUAL_WEAR), ("nearly done", 0.9))
KIND_WORDS = {"paper": "paper", "film": "paper", "foam": "foam", "cushion": "cushion", "wool": "wool",
              "powder": "powder", "compound": "polish"}  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class OwnedShown:
    """A grade in the drawer: id, name, grain with its spread, wear."""

    id: str
    name: str
    grain: str
    wear: float
    wears: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class DrawerShown:
    """The drawer, coarsest first, and the traps in it."""

    rows: tuple[OwnedShown, ...]
    traps: tuple[str, ...]
    blocks: tuple[tuple[str, str], ...]
    block: str


def show(drawer: Drawer) -> DrawerShown:
    """What is owned."""
    grades = sorted(drawer.abrasives, key=lambda a: -a.d50_um)
    return DrawerShown(
        rows=tuple(
            OwnedShown(
                id=a.id, name=a.name, grain=f"{written.number(a.d50_um, 'g')} ({_size(a.low_um)}–{_size(a.high_um)})",
                wear=drawer.wear.get(a.id, USUAL_WEAR), wears=a.coated,
            ) for a in grades
        ),
        traps=traps(grades),
        blocks=tuple((b, drawer.backings[b].label) for b in BLOCKS),
        block=drawer.block,
    )  # fmt: skip


def _size(um: float) -> str:
    return f"{um:.0f}" if um >= 50 else written.number(um, ".3g")


def traps(grades: list[Abrasive]) -> tuple[str, ...]:
    """Pairs in the drawer that carry one number and are not one grain."""
    out = []
    for i, a in enumerate(grades):
        for b in twins(grades[i + 1 :], a):
            out.append(
                f"{a.name} is not {b.name}: {written.number(a.d50_um, 'g')} and {written.number(b.d50_um, 'g')} µm."
            )
    return tuple(out)


def added(session: ShopSession, typed: str) -> tuple[DrawerSet | None, tuple[Abrasive, ...], str]:
    """The drawer with what was typed in it; or, for a bare number, the grades it may mean and the question; or a
    fault in words."""
    known = session.catalogue.abrasives
    text = typed.strip()
    if not text:
        return None, (), "Type a grade, such as P800, or its size, such as 9 micron film."
    micron = re.fullmatch(r"(\d+(?:[.,]\d+)?)\s*(?:um|µm|micron)s?\s*([a-z]*)", text.lower())
    try:
        if micron:
            word = micron[2] or "paper"
            if word not in KIND_WORDS:
                return None, (), f"{word} is no kind of abrasive; say {', '.join(KIND_WORDS)}."
            grade = custom(
                f"{micron[1].replace(',', '.')} µm {word}", float(micron[1].replace(",", ".")), KIND_WORDS[word]
            )
        else:
            meant = candidates(known, text)
            if text.lstrip("#").isdigit() and is_ambiguous(meant):
                return None, meant, say(ambiguity(text, meant), session.units)
            grade = find(known, text, "grade")
    except InputError as error:
        return None, (), sentence(error.said, session.units)
    return with_grade(session, grade)


def with_grade(session: ShopSession, grade: Abrasive) -> tuple[DrawerSet | None, tuple[Abrasive, ...], str]:
    """The drawer with one grade more, and what its number means elsewhere."""
    drawer = session.drawer
    if any(a.id == grade.id for a in drawer.abrasives):
        return None, (), f"{grade.name} is in the drawer already."
    others = ", ".join(f"{t.name} {written.number(t.d50_um, 'g')}" for t in twins(session.catalogue.abrasives, grade))
    note = (
        f"{grade.name} is {written.number(grade.d50_um, 'g')} µm; the same number elsewhere: {others} µm."
        if others
        else ""
    )
    return as_entry(drawer, (*drawer.abrasives, grade)), (), note


def without(drawer: Drawer, grade_id: str) -> DrawerSet:
    """The drawer with one grade less."""
    return as_entry(drawer, tuple(a for a in drawer.abrasives if a.id != grade_id))


def worn(drawer: Drawer, grade_id: str, wear: float) -> DrawerSet:
    """The drawer with a grade this worn."""
    return as_entry(drawer, drawer.abrasives, {**drawer.wear, grade_id: wear})


def on_block(drawer: Drawer, block: str) -> DrawerSet:
    """The drawer with papers used on this block from now on."""
    return structs.replace(as_entry(drawer, drawer.abrasives), block=block)


def as_entry(drawer: Drawer, grades: tuple[Abrasive, ...], wear: dict[str, float] | None = None) -> DrawerSet:
    """The journal's entry of a drawer."""
    ids = {a.id for a in grades}
    worn_now = dict(drawer.wear) if wear is None else wear
    return DrawerSet(
        owned=tuple(a.id for a in grades if a.system != CUSTOM),
        own=tuple(OwnAbrasive(label=a.label, d50_um=a.d50_um, grain=a.kind) for a in grades if a.system == CUSTOM),
        wear={k: v for k, v in worn_now.items() if k in ids}, block=drawer.block,
    )  # fmt: skip
