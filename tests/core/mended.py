"""Plans with a repair in them: an instrument of any method at any stage, and what such a plan must keep to."""

import functools
import itertools
from dataclasses import replace

import msgspec
from msgspec import structs

from ravden.app.plan_case import PlanIn, told
from ravden.catalogue.tables import shipped
from ravden.core.record import Coat, Mishap, Sanding
from ravden.core.repair.case import case_of
from ravden.core.repair.work_out import chosen_plan, on_spot, repairs
from ravden.core.state.history import planned

METHODS = (
    "lacquer-flow-coat", "shellac-pad-rounds", "waterborne-sprayed", "two-part-clear", "varnish-brushed", "oil-wiped",
    "light-cured-polyester", "satin-over-gloss",
)  # fmt: skip
STAGES = "bhlf"
SIZES_MM = (1.5, 300.0)
DEFECT = 99
LIGHT_MJ_CM2 = 9000


@functools.cache
def outlook_at(method, stage):
    """An outlook of a made-up body whose film is being built, hardens, was levelled, or is finished."""
    found = shipped().method(method)
    material = shipped().material(found.material)
    acts, t, laid, cut = [], 1.0, 0, False
    coats = sum(s.count for s in found.stage if s.kind == "coats")
    upto = max(coats // 2, 1) if stage == "b" else coats
    for step in found.stage:
        if step.kind == "coats":
            own = shipped().material(step.finish) if step.finish else material
            for _ in range(min(step.count, upto - laid)):
                acts.append({"kind": "coat", "at_h": t, "dry_um": step.um or own.coat_dry_um, "finish": step.finish})
                if own.cure.model == "light":
                    acts.append({"kind": "light", "at_h": t + 1, "dose_mJ_cm2": LIGHT_MJ_CM2})
                t, laid = t + 24, laid + 1
        elif step.kind in ("level", "rub-out") and laid and laid <= upto and (laid < upto or stage in "lf"):
            if stage == "l" and laid == coats and cut:
                continue
            cut = cut or laid == coats
            film = sum(a["dry_um"] for a in acts if a["kind"] == "coat")
            acts.append({"kind": "sanding", "at_h": t + 24 * 45, "um": min(5.0, 0.15 * film), "purpose": step.kind,
                         "grade": "P1200"})  # fmt: skip
            t += 24 * 46
        elif step.kind == "scuff" and laid < upto and laid:
            acts.append({"kind": "sanding", "at_h": t, "um": 1.0, "purpose": "scuff", "grade": "P400"})
            t += 1
        elif step.kind not in ("wait", "scuff", "level", "rub-out") and (laid < upto or stage == "f"):
            acts.append({"kind": "step", "at_h": t, "step": step.key})
            t += 1
    now_h = t + (24 * 60 if stage == "f" else 20)
    case = {
        "start": "2026-03-02T09:00+01:00", "now_h": now_h, "acts": acts,
        "instrument": {"kind": "solid-body", "method": method, "sheen": "gloss"},
    }  # fmt: skip
    return told(msgspec.convert(case, PlanIn), shipped()).asked.run()


def with_defect(found, what, *, zone="", ago_h=0.1, **fields):
    """The same with something wrong on it, and that."""
    name = zone or found.project.zones[0].name
    mishap = Mishap(at_h=found.now_h - ago_h, what=what, zone=name, id=DEFECT, **fields)
    return replace(found, project=structs.replace(found.project, acts=(*found.project.acts, mishap))), mishap


def worked_out(found, mishap):
    """Its repairs, and the case they are for."""
    tables = shipped().repairs
    case = case_of(found, mishap, tables.kinds[mishap.what])
    return case, repairs(case, tables, chosen_plan(found.project, found.method, found.now_h), ranges=False)


def breaches(case, way):
    """What a plan with a repair in it must not do, by code."""
    out = []
    stages = [(i, s) for i, s in enumerate(way.method.stage) if s.mends == case.mishap.id and s.op != "again"]
    if len(stages) != len(way.steps):
        out.append("steps are missing")
    for n, step in enumerate(way.steps):
        if step.op in ("polish", "rub") and not case.gloss:
            out.append("a flatted film is polished")
        if step.op == "colour" and any(s.kind == "coats" for s in way.steps[:n]):
            out.append("colour over new coats")
    dated = {s.index: s for s in way.forward.steps}
    mine = [dated[i] for i, _ in stages if i in dated]
    if way.forward.stuck is None and any(a.to_h > b.from_h + 1e-6 for a, b in itertools.pairwise(mine)):
        out.append("its steps overlap")
    out += _film(case, way)
    return out


def _film(case, way):
    """Whether no more is sanded than is there, coat by coat and cut by cut, and the end is what that leaves."""
    spot = case.spread == "spot"
    project = case.there.project if spot else case.found.project
    ledger = case.there.ledger if spot else case.found.ledger
    zone = case.there.zone if spot else case.zone
    events = sorted([*way.forward.coats, *way.forward.sandings], key=lambda a: a.at_h)
    out, laid, sums = [], list(project.acts), ledger.mean_um(zone.name)
    for act in events:
        mine = on_spot(act, case) if spot else act
        if mine is None:
            continue
        if isinstance(mine, Sanding):
            if mine.share(zone) > sums + 3.0 and not mine.bared and mine.mends:
                out.append("more is sanded than is there")
            sums = 0.0 if mine.bared and mine.share(zone) > 0 else max(sums - mine.share(zone), 0.0)
        elif isinstance(mine, Coat):
            sums += mine.share(zone) if zone.name in project.absorbed else _of(mine, zone, ledger)
        ledger = planned(project, ledger, mine, laid)
        laid.append(mine)
    if zone.name not in project.absorbed and abs(ledger.mean_um(zone.name) - sums) > max(4.0, 0.12 * sums):
        out.append(f"the film does not add up: {ledger.mean_um(zone.name):.1f} and {sums:.1f}")
    return out


def _of(coat, zone, ledger):
    """What the ledger makes of a coat in the mean: its gun, and this zone."""
    before = ledger.mean_um(zone.name)
    return ledger.coat(coat.dry_um, [zone.name]).mean_um(zone.name) - before if coat.covers(zone.name) else 0.0
