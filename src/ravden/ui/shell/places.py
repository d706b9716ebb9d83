"""Wires presenters to the views of the places: asks for outlooks off the GUI thread and shows what comes."""

from collections.abc import Callable

from PyQt6.QtCore import QObject, QThreadPool, pyqtSignal

from ravden.app.session import Changes, ShopSession
from ravden.catalogue.assemble import body
from ravden.core.ahead.outlook import Outlook
from ravden.core.errors import InputError
from ravden.ui.places.booth.control import BoothControl
from ravden.ui.places.booth.view import BoothView
from ravden.ui.places.film import presenter as film_presenter
from ravden.ui.places.film.tryout import TryOut
from ravden.ui.places.film.view import FilmView
from ravden.ui.places.methods.control import MethodsControl
from ravden.ui.places.methods.view import MethodsView
from ravden.ui.places.rack import presenter as rack_presenter
from ravden.ui.places.rack.view import RackView
from ravden.ui.places.rubout.control import RubOutControl
from ravden.ui.places.rubout.view import RubOutView
from ravden.ui.places.shop import presenter as shop_presenter
from ravden.ui.places.shop.view import ShopView
from ravden.ui.shell.notices import NoticesControl
from ravden.ui.widgets.latest_job import LatestJob, Outcome


class Places(QObject):
    """Keeps Rack, Film and Rub-out showing the truth."""

    failed = pyqtSignal(object)
    settled = pyqtSignal()

    def __init__(
        self, session: ShopSession, rack: RackView, film: FilmView, rubout: RubOutView, shop: ShopView,
        methods: MethodsView, booth: BoothView, send: Callable[[str, str], None],
    ) -> None:  # fmt: skip
        super().__init__()
        self.session, self.rack, self.film, self.rubout, self.shop = session, rack, film, rubout, shop
        self._pool = QThreadPool(self)
        self._pool.setMaxThreadCount(1)
        self._rack_jobs: dict[str, LatestJob] = {}
        self._film_job = LatestJob(self, self._pool)
        self._film_job.done.connect(self._film_ready)
        self.found: dict[str, Outlook] = {}
        self.film_found: Outlook | None = None
        self.film_shown: film_presenter.FilmShown | None = None
        self.zone = ""
        self.cursor_h: float | None = None
        film.zone_picked.connect(self._zone_picked)
        film.cursor_moved.connect(self._cursor_moved)
        session.listen(self._changed)
        self.rub = RubOutControl(session, rubout, self._pool)
        self.rub.failed.connect(self.failed)
        self.rub.settled.connect(self._settle)
        self.methods = MethodsControl(session, methods, self._pool)
        self.methods.failed.connect(self.failed)
        self.methods.settled.connect(self._settle)
        self.booth = BoothControl(session, booth, lambda: self.found, self._pool)
        self.booth.failed.connect(self.failed)
        self.booth.settled.connect(self._settle)
        self.notices = NoticesControl(session, lambda: self.found, self._pool, send)
        self.notices.settled.connect(self._settle)
        self.live = False
        self.place: tuple[str, float, float] | None = None
        film.side.zones.placed.connect(self._placed)
        self.tryout = TryOut(session, film, self._pool)
        self.tryout.failed.connect(self.failed)
        self.tryout.settled.connect(self._settle)

    @property
    def busy(self) -> bool:
        """Whether anything shown is still being worked out."""
        jobs = [self._film_job, *self._rack_jobs.values()]
        parts = (self.tryout, self.rub, self.methods, self.booth, self.notices)
        return any(j.busy for j in jobs) or any(p.busy for p in parts)

    def start(self) -> None:
        """Begin computing: called once the first paint is done."""
        self.live = True
        self._offer()
        self.refresh(tuple(self.session.shop.racked))

    def stop(self) -> None:
        """Let running work end; called when the window closes."""
        self.live = False
        for part in (self.rub, self.methods, self.methods.plan, self.booth, self.notices):
            part.live = False
        self.booth.tick.stop()
        self._pool.clear()
        self._pool.waitForDone(5000)

    def _changed(self, changes: Changes) -> None:
        if changes.file:
            self.found, self.film_found = {}, None
            self.zone, self.cursor_h = "", None
            self.rub.forget()
            self.notices.forget()
        if changes.selection:
            self.zone, self.cursor_h = "", None
            self.rub.forget()
        self.place = None
        self.show_shop()
        self.methods.show()
        self.booth.show()
        for gone in set(self.found) - set(self.session.shop.racked):
            del self.found[gone]
        self.show_rack()
        self._offer()
        if changes.appearance:
            self.show_all()
        if changes.instruments or changes.selection or changes.file:
            self.refresh(changes.instruments)

    def _offer(self) -> None:
        names = [(i, r.instrument.name) for i, r in self.session.shop.racked.items()]
        self.film.head.offer(names, self.session.selected)
        self.rubout.head.offer(names, self.session.selected)
        self.methods.view.head.offer(names, self.session.selected)

    def refresh(self, instruments: tuple[str, ...]) -> None:
        """Ask anew for what depends on these instruments; one outlook serves every place that can share it."""
        if not self.live:
            return
        selected = self.session.selected
        if selected in self.session.shop.racked:
            usual = self._usual_zone(selected)
            self._film_job.submit(self.session.request(selected, zone=self.zone or usual, advise=True).run)
            if self.zone not in ("", usual):
                self._ask_rack(selected)
        for i in instruments:
            if i in self.session.shop.racked and i != selected:
                self._ask_rack(i)

    def _usual_zone(self, instrument: str) -> str:
        return self.session.shop.racked[instrument].project.zones[0].name

    def _ask_rack(self, instrument: str) -> None:
        if instrument not in self._rack_jobs:
            job = LatestJob(self, self._pool)
            job.done.connect(lambda outcome, name=instrument: self._rack_ready(name, outcome))
            self._rack_jobs[instrument] = job
        request = self.session.request(instrument, zone=self._usual_zone(instrument))
        self._rack_jobs[instrument].submit(request.run)

    def _outlook(self, outcome: Outcome) -> Outlook | None:
        if outcome.error is not None:
            if not isinstance(outcome.error, InputError):
                import logging

                logging.getLogger(__name__).error("an outlook failed\n%s", outcome.trace)
            self.failed.emit(outcome)
            return None
        assert isinstance(outcome.value, Outlook)
        if outcome.value.project.instrument.id not in self.session.shop.racked:
            return None
        return outcome.value

    def _settle(self) -> None:
        if not self.busy:
            self.settled.emit()

    def _rack_ready(self, instrument: str, outcome: Outcome) -> None:
        if not self.live:
            return  # what ends after the window was closed has nothing left to draw on
        if (found := self._outlook(outcome)) is not None:
            self.found[instrument] = found
            self.show_rack()
        self._settle()

    def _film_ready(self, outcome: Outcome) -> None:
        if not self.live:
            return
        found = self._outlook(outcome)
        if found is not None and found.project.instrument.id == self.session.selected:
            self.film_found = found
            if found.zone == self._usual_zone(self.session.selected):
                self.found[self.session.selected] = found
                self.show_rack()
            self.rub.take(found)
            self.methods.take(found)
            self.booth.take(found)
            self.show_film()
        self._settle()

    def show_rack(self) -> None:
        """Draw the Rack from what is known, if it is the place shown; otherwise when it is turned to."""
        if self.rack.isHidden():
            return
        self.rack.show_rack(rack_presenter.show(self.session, self.found), self.session.selected)

    def show_shop(self) -> None:
        """Draw the Shop from what is known, if it is the place shown."""
        if not self.shop.isHidden():
            self.shop.show_shop(shop_presenter.show(self.session, self.found), self.session.units)

    def show_film(self) -> None:
        """Draw the Film place from what is known, if it is the place shown."""
        found = self.film_found
        if self.film.isHidden():
            return
        if found is None or found.project.instrument.id not in self.session.shop.racked:
            return
        shape = body(found.project.instrument.measures)
        self.film_shown = film_presenter.show(self.session, found, shape)
        self.film.show_film(self.film_shown, self.session.units, self.cursor_h)
        self.tryout.show(found, self.film_shown)
        self._show_section()

    def _show_section(self) -> None:
        if self.film_shown is None:
            return
        at_h = self.film_shown.now_h if self.cursor_h is None else self.cursor_h
        section = film_presenter.section(self.session, self.film_shown, at_h)
        self.film.show_section(section, self.film_shown, at_h)

    def show_all(self) -> None:
        """Draw the place shown anew, as after turning to it or a change of units or theme."""
        self.show_rack()
        self.show_film()
        self.show_shop()
        self.rub.show()
        self.methods.show()
        self.booth.show()

    def _zone_picked(self, zone: str) -> None:
        self.zone = zone
        self.refresh(())

    def _placed(self, zone: str, along_mm: float, across_mm: float) -> None:
        self.place = (zone, along_mm, across_mm)

    def _cursor_moved(self, at_h: float) -> None:
        now = self.film_shown.now_h if self.film_shown is not None else 0.0
        self.cursor_h = self.tryout.cursor_h = None if abs(at_h - now) < 1e-9 else at_h
        self._show_section()
