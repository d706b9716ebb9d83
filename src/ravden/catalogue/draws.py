"""What each coat that was logged took out of a can."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import TYPE_CHECKING

from msgspec.structs import replace

from ravden.catalogue.amounts import SPOT_CM2, layer
from ravden.core.errors import InputError
from ravden.core.record import Coat, Project, Sanding
from ravden.core.session.batch import mix
from ravden.core.stock.lots import Draw

if TYPE_CHECKING:
    from ravden.catalogue.tables import Catalogue

SHEET_CM2 = 23.0 * 28.0  # [S] the usual whole sheet
COMPOUND_ML_CM2 = 15.0 / 1e4  # [A]


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


def rubbed_draws(catalogue: Catalogue, project: Project, zero: datetime) -> tuple[Draw, ...]:
    """What sanding took of papers and compounds, as far as their grades are known."""
    out = []
    for act in project.acts:
        if isinstance(act, Sanding) and act.grade and not act.spot and not act.bared:
            area = sum(z.area_cm2 for z in project.zones if z.kind != "edge" and act.share(z) > 0)
            if (took := rubbed(catalogue, act.grade, act.um, area, act.mode)) is not None:
                kind, grade, amount = took
                at = zero + timedelta(hours=act.at_h)
                out.append(Draw(at=at, material=grade, ml=amount, of=project.instrument.id, kind=kind))
    return tuple(sorted(out, key=lambda d: d.at))


def rubbed(catalogue: Catalogue, grade: str, um: float, area_cm2: float, mode: str) -> tuple[str, str, float] | None:
    """paper and sheets, or compound and ml, that a grade takes of an area, with its id; None: nobody knows the grade,
    or it is neither.

    A sheet is cut into as many faces as the block has room for on it; a compound takes 15 ml a square metre [A].
    """
    from ravden.core.abrasive.grades import find
    from ravden.core.abrasive.scratch import REFERENCE_H_MPA, Rung, pieces_of_paper

    try:
        found = find(catalogue.abrasives, grade)
    except InputError:
        return None
    if found.kind == "polish":
        return "compound", found.id, COMPOUND_ML_CM2 * area_cm2
    if found.kind != "paper":
        return None
    block = catalogue.backings["firm"]
    rung = Rung(abrasive=found, backing=block, mode=mode or "wet", hardness_MPa=REFERENCE_H_MPA)
    return "paper", found.id, pieces_of_paper(rung, um, area_cm2) * block.contact_cm2 / SHEET_CM2


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
