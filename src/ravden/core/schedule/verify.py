"""Whether a plan keeps every rule of the shop, told in raw minutes. It shares nothing with what makes plans."""

from __future__ import annotations

import itertools

from msgspec import Struct

from ravden.core.schedule.problem import DAY, GRID, Placed, Plan, Problem, Session, Step


class Breach(Struct, frozen=True, kw_only=True):
    """A rule that a plan breaks: its code, and the instrument and step it breaks it at."""

    code: str
    instrument: str = ""
    step: str = ""


def verify(problem: Problem, plan: Plan) -> tuple[Breach, ...]:
    """Every breach there is; none: the plan is clean."""
    return tuple(_Check(problem, plan).all())


class _Check:
    def __init__(self, problem: Problem, plan: Plan) -> None:
        self.p, self.plan = problem, plan
        self.out: list[Breach] = []
        self.people = {person.name: person for person in problem.people}

    def say(self, code: str, j: int = -1, k: int = -1) -> None:
        job = self.p.jobs[j] if j >= 0 else None
        self.out.append(
            Breach(code=code, instrument=job.id if job else "", step=job.steps[k].id if job and k >= 0 else "")
        )

    def all(self) -> list[Breach]:
        whole = True
        for j, job in enumerate(self.p.jobs):
            for k, step in enumerate(job.steps):
                placed = self.plan.placed.get((j, k))
                if placed is None or len(placed.starts_min) != max(step.coats, 1):
                    self.say("missing", j, k)
                    whole = False
        if not whole:
            return self.out
        for j, job in enumerate(self.p.jobs):
            for k in range(len(job.steps)):
                self.step(j, k)
            self.one_place(j)
            last = max((self.end(j, k) for k in range(len(job.steps))), default=0)
            if job.firm and job.promised_min is not None and last > job.promised_min:
                self.say("firm", j)
        self.hands()
        self.sessions()
        self.places()
        return self.out

    def end(self, j: int, k: int) -> int:
        step, placed = self.p.jobs[j].steps[k], self.plan.placed[j, k]
        return placed.starts_min[-1] + (step.coat_min if step.coats else step.hands_min)

    def there(self, who: str, a: int, b: int) -> bool:
        """Whether somebody is there for all of it, in one block."""
        person = self.people.get(who)
        if person is None or a < self.p.now_min:
            return False
        if any(x < b and a < y for x, y in person.away):
            return False
        blocks = [(x, y) for x, y in person.extra]
        for day in (a // DAY - 1, a // DAY, a // DAY + 1):
            if 0 <= day < self.p.horizon_days and day not in self.p.closed:
                blocks += [(day * DAY + x, day * DAY + y) for x, y in person.week[(day + self.p.first_weekday) % 7]]
        reach = a
        for x, y in sorted(blocks):
            if x <= reach < y:
                reach = y
        return reach >= b

    def rows(self, rows: tuple[tuple[int, int], ...], day: int) -> int:
        here = [m for since, m in rows if since <= day]
        return here[-1] if here else rows[0][1]

    def step(self, j: int, k: int) -> None:
        step, placed = self.p.jobs[j].steps[k], self.plan.placed[j, k]
        starts = placed.starts_min
        person = self.people.get(placed.who)
        if any(t % GRID for t in starts):
            self.say("grid", j, k)
        if person is None or (step.coats and not person.spray) or (step.arbor and not person.buff):
            self.say("may-not", j, k)
        first, last = starts[0], self.end(j, k)
        if not self.there(placed.who, first, last):
            self.say("not-there", j, k)
        if last > self.p.horizon_days * DAY:
            self.say("horizon", j, k)
        for a, b in itertools.pairwise(starts):
            gap = b - a - step.coat_min
            if not step.flash_min[0] <= gap <= step.flash_min[1]:
                self.say("flash", j, k)
        if step.coats:
            for t in starts:
                if any(x < t + step.coat_min and t < y for x, y in self.p.materials[step.material].no_spray):
                    self.say("air", j, k)
        self.wait(j, k)
        pin = step.pin
        if pin is not None:
            held = (
                pin.at_min in (None, first), pin.day in (None, first // DAY),
                pin.not_before_min is None or first >= pin.not_before_min, pin.who in (None, placed.who),
            )  # fmt: skip
            if not all(held):
                self.say("pin", j, k)

    def wait(self, j: int, k: int) -> None:
        step, placed = self.p.jobs[j].steps[k], self.plan.placed[j, k]
        first = placed.starts_min[0]
        begins = first if placed.scuff_min is None else min(first, placed.scuff_min)
        before = step.since_min if step.after is None else self.end(j, step.after)
        day = before // DAY
        rows = step.wait_min
        if placed.cabinet:
            if step.cabinet_wait_min is None:
                self.say("cabinet", j, k)
            else:
                rows = step.cabinet_wait_min
        if first < before + self.rows(rows, day):
            self.say("wait", j, k)
        if any(begins < self.end(j, n) for n in step.needs):
            self.say("needs", j, k)
        if placed.scuff_min is not None:
            self.scuff(j, k, before)
        elif step.shuts_min is not None and first > before + self.rows(step.shuts_min, day):
            self.say("shut", j, k)

    def scuff(self, j: int, k: int, before: int) -> None:
        step, placed = self.p.jobs[j].steps[k], self.plan.placed[j, k]
        scuff, at = step.scuff, placed.scuff_min
        assert at is not None
        if scuff is None:
            self.say("scuff", j, k)
            return
        done = at + scuff.hands_min
        if at < before + scuff.wait_min or placed.starts_min[0] < done or placed.starts_min[0] > done + scuff.good_min:
            self.say("scuff", j, k)
        if scuff.hands_min and (placed.scuff_who is None or not self.there(placed.scuff_who, at, done)):
            self.say("scuff-hands", j, k)
        if at % GRID:
            self.say("grid", j, k)

    def one_place(self, j: int) -> None:
        """Hand work, coats until they are dry to the touch, and stays in the cabinet of an instrument never overlap."""
        spans: list[tuple[int, int, int, int | None]] = []  # and of a stay the step that it follows
        for k, step in enumerate(self.p.jobs[j].steps):
            placed = self.plan.placed[j, k]
            spans.append((placed.starts_min[0], self.end(j, k) + (step.wet_min if step.coats else 0), k, None))
            if placed.scuff_min is not None and step.scuff is not None:
                spans.append((placed.scuff_min, placed.scuff_min + step.scuff.hands_min, k, None))
            if (stay := self.stay(j, k)) is not None:
                spans.append((*stay, k, step.after))
        spans = [s for s in spans if s[1] > s[0]]
        for n, (a, b, k, follows) in enumerate(spans):
            for c, d, other, behind in spans[n + 1 :]:
                if a < d and c < b and follows != other and behind != k:  # coats dry on in the cabinet
                    self.say("two-places", j, max(k, other))

    def stay(self, j: int, k: int) -> tuple[int, int] | None:
        """When an instrument is in the cabinet before a step."""
        step, placed = self.p.jobs[j].steps[k], self.plan.placed[j, k]
        if not placed.cabinet or step.cabinet_wait_min is None:
            return None
        before = step.since_min if step.after is None else self.end(j, step.after)
        return max(before, self.p.now_min), before + self.rows(step.cabinet_wait_min, before // DAY)

    def hands(self) -> None:
        """Nobody does two things at once."""
        work: dict[str, list[tuple[int, int, int, int]]] = {}
        for (j, k), placed in self.plan.placed.items():
            step = self.p.jobs[j].steps[k]
            long = step.coat_min if step.coats else step.hands_min
            for t in placed.starts_min:
                work.setdefault(placed.who, []).append((t, t + long, j, k))
            if placed.scuff_min is not None and step.scuff is not None and placed.scuff_who:
                until = placed.scuff_min + step.scuff.hands_min
                work.setdefault(placed.scuff_who, []).append((placed.scuff_min, until, j, k))
        for session in self.plan.sessions:
            paint = self.p.materials[session.material]
            ends = [(session.to_min - paint.clean_min, session.to_min)]
            if not session.loaded:
                ends.append((session.from_min, session.from_min + paint.setup_min))
            for a, b in ends:
                work.setdefault(session.who, []).append((a, b, -1, -1))
                if a < b and not self.there(session.who, a, b):
                    self.say("session-hands")
        for spans in work.values():
            spans.sort()
            reach = -1
            for a, b, j, k in spans:
                if a == b:
                    continue
                if a < reach:
                    self.say("hands", j, k)
                reach = max(reach, b)

    def sessions(self) -> None:
        """A material once a day, one at a time, by one person, around all of its coats."""
        opened = self.p.open_session
        seen: set[tuple[str, int]] = set()
        found_open = False
        for session in self.plan.sessions:
            paint = self.p.materials[session.material]
            mine = opened is not None and session.loaded
            if mine and opened is not None:
                right = (session.material, session.who, session.from_min) == (
                    opened.material,
                    opened.who,
                    opened.since_min,
                )
                if found_open or not right or session.to_min > (self.p.now_min // DAY + 1) * DAY:
                    self.say("open-session")
                found_open = True
            elif session.loaded:
                self.say("open-session")
            key = session.material, session.from_min // DAY
            if key in seen:
                self.say("twice-a-day")
            seen.add(key)
            least = paint.clean_min + (0 if session.loaded else paint.setup_min)
            if session.to_min - session.from_min < least or session.to_min > (session.from_min // DAY + 1) * DAY:
                self.say("session")
            person = self.people.get(session.who)
            if person is None or not person.spray:
                self.say("session-hands")
            if session.from_min % GRID or session.to_min % GRID:
                self.say("grid")
        if opened is not None and not found_open:
            self.say("open-session")
        order = sorted(self.plan.sessions, key=lambda s: s.from_min)
        for a, b in itertools.pairwise(order):
            if b.from_min < a.to_min:
                self.say("booth")
        for (j, k), placed in self.plan.placed.items():
            step = self.p.jobs[j].steps[k]
            if step.coats and not any(self.inside(s, step, placed) for s in self.plan.sessions):
                self.say("no-session", j, k)

    def inside(self, session: Session, step: Step, placed: Placed) -> bool:
        paint = self.p.materials[session.material]
        if session.material != step.material or session.who != placed.who:
            return False
        first = session.from_min + (0 if session.loaded else paint.setup_min)
        return bool(
            first <= placed.starts_min[0] and placed.starts_min[-1] + step.coat_min <= session.to_min - paint.clean_min
        )

    def places(self) -> None:
        """Arbor, cabinet and drying places hold no more than there are."""
        arbor, cabinet, drying = [], [(self.p.now_min, until) for until in self.p.in_cabinet], []
        for (j, k), placed in self.plan.placed.items():
            step = self.p.jobs[j].steps[k]
            if step.arbor:
                arbor.append((placed.starts_min[0], self.end(j, k)))
            if step.coats:
                drying.append((placed.starts_min[0], self.end(j, k) + step.wet_min))
            if (stay := self.stay(j, k)) is not None:
                cabinet.append(stay)
        for spans, most, code in (
            (arbor, self.p.arbors, "arbor"), (cabinet, self.p.cabinet_places, "cabinet-full"),
            (drying, self.p.drying_places, "drying"),
        ):  # fmt: skip
            if most is not None and any(sum(c <= a < d for c, d in spans) > most for a, b in spans if a < b):
                self.say(code)
