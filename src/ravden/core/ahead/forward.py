"""What is to come: the rest of the method, dated by the cure engine and the shop's hours."""

import bisect
from typing import NoReturn

from msgspec.structs import replace

from ravden.core.ahead.beside import Beside
from ravden.core.ahead.coming import Coming
from ravden.core.ahead.cuts import key_cut_um, next_cut_um, sanded, scuff_um
from ravden.core.ahead.dated import Forward, WhatIf, WindowRange
from ravden.core.ahead.patches import Patches
from ravden.core.ahead.stages_tried import stages_left
from ravden.core.ahead.steps import HORIZON_H, SCUFF_H, Bond, Held, PlannedStep
from ravden.core.ahead.window_ends import ends_of, range_of, window_of
from ravden.core.calendar.hours import Spans, WorkHours, work
from ravden.core.climate.blush import hindered
from ravden.core.cure.film import History
from ravden.core.cure.layered import NO_FILM_UM
from ravden.core.film.ledger import Ledger
from ravden.core.method.slots import DONE, slot, starts
from ravden.core.method.steps import WORK_KINDS, Method, Stage, left, progress
from ravden.core.record import Air, Coat, Exposure, Material, Project, Sanding
from ravden.core.rubout.aim import SANDED
from ravden.core.rubout.rub_out import Sands
from ravden.core.state.history import thickest

LIGHT_H = 0.25  # [A] hands on turning an instrument to the light, face by face
SEEN_SHARE = 0.08  # [A] of what is left of the last wait: how far the day it is planned to be over may lie beside it
SEEN_EARLY_H, SEEN_LATE_H = 2.0, 24.0  # [A] and at least so far before and after it
THIN_SHARE = 0.2  # [A] of a thin coat that a light scuff takes at most


def plan_forward(
    project: Project,
    method: Method,
    ledger: Ledger,
    now_h: float,
    hours: WorkHours,
    sands: Sands,
    past: History | None = None,
    change: WhatIf | None = None,
    ranges: bool = True,
    held: Held | None = None,
) -> Forward:
    """Date the stages that are left, from now on, on the thickest zone.

    sands: film the ladders will take off the flats where the method does not say, and their hours; past: the thickest
    zone's cure up to now_h, where it has been solved already; change: another number or weight of coats; ranges:
    whether the early and late ends are wanted; held: where the shop's plan has hands on it, which counts wherever the
    film bears it by then. Nothing planned is dated before now_h; a wait whose window is open already ends now.
    """
    zone = thickest(project, ledger)
    change = change or WhatIf()
    done = progress(method, project.acts, now_h, project.body)
    stages = stages_left(method, left(method, done), change)
    cuts_asked = any(key_cut_um(sands, method, at) for at, _ in stages)
    film = Coming(project, zone, ledger, now_h, past, cuts_asked, ranges)
    dated = _Dated(project, method, film, hours, sands, change, now_h)
    dated.patches = Patches(project, ledger, now_h, ranges=ranges)
    dated.patches.prepare([s for _, s in stages])
    dated.last, dated.in_session = done.last_coat_h, done.in_session
    dated.begun, dated.held = (done.index, done.coats_in_stage), held or {}
    return dated.date(stages)


class _Stuck(Exception):
    """A step waits for what does not come within sight."""


class _Dated:
    """The stages dated one after the other; t is where the plan has come to [h]."""

    def __init__(
        self, project: Project, method: Method, film: Coming, hours: WorkHours, sands: Sands, change: WhatIf,
        now_h: float,
    ) -> None:  # fmt: skip
        self.project, self.method, self.film, self.hours, self.sands = project, method, film, hours, sands
        self._starts = starts(method.stage)
        self._last_of_body = max((i for i, s in enumerate(method.stage) if not s.zones), default=-1)
        self.body, self.patches = film, Patches(project, film.ledger, now_h, ranges=film.ranges)
        self.change, self.now_h, self.t = change, now_h, now_h
        self.last: float | None = None
        self.in_session = 0
        self.begun = (-1, 0)  # the stage that has coats already, and how many
        self.held: Held = {}
        self.coats: list[Coat] = []
        self.sandings: list[Sanding] = []
        self.found: list[WindowRange] = []
        self.steps: list[PlannedStep] = []
        self.between: list[PlannedStep] = []
        self.hindered: tuple[str, Air] | None = None
        self.air = sorted(project.dries_in, key=lambda a: a.at_h)

    def date(self, stages: list[tuple[int, Stage]]) -> Forward:
        """All of them, up to one that nothing in sight lets begin."""
        aside: list[tuple[int, Stage, float]] = []
        stuck = None
        unlit_h = self.film.unlit_from_h()
        if unlit_h is not None and stages:
            at = self.hours.fits(max(self.t, unlit_h), LIGHT_H)
            self.t = self._turned(stages[0][0], self.film.light_at(at))
        for place, stage in stages:
            if stage.zones:
                aside.append((place, stage, self.t))
                continue
            try:
                self._stage(place, stage)
            except _Stuck:
                stuck = place
                break
        beside = Beside(self.project, self.now_h, self.hours, [*self.steps, *self.between])
        for place, stage, t in aside:
            first = self.method.stage[place].count - stage.count + 1
            beside.date(place, stage, t, [self._held(place, first + n) for n in range(stage.count)])
        stuck = beside.stuck if stuck is None else stuck
        steps = sorted([*self.steps, *beside.steps], key=_begins)
        return Forward(
            coats=(*self.coats, *beside.coats), sandings=tuple(self.sandings), windows=tuple(self.found),
            finished_h=None if stuck is not None else max(self.t, beside.t), steps=tuple(steps),
            light=tuple(self.film.light), between=(*self.between, *beside.between), stuck=stuck,
            hindered=self.hindered,
        )  # fmt: skip

    def _stage(self, place: int, stage: Stage) -> None:
        # What is done to a patch waits for the film of that patch.
        self.film = self.patches.film(stage) or self.body
        if stage.kind in WORK_KINDS:
            film_h = self._bears(place, stage)
            self.t = max(self.t, film_h or self.t)
            self._hands(place, stage.hands_h, film_h)
            self.t += stage.rest_h
        elif stage.kind == "coats":
            self._coats(place, stage)
        elif stage.kind == "wait":
            self._wait(place, stage)
        else:
            self._sand(place, stage)

    def _hands(self, place: int, hands_h: float, film_h: float | None = None) -> float:
        """Hands are on it for its hours, in the shop's hours and over as many days as it takes, or where the shop's
        plan has them."""
        held = self._held_stints(place)
        stints = held or work(self.hours, self.t, hands_h)
        free_h = self.hours.fits(self.t, 0.0) if held else None
        began, self.t = stints[0][0], stints[-1][1]
        self.steps.append(
            PlannedStep(
                index=place, from_h=began, to_h=self.t, hands_h=hands_h, hands=stints, film_h=film_h, free_h=free_h
            )
        )
        return began

    def _held(self, place: int, nth: int, what: str = "") -> tuple[float, float] | None:
        return self.held.get(slot(self._starts[place], nth, what)) if self.held else None

    def _held_stints(self, place: int) -> Spans:
        """The pieces a job is cut to in the shop's plan; none where it does not have it, or has it too soon."""
        out: list[tuple[float, float]] = []
        while (piece := self._held(place, len(out) + 1)) is not None:
            out.append(piece)
        return tuple(out) if out and out[0][0] >= self.t - 1e-9 else ()

    def _bears(self, place: int, stage: Stage) -> float | None:
        """When the film so far bears a piece of work, whatever came before it: a scuff, or for the last level and what
        follows it a level; with coats to come a level to the depth of its cut; and for what is fitted to it the hours
        of its finish. None: there is no film. Raises _Stuck where it never does."""
        film = self.film
        if not film.laid or film.dry_um <= NO_FILM_UM:
            return None
        sands = stage.kind in SANDED and not stage.mends
        cut_um = next_cut_um(self.sands, self.method, place, film.zone) if sands else None
        found = film.windows(cut_um, self.t)
        if found is None:
            return None
        asked = "level" if sands else "scuff"
        at_h = found.at(asked)
        if at_h is None and found.case_h is not None and found.level_h is None and found.scuff_h is None:
            at_h = found.case_h  # it never hardens, and is handled all the same
        if at_h is None:
            self._stuck(replace(stage, window=asked))
        if sands and cut_um is not None and found.scuff_h is not None:
            at_h = max(at_h, found.scuff_h)
        if stage.kind == "finish":
            at_h = max(at_h, film.last_coat_h + self._material(film.laid[-1].finish).handle_h)
        return at_h

    def _stuck(self, stage: Stage) -> NoReturn:
        self.found.append(range_of(stage, None, None, None, None))
        raise _Stuck

    def _sand(self, place: int, stage: Stage) -> None:
        film_h = self._bears(place, stage)
        self.t = max(self.t, film_h or self.t)
        planned, hands = sanded(self.sands, self.method, place, stage)
        began = self._hands(place, hands, film_h)
        um = stage.um if stage.um is not None else planned
        self._cut(began, um, stage.kind, stage)
        self.t += stage.rest_h

    def _cut(self, at_h: float, um: float, purpose: str, stage: Stage | None = None) -> None:
        zones = (stage.patch,) if stage is not None and stage.patch else None
        spot, mends = (stage.spot, stage.mends) if stage is not None else (False, 0)
        bared = stage is not None and stage.bares
        cut = Sanding(at_h=at_h, um=um, purpose=purpose, zones=zones, spot=spot, mends=mends, bared=bared)
        self.sandings.append(cut)
        self.film.cut(at_h, um, purpose)
        self.patches.cut(cut, self.film)

    def _wait(self, place: int, stage: Stage) -> None:
        film, began = self.film if self.film.laid else self.body, self.t
        cut_um = None
        if stage.window == "level" and not stage.mends:
            cut_um = next_cut_um(self.sands, self.method, place, film.zone)
        likely = window_of(film.windows(cut_um, self.t), stage.window)
        if cut_um is not None and likely is not None and likely[0] <= self.now_h:
            # Open already: since when, only the whole of its past can tell.
            likely = window_of(film.since(cut_um), stage.window)
        if film is self.body and likely is not None:
            likely, film = self._slowest(likely, film, stage)
        if likely is None:
            self._stuck(stage)
        if likely[0] > self.now_h and film.laid:
            self._dries(likely[0], film.laid[-1].finish, stage)
        early = late = None
        if film.ranges:
            early, late = ends_of(film.ends(cut_um, self.t), stage.window, likely[0], film.last_coat_h)
        self.found.append(range_of(stage, early, likely[0], late, likely[1]))
        habit_h = film.last_coat_h + stage.rest_h
        self.t = max(self.t, self._seen(place, max(likely[0], habit_h)))
        self.steps.append(
            PlannedStep(index=place, from_h=began, to_h=self.t, hands_h=0.0, habit_h=habit_h, film_h=likely[0])
        )

    def _seen(self, place: int, over_h: float) -> float:
        """When somebody is there to see that a wait is over; where the last of all was planned for, as long as that is
        no further from it than it is known."""
        opens_h = self.hours.next_open(over_h)
        held = self.held.get(slot(self._starts[place], DONE)) if self.held else None
        if held is None or place != self._last_of_body or held[0] <= self.now_h:
            return opens_h
        early_h = max(SEEN_EARLY_H, SEEN_SHARE * (over_h - self.now_h))
        late_h = max(SEEN_LATE_H, SEEN_SHARE * (over_h - self.now_h))
        first, last = self.hours.next_open(max(over_h - early_h, self.now_h)), self.hours.next_open(over_h + late_h)
        return held[0] if first <= held[0] <= last else opens_h

    def _slowest(
        self, likely: tuple[float, float | None], film: Coming, stage: Stage
    ) -> tuple[tuple[float, float | None] | None, Coming]:  # fmt: skip
        """What all of it waits for: the body's film, or that of a patch that is later. None: one never gets there."""
        for patch in self.patches:
            there = window_of(patch.windows(None, self.t), stage.window) if patch.laid else likely
            if there is None:
                return None, patch
            if there[0] > likely[0]:
                likely, film = there, patch
        return likely, film

    def _coats(self, place: int, stage: Stage) -> None:
        """Coats by the method's habit, unless the film asks for longer, or for a scuff because one comes too late."""
        dry_um, stints, bonds = self._coat_um(stage), [], []
        done, free_h = self.begun[1] if place == self.begun[0] else 0, None
        for number in range(done + 1, done + stage.count + 1):
            if number == done + 1 and not self.coats:
                free_h = self._free(place, number, stage)
            held = self._as_held(place, number, stage)
            at, nth = self._ready(stage, *self._session(stage, self.t)) if held is None else held
            fair = self._fair(at, stage)
            if fair > at:
                at, nth = self._session(stage, fair)
            scuff = self._held(place, number, "s") if held is not None else None
            bond = self._bond(at if scuff is None else min(scuff[0], at))
            bonds.append(bond)
            if bond is not None and bond.recoat_until_h is not None and at > bond.recoat_until_h:
                soonest = bond.scuff_h or at
                if scuff is not None and soonest - 1e-9 <= scuff[0] and scuff[1] <= at + 1e-9:
                    self._scuffed(place, (scuff,), self.hours.fits(max(self.t, bond.scuff_h or self.t), SCUFF_H))
                else:
                    at, nth = self._keyed(place, stage, max(at, soonest))
            coat = self._coat(stage, at, dry_um)
            self.coats.append(coat)
            light = self._held(place, number, "l")
            lit = self.film.lay(coat, stage.hands_h, *(light or ())[:1])
            self.patches.lay(coat, stage.hands_h, self.film)
            stints.append((at, at + stage.hands_h))
            self.last, self.in_session, self.t = at, nth, at + stage.hands_h
            if lit is not None:
                self.t = max(self.t, self._turned(place, lit))
        self.steps.append(
            PlannedStep(
                index=place,
                from_h=stints[0][0],
                to_h=self.t,
                hands_h=stage.hands_h * stage.count,
                hands=tuple(stints),
                bonds=tuple(bonds),
                free_h=free_h,
            )
        )

    def _coat(self, stage: Stage, at: float, dry_um: float) -> Coat:
        if stage.patch:
            return Coat(
                at_h=at,
                dry_um=dry_um,
                zones=(stage.patch,),
                finish=stage.finish,
                mends=stage.mends,
                spot=stage.spot,
                tinted=stage.tinted,
            )
        return Coat(
            at_h=at, dry_um=dry_um, bare=self.project.bare, finish=stage.finish, mends=stage.mends, tinted=stage.tinted
        )

    def _free(self, place: int, number: int, stage: Stage) -> float | None:
        """When a coat could be laid sooner than the shop's plan has it; None: no sooner, or not in that plan."""
        held = self._held(place, number)
        at, nth = self._session(stage, self.t)
        # The film is followed from one hour to the next: it is not looked at beyond the hour that is planned.
        return None if held is None or at >= held[0] else self._ready(stage, at, nth)[0]

    def _as_held(self, place: int, number: int, stage: Stage) -> tuple[float, int] | None:
        """When the shop's plan has a coat of a stage, and which of its session it is; None where it does not have it,
        or the film does not bear it by then."""
        held = self._held(place, number)
        if held is None or held[0] < self.t - 1e-9:
            return None
        at, last = held[0], self.last
        same = last is not None and self.hours.local(at)[0] == self.hours.local(last)[0]
        if same and last is not None and at < last + stage.between_h - 1e-9:
            return None
        # A scuff before it cuts the film where it stood then: it is followed no further before that.
        scuff = self._held(place, number, "s")
        asked = at if scuff is None else min(scuff[0], at)
        bond = self._bond(asked)
        if bond is not None and (bond.next_h is None or bond.next_h > asked + 1e-9):
            return None
        return at, self.in_session + 1 if same else 1

    def _bond(self, at_h: float) -> Bond | None:
        """What the film asks of a coat at an hour; None: nothing, it was sanded since its last coat or is bare."""
        film = self.film
        never = self.last is None and film is self.body
        if never or not film.laid or (film.cuts and film.cuts[-1].at_h >= film.last_coat_h):
            return None
        return film.bond(at_h)

    def _ready(self, stage: Stage, at: float, nth: int) -> tuple[float, int]:
        """The same hour, or the first session from which on the film under it takes a coat."""
        bond = self._bond(at)
        if bond is None or (bond.next_h is not None and bond.next_h <= at + 1e-9):
            return at, nth
        if bond.next_h is None:
            self._stuck(replace(stage, window="next_coat"))
        return self._session(stage, bond.next_h)

    def _dries(self, at_h: float, finish: str, stage: Stage) -> None:
        """Raises _Stuck where the air at an hour keeps a finish from drying to a sound film."""
        air = self._air_at(at_h)
        what = self._material(finish).hindered(air.temp_C, air.rh)
        if what:
            self.hindered = (what, air)
            self._stuck(stage)

    def _fair(self, at_h: float, stage: Stage) -> float:
        """The first hour from at_h on whose air lets a coat dry. Raises _Stuck where none does within sight."""
        material, air = self._material(stage.finish), self._air_at(at_h)
        by = stage.by or self.project.own_way.get(material.id, "spray")
        what = hindered(material, air, by)
        if not what:
            return at_h
        better = (a.at_h for a in self.air if at_h < a.at_h <= at_h + HORIZON_H)
        fair = next((h for h in better if not hindered(material, self._air_at(h), by)), None)
        if fair is None:
            self.hindered = (what, air)
            self._stuck(replace(stage, window="next_coat"))
        return fair

    def _air_at(self, at_h: float) -> Air:
        """The air at an hour: the last row, or 20 C and half humidity."""
        at = bisect.bisect_right(self.air, at_h, key=lambda a: a.at_h)
        return self.air[at - 1] if at else Air(at_h=at_h, temp_C=20.0)

    def _material(self, finish: str) -> Material:
        return self.project.layers.get(finish) or self.project.material

    def _session(self, stage: Stage, soonest: float) -> tuple[float, int]:
        """When the next coat goes on: in this session while it has room, else in that of another day; and which coat of
        its session it is."""
        hours, last = self.hours, self.last
        takes_h = self.film.until_lit_h(stage.finish, stage.hands_h, LIGHT_H, self._coat_um(stage))
        if last is None:
            return hours.fits(soonest, takes_h), 1
        at = hours.fits(max(soonest, last + stage.between_h), takes_h)
        if hours.local(at)[0] == hours.local(last)[0] and self.in_session >= stage.per_session:
            at = hours.fits(max(soonest, hours.next_morning(last)), takes_h)
        return at, self.in_session + 1 if hours.local(at)[0] == hours.local(last)[0] else 1

    def _keyed(self, place: int, stage: Stage, at: float) -> tuple[float, int]:
        """A coat that comes too late to hold by itself: the film is scuffed first. Returns when the coat then goes
        on."""
        return self._session(stage, self._scuffed(place, work(self.hours, at, SCUFF_H)))

    def _scuffed(self, place: int, stints: Spans, free_h: float | None = None) -> float:
        """A scuff the method does not name, which could be done from free_h on; returns when it is over."""
        began, ended = stints[0][0], stints[-1][1]
        self._cut(
            began, min(scuff_um(self.method, place), THIN_SHARE * self.film.dry_um), "scuff", self.method.stage[place]
        )
        self.between.append(
            PlannedStep(
                index=place, from_h=began, to_h=ended, hands_h=SCUFF_H, hands=stints, kind="scuff", free_h=free_h
            )
        )
        return ended

    def _turned(self, place: int, lit: Exposure) -> float:
        """An exposure as work: returns when the last face has had its light."""
        stints = ((lit.at_h, lit.at_h + LIGHT_H),)
        self.between.append(
            PlannedStep(index=place, from_h=lit.at_h, to_h=stints[-1][1], hands_h=LIGHT_H, hands=stints, kind="light",
                        dose_mJ_cm2=lit.dose_mJ_cm2)
        )  # fmt: skip
        return stints[-1][1]

    def _coat_um(self, stage: Stage) -> float:
        other = self.project.layers.get(stage.finish)
        return self.project.dry_um(other or self.project.material, stage.by, stage.um)


def _begins(step: PlannedStep) -> float:
    return step.from_h
