"""Something that went wrong, what was told of it afterwards, and what is done about it."""

from __future__ import annotations

from datetime import datetime
from typing import ClassVar

from msgspec.structs import force_setattr, replace

from ravden.core.errors import InputError, need
from ravden.core.method.mending import put_in, rejoined, stage_renumbered
from ravden.core.method.steps import Stage, as_told, progress
from ravden.core.record import Mishap
from ravden.journal.kinds.kind import Acted, OfInstrument
from ravden.journal.kinds.reading import NO_COLOUR
from ravden.journal.mending import OUTCOMES, Mending
from ravden.journal.rack import OnRack

MOST_STEPS = 60
MOST_TOLD = 40


class MishapLogged(Acted, frozen=True, tag="mishap"):
    """Something that went wrong on a zone, as core's Mishap has it."""

    what: str
    zone: str
    grade: str = ""
    place: tuple[float, float] | None = None
    size_mm: float | None = None
    height_um: float | None = None
    depth_um: float | None = None
    spread: str = ""
    colour: bool = False

    made: ClassVar[type] = Mishap

    def check_act(self, rack: OnRack, act: Mishap) -> None:
        zone = rack.project.zone(act.zone)
        need(zone.name not in rack.masked, "zone", f"{zone.label.lower()} is masked: nothing of the finish is on it")
        if act.colour:
            need(rack.project.coloured(act.zone, act.at_h), "colour", NO_COLOUR)


class OfDefect(OfInstrument, frozen=True):
    """Tells of a defect that was noted, by the number of its entry."""

    defect: int

    def about(self, rack: OnRack) -> Mishap:
        """What it tells of. Raises InputError where there is no such defect."""
        found = next((a for a in rack.acts if isinstance(a, Mishap) and a.id == self.defect), None)
        if found is None:
            raise InputError("defect", f"no defect {self.defect} is noted on {rack.instrument.name}")
        return found

    def check_on(self, rack: OnRack, at: datetime) -> None:
        need(self.about(rack).at_h <= rack.hours(at), "at", "it was not noted yet then")

    def renumbered(self, numbers: dict[int, int]) -> OfDefect:
        return replace(self, defect=numbers.get(self.defect, self.defect))


class DefectTold(OfDefect, frozen=True, tag="defect-told"):
    """What was asked about it: where, how large, how high or deep, and questions answered yes or no."""

    place: tuple[float, float] | None = None
    size_mm: float | None = None
    height_um: float | None = None
    depth_um: float | None = None
    spread: str = ""
    told: tuple[tuple[str, bool], ...] = ()
    colour: bool = False

    def check_on(self, rack: OnRack, at: datetime) -> None:
        told = self._put(self.about(rack))
        if told.colour:
            need(rack.project.coloured(told.zone, told.at_h), "colour", NO_COLOUR)

    def limits(self) -> None:
        need(len(self.told) <= MOST_TOLD, "told", f"at most {MOST_TOLD} answers")

    def _put(self, mishap: Mishap) -> Mishap:
        return replace(
            mishap, place=self.place if self.place is not None else mishap.place, size_mm=self.size_mm,
            height_um=self.height_um, depth_um=self.depth_um, spread=self.spread, told=self.told, colour=self.colour,
        )  # fmt: skip

    def onto_rack(self, rack: OnRack, at: datetime, entry: int) -> OnRack:
        mishap = self.about(rack)
        told = self._put(mishap)
        return replace(rack, acts=tuple(told if a is mishap else a for a in rack.acts))


class RepairChosen(OfDefect, frozen=True, tag="repair-chosen"):
    """A repair is put into the plan, in the place of one chosen before. steps: its own; later: with the next
    levelling."""

    name: str
    steps: tuple[Stage, ...]
    later: bool = False

    def __post_init__(self) -> None:
        force_setattr(self, "steps", tuple(as_told(s) for s in self.steps))

    def check_on(self, rack: OnRack, at: datetime) -> None:
        super().check_on(rack, at)
        for step in self.steps:
            if step.patch:
                rack.project.zone(step.patch)
            if step.finish:
                rack.catalogue.material(step.finish)

    def limits(self) -> None:
        need(0 < len(self.steps) <= MOST_STEPS, "steps", f"must be 1 to {MOST_STEPS} steps")
        for i, step in enumerate(self.steps):
            need(step.mends == self.defect, f"steps[{i}].mends", "belongs to another defect")

    def onto_rack(self, rack: OnRack, at: datetime, entry: int) -> OnRack:
        self.about(rack)
        put = Mending(chosen=self.name, steps=self.steps, later=self.later, chosen_h=rack.hours(at))
        return replanned(rack, self.defect, put, rack.hours(at))

    def renumbered(self, numbers: dict[int, int]) -> RepairChosen:
        steps = tuple(stage_renumbered(s, numbers) for s in self.steps)
        return replace(self, defect=numbers.get(self.defect, self.defect), steps=steps)


class RepairLeft(OfDefect, frozen=True, tag="repair-left"):
    """A repair is begun no more, or goes on no further: what is left of it leaves the plan."""

    def check_on(self, rack: OnRack, at: datetime) -> None:
        super().check_on(rack, at)
        need(bool(rack.mending.get(self.defect, Mending()).steps), "defect", "no repair was chosen for it")

    def onto_rack(self, rack: OnRack, at: datetime, entry: int) -> OnRack:
        before = rack.mending.get(self.defect, Mending())
        return replanned(rack, self.defect, replace(before, steps=(), left_off=True), rack.hours(at))


class DefectLooked(OfDefect, frozen=True, tag="defect-looked"):
    """How it looks now: gone, better, still there, or lived with. Only what is still there stays open."""

    outcome: str

    def check_on(self, rack: OnRack, at: datetime) -> None:
        super().check_on(rack, at)

    def limits(self) -> None:
        need(self.outcome in OUTCOMES, "outcome", f"must be one of {', '.join(OUTCOMES)} (got {self.outcome})")

    def onto_rack(self, rack: OnRack, at: datetime, entry: int) -> OnRack:
        self.about(rack)
        looked_h = rack.hours(at)
        before = rack.mending.get(self.defect, Mending())
        now = replace(before, outcome=self.outcome, looked_h=looked_h)
        if self.outcome == "still":
            now = replace(now, chosen="", steps=())
        elif self.outcome == "lived-with":
            now = replace(now, steps=())
        else:
            return replace(rack, mending={**rack.mending, self.defect: now})
        return replanned(rack, self.defect, now, looked_h)


def replanned(rack: OnRack, defect: int, now: Mending, at_h: float) -> OnRack:
    """The instrument with another repair of one defect in its plan, or none. What was worked of it stays; what other
    repairs still have to do is put in anew, since they may have shared a step with the one that goes."""
    method = rack.own_method
    body = rack.body_where_it_matters
    done = progress(method, rack.acts, at_h, body)
    mending = {**rack.mending, defect: now}
    open_ones = {n: m for n, m in mending.items() if m.steps and not m.closed}
    stages = rejoined([s for i, s in enumerate(method.stage) if i < done.index or not s.mends], done.index)
    worked = {(s.op, s.patch): s for s in method.stage[: done.index] if s.mends}
    ids = {s.id for s in worked.values()}
    under_way = method.stage[done.index] if done.index < len(method.stage) else None
    for number, one in open_ones.items():
        left = [s for s in one.steps if s.id not in ids and not (number != defect and _shared(s, worked))]
        if number != defect and under_way is not None and under_way.mends == number and done.coats_in_stage:
            left = [replace(s, count=s.count - done.coats_in_stage) if s.id == under_way.id else s for s in left]
        if left:
            at = progress(replace(method, stage=tuple(stages)), rack.acts, at_h, body)
            stages = list(put_in(stages, at, left, later=one.later))
    return replace(rack.planned_as(tuple(stages), rack.moment(at_h)), mending=mending)


def _shared(step: Stage, worked: dict[tuple[str, str], Stage]) -> bool:
    return not step.spot and (step.op, step.patch) in worked
