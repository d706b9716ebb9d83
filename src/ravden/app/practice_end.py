"""How an exercise ended: its mark, what cost it, and the panel before, after, polished and as film."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct

from ravden.core.surface.defects_seen import RELIEF, SMOOTH_UM, film_seen
from ravden.core.surface.handover import mean_removed_um, saved_um
from ravden.core.surface.panel import EASED_MM, peak_to_valley_um
from ravden.core.surface.score import Score, score
from ravden.core.surface.shade import pixels
from ravden.core.surface.trial import Told, Trial, rms_um
from ravden.text import practice_words as say
from ravden.text import written

if TYPE_CHECKING:
    from ravden.app.practising import Board
    from ravden.catalogue.exercises import Exercise
    from ravden.core.surface.contact import Cells
    from ravden.core.surface.shade import Pixels
    from ravden.text.units import Units

ASKED = (0.75, 0.90, 0.99)  # shares that are to be told by eye
FULL_OFF, NONE_OFF = 0.05, 0.15  # how far off a guess earns all, and nothing
FLAT_GROOVE_UM, DEEP_GROOVE_UM = 1.0, 5.0
CLICK_MM = 3.0
ALL_DULL = 0.97
BAND_MM = (3.0, 8.0)  # where a flat block digs beside an arris
RUN_BESIDE_MM = (6.0, 15.0)


class End(Struct, frozen=True, kw_only=True, eq=False):
    """score: 0 to 100, None where none is given; parts: name, earned and most of each; said: what to know; pictures:
    caption and pixels; film_um: what is left, for a map of it."""

    score: float | None
    parts: tuple[tuple[str, float, float], ...]
    said: tuple[str, ...]
    pictures: tuple[tuple[str, Pixels], ...]
    film_um: Cells
    floor_um: float


def ended(
    exercise: Exercise, trial: Trial, par: Told | None, board: Board, units: Units, *, guesses: Sequence[float] = (),
    clicks: Sequence[tuple[float, float]] = (), peeks: int = 0, time_up: bool = False,
) -> End:  # fmt: skip
    """What came of it. guesses: shares touched when the eye said 75, 90, 99 %; clicks: places [mm] where a stray
    scratch was seen; peeks: times the film was looked at."""
    told = trial.told()
    found: Score | None = None
    if par is not None:
        worked = trial.worked(par)
        found = score(worked)
    if exercise.kind == "lows":
        mark, said = _lows(guesses)
    elif exercise.kind == "halves":
        mark, said = None, _halves(trial, units)
    elif exercise.kind == "fingers":
        mark, said = _fingers(trial, units)
    elif exercise.kind == "strays":
        mark, said = _strays(trial, clicks)
    else:
        assert found is not None and par is not None
        mark, said = found.total, list(say.verdict(trial.worked(par), found, told, par, units))
        said += _beside(exercise, trial, told, par, board, units)
    if time_up:
        said.insert(0, "Time is up.")
    if peeks:
        said.append(
            "You looked through the film once." if peeks == 1 else f"You looked through the film {peeks} times."
        )
    graded = found is not None and mark is not None and exercise.kind in ("rub", "plan")
    return End(
        score=mark, parts=found.parts() if graded and found is not None else (), said=tuple(said),
        pictures=pictures(trial, exercise), film_um=trial.work.film_um.copy(), floor_um=trial.setup.floor_um,
    )  # fmt: skip


def pictures(trial: Trial, exercise: Exercise) -> tuple[tuple[str, Pixels], ...]:
    """Before, after, and as it would polish."""
    trial.wipe()
    work = trial.work
    first = Trial(trial.setup).seen(20.0, 12.0)
    relief = RELIEF if exercise.kind == "fingers" else 1.0
    height = work.height_um * np.float32(relief)
    name = "as it would polish" + (", relief five times" if relief > 1 else "")
    polished = film_seen(height, work.dx_mm, SMOOTH_UM, 20, trial.setup.base)
    return (("before", pixels(first)), ("after", pixels(trial.seen(20.0, 12.0))), (name, pixels(polished)))


def _lows(guesses: Sequence[float]) -> tuple[float, list[str]]:
    marks, said = [], []
    for asked, true in zip(ASKED, guesses, strict=False):
        off = abs(true - asked)
        marks.append(min(max(1 - (off - FULL_OFF) / (NONE_OFF - FULL_OFF), 0.0), 1.0))
        said.append(f"{say.share(asked)} by eye were {say.share(true)}")
    mark = 100 * sum(marks) / len(ASKED)
    if not said:
        return 0.0, ["You never said when: press M as you see 75, 90 and 99 % dull."]
    early = [t < a for a, t in zip(ASKED, guesses, strict=False)]
    lean = "The eye is early: the last lows are small, and many." if all(early) else ""
    return mark, [f"{'; '.join(said)}.", *([lean] if lean else [])]


def _halves(trial: Trial, units: Units) -> list[str]:
    half = trial.setup.cells // 2
    height, before = trial.work.height_um, trial.before_um[:, :half]
    left, right, first = (rms_um(h) for h in (height[:, :half], height[:, half : 2 * half], before))
    touched = trial.work.gone_um >= trial.touched_um
    dull = [float(part.mean()) for part in (touched[:, :half], touched[:, half : 2 * half])]
    said = [f"Of waves of {units.film(first)} the block left {units.film(left)}, the pad {units.film(right)}."]
    if min(dull) >= ALL_DULL:
        said.append("Both looked dull. Polished, the pad's side breaks up the lamp: dull is not level.")
    else:
        block, pad = (say.share(d) for d in dull)
        said.append(f"Dull were {block} under the block, {pad} under the pad: go on until both are.")
    return said


def _fingers(trial: Trial, units: Units) -> tuple[float, list[str]]:
    gone = trial.told().mean_um
    groove = peak_to_valley_um(trial.work.height_um)
    mark = 100 * min(max((DEEP_GROOVE_UM - groove) / (DEEP_GROOVE_UM - FLAT_GROOVE_UM), 0.0), 1.0)
    said = [f"{units.film(gone)} off in the mean, and grooves of {units.film(groove)} from crest to valley."]
    if groove > FLAT_GROOVE_UM:
        said.append("A finger presses where it is, and not between: try the same with a block (B, K).")
    return (mark if gone > 0 else 0.0), said


def _strays(trial: Trial, clicks: Sequence[tuple[float, float]]) -> tuple[float, list[str]]:
    found, false = set(), 0
    for x, y in clicks:
        near = trial.strays_near(x, y, CLICK_MM)
        if near is None:
            false += 1
        else:
            found.add(near)
    there = len(trial.strays)
    mark = 100.0 if not there and not false else max(100 * (len(found) - 0.5 * false) / max(there, 1), 0.0)
    was = "There was none." if not there else f"{len(found)} of {there} found, {there - len(found)} missed."
    said = [was]
    if false:
        said.append(f"{false} marked where there was nothing.")
    return mark, said


def _beside(exercise: Exercise, trial: Trial, told: Told, par: Told, board: Board, units: Units) -> list[str]:
    """What an exercise of this kind is there to show."""
    film, dx = trial.work.film_um, trial.work.dx_mm
    if exercise.edge:
        arris = float(film[:, : max(1, round(EASED_MM / dx))].min())
        band = float(film[:, round(BAND_MM[0] / dx) : round(BAND_MM[1] / dx)].min())
        return [f"Least film at the arris {units.film(arris)}, 3 to 8 mm in {units.film(band)}."]
    if exercise.run_um:
        y, x = np.mgrid[: len(film), : len(film)] * dx - trial.size_mm / 2
        beside = (np.abs(x) > RUN_BESIDE_MM[0]) & (np.abs(x) < RUN_BESIDE_MM[1]) & (np.abs(y) < 15)
        gone = float(np.percentile(trial.work.gone_um[beside], 95))
        return [
            f"Beside the run you took {units.film(gone)}; least film there {units.film(float(film[beside].min()))}."
        ]
    if exercise.papers and len(trial.setup.sheets) > 1:
        pv = trial.setup.pv_um
        both = mean_removed_um(pv, 0.99) + NEED_UM
        best = both - saved_um(pv, 0.75, NEED_UM)
        return [
            f"Reckoned for both papers, in the mean: {units.film(both)} if the first goes on to 99 %, "
            f"{units.film(best)} handed over at 75 %. You took {units.film(told.mean_um)}."
        ]
    if exercise.kind == "plan":
        worst = float(np.percentile(trial.work.gone_um, 99.5))
        if not board.plan_um:
            return [f"In the worst spot you took {units.film(worst)}. There is no ladder to beat."]
        more = "You beat it." if worst < board.plan_um and told.touched >= 0.97 else "It is not beaten yet."
        plan = units.film(board.plan_um)
        return [f"In the worst spot you took {units.film(worst)}; the ladder reckons with {plan}. {more}"]
    minutes = written.number(told.minutes, ".1f")
    return [f"{minutes} min, {told.pieces} of {exercise.pieces} pieces."] if exercise.pieces else []


NEED_UM = 4.24  # [ENG] film that erases P800's scratches before P1200 (docs/maths.md)
