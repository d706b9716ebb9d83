"""People who do what the plan says, on films that obey the hidden laws; all they do goes through the session."""

from __future__ import annotations

import math
import time
from dataclasses import dataclass, field
from dataclasses import replace as with_fields
from datetime import UTC, datetime, timedelta
from pathlib import Path

from benchmarks.acted.keeper import Keeper
from benchmarks.acted.laws import Laws, Usual
from benchmarks.acted.shops import Acted
from msgspec.structs import replace

from ravden.app.clock import HandClock
from ravden.app.next_act import next_act
from ravden.app.next_coat import usual_coat_um
from ravden.app.session import ShopSession
from ravden.app.shop_days import Doing
from ravden.app.slips import doubt
from ravden.app.was_right import asked as asked_right
from ravden.catalogue.assemble import measures_of
from ravden.catalogue.tables import shipped
from ravden.core.abrasive.scratch import rubbing_minutes
from ravden.core.ahead import foretold
from ravden.core.ahead.dated import WindowRange
from ravden.core.ahead.drying_rate import rate
from ravden.core.ahead.fit import fitted
from ravden.core.ahead.outlook import Outlook
from ravden.core.errors import InputError
from ravden.core.method.slots import place_of
from ravden.core.method.steps import Stage, progress
from ravden.core.record.word import MINUTES, POLISHING, key_of
from ravden.core.rubout.words import ONE_TIME_LN_SD
from ravden.journal.entry import iso
from ravden.journal.kinds.air import AirSeries
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.crew import PersonSet
from ravden.journal.kinds.handed_over import HandedOver
from ravden.journal.kinds.hours import HoursSet
from ravden.journal.kinds.instrument import InstrumentAdded
from ravden.journal.kinds.kind import Kind
from ravden.journal.kinds.mishap import MishapLogged
from ravden.journal.kinds.pin import PinSet
from ravden.journal.kinds.plan import PlanSet
from ravden.journal.kinds.promise import PromiseSet
from ravden.journal.kinds.rate import RateAccepted
from ravden.journal.kinds.reading import ReadingLogged
from ravden.journal.kinds.sanding import SandingLogged
from ravden.journal.kinds.step import StepLogged

START = datetime(2026, 1, 5, 6, tzinfo=UTC)
GAUGED_EVERY, NAILED_AGAIN_D, TAKEN_EVERY = 2, 2, 6
STALE_H = 72.0  # an outlook older than this is asked anew in the morning, whatever happened
MISTAKE = 0.04
OLD_COUNTS, OLDER_D = 0.25, 4.0  # how far a coat of long ago counts for a wait, and how fast it comes to that


def still_counts(coats: list[tuple[float, float]]) -> float:
    """The share of a film that a wait is for, by the ages [d] and films of its coats: old ones have dried."""
    whole = sum(um for _, um in coats)
    return sum(um * (OLD_COUNTS + (1 - OLD_COUNTS) * math.exp(-age / OLDER_D)) for age, um in coats) / whole


@dataclass
class True_:
    """What is really there. film: by zone; ready: when level and case are; laid_um: coats where a nail is tried, before
    the wood drinks of them; mended: more was laid than planned, on a film that had hardened."""

    id: str
    method: str
    finish: str
    begun: datetime
    film: dict[str, float] = field(default_factory=dict)
    coats: int = 0
    cuts: int = 0
    levels: int = 0
    acts: int = 0
    laid: datetime | None = None
    aged_h: float = 0.0
    ready: dict[str, datetime] = field(default_factory=dict)
    promised: tuple[datetime, float, float, float] | None = None
    level_said: tuple[float, float, float] | None = None
    pieces: int = 0
    looked: datetime | None = None
    through: bool = False
    mended: bool = False
    laid_um: list[tuple[datetime, float]] = field(default_factory=list)


@dataclass
class Came:
    """What came of it. films, waits, minutes, readies: (when, truth, low 90, likely, high 90); moves: looks in which a
    plan moved by more than a day without news, untold: looks at one instrument in which it did with no reason told,
    seen: of how many; the rest are counts and durations."""

    films: list[tuple[datetime, float, float, float, float]] = field(default_factory=list)
    waits: list[tuple[datetime, float, float, float, float]] = field(default_factory=list)
    minutes: list[tuple[datetime, float, float, float, float]] = field(default_factory=list)
    readies: list[tuple[datetime, float, float, float, float]] = field(default_factory=list)
    late: int = 0
    promised: int = 0
    levels: int = 0
    soft_levels: int = 0
    cases: int = 0
    soft_cases: int = 0
    through: int = 0
    days: list[float] = field(default_factory=list)
    rule_days: list[float] = field(default_factory=list)
    rule_soft: int = 0
    looks: int = 0
    moves: int = 0
    seen: int = 0
    untold: int = 0
    unplanned: int = 0
    mended: int = 0
    mistakes: int = 0
    failed: set[str] = field(default_factory=set)
    disagreed: list[str] = field(default_factory=list)
    coat_s: list[tuple[int, float]] = field(default_factory=list)
    tick_s: list[tuple[int, float]] = field(default_factory=list)
    taken: list[str] = field(default_factory=list)
    refused: list[str] = field(default_factory=list)


class ActedShop:
    """A shop from its first day on."""

    def __init__(self, path: Path, seed: int, shop: Acted, laws: Laws, *, mistakes: bool) -> None:
        self.shop, self.laws, self.seed, self.mistakes = shop, laws, seed, mistakes
        self.clock = HandClock(START)
        self.session = ShopSession(shipped(), self.clock)
        self.session.open(path, create=True)
        self.keeper = Keeper(self.session, self.clock)
        self.true: dict[str, True_] = {}
        self.came = Came()
        self.usual: dict[str, tuple[Usual, ...]] = {}
        self._made = 0
        self._news = True
        self._forgotten: list[tuple[str, CoatLogged, datetime]] = []
        self._before: dict[str, datetime] = {}
        self._log(HoursSet(week=shop.week, zone="UTC"))
        for name, week in shop.people:
            self._log(PersonSet(name=name, week=week))

    # what is logged

    def _log(self, body: Kind, instrument: str = "", at: datetime | None = None) -> bool:
        try:
            self.session.log(body, instrument=instrument, at=at)
        except InputError as error:
            self.came.refused.append(f"{self.clock.now():%d %b} {instrument} {type(body).__name__}: {error}")
            return False
        return True

    # the days

    def run(self, days: int) -> Came:
        """Act so many days out."""
        for day in range(days):
            self._air(day)
            self._remember()
            self._intake(day)
            self._look(day)
            for doing in self._today():
                self._do(doing, day)
            self._more_film()
            self._over()
            self.clock.time = START + timedelta(days=day + 1)
        self.session.close()
        return self.came

    def _air(self, day: int) -> None:
        """The hygrometer's readings of the day before, and hours gone by for every film."""
        hours = range(24 * (day - 1), 24 * day)
        air = [self.laws.air(float(h)) for h in hours]
        self.clock.time = START + timedelta(days=day)
        at = self.clock.time - timedelta(hours=24)
        series = AirSeries(
            source="log", hours=tuple(float(n) for n in range(24)), temp_C=tuple(round(t, 1) for t, _ in air),
            rh=tuple(round(rh, 2) for _, rh in air), name="hygrometer",
        )  # fmt: skip
        self._log(series, at=at)

    def _intake(self, day: int) -> None:
        due = math.floor((day + 1) * self.shop.a_year / 365.0) + 1
        fits = min(self.shop.racked - len(self.true), due - self._made, 2)
        if self.clock.time.weekday() > 5:
            return
        for _ in range(max(fits, 0)):
            self._begin()

    def _begin(self) -> None:
        n, self._made = self._made, self._made + 1
        catalogue = self.session.catalogue
        method = catalogue.method(self.shop.methods[n % len(self.shop.methods)])
        material = catalogue.material(method.material)
        kind = catalogue.kind(self.shop.kinds[n % len(self.shop.kinds)])
        name = f"job-{n:03d}"
        added = InstrumentAdded(
            id=name, name=f"Job {n}", instrument_kind=kind.id, measures=measures_of(kind), material=material.id,
            method=method.id, sheen="gloss", min_film_um=method.least_um(material),
        )  # fmt: skip
        if not self._log(added):
            return
        self.true[name] = True_(id=name, method=method.id, finish=material.id, begun=self.clock.time)
        found = self.keeper.ask(name)
        if method.id not in self.usual and found is not None:
            self.usual[method.id] = self._usual(name)
        fit = None if found is None else fitted(found)
        if fit is not None and not fit.refused and found is not None and fit.stage != found.method.stage:
            # As the plan's button offers it: the coats that this gun and this wood want.
            self._log(PlanSet(method=method.id, stage=fit.stage, what="fitted"), name)
            self.keeper.ask(name)
        self._news = True

    def _usual(self, name: str) -> tuple[Usual, ...]:
        """For each level of a method: what the program says of it while it knows nothing, in still air of 20 C, without
        the shop's hands."""
        request = replace(self.session.request(name), held=None, earlier=(), gun=None)
        calm = replace(request.rack.air, told=(), forecast=(), usual=())
        rack = replace(request.rack, air=calm)
        teaching = replace(request.teaching, teachers=(), told={})
        found = replace(request, rack=rack, teaching=teaching).run()
        own = [c for c in found.forward.coats if c.zones is None]

        def wait(window: WindowRange) -> tuple[float, float]:
            """Hours from the last coat before it, and the film that was laid by then less what was sanded off."""
            assert window.likely_h is not None
            before = [c for c in own if c.at_h <= window.likely_h]
            cut = sum(s.um for s in found.forward.sandings if s.at_h <= before[-1].at_h)
            counts = still_counts([((before[-1].at_h - c.at_h) / 24.0, c.dry_um) for c in before])
            um = (sum(c.dry_um for c in before) - cut) * counts
            return max(window.likely_h - before[-1].at_h, 1.0), max(um, 1.0)

        seen = [w for w in found.forward.windows if w.likely_h is not None]
        case_h, case_um = next((wait(w) for w in seen if w.name == "case"), (24.0, sum(c.dry_um for c in own)))
        # A level that coats follow waits for the depth of its cut alone: each level has a wait of its own.
        levels = [wait(w) for w in seen if w.name == "level"] or [(case_h, case_um)]
        return tuple(Usual(level_h=h, level_um=um, case_h=case_h, case_um=case_um) for h, um in levels)

    def _look(self, day: int) -> None:
        """The plan in the morning."""
        keeper, now = self.keeper, self.clock.time
        stale = {i for i, at in keeper.fresh.items() if (now - at).total_seconds() / 3600.0 > STALE_H}
        touched = stale | {i for i in self.true if i not in keeper.outlooks} | self._due(now)
        took = keeper.settle(touched)
        if touched:
            self.came.tick_s.append((day, took / len(touched)))
        ends = keeper.ends()
        self.came.failed |= set(keeper.failed)
        self.came.unplanned += sum(i not in ends and not self._stands(i) for i in self.true)
        self.came.looks += 1
        both = {i: was for i, was in self._before.items() if i in ends}
        moved = {i for i, was in both.items() if abs((ends[i] - was).total_seconds()) > 86400}
        self.came.seen += len(both)
        if not self._news:
            self.came.moves += bool(moved)
            self.came.untold += len(moved - keeper.told)
        keeper.told.clear()
        self._before, self._news = ends, False
        for name, true in self.true.items():
            if true.promised is None and name in ends and name in keeper.outlooks:
                self._promise(name, true, ends[name])
        self._agree(ends)

    def _due(self, now: datetime) -> set[str]:
        return {d.instrument for d in self.keeper.days.doings if d.step and d.at.date() <= now.date()}

    def _waits_only(self, name: str) -> bool:
        found = self.keeper.outlooks.get(name)
        return found is not None and all(s.kind == "wait" for s in found.method.stage[found.progress.index :])

    def _stands(self, name: str) -> bool:
        """It has no day in the plan, and is right not to: it only waits, or its film does not bear what comes next."""
        found = self.keeper.outlooks.get(name)
        return self._waits_only(name) or (found is not None and found.forward.refused is not None)

    def _promise(self, name: str, true: True_, end: datetime) -> None:
        found = self.keeper.outlooks[name]
        early, likely, late = found.forward.ready_h
        if early is None or likely is None or late is None or early <= found.now_h:
            return
        rack = self.session.shop.on_rack(name)
        since = (rack.moment(found.now_h) - true.begun).total_seconds() / 86400.0
        spans = [(h - found.now_h) / 24.0 + since for h in (early, likely, late)]
        low, high = foretold.widened(spans[0], spans[1], spans[2])
        true.promised = (end, low, spans[1], high)
        self._log(PromiseSet(promised=iso(end)), name)

    def _agree(self, ends: dict[str, datetime]) -> None:
        """Whether places that answer one question give one answer."""
        for name, end in ends.items():
            found = self.keeper.outlooks.get(name)
            ready = None if found is None else found.forward.ready_h[1]
            if found is None or ready is None:
                continue
            said = self.session.shop.on_rack(name).moment(ready)
            off = (said - end).total_seconds() / 3600.0
            if abs(off) > 2.0:
                self.came.disagreed.append(f"{self.clock.time:%d %b} {name}: ready {off:+.0f} h off the plan's end")

    def _today(self) -> list[Doing]:
        today = self.clock.time.date()
        mine = [d for d in self.keeper.days.doings if d.step and d.at.date() == today and not d.broken]
        out, seen = [], set()
        for d in sorted(mine, key=lambda d: d.at):
            if (d.instrument, d.step) not in seen:
                seen.add((d.instrument, d.step))
                out.append(d)
        return out

    def _over(self) -> None:
        """What only waits, and is ready by what the Rack says at the end of the day, is handed over."""
        if not self.session.shop.hours.is_shut(self.clock.time.date()):
            self.clock.time = max(self.clock.time, self.clock.time.replace(hour=17, minute=30))
            for name in [n for n in self.true if self._waits_only(n)]:
                found = self.keeper.ask(name)
                if found is not None and next_act(self.session, found, name).open:
                    self._case(self.true[name])

    def _more_film(self) -> None:
        """Where the bench refuses the next sanding, a coat more is laid, one a day."""
        if self.session.shop.hours.is_shut(self.clock.time.date()):
            return
        for name, found in list(self.keeper.outlooks.items()):
            true = self.true.get(name)
            if true is not None and found.forward.refused is not None:
                um = usual_coat_um(self.session.shop.on_rack(name), self.clock.time)
                if self._log(CoatLogged(dry_um=um), name):
                    self._laid(true, um)
                    self.came.mended += 1
                    # The laws have no word for new coats on a film that had hardened: its wait is held against nothing.
                    true.mended, true.level_said = True, None
                    self._news = True
                    self._ask_again(name)

    # one piece of work

    def _do(self, doing: Doing, day: int) -> None:
        true, found = self.true.get(doing.instrument), self.keeper.outlooks.get(doing.instrument)
        made = self.keeper.days.made
        if true is None or found is None or made is None:
            return
        true.acts += 1
        begins = doing.at.astimezone(UTC) + timedelta(minutes=self.laws.late_min(true.id, true.acts))
        self.clock.time = max(self.clock.time, begins)
        rack = self.session.shop.on_rack(true.id)
        at = progress(rack.method, rack.acts, rack.hours(self.clock.time), rack.project.body).index
        stages = rack.method.stage
        place = place_of(stages, doing.step)
        if doing.kind == "case":
            self._case(true)
            return
        if at >= len(stages) or place is None:
            return
        if stages[at].kind == "wait" and place > at:
            at = next((n for n in range(at, len(stages)) if stages[n].kind != "wait"), at)
        if place != at:
            return  # something before it is not done yet
        stage = stages[place]
        if doing.kind == "scuff":
            self._sand(true, 1.0, "scuff", "P400", doing.minutes)
        elif stage.kind == "coats":
            self._coats(true, found, doing, stage, day)
        elif stage.kind in ("level", "rub-out"):
            self._level(true, found, doing, stage)
        elif stage.kind == "scuff":
            self._sand(true, stage.um or 2.0, "scuff", "P400", doing.minutes)
        else:
            pieces = self._pieces(doing)
            true.pieces += 1
            if true.pieces >= pieces:
                true.pieces = 0
                self._log(StepLogged(step=stage.key), true.id)
        self._ask_again(true.id)

    def _ask_again(self, name: str) -> None:
        if name in self.session.shop.racked:
            self.keeper.ask(name)

    def _pieces(self, doing: Doing) -> int:
        made = self.keeper.days.made
        assert made is not None
        left = made.parts[doing.instrument]
        for step, what in zip(left.job.steps, left.what, strict=True):
            if step.id == doing.step:
                return max(what.of, 1)
        return 1

    def _coats(self, true: True_, found: Outlook, doing: Doing, stage: Stage, day: int) -> None:
        made = self.keeper.days.made
        assert made is not None
        kept = made.steps.get((true.id, doing.step))
        starts = [self.clock.time] if kept is None else [datetime.fromisoformat(s) for s in kept.starts]
        late = self.clock.time - starts[0]
        for start in starts:
            self.clock.time = max(self.clock.time, start + max(late, timedelta()))
            rack = self.session.shop.on_rack(true.id)
            finish = stage.finish
            um = (
                usual_coat_um(rack, self.clock.time)
                if not finish
                else self.session.catalogue.material(finish).coat_dry_um
            )
            if not self._coat(true, CoatLogged(dry_um=um, finish=finish), day):
                return
            self._laid(true, um)
        self._foretold(true)

    def _foretold(self, true: True_) -> None:
        """What is said of the wait before the level, once the last coat is laid."""
        found_now = None if true.mended else self.keeper.outlooks.get(true.id)
        if found_now is not None:
            window = next((w for w in found_now.forward.windows if w.name == "level" and not w.mends), None)
            coats_left = any(c.zones is None for c in found_now.forward.coats)
            if window is not None and not coats_left and None not in (window.early_h, window.likely_h, window.late_h):
                spans = [h - found_now.now_h for h in (window.early_h, window.likely_h, window.late_h) if h is not None]
                true.level_said = (spans[0], spans[1], spans[2]) if min(spans) > 0 else None

    def _coat(self, true: True_, body: CoatLogged, day: int) -> bool:
        """A coat as it is logged: by mistake only the next morning, or twice and one of them taken back."""
        if self._errs(true, "forgets"):
            self._forgotten.append((true.id, body, self.clock.time))
            return True
        began = time.perf_counter()
        if not self._log(body, true.id):
            return False
        self.keeper.ask(true.id)
        self.came.coat_s.append((day, time.perf_counter() - began))
        if self._errs(true, "twice") and self._log(body, true.id):
            self._ask_again(true.id)
            self.session.undo()
            self._ask_again(true.id)
        return True

    def _errs(self, true: True_, what: str) -> bool:
        """Whether this is done wrong here, in a shop that makes mistakes."""
        wrong = self.mistakes and self.laws.errs(f"{true.id} {what}", 1000 * true.acts + true.coats, MISTAKE)
        self.came.mistakes += wrong
        return wrong

    def _remember(self) -> None:
        """What was forgotten the day before is told with its time."""
        for name, body, at in self._forgotten:
            if name in self.true:
                self._log(body, name, at)
                self._news = True
        self._forgotten = []

    def _laid(self, true: True_, um: float) -> None:
        project = self.session.shop.on_rack(true.id).project
        for zone in project.zones:
            laid = self.laws.coat_um(true.id, true.coats, zone.name, um * zone.k_mean)
            drinks = project.absorbed.get(zone.name, ())
            drunk = self.laws.drunk_um(true.id, zone.name, drinks[true.coats]) if true.coats < len(drinks) else 0.0
            true.film[zone.name] = true.film.get(zone.name, 0.0) + max(laid - drunk, 0.0)
        true.coats += 1
        true.laid = self.clock.time
        levels = self.usual[true.method]
        usual = levels[min(true.levels, len(levels) - 1)]
        top = self._top(true)  # where a nail is tried, and what is waited for
        true.laid_um.append((self.clock.time, um * project.zone(top).k_mean))
        ages = [((self.clock.time - at).total_seconds() / 86400.0, laid) for at, laid in true.laid_um]
        tried = true.film[top] * still_counts(ages)
        true.ready = {
            w: self._reached(self.laws.wait_h(true.id, w, usual, tried, true.finish)) for w in ("level", "case")
        }

    def _reached(self, hours_at_20: float) -> datetime:
        """When so many hours at 20 C have gone by from now."""
        t = (self.clock.time - START).total_seconds() / 3600.0
        left = hours_at_20
        while left > 0:
            left -= 3.0 * self.laws.speed(self.laws.air(t)[0])
            t += 3.0
        return START + timedelta(hours=t)

    def _level(self, true: True_, found: Outlook, doing: Doing, stage: Stage) -> None:
        purpose = "level" if stage.kind == "level" else "rub-out"
        if purpose == "level" and not true.pieces and not self._bears(true, doing):
            return
        self._gauge(true)
        pieces = self._pieces(doing)
        true.pieces += 1
        if true.pieces < pieces:
            return
        true.pieces = 0
        ladder = found.rub_out.ladder
        steps = () if ladder is None else ladder.steps
        if not steps:
            um = stage.um or (4.0 if purpose == "level" else 2.0)
            self._sand(true, um, purpose, "P1200", doing.minutes * pieces)
            return
        learnt = self.session.kept.teaching().beliefs()
        for n, step in enumerate(steps, 1):
            grade, begins = step.rung.abrasive, n == 1 and found.rub_out.job.after is None
            # Rubbing alone is logged and foretold; paper is changed beside it.
            area = sum(z.area_cm2 for z in found.project.zones if z.kind != "edge")
            bare = with_fields(step.rung, pace=1.0, cut=1.0)
            usual = rubbing_minutes(bare, step.remove_um, area, first=begins)
            really = self.laws.minutes(true.id, grade.name, n + 100 * true.cuts, usual)
            key = key_of(MINUTES if grade.coated else POLISHING, grade.id)
            belief = learnt.of(key) if key in learnt.names() else learnt.prior(key)
            expected = rubbing_minutes(step.rung, step.remove_um, area, first=begins) / belief.factor
            scatter = learnt.scatter(key.partition("/")[0], ONE_TIME_LN_SD)
            low, likely, high = foretold.minutes(expected, belief, scatter)
            self.came.minutes.append((self.clock.time, really, low, likely, high))
            self.clock.turn(minutes=really)
            if step.remove_um > 0.05:
                self._sand(
                    true, step.remove_um, purpose, grade.name, really, part=n < len(steps), mode=found.rub_out.mode
                )

    def _bears(self, true: True_, doing: Doing) -> bool:
        """Whether the film bears the level: a nail is tried, and where it dents the work waits; without one paper
        tells."""
        now, ready = self.clock.time, true.ready.get("level", self.clock.time)
        self.came.levels += 1
        careless = self._errs(true, "looks")
        if not careless:
            said = "nail-holds" if ready <= now else "nail-dents"
            self._log(ReadingLogged(what=said, zone=self._top(true)), true.id)
            if ready > now:
                self.came.levels -= 1
                day = (now + timedelta(days=NAILED_AGAIN_D)).date()
                self._log(PinSet(step=doing.step, day=day.isoformat()), true.id)
                self._news = True
                self._ask_again(true.id)
                return False
        elif ready > now:
            self.came.soft_levels += 1
            self._log(MishapLogged(what="tacky", zone=self._top(true)), true.id)
        if true.laid is not None and true.level_said is not None:
            truth = (ready - true.laid).total_seconds() / 3600.0
            low, high = foretold.widened(*true.level_said)
            self.came.waits.append((now, truth, low, true.level_said[1], high))
            true.level_said = None
        return True

    def _top(self, true: True_) -> str:
        return next(z.name for z in self.session.shop.on_rack(true.id).project.zones if z.name in true.film)

    def _gauge(self, true: True_) -> None:
        """A gauge on two zones of every second instrument; what was believed just before is held against the truth of
        all of them."""
        found = self.keeper.ask(true.id)
        if found is None or true.pieces:
            return
        ledger = found.ledger
        for zone, um in true.film.items():
            film = ledger.film(zone)
            if film.mean_um > 1:
                self.came.films.append((self.clock.time, um, film.p05_um, film.mean_um, film.p95_um))
        if int(true.id.split("-")[1]) % GAUGED_EVERY == 0:
            for zone in list(true.film)[:2]:
                read = ReadingLogged(zone=zone, um=round(self.laws.gauge_um(true.id, zone, true.film[zone]), 1), n=3)
                typed = replace(read, um=10 * read.um) if self._errs(true, f"types {zone}") else read
                self._log(read if typed is not read and self._asked(typed, true.id) else typed, true.id)

    def _asked(self, typed: ReadingLogged, name: str) -> bool:
        """Whether a slip is asked about before it is believed."""
        told = {"um": f"{typed.um:g}"}
        return doubt(self.session, typed, told, self.session.units, name, self.clock.time) is not None

    def _sand(
        self, true: True_, um: float, purpose: str, grade: str, minutes: float, *, part: bool = False, mode: str = "",
    ) -> None:  # fmt: skip
        body = SandingLogged(
            um=round(um, 2), grade=grade, purpose=purpose, minutes=round(minutes, 1), part=part, mode=mode
        )
        if not self._log(body, true.id):
            return
        true.cuts += 1
        true.levels += purpose == "level" and not part
        off = self.laws.taken_um(true.id, true.cuts, um)
        for zone in self.session.shop.on_rack(true.id).project.zones:
            if zone.name in true.film:
                true.film[zone.name] -= off * zone.sanding
        if not true.through and min(true.film.values()) <= 0:
            true.through = True
            self.came.through += 1
        true.film = {z: max(f, 0.0) for z, f in true.film.items()}

    def _case(self, true: True_) -> None:
        """Into its case and gone; a cloth is tried first, and where it prints the instrument waits."""
        now = self.clock.time
        ready = true.ready.get("case", now)
        if ready > now and not self._errs(true, "cases"):
            if true.looked is None or (now - true.looked).days >= NAILED_AGAIN_D:
                true.looked = now
                self._log(ReadingLogged(what="print", zone=self._top(true)), true.id)
            return
        self.came.cases += 1
        self.came.soft_cases += true.ready.get("case", now) > now
        self._log(HandedOver(), true.id)
        days = (now - true.begun).total_seconds() / 86400.0
        self.came.days.append(days)
        if true.promised is not None:
            end, low, likely, high = true.promised
            self.came.promised += 1
            self.came.late += (now.date() - end.date()).days > 0
            self.came.readies.append((now, days, low, likely, high))
        self._rules(true)
        del self.true[true.id]
        self.keeper.outlooks.pop(true.id, None)
        self._news = True
        if self.came.cases % TAKEN_EVERY == 0:
            for finish in dict.fromkeys(b.material for b in self.session.shop.book.values()):
                self.take_over(finish)

    def _rules(self, true: True_) -> None:
        """The same instrument by rules of thumb: coats as the method says, then a month for lacquer, a fortnight for
        waterborne, three weeks else, whatever the film."""
        assert true.laid is not None
        coats_d = (true.laid - true.begun).total_seconds() / 86400.0
        wait_d = {"lacquer-sprayed": 30.0, "waterborne": 14.0}.get(true.finish, 21.0)
        self.came.rule_days.append(coats_d + wait_d + 5.0)
        self.came.rule_soft += true.ready["case"] > true.laid + timedelta(days=wait_d + 5.0)

    def take_over(self, finish: str) -> None:
        """Take over the rate that is put forward, if one is."""
        told = [f for i in self.session.shop.book for f in asked_right(self.session, i).run() if f.finish == finish]
        found = rate(told, self.session.shop.air.to_come_C(self.session.now))
        if found is not None:
            self._log(RateAccepted(material=finish, ln_mean=found.ln_mean, ln_sd=found.spread, how="was right"))
            self.came.taken.append(f"{self.clock.time:%d %b} {finish} {math.exp(found.ln_mean):.2f}")
