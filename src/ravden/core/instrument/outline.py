"""Outlines from a few measurements (docs/maths.md).

waisted, bowed: half-width as a sine series through the two bouts and the waist with rounded ends, whose plan area is
exactly pi L b_1 / 2; points: a closed periodic spline through control points, scaled to length and width; box and
shell: a rectangle of length and width, and a round drum of that diameter, whose skin is no zone; neck: a neck alone,
which has no body: a taper of its length that is drawn, and no area.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from ravden.core.errors import InputError, need
from ravden.core.record import Measures

Floats = NDArray[np.float64]

TERMS = 8  # six give pinched, self-crossing tails
END_RADIUS = {"waisted": (0.85, 0.85), "bowed": (0.60, 0.62)}  # [A] of the upper and lower bout
POINTS = 400
BOX, SHELL, NECK = "box", "shell", "neck"


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Outline:
    """A body seen from the front: points (n, 2) in mm from the neck end, closed; areas [cm2], perimeter [mm].

    plan_cm2: its projection, 0 of a neck alone; face_cm2: top or back as it must be coated: more where it is arched.
    """

    points: Floats
    plan_cm2: float
    face_cm2: float
    perimeter_mm: float
    sides_cm2: float

    def __post_init__(self) -> None:
        self.points.setflags(write=False)


def sine_terms(m: Measures) -> Floats:
    """Coefficients b_k [mm] of w(t) = sum b_k sin(k t), x = L (1 - cos t)/2: half-widths and level tangents at the
    three stations, end radii at both ends."""
    rn, rt = END_RADIUS[m.family]
    k = np.arange(1, TERMS + 1)
    rows, rhs = [], []
    for share, width in zip(m.stations, (m.upper_mm, m.waist_mm, m.lower_mm), strict=True):
        t = np.arccos(1 - 2 * share)
        rows += [np.sin(k * t), k * np.cos(k * t)]
        rhs += [width / 2, 0.0]
    rows += [k.astype(float), k * (-1.0) ** (k + 1)]
    rhs += [np.sqrt(rn * m.upper_mm * m.length_mm / 2), np.sqrt(rt * m.lower_mm * m.length_mm / 2)]
    out: Floats = np.linalg.solve(np.array(rows), np.array(rhs))
    return out


def sine_outline(m: Measures) -> Outline:
    """Waisted and bowed bodies."""
    b = sine_terms(m)
    t = np.linspace(0, np.pi, POINTS)
    x = m.length_mm * (1 - np.cos(t)) / 2
    w = np.sin(np.outer(t, np.arange(1, TERMS + 1))) @ b
    points = np.column_stack([np.concatenate([x, x[::-1]]), np.concatenate([_cut_away(x, w, m), -w[::-1]])])
    exact = np.pi * m.length_mm * float(b[0]) / 2 / 100
    return _measured(points, m, _shoelace(points) / 100 if m.cutaway_mm > 0 else exact)


def _cut_away(x: Floats, w: Floats, m: Measures) -> Floats:
    """Half-width of the side with a cutaway of depth D and remaining half-width r_0:

    .. math:: w \\le r_0 + (w(D) - r_0)\\left(1 - \\sqrt{1 - (x/D)^2}\\right), \\quad x < D
    """
    if m.cutaway_mm <= 0:
        return w
    at_depth = float(np.interp(m.cutaway_mm, x, w))
    share = np.clip(x / m.cutaway_mm, 0.0, 1.0)
    limit = m.cutaway_left_mm + (at_depth - m.cutaway_left_mm) * (1.0 - np.sqrt(1.0 - share**2))
    return np.where(x < m.cutaway_mm, np.minimum(w, limit), w)


def plain_outline(m: Measures) -> Outline:
    """A box, or a drum's shell."""
    if m.family == BOX:
        half = m.lower_mm / 2
        points = np.array([(0.0, -half), (0.0, half), (m.length_mm, half), (m.length_mm, -half)])
        return _measured(points, m, m.length_mm * m.lower_mm / 100)
    t = np.linspace(0, 2 * np.pi, 2 * POINTS, endpoint=False)
    radius = m.length_mm / 2
    points = np.column_stack([radius - radius * np.cos(t), radius * np.sin(t)])
    made = _measured(points, m, np.pi * radius**2 / 100)
    return replace(made, points=points.copy(), face_cm2=0.0)


def neck_outline(m: Measures) -> Outline:
    """A neck alone, from its head to its heel."""
    at_head, at_heel = m.upper_mm / 2, m.lower_mm / 2
    x = m.neck_length_mm
    points = np.array([(0.0, -at_head), (0.0, at_head), (x, at_heel), (x, -at_heel)])
    return Outline(points=points, plan_cm2=0.0, face_cm2=0.0, perimeter_mm=0.0, sides_cm2=0.0)


def spline_outline(m: Measures, control: Sequence[Sequence[float]]) -> Outline:
    """Bodies given by control points (closed periodic cubic spline, centripetal parameter), scaled to the measures."""
    need(len(control) >= 4, "control", "at least four control points are needed")
    raw = np.array([*control, control[0]], dtype=float)
    raw[:, 0] -= raw[:, 0].min()
    raw[:, 0] *= m.length_mm / np.ptp(raw[:, 0])
    raw[:, 1] *= m.lower_mm / np.ptp(raw[:, 1])
    chord = np.hypot(*np.diff(raw, axis=0).T)
    at = np.concatenate([[0.0], np.cumsum(np.sqrt(chord))])
    points = periodic_spline(at, raw, np.linspace(0, at[-1], 2 * POINTS, endpoint=False))
    return _measured(points, m, _shoelace(points) / 100)


def periodic_spline(at: Floats, values: Floats, where: Floats) -> Floats:
    """A closed cubic spline through values (n + 1, d) at parameters ``at``, first and last the same, at ``where``.

    .. math:: h_{i-1} M_{i-1} + 2 (h_{i-1} + h_i) M_i + h_i M_{i+1} = 6 (s_i - s_{i-1})

    with slopes s and second derivatives M. Source: textbook [S]. Written out because SciPy's costs most of a second of
    start-up, and outlines are needed before the first paint.
    """
    h = np.diff(at)
    n = len(h)
    slope = np.diff(values, axis=0) / h[:, None]
    before = np.roll(h, 1)
    system = np.diag(2 * (before + h))
    index = np.arange(n)
    system[index, (index - 1) % n] += before
    system[index, (index + 1) % n] += h
    m = np.linalg.solve(system, 6 * (slope - np.roll(slope, 1, axis=0)))
    i = np.clip(np.searchsorted(at, where, side="right") - 1, 0, n - 1)
    left, step = (where - at[i])[:, None], h[i][:, None]
    here, there = m[i], m[(i + 1) % n]
    bend = (there - here) / (6 * step) * left**3 + here / 2 * left**2
    out: Floats = values[i] + bend + (slope[i] - step * (2 * here + there) / 6) * left
    return out


def _shoelace(points: Floats) -> float:
    x, y = points[:, 0], points[:, 1]
    return abs(float(x @ np.roll(y, -1) - y @ np.roll(x, -1))) / 2


def _measured(points: Floats, m: Measures, plan_cm2: float) -> Outline:
    closed = np.vstack([points, points[:1]])
    ds = np.hypot(*np.diff(closed, axis=0).T)
    mid = 0.5 * (closed[1:, 0] + closed[:-1, 0]) / m.length_mm
    depth = m.depth_neck_mm + (m.depth_tail_mm - m.depth_neck_mm) * np.clip(mid, 0, 1)
    # [C] an arch of rise H makes a face larger than its projection by about 8 (H / widest)^2.
    arched = 1.0 + 8.0 * (m.arch_mm / float(np.ptp(points[:, 1]))) ** 2
    return Outline(
        points=points, plan_cm2=plan_cm2, face_cm2=plan_cm2 * arched, perimeter_mm=float(ds.sum()),
        sides_cm2=float(ds @ depth) / 100,
    )  # fmt: skip


def outline(m: Measures, shapes: dict[str, Sequence[Sequence[float]]]) -> Outline:
    """The outline of any family; ``shapes`` gives the control points of the spline families by name."""
    if m.family in END_RADIUS:
        return sine_outline(m)
    if m.family in (BOX, SHELL):
        return plain_outline(m)
    if m.family == NECK:
        return neck_outline(m)
    if m.family not in shapes:
        raise InputError("family", f"unknown outline family {m.family}")
    return spline_outline(m, shapes[m.family])
