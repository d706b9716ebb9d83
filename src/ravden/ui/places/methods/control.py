"""Wires the Methods place: what is compared is computed off the GUI thread; files are read, checked and written."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QThreadPool, pyqtSignal

from ravden.app import by_plan
from ravden.app.session import ShopSession
from ravden.catalogue.method_files import MOST_LETTERS, with_ids, write_method
from ravden.core.errors import InputError
from ravden.journal.kinds.method import MethodKept
from ravden.journal.kinds.price import PriceSet
from ravden.journal.rack import OnRack
from ravden.system.files import put_text, take_in
from ravden.text.quarrels import QUESTIONS
from ravden.text.say import say, whole_fault
from ravden.text.tables import Table
from ravden.ui.places.methods import old_finish, presenter
from ravden.ui.places.methods.plan_control import PlanControl
from ravden.ui.places.methods.view import MethodsView
from ravden.ui.widgets.latest_job import LatestJob, Outcome
from ravden.ui.widgets.place import Place

if TYPE_CHECKING:
    from ravden.core.ahead.outlook import Outlook
    from ravden.core.calendar.hours import WorkHours

ABOUT = {
    "beside": "side by side on", "plan": "every step for", "quarrels": "what workshops disagree on, for",
    "old": "what is on it, and what may go over it",
}  # fmt: skip


class MethodsControl(Place):
    """Shows the methods for the instrument turned to."""

    told = pyqtSignal(str)

    def __init__(
        self, session: ShopSession, view: MethodsView, pool: QThreadPool, outlooks: Callable[[], Mapping[str, Outlook]]
    ) -> None:
        """outlooks: of every instrument, as far as they are known."""
        super().__init__(session, view, view.list)
        self.chosen: tuple[str, ...] = ()
        self.offers: tuple[presenter.OfferShown, ...] = ()
        self._for = ("", 0)
        self._left: list[presenter.Candidate] = []
        self._got: tuple[presenter.OfferShown, ...] = ()
        self._round = 0
        self._job = LatestJob(self, pool)
        self._job.done.connect(self._ready)
        view.compared.connect(self._compared)
        view.picked.connect(self._picked)
        view.use_asked.connect(self._use)
        view.priced.connect(self._price)
        self.plan = PlanControl(session, view.plan, pool, outlooks)
        self._quarrel_job = LatestJob(self, pool)
        self._quarrel_job.done.connect(self._answered)
        self._use_job = LatestJob(self, pool)
        self._use_job.done.connect(self._used)
        self._found: Outlook | None = None
        view.pages.turned.connect(lambda _: self.show())
        view.old.tried.connect(lambda told: view.old.show_old(old_finish.show(session, *told)))
        self.plan.failed.connect(self.failed)
        self.plan.settled.connect(self.settled)

    @property
    def busy(self) -> bool:
        """Whether anything is being worked out."""
        return self._job.busy or self._quarrel_job.busy or self._use_job.busy or self.plan.busy

    def take(self, found: Outlook) -> None:
        """The outlook of the instrument turned to: its plan and its quarrels are told from it."""
        self._found = found
        self.plan.take(found)
        self._ask_quarrels()

    def stop(self) -> None:
        super().stop()
        self.plan.live = False

    def show_step(self, index: int) -> None:
        """Turn to a step of the plan."""
        self.view.pages.turn_to("plan")
        self.plan.turn_to(index)

    def show(self) -> None:
        """Draw the place, if it is the one looked at; compare anew when the instrument or the record changed."""
        if self.view.isHidden() or self.session.rack is None:
            return
        rack = self.session.rack
        mark = (self.session.selected, len(self.session.entries))
        if mark != self._for:
            if mark[0] != self._for[0]:
                self.chosen = presenter.usual_choice(self.session)
                self.view.shown_id = rack.instrument.method
            self._for = mark
            self._submit()
        known = self.session.catalogue.methods
        self.chosen = tuple(c for c in self.chosen if c in known)
        if self.view.shown_id not in known:
            self.view.shown_id = rack.instrument.method
        page = self.view.pages.page
        self.view.head.tell("Methods", f"{ABOUT[page]} {rack.instrument.name}" if page != "old" else ABOUT[page])
        self.plan.show()
        self._ask_quarrels()
        if page == "old":
            self.view.old.show_old(old_finish.show(self.session, *self.view.old.answers()))
        self.view.show_list(presenter.rows(self.session), self.chosen)
        self.view.show_page(presenter.page(self.session, self.view.shown_id), rack.instrument.name)

    def tables(self) -> tuple[Table, ...]:
        from ravden.ui.places.methods.tables import tables

        rack = self.session.rack
        return () if rack is None else tables(self.offers, presenter.page(self.session, self.view.shown_id))

    def _ask_quarrels(self) -> None:
        found = self._found
        if found is None or not self.view.quarrels.isVisible():
            return
        from ravden.core.quarrels.all import quarrels

        tables = self.session.catalogue
        self._quarrel_job.submit(lambda: (found, quarrels(found, tables.scuffs, tables.preps)))

    def _answered(self, outcome: Outcome) -> None:
        if not self.live:
            return
        if outcome.error is not None:
            self.failed.emit(outcome)
        elif outcome.value[0] is self._found:
            found, rows = outcome.value
            self.view.quarrels.show_quarrels(
                f"Where workshops disagree, worked out for {found.project.instrument.name} as it stands now: its film, "
                "its air, its drawer. The product's data sheet comes first.",
                tuple(
                    (QUESTIONS[q.id], say(q.answer, self.session.units), say(q.other, self.session.units)) for q in rows
                ),
            )
        self.settled.emit()

    def _price(self, text: str) -> None:
        try:
            price = float(text.replace(",", "."))
            material = self.session.catalogue.method(self.view.shown_id).material
            self.session.log(PriceSet(material=material, per_litre=price), origin="methods")
        except ValueError:
            self.told.emit(f"{text or 'nothing'} is no price: write a number, such as 38.50")
        except InputError as error:
            self.told.emit(whole_fault(error, self.session.units))

    def _submit(self) -> None:
        """Compare anew, one method after the other, each drawn as soon as it is there."""
        if self.session.rack is None:
            return
        self.view.picture.dim = True
        self.view.picture.update()
        self._left = presenter.candidates(self.session, self.chosen)
        self._got = ()
        self._round += 1
        self._next()

    def _next(self) -> None:
        rack = self.session.rack
        if rack is None or not self._left:
            return
        hours, asked, mine = self._hours(rack), self.session.request(rack.instrument.id), self._round
        (project, method, _), *self._left = self._left
        self._job.submit(lambda: (mine, asked.offer(project, method, hours)))

    def _ready(self, outcome: Outcome) -> None:
        if not self.live:
            return
        if outcome.error is not None:
            self._left = []
            self.failed.emit(outcome)
        elif self.session.rack is not None and outcome.value[0] == self._round:
            now_h = self.session.rack.hours(self.session.now)
            self._got = (*self._got, presenter.offer_shown(self.session, outcome.value[1], now_h))
            self.offers = self._got
            self.view.show_offers(self.offers)
            self._next()
        if not self.busy:
            self.settled.emit()

    def _compared(self, chosen: tuple[str, ...]) -> None:
        from ravden.core.ahead.compare import MOST_COMPARED

        if len(chosen) > MOST_COMPARED:
            self.view.note.setText("Four at most: take one tick off first.")
            self.view.tick_only(self.chosen)
            return
        self.view.note.setText("Tick two to four to compare them.")
        self.chosen = chosen
        self._submit()

    def _picked(self, method_id: str) -> None:
        if self.session.rack is not None:
            self.view.show_page(presenter.page(self.session, method_id), self.session.rack.instrument.name)

    def _use(self, method_id: str) -> None:
        """Take a method over, with the coats its film asks for here."""
        rack = self.session.rack
        if rack is None or rack.project.coats:
            self.told.emit("coats were laid already; another method is chosen before the first one")
            return
        project, method, _ = presenter.candidates(self.session, (method_id,))[0]
        hours, asked, chosen = self._hours(rack), self.session.request(rack.instrument.id), self.session.selected
        self._use_job.submit(lambda: (chosen, method, asked.offer(project, method, hours).fit))

    def _used(self, outcome: Outcome) -> None:
        if not self.live:
            return
        if outcome.error is not None:
            self.failed.emit(outcome)
        else:
            chosen, method, fit = outcome.value
            plan = fit.stage if fit is not None and fit.stage != method.stage else ()
            try:
                by_plan.choose_method(self.session, chosen, method.id, "methods", plan)
            except InputError as error:
                self.told.emit(whole_fault(error, self.session.units))
        self.settled.emit()

    def _hours(self, rack: OnRack) -> WorkHours:
        return self.session.work_hours(rack)

    def write(self, method_id: str, path: Path) -> str:
        """Write a method to a file; returns what was done, in words."""
        put_text(path, write_method(self.session.catalogue.method(method_id)))
        return f"The method is in {path.name}"

    def read(self, path: Path) -> str:
        """Read a method file into the shop; a faulty one changes nothing."""
        most = f"is larger than {MOST_LETTERS // 1000} kB; a method is a page or two"
        try:
            text = take_in(path, MOST_LETTERS, most).decode("utf-8")
        except UnicodeDecodeError:
            raise InputError(path.name, "is not text in UTF-8") from None
        text = with_ids(text, path.name, self.session.catalogue)
        self.session.log(MethodKept(text=text, name=path.name), origin="methods")
        return f"Method from {path.name}"
