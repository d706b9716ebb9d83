"""The window: the rail, the places, the menu, and logging from anywhere.

The Rack is built and painted first; the other places, and what they import, are brought in after that.
"""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QTimer, pyqtSlot
from PyQt6.QtGui import QCloseEvent, QResizeEvent
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QLabel,
    QMainWindow,
    QMessageBox,
    QStackedWidget,
    QWidget,
)

from ravden.core.errors import InputError
from ravden.ui import settings
from ravden.ui.exchange_dialogs import ExchangeDialogs
from ravden.ui.file_dialogs import FileDialogs
from ravden.ui.looks import Looks
from ravden.ui.menus import Menus
from ravden.ui.rack import presenter as rack_presenter
from ravden.ui.rack.view import RackView
from ravden.ui.session import Changes, ShopSession
from ravden.ui.widgets.empty import NO_FILE, NO_INSTRUMENT, EmptyPlace
from ravden.ui.widgets.latest_job import Outcome
from ravden.ui.widgets.notice import Notice
from ravden.ui.widgets.rail import Rail

if TYPE_CHECKING:
    from ravden.ui.booth.view import BoothView
    from ravden.ui.film.view import FilmView
    from ravden.ui.instrument.view import InstrumentPage
    from ravden.ui.logging_acts import Acts
    from ravden.ui.methods.view import MethodsView
    from ravden.ui.notices.desktop import Desktop
    from ravden.ui.places import Places
    from ravden.ui.rubout.view import RubOutView
    from ravden.ui.shop.listening import Listening
    from ravden.ui.shop.view import ShopView
    from ravden.ui.widgets.log_card import LogCard

PLACES = (
    ("rack", "Rack"), ("film", "Film"), ("booth", "Booth"), ("rubout", "Rub-out"), ("shop", "Shop"),
    ("methods", "Methods"),
)  # fmt: skip
TICK_MS = 60_000
CARD_W, NOTICE_W = 880, 640
LEAST_SIZE = (1120, 720)  # below it the Film place would have to hide something


class MainWindow(QMainWindow):
    """The program's one window."""

    film: FilmView
    booth: BoothView
    rubout: RubOutView
    shop: ShopView
    methods: MethodsView
    listening: Listening
    page: InstrumentPage
    places: Places
    desktop: Desktop
    acts: Acts
    card: LogCard

    def __init__(self, session: ShopSession, remembered: settings.Settings, settings_file: Path) -> None:
        super().__init__()
        self.session, self.remembered, self._settings_file = session, remembered, settings_file
        self.setWindowTitle("Ravden")
        self.setMinimumSize(*LEAST_SIZE)
        self.rail = Rail(PLACES)
        self.rack = RackView()
        self.stack = QStackedWidget()
        self.empty = EmptyPlace()
        self.empty.asked.connect(lambda: self.guarded(self._fill_emptiness))
        self.stack.addWidget(self.rack)
        self.stack.addWidget(self.empty)
        ground = QWidget()
        ground.setObjectName("ground")
        row = QHBoxLayout(ground)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(self.rail)
        row.addWidget(self.stack, 1)
        self.setCentralWidget(ground)
        self.notice = Notice(ground)
        self.air = QLabel()
        bar = self.statusBar()
        assert bar is not None
        bar.addPermanentWidget(self.air)
        bar.setSizeGripEnabled(False)
        self._place = "rack"
        self.files, self.exchange = FileDialogs(self), ExchangeDialogs(self)
        self.looks = Looks(self)
        self.menus = Menus(self, PLACES)
        self._wire()
        self._restore()
        session.listen(self._changed)
        self._tick = QTimer(self)
        self._tick.timeout.connect(self._minute)
        self.rail.turn_to("rack")

    def show_rack_alone(self) -> None:
        """The Rack from the journal alone, before anything has been worked out."""
        self.rack.show_rack(rack_presenter.show(self.session, {}), self.session.selected)
        self._show_place(self.rack)

    def begin(self) -> None:
        """Build the other places and start the work that may wait until the window has been painted."""
        from ravden.ui.booth.view import BoothView
        from ravden.ui.film.view import FilmView
        from ravden.ui.instrument.view import InstrumentPage
        from ravden.ui.logging_acts import Acts
        from ravden.ui.methods.view import MethodsView
        from ravden.ui.notices.desktop import Desktop
        from ravden.ui.places import Places
        from ravden.ui.rubout.view import RubOutView
        from ravden.ui.shop.listening import Listening
        from ravden.ui.shop.view import ShopView
        from ravden.ui.widgets.log_card import LogCard

        self.card = LogCard(self.centralWidget())
        self.card.grown.connect(self._lay_out)
        self.film, self.rubout, self.shop, self.methods = FilmView(), RubOutView(), ShopView(), MethodsView()
        self.booth = BoothView()
        self.page = InstrumentPage(self.session.catalogue)
        for view in (self.film, self.booth, self.rubout, self.shop, self.methods, self.page):
            self.stack.addWidget(view)
        self.desktop = Desktop(self)
        self.places = Places(
            self.session, self.rack, self.film, self.rubout, self.shop, self.methods, self.booth, self.desktop.send
        )
        self.places.booth.told.connect(self._say)
        self.places.notices.failed.connect(self._failed)
        self.places.notices.on = self.remembered.notify
        self.menus.notify.setChecked(self.remembered.notify)
        self.desktop.failed.connect(self._say)
        self.places.booth.bold_asked.connect(self.looks.turn_contrast)
        self.places.booth.sounds.level = self.remembered.sound
        self.places.booth.sound_turned.connect(lambda level: setattr(self.remembered, "sound", level))
        self.booth.run.large = self.remembered.contrast
        self.booth.after.reading_asked.connect(lambda: self.ask("reading"))
        self.places.methods.told.connect(self._say)
        self.methods.head.instrument_picked.connect(lambda i: self.session.select(i, "chooser"))
        self.methods.save_asked.connect(lambda m: self.guarded(lambda: self.files.save_method(m)))
        self.methods.read_asked.connect(lambda: self.guarded(self.files.read_method))
        self.listening = Listening(self.session, self.shop)
        self.listening.failed.connect(lambda text: self._say(text))
        self.places.booth.listen_to(self.listening.live)
        self.shop.asked.connect(self._shop_asked)
        self.acts = Acts(self.session, self.card)
        for view in (self.film, self.rubout):
            view.head.instrument_picked.connect(lambda i: self.session.select(i, "chooser"))
            view.sanding_asked.connect(lambda: self.ask("sanding"))
        self.rubout.card_asked.connect(lambda: self.guarded(self.files.bench_card))
        self.film.side.log.correct_asked.connect(self.correct)
        self.film.side.log.back_asked.connect(lambda i: self.guarded(lambda: self.session.take_back(i, "log")))
        self.film.coat_asked.connect(self.log_coat)
        self.film.reading_asked.connect(lambda: self.ask("reading"))
        self.film.step_picked.connect(self.show_step)
        self.page.left.connect(lambda: self.turn_to(self._place))
        self.places.failed.connect(self._failed)
        self.menus.offer(True)
        self.turn_to(self.remembered.place if self.remembered.place in dict(PLACES) else "rack")
        self.places.start()
        self._tick.start(TICK_MS)
        self._show_air()

    def _wire(self) -> None:
        self.rail.chosen.connect(self.turn_to)
        self.rack.picked.connect(lambda i: self.session.select(i, "rack"))
        self.rack.opened.connect(self._open_film)
        self.rack.add_asked.connect(self.add_instrument)
        self.notice.undo_asked.connect(self.undo)
        self.menus.offer(False)

    def guarded(self, slot: Callable[[], object]) -> None:
        """Bad input becomes one line."""
        try:
            slot()
        except InputError as error:
            self._say(str(error))

    def tell(self, text: str, *, undo: bool) -> None:
        """A line at the foot; undo: with the way to take back what it tells of."""
        self.notice.tell(text, undo=undo)
        self._lay_out()

    def _say(self, text: str) -> None:
        self.tell(f"{text[:1].upper()}{text[1:]}.", undo=False)

    def _shop_asked(self, what: str) -> None:
        """The Shop place's buttons."""
        if what in ("log", "forecast_file"):
            self.guarded(lambda: self.files.read_air("log" if what == "log" else "forecast"))
        else:
            self.ask(what)

    @pyqtSlot(str)
    def turn_to(self, place: str) -> None:
        """Show a place."""
        self._place = place
        views = {
            "rack": self.rack,
            "film": self.film,
            "booth": self.booth,
            "rubout": self.rubout,
            "shop": self.shop,
            "methods": self.methods,
        }
        self._show_place(views[place])
        self.rail.turn_to(place)
        self.places.show_all()
        focus = {
            "rack": self.rack.lanes, "film": self.film.timeline, "booth": self.booth, "rubout": self.rubout.ladder,
            "shop": self.shop.buttons["air"], "methods": self.methods.list,
        }[place]  # fmt: skip
        focus.setFocus()

    def _show_place(self, view: QWidget) -> None:
        """Show a place, or what to do first where there is nothing for it to show."""
        if not self.session.shop.racked:
            self.empty.tell(NO_FILE if self.session.journal is None else NO_INSTRUMENT)
            view = self.empty
        self.stack.setCurrentWidget(view)

    def _fill_emptiness(self) -> None:
        if self.session.journal is None:
            self.files.new_shop()
        else:
            self.add_instrument()

    def show_step(self, index: int) -> None:
        """The page of a step of the plan."""
        self.turn_to("methods")
        self.places.methods.show_step(index)

    def _open_film(self, instrument: str) -> None:
        self.session.select(instrument, "rack")
        self.turn_to("film")

    def no_form_open(self) -> None:
        """A letter typed while a form is being filled must not become an act."""
        filling = hasattr(self, "card") and self.card.isVisible()
        if filling or self.stack.currentWidget() is getattr(self, "page", None):
            raise InputError("", "finish the form, or leave it with Esc, first")

    def log_coat(self) -> None:
        """The one-key coat."""

        def coat() -> None:
            self.no_form_open()
            self.session.log_usual_coat("key")

        self.guarded(coat)

    def step_done(self) -> None:
        """The next step of the method, done."""
        self.no_form_open()
        self.session.log_next_step("key")

    def step_skipped(self) -> None:
        """The next step of the method, left out, with what that leads to."""
        self.no_form_open()
        self.session.log_next_step("menu", skipped=True)

    def ask(self, kind: str) -> None:
        """Open the log card."""

        def form() -> None:
            self.no_form_open()
            spot = self.places.place
            here = (spot[1], spot[2]) if spot is not None and spot[0] == self.places.zone else None
            self.acts.ask(kind, self.places.film_found, self.places.zone, here)

        self.card.setFixedWidth(min(CARD_W, self.width() - 140))
        self.guarded(form)
        self._lay_out()

    def correct(self, entry_id: int) -> None:
        """Open the log card on an entry, to put something else in its place."""

        def form() -> None:
            self.no_form_open()
            self.acts.correct(self.session.entry(entry_id))

        self.guarded(form)
        self._lay_out()

    def undo(self) -> None:
        """Take back the newest entry."""
        self.guarded(lambda: self.session.undo("key"))

    def redo(self) -> None:
        """Bring back what was taken back."""
        self.guarded(lambda: self.session.redo("key"))

    def add_instrument(self) -> None:
        """Turn to the guided page."""
        self.no_form_open()
        if self.session.journal is None:
            raise InputError("", "no shop file is open; make one (Ctrl+N) or open one first")
        self.page.begin(self.session.units, self._put_on_rack, self.session.catalogue)
        self.stack.setCurrentWidget(self.page)
        self.page.inputs["name"].setFocus()

    def _put_on_rack(self, typed: dict[str, str], kind: str, method: str) -> None:
        found = self.session.catalogue
        from ravden.catalogue.assemble import measures_of
        from ravden.ui import forms

        body = forms.added(
            typed, kind=kind, base=measures_of(found.kind(kind)), material=found.method(method).material, method=method,
            units=self.session.units, taken=set(self.session.shop.racked), now=self.session.local(self.session.now),
        )  # fmt: skip
        self.session.log(body, instrument=body.id, origin="page")
        self.turn_to("film")

    def _changed(self, changes: Changes) -> None:
        if changes.file and self.session.journal is not None:
            self.remembered.remember(self.session.journal.path)
            name = self.session.shop.name
            self.setWindowTitle(f"{name} — Ravden" + (" (reading only)" if self.session.journal.read_only else ""))
            self.menus.show_recent(self.remembered.recent, lambda n: self.session.open(Path(n)))
        if changes.message and not (changes.origin == "booth" and self._place == "booth"):
            self.notice.tell(changes.message, undo=not changes.file)
        if hasattr(self, "places") and (changes.file or changes.selection or changes.instruments):
            empty = self.stack.currentWidget() is self.empty
            if changes.file or empty != (not self.session.shop.racked):
                self.turn_to(self._place)
        self._show_air()
        self._lay_out()

    def _show_air(self) -> None:
        if hasattr(self, "places"):
            from ravden.ui.air_line import air_line

            self.air.setText(air_line(self.session))

    def _failed(self, outcome: Outcome) -> None:
        if isinstance(outcome.error, InputError):
            self.notice.tell(str(outcome.error), undo=False)
        else:
            self.notice.tell(
                "This could not be worked out; what you logged is safe. The report is in the log.", undo=False
            )
        self._lay_out()

    def tell_bug(self, report: str) -> None:
        """An unforeseen fault, with a report that can be copied."""
        box = QMessageBox(self)
        box.setWindowTitle("Ravden")
        box.setText("Something went wrong inside Ravden. What you logged is safe in the shop file.")
        box.setDetailedText(report)
        box.open()

    def _minute(self) -> None:
        self.places.refresh(tuple(self.session.shop.racked))
        self.places.notices.look()

    def _lay_out(self) -> None:
        ground = self.centralWidget()
        if ground is None:
            return
        self._float(self.notice, NOTICE_W, ground)
        if hasattr(self, "card"):
            self._float(self.card, CARD_W, ground)
            if self.card.isVisible():
                self.notice.move(self.notice.x(), self.card.y() - self.notice.height() - 8)

    def _float(self, widget: QWidget, width: int, ground: QWidget) -> None:
        """Keep a card at the foot of the place, in its middle."""
        widget.setFixedWidth(min(width, self.width() - 140))
        layout = widget.layout()
        if layout is not None:
            layout.activate()
        widget.adjustSize()
        left = self.rail.width() + (ground.width() - self.rail.width() - widget.width()) // 2
        widget.move(left, ground.height() - widget.height() - 16)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._lay_out()

    def _restore(self) -> None:
        if len(self.remembered.window) == 4:
            x, y, w, h = self.remembered.window
            self.setGeometry(x, y, max(w, LEAST_SIZE[0]), max(h, LEAST_SIZE[1]))
        else:
            self.resize(1280, 800)
        if self.remembered.maximised:
            self.showMaximized()

    def closeEvent(self, event: QCloseEvent | None) -> None:
        box = self.normalGeometry()
        self.remembered.window = [box.x(), box.y(), box.width(), box.height()]
        self.remembered.maximised = self.isMaximized()
        self.remembered.place = self._place
        settings.save(self.remembered, self._settings_file)
        self._tick.stop()
        if hasattr(self, "places"):
            self.listening.stop()
            self.places.stop()
        self.session.close()
        super().closeEvent(event)
