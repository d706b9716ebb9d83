"""An instrument dated as if it stood in the warm cabinet, or as if it did not."""

from __future__ import annotations

from dataclasses import replace

from msgspec import structs

from ravden.core.ahead.forward import plan_forward
from ravden.core.ahead.outlook import Outlook
from ravden.core.ahead.refused import as_borne
from ravden.core.climate.series import Cabinet, in_cabinets
from ravden.core.record import Air, Project

RH = 0.3  # [A] in a warm cabinet, as where a stay in it is logged
LONG_H = 24 * 90.0


def in_shop(found: Outlook) -> Outlook:
    """The same without the stays in the cabinet that the shop's plan has for it."""
    return found if found.bare is None else _dated(found, found.bare)


def warm_windows(found: Outlook, temp_C: float) -> dict[str, float]:
    """When each window would likely open, by its label, if the instrument stood in the cabinet from its last planned
    coat on, or from now [h]. found: without planned stays."""
    body = [c.at_h for c in found.forward.coats if c.zones is None]
    last = max([found.now_h, *body])
    stay = Cabinet(at_h=last, hours=LONG_H, temp_C=temp_C, rh=RH)
    warm = _dated(found, with_stays(found.project, (stay,)))
    return {w.label: w.likely_h for w in warm.forward.windows if w.likely_h is not None}


def stood(found: Outlook, stays: tuple[Cabinet, ...]) -> Outlook:
    """The same with stays in the cabinet. found: without planned ones."""
    return _dated(found, with_stays(found.project, stays))


def with_stays(project: Project, stays: tuple[Cabinet, ...]) -> Project:
    """An instrument with the air of the cabinet around it while it is in there."""
    acts = [a for a in project.acts if not isinstance(a, Air)]
    air = in_cabinets(project.air, stays)
    return structs.replace(project, acts=tuple(sorted([*acts, *air], key=lambda a: a.at_h)))


def _dated(found: Outlook, project: Project) -> Outlook:
    ahead = plan_forward(
        project, found.method, found.ledger, found.now_h, found.hours, found.sands, found.soft.found, held=found.held
    )
    ahead = as_borne(ahead, found.method, found.progress.index, found.rub_out)
    return replace(found, project=project, forward=ahead, bare=None)
