"""Keeps the plan of the whole shop: repaired once all outlooks have come; every instrument is dated by it.

An outlook dated by the plan may ask for other waits than it was made with; it is then looked after again, a few times
at most. What stands is kept in the file, so that it is there tomorrow; what would be better is offered.
"""

from __future__ import annotations

import logging
from collections.abc import Callable, Mapping
from operator import is_not
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, QThreadPool, QTimer, pyqtSignal

from ravden.app.session import ShopSession
from ravden.core.errors import InputError
from ravden.journal.counting import last_to_undo
from ravden.ui.widgets.latest_job import LatestJob, Outcome
from ravden.ui.widgets.searching import Searching

if TYPE_CHECKING:
    from ravden.app.better_plan import Offer
    from ravden.app.plan_moves import Move
    from ravden.app.shop_days import ShopDays
    from ravden.app.shop_ends import Ends
    from ravden.app.shop_plan import ShopPlanned
    from ravden.app.shop_problem import Steps
    from ravden.app.standing_plan import Standing
    from ravden.core.ahead.outlook import Outlook
    from ravden.core.schedule.wire import SearchAsked, SearchTold

ROUNDS = 3
SEARCH_S = 6.0  # that a better plan is looked for by itself, after something was told
BACK, LATE = 40, 120  # acts whose plan is kept for taking back, and entries they are looked for in
FEW = 5  # instruments whose plan is soon proved best
REST_MS = 4000  # at rest before a better plan is looked for: not between two coats
KEEP_MS = 400  # until what stands is written: several rounds of one act are one


class Planning(QObject):
    """days: the plan as it is shown, None while there is none; offer: a better one, to be taken by hand; moves: what
    was moved of late, and why. take: outlooks dated by the plan, each with the one it was made from; ask: for outlooks
    of instruments whose stay in the cabinet is another."""

    changed = pyqtSignal()
    failed = pyqtSignal(object)
    settled = pyqtSignal()
    died = pyqtSignal(str)

    def __init__(
        self, session: ShopSession, outlooks: Callable[[], Mapping[str, Outlook]], pending: Callable[[], bool],
        take: Callable[[Mapping[str, tuple[Outlook, Outlook]]], None], ask: Callable[[tuple[str, ...]], None],
        pool: QThreadPool,
    ) -> None:  # fmt: skip
        super().__init__()
        self.live = False
        self.days: ShopDays | None = None
        self.offer: Offer | None = None
        self.moves: tuple[Move, ...] = ()
        self._session, self._outlooks, self._pending, self._give = session, outlooks, pending, take
        self._ask, self._asking = ask, False  # whether outlooks are on their way that the plan itself has asked for
        self._standing: Steps = {}
        self._knows = 0  # the newest entry the plan that stands was made with
        self._declined: tuple[int, int, int] | None = None
        self._written: Standing | None = None  # what is in the file by now
        self._dating_of: Mapping[str, Outlook] = {}
        self._made_of: tuple[object, ...] = ()
        self._ends: Ends = {}  # when the last wait of each instrument is over, as it is told
        # What stood by each of the newest acts, and when the last waits were over: taken back, it stands again.
        self._stood: dict[int, tuple[Steps, Ends]] = {}
        self._pressing: dict[str, object] | None = None  # what was told of crew and promises when the plan was made
        self._rounds = 0
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.timeout.connect(self._plan)
        self._rest, self._keeping = QTimer(self), QTimer(self)
        for timer, ms, then in ((self._rest, REST_MS, self._at_rest), (self._keeping, KEEP_MS, self._keep)):
            timer.setSingleShot(True)
            timer.setInterval(ms)
            timer.timeout.connect(then)
        self._job, self._dating, self.thinking = (LatestJob(self, pool) for _ in range(3))
        self.thinking.done.connect(self._thought)
        self._job.done.connect(self._planned)
        self.searching = Searching(self)
        self.searching.found.connect(self._found)
        self.searching.died.connect(self.died)
        self._asked_of: Callable[[SearchTold], None] | None = None  # who asked for the search that runs
        self._searched = 0  # up to which entry of the journal a better plan has been looked for
        self._dating.done.connect(self._dated)

    @property
    def busy(self) -> bool:
        return self._soon.isActive() or self._job.busy or self._dating.busy

    def forget(self) -> None:
        """Another file: what stands there is what stood when it was last open."""
        self.days, self._standing, self._made_of, self._rounds = None, {}, (), 0
        self._stood, self._ends, self._pressing, self.offer, self.moves = {}, {}, None, None, ()
        self._knows, self._declined, self._written = 0, None, None
        self._session.held, self._session.stays, self._asking = {}, {}, False
        self._soon.stop()
        self._rest.stop()
        self._keeping.stop()
        self.searching.end()
        self.recall()

    def recall(self) -> None:
        """The plan that was kept in the file: films are followed by it from the first."""
        from ravden.app.shop_ends import told_waits
        from ravden.app.standing_plan import kept

        if self._session.journal is None or self._standing:
            return
        found = self._written = kept(self._session.journal)
        self._standing, self._knows, self.moves, self._declined = (
            found.by_step, found.last, found.moves, found.declined,
        )  # fmt: skip
        self._session.held = {i: h for i, h in found.hands.items() if i in self._session.shop.racked}
        self._ends = told_waits(self._session.held)
        self._session.stays = {i: s for i, s in found.stays.items() if i in self._session.shop.racked}

    def stand_again(self) -> None:
        """Before anything is worked out anew: where an act was taken back, the last waits are held where they were."""
        from ravden.app.shop_ends import with_waits

        again = self._stood.get(self._newest())
        if again is not None and again[1] is not self._ends:
            self._ends = again[1]
            self._session.held = with_waits(self._session.held, self._ends)

    def _keep(self) -> None:
        """Write down what stands."""
        from ravden.app.standing_plan import keep, standing

        self._keeping.stop()
        journal = self._session.journal
        if journal is None or self.days is None:
            return
        found = standing(
            self._standing, self._session.held, self._session.stays, self._knows, self.moves, self._declined
        )
        if found == self._written:
            return  # the minute's tick alone has gone by
        try:
            keep(journal, found)
            self._written = found
        except InputError:  # it is worked out again at the next opening; logging itself says what is wrong
            logging.getLogger(__name__).warning("the plan that stands could not be kept", exc_info=True)

    def stop(self) -> None:
        """The window closes."""
        if self._keeping.isActive():
            self._keep()
        self.live = False
        self._soon.stop()
        self._rest.stop()
        self.searching.end()

    def look(self) -> None:
        """Plan anew if anything a plan is made of is another, once every instrument's outlook is known: not while more
        are on their way, since it would be made anew for each."""
        known = self._outlooks()
        if not self.live or self._pending() or self.busy:
            return
        made_of = self._of(known)
        if _same(made_of, self._made_of):
            return
        self._made_of = made_of
        if not self._asking:
            self._rounds = 0
        self._asking = False
        if known:
            self._soon.start()  # what has just come is painted first
        else:
            self.days = None

    def _of(self, known: Mapping[str, Outlook]) -> tuple[object, ...]:
        """What a plan is made of. Of each outlook a small part stands for it, so that the whole of an old one is let go
        of."""
        shop = self._session.shop
        told = (shop.crew, shop.kept, shop.hours, *(r.pins for r in shop.racked.values()))
        return (*told, *(known[i].progress for i in shop.racked if i in known))

    def _plan(self) -> None:
        if not self.live or self._pending():
            self._made_of = ()  # more has been asked for meanwhile: it is looked at when that has come
            self.settled.emit()
            return
        from ravden.app.shop_days import asked

        if self._asked_of is None and self.searching.busy:
            self.searching.end()  # what it looks for is a plan of what was
            self._searched = 0
        promised = self._told()
        before, self._pressing = self._pressing, promised
        again = self._stood.get(self._newest())  # an act was taken back: what stood before it stands
        asks = before is not None and again is None
        pressed = next((w for w, was in before.items() if was != promised[w]), "") if asks and before else ""
        standing = self._standing if again is None else again[0]
        fresh = [] if again is not None else self._session.entries[-LATE:]
        touched = frozenset(e.instrument for e in fresh if e.id > self._knows and not e.body.by_machine)
        self._job.submit(asked(self._session, self._outlooks(), standing, pressed=pressed, touched=touched))

    def _told(self) -> dict[str, object]:
        """What asks for another plan when it is told: who works here and when, and what is promised."""
        shop = self._session.shop
        promised = [(i, r.instrument.promised_h, r.weight, r.firm) for i, r in shop.racked.items()]
        return {"crew": (shop.crew, shop.hours), "promise": promised}

    def _planned(self, outcome: Outcome) -> None:
        if not self.live:
            return
        if outcome.error is not None:
            logging.getLogger(__name__).error("the shop's plan failed\n%s", outcome.trace)
            self.failed.emit(outcome)
        elif outcome.serial == self._job.latest:
            self._take(outcome.value)
        self.look()
        self.settled.emit()

    def _take(self, days: ShopDays) -> None:
        """Show it, and have dated by it whatever is dated otherwise."""
        from ravden.app.plan_moves import still_told
        from ravden.app.shop_plan import redated
        from ravden.core.schedule.hold import same

        assert days.made is not None
        if not _same_work(days.made.steps, self._standing):
            self.offer = None  # the minute's tick alone leaves it
        self.days, self._standing = days, days.made.steps
        self._knows = self._session.entries[-1].id if self._session.entries else 0
        self.moves = still_told(self.moves, days.moves, self._session.now)
        self._keeping.start()
        self._stood.pop(self._newest(), None)
        self._stood[self._newest()] = self._standing, self._ends
        while len(self._stood) > BACK:
            del self._stood[next(iter(self._stood))]
        from ravden.app.shop_ends import with_waits

        held = days.made.held
        self._session.held = with_waits(held, self._ends)
        if self._moved_in_cabinet(days.made):
            self.changed.emit()
            return
        off = {i: f for i, f in self._outlooks().items() if not same(f.held, held.get(i, {}))}
        if off:
            self._dating_of = off
            self._dating.submit(redated(off, self._session.held, self._session.selected))
        else:
            self._look_for_better()
            self._end_with(self._outlooks())
        self.changed.emit()

    def _end_with(self, known: Mapping[str, Outlook]) -> None:
        """Ends that only wait are where the outlooks have them."""
        from ravden.app.shop_ends import waits_over, with_ends, with_waits

        self._ends = waits_over(known)
        self._stood[self._newest()] = self._standing, self._ends
        self._session.held = with_waits(self._session.held, self._ends)
        self._keeping.start()
        if self.days is not None:
            was, self.days = self.days, with_ends(self.days, known)
            if self.days is not was:
                self.changed.emit()

    def _moved_in_cabinet(self, made: ShopPlanned) -> bool:
        """Whether the plan has an instrument in the cabinet at other hours than its film was followed by: it is asked
        for anew then."""
        from ravden.core.schedule.hold import alike

        stays, known = dict(made.stays), self._outlooks()
        off = tuple(i for i, f in known.items() if not alike(f.stays, stays.get(i, ())))
        if not off or self._rounds >= ROUNDS:
            return False
        self._session.stays = stays
        self._rounds, self._asking = self._rounds + 1, True
        self._ask(off)
        return True

    def search(self, request: SearchAsked, told: Callable[[SearchTold], None]) -> None:
        """Search for an answer somebody waits for; what was looked for by itself gives way, and is taken up again after
        it."""
        if self.searching.busy and self._asked_of is None:
            self._searched = 0
        self._asked_of = told
        self.searching.begin(request)

    def answered(self) -> None:
        """Nobody waits for an answer any more."""
        self.searching.end()
        self._asked_of = None
        self._look_for_better()

    def _look_for_better(self) -> None:
        """At rest, once after something was told, a better plan is looked for. While somebody waits for an answer
        nothing is."""
        made, last = None if self.days is None else self.days.made, self._last_entry()
        if made is None or made.problem is None or made.plan is None or made.asked.kept or last == self._searched:
            return
        if self.searching.busy and self._asked_of is not None:
            return
        self._searched = last
        if len(made.parts) > 1:
            self._rest.start(REST_MS)

    def _at_rest(self) -> None:
        """A few, or some that are late, are searched for in a process of its own; else what is found at once will
        do."""
        from ravden.app.shop_questions import better_asked
        from ravden.core.schedule.problem import figures

        made = None if self.days is None else self.days.made
        if not self.live or self.busy or made is None or made.problem is None or made.plan is None:
            return
        if self.searching.busy and self._asked_of is not None:
            return
        if len(made.parts) > FEW and figures(made.problem, made.plan).late_days == 0:
            self.think_again()
            return
        self._asked_of = None
        self.searching.begin(better_asked(made, SEARCH_S))

    def think_again(self) -> None:
        """The plan somebody would make who knows nothing of the one that stands, as an offer."""
        from ravden.app.better_plan import better

        made, declined = None if self.days is None else self.days.made, self._declined
        if not self.live or self.busy or made is None or made.asked.kept:
            return
        self.thinking.submit(lambda: (made, better(made, declined)))

    def _thought(self, outcome: Outcome) -> None:
        if self.live and outcome.error is None and outcome.serial == self.thinking.latest:
            made, found = outcome.value
            self._propose(made, found)

    def _last_entry(self) -> int:
        """The last thing hands have told: what a sensor writes makes no plan another."""
        return next((e.id for e in reversed(self._session.entries) if not e.body.by_machine), 0)

    def _newest(self) -> int:
        """The newest act of hands that counts."""
        found = last_to_undo(self._session.entries[-LATE:])
        return 0 if found is None else found.id

    def _found(self, told: SearchTold) -> None:
        if self._asked_of is not None:
            self._asked_of(told)
            if told.over and not self.searching.busy:
                self._asked_of = None
                self._look_for_better()
        elif told.over and told.plan is not None and self._last_entry() == self._searched:
            from ravden.app.better_plan import offer
            from ravden.core.schedule.wire import taken

            made = None if self.days is None else self.days.made
            if made is not None:
                self._propose(made, offer(made, taken(told.plan), self._declined))

    def _propose(self, made: ShopPlanned, found: Offer | None) -> None:
        """Offer a better plan than the one that stands; where something came between it is one of another shop."""
        days = self.days
        stands = days is not None and days.made is not None and _same_work(made.steps, days.made.steps)
        if stands and found is not None and not self.busy and not made.asked.kept:
            self.offer = found
            self.changed.emit()

    def take_offer(self) -> None:
        """The offered plan stands from now on."""
        if self.offer is not None:
            steps, self.offer, self._declined = self.offer.made.steps_of(self.offer.plan), None, None
            self.stand(steps)
            self.changed.emit()

    def stand(self, steps: Steps) -> None:
        """A plan made by whoever asked for it stands, as far as it can."""
        self._standing = steps
        self._stood[self._newest()] = steps, self._ends
        self._plan()

    def leave_offer(self) -> None:
        """What stands goes on standing; as much has to be gained once more before anything is offered again."""
        if self.offer is not None:
            self._declined, self.offer = self.offer.gain, None
            self._keeping.start()
            self.changed.emit()

    def _dated(self, outcome: Outcome) -> None:
        """Outlooks as the plan has them; it is made again where they ask for other waits than it was made with."""
        from ravden.app.shop_plan import stands

        if not self.live:
            return
        if outcome.error is not None:
            logging.getLogger(__name__).error("dating by the shop's plan failed\n%s", outcome.trace)
            self.failed.emit(outcome)
        elif outcome.serial == self._dating.latest:
            whole = not self._pending() and _same(self._of(self._outlooks()), self._made_of)
            self._give({i: (self._dating_of[i], new) for i, new in outcome.value.items()})
            days, known = self.days, self._outlooks()
            if whole and days is not None and days.made is not None and self._rounds < ROUNDS:
                self._rounds += 1
                if not stands(days.made, known):
                    self._plan()
                else:
                    self._look_for_better()
            self._end_with(known)
        self.look()
        self.settled.emit()


def _same_work(one: Steps, other: Steps) -> bool:
    """Whether two plans have all hands at the same hours: the ends of waits, which nobody's are on, left out."""
    from ravden.core.method.slots import DONE, parts

    mine, theirs = ({k: s.starts for k, s in steps.items() if parts(k[1])[1] != DONE} for steps in (one, other))
    return mine == theirs


def _same(one: tuple[object, ...], other: tuple[object, ...]) -> bool:
    return len(one) == len(other) and not any(map(is_not, one, other))
