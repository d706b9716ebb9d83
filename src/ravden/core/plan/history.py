"""What happened, folded: the ledger after every entry, and the coats as they must have been to leave that film."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from ravden.core.cure.evaporative import CELLS, STEP_TOLERANCE, CureHistory, solve
from ravden.core.film.ledger import Ledger
from ravden.core.record import Act, Air, Coat, Project, Reading, Sanding, Zone

LEAST_LEFT_UM = 0.05  # keeps a sanded-through zone a film, if next to none


@dataclass(frozen=True, slots=True, kw_only=True)
class Known:
    """The ledger as it stood from an hour on, after one entry of the journal."""

    at_h: float
    ledger: Ledger
    act: Act | None


Memory = dict[tuple[tuple[Zone, ...], tuple[Act, ...]], Ledger]


def known(project: Project, until_h: float, memory: Memory | None = None) -> tuple[Known, ...]:
    """The ledger after each entry up to until_h; the first is bare wood. Readings are first turned into cured film.

    memory: ledgers of earlier calls, kept by the caller, so that a new entry costs one step and not the whole history.
    """
    seen: Memory = {} if memory is None else memory
    ledger = seen.setdefault((project.zones, ()), Ledger(project.zones))
    out = [Known(at_h=-1e9, ledger=ledger, act=None)]
    acts = tuple(sorted((a for a in project.acts if a.at_h <= until_h), key=lambda a: a.at_h))
    for i, act in enumerate(acts):
        key = (project.zones, acts[: i + 1])
        if key in seen:
            ledger = seen[key]
        else:
            ledger = seen[key] = _after(project, ledger, act)
        if not isinstance(act, Air):
            out.append(Known(at_h=act.at_h, ledger=ledger, act=act))
    return tuple(out)


def _after(project: Project, ledger: Ledger, act: Act) -> Ledger:
    if isinstance(act, Coat):
        return ledger.coat(act.dry_um, act.zones)
    if isinstance(act, Sanding):
        shares = {z.name: act.share(z) for z in project.zones}
        return ledger.sanding({name: um for name, um in shares.items() if um > 0})
    if isinstance(act, Reading):
        return ledger.gauge(act.zone, act.um * _cured_share(project, act), act.n)
    return ledger


def _cured_share(project: Project, reading: Reading) -> float:
    """Dry over film as it stood when the gauge touched it [-]: the solvent share of a reading is no film."""
    zone = project.zone(reading.zone)
    coats = [c for c in project.coats if c.at_h <= reading.at_h]
    if not coats:
        return 1.0
    laid, cuts = film_events(project, zone, 1.0, reading.at_h)
    if not laid:
        return 1.0
    history = solve(
        project.material.cure, laid, sandings=cuts, air=project.air, sample_h=[reading.at_h], until_h=reading.at_h
    )
    film, dry = float(history.column("film_um")[0]), float(history.column("dry_um")[0])
    return dry / film if film > 0 else 1.0


def film_events(project: Project, zone: Zone, scale: float, until_h: float) -> tuple[list[Coat], list[Sanding]]:
    """The coats and cuts of one zone in its own um, up to until_h; a cut never takes the last of the film."""
    laid: list[Coat] = []
    cuts: list[Sanding] = []
    film = 0.0
    for act in sorted((a for a in project.acts if isinstance(a, Coat | Sanding)), key=lambda a: a.at_h):
        if act.at_h > until_h:
            break
        um = act.share(zone)
        if isinstance(act, Coat) and um > 0:
            laid.append(replace(act, dry_um=um * scale, zones=None))
            film += um * scale
        elif isinstance(act, Sanding):
            um = min(um, film - LEAST_LEFT_UM)
            if um > 0:
                cuts.append(replace(act, um=um, zones=None))
                film -= um
    return laid, cuts


def scale_of(project: Project, zone: Zone, ledger: Ledger, until_h: float) -> float:
    """How much thicker than nominal this zone's coats must have been for the ledger's film to be there now [-]."""
    laid = sum(c.share(zone) for c in project.coats if c.at_h <= until_h)
    if laid <= 0:
        return 1.0
    taken = sum(s.share(zone) for s in project.sandings if s.at_h <= until_h)
    return max((ledger.mean_um(zone.name) + taken) / laid, 0.05)


def thickest(project: Project, ledger: Ledger) -> Zone:
    """The zone with the most film, which is the last to be ready."""
    return max(project.zones, key=lambda z: ledger.mean_um(z.name))


def cure(
    project: Project, laid: Sequence[Coat], cuts: Sequence[Sanding], sample_h: Sequence[float], until_h: float,
    rate_factor: float = 1.0, rough: bool = False, after: CureHistory | None = None,
) -> CureHistory:  # fmt: skip
    """The cure of a zone's film in this project's air; rough: for the ends of a range, at a quarter of the cost;
    after: a history to go on from."""
    return solve(
        project.material.cure, laid, sandings=cuts, air=project.air, sample_h=sample_h, until_h=until_h,
        rate_factor=rate_factor, cells=8 if rough else CELLS, tolerance=0.3 if rough else STEP_TOLERANCE,
        after=after,
    )  # fmt: skip


def air_at(project: Project, at_h: float) -> Air:
    """The shop's air at an hour: the last entry, or 20 C and half humidity."""
    past = [a for a in project.air if a.at_h <= at_h]
    return max(past, key=lambda a: a.at_h) if past else Air(at_h=at_h, temp_C=20.0)
