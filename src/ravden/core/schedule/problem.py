"""What a shop has to do and with whom. Minutes of the shop's wall clock since midnight of day 0; every day has 1440."""

from __future__ import annotations

import bisect
import functools
from collections.abc import Mapping

from msgspec import Struct, field

from ravden.core.errors import need, need_in

DAY = 1440
GRID = 5  # [min] everything begins and ends on it
MOST_DAYS = 400
Span = tuple[int, int]
Rows = tuple[tuple[int, int], ...]


def day_of(minute: int) -> int:
    """The shop's day a minute lies in."""
    return minute // DAY


def at_day(rows: Rows, day: int) -> int:
    """A wait as it is for what ended on a day: of the last row at or before it, else of the first."""
    found = rows[0][1]
    for since, minutes in rows:
        if since > day:
            break
        found = minutes
    return found


class Person(Struct, frozen=True, kw_only=True):
    """Somebody with hands. week: hours of each weekday, Monday first, in minutes of the day; away, extra: in minutes
    since day 0; spray, buff: whether they do that."""

    name: str
    week: tuple[tuple[Span, ...], ...]
    away: tuple[Span, ...] = ()
    extra: tuple[Span, ...] = ()
    spray: bool = True
    buff: bool = True


class Scuff(Struct, frozen=True, kw_only=True):
    """What a coat needs that comes after its window: from when on the film bears it [min after the step before], hands,
    and for how long it is good."""

    wait_min: int
    hands_min: int
    good_min: int = DAY


class Pin(Struct, frozen=True, kw_only=True):
    """Where a step is held: at a minute, on a day, not before a minute, by somebody."""

    at_min: int | None = None
    day: int | None = None
    not_before_min: int | None = None
    who: str | None = None


class Step(Struct, frozen=True, kw_only=True):
    """A piece of work on an instrument: hands, or coats of one session.

    after: number of the step it waits for, None: for a minute, since_min; needs: steps that have to be over; wait_min:
    by the day that step ended on; shuts_min: until when a coat may follow without a scuff; cabinet_wait_min: the wait
    in a warm cabinet instead; flash_min: between two coats of it, at least and at most; wet_min: after its last coat.
    """

    id: str
    hands_min: int = 0
    arbor: bool = False
    material: str = ""
    coats: int = 0
    coat_min: int = 0
    flash_min: Span = (0, 0)
    wet_min: int = 0
    after: int | None = None
    needs: tuple[int, ...] = ()
    since_min: int = 0
    wait_min: Rows = ((0, 0),)
    shuts_min: Rows | None = None
    cabinet_wait_min: Rows | None = None
    scuff: Scuff | None = None
    wait_sd: float = 0.2
    pin: Pin | None = None

    @property
    def sprayed(self) -> bool:
        return self.coats > 0

    @property
    def least_min(self) -> int:
        """The shortest it can take, from its first start to its end."""
        if not self.sprayed:
            return self.hands_min
        return self.coats * self.coat_min + (self.coats - 1) * self.flash_min[0]


class Job(Struct, frozen=True, kw_only=True):
    """An instrument: its steps in their order, and what was promised; weight: of a day late; firm: it must be met."""

    id: str
    steps: tuple[Step, ...]
    promised_min: int | None = None
    weight: int = 1
    firm: bool = False


class Paint(Struct, frozen=True, kw_only=True):
    """A material in the booth: setting up and cleaning [min], when the air does not bear it, the odds of a bad day
    where nobody knows the air."""

    setup_min: int
    clean_min: int
    no_spray: tuple[Span, ...] = ()
    bad_odds: float = 0.0


class OpenSession(Struct, frozen=True, kw_only=True):
    """A gun that is loaded now."""

    material: str
    who: str
    since_min: int


class Before(Struct, frozen=True, kw_only=True):
    """Where a step stood in the plan before."""

    who: str
    starts_min: tuple[int, ...]
    cabinet: bool = False


class Problem(Struct, frozen=True, kw_only=True, dict=True):
    """All of it. closed: days nobody is in; in_cabinet: until when its places are taken; previous: the plan before, by
    numbers of job and step."""

    people: tuple[Person, ...]
    jobs: tuple[Job, ...]
    materials: Mapping[str, Paint] = field(default_factory=dict)
    now_min: int = 0
    first_weekday: int = 0
    horizon_days: int = 60
    closed: frozenset[int] = frozenset()
    arbors: int = 1
    cabinet_places: int = 0
    in_cabinet: tuple[int, ...] = ()
    drying_places: int | None = None
    open_session: OpenSession | None = None
    setup_worth_days: int = 2
    previous: Mapping[tuple[int, int], Before] = field(default_factory=dict)

    def __post_init__(self) -> None:
        need_in(self.horizon_days, 1, MOST_DAYS, "horizon_days")
        need_in(self.now_min, 0, self.horizon_days * DAY, "now_min")
        need(0 <= self.first_weekday <= 6, "first_weekday", "must be 0 (Monday) to 6")
        need(self.arbors >= 0, "arbors", "must not be negative")
        need(self.cabinet_places >= 0, "cabinet_places", "must not be negative")

    @property
    def end_min(self) -> int:
        return self.horizon_days * DAY

    def hours(self, person: Person) -> tuple[Span, ...]:
        """When somebody is there, from now to the horizon, in blocks that do not touch."""
        return self._hours[person.name]

    @functools.cached_property
    def _hours(self) -> dict[str, tuple[Span, ...]]:
        return {
            p.name: _hours_of(p, self.horizon_days, self.closed, self.first_weekday, self.now_min) for p in self.people
        }  # fmt: skip

    def step(self, key: tuple[int, int]) -> Step:
        """A step by numbers of job and step."""
        return self.jobs[key[0]].steps[key[1]]

    def paint(self, step: Step) -> Paint:
        return self.materials[step.material]


@functools.lru_cache(maxsize=64)
def _hours_of(
    person: Person, horizon_days: int, closed: frozenset[int], first_weekday: int, now_min: int
) -> tuple[Span, ...]:
    """Remembered: of one shop many problems are made, one after the other."""
    marks: list[Span] = []
    for day in range(horizon_days):
        if day not in closed:
            week = person.week[(day + first_weekday) % 7]
            marks += [(day * DAY + a, day * DAY + b) for a, b in week]
    marks += person.extra
    out: list[Span] = []
    for a, b in sorted(marks):
        if out and a <= out[-1][1]:
            out[-1] = (out[-1][0], max(b, out[-1][1]))
        else:
            out.append((a, b))
    for gone in (*person.away, (-DAY * MOST_DAYS, now_min)):
        out = [part for span in out for part in _without(span, gone)]
    return tuple((_up(a), b // GRID * GRID) for a, b in out if b // GRID * GRID > _up(a))


class Placed(Struct, frozen=True, kw_only=True):
    """A step in a plan: whose hands, when it starts (each coat), when and by whom the scuff before it is done, whether
    the wait before it is spent in the cabinet."""

    who: str
    starts_min: tuple[int, ...]
    scuff_min: int | None = None
    scuff_who: str | None = None
    cabinet: bool = False


class Session(Struct, frozen=True, kw_only=True):
    """A material in the booth on a day: set up from its beginning on, cleaned before its end."""

    material: str
    who: str
    from_min: int
    to_min: int
    loaded: bool = False

    @property
    def day(self) -> int:
        return day_of(self.from_min)


class Plan(Struct, frozen=True, kw_only=True):
    """Every step by numbers of job and step, and every session."""

    placed: Mapping[tuple[int, int], Placed]
    sessions: tuple[Session, ...] = ()


def end_of(step: Step, placed: Placed) -> int:
    """When a step is over."""
    return placed.starts_min[-1] + (step.coat_min if step.sprayed else step.hands_min)


class Figures(Struct, frozen=True, kw_only=True):
    """A plan in numbers. moved: steps begun more than a quarter of an hour off, or by other hands than before."""

    late_days: int
    moved: int
    setups: int
    sum_end_days: int
    cost: int
    idle_min: int


def figures(problem: Problem, plan: Plan) -> Figures:
    """What a plan costs."""
    late = ends = 0
    for j, job in enumerate(problem.jobs):
        if not job.steps:
            continue
        end = job_end(problem, plan, j)
        late += late_days(job, end)
        ends += day_of(end)
    setups = sum(not s.loaded for s in plan.sessions)
    return Figures(
        late_days=late, moved=moved(problem, plan), setups=setups, sum_end_days=ends,
        cost=problem.setup_worth_days * setups + ends, idle_min=idle(problem, plan),
    )  # fmt: skip


def job_end(problem: Problem, plan: Plan, j: int) -> int:
    """When a job is over: now, where nothing is left of it."""
    return max((end_of(s, plan.placed[j, k]) for k, s in enumerate(problem.jobs[j].steps)), default=problem.now_min)


MOVED_MIN = 15


def moved(problem: Problem, plan: Plan) -> int:
    """Steps that stand otherwise than before."""
    off = 0
    for key, was in problem.previous.items():
        now = plan.placed.get(key)
        if now is not None and (now.who != was.who or abs(now.starts_min[0] - was.starts_min[0]) > MOVED_MIN):
            off += 1
    return off


def late_days(job: Job, end_min: int) -> int:
    """Days late times their weight; a day that was begun counts."""
    if job.promised_min is None or end_min <= job.promised_min:
        return 0
    return -(-(end_min - job.promised_min) // DAY) * job.weight


def idle(problem: Problem, plan: Plan) -> int:
    """Minutes of a day that somebody is there between the first and the last work of it, and does nothing."""
    work: dict[tuple[str, int], list[Span]] = {}
    for who, span in busy(problem, plan):
        work.setdefault((who, day_of(span[0])), []).append(span)
    hours = {p.name: problem.hours(p) for p in problem.people if any(who == p.name for who, _ in work)}
    return sum(day_idle(spans, hours.get(who, ())) for (who, _), spans in work.items())


def day_idle(spans: list[Span], hours: tuple[Span, ...]) -> int:
    """The same of one day of one person: its work, and when the person is there."""
    total, last = 0, None
    for a, b in sorted(spans):
        if last is not None and a > last:
            first = bisect.bisect_right(hours, (last, 0)) - 1
            for x, y in hours[max(first, 0) :]:
                if x >= a:
                    break
                total += max(0, min(a, y) - max(last, x))
        last = b if last is None else max(last, b)
    return total


def busy(problem: Problem, plan: Plan) -> list[tuple[str, Span]]:
    """Every stretch of somebody's hands."""
    out: list[tuple[str, Span]] = []
    for (j, k), placed in plan.placed.items():
        step = problem.jobs[j].steps[k]
        long = step.coat_min if step.sprayed else step.hands_min
        out += [(placed.who, (t, t + long)) for t in placed.starts_min]
        if placed.scuff_min is not None and step.scuff is not None and placed.scuff_who:
            out.append((placed.scuff_who, (placed.scuff_min, placed.scuff_min + step.scuff.hands_min)))
    for session in plan.sessions:
        paint = problem.materials[session.material]
        if not session.loaded:
            out.append((session.who, (session.from_min, session.from_min + paint.setup_min)))
        out.append((session.who, (session.to_min - paint.clean_min, session.to_min)))
    return [(who, span) for who, span in out if span[1] > span[0]]


def _without(span: Span, gone: Span) -> tuple[Span, ...]:
    a, b = span
    parts = ((a, min(b, gone[0])), (max(a, gone[1]), b))
    return tuple(p for p in parts if p[1] > p[0]) if gone[0] < b and gone[1] > a else (span,)


def _up(minute: int) -> int:
    return -(-minute // GRID) * GRID
