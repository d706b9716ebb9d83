"""What a film hardens under, and where in time it is looked at."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ravden.core.errors import need, need_in
from ravden.core.record import Air, Exposure

Floats = NDArray[np.float64]


@dataclass(frozen=True, slots=True, kw_only=True)
class Conditions:
    """What it hardens under. air: by hour, each holding from its own on, 20 C before the first; exposures: light it was
    given; airflow: 1 still air, 3 a fan, times what the air itself says [-]; rate_factor: this shop's correction to
    diffusion, evaporation and reaction [-]."""

    air: Sequence[Air] = ()
    exposures: Sequence[Exposure] = ()
    airflow: float = 1.0
    rate_factor: float = 1.0

    def __post_init__(self) -> None:
        need_in(self.airflow, 0.05, 20, "airflow")
        need_in(self.rate_factor, 0.01, 100, "rate_factor")


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Sampling:
    """Where it is looked at. sample_h: hours wanted in order, a sample at an event's hour is taken before it; until_h:
    the end, None for the last event or sample; tolerance: of a step [-], None for the usual; rough: for the ends of a
    range, at a quarter of the cost; cells: through a drying film, None for the usual."""

    sample_h: Sequence[float] | Floats = ()
    until_h: float | None = None
    tolerance: float | None = None
    rough: bool = False
    cells: int | None = None

    @property
    def hours(self) -> Floats:
        """The hours wanted [h]. Raises InputError where they run backwards."""
        hours = np.asarray(self.sample_h, dtype=float)
        need(bool(np.isfinite(hours).all()), "sample_h", "must be finite numbers")
        need(bool((np.diff(hours) >= 0).all()), "sample_h", "runs backwards")
        return hours

    def end_h(self, latest_h: float) -> float:
        """Where it ends [h]. latest_h: the last event or sample. Raises InputError before that."""
        end = latest_h if self.until_h is None else self.until_h
        need(end >= latest_h, "until_h", f"must not be before the last event or sample ({latest_h:g} h)")
        return end


NOTHING_TOLD, ONLY_THE_END = Conditions(), Sampling()
