"""Wires the Methods place: what is compared is computed off the GUI thread; files are read, checked and written."""

from pathlib import Path

from PyQt6.QtCore import QObject, QThreadPool, pyqtSignal

from ravden.catalogue.method_files import MOST_LETTERS, write_method
from ravden.core.errors import InputError
from ravden.journal.entries import MethodKept
from ravden.ui.methods import presenter
from ravden.ui.methods.view import MethodsView
from ravden.ui.session import ShopSession
from ravden.ui.widgets.latest_job import LatestJob, Outcome


class MethodsControl(QObject):
    """Shows the methods for the instrument turned to."""

    failed = pyqtSignal(object)
    settled = pyqtSignal()
    told = pyqtSignal(str)

    def __init__(self, session: ShopSession, view: MethodsView, pool: QThreadPool) -> None:
        super().__init__()
        self.session, self.view = session, view
        self.live = True
        self.chosen: tuple[str, ...] = ()
        self.offers: tuple[presenter.OfferShown, ...] = ()
        self._for = ("", 0)
        self._job = LatestJob(self, pool)
        self._job.done.connect(self._ready)
        view.compared.connect(self._compared)
        view.picked.connect(self._picked)
        view.use_asked.connect(self._use)

    @property
    def busy(self) -> bool:
        """Whether anything is being compared."""
        return self._job.busy

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
        self.view.head.tell("Methods", f"side by side on {rack.instrument.name}, from today on")
        self.view.show_list(presenter.rows(self.session), self.chosen)
        self.view.show_page(presenter.page(self.session, self.view.shown_id), rack.instrument.name)

    def _submit(self) -> None:
        from ravden.core.plan.compare import Offer, offer
        from ravden.core.plan.hours import WorkHours

        rack = self.session.rack
        if rack is None:
            return
        work = presenter.candidates(self.session, self.chosen)
        zero = self.session.local(rack.zero)
        hours = WorkHours(hour_at_zero=zero.hour + zero.minute / 60)
        drawer = self.session.drawer

        def compare() -> list[Offer]:
            return [offer(project, method, drawer, now_h, hours, transfer) for project, method, now_h, transfer in work]

        self.view.picture.dim = True
        self.view.picture.update()
        self._job.submit(compare)

    def _ready(self, outcome: Outcome) -> None:
        if not self.live:
            return
        if outcome.error is not None:
            self.failed.emit(outcome)
        elif self.session.rack is not None:
            now_h = self.session.rack.hours(self.session.now)
            assert isinstance(outcome.value, list)
            self.offers = tuple(presenter.offer_shown(self.session, o, now_h) for o in outcome.value)
            self.view.show_offers(self.offers)
        self.settled.emit()

    def _compared(self, chosen: tuple[str, ...]) -> None:
        from ravden.core.plan.compare import MOST_COMPARED

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
        try:
            self.session.choose_method(self.session.selected, method_id, "methods")
        except InputError as error:
            self.told.emit(str(error))

    def write(self, method_id: str, path: Path) -> str:
        """Write a method to a file; returns what was done, in words."""
        try:
            path.write_text(write_method(self.session.catalogue.method(method_id)), encoding="utf-8")
        except OSError as error:
            raise InputError(str(path), f"cannot be written: {error.strerror}") from None
        return f"The method is in {path.name}"

    def read(self, path: Path) -> str:
        """Read a method file into the shop; a faulty one changes nothing."""
        try:
            if path.stat().st_size > MOST_LETTERS:
                raise InputError(path.name, f"is larger than {MOST_LETTERS // 1000} kB; a method is a page or two")
            text = path.read_text(encoding="utf-8")
        except OSError as error:
            raise InputError(str(path), f"cannot be read: {error.strerror}") from None
        except UnicodeDecodeError:
            raise InputError(path.name, "is not text in UTF-8") from None
        self.session.log(MethodKept(text=text, name=path.name), origin="methods")
        return f"Method from {path.name}"
