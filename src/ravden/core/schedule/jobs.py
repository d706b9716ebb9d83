"""What is left of an instrument's plan as steps of the shop's: sessions of coats, work by hand, and the waits between.

The waits are those of the instrument's own outlook, one figure each: the first plan is made with them. [A] marks what
is assumed where neither the film nor the method says.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

from msgspec import Struct
from msgspec.structs import replace

from ravden.core.ahead.outlook import Outlook
from ravden.core.ahead.steps import SCUFF_H, Bond, PlannedStep
from ravden.core.calendar.hours import Spans, WorkHours
from ravden.core.method.slots import DONE, slot, starts
from ravden.core.method.steps import Stage, left
from ravden.core.schedule.problem import DAY, GRID, Job, Scuff, Step

SETUP_MIN, CLEAN_MIN = 15, 20  # [A] of a gun
NIGHT_MIN = 12 * 60  # [A] at least between two sessions on one film, so that they are of two days
WET_MIN = 45  # [A] at most that a coat just laid keeps its instrument from being carried about
TOLD_H = 12.0  # a shorter wait is planned at its likely length
SEVEN_IN_TEN = 0.524 / 1.2816  # of the way from the likely end of a wait to its late one, where 9 in 10 are over
MOST_AT_ONCE = 500  # coats of one session, where no plan says
FLASH_TIMES = 2  # [A] a session's next coat comes within so many times its flash-off


Sessions = Mapping[str, Sequence[tuple[int, int]]]  # by stage, the first and the last coat of each that stands
WHEEL = "wheel"  # the backing that is one


class Wall(Struct, frozen=True, kw_only=True):
    """The shop's clock seen from one instrument: its hours, and which of its days is the shop's day 0."""

    hours: WorkHours
    today: int

    def minute(self, at_h: float) -> int:
        """An hour of the instrument on the shop's clock, rounded up."""
        day, hour = self.hours.local(at_h)
        return (day - self.today) * DAY + math.ceil(hour * 60 / GRID - 1e-6) * GRID

    def hour(self, minute: int) -> float:
        """A minute on the shop's clock as an hour of the instrument."""
        day, left = divmod(minute, DAY)
        return self.hours.at(day + self.today, left / 60.0)


class What(Struct, frozen=True, kw_only=True):
    """What a step is: the place of its stage in the method; kind: hands, wheel, coats, scuff, light or
    case (a look at what its last wait made of it); nth and of: which coats of the stage, or which piece of a long
    job."""

    place: int
    kind: str
    nth: int = 1
    of: int = 1


class Left(Struct, frozen=True, kw_only=True):
    """An instrument's steps, what each of them is, and how long the wait before each is likely to be [min]: planned are
    longer ones."""

    job: Job
    what: tuple[What, ...]
    likely_min: tuple[int, ...]

    @property
    def loose(self) -> int | None:
        """The step whose wait is known least, by what it may take longer than likely; None: no wait is long."""
        over = [m * math.expm1(s.wait_sd) for s, m in zip(self.job.steps, self.likely_min, strict=True)]
        worst = max(range(len(over)), key=over.__getitem__, default=None)
        return worst if worst is not None and self.likely_min[worst] >= 60 * TOLD_H else None


def left_of(
    found: Outlook, wall: Wall, stretch_min: int | None = None, warm: Mapping[str, float] | None = None,
    sessions: Sessions | None = None,
) -> Left | None:  # fmt: skip
    """What is left of an instrument, up to a sanding that its film does not bear; None: its film never gets there, so
    that nobody can plan it. stretch_min: what is
    done at one go is no longer; None: than a usual day's stretch of the shop; warm: when windows would open in the
    cabinet [h], by label; sessions: how its coats go together in the plan that stands."""
    refused = found.forward.refused is not None
    if found.forward.stuck is not None and not refused:
        return None
    walk = _Walk(found, wall, usual_min(wall.hours.week) if stretch_min is None else stretch_min)
    walk.warm, walk.sessions = warm or {}, sessions or {}
    walk.through(to_its_end=not refused)
    item = found.project.instrument
    promised = None if item.promised_h is None or refused else wall.minute(item.promised_h)
    return Left(
        job=Job(id=item.id, steps=tuple(walk.dried()), promised_min=promised), what=tuple(walk.what),
        likely_min=tuple(walk.likely),
    )  # fmt: skip


class _Walk:
    """Along what is left, stage by stage; end_h: when the step before is over in the instrument's own plan; opens_h:
    from when on the next may begin there."""

    def __init__(self, found: Outlook, wall: Wall, stretch_min: int) -> None:
        self._found, self._wall, self._stretch = found, wall, stretch_min
        self._starts = starts(found.method.stage)
        self._dated: Mapping[int, PlannedStep] = {s.index: s for s in found.forward.steps}
        self._lit = {s.index for s in found.forward.between if s.kind == "light"}
        self._late = {w.label: w.late_h for w in found.forward.windows}
        self._end_h = self._opens_h = found.now_h
        self._sd = 0.2
        self._last: int | None = None
        self._tracks: dict[str, int] = {}
        self._now_min = wall.minute(found.now_h)
        self.warm: Mapping[str, float] = {}
        self.sessions: Sessions = {}
        self._warm_h: float | None = None  # when the next may begin, if the wait for it is spent in the cabinet
        self.steps: list[Step] = []
        self.what: list[What] = []
        self.likely: list[int] = []
        self._likely_h: float | None = None  # when the next may likely begin, where it is planned later
        # The step the film's own clock runs from, None for what is laid already, and when that is over in this plan.
        self._film_step: int | None = None
        self._film_h = found.now_h
        self._by_film = False  # whether it is the film, and not the work before, that the next step waits for
        self._laid_h: list[float] = []  # when its coats go on in the instrument's own plan

    def through(self, *, to_its_end: bool) -> None:
        """All of it; to_its_end: what is dated is all there is, and it is done after it."""
        for place, stage in left(self._found.method, self._found.progress):
            dated = self._dated.get(place)
            if dated is None:
                continue
            if stage.zones:
                self._beside(place, stage, dated)
            elif stage.kind == "wait":
                self._wait(stage, dated)
            elif stage.kind == "coats":
                self._coats(place, stage, dated)
            else:
                self._hands(place, dated)
                self._opens_h = dated.to_h + stage.rest_h
        if to_its_end and self._opens_h > self._end_h + 1e-9 and self.steps:
            # It is done when its last wait is over, and somebody is there to see that it is. Nobody's hands are booked
            # around that, so that it is planned no later than likely.
            self._opens_h = self._opens_h if self._likely_h is None else self._likely_h
            place = max(self._dated)
            self._add(What(place=place, kind="case"), slot(self._starts[place], DONE), Step(id="", hands_min=GRID))
        self._gather()

    def dried(self) -> list[Step]:
        """The steps, each coat wet for as long as what follows it allows."""
        out = list(self.steps)
        for n, step in enumerate(out):
            if step.sprayed:
                follows = [s.wait_min[0][1] for s in out if s.after == n]
                out[n] = replace(step, wet_min=min([WET_MIN, *follows]) // GRID * GRID)
        return out

    def _gather(self) -> None:
        """What is done to the whole instrument waits for every track beside the body."""
        stages = self._found.method.stage
        body = [n for n, w in enumerate(self.what) if not stages[w.place].zones]
        tracks = sorted(self._tracks.values())
        late = [n for n in body if tracks and n > tracks[-1]]
        at = next((n for n in late if stages[self.what[n].place].kind == "finish"), late[-1] if late else None)
        if at is not None:
            self.steps[at] = replace(self.steps[at], needs=tuple(tracks))

    # one step

    def _add(self, what: What, name: str, step: Step, shuts: Bond | None = None, good_min: int | None = None) -> None:
        """A step of the body, after the one before it. shuts: the bond whose window it has to keep; good_min: for how
        long the scuff before it is good."""
        # What waits for the film waits from its last coat on, whenever the work in between is done.
        after, end_h = (self._film_step, self._film_h) if self._by_film else (self._last, self._end_h)
        needs = () if self._last is None or self._last == after else (self._last,)
        # Nobody's hands are on the end of it: rounded up, what is over at closing time would be over the next morning.
        rounded = _down if what.kind == "case" else _up
        wait = rounded(60.0 * max(self._opens_h - end_h, 0.0))
        cabinet = None
        if self._by_film and self._warm_h is not None and self._warm_h < self._opens_h:
            cabinet = ((0, _up(60.0 * max(self._warm_h - end_h, 0.0))),)
        until, scuff = good_min, None
        if shuts is not None and shuts.recoat_until_h is not None:
            until = math.floor(60.0 * (shuts.recoat_until_h - self._end_h) / GRID) * GRID
            bears_h = self._opens_h if shuts.scuff_h is None else shuts.scuff_h
            scuff = Scuff(wait_min=_up(60.0 * max(bears_h - self._end_h, 0.0)), hands_min=_up(60.0 * SCUFF_H))
        self.steps.append(
            replace(
                step, id=name, after=after, since_min=self._now_min if after is None else 0, needs=needs,
                wait_min=((0, wait),), shuts_min=None if until is None else ((0, until),), scuff=scuff,
                wait_sd=self._sd, cabinet_wait_min=cabinet,
            )
        )  # fmt: skip
        self.what.append(what)
        self._warm_h = None
        likely_h = self._opens_h if self._likely_h is None else min(self._likely_h, self._opens_h)
        self.likely.append(min(_up(60.0 * max(likely_h - end_h, 0.0)), wait))
        self._last, self._sd, self._likely_h, self._by_film = len(self.steps) - 1, 0.2, None, False

    def _hands(self, place: int, dated: PlannedStep) -> None:
        """Work by hand, in equal pieces where a usual day does not hold it; the wheel's part of it by itself."""
        self._opens_h = max(self._opens_h, dated.film_h or 0.0)
        wheel = self._wheel_min() if self._found.method.stage[place].kind == "rub-out" else 0
        whole = max(_up(60.0 * dated.hands_h) - wheel, 0)
        parts = [(each, False) for each in self._pieces(whole)] + [(each, True) for each in self._pieces(wheel)]
        for nth, (each, arbor) in enumerate(parts, 1):
            what = What(place=place, kind="wheel" if arbor else "hands", nth=nth, of=len(parts))
            self._add(what, slot(self._starts[place], nth), Step(id="", hands_min=each, arbor=arbor))
            self._opens_h = self._end_h = dated.to_h

    def _pieces(self, whole: int) -> list[int]:
        """Equal pieces of a job, none longer than a usual day's stretch."""
        if whole == 0:
            return []
        pieces = -(-whole // self._stretch)
        return [_up(whole / pieces)] * pieces

    def _wheel_min(self) -> int:
        """How long the wheel of the last sanding turns."""
        ladder = self._found.rub_out.ladder
        if ladder is None or self._found.rub_out.film.aim.key:
            return 0
        return _up(sum(step.minutes for step in ladder.steps if step.rung.backing.id == WHEEL))

    def _wait(self, stage: Stage, dated: PlannedStep) -> None:
        """No step: what comes next waits so long, with seven odds in ten that it is enough."""
        likely = dated.from_h if dated.film_h is None else dated.film_h
        late, opens = self._late.get(stage.label), likely
        if late is not None and opens_for_plan_h(likely, late, self._end_h) > likely:
            opens = opens_for_plan_h(likely, late, self._end_h)
            self._likely_h = max(self._opens_h, likely, dated.habit_h)
            self._sd = min(max(math.log((late - self._film_h) / (likely - self._film_h)) / 1.2816, 0.02), 1.0)
        self._by_film = max(opens, dated.habit_h) > self._opens_h
        if stage.label in self.warm and self._last == self._film_step and likely > self._film_h:
            # Only the wait that follows the last coat: in between hands would be on it.
            share = (opens - self._film_h) / (likely - self._film_h)
            warm = self._film_h + share * (self.warm[stage.label] - self._film_h)
            self._warm_h = max(self._opens_h, warm, dated.habit_h)
        self._opens_h = max(self._opens_h, opens, dated.habit_h)

    # coats

    def _coats(self, place: int, stage: Stage, dated: PlannedStep) -> None:
        sprayed = self._sprayed(stage)
        done, first = self._laid_in_it(place, stage)
        total, nth = done + stage.count, 0
        while nth < stage.count:
            room = first if nth == 0 else stage.per_session
            many = 1
            if sprayed and place not in self._lit:
                many = self._in_one_go(stage, dated, nth, min(room, stage.count - nth))
                many = min(many, self._together(place, done + nth + 1))
            bond = dated.bonds[nth] if nth < len(dated.bonds) else None
            if nth > 0:
                new_day = sprayed or (nth - first) % stage.per_session == 0
                least_h = NIGHT_MIN / 60.0 if new_day else stage.between_h
                self._opens_h = max(self._opens_h, self._end_h + least_h)
            else:
                self._opens_h = max(self._opens_h, self._after_last_h(stage))
            what = What(place=place, kind="coats" if sprayed else "hands", nth=done + nth + 1, of=total)
            flash_h = self._flash_h(stage, dated, nth, many)
            self._session(what, stage, bond, many if sprayed else 0, flash_h)
            nth += many
            self._laid_h += [at for at, _ in dated.hands[nth - many : nth]]
            self._end_h = self._opens_h = dated.hands[min(nth, len(dated.hands)) - 1][1]
            if place in self._lit:
                self._light(place, dated, nth, done)
            self._film_step, self._film_h = self._last, self._end_h

    @staticmethod
    def _flash_h(stage: Stage, dated: PlannedStep, nth: int, many: int) -> float:
        """How long the coats of a session have to be apart: by habit, or as the film of any of them asks."""
        asked = [stage.between_h]
        for at in range(nth + 1, min(nth + many, len(dated.bonds))):
            bond = dated.bonds[at]
            if bond is not None and bond.next_h is not None:
                asked.append(bond.next_h - dated.hands[at - 1][1])
        return max(asked)

    def _session(self, what: What, stage: Stage, bond: Bond | None, many: int, flash_h: float) -> None:
        """Coats of one go, so long apart; many: of a gun, 0: one by hand. A scuff of its own comes before it where its
        window is over before it may begin."""
        name = slot(self._starts[what.place], what.nth)
        good = None
        if bond is not None:
            self._opens_h = max(self._opens_h, bond.next_h or 0.0)
            shuts_h = bond.recoat_until_h
            if shuts_h is not None and shuts_h < self._opens_h + GRID / 60.0:
                self._opens_h = max(self._opens_h, bond.scuff_h or 0.0)
                self._add(What(place=what.place, kind="scuff"), f"{name}s", Step(id="", hands_min=_up(60.0 * SCUFF_H)))
                self._end_h, good, bond = self._opens_h, DAY, None
        coat_min = max(_up(60.0 * stage.hands_h), GRID)
        if not many:
            self._add(what, name, Step(id="", hands_min=coat_min), None, good)
            return
        low = _up(60.0 * flash_h)
        step = Step(
            id="", material=stage.finish or self._found.project.material.id, coats=many, coat_min=coat_min,
            flash_min=(low, max(FLASH_TIMES * _up(60.0 * stage.between_h), low)),
        )  # fmt: skip
        self._add(what, name, step, bond, good)

    def _light(self, place: int, dated: PlannedStep, nth: int, done: int) -> None:
        """The light that the nth coat still to come wants before anything follows it; done: how many are laid."""
        mine = [s for s in self._found.forward.between if s.index == place and s.kind == "light"]
        if nth > len(mine):
            return
        light = mine[nth - 1]
        self._opens_h = light.from_h
        hands = max(_up(60.0 * light.hands_h), GRID)
        self._add(
            What(place=place, kind="light"), slot(self._starts[place], done + nth, "l"), Step(id="", hands_min=hands)
        )
        self._end_h = self._opens_h = light.to_h

    def _sprayed(self, stage: Stage) -> bool:
        project = self._found.project
        return (stage.by or project.own_way.get(stage.finish or project.material.id, "spray")) == "spray"

    def _laid_in_it(self, place: int, stage: Stage) -> tuple[int, int]:
        """Coats of this stage that are laid, and how many more the session of the last one has room for. It is over
        when the shop shuts, whatever day whoever looks has by then."""
        done = self._found.progress
        if place != done.index or not done.coats_in_stage or done.last_coat_h is None:
            return 0, stage.per_session
        another_h = max(done.last_coat_h + stage.between_h, self._found.now_h) + stage.hands_h
        goes_on = another_h + CLEAN_MIN / 60.0 <= self._wall.hours.closes(done.last_coat_h)
        room = stage.per_session - done.in_session if goes_on else stage.per_session
        return done.coats_in_stage, room if room > 0 else stage.per_session

    def _after_last_h(self, stage: Stage) -> float:
        """From when on habit allows a stage's first coat after the last one: the next morning, where its session is
        full."""
        done, hours = self._found.progress, self._wall.hours
        if self._laid_h:
            last = self._laid_h[-1]
            day = hours.local(last)[0]
            in_session = sum(hours.local(h)[0] == day for h in self._laid_h)
            full = in_session >= stage.per_session
            return last + (stage.hands_h + NIGHT_MIN / 60.0 if full else stage.between_h)
        if done.last_coat_h is None:
            return self._found.now_h
        # By the coat and the shop's hours alone: what is asked after midnight is what was asked before it.
        if done.in_session >= stage.per_session:
            return hours.next_morning(done.last_coat_h)
        return done.last_coat_h + stage.between_h

    def _in_one_go(self, stage: Stage, dated: PlannedStep, nth: int, most: int) -> int:
        """So many coats from the nth on as a usual day's stretch holds with set-up and cleaning, as far apart as habit
        or the film of any of them asks; one always fits: in the cold a coat a day is what a person does."""
        room = self._stretch - SETUP_MIN - CLEAN_MIN
        coat = max(_up(60.0 * stage.hands_h), GRID)
        for many in range(most, 1, -1):
            if many * coat + (many - 1) * _up(60.0 * self._flash_h(stage, dated, nth, many)) <= room:
                return many
        return 1

    def _together(self, place: int, coat: int) -> int:
        """So many coats from one on as its session in the plan that stands has; any number where it is in none."""
        stage, before = self._starts[place]
        mine, coat = self.sessions.get(stage, ()), coat + before
        return next((last - coat + 1 for first, last in mine if first <= coat <= last), MOST_AT_ONCE)

    # zones in another finish

    def _beside(self, place: int, stage: Stage, dated: PlannedStep) -> None:
        """A track of its own: it begins behind the step it stands behind, and follows itself from there on; one that
        was begun already waits for itself alone."""
        track = self._tracks.get(stage.finish)
        if stage.kind == "wait":
            gap_h = dated.to_h - (self._found.now_h if track is None else dated.from_h)
            self._put_beside(
                What(place=place, kind="case"),
                slot(self._starts[place], DONE),
                Step(id="", hands_min=GRID),
                track,
                gap_h,
            )
            return
        begun = any(n and finish == stage.finish for finish, n in self._found.progress.zone_coats)
        coat, low = max(_up(60.0 * stage.hands_h), GRID), _up(60.0 * stage.between_h)
        total = self._found.method.stage[place].count
        for nth in range(total - stage.count, total):
            if track is not None:
                after, gap_h = track, max(stage.between_h, 0.0 if nth % stage.per_session else NIGHT_MIN / 60.0)
            elif begun or self._last is None:
                after, gap_h = None, dated.from_h - self._found.now_h
            else:
                after, gap_h = self._last, 0.0
            if self._sprayed(stage):
                step = Step(id="", material=stage.finish, coats=1, coat_min=coat, flash_min=(low, FLASH_TIMES * low))
            else:
                step = Step(id="", hands_min=coat)
            what = What(place=place, kind="coats" if step.sprayed else "hands", nth=nth + 1, of=total)
            track = self._put_beside(what, slot(self._starts[place], nth + 1), step, after, gap_h)
            self._tracks[stage.finish] = track

    def _put_beside(self, what: What, name: str, step: Step, after: int | None, gap_h: float) -> int:
        gap = _up(60.0 * max(gap_h, 0.0))
        since = self._now_min if after is None else 0
        self.steps.append(replace(step, id=name, after=after, since_min=since, wait_min=((0, gap),)))
        self.what.append(what)
        self.likely.append(gap)
        return len(self.steps) - 1


def opens_for_plan_h(likely_h: float, late_h: float, since_h: float) -> float:
    """When a plan takes a wait to be over [h]: with seven odds in ten that it is enough, a short one at its likely end.
    since_h: what it runs from."""
    return likely_h + SEVEN_IN_TEN * (late_h - likely_h) if late_h > likely_h > since_h + TOLD_H else likely_h


def usual_min(week: Sequence[Spans]) -> int:
    """The longest stretch of a day's hours, as long as at least half of the days worked have it: what is cut to a
    Saturday would wait for one."""
    longest = sorted(max(b - a for a, b in day) for day in week if day)
    return math.floor(longest[(len(longest) - 1) // 2] * 60 / GRID) * GRID


def _down(minutes: float) -> int:
    return math.floor(minutes / GRID + 1e-6) * GRID


def _up(minutes: float) -> int:
    return math.ceil(minutes / GRID - 1e-6) * GRID
