"""``ravden compute repair``: what did a defect and what puts it right, by the engines of the window."""

from __future__ import annotations

import math
from dataclasses import replace
from datetime import datetime, timedelta
from typing import TYPE_CHECKING, Any

import msgspec

from ravden.app.plan_case import PlanIn, told
from ravden.app.repairing import ml_to_come, plan_with, record_of
from ravden.catalogue.tables import Catalogue
from ravden.core.errors import InputError, need
from ravden.core.record import Mishap
from ravden.core.repair.case import case_of
from ravden.core.repair.causes import causes
from ravden.core.repair.evidence import Cause
from ravden.core.repair.work_out import Repair, repairs
from ravden.exchange.case import Case
from ravden.text.repair_words import none_because

if TYPE_CHECKING:
    from ravden.app.plan_case import Told
    from ravden.core.repair.case import Case as Defect

NUMBER = 1_000_000_000  # of the defect, which is in no journal


class DefectIn(Case):
    """Something that went wrong; what is not told is as is usual for it. told: questions answered, by code."""

    what: str
    zone: str
    at_h: float
    size_mm: float | None = None
    height_um: float | None = None
    depth_um: float | None = None
    spread: str = ""
    told: dict[str, bool] = msgspec.field(default_factory=dict)


class RepairIn(PlanIn):
    """A plan's case, and what went wrong on it."""

    defect: DefectIn = msgspec.field(default_factory=lambda: DefectIn(what="", zone="", at_h=0.0))


def repair(case: RepairIn, catalogue: Catalogue) -> dict[str, Any]:
    """Causes, the likeliest first, and the repairs there are. Raises InputError naming the field."""
    made = told(case, catalogue)
    found = made.asked.run()
    defect = case.defect
    need(defect.what in catalogue.repairs.kinds, "defect.what", f"must be one of {', '.join(catalogue.repairs.kinds)}")
    need(defect.at_h <= case.now_h, "defect.at_h", "is still to come: it must not be after now_h")
    try:
        mishap = Mishap(
            at_h=defect.at_h, what=defect.what, zone=defect.zone, size_mm=defect.size_mm, height_um=defect.height_um,
            depth_um=defect.depth_um, spread=defect.spread, told=tuple(defect.told.items()), id=NUMBER,
        )  # fmt: skip
        rack = made.asked.rack.acted(mishap)
        now = made.asked.now
        found = replace(found, project=rack.project_at(now))
        lies = case_of(found, mishap, catalogue.repairs.kinds[mishap.what])
    except InputError as error:
        raise error.within("defect") from None
    ways = repairs(lies, catalogue.repairs, plan_with(rack, found, mishap, now))
    shop = made.shop.with_rack(rack)
    return {
        "causes": [_cause(c) for c in causes(record_of(shop, catalogue, found, mishap, {}))],
        "repairs": [_repair(w, lies, made, catalogue) for w in ways.ways],
        "none_because": None if ways.none_because is None else none_because(ways.none_because, lies.kind.label),
    }


def _cause(found: Cause) -> dict[str, Any]:
    evidence = []
    if found.what or found.at_h is not None:
        evidence = [{"what": found.what or "seen", "value": _number(found.value), "limit": _number(found.limit)}]
    return {"cause": found.code, "confidence": found.confidence, "evidence": evidence, "asked": bool(found.asks)}


def _number(value: float) -> float | None:
    return value if math.isfinite(value) else None


def _repair(way: Repair, lies: Defect, made: Told, catalogue: Catalogue) -> dict[str, Any]:
    rack, zone = made.asked.rack, made.zone

    def at(at_h: float | None) -> str | None:
        if at_h is None:
            return None
        moment: datetime = (rack.zero + timedelta(hours=at_h)).astimezone(zone)
        return moment.isoformat(timespec="seconds")

    dated = {s.index: s for s in way.forward.steps}
    steps = []
    for i, stage in enumerate(way.method.stage):
        if stage.mends != lies.mishap.id:
            continue
        step = dated.get(i)
        steps.append({
            "op": stage.op, "kind": stage.kind, "label": stage.label, "count": stage.count, "um": stage.um,
            "zones": [stage.patch] if stage.patch else [], "spot": stage.spot,
            "begins": at(None if step is None else step.from_h), "ends": at(None if step is None else step.to_h),
            "hands_min": 0.0 if step is None else 60.0 * step.hands_h,
        })  # fmt: skip
    before = ml_to_come(catalogue, lies.found.project, lies.found.method, lies.found.now_h)
    names = {z.name: "spot" if z.name.startswith("spot-") else z.name for z in way.zones}
    return {
        "name": way.name, "steps": steps, "later": way.work.later, "leaves": way.leaves, "best": list(way.best),
        "film_after": {names[z.name]: z.film_um for z in way.zones},
        "odds_after": {names[z.name]: z.odds for z in way.zones},
        "hands_min": 60.0 * way.hands_h, "ready": {"before": at(way.ready_h[0]), "after": at(way.ready_h[1])},
        "material_ml": max(ml_to_come(catalogue, way.project, way.method, lies.found.now_h) - before, 0.0),
        "skill": way.work.skill, "cautions": list(way.work.cautions),
        "risks": [{"code": r.code, **{k: v for k, v in r.values.items() if k != "zone"}} for r in way.risks],
    }  # fmt: skip
