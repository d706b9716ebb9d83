"""Causes and repairs of one defect, worked out on the instrument as the shop knows it. No Qt."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace as with_fields
from datetime import datetime
from typing import TYPE_CHECKING

from msgspec import Struct
from msgspec.structs import replace

from ravden.app.correcting import units_of
from ravden.app.forms import number
from ravden.app.giving_way import giving_way
from ravden.catalogue.amounts import stage_amounts
from ravden.core.errors import InputError
from ravden.core.method.steps import Method, Stage, left, progress
from ravden.core.record import Air, Coat, Mishap, Project
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.mishap import DefectLooked, RepairChosen, RepairLeft

if TYPE_CHECKING:
    from ravden.app.session import ShopSession
    from ravden.app.shop_problem import Steps
    from ravden.catalogue.tables import Catalogue
    from ravden.core.ahead.outlook import Outlook
    from ravden.core.repair.evidence import Cause
    from ravden.core.repair.record import Record, Settings
    from ravden.core.repair.work_out import Planned, Repair, Repairs
    from ravden.journal.entry import Entry
    from ravden.journal.rack import OnRack
    from ravden.journal.shop import Shop


class Days(Struct, frozen=True, kw_only=True):
    """What a repair does to the days of the shop. ready: of the instrument, on the shop's wall, None: not within sight;
    moved: other instruments whose work ends later by it: name, and when it ends before and after."""

    ready: datetime | None
    moved: tuple[tuple[str, datetime, datetime], ...] = ()


class Worked(Struct, frozen=True, kw_only=True):
    """What is known of one defect: its causes, its repairs, the material each takes beyond the plan's own [ml], and the
    days: before, and with each of them."""

    found: Outlook
    mishap: Mishap
    causes: tuple[Cause, ...]
    repairs: Repairs
    ml: tuple[float, ...]
    before: Days
    days: tuple[Days, ...]


def mishap_of(rack: OnRack, defect: int) -> Mishap:
    """The defect of a number. Raises InputError where it was taken back."""
    found = next((a for a in rack.acts if isinstance(a, Mishap) and a.id == defect), None)
    if found is None:
        raise InputError("defect", "it is not noted any more")
    return found


def work(
    session: ShopSession, instrument: str, defect: int, outlooks: Mapping[str, Outlook], standing: Steps
) -> Callable[[], Worked]:  # fmt: skip
    """A snapshot of what there is to be worked out, to be run anywhere. outlooks: of the others in the shop; standing:
    its plan as it is shown. Raises InputError where the defect is not noted."""
    shop, catalogue, now = session.shop, session.catalogue, session.now
    rack = shop.on_rack(instrument)
    mishap, asked = mishap_of(rack, defect), session.request(instrument)
    settings, others = _settings(session, rack), {i: o for i, o in outlooks.items() if i != instrument}

    def run() -> Worked:
        with giving_way():
            return _work(shop, catalogue, rack, mishap, asked.run(), now, settings, others, standing)

    return run


def _work(
    shop: Shop, catalogue: Catalogue, rack: OnRack, mishap: Mishap, found: Outlook, now: datetime,
    settings: Mapping[int, Settings], others: Mapping[str, Outlook], standing: Steps,
) -> Worked:  # fmt: skip
    from ravden.core.repair.case import case_of
    from ravden.core.repair.causes import causes
    from ravden.core.repair.work_out import repairs

    tables = catalogue.repairs
    bare = RepairLeft(defect=mishap.id).onto_rack(rack, now, 0) if rack.mending.get(mishap.id) else rack
    plain = _planned(found, bare, now)
    case = case_of(plain, mishap, tables.kinds[mishap.what])

    made = repairs(case, tables, plan_with(rack, found, mishap, now))
    before_ml = ml_to_come(catalogue, plain.project, plain.method, found.now_h)
    name = rack.instrument.id
    before = _days(shop.with_rack(bare), now, {**others, name: plain}, standing, name)
    days = []
    for way in made.ways:
        after = with_fields(
            plain, project=way.project, method=way.method, forward=way.forward,
            known=with_fields(plain.known, progress=progress(way.method, way.project.acts, found.now_h, rack.body)),
        )  # fmt: skip
        chosen = bare
        if way.steps:
            body = RepairChosen(defect=mishap.id, name="-", steps=way.steps, later=way.work.later)
            chosen = body.onto_rack(rack, now, 0)
        days.append(_days(shop.with_rack(chosen), now, {**others, name: after}, standing, name))
    return Worked(
        found=found, mishap=mishap, causes=causes(record_of(shop, catalogue, found, mishap, settings)), repairs=made,
        ml=tuple(max(ml_to_come(catalogue, w.project, w.method, found.now_h) - before_ml, 0.0) for w in made.ways),
        before=Days(ready=before.get(name)), days=tuple(_against(before, d, name, shop) for d in days),
    )  # fmt: skip


def plan_with(rack: OnRack, found: Outlook, mishap: Mishap, now: datetime) -> Planned:
    """The instrument's project and plan with these steps in it: just what choosing them makes of it."""

    def plan(steps: tuple[Stage, ...], later: bool) -> tuple[Project, Method]:
        made = RepairChosen(defect=mishap.id, name="-", steps=steps, later=later).onto_rack(rack, now, 0)
        return _same_air(found, made.project_at(now)), made.method

    return plan


def _planned(found: Outlook, rack: OnRack, now: datetime) -> Outlook:
    """The outlook of the plan of an instrument as it would be, by the film and the hours alone."""
    from ravden.core.ahead.forward import plan_forward

    project, method = _same_air(found, rack.project_at(now)), rack.method
    done = progress(method, project.acts, found.now_h, rack.body)
    ahead = plan_forward(
        project, method, found.ledger, found.now_h, found.hours, found.sands, found.soft.found, held={}
    )
    return with_fields(
        found, project=project, method=method, forward=ahead, held={}, known=with_fields(found.known, progress=done)
    )


def _same_air(found: Outlook, project: Project) -> Project:
    """The project in the air of the outlook, stays in the cabinet and all."""
    air = [a for a in found.project.acts if isinstance(a, Air)]
    acts = [a for a in project.acts if not isinstance(a, Air)]
    return replace(project, acts=tuple(sorted([*acts, *air], key=lambda a: a.at_h)))


def ml_to_come(catalogue: Catalogue, project: Project, method: Method, now_h: float) -> float:
    """What the coats still to come take in all [ml]."""
    done = progress(method, project.acts, now_h, project.body)
    return sum(a.mix.supplied_ml for a in stage_amounts(catalogue, project, left(method, done)).values())


def _days(
    shop: Shop, now: datetime, outlooks: Mapping[str, Outlook], standing: Steps, mine: str
) -> dict[str, datetime]:
    """When the work on each instrument ends by the shop's plan, once something was told of one of them."""
    from ravden.app.shop_plan import planned, snapshot
    from ravden.app.shop_problem import Clock
    from ravden.core.schedule.problem import job_end

    made = planned(snapshot(shop, now, outlooks, standing, touched=frozenset({mine})))
    if made.problem is None or made.plan is None:
        return {}
    at = Clock(made.asked.hours, made.asked.now)
    return {name: at.moment(job_end(made.problem, made.plan, j)) for j, name in enumerate(made.parts)}


def _against(before: Mapping[str, datetime], after: Mapping[str, datetime], mine: str, shop: Shop) -> Days:
    """Only a promise that is moved by a day or more is told."""
    moved = []
    for name, ends in after.items():
        was, rack = before.get(name), shop.racked[name]
        promised = rack.instrument.promised_h is not None
        if name != mine and promised and was is not None and ends.date() > was.date():
            moved.append((rack.instrument.name, was, ends))
    return Days(ready=after.get(mine), moved=tuple(sorted(moved)))


def record_of(
    shop: Shop, catalogue: Catalogue, found: Outlook, mishap: Mishap, settings: Mapping[int, Settings]
) -> Record:  # fmt: skip
    """What the journal holds that can speak for a cause."""
    from ravden.core.repair.record import Record

    rack = shop.on_rack(found.project.instrument.id)
    material = found.project.finish(mishap.zone)
    family = catalogue.families.get(material.flow)
    oil = [
        rack.hours(other.moment(a.at_h))
        for i, other in shop.racked.items() if i != found.project.instrument.id
        for a in other.acts if isinstance(a, Coat) and other.project.material.family.startswith("oil")
    ]  # fmt: skip
    return Record(
        found=found, mishap=mishap, flow=None if family is None else family.flow,
        limits=catalogue.booth.limits.get(material.family), settings=settings, near=tuple(oil),
        overs=catalogue.overs, out_h=tuple(rack.hours(a) for a, _ in rack.away),
        old=rack.method.id.startswith("refinish"), can_share=_can_share(shop, catalogue, rack, mishap),
    )  # fmt: skip


def _can_share(shop: Shop, catalogue: Catalogue, rack: OnRack, mishap: Mishap) -> float | None:
    """How much of its shelf life was over in the can the last coat came from; None: no can of it was told of."""
    from ravden.catalogue.shelf import can_then

    coats = [c for c in rack.project.coats if c.at_h <= mishap.at_h and c.covers(mishap.zone)]
    if not coats:
        return None
    last = max(coats, key=lambda c: c.at_h)
    found = can_then(catalogue, shop.stock, last.finish or rack.instrument.material, rack.moment(last.at_h))
    return None if found is None else found.share


def _settings(session: ShopSession, rack: OnRack) -> Mapping[int, Settings]:
    """How coats were laid, where their form said so."""
    from ravden.core.repair.record import Settings

    out = {}
    for entry in session.entries:
        body = entry.body
        if entry.instrument == rack.instrument.id and isinstance(body, CoatLogged) and body.typed:
            thinner, wet = _number(body.typed.get("thinner")), None
            if body.typed.get("by") == "wet":
                typed = _number(body.typed.get("wet_um"))
                wet = None if typed is None else units_of(body, session.units).film_to_um(typed)
            out[entry.id] = Settings(thinner_ratio=None if thinner is None else thinner / 100.0, wet_um=wet)
    return out


def _number(typed: str | None) -> float | None:
    """What was typed as a number; None: nothing that is one."""
    try:
        return None if typed is None else number(typed, "")
    except InputError:
        return None


def choose(session: ShopSession, instrument: str, mishap: Mishap, way: Repair, origin: str = "") -> Entry:
    """Put one of the repairs into the plan; one entry, which Undo takes back. Raises InputError."""
    if way.leaves:
        return looked(session, instrument, mishap.id, "lived-with", origin)
    body = RepairChosen(defect=mishap.id, name=way.name, steps=way.steps, later=way.work.later)
    return session.log(body, instrument=instrument, origin=origin)


def leave(session: ShopSession, instrument: str, defect: int, origin: str = "") -> Entry:
    """What is left of a repair leaves the plan."""
    return session.log(RepairLeft(defect=defect), instrument=instrument, origin=origin)


def looked(session: ShopSession, instrument: str, defect: int, outcome: str, origin: str = "") -> Entry:
    """How it looks now."""
    return session.log(DefectLooked(defect=defect, outcome=outcome), instrument=instrument, origin=origin)


def steps_said(stages: Sequence[Stage]) -> tuple[str, ...]:
    """The steps of a repair in words: coats with their number."""
    return tuple(f"{s.label}: {s.count}" if s.kind == "coats" and s.count > 1 else s.label for s in stages)
