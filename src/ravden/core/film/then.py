"""The film as it was known at a moment gone by: all that is drawn of the past, at a fiftieth of the ledger's size."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ravden.core.fact import Fact
from ravden.core.film import spread


@dataclass(frozen=True, slots=True, kw_only=True)
class Flag:
    """A reading that contradicts the rest: what it was and said, and what was expected of it [um, cured].

    why: it was left out altogether, since it cannot be about what is logged now.
    """

    what: str
    read_um: float
    expected_um: float
    why: Fact | None = None


class FilmThen:
    """Film by zone after a run of entries, for looking back: nothing can be added to it. zones: names in the order of
    the marginals; flags: all up to then."""

    def __init__(self, zones: Sequence[str], of: spread.Marginals, flags: tuple[Flag, ...]) -> None:
        self._of = of
        self._index = {name: i for i, name in enumerate(zones)}
        self._asked: dict[tuple[str | float, ...], list[float]] = {}
        self.flags = flags

    def moments(self, name: str) -> tuple[float, float]:
        """Mean and sd of a zone's film [um], without the quantiles."""
        i, w = self._index[name], self._of.w
        mean = float(w @ self._of.mean[:, i])
        var = float(w @ (self._of.var[:, i] + (self._of.mean[:, i] - mean) ** 2))
        return max(mean, 0.0), float(np.sqrt(max(var, 0.0)))

    def quantiles(self, name: str, odds: Sequence[float]) -> list[float]:
        """Film at the given odds [um], clipped at 0."""
        FilmThen.fill_quantiles([self], name, odds)
        return list(self._asked[(name, *odds)])

    @staticmethod
    def fill_quantiles(films: Sequence["FilmThen"], name: str, odds: Sequence[float]) -> None:
        """Work out quantiles() of one zone for several moments at once; each then has its own at hand."""
        key: tuple[str | float, ...] = (name, *odds)
        fresh = [one for one in films if key not in one._asked]
        if fresh:
            found = spread.along([one._of for one in fresh], fresh[0]._index[name], odds)
            for one, row in zip(fresh, found, strict=True):
                one._asked[key] = [float(v) for v in row]
