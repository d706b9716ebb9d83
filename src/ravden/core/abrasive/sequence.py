"""Which grits, in which order: the cheapest ladder from this texture to that sheen (docs/maths.md).

What a rung costs depends only on it and the rung before, so the cheapest ladder is a shortest path over the drawer,
exact and instant. "Balanced" counts a micrometre of film as three minutes of work for every 1000 cm2. Where the film of
a zone may not bear the cheapest one, every path that is cheaper or gentler than another is kept, so the answer stays
exact.
"""

import functools
import heapq
import itertools
from collections.abc import Sequence
from dataclasses import dataclass, replace

from ravden.core.abrasive.job import Job, finishes, reachable
from ravden.core.abrasive.sandthrough import ZoneFilmLeft, most_removal_um
from ravden.core.abrasive.scratch import Rung, minutes

SAME_ENOUGH = 1e-9
EQUALLY_GOOD = 1.06  # of the best score
MOST_LOOKED_AT = 4000  # paths popped in the search for equally good ones

Path = tuple[Rung, ...]
Bearing = tuple[str, float]  # kind of a zone and its share of the strokes: zones alike in both lose alike


@dataclass(frozen=True, slots=True, kw_only=True)
class Way:
    """One step of the graph: to which node, at what cost, removing so much [um]."""

    to: int
    cost: float
    remove_um: float


@dataclass(frozen=True, slots=True)
class Graph:
    """Every workable step between the abrasives of a drawer. ``ways[0]`` leave the texture, ``ways[i + 1]`` rung i."""

    job: Job
    rungs: Path
    ways: tuple[tuple[Way, ...], ...]
    ends: dict[int, float]  # cost of stopping at a rung: the film its scratches make useless
    bearings: tuple[Bearing, ...]
    caps: dict[tuple[Bearing, float], float]

    def loads(self, rung: Rung, remove_um: float) -> tuple[float, ...]:
        """Film taken off each sort of zone that has to bear the ladder [um]."""
        return tuple(remove_um * rung.backing.bears_on(kind) * share for kind, share in self.bearings)

    def bears(self, spent: tuple[float, ...], cv: float, residual: float) -> bool:
        """Whether every zone keeps within its odds."""
        return all(s + residual <= self.caps[k, cv] + SAME_ENOUGH for k, s in zip(self.bearings, spent, strict=True))


def graph(job: Job, drawer: Sequence[Rung]) -> Graph:
    """The steps a drawer allows, wool last, the rest from the deepest scratch to the finest."""
    usable = [r for r in drawer if r.abrasive.on_film and not (job.flatted and r.abrasive.kind == "polish")]
    order = tuple(sorted(usable, key=lambda r: (r.abrasive.kind == "wool", -r.rz_um)))
    time_weight, film_weight = job.weight
    ways: list[list[Way]] = [[] for _ in range(len(order) + 1)]
    for i, j, remove, time in _workable(
        job.levels_um, job.area_cm2, job.ratio_max, job.after, order, job.curved
    ):  # fmt: skip
        rung, before = order[j], order[i] if i >= 0 else job.after
        if remove > job.slack * rung.d_max_um or (rung.abrasive.kind == "wool" and not finishes(job, rung, before)):
            continue
        ways[i + 1].append(Way(to=j, cost=time_weight * time + film_weight * remove, remove_um=remove))
    ends = {
        j: film_weight * job.residual_um(r)
        for j, r in enumerate(order)
        if r.abrasive.kind == "wool" or finishes(job, r)
    }
    bearings = tuple(dict.fromkeys((z.kind, z.share) for z in job.zones if job.counts(z)))
    return Graph(job, order, tuple(map(tuple, ways)), ends, bearings, _caps(job, bearings, order, 0.0))


@functools.lru_cache(maxsize=16)
def _workable(
    texture_um: float, area_cm2: float, ratio_max: float, after: Rung | None, order: Path, curved: bool
) -> tuple[tuple[int, int, float, float], ...]:
    """Every step that could be made with no slack kept: from, to (-1: the start), film [um] and minutes. It does not
    depend on the film there is or the sheen that is wanted, so one answer serves all that is tried."""
    kind = "contour" if curved else "flat"
    ground = ZoneFilmLeft(name="all", kind=kind, film_um=0.0, sd_um=0.0, area_cm2=area_cm2)
    job = Job(
        texture_um=texture_um, zones=(ground,), min_film_um=0.0, target="gloss", hardness_MPa=1.0, refractive_index=1.5,
        slack=1.0, ratio_max=ratio_max, after=after,
    )  # fmt: skip
    out = []
    for i in range(-1, len(order)):
        before = order[i] if i >= 0 else after
        for j in range(i + 1, len(order)):
            remove = reachable(job, order[j], before, last=order[j].abrasive.kind == "wool")
            if remove is not None:
                out.append((i, j, remove, minutes(order[j], remove, area_cm2, first=before is None)))
    return tuple(out)


def _caps(job: Job, bearings: tuple[Bearing, ...], rungs: Path, more_um: float) -> dict[tuple[Bearing, float], float]:
    """The most that may come off each sort of zone, by unevenness, with so much more film on every zone [um]."""
    return {
        (bearing, cv): min(
            most_removal_um(
                replace(z, film_um=z.film_um + more_um) if more_um else z, cv, job.min_film_um, job.limit(z.kind)
            )
            for z in job.zones
            if (z.kind, z.share) == bearing and job.counts(z)
        )
        for bearing in bearings
        for cv in {r.backing.cv for r in rungs}
    }


def more_film_um(job: Job, drawer: Sequence[Rung], most_um: float = 400.0) -> float | None:
    """How much more film on every zone would carry the job [um], to the next 5 um; None: not even most_um."""
    found = graph(job, drawer)

    def pays(more_um: float) -> bool:
        return _within_caps(replace(found, caps=_caps(job, found.bearings, found.rungs, more_um))) is not None

    if not pays(most_um):
        return None
    low, high = 0.0, most_um
    while high - low > 5.0:
        mid = 0.5 * (low + high)
        low, high = (low, mid) if pays(mid) else (mid, high)
    return 5.0 * -(-high // 5.0)


def cheapest(job: Job, drawer: Sequence[Rung]) -> Path | None:
    """The best sequence by the job's objective, whatever film there is; None where nothing gets there."""
    return _cheapest(graph(job, drawer))


def _cheapest(found: Graph) -> Path | None:
    rest = _to_go(found)
    best: Path | None = None
    if rest[0] is None:
        return None
    node = -1
    out: list[int] = []
    while True:
        stop = found.ends.get(node) if node >= 0 else None
        left = rest[node + 1]
        assert left is not None
        if stop is not None and stop <= left + SAME_ENOUGH:
            best = tuple(found.rungs[j] for j in out)
            return best
        way = min(found.ways[node + 1], key=lambda w: _plus(w.cost, rest[w.to + 1]))
        node = way.to
        out.append(node)


def _plus(cost: float, rest: float | None) -> float:
    return float("inf") if rest is None else cost + rest


def _to_go(found: Graph) -> list[float | None]:
    """Least cost from every node to an end; None where there is no way."""
    rest: list[float | None] = [None] * (len(found.rungs) + 1)
    for node in range(len(found.rungs) - 1, -2, -1):
        options = [w.cost + r for w in found.ways[node + 1] if (r := rest[w.to + 1]) is not None]
        if node in found.ends:
            options.append(found.ends[node])
        rest[node + 1] = min(options) if options else None
    return rest


@dataclass(frozen=True, slots=True)
class _Label:
    """A path to a node: its cost, what it took off each sort of zone, its largest unevenness."""

    cost: float
    spent: tuple[float, ...]
    cv: float
    path: tuple[int, ...]

    def beats(self, other: "_Label") -> bool:
        return (
            self.cost <= other.cost + SAME_ENOUGH
            and self.cv <= other.cv
            and all(a <= b + SAME_ENOUGH for a, b in zip(self.spent, other.spent, strict=True))
        )


def affordable(job: Job, drawer: Sequence[Rung]) -> Path | None:
    """The best sequence that every zone which has to bear it can pay for; None where there is none. Exact."""
    found = graph(job, drawer)
    free = _cheapest(found)
    if free is None:
        return None
    if _pays(found, free):
        return free
    return _within_caps(found)


def _within_caps(found: Graph) -> Path | None:
    labels: list[list[_Label]] = [[] for _ in range(len(found.rungs) + 1)]
    labels[0] = [_Label(0.0, (0.0,) * len(found.bearings), 0.0, ())]
    best: _Label | None = None
    for node in range(-1, len(found.rungs)):
        here = labels[node + 1]
        if node in found.ends:
            residual = found.job.residual_um(found.rungs[node])
            for label in here:
                total = label.cost + found.ends[node]
                if found.bears(label.spent, label.cv, residual) and (best is None or total < best.cost):
                    best = _Label(total, label.spent, label.cv, label.path)
        for way in found.ways[node + 1]:
            rung = found.rungs[way.to]
            loads = found.loads(rung, way.remove_um)
            for label in here:
                spent = tuple(a + b for a, b in zip(label.spent, loads, strict=True))
                cv = max(label.cv, rung.backing.cv)
                if not found.bears(spent, cv, 0.0):
                    continue
                new = _Label(label.cost + way.cost, spent, cv, (*label.path, way.to))
                there = labels[way.to + 1]
                if any(old.beats(new) for old in there):
                    continue
                labels[way.to + 1] = [old for old in there if not new.beats(old)] + [new]
    return None if best is None else tuple(found.rungs[j] for j in best.path)


def _pays(found: Graph, path: Path) -> bool:
    spent = (0.0,) * len(found.bearings)
    node, index = -1, {id(r): j for j, r in enumerate(found.rungs)}
    for rung in path:
        to = index[id(rung)]
        way = next(w for w in found.ways[node + 1] if w.to == to)
        spent = tuple(a + b for a, b in zip(spent, found.loads(rung, way.remove_um), strict=True))
        node = to
    cv = max(r.backing.cv for r in path)
    return found.bears(spent, cv, found.job.residual_um(path[-1]))


def equally_good(job: Job, drawer: Sequence[Rung], most: int = 8) -> list[Path]:
    """The sequences whose score is within 6 % of the best, best first, as far as the film can pay for them."""
    found = graph(job, drawer)
    rest = _to_go(found)
    out: list[Path] = []
    if rest[0] is None:
        return out
    count = itertools.count()
    heap: list[tuple[float, int, float, int, tuple[int, ...], bool]] = [(rest[0], next(count), 0.0, -1, (), False)]
    limit: float | None = None
    for _ in range(MOST_LOOKED_AT):
        if not heap:
            break
        total, _n, cost, node, path, ended = heapq.heappop(heap)
        if limit is not None and total > limit:
            break
        if ended:
            rungs = tuple(found.rungs[j] for j in path)
            if _pays(found, rungs):
                limit = EQUALLY_GOOD * total if limit is None else limit
                out.append(rungs)
                if len(out) >= most:
                    break
            continue
        if node in found.ends:
            heapq.heappush(heap, (cost + found.ends[node], next(count), cost, node, path, True))
        for way in found.ways[node + 1]:
            left = rest[way.to + 1]
            if left is not None:
                new = cost + way.cost
                heapq.heappush(heap, (new + left, next(count), new, way.to, (*path, way.to), False))
    return out
