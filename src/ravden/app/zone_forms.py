"""The form that says which zones are masked, and which carry another finish. No Qt."""

from collections.abc import Mapping

from ravden.app.forms import Field, when_tip
from ravden.catalogue.tables import Catalogue
from ravden.core.record import Project
from ravden.journal.kinds.zones import ZonesSet

FINISHED, MASKED = "finished", "masked"


def fields(catalogue: Catalogue, project: Project) -> tuple[Field, ...]:
    """One choice a zone."""
    others = [(m.id, m.label) for m in catalogue.materials.values() if m.id != project.material.id]
    choices = ((FINISHED, "finished"), (MASKED, "masked"), *others)
    out = []
    for zone in project.zones:
        finish = project.finishes.get(zone.name)
        value = MASKED if zone.name in project.masked else FINISHED if finish is None else finish.id
        out.append(Field(name=zone.name, label=zone.label, value=value, choices=choices))
    out.append(Field(name="at", label="Since", value="now", tip=when_tip()))
    return tuple(out)


def read(project: Project, typed: Mapping[str, str]) -> ZonesSet:
    """The journal entry a filled form stands for."""
    names = [z.name for z in project.zones]
    return ZonesSet(
        masked=tuple(n for n in names if typed[n] == MASKED),
        finishes={n: typed[n] for n in names if typed[n] not in (MASKED, FINISHED)},
    )
