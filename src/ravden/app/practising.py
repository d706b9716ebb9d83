"""What is practised on: a stock board, or the film and drawer of the instrument turned to. Practice touches neither
journal nor film nor drawer."""

from __future__ import annotations

import zlib
from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING

from msgspec import Struct

from ravden.app.seen import colour_of, film_colour
from ravden.app.settings import save_json
from ravden.catalogue.exercises import Exercise, exercises
from ravden.core.abrasive.grades import find
from ravden.core.abrasive.scratch import REFERENCE_H_MPA, Rung
from ravden.core.errors import InputError
from ravden.core.fact import fact
from ravden.core.surface.contact import Backs, backs_of, rubbing_of
from ravden.core.surface.trial import Setup, Sheet

if TYPE_CHECKING:
    from ravden.catalogue.tables import Catalogue
    from ravden.core.rubout.rub_out import RubOut
    from ravden.core.surface.shade import Colour

STOCK_PAPERS = ("FEPA-P:P600", "FEPA-P:P800", "FEPA-P:P1000", "FEPA-P:P1200", "FEPA-P:P1500", "FEPA-P:P2000")
STOCK_FLOOR_UM, STOCK_SD_UM, LEAST_GRAIN_UM, MOST_GRAIN_UM = 40.0, 6.0, 7.0, 45.0
FIRST_GRAIN_UM = 21.8  # P800, or what is nearest to it
KEPT = 200  # results


class Board(Struct, frozen=True, kw_only=True):
    """What is under the block: a name for it, papers from coarse to fine, how the backings bend, its film and colour.

    plan_um: film the ladder takes with its first paper, 0 without a ladder; learnt: the papers cut as this hand does.
    """

    name: str
    sheets: tuple[Sheet, ...]
    backings: dict[str, Backs]
    base: Colour
    film_um: float = 110.0
    film_sd_um: float = STOCK_SD_UM
    floor_um: float = STOCK_FLOOR_UM
    pv_um: float = 18.0
    brush: bool = False
    pored: bool = False
    plan_um: float = 0.0
    learnt: bool = False


def stock_board(catalogue: Catalogue) -> Board:
    """A board of well-cured lacquer, and six papers."""
    rungs = [
        Rung(abrasive=find(catalogue.abrasives, p), backing=catalogue.backings["firm"], mode="wet",
             hardness_MPa=REFERENCE_H_MPA) for p in STOCK_PAPERS
    ]  # fmt: skip
    return Board(
        name="a stock board", sheets=_sheets(rungs), backings=_backings(catalogue), base=film_colour(catalogue)
    )


def board_of(catalogue: Catalogue, rub: RubOut) -> Board:
    """The film on the first zone of an instrument, and the papers in its drawer.

    Raises InputError in the ladder's words where the film is too soft, where there is none, or no paper to work it.
    """
    project, job = rub.film.project, rub.job
    if not rub.film.done and not project.coats:
        raise InputError("film", "there is no film on it yet: practise on a stock board")
    if rub.at_cured or rub.margin_K is None:
        raise InputError("film", fact("too-soft", margin_K=rub.margin_K or 0.0, least_K=rub.film.least_K))
    papers = [
        r for r in rub.drawer
        if r.abrasive.kind == "paper" and LEAST_GRAIN_UM <= r.abrasive.grain_um <= MOST_GRAIN_UM
    ]  # fmt: skip
    if not papers:
        raise InputError("drawer", "there is no paper for a film in the drawer: put one in (Drawer)")
    zone = job.zones[0]
    firm = [rub.held.rung(r.abrasive, rub.mode, job.hardness_MPa) for r in papers]
    ladder = rub.ladder
    label = next((z.label for z in project.zones if z.name == zone.name), zone.name)
    return Board(
        name=f"{project.instrument.name}, {label.lower()}", sheets=_sheets(firm), backings=_backings(catalogue),
        base=colour_of(catalogue, project), film_um=zone.film_um, film_sd_um=zone.sd_um,
        floor_um=zone.floor * job.min_film_um, pv_um=rub.texture_um,
        brush=project.own_way.get(project.material.id) == "brush", pored=project.instrument.ground == "open-grain",
        plan_um=ladder.steps[0].remove_um if ladder is not None else 0.0,
        learnt=rub.held.hands.cut.readings > 0,
    )  # fmt: skip


def setup_of(exercise: Exercise, board: Board, seed: int, cells: int) -> Setup:
    """An exercise on a board. Raises InputError where the papers it needs are not there."""
    sheets = board.sheets
    if exercise.papers:
        found = [s for s in sheets if s.label in exercise.papers]
        if len(found) < len(exercise.papers):
            needs = " and ".join(exercise.papers)
            raise InputError("drawer", f"this one needs {needs}: practise it on a stock board")
        sheets = tuple(found)
    own = exercise.kind == "plan"
    first = min(range(len(sheets)), key=lambda i: abs(sheets[i].grain_um - FIRST_GRAIN_UM))
    return Setup(
        sheets=sheets, backings=board.backings, base=board.base,
        film_um=board.film_um if own else exercise.film_um, film_sd_um=board.film_sd_um if own else STOCK_SD_UM,
        floor_um=board.floor_um, pv_um=board.pv_um if own else exercise.pv_um, seed=seed, cells=cells,
        mode=exercise.mode, brush=own and board.brush, pored=own and board.pored, edge=exercise.edge,
        run_um=exercise.run_um, pills=exercise.pieces > 0, halves=exercise.kind == "halves", pieces=exercise.pieces,
        strays=hidden(seed, exercise.strays_most), first=first,
    )  # fmt: skip


def hidden(seed: int, most: int) -> int:
    """How many stray scratches a panel hides: none to so many, and nobody can tell by its number."""
    return zlib.crc32(f"strays {seed}".encode()) % (most + 1) if most else 0


def _sheets(rungs: list[Rung]) -> tuple[Sheet, ...]:
    from ravden.text.say import grade_name

    made = [
        Sheet(label=grade_name(r.abrasive.name), grain_um=r.abrasive.grain_um, kappa=rubbing_of(_on_firm(r)).kappa)
        for r in rungs
    ]  # fmt: skip
    return tuple(sorted(made, key=lambda s: -s.grain_um))


def _on_firm(rung: Rung) -> Rung:
    """How a paper cuts does not hang on what is behind it: the shipped ones bend as told, the rest as a firm block."""
    from dataclasses import replace

    from ravden.catalogue.tables import shipped

    return rung if backs_of(rung.backing) is not None else replace(rung, backing=shipped().backings["firm"])


def _backings(catalogue: Catalogue) -> dict[str, Backs]:
    bends = {name: backs_of(b) for name, b in catalogue.backings.items()}
    return {name: b for name, b in bends.items() if b is not None}


class Past(Struct, frozen=True, kw_only=True):
    """A result that was kept: which exercise, which panel, when, and its score."""

    exercise: str
    seed: int
    at: str
    score: float | None = None


def practice_file(settings_file: Path) -> Path:
    """Beside the settings: practice belongs to whoever sits here, not to a shop."""
    return settings_file.with_name("practice.json")


def read_past(file: Path) -> tuple[Past, ...]:
    """What was practised before; a damaged file is begun anew."""
    import msgspec

    try:
        return tuple(msgspec.json.decode(file.read_bytes(), type=list[Past])[-KEPT:])
    except (OSError, msgspec.DecodeError, UnicodeError, RecursionError):
        return ()


def keep(file: Path, exercise: str, seed: int, score: float | None, now: datetime) -> tuple[Past, ...]:
    """Put a result to the others; a folder that cannot be written costs the memory, never the work."""
    past = (*read_past(file), Past(exercise=exercise, seed=seed, at=now.isoformat(timespec="seconds"), score=score))
    save_json(past[-KEPT:], file)
    return past[-KEPT:]


def best(past: tuple[Past, ...], exercise: str) -> float | None:
    """The best score of an exercise so far."""
    scores = [p.score for p in past if p.exercise == exercise and p.score is not None]
    return max(scores, default=None)


def done(past: tuple[Past, ...]) -> set[str]:
    """Exercises that were played to their end."""
    return {p.exercise for p in past} & set(exercises())
