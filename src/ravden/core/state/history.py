"""What happened, folded: the ledger after every entry, and the coats as they must have been to leave that film."""

import bisect
import itertools
import math
import operator
from collections.abc import Hashable, Sequence
from dataclasses import dataclass

import numpy as np
from msgspec.structs import replace

from ravden.core.cure.asked import Conditions, Sampling
from ravden.core.cure.film import History, harden
from ravden.core.errors import TINY, InputError
from ravden.core.film.filter import Priors
from ravden.core.film.ledger import Ledger
from ravden.core.film.then import FilmThen
from ravden.core.record import NOTICES, Act, Air, Coat, Exposure, Mishap, Pass, Project, Reading, Sanding, Zone
from ravden.core.state.through import ledger_through, tells_through
from ravden.core.state.tint import Under, under_colour

MOSTLY_DRUNK = 0.2  # [A] share of the coats laid that is left on wood which drank the rest
LEAST_LEFT_UM = 0.05  # keeps a sanded-through zone a film, if next to none


@dataclass(frozen=True, slots=True, kw_only=True)
class Known:
    """The film as it was known from an hour on, after one entry of the journal; act: None for bare wood, and for what
    lay there of several coats told at once before the last of them."""

    at_h: float
    film: FilmThen
    act: Act | None


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Folded:
    """What the journal says: the ledger on bare wood, as it stands, and the film after every entry in between; the
    first of history is bare wood."""

    start: Ledger
    ledger: Ledger
    history: tuple[Known, ...]


@dataclass(slots=True, kw_only=True, eq=False)
class Kept:
    """What is remembered of one entry. ledger: None where it was let go of, since it is fifty times the film it says;
    it is found again by going on from one before it. number: its own, by which the entry that follows is told apart;
    parts: what lay there after each but the last of several coats."""

    number: int
    film: FilmThen
    ledger: Ledger | None
    parts: tuple[FilmThen, ...] = ()


Memory = dict[tuple[Hashable, ...], Kept]

AT_HAND = 3  # ledgers of the last entries stay whole, for the next one and for what is taken back
EVERY = 12  # and one in so many, so that a change further back need not start from bare wood
_numbers = itertools.count()


def known(project: Project, until_h: float, memory: Memory | None = None, priors: Priors | None = None) -> Folded:
    """The film after each entry up to until_h. Readings are first turned into cured film.

    memory: of earlier calls, kept by the caller, so that a new entry costs one step and not the whole history;
    priors: what is believed before the first coat, such as an applicator learnt on other instruments.
    """
    seen: Memory = {} if memory is None else memory
    acts = tuple(sorted((a for a in project.acts if a.at_h <= until_h), key=lambda a: a.at_h))
    others = tuple(dict.fromkeys(a.finish for a in acts if isinstance(a, Coat) and a.finish))
    base = _basis(project, priors, others)
    if base not in seen:
        seen[base] = _keep(Ledger(project.zones, priors, others))
    start = seen[base].ledger
    assert start is not None  # never let go of
    air = [a for a in acts if isinstance(a, Air)]
    acts = tuple(a for a in acts if not isinstance(a, Air | Pass))
    # Only a reading asks what the air was, to take the solvent off; a long log is told apart by a running hash.
    read = next((i for i, a in enumerate(acts) if isinstance(a, Reading)), len(acts))
    hours = [a.at_h for a in air]
    told = _AirTold(air) if read < len(acts) else None
    kept = [seen[base]]
    for i, act in enumerate(acts):
        air_then = 0 if told is None or i < read else told.until(bisect.bisect_right(hours, act.at_h))
        key = (kept[-1].number, act, air_then)
        if key in seen:
            seen[key] = seen.pop(key)  # the last that were asked for stand last
        else:
            before = _ledger(project, kept, acts)
            seen[key] = _keep(_after(project, before, act, acts[:i]), _parts(project, before, act, acts[:i]))
        kept.append(seen[key])
    ledger = _ledger(project, kept, acts)
    for i, one in enumerate(kept[:-AT_HAND]):
        one.ledger = one.ledger if i % EVERY == 0 else None
    out = [Known(at_h=-1e9, film=kept[0].film, act=None)]
    for act, one in zip(acts, kept[1:], strict=True):
        if isinstance(act, Coat):
            out += [Known(at_h=h, film=f, act=None) for h, f in zip(act.hours, one.parts, strict=False)]
        if not isinstance(act, Exposure):
            out.append(Known(at_h=act.at_h, film=one.film, act=act))
    return Folded(start=start, ledger=ledger, history=tuple(out))


def _basis(project: Project, priors: Priors | None, others: tuple[str, ...]) -> tuple[Hashable, ...]:
    """All that a ledger is worked out from beside its entries."""
    return (
        project.zones, priors, tuple((f, project.layers.get(f)) for f in others), tuple(project.absorbed.items()),
        project.rate_ln[0], project.material, tuple(sorted(project.finishes.items(), key=operator.itemgetter(0))),
        project.instrument.bench_C, project.lamp_mW_cm2,
    )  # fmt: skip


def _keep(ledger: Ledger, parts: tuple[FilmThen, ...] = ()) -> Kept:
    return Kept(number=next(_numbers), film=ledger.then, ledger=ledger, parts=parts)


def _parts(project: Project, ledger: Ledger, act: Act, before: Sequence[Act]) -> tuple[FilmThen, ...]:
    """The film after each but the last of several coats told at once with when each was laid."""
    if not isinstance(act, Coat) or not act.earlier_h:
        return ()
    some = [replace(act, count=n, count_odds=(), earlier_h=()) for n in range(1, len(act.hours))]
    return tuple(_after(project, ledger, part, before).then for part in some)


class _AirTold:
    """Readings of the air as one number, up to any of them: by their bytes, since a year of them is asked for again and
    again, and to Python -1.0 and -2.0 hash alike."""

    def __init__(self, air: Sequence[Air]) -> None:
        self._numbers = np.array([(a.at_h, a.temp_C, a.rh, a.airflow, a.light) for a in air]).tobytes()
        self._sources = tuple(a.source for a in air)

    def until(self, many: int) -> int:
        """Of the first so many."""
        width = len(self._numbers) // max(len(self._sources), 1)
        return hash((self._numbers[: many * width], self._sources[:many]))


def _ledger(project: Project, kept: Sequence[Kept], acts: Sequence[Act]) -> Ledger:
    """The ledger after the last of those kept, by way of the last one that is whole; as many acts as came after bare
    wood."""
    whole = len(kept) - 1
    while (ledger := kept[whole].ledger) is None:
        whole -= 1
    for i in range(whole, len(kept) - 1):
        ledger = kept[i + 1].ledger = _after(project, ledger, acts[i], acts[:i])
    return ledger


def _after(project: Project, ledger: Ledger, act: Act, before: Sequence[Act]) -> Ledger:
    if isinstance(act, Coat | Sanding) and act.spot:
        return ledger  # no zone has any of it
    if isinstance(act, Coat):
        on = None if act.zones is None and not act.bare else [z.name for z in project.zones if act.covers(z.name)]
        odds = dict(act.count_odds) or None
        laid = ledger.coat(act.dry_um, on, count=act.count, count_odds=odds, applicator=act.finish)
        return _absorbed(project, laid, act, before)
    if isinstance(act, Sanding) and act.bared:
        return ledger.stripped([z.name for z in project.zones if act.share(z) > 0])
    if isinstance(act, Sanding):
        shares = {z.name: act.share(z) for z in project.zones}
        coated = {z for a in before if isinstance(a, Coat) for z in shares if a.covers(z)}
        return ledger.sanding({name: um for name, um in shares.items() if um > TINY and name in coated})
    if tells_through(act):
        return ledger_through(ledger, act, before, _under(project, act))
    if isinstance(act, Reading):
        try:
            return _read(project, ledger, act)
        except InputError as error:
            # What it spoke of was corrected or taken back since: the rest of the record still counts.
            return ledger.left_out(act.what, act.um, error.said)
    return ledger


def _under(project: Project, act: Reading | Mishap) -> Under | None:
    """Where the colour ended in the film when it showed."""
    if not act.colour:
        return None
    return under_colour(*film_events(project, project.zone(act.zone), 1.0, act.at_h))


def planned(project: Project, ledger: Ledger, act: Coat | Sanding, before: Sequence[Act] = ()) -> Ledger:
    """The ledger after an act still to come: nobody has looked, so nothing is learnt from it. before: what came before
    it, so that bare wood absorbs of the coats to come too."""
    if act.spot:
        return ledger
    if isinstance(act, Coat):
        laid = ledger.coat(act.dry_um, [z.name for z in project.zones if act.covers(z.name)])
        return _absorbed(project, laid, act, before)
    if act.bared:
        return ledger.stripped([z.name for z in project.zones if act.share(z) > 0])
    return ledger.worn({z.name: act.share(z) for z in project.zones if z.name not in project.bare})


def _absorbed(project: Project, ledger: Ledger, act: Coat, before: Sequence[Act]) -> Ledger:
    """What the wood of each zone drank of this coat, by how many it had before."""
    lost = {}
    for zone in project.zones:
        absorbs = project.absorbed.get(zone.name, ())
        if not absorbs or not act.covers(zone.name):
            continue
        had = round(sum(a.likely_count for a in before if isinstance(a, Coat) and a.covers(zone.name)))
        um = sum(min(absorbed, act.dry_um * zone.k_mean) for absorbed in absorbs[had : had + len(act.hours)])
        if um > 0:
            lost[zone.name] = um
    return ledger.absorbed(lost) if lost else ledger


def _read(project: Project, ledger: Ledger, act: Reading) -> Ledger:
    if act.what == "gauge":
        return ledger.gauge(act.zone, act.um * cured_share(project, act, act.zone), act.n)
    if act.what == "comb":
        return ledger.comb(act.zone, act.um, act.high_um, act.landed)
    if act.what == "volume":
        return ledger.volume(act.um)
    if act.what == "not-through":
        return ledger.not_through(act.zone, spot=act.spot)
    if act.what in NOTICES or act.what == "gloss":
        return ledger
    # The card hangs beside the instrument and had every coat, so its film holds about the top's share of solvent.
    cured = act.um * cured_share(project, act, project.zones[0].name)
    return ledger.card(cured) if act.what == "card" else ledger.micrometer(cured)


def cured_share(project: Project, reading: Reading, zone_name: str) -> float:
    """Dry over film as it stood when it was read [-]: the solvent share of a reading is no film."""
    zone = project.zone(zone_name)
    coats = [c for c in project.coats if c.at_h <= reading.at_h]
    if not coats:
        return 1.0
    laid, cuts = film_events(project, zone, 1.0, reading.at_h)
    if not laid:
        return 1.0
    at, lit = reading.at_h, project.light_on(zone.name)
    # What the air was later is no part of it, not even of the steps it is reckoned in.
    air = tuple(a for i, a in enumerate(project.dries_in) if i == 0 or a.at_h <= at)
    history = harden(
        project.models(zone.name),
        laid,
        sandings=cuts,
        under=Conditions(air=air, exposures=[e for e in lit if e.at_h <= at], rate_factor=project.rate),
        sampling=Sampling(sample_h=[at], until_h=at),
    )
    film, dry = float(history.column("film_um")[0]), float(history.column("dry_um")[0])
    return dry / film if film > 0 else 1.0


def film_events(project: Project, zone: Zone, scale: float, until_h: float) -> tuple[list[Coat], list[Sanding]]:
    """The coats and cuts of one zone in its own um, up to until_h; a cut never takes the last of the film."""
    laid: list[Coat] = []
    cuts: list[Sanding] = []
    film, had = 0.0, 0
    acts = [a for a in project.acts if isinstance(a, Coat | Sanding) and a.at_h <= until_h]
    events = [(h, act) for act in acts for h in ([act.at_h] if isinstance(act, Sanding) else act.hours)]
    absorbs = project.absorbed.get(zone.name, ())
    for at_h, act in sorted(events, key=lambda e: e[0]):
        if isinstance(act, Coat) and act.covers(zone.name):
            # Where nobody is sure how many they were, each is so much thicker or thinner that they are the mean of it.
            share = act.likely_count / max(len(act.hours), 1)
            um = _left_of(act, zone, absorbs, had, share)
            had += 1
            one = replace(act, at_h=at_h, dry_um=um * scale, zones=None, bare=(), count=1, count_odds=(), earlier_h=())
            laid.append(one)
            film += um * scale
        elif isinstance(act, Sanding) and act.bared and act.share(zone) > 0:
            laid, cuts, film = [], [], 0.0  # it starts from nothing
        elif isinstance(act, Sanding):
            um = min(act.share(zone), film - LEAST_LEFT_UM)
            if um > TINY:
                cuts.append(replace(act, um=um, zones=None))
                film -= um
    return laid, cuts


def _left_of(act: Coat, zone: Zone, absorbs: Sequence[float], had: int, share: float) -> float:
    """What bare wood leaves of one coat on a zone [um]. absorbs: of its first, second, ... coat; had: coats before;
    share: coats that it stands for, where nobody is sure how many there were."""
    return max(act.dry_um * share * zone.k_mean - (absorbs[had] if had < len(absorbs) else 0.0), LEAST_LEFT_UM)


def absorbed_of(project: Project, zone: Zone, until_h: float) -> tuple[float, ...]:
    """Dry film [um] that the wood of a zone will still absorb of its next coats."""
    had = round(sum(c.likely_count for c in project.coats if c.at_h <= until_h and c.covers(zone.name)))
    return project.absorbed.get(zone.name, ())[had:]


def scale_of(project: Project, zone: Zone, ledger: Ledger, until_h: float) -> float:
    """How much thicker than nominal this zone's coats must have been for the ledger's film to be there now [-].

    Where none is there, or the wood drank most of them, the little that is left says nothing of how heavy they were: as
    the applicator is believed to lay.
    """
    since = max((s.at_h for s in project.sandings if s.bared and s.at_h <= until_h and s.share(zone) > 0), default=None)
    from_h = -math.inf if since is None else since
    laid = sum(c.dry_um for c in film_events(project, zone, 1.0, until_h)[0])
    nominal = sum(c.share(zone) for c in project.coats if from_h < c.at_h <= until_h)
    if laid <= MOSTLY_DRUNK * nominal:
        return max(ledger.lays(zone.name), 0.05)
    taken = sum(s.share(zone) for s in project.sandings if from_h < s.at_h <= until_h)
    return max((ledger.mean_um(zone.name) + taken) / laid, 0.05)


def thickest(project: Project, ledger: Ledger) -> Zone:
    """The zone with the most film, which is the last to be ready."""
    own = [z for z in project.zones if z.name not in project.finishes] or list(project.zones)
    return max(own, key=lambda z: ledger.mean_um(z.name))


def cure(
    project: Project, laid: Sequence[Coat], cuts: Sequence[Sanding], sampling: Sampling, rate: float = 1.0, *,
    after: History | None = None, zone: str = "", light: Sequence[Exposure] = (),
) -> History:  # fmt: skip
    """The cure of a zone's film in this project's air. rate: times the rate of the shop [-]; after: a history to go on
    from; zone: whose film it is, the instrument's own finish by default; light: exposures still to come."""
    start = -math.inf if after is None else float(after.end_state[0])
    end = math.inf if sampling.until_h is None else sampling.until_h
    lit = [e for e in (*project.light_on(zone), *light) if start < e.at_h <= end]
    under = Conditions(air=project.dries_in, exposures=lit, rate_factor=rate * project.rate)
    return harden(project.models(zone), laid, cuts, under=under, sampling=sampling, after=after)


def air_at(project: Project, at_h: float) -> Air:
    """The shop's air at an hour: the last entry, or 20 C and half humidity; where none was told, as the bench is."""
    past = [a for a in project.dries_in if a.at_h <= at_h]
    return max(past, key=lambda a: a.at_h) if past else Air(at_h=at_h, temp_C=20.0)
