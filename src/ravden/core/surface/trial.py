"""A panel that is practised on: what the hand holds, what every stroke does to panel and paper, what is seen of it."""

from __future__ import annotations

import math

import numpy as np
from msgspec import Struct
from msgspec.structs import replace

from ravden.core.errors import InputError, need, need_in
from ravden.core.surface import panel, rake
from ravden.core.surface.block import BlockWork, Face, moves
from ravden.core.surface.contact import SOFT_ITERATIONS, SOFT_KPA, Backs, Cells, Rubbing
from ravden.core.surface.paper import Paper
from ravden.core.surface.rounds import places
from ravden.core.surface.score import Worked
from ravden.core.surface.shade import Colour, Linear, wood

FACES = {
    "block": Face(wide_mm=60.0, high_mm=30.0), "small": Face(wide_mm=35.0, high_mm=20.0),
    "fingers": Face(wide_mm=60.0, high_mm=10.0, lanes=True),
}  # fmt: skip
LOADS_KPA = (0.5, 1.0, 2.0, 4.0, 8.0)
FINGER_KPA = 12.0
STANDS_FOR = (1, 4, 8, 16)  # strokes that one drawn stroke may be
THROUGH_MM2 = 0.5  # bare wood of this much ends it
NEAR_WOOD_UM = 3.0  # film from which on the dust takes the colour of what is under it
WORST_MM = 20.0  # a place is so large, for the most film used in it
DUST_UM, VEIL_UM = 0.8, 0.1  # film that hides a place under dust, and under slurry [A]
PILL_ODDS = 0.02  # a stroke with a clogged paper leaves a stray scratch: a rule of the game
STRAY_MM = (6.0, 18.0)
DRAG_CUT, DRAG_AREA = 0.35, 0.30  # [ENG] of the load that is felt as drag
OVER_MM = 18.0  # how far a face may stand over an edge
BARE: Colour = (0.42, 0.27, 0.13)  # wood without film on it [A]


class Sheet(Struct, frozen=True, kw_only=True):
    """A paper to be had: its name, grain [um] and what it takes [um per kPa and m]."""

    label: str
    grain_um: float
    kappa: float


class Stray(Struct, frozen=True, kw_only=True):
    """A single deep scratch: its middle [mm], its direction [deg] and its length [mm]."""

    x_mm: float
    y_mm: float
    along_deg: float
    long_mm: float


class Setup(Struct, frozen=True, kw_only=True):
    """What is practised on and with.

    film_um, film_sd_um: what is known of the film; halves: left for the block, right for the pad; strays: scratches
    hidden in a panel that is dull all over; pieces: of paper there are, 0: as many as wanted; pills: a clogged paper
    scratches; first: the paper to begin with; v_m_s: speed of the hand.
    """

    sheets: tuple[Sheet, ...]
    backings: dict[str, Backs]
    base: Colour
    film_um: float = 110.0
    film_sd_um: float = 6.0
    floor_um: float = 40.0
    pv_um: float = 18.0
    seed: int = 1
    cells: int = panel.CELLS
    mode: str = "wet"
    brush: bool = False
    pored: bool = False
    edge: bool = False
    run_um: float = 0.0
    halves: bool = False
    strays: int = 0
    pieces: int = 0
    pills: bool = False
    first: int = 0
    v_m_s: float = 0.4

    def __post_init__(self) -> None:
        need(len(self.sheets) > 0, "sheets", "there is no paper to practise with")
        need(0 <= self.first < len(self.sheets), "first", "there is no such paper")
        need_in(self.strays, 0, 20, "strays")
        need_in(self.v_m_s, 0.01, 10, "v_m_s")


class Hold(Struct, frozen=True, kw_only=True):
    """What is in the hand: which paper, on what, how large, which way round, how hard [kPa]."""

    sheet: int = 0
    backing: str = "firm"
    face: str = "block"
    turned: bool = False
    load_kPa: float = 2.0
    stands_for: int = 8

    @property
    def shape(self) -> Face:
        return FACES[self.face].turned() if self.turned else FACES[self.face]


class Told(Struct, frozen=True, kw_only=True):
    """A trial in numbers: share touched, waves left [um], film used in the worst place and the least left [um], wood
    laid bare [mm2], minutes, pieces of paper, and of the paper in hand its cut, load and wear; drag [kPa]."""

    touched: float
    rms_um: float
    used_um: float
    mean_um: float
    least_um: float
    bare_mm2: float
    minutes: float
    strokes: float
    pieces: int
    cut: float
    loaded: float
    worn: float
    drag_kPa: float
    strays: int

    @property
    def through(self) -> bool:
        return self.bare_mm2 > THROUGH_MM2


class Trial:
    """A panel as it is worked. Every act is done in its order; nothing can be taken back."""

    def __init__(self, setup: Setup) -> None:
        self.setup = setup
        made = panel.made(
            film_um=setup.film_um, film_sd_um=setup.film_sd_um, floor_um=setup.floor_um, pv_um=setup.pv_um,
            seed=setup.seed, cells=setup.cells, brush=setup.brush, pored=setup.pored, edge=setup.edge,
            run_um=setup.run_um,
        )  # fmt: skip
        if setup.halves:
            half = setup.cells // 2
            for cells in (made.height_um, made.film_um):
                cells[:, half : 2 * half] = cells[:, :half]
        self.before_um = made.height_um.copy()
        self.work = BlockWork(made.height_um, made.film_um, made.dx_mm)
        self.paper = Paper(grain_um=setup.sheets[setup.first].grain_um, mode=setup.mode)
        self.pieces, self.minutes, self.strokes, self.drag_kPa = 1, 0.0, 0.0, 0.0
        self.strays: list[Stray] = []
        self._sheet, self._rounds = setup.first, 0
        self._veil = np.zeros_like(made.height_um)
        self._bad = np.zeros_like(made.height_um)  # how much of the dust is of what lies under the film
        self._draw = np.random.default_rng(setup.seed + 10)
        self._lines = rake.scratches(made.height_um.shape, made.dx_mm, 15.0, setup.seed)
        self._under = wood(setup.base, setup.cells, setup.cells, made.dx_mm)
        self._dull0: Cells | None = None
        if setup.strays or not setup.pv_um:
            self._dull0 = np.ones_like(made.height_um) if setup.strays else None
        for _ in range(setup.strays):
            self._scratch(tuple(self._draw.uniform(10, self.size_mm - 10, 2)))

    @property
    def under(self) -> Linear:
        """Film and wood in even light."""
        return self._under

    @property
    def size_mm(self) -> float:
        return self.setup.cells * self.work.dx_mm

    @property
    def touched_um(self) -> float:
        """Film gone that shows as touched, by the paper to begin with [um]."""
        return self._rubbing(Hold(sheet=self.setup.first)).touched_um

    def rub(self, start_mm: tuple[float, float], end_mm: tuple[float, float], hold: Hold) -> None:
        """Slide the block from one place to another, for as many strokes as it stands for."""
        need(hold.stands_for in STANDS_FOR, "stands_for", f"must be one of {STANDS_FOR} (got {hold.stands_for})")
        self._take(hold.sheet)
        for at, way_mm in moves(self.kept(start_mm, hold), self.kept(end_mm, hold), hold.shape):
            self._move(at, way_mm * hold.stands_for / 1000.0, hold)

    def round(self, hold: Hold, times: int = 1) -> None:
        """Even rounds over the whole panel, the block turned every other time."""
        for _ in range(times):
            self._rounds += 1
            held = hold if self._rounds % 2 or hold.shape.lanes else replace(hold, turned=not hold.turned)
            self._take(held.sheet)
            for at in self._places(held):
                self._move(at, min(held.shape.wide_mm, held.shape.high_mm) * 2 * hold.stands_for / 1000.0, held)

    def kept(self, at_mm: tuple[float, float], hold: Hold) -> tuple[float, float]:
        """A place as near as the face may stand to it: never more than so far over an edge."""
        sides = (hold.shape.wide_mm, hold.shape.high_mm)
        x, y = (
            min(max(at, side / 2 - OVER_MM), self.size_mm - side / 2 + OVER_MM)
            for at, side in zip(at_mm, sides, strict=True)
        )
        if self.setup.halves:  # the block stays on its half, and the pad on the other
            half, reach = self.size_mm / 2, sides[0] / 2
            x = min(x, max(half - reach, 0.0)) if at_mm[0] < half else max(x, min(half + reach, self.size_mm))
        return x, y

    def _places(self, hold: Hold) -> tuple[tuple[float, float], ...]:
        """Where the block stands in an even round: all over, or on one half after the other."""
        if not self.setup.halves:
            return places(hold.shape, self.size_mm, self.size_mm)
        half = self.size_mm / 2
        on_half = [self.kept(at, hold) for at in places(hold.shape, half, self.size_mm)]
        return tuple(on_half + [(x + half, y) for x, y in on_half])

    def wipe(self) -> None:
        """Panel and paper wiped: what was hidden is seen, the grain is free again for the most part."""
        self._veil[:] = 0
        self._bad[:] = 0
        self.paper = self.paper.wiped()
        self.minutes += 0.2

    def new_piece(self) -> None:
        """A new piece of the same paper. Raises InputError where there is none left."""
        if self.setup.pieces and self.pieces >= self.setup.pieces:
            raise InputError("pieces", f"there were {self.setup.pieces} pieces, and this is the last")
        self.paper = self.paper.new_piece()
        self.pieces += 1
        self.minutes += 0.5

    def told(self) -> Told:
        """Where it stands."""
        work, flat = self.work, self._flat_from()
        return Told(
            touched=float(np.mean(work.gone_um[:, flat:] >= self.touched_um)), rms_um=rms_um(work.height_um, flat),
            used_um=worst_um(work.gone_um, work.dx_mm), mean_um=float(work.gone_um.mean(dtype=np.float64)),
            least_um=float(work.film_um.min()), minutes=self.minutes, strokes=self.strokes, pieces=self.pieces,
            bare_mm2=float(np.count_nonzero((work.film_um <= 0) & (work.gone_um > 0))) * work.dx_mm**2,
            cut=self.paper.cut, loaded=self.paper.loaded, worn=self.paper.worn, drag_kPa=self.drag_kPa,
            strays=len(self.strays),
        )  # fmt: skip

    def worked(self, par: Told) -> Worked:
        """As it is scored, against what careful rounds came to."""
        told = self.told()
        return Worked(
            rms0_um=rms_um(self.before_um, self._flat_from()), rms_um=told.rms_um, used_um=told.used_um,
            par_um=par.used_um, least_um=0.0 if told.through else max(told.least_um, 1e-3),
            floor_um=self.setup.floor_um, minutes=told.minutes, par_minutes=par.minutes,
            pieces=told.pieces if told.mean_um > 0 else 0,
            par_pieces=par.pieces, strays=told.strays,
        )  # fmt: skip

    def dull(self) -> Cells:
        """How dull each place is, 0 to 1."""
        dull = rake.dullness(self.work.gone_um, self.touched_um)
        return dull if self._dull0 is None else np.maximum(dull, self._dull0)

    def seen(self, from_deg: float, low_deg: float) -> Linear:
        """The panel in the light of a lamp beside it (cells, cells, 3)."""
        work, dull, veil = self.work, self.dull(), self._veil
        wet = self.setup.mode == "wet"
        if wet:
            dull = dull * (1 - np.float32(0.85) * veil)
        under = self._under
        if (bare := work.film_um <= 0).any():
            under = under.copy()
            under[bare] = BARE
            dull = np.where(bare, np.float32(1), dull)
        shown = rake.raked(
            work.height_um, dull, under, work.dx_mm, self._lines, low_deg=low_deg, from_deg=from_deg,
            dust=veil * np.float32(0.35 if wet else 0.9) if veil.any() else None,
        )  # fmt: skip
        if self._bad.any():
            stain = np.array(BARE, dtype=np.float32) * np.float32(1.1)
            share = (np.float32(0.8) * self._bad * veil)[..., None]
            shown = shown * (1 - share) + stain * share
        for stray in self.strays:
            self._draw_stray(shown, stray, from_deg)
        return shown

    def strays_near(self, x_mm: float, y_mm: float, within_mm: float) -> int | None:
        """The stray scratch that runs closest by a place, if it is near enough."""
        best: tuple[float, int] | None = None
        for i, s in enumerate(self.strays):
            turn = math.radians(s.along_deg)
            dx, dy = x_mm - s.x_mm, y_mm - s.y_mm
            along = min(max(dx * math.cos(turn) + dy * math.sin(turn), -s.long_mm / 2), s.long_mm / 2)
            far = math.hypot(dx - along * math.cos(turn), dy - along * math.sin(turn))
            if far <= within_mm and (best is None or far < best[0]):
                best = far, i
        return None if best is None else best[1]

    def _flat_from(self) -> int:
        """The first column that is meant to be flat: an arris is not."""
        return math.ceil((panel.EASED_MM + 0.5) / self.work.dx_mm) if self.setup.edge else 0

    def _take(self, sheet: int) -> None:
        """Take up another paper: a fresh piece of it."""
        need(0 <= sheet < len(self.setup.sheets), "sheet", "there is no such paper")
        if sheet != self._sheet:
            self._sheet = sheet
            self.paper = Paper(grain_um=self.setup.sheets[sheet].grain_um, mode=self.setup.mode)
            self.pieces += 1

    def _rubbing(self, hold: Hold, at_mm: tuple[float, float] | None = None) -> Rubbing:
        sheet = self.setup.sheets[hold.sheet]
        name = hold.backing
        if self.setup.halves and at_mm is not None:
            name = "firm" if at_mm[0] < self.size_mm / 2 else "foam"
        backs = self.setup.backings[name]
        return Rubbing(
            grain_um=sheet.grain_um, kappa=sheet.kappa, backs=backs,
            iterations=1 if backs.E_kPa > SOFT_KPA else SOFT_ITERATIONS,
        )  # fmt: skip

    def _move(self, at_mm: tuple[float, float], slide_m: float, hold: Hold) -> None:
        if slide_m <= 0:
            return
        load = FINGER_KPA / 2.0 * hold.load_kPa if hold.face == "fingers" else hold.load_kPa
        was, film = self.work.gone_um.copy(), self.work.film_um
        cut = self.paper.cut
        took = self.work.move(
            self._rubbing(hold, at_mm).cutting(cut), hold.shape, load, at_mm, slide_m, hold.stands_for
        )
        off = self.work.gone_um - was
        worked = off > 0
        np.maximum(self._veil, np.minimum(off / np.float32(VEIL_UM if self.setup.mode == "wet" else DUST_UM), 1),
                   out=self._veil)  # fmt: skip
        self._bad[worked & (film < NEAR_WOOD_UM)] = 1
        self.paper = self.paper.after(took / hold.shape.area_mm2)
        self.strokes += hold.stands_for
        self.minutes += slide_m / self.setup.v_m_s / 60.0
        self.drag_kPa = load * (DRAG_CUT * cut + DRAG_AREA * self.work.touching)
        if self.setup.pills and self.paper.pills and self._draw.random() < PILL_ODDS * hold.stands_for:
            self._scratch(at_mm)

    def _scratch(self, at_mm: tuple[float, ...]) -> None:
        self.strays.append(
            Stray(
                x_mm=float(at_mm[0]), y_mm=float(at_mm[1]), along_deg=float(self._draw.uniform(0, 180)),
                long_mm=float(self._draw.uniform(*STRAY_MM)),
            )
        )  # fmt: skip

    def _draw_stray(self, shown: Linear, stray: Stray, from_deg: float) -> None:
        """A line that flares up when the lamp stands across it, and is all but gone along it."""
        across = abs(math.sin(math.radians(from_deg - stray.along_deg)))
        bright = np.float32(0.02 + 0.5 * across**8)
        turn, n = math.radians(stray.along_deg), max(2, round(stray.long_mm / self.work.dx_mm * 1.5))
        along = np.linspace(-stray.long_mm / 2, stray.long_mm / 2, n)
        col = ((stray.x_mm + along * math.cos(turn)) / self.work.dx_mm).astype(int)
        row = ((stray.y_mm + along * math.sin(turn)) / self.work.dx_mm).astype(int)
        on = (col >= 0) & (row >= 0) & (col < self.setup.cells) & (row < self.setup.cells)
        shown[row[on], col[on]] += bright


def rms_um(height_um: Cells, first_column: int = 0) -> float:
    """Waves about the plane that fits best [um]."""
    part = height_um[:, first_column:].astype(float)
    y, x = (np.arange(n) - (n - 1) / 2 for n in part.shape)
    left = part - part.mean()
    left = left - x[None, :] * (left * x[None, :]).mean() / (x**2).mean()
    left = left - y[:, None] * (left * y[:, None]).mean() / (y**2).mean()
    return float(left.std())


def worst_um(gone_um: Cells, dx_mm: float) -> float:
    """The most film used over a place of 20 mm, in the mean [um]."""
    k = max(1, int(WORST_MM / dx_mm))
    n = gone_um.shape[0] // k
    return float(gone_um[: n * k, : n * k].reshape(n, k, n, k).mean(axis=(1, 3)).max())


def par(setup: Setup, share: float = 0.99, most_rounds: int = 60) -> Told:
    """What a firm block in even rounds comes to on the same panel, when so much of it is touched."""
    careful = Trial(replace(setup, halves=False, strays=0))
    hold = Hold(sheet=setup.first)
    for _ in range(most_rounds):
        careful.round(hold, 2)
        if careful.paper.cut < 0.45:
            careful.wipe()
            if careful.paper.cut < 0.45 and careful.pieces < (setup.pieces or 99):
                careful.new_piece()
        if careful.told().touched >= share:
            break
    return careful.told()
