"""The spot of a zone where something went wrong, as a zone of its own: what the zone got, and what only the spot got or
lost."""

from msgspec.structs import replace

from ravden.core.record import Act, Coat, Mishap, Project, Sanding, Zone

LEAST_CM2 = 1.0  # [A] a brush feathers so much at least
FEATHER_MM = 12.0  # [A] round the spot, that a local coat is feathered into


def spot_name(mends: int) -> str:
    """What the spot is called among the zones."""
    return f"spot-{mends}"


def spot_of(project: Project, mishap: Mishap, lost_um: float | None, stands_um: float = 0.0) -> tuple[Project, Zone]:
    """The project with the spot as one zone more, and that zone.

    lost_um: film that is gone there [um], None for all of it down to what lies under the finish; stands_um: film that
    stands over the rest [um], as a run does. Source: the ledger's own sums, asked of a zone that only gets what was
    laid on the spot.
    """
    parent = project.zone(mishap.zone)
    name = spot_name(mishap.id)
    across = (mishap.size_mm or 10.0) + 2.0 * FEATHER_MM
    area = min(max(0.785 * (across / 10.0) ** 2, LEAST_CM2), parent.area_cm2)
    zone = replace(parent, name=name, area_cm2=area)
    before: Coat | None = None
    acts: list[Act] = []
    for act in project.acts:
        if isinstance(act, Coat):
            here = act.covers(parent.name) and (lost_um is not None or act.at_h > mishap.at_h)
            if act.spot and act.mends == mishap.id:
                acts.append(replace(act, zones=(name,), spot=False))
                continue
            if here and act.at_h <= mishap.at_h:
                before = act
            acts.append(_on(act, parent.name, name, here))
        elif isinstance(act, Sanding):
            if act.spot:
                acts.append(replace(act, zones=(name,), spot=False) if act.mends == mishap.id else act)
                continue
            here = act.share(parent) > 0 and (lost_um is not None or act.at_h > mishap.at_h)
            every = tuple(z.name for z in project.zones) if act.zones is None else act.zones
            acts.append(replace(act, zones=(*every, name) if here else every))
        else:
            acts.append(act)
    acts += _gone(zone, mishap, lost_um, stands_um, before)
    finishes = dict(project.finishes)
    if parent.name in finishes:
        finishes[name] = finishes[parent.name]
    absorbed = dict(project.absorbed)
    if lost_um is not None and parent.name in absorbed:
        absorbed[name] = absorbed[parent.name]
    made = replace(
        project, zones=(*project.zones, zone), acts=tuple(sorted(acts, key=lambda a: a.at_h)), finishes=finishes,
        absorbed=absorbed,
    )  # fmt: skip
    return made, zone


def _on(act: Coat, parent: str, name: str, here: bool) -> Coat:
    if act.zones is None:
        return act if here else replace(act, bare=(*act.bare, name))
    return replace(act, zones=(*act.zones, name)) if here and parent in act.zones else act


def _gone(
    zone: Zone, mishap: Mishap, lost_um: float | None, stands_um: float, before: Coat | None
) -> list[Act]:  # fmt: skip
    """What only the spot has: more of the last coat, or less of all."""
    out: list[Act] = []
    if stands_um > 0 and before is not None:
        out.append(Coat(at_h=before.at_h, dry_um=stands_um / max(zone.k_mean, 0.05), zones=(zone.name,),
                        finish=before.finish))  # fmt: skip
    if lost_um is not None and lost_um > 0:
        out.append(Sanding(at_h=mishap.at_h, um=lost_um / max(zone.sanding, 0.05), zones=(zone.name,)))
    return out
