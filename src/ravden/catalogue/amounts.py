"""How much of a finish the coats of a plan take, bare wood and way of laying included: one reckoning."""

from collections.abc import Sequence

from ravden.catalogue.assemble import ground
from ravden.catalogue.tables import Catalogue
from ravden.core.method.steps import left
from ravden.core.plan.batch import Layer, Mix, drinks_ml, mix
from ravden.core.plan.outlook import Outlook
from ravden.core.record import Project, Zone


def layer(
    catalogue: Catalogue, project: Project, zones: Sequence[Zone], way: str, dry_um: float, coats: int, had: int
) -> Layer:
    """Coats laid alike on these zones of an instrument; had: coats that lie on them already."""
    drinks = 0.0
    if way != "spray":
        ml_m2 = {z.name: catalogue.drinks_ml_m2(ground(catalogue, project, z.name)) for z in zones}
        drinks = drinks_ml(zones, ml_m2, had + 1, coats)
    return Layer(coats=coats, dry_um=dry_um, area_cm2=sum(z.area_cm2 * z.k_mean for z in zones), drinks_ml=drinks)


def coats_had(project: Project) -> int:
    """Coats logged on an instrument."""
    return sum(round(c.likely_count) for c in project.coats)


def own_coats_left(catalogue: Catalogue, found: Outlook) -> dict[str, Mix]:
    """What the coats of its own finish still planned take, by the way they are laid; empty: none are planned."""
    project, material = found.project, found.project.material
    body = [z for z in project.zones if z.name not in project.bare]
    layers: dict[str, list[Layer]] = {}
    had = coats_had(project)
    for _, stage in left(found.method, found.progress):
        if stage.kind != "coats" or stage.zones:
            continue
        if not stage.finish:
            way = stage.by or catalogue.applied[material.id]
            um = project.dry_um(material, stage.by, stage.um)
            layers.setdefault(way, []).append(layer(catalogue, project, body, way, um, stage.count, had))
        had += stage.count
    return {way: mix(material, way, catalogue.tool(way).transfer, laid) for way, laid in layers.items()}
