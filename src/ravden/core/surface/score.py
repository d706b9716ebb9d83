"""How well a practice panel was levelled, 0 to 100: film saved, waves gone, time and paper."""

from __future__ import annotations

from msgspec import Struct

FILM_PART = "film"
FLOOR_KEPT, WOOD_KEPT, THROUGH_MOST = 20.0, 10.0, 40.0
STRAYS, EACH_STRAY = 10.0, 5.0
SAVED, TIMELY, SPARING, LEVEL = 30.0, 10.0, 5.0, 25.0
WAVES_GONE, ROUGHEST_UM, FLAT_UM = 0.9, 1.5, 0.3  # share of the waves; rms from which nothing, and all, is earned


class Worked(Struct, frozen=True, kw_only=True):
    """What a panel shows: rms at first and now [um], the most film used in a cell and what it might have been, the
    least film left and the least wanted, minutes, pieces of paper, stray scratches."""

    rms0_um: float
    rms_um: float
    used_um: float
    par_um: float
    least_um: float
    floor_um: float
    minutes: float
    par_minutes: float
    pieces: int
    par_pieces: int
    strays: int = 0


class Score(Struct, frozen=True, kw_only=True):
    """Each part as earned, of what it may be, and all of them."""

    level: float
    film: float
    kept: float
    strays: float
    time: float
    paper: float
    total: float
    through: bool

    def parts(self) -> tuple[tuple[str, float, float], ...]:
        """Name, earned, and the most there was."""
        return (
            ("level", self.level, LEVEL), (FILM_PART, self.film, SAVED), ("kept", self.kept, FLOOR_KEPT),
            ("strays", self.strays, STRAYS), ("time", self.time, TIMELY), ("paper", self.paper, SPARING),
        )  # fmt: skip


def score(worked: Worked) -> Score:
    """The score [A]: all but the last part counts only as far as the waves are gone.

    .. math:: S = E\\,[30 c(2 - u/u_p) + floor + (10 - 5 strays) + 10 c(2 - t/t_p) + 5 c(2 - n/n_p)]
        + 25 c((1.5 - rms)/1.2)

    >>> worked = Worked(rms0_um=3.45, rms_um=0.19, used_um=7.94, par_um=7.94, least_um=94, floor_um=40, minutes=12,
    ...     par_minutes=12, pieces=1, par_pieces=1)
    >>> round(score(worked).total, 2)
    100.0
    """
    w = worked
    gone = _clip((1 - w.rms_um / max(w.rms0_um, 1e-9)) / WAVES_GONE)
    floor = FLOOR_KEPT if w.least_um >= w.floor_um else WOOD_KEPT if w.least_um > 0 else 0.0
    film = gone * SAVED * _clip(2 - w.used_um / max(w.par_um, 1e-9))
    strays = gone * max(STRAYS - EACH_STRAY * w.strays, 0.0)
    time = gone * TIMELY * _clip(2 - w.minutes / max(w.par_minutes, 1e-9))
    paper = gone * SPARING * _clip(2 - w.pieces / max(w.par_pieces, 1))
    level = LEVEL * _clip((ROUGHEST_UM - w.rms_um) / (ROUGHEST_UM - FLAT_UM))
    total = film + gone * floor + strays + time + paper + level
    through = w.least_um <= 0
    return Score(
        level=level, film=film, kept=gone * floor, strays=strays, time=time, paper=paper, through=through,
        total=min(total, THROUGH_MOST) if through else total,
    )  # fmt: skip


def _clip(x: float) -> float:
    return min(max(x, 0.0), 1.0)
