"""One film of one zone, whatever it is made of: picks the model, and puts stacks of different finishes together.

A stack is taken apart into groups of coats that follow one another in the same finish. Each group hardens by its own
model; a drying group under another finish loses its solvent through it, five times slower at its surface [A]. Finishes
that harden alike are one film, such as satin over gloss; others on one another are kept apart, so that a hard one under
a soft one is told as it is.
"""

import itertools
import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import TypeAlias

import numpy as np
from msgspec import structs
from numpy.typing import NDArray

from ravden.core.cure import evaporative, layered
from ravden.core.cure.asked import NOTHING_TOLD, ONLY_THE_END, Conditions, Sampling
from ravden.core.cure.evaporative import COLUMN, CureHistory
from ravden.core.cure.layered import LayerHistory
from ravden.core.errors import InputError
from ravden.core.record import Coat, CureModel, Exposure, Sanding, SolventLoss

Floats = NDArray[np.float64]

UNDER_SLOWS = 5.0  # [A] solvent leaving through another finish
PER_DECADE = 14
WARMED_UM = 30.0  # [A] the depth a wheel warms


@dataclass(frozen=True, slots=True, kw_only=True)
class Group:
    """Coats of one finish, one after another, and what was sanded off them."""

    finish: str
    coats: tuple[Coat, ...]
    cuts: tuple[Sanding, ...]
    covered_h: float | None


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class StackHistory:
    """Groups of finishes on one another; rows as CureHistory has them, over the whole stack."""

    steps: Floats
    samples: Floats
    parts: tuple[CureHistory | LayerHistory, ...]
    groups: tuple[Group, ...]
    last_coat_h: float | None
    end_state: Floats
    coats: tuple[Coat, ...]
    sandings: tuple[Sanding, ...]
    exposures: tuple[Exposure, ...]

    def column(self, name: str) -> Floats:
        """One quantity at the asked hours."""
        return np.asarray(self.samples[:, COLUMN[name]])

    @property
    def top(self) -> CureHistory | LayerHistory:
        """The group on top."""
        return self.parts[-1]

    def _dry(self) -> Floats:
        return np.array([part.samples[len(part.samples) - len(self.samples) :, 1] for part in self.parts])

    def softness_C(self, depths: int) -> Floats:
        """Tg [C] at equal shares of the film, from the wood up: (samples, depths); nan where there is none."""
        fine = 4 * depths
        each = np.array([part.softness_C(fine)[-len(self.samples) :] for part in self.parts])
        dry = self._dry()
        out = np.full((len(self.samples), depths), np.nan)
        shares = (np.arange(depths) + 0.5) / depths
        for i in range(len(self.samples)):
            total = dry[:, i].sum()
            if total <= 0:
                continue
            tops = np.cumsum(dry[:, i]) / total
            part = np.searchsorted(tops, shares).clip(0, len(tops) - 1)
            below = np.concatenate([[0.0], tops])[part]
            inside = (shares - below) / np.maximum(tops[part] - below, 1e-12)
            out[i] = each[part, i, (inside * fine).astype(int).clip(0, fine - 1)]
        return out

    def least_Tg_over_top_C(self, sample: int, depth_um: float) -> float:
        """Lowest Tg [C] from the surface down to depth_um, at one sample; nan where nothing has dried to a film yet."""
        least, left = np.inf, max(depth_um, 0.0)
        for part in reversed(self.parts):
            film = float(part.samples[sample, 2])
            if film > 0:
                least = min(least, part.least_Tg_over_top_C(sample, left))
                left -= film
                if left <= 0:
                    break
        return least if np.isfinite(least) else math.nan

    def softest(self, sample: int) -> tuple[float, float]:
        """Depth below the surface [um] of the softest place, and the solvent or the uncured share there [-]."""
        above, found = 0.0, (0.0, 0.0)
        least = np.inf
        for part in reversed(self.parts):
            if part.samples[sample, 1] > 0:
                if part.samples[sample, 5] < least:
                    least = float(part.samples[sample, 5])
                    depth, share = part.softest(sample)
                    found = (above + depth, share)
                above += float(part.samples[sample, 2])
        return found


History: TypeAlias = CureHistory | LayerHistory | StackHistory


def harden(
    models: Mapping[str, CureModel], coats: Sequence[Coat], sandings: Sequence[Sanding] = (), *,
    under: Conditions = NOTHING_TOLD, sampling: Sampling = ONLY_THE_END, after: History | None = None,
) -> History:  # fmt: skip
    """Follow a film from the first coat to the end of the sampling. models: by the finish of the coats ("" for the
    zone's own); the rest as evaporative.solve."""
    if isinstance(after, StackHistory):
        coats, sandings = [*after.coats, *coats], [*after.sandings, *sandings]
        under, after = replace(under, exposures=[*after.exposures, *under.exposures]), None
    coats = _as_one(models, coats)
    kinds = {c.finish for c in coats}
    if after is None and len(kinds) > 1:
        return _stacked(models, coats, sandings, under, sampling)
    finish = next(iter(kinds)) if kinds else ""
    model = _model(models, finish) if after is None else _of(after)
    if kinds and after is not None and not _alike(_model(models, finish), model):
        raise InputError("coats", "another finish cannot be added to a history of one; solve it whole")
    return _single(model, coats, sandings, under, sampling, after)


def goes_on(models: Mapping[str, CureModel], coats: Sequence[Coat], after: History | None) -> bool:
    """Whether coats can be added to a history as it stands: they harden by its own model, or it is a stack."""
    if after is None or isinstance(after, StackHistory):
        return True
    return all(_alike(_model(models, finish), _of(after)) for finish in {c.finish for c in coats})


def _alike(one: CureModel, other: CureModel) -> bool:
    """Whether two finishes make one film: they harden alike. A drying film may come thinner: extra thinner is gone in
    minutes. One that carries water must come with as much of it."""
    if isinstance(one, SolventLoss) and isinstance(other, SolventLoss) and not one.water_share:
        return structs.replace(one, solids=other.solids) == other
    return one == other


def _as_one(models: Mapping[str, CureModel], coats: Sequence[Coat]) -> list[Coat]:
    """The coats named by the first finish of every film they make up."""
    first: dict[str, CureModel] = {}
    named: dict[str, str] = {}
    for finish in dict.fromkeys(c.finish for c in coats):
        model = _model(models, finish)
        named[finish] = next((n for n, m in first.items() if _alike(m, model)), finish)
        first.setdefault(named[finish], model)
    return [c if named[c.finish] == c.finish else structs.replace(c, finish=named[c.finish]) for c in coats]


def _model(models: Mapping[str, CureModel], finish: str) -> CureModel:
    if finish not in models:
        raise InputError("finish", f"there is no finish called {finish}")
    return models[finish]


def _of(after: CureHistory | LayerHistory) -> CureModel:
    return after.material if isinstance(after, CureHistory) else after.model


def _single(
    model: CureModel, coats: Sequence[Coat], sandings: Sequence[Sanding], under: Conditions, sampling: Sampling,
    after: CureHistory | LayerHistory | None = None,
) -> CureHistory | LayerHistory:  # fmt: skip
    if isinstance(model, SolventLoss):
        if isinstance(after, LayerHistory):
            raise InputError("coats", "a drying film cannot go on from a reacting one")
        return evaporative.solve(model, coats, sandings, under=under, sampling=sampling, after=after)
    if isinstance(after, CureHistory):
        raise InputError("coats", "a reacting film cannot go on from a drying one")
    assert isinstance(model, layered.Reacting)
    return layered.solve(model, coats, sandings, under=under, sampling=sampling, after=after)


def _groups(coats: Sequence[Coat], sandings: Sequence[Sanding]) -> tuple[Group, ...]:
    """Runs of one finish, with every sanding shared out among them from the top down."""
    runs: list[list[Coat]] = []
    for coat in coats:
        if runs and runs[-1][-1].finish == coat.finish:
            runs[-1].append(coat)
        else:
            runs.append([coat])
    cuts: list[list[Sanding]] = [[] for _ in runs]
    for s in sandings:
        left = s.um
        for j in reversed(range(len(runs))):
            have = sum(c.dry_um for c in runs[j] if c.at_h <= s.at_h) - sum(x.um for x in cuts[j])
            um = min(left, have)
            if um > 1e-12:
                cuts[j].append(Sanding(at_h=s.at_h, um=um, purpose=s.purpose))
                left -= um
    covered = [*(run[0].at_h for run in runs[1:]), None]
    return tuple(
        Group(finish=run[0].finish, coats=tuple(run), cuts=tuple(cut), covered_h=at)
        for run, cut, at in zip(runs, cuts, covered, strict=True)
    )


def _stacked(
    models: Mapping[str, CureModel], coats: Sequence[Coat], sandings: Sequence[Sanding], under: Conditions,
    sampling: Sampling,
) -> StackHistory:  # fmt: skip
    groups = _groups(coats, sandings)
    marks = [c.at_h for c in coats] + [s.at_h for s in sandings] + [e.at_h for e in under.exposures]
    asked = np.asarray(sampling.sample_h, dtype=float)
    end = sampling.until_h if sampling.until_h is not None else max([*marks, *asked[-1:].tolist(), 0.0])
    grid = _grid(marks, end)
    hours = np.array(sorted({*grid.tolist(), *asked.tolist()}))
    whole = Sampling(sample_h=hours, until_h=end, rough=sampling.rough)
    parts = [_part(_model(models, g.finish), g, under, whole) for g in groups]
    rows = _combined(parts, hours)
    at = np.searchsorted(hours, asked)
    sampled = [_only(part, at) for part in parts]
    return StackHistory(
        steps=rows, samples=rows[at], parts=tuple(sampled), groups=groups,
        last_coat_h=max(c.at_h for c in coats), end_state=np.array([end, float(rows[-1, 1])]), coats=tuple(coats),
        sandings=tuple(sandings), exposures=tuple(under.exposures),
    )  # fmt: skip


def _part(model: CureModel, g: Group, under: Conditions, whole: Sampling) -> CureHistory | LayerHistory:
    """A group by itself; once covered, what it still has to lose leaves through what lies on it."""
    if g.covered_h is None or not isinstance(model, SolventLoss):
        return _single(model, g.coats, g.cuts, under, whole)
    early = [s for s in g.cuts if s.at_h <= g.covered_h]
    late = [s for s in g.cuts if s.at_h > g.covered_h]
    hours = whole.hours
    uncovered = replace(whole, sample_h=hours[hours <= g.covered_h], until_h=g.covered_h)
    first = _single(model, g.coats, early, under, uncovered)
    assert isinstance(first, CureHistory)
    covered = replace(under, airflow=under.airflow / UNDER_SLOWS)
    then = _single(model, (), late, covered, replace(whole, sample_h=hours[hours > g.covered_h]), first)
    assert isinstance(then, CureHistory)
    return evaporative.appended(first, then)


def _grid(marks: Sequence[float], end: float) -> Floats:
    events = sorted({m for m in marks if m <= end} | {end})
    out = set(events)
    for a, b in itertools.pairwise(events):
        if b - a > 0.02:
            n = max(int(PER_DECADE * np.log10((b - a) / 0.02)), 1)
            out |= set((a + np.geomspace(0.02, b - a, n + 1)).tolist())
    return np.array(sorted(h for h in out if h <= end))


def _combined(parts: Sequence[CureHistory | LayerHistory], hours: Floats) -> Floats:
    """Rows of the whole stack at every hour, from the parts' samples there."""
    each = np.array([part.samples for part in parts])
    rows = np.zeros((len(hours), each.shape[2]))
    rows[:, 0] = hours
    there = each[:, :, 1] > 0
    dry = each[:, :, 1].sum(axis=0)
    film = each[:, :, 2].sum(axis=0)
    rows[:, 1], rows[:, 2] = dry, film
    rows[:, 3] = np.where(film > 0, (each[:, :, 3] * each[:, :, 2]).sum(axis=0) / np.maximum(film, 1e-12), 0.0)
    rows[:, 4] = np.where(there, each[:, :, 4], 0.0).max(axis=0)
    some = np.asarray(there.any(axis=0))
    rows[:, 5] = np.where(some, np.where(there, each[:, :, 5], np.inf).min(axis=0), -100.0)
    top = np.array([int(np.flatnonzero(there[:, i])[-1]) if some[i] else 0 for i in range(len(hours))])
    at = np.arange(len(hours))
    for column in (6, 7, 8, 9):
        rows[:, column] = np.where(some, each[top, at, column], -100.0 if column < 8 else 0.0)
    # What a wheel warms goes down through the groups until so much film has been told.
    least, left = np.full(len(hours), np.inf), np.full(len(hours), WARMED_UM)
    for part in each[::-1]:
        told = (left > 0) & (part[:, 1] > 0)
        least = np.where(told, np.minimum(least, part[:, 10]), least)
        left = left - np.where(told, part[:, 1], 0.0)
    rows[:, 10] = np.where(some, least, -100.0)
    return rows


def _only(part: CureHistory | LayerHistory, at: NDArray[np.intp]) -> CureHistory | LayerHistory:
    """The same part, sampled at these of its samples only."""
    return part.at_samples(at)
