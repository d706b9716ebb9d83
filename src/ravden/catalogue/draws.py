"""What each coat that was logged took out of a can."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import TYPE_CHECKING

from msgspec.structs import replace

from ravden.catalogue.amounts import SPOT_CM2, layer
from ravden.core.record import Coat, Project
from ravden.core.session.batch import mix
from ravden.core.stock.lots import Draw

if TYPE_CHECKING:
    from ravden.catalogue.tables import Catalogue


def coat_draws(catalogue: Catalogue, project: Project, zero: datetime) -> tuple[Draw, ...]:
    """One of each entry of coats of an instrument, in the order of time. zero: its hour zero."""
    out = []
    had: dict[str, int] = {}
    for act in project.acts:
        if isinstance(act, Coat):
            finish = act.finish or project.material.id
            out.append(_draw(catalogue, project, act, zero, had.get(finish, 0)))
            had[finish] = had.get(finish, 0) + (0 if act.spot else round(act.likely_count))
    return tuple(sorted((d for d in out if d is not None), key=lambda d: d.at))


def _draw(catalogue: Catalogue, project: Project, coat: Coat, zero: datetime, had: int) -> Draw | None:
    material = catalogue.material(coat.finish) if coat.finish else project.material
    if coat.spot:
        named = coat.zones or ()
        zones = [replace(z, area_cm2=min(z.area_cm2, SPOT_CM2)) for z in project.zones if z.name in named]
    else:
        zones = [z for z in project.zones if coat.covers(z.name)]
    count = round(coat.likely_count)
    if not zones or count < 1:
        return None
    way = project.own_way.get(material.id) or catalogue.applied[material.id]
    took = mix(
        material, way, catalogue.tool(way).transfer, [layer(catalogue, project, zones, way, coat.dry_um, count, had)]
    )
    return Draw(
        at=zero + timedelta(hours=coat.at_h), material=material.id, ml=took.supplied_ml, thinner_ml=took.thinner_ml,
        of=project.instrument.id,
    )  # fmt: skip
