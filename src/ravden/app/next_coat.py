"""What one key logs on an instrument: the coat its plan has next, or the step of a repair. No Qt."""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING

from ravden.core.method.steps import progress
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.sanding import SandingLogged
from ravden.journal.kinds.step import StepLogged

if TYPE_CHECKING:
    from ravden.journal.kinds.kind import Kind
    from ravden.journal.rack import OnRack


def next_mend(rack: OnRack, now: datetime) -> Kind | None:
    """What one key logs where a repair's own step is next: a coat or a cut on its patch, or the work done. None: no
    step of a repair is next, or it waits for the film."""
    project = rack.project
    done = progress(rack.method, project.acts, rack.hours(now), project.body)
    stage = rack.method.stage[done.index] if done.index < len(rack.method.stage) else None
    if stage is None or not stage.mends or stage.op == "again" or stage.kind == "wait":
        return None
    zones = (stage.patch,) if stage.patch else None
    if stage.kind == "coats":
        material = project.layers.get(stage.finish) or project.finishes.get(stage.patch) or project.material
        um = project.dry_um(material, stage.by, stage.um)
        return CoatLogged(
            dry_um=um, zones=zones, finish=stage.finish, mends=stage.mends, spot=stage.spot, tinted=stage.tinted
        )
    if stage.kind in ("level", "scuff", "rub-out"):
        um = max(round(stage.um or 1.0, 2), 0.01)
        return SandingLogged(
            um=um, purpose=stage.kind, zones=zones, mends=stage.mends if zones else 0, spot=stage.spot,
            bared=stage.bares,
        )  # fmt: skip
    return StepLogged(step=stage.key)


def usual_coat_um(rack: OnRack, now: datetime) -> float:
    """Dry film of the coat the plan has next of an instrument's own finish [um]; the material's usual one past it."""
    project, now_h = rack.project, rack.hours(now)
    at = progress(rack.method, project.acts, now_h, project.body).index
    ahead = (s for s in rack.method.stage[at:] if s.kind == "coats" and not (s.zones or s.patch))
    stage = next(ahead, None)
    if stage is None or stage.finish:
        return project.material.coat_dry_um
    return project.dry_um(project.material, stage.by, stage.um)
