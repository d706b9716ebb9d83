"""``ravden compute level``: strokes of a block, pad or finger over a surface told in waves, peel and runs."""

from __future__ import annotations

from typing import Any, Literal

import msgspec
import numpy as np

from ravden.catalogue.tables import Catalogue
from ravden.core.abrasive.grades import find
from ravden.core.abrasive.scratch import Rung, removal_constant
from ravden.core.errors import InputError, need, need_above, need_in
from ravden.core.surface import panel
from ravden.core.surface.block import BlockWork, Face, lanes, wander
from ravden.core.surface.contact import Backs, Cells, Levelling, Rubbing, backs_of
from ravden.core.surface.paper import Paper
from ravden.exchange.case import Case

MOST_STROKES = 5_000
CELLS = (64, 512)
ROW = 32  # places of the middle row that are told
ITERATIONS = 4
USUAL_V_M_S = 0.4


class SurfaceIn(Case):
    """A part of the surface, added to the others; which of the other fields it takes depends on its kind."""

    kind: Literal["wave", "peel", "run", "flat"]
    a_um: float | None = None
    pv_um: float | None = None
    lambda_mm: list[float] | None = None
    seed: int | None = None
    height_um: float | None = None
    at_mm: list[float] | None = None
    half_mm: list[float] | None = None


class BackingIn(Case):
    """A backing that is not shipped."""

    E_kPa: float
    t_mm: float
    D: float


class PaperIn(Case):
    """The paper: a grade, or its grain."""

    grade: str | None = None
    grain_um: float | None = None
    kappa_um_kPa_m: float | None = None


class LevelIn(Case):
    """A surface and the strokes it gets: all over it with an even load, or block by block in passes."""

    surface: list[SurfaceIn]
    paper: PaperIn
    size_mm: float = 60.0
    cells: int = 256
    film_um: float | list[list[float]] = 120.0
    backing: str | BackingIn = "firm"
    hardness_MPa: float = 120.0
    load_kPa: float = 2.0
    stroke_m: float = 0.1
    mode: Literal["wet", "dry"] = "wet"
    lanes: bool = False
    clog: bool = False
    area_ratio: float = 1.0
    sample_n: list[int] | None = None
    until_touched: float | None = None
    block_mm: list[float] | None = None
    passes: list[list[float]] | None = None
    repeat: int = 1


FIELDS = {
    "wave": ("a_um", "lambda_mm"), "peel": ("pv_um", "lambda_mm", "seed"), "run": ("height_um", "at_mm", "half_mm"),
    "flat": (),
}  # fmt: skip


def level(case: LevelIn, catalogue: Catalogue) -> dict[str, Any]:
    """What is left of the surface, at each count of strokes that was asked for."""
    need_in(case.cells, *CELLS, "cells")
    need_in(case.size_mm, 5, 1000, "size_mm", "mm")
    need_in(case.load_kPa, 0.01, 1000, "load_kPa", "kPa")
    need_in(case.stroke_m, 1e-4, 10, "stroke_m", "m")
    need_in(case.hardness_MPa, 1, 1e4, "hardness_MPa", "MPa")
    need_in(case.area_ratio, 0.01, 1e5, "area_ratio")
    need(1 <= len(case.surface) <= 100, "surface", f"between 1 and 100 parts (got {len(case.surface)})")
    dx = case.size_mm / case.cells
    height = np.sum([_part(part, i, case.cells, dx) for i, part in enumerate(case.surface)], axis=0).astype(np.float32)
    film = _film(case)
    rubbing, speed = _rubbing(case, catalogue)
    paper = Paper(grain_um=rubbing.grain_um, mode=case.mode)
    if case.passes is not None or case.block_mm is not None:
        return _passes(case, rubbing, speed, BlockWork(height, film, dx), paper)
    need(case.repeat == 1, "repeat", "belongs to passes")
    return _strokes(case, rubbing, speed, Levelling(height, film, dx), paper)


def _strokes(case: LevelIn, rubbing: Rubbing, speed: float, work: Levelling, paper: Paper) -> dict[str, Any]:
    wanted = case.sample_n or []
    if case.until_touched is None:
        need(len(wanted) > 0, "sample_n", "say at which strokes, or until_touched")
    else:
        need(not wanted, "until_touched", "goes without sample_n")
        need_in(case.until_touched, 0.001, 1, "until_touched")
    for i, n in enumerate(wanted):
        need(1 <= n <= MOST_STROKES, f"sample_n[{i}]", f"must be between 1 and {MOST_STROKES} (got {n})")
    y = (np.arange(case.cells, dtype=np.float32)[:, None] + 0.5) * work.dx_mm
    samples: list[dict[str, float]] = []
    for n in range(1, max(wanted, default=MOST_STROKES) + 1):
        cut = paper.cut if case.clog else 1.0
        uneven = lanes(y, wander(n - 1)) if case.lanes else None
        gone = work.rub(rubbing.cutting(cut), case.load_kPa, case.stroke_m, uneven)
        paper = paper.after(gone * case.area_ratio)
        done = case.until_touched is not None and _touched(work, rubbing) >= case.until_touched
        if n in wanted or done:
            minutes = n * case.stroke_m * case.area_ratio / speed / 60
            samples.append(_sample(work, rubbing, n, minutes, paper.cut if case.clog else 1.0))
        if done:
            break
    else:
        if case.until_touched is not None:
            raise InputError("until_touched", f"is not reached in {MOST_STROKES} strokes")
    return {"samples": samples, "volume_um_mm2": float(work.gone_um.sum(dtype=np.float64)) * work.dx_mm**2}


def _passes(case: LevelIn, rubbing: Rubbing, speed: float, work: BlockWork, paper: Paper) -> dict[str, Any]:
    need(case.passes is not None and len(case.passes) > 0, "passes", "are needed with block_mm")
    need(case.block_mm is not None, "block_mm", "is needed with passes")
    need(case.until_touched is None, "until_touched", "does not go with passes")
    assert case.passes is not None and case.block_mm is not None
    need(len(case.block_mm) == 2, "block_mm", "must be two sides")
    need_in(case.repeat, 1, MOST_STROKES, "repeat")
    count = len(case.passes) * case.repeat
    need(count <= MOST_STROKES, "passes", f"at most {MOST_STROKES} with repeat (got {count})")
    for i, one in enumerate(case.passes):
        need(len(one) == 3, f"passes[{i}]", "must be x_mm, y_mm, slide_m")
        for value, name in zip(one[:2], ("x_mm", "y_mm"), strict=True):
            need_in(value, -1000, 2000, f"passes[{i}].{name}", "mm")
        need_in(one[2], 1e-6, 100, f"passes[{i}].slide_m", "m")
    for i, n in enumerate(case.sample_n or []):
        need(1 <= n <= count, f"sample_n[{i}]", f"must be between 1 and {count} (got {n})")
    face = Face(wide_mm=case.block_mm[0], high_mm=case.block_mm[1], lanes=case.lanes)
    samples, slid, wanted = [], 0.0, case.sample_n or [count]
    for n in range(1, count + 1):
        x, y, slide = case.passes[(n - 1) % len(case.passes)]
        took = work.move(rubbing.cutting(paper.cut if case.clog else 1.0), face, case.load_kPa, (x, y), slide)
        paper, slid = paper.after(took / face.area_mm2), slid + slide
        if n in wanted:
            samples.append(_sample(work, rubbing, n, slid / speed / 60, paper.cut if case.clog else 1.0))
    middle = work.gone_um[case.cells // 2, np.arange(ROW) * case.cells // ROW]
    return {"samples": samples, "volume_um_mm2": work.volume_um_mm2, "row_um": [float(v) for v in middle]}


def _touched(work: Levelling | BlockWork, rubbing: Rubbing) -> float:
    return float(np.mean(work.gone_um >= rubbing.touched_um))


def _sample(work: Levelling | BlockWork, rubbing: Rubbing, n: int, minutes: float, cut: float) -> dict[str, float]:
    gone = work.gone_um
    return {
        "n": n, "minutes": minutes, "touched": _touched(work, rubbing), "mean_um": float(gone.mean(dtype=np.float64)),
        "p95_um": float(np.percentile(gone, 95)), "max_um": float(gone.max()),
        "rms_um": float(work.height_um.std(dtype=np.float64)), "pv_um": panel.peak_to_valley_um(work.height_um),
        "film_min_um": float(work.film_um.min()), "through": float(np.mean(work.film_um <= 0)), "cut": cut,
    }  # fmt: skip


def _part(part: SurfaceIn, i: int, cells: int, dx_mm: float) -> panel.Floats:
    at = f"surface[{i}]"
    for name in SurfaceIn.__struct_fields__:
        if name != "kind" and (getattr(part, name) is None) != (name not in FIELDS[part.kind]):
            does = "is needed for" if name in FIELDS[part.kind] else "does not belong to"
            raise InputError(f"{at}.{name}", f"{does} a {part.kind}")
    for name in ("lambda_mm", "at_mm", "half_mm"):
        pair = getattr(part, name)
        need(pair is None or len(pair) == 2, f"{at}.{name}", "must be two numbers")
        for value in pair or ():
            need_in(value, -1000 if name == "at_mm" else 0, 10_000, f"{at}.{name}", "mm")
    for name in ("a_um", "pv_um", "height_um"):
        if (value := getattr(part, name)) is not None:
            need_in(value, -1000 if name == "a_um" else 0, 1000, f"{at}.{name}", "um")
    if part.kind == "wave":
        assert part.a_um is not None and part.lambda_mm is not None
        return panel.wave(cells, dx_mm, part.a_um, (part.lambda_mm[0], part.lambda_mm[1]))
    if part.kind == "peel":
        assert part.pv_um is not None and part.lambda_mm is not None and part.seed is not None
        need(part.seed >= 0, f"{at}.seed", f"must not be negative (got {part.seed})")
        try:
            return panel.peel(cells, dx_mm, part.pv_um, (part.lambda_mm[0], part.lambda_mm[1]), part.seed)
        except InputError as error:
            raise error.within(at) from None
    if part.kind == "run":
        assert part.height_um is not None and part.at_mm is not None and part.half_mm is not None
        need_above(min(part.half_mm), 0, f"{at}.half_mm", 1000)
        return panel.run(
            cells, dx_mm, part.height_um, (part.at_mm[0], part.at_mm[1]), (part.half_mm[0], part.half_mm[1])
        )
    return np.zeros((cells, cells))


def _film(case: LevelIn) -> Cells:
    if isinstance(case.film_um, float):
        need_in(case.film_um, 0, 5000, "film_um", "um")
        return np.full((case.cells, case.cells), case.film_um, dtype=np.float32)
    rows = {len(row) for row in case.film_um}
    need(len(case.film_um) == case.cells and rows == {case.cells}, "film_um", "must have as many cells as the surface")
    film = np.array(case.film_um, dtype=np.float32)
    need(bool(np.isfinite(film).all() and film.min() >= 0 and film.max() <= 5000), "film_um", "must be 0 to 5000 um")
    return film


def _rubbing(case: LevelIn, catalogue: Catalogue) -> tuple[Rubbing, float]:
    """The paper on its backing, and how fast it is moved [m/s]."""
    shipped = catalogue.backings.get(case.backing) if isinstance(case.backing, str) else None
    if isinstance(case.backing, BackingIn):
        try:
            backs: Backs | None = Backs(**msgspec.structs.asdict(case.backing))
        except InputError as error:
            raise error.within("backing") from None
    else:
        backs = None if shipped is None else backs_of(shipped)
    if backs is None:
        known = ", ".join(b.id for b in catalogue.backings.values() if backs_of(b) is not None)
        raise InputError("backing", f"must be one of {known}, or told in E_kPa, t_mm and D (got {case.backing})")
    paper, kappa = case.paper, case.paper.kappa_um_kPa_m
    need((paper.grade is None) != (paper.grain_um is None), "paper", "give its grade or its grain_um, one of them")
    if paper.grade is not None:
        try:
            grade = find(catalogue.abrasives, paper.grade)
        except InputError as error:
            raise InputError("paper.grade", error.said) from None
        need(grade.kind == "paper", "paper.grade", f"must be a paper (got {paper.grade})")
        grain = grade.grain_um
        if kappa is None:
            rung = Rung(
                abrasive=grade, backing=shipped or catalogue.backings["firm"], mode=case.mode,
                hardness_MPa=case.hardness_MPa,
            )  # fmt: skip
            kappa = 1000 * removal_constant(rung) / case.hardness_MPa
    else:
        assert paper.grain_um is not None
        grain = paper.grain_um
        need(kappa is not None, "paper.kappa_um_kPa_m", "is needed with grain_um")
    try:
        rubbing = Rubbing(grain_um=grain, kappa=kappa or 0.0, backs=backs, iterations=ITERATIONS)
    except InputError as error:
        raise error.within("paper") from None
    return rubbing, shipped.v_m_s if shipped is not None else USUAL_V_M_S


class ShotIn(Case):
    """A photo, and where its lamp was."""

    path: str
    lamp: Literal["low", "low-other", "broad"]


class InspectIn(Case):
    """Two or three photos of one panel. corners_px: of the first, upright: top left, top right, bottom right, bottom
    left; untouched_mm: x, y, width and height of a place not to be looked at, such as a taped corner."""

    shots: list[ShotIn]
    corners_px: list[list[float]]
    size_mm: list[float]
    untouched_mm: list[float] | None = None


def inspected(case: InspectIn, catalogue: Catalogue) -> dict[str, Any]:
    """What the fixed rule makes of the photos."""
    from pathlib import Path

    from ravden.core.surface.look import CANNOT_TELL, LIMIT_FROM
    from ravden.exchange.inspecting import Shot, inspect

    need(len(case.size_mm) == 2, "size_mm", "must be a width and a height")
    for i, corner in enumerate(case.corners_px):
        need(len(corner) == 2, f"corners_px[{i}]", "must be two numbers")
    corner_mm = None
    if case.untouched_mm is not None:
        need(len(case.untouched_mm) == 4, "untouched_mm", "must be x, y, width and height")
        for value in case.untouched_mm:
            need_in(value, 0, 2000, "untouched_mm", "mm")
        x, y, w, h = case.untouched_mm
        corner_mm = (x, y, w, h)
    found = inspect(
        [Shot(path=Path(s.path), lamp=s.lamp) for s in case.shots],
        tuple((c[0], c[1]) for c in case.corners_px), (case.size_mm[0], case.size_mm[1]), corner_mm,
    )  # fmt: skip
    look = found.look
    return {
        "shots": [
            {"sha256": s.sha256 or None, "px_per_mm": s.px_per_mm, "shift_px": list(s.shift_px), "clipped": s.clipped,
             "refused": s.refused or None} for s in found.shots
        ],
        "verdict": look.verdict if look is not None else CANNOT_TELL,
        "why": list(found.why),
        "lit_share": look.lit_share if look is not None else None,
        "spots": [{"x_mm": s.x_mm, "y_mm": s.y_mm, "mm2": s.mm2} for s in (look.spots if look is not None else ())],
        "limit_from": LIMIT_FROM,
    }  # fmt: skip
