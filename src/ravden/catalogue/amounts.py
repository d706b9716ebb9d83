"""How much of a finish the coats of a plan take, bare wood and way of laying included: one reckoning."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

from msgspec.structs import replace

from ravden.catalogue.assemble import ground
from ravden.catalogue.tables import Catalogue
from ravden.core.method.steps import Stage, left
from ravden.core.record import Project, Zone
from ravden.core.session.batch import Layer, Mix, absorbed_ml, mix

if TYPE_CHECKING:
    from ravden.core.ahead.outlook import Outlook


SPOT_CM2 = 12.0  # [A] of a spot a few centimetres across, feathered


@dataclass(frozen=True, slots=True, kw_only=True)
class Amount:
    """What the coats of one step take: of which material, laid which way; own: the instrument's own finish."""

    material: str
    way: str
    mix: Mix
    own: bool


def layer(
    catalogue: Catalogue, project: Project, zones: Sequence[Zone], way: str, dry_um: float, coats: int, had: int
) -> Layer:
    """Coats laid alike on these zones of an instrument; had: coats that lie on them already."""
    absorbs = 0.0
    if way != "spray":
        ml_m2 = {z.name: catalogue.absorbs_ml_m2(ground(catalogue, project, z.name)) for z in zones}
        absorbs = absorbed_ml(zones, ml_m2, had + 1, coats)
    return Layer(coats=coats, dry_um=dry_um, area_cm2=sum(z.area_cm2 * z.k_mean for z in zones), absorbed_ml=absorbs)


def coats_had(project: Project) -> int:
    """Coats logged on an instrument."""
    return sum(round(c.likely_count) for c in project.coats)


def stage_amounts(catalogue: Catalogue, project: Project, stages: Iterable[tuple[int, Stage]]) -> dict[int, Amount]:
    """What the coats of these steps of a plan take, by their place in it."""
    body = [z for z in project.zones if z.name not in project.bare]
    out: dict[int, Amount] = {}
    had = coats_had(project)
    for place, stage in stages:
        if stage.kind != "coats":
            continue
        zones = [z for z in project.zones if z.name in stage.zones] if stage.zones else body
        if stage.patch:
            zones = [_patch(project.zone(stage.patch), stage)]
        if not zones:
            continue
        material = catalogue.material(stage.finish) if stage.finish else project.material
        way = stage.by or catalogue.applied[material.id]
        um = project.dry_um(material, stage.by, stage.um)
        laid = layer(catalogue, project, zones, way, um, stage.count, 0 if stage.zones else had)
        made = mix(material, way, catalogue.tool(way).transfer, [laid])
        out[place] = Amount(material=material.id, way=way, mix=made, own=not stage.finish and not stage.patch)
        had += 0 if stage.zones or stage.patch else stage.count
    return out


def _patch(zone: Zone, stage: Stage) -> Zone:
    """What a local coat is laid on: the zone, or the spot of it with its feather."""
    return replace(zone, area_cm2=min(zone.area_cm2, SPOT_CM2)) if stage.spot else zone


def own_coats_left(catalogue: Catalogue, found: Outlook) -> dict[str, Mix]:
    """What the coats of its own finish still planned take, by the way they are laid; empty: none are planned."""
    return by_way(stage_amounts(catalogue, found.project, left(found.method, found.progress)).values())


def by_way(amounts: Iterable[Amount]) -> dict[str, Mix]:
    """What coats of the own finish take, by the way they are laid."""
    out: dict[str, Mix] = {}
    for amount in amounts:
        if amount.own:
            out[amount.way] = amount.mix + out[amount.way] if amount.way in out else amount.mix
    return out
