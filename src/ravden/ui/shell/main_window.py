"""The window: the rail, the places, the menu, and logging from anywhere.

The Rack is built and painted first; the other places, and what they import, are brought in after that.
"""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QEvent, QRect, Qt, QTimer, pyqtSlot
from PyQt6.QtGui import QCloseEvent, QKeyEvent, QResizeEvent
from PyQt6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QMessageBox,
    QStackedWidget,
    QWidget,
)

from ravden.app import made_up, settings
from ravden.app.changes import Changes
from ravden.app.session import ShopSession
from ravden.core.errors import InputError
from ravden.ui.places.rack import presenter as rack_presenter
from ravden.ui.places.rack.view import RackView
from ravden.ui.shell import leaving
from ravden.ui.shell.anywhere import Anywhere
from ravden.ui.shell.clock_watch import ClockWatch
from ravden.ui.shell.exchange_dialogs import ExchangeDialogs
from ravden.ui.shell.file_dialogs import FileDialogs
from ravden.ui.shell.foot import Foot
from ravden.ui.shell.looks import Looks
from ravden.ui.shell.menus import Menus
from ravden.ui.shell.rail import Rail
from ravden.ui.shell.registry import PLACES
from ravden.ui.shell.shell import Shell
from ravden.ui.theme import style
from ravden.ui.widgets.empty import ALL_GONE, NO_INSTRUMENT, EmptyPlace
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.notice import Notice
from ravden.ui.widgets.rolled import Rolled

if TYPE_CHECKING:
    from ravden.ui.help.control import Help
    from ravden.ui.places.repair.control import RepairControl
    from ravden.ui.places.settings.control import SettingsControl
    from ravden.ui.places.start.control import Starting
    from ravden.ui.shell.tour import Tour

TICK_MS = 60_000
LEAST_SIZE = (1120, 720)  # below it the Film place would have to hide something


class MainWindow(Shell):
    """The program's one window."""

    def __init__(self, session: ShopSession, remembered: settings.Settings, settings_file: Path) -> None:
        super().__init__()
        self.session, self.remembered, self.settings_file = session, remembered, settings_file
        self.setWindowTitle("Ravden")
        self.setMinimumSize(*LEAST_SIZE)
        self.rail = Rail(PLACES)
        self.rack = RackView()
        self.stack = QStackedWidget()
        self.empty = EmptyPlace()
        self.empty.asked.connect(lambda: self.guarded(self.anywhere.add_instrument))
        self.stack.addWidget(self.rack)
        self.stack.addWidget(self.empty)
        ground = QWidget()
        ground.setObjectName("ground")
        row = QHBoxLayout(ground)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(self.rail)
        # Larger type wants more room than a small screen has: the place is scrolled then, and nothing of it is cut off.
        self.roll = Rolled(self.stack)
        row.addWidget(self.roll, 1)
        self.setCentralWidget(ground)
        self.notice = Notice(self)
        self.air = Label()
        bar = self.statusBar()
        assert bar is not None
        bar.addPermanentWidget(self.air)
        bar.setSizeGripEnabled(False)
        self._place = "rack"
        self._starting: Starting | None = None
        self._choices: SettingsControl | None = None
        self._repairs: RepairControl | None = None
        self._help: Help | None = None
        self.tour: Tour | None = None
        self.anywhere, self.foot = Anywhere(self), Foot(self)
        self.files, self.exchange = FileDialogs(self, self.anywhere), ExchangeDialogs(self, self.anywhere)
        self.looks, self.clock_watch = Looks(self), ClockWatch(self)
        self.menus = Menus(self, PLACES, self.anywhere, self.files, self.exchange, self.looks)
        self._wire()
        self._restore()
        self.stack.currentChanged.connect(self.dress)
        self.dress()
        session.listen(self._changed)
        self.tick = QTimer(self)
        self.tick.timeout.connect(self._minute)
        self.rail.turn_to("rack")

    def show_rack_alone(self) -> None:
        """The Rack from the journal alone, before anything has been worked out."""
        self.rack.show_rack(rack_presenter.show(self.session, {}), self.session.selected)
        self._show_place(self.rack)

    def begin(self) -> None:
        """Build the other places and start the work that may wait until the window has been painted."""
        from ravden.ui.shell.building import build

        build(self, self.anywhere, self.files, self.looks, self.menus)
        self.looks.resized()
        self.menus.offer(True)
        self.turn_to(self._first_place())
        self._keep_zone()
        self.places.start()
        self.tick.start(TICK_MS)
        from ravden.ui.shell.looking_over import LookingOver

        self.looking = LookingOver(self.session)
        self.looking.setParent(self)
        self.looking.damaged.connect(lambda told: self.notice.tell_until_read(f"{told}."))
        self.looking.unsound.connect(self.tell_unsound)
        self.looking.begin()
        self.clock_watch.look()
        leaving.offer(self)
        if not settings.may_save(self.settings_file):
            self.notice.tell_until_read(settings.NOT_KEPT.format(folder=self.settings_file.parent))
        self._show_air()

    def _wire(self) -> None:
        self.rail.chosen.connect(self.turn_to)
        self.rack.picked.connect(lambda i: self.session.select(i, "rack"))
        self.rack.opened.connect(self._open_film)
        self.rack.signs_asked.connect(lambda: self.guarded(self.help.show_keys))
        self.rack.add_asked.connect(lambda: self.guarded(self.anywhere.add_instrument))
        self.notice.undo_asked.connect(lambda: self.guarded(self.anywhere.undo))
        self.notice.changed.connect(self.foot.lay_out)
        self.menus.offer(False)

    def shop_asked(self, what: str) -> None:
        """The Shop place's buttons."""
        if what in ("log", "forecast_file"):
            self.guarded(lambda: self.files.read_air("log" if what == "log" else "forecast"))
        else:
            self.guarded(lambda: self.anywhere.ask(what))

    def event(self, event: QEvent | None) -> bool:
        # A letter typed at a list of choices looks for a choice there: it is no act of the whole window.
        if event is not None and event.type() == QEvent.Type.ShortcutOverride and isinstance(event, QKeyEvent):
            plain = event.modifiers() in (Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.ShiftModifier)
            if plain and event.text().isprintable() and event.text() and isinstance(self.focusWidget(), QComboBox):
                event.accept()
                return True
        return super().event(event)

    @pyqtSlot(str)
    def turn_to(self, place: str) -> None:
        """Show a place."""
        shown = self.places.at(place)
        shown.turned_to()
        self._place = place
        self._show_place(shown.view)
        self.rail.turn_to(place)
        self.places.show_all()
        self.focus_place()

    def begin_session(self, instruments: tuple[str, ...]) -> None:
        """The Booth, with these chosen for its next session, in this order."""
        self.places.booth.choosing.fill(instruments)
        self.turn_to("booth")

    def focus_place(self) -> None:
        """The keyboard to the place shown, as after a form over it was left."""
        place = self.places.at(self._place)
        shown = self.stack.currentWidget()
        (place.first_focus if shown is place.view or shown is None else shown).setFocus()

    def show_settings(self) -> None:
        """The page of settings."""
        self.anywhere.no_form_open()
        self.choices.show()

    @property
    def choices(self) -> SettingsControl:
        """The page of settings, made when it is first asked for."""
        if self._choices is None:
            from ravden.ui.places.settings.control import SettingsControl

            self._choices = SettingsControl(self)
        return self._choices

    @property
    def repairs(self) -> RepairControl:
        """The page of what went wrong, made when it is first asked for."""
        if self._repairs is None:
            from ravden.ui.places.repair.control import RepairControl

            self._repairs = RepairControl(self)
            self.places.guests.append(self._repairs)
            self._repairs.settled.connect(self.places.settle)
        return self._repairs

    def something_wrong(self, instrument: str = "") -> None:
        """What went wrong on an instrument, the one turned to where none is named, or the page to note it on."""
        self.anywhere.no_form_open()
        if instrument:
            self.session.select(instrument, "menu")
        self.repairs.show()

    @property
    def in_repairs(self) -> bool:
        """Whether the page of what went wrong is looked at."""
        return self._repairs is not None and self.stack.currentWidget() is self._repairs.view

    def open_book(self) -> None:
        """The Book, where what was handed over stands."""
        self.turn_to("shop")
        self.places.shop.view.pages.turn_to("book")

    def begin_tour(self) -> None:
        """Six captions over the places as they are."""
        if not self.session.shop.racked:
            raise InputError("", "the tour needs an instrument to show: look around the made-up workshop (Help menu)")
        if self.tour is None:
            from ravden.ui.shell.tour import Tour

            ground = self.centralWidget()
            assert ground is not None
            self.tour = Tour(self, ground)
        self.tour.begin()

    def turn_back(self) -> None:
        """Back to the place shown before a page took it."""
        self.turn_to(self._place)

    def _first_place(self) -> str:
        """Where it was left; the Booth where a session is going on there, as after a crash in the middle of it."""
        going_on = self.session.shop.session
        if going_on is not None and going_on.is_open(self.session.now) and self.places.booth.resume():
            return "booth"
        return self.remembered.place if self.remembered.place in dict(PLACES) else "rack"

    def _show_place(self, view: QWidget) -> None:
        """Show a place, or what to do first where there is nothing for it to show."""
        if self.session.journal is None:
            self.starting.show()
            return
        if not self.session.shop.racked and not self._has_a_use(view):
            self.empty.tell(ALL_GONE if self.session.shop.book else NO_INSTRUMENT)
            view = self.empty
        self.stack.setCurrentWidget(view)

    @property
    def place(self) -> str:
        """The key of the place one is in."""
        return self._place

    @property
    def in_settings(self) -> bool:
        """Whether the page of settings is looked at."""
        return self._choices is not None and self.stack.currentWidget() is self._choices.view

    @property
    def help(self) -> Help:
        """Made when it is first asked for."""
        if self._help is None:
            from ravden.ui.help.control import Help

            self._help = Help(self)
        return self._help

    @property
    def starting(self) -> Starting:
        """The first page, made when there is no file to show."""
        if self._starting is None:
            from ravden.ui.places.start.control import Starting

            self._starting = Starting(self)
            self.dress()
        return self._starting

    def _has_a_use(self, view: QWidget) -> bool:
        """Whether a place is of use with nothing on the rack: air, hours and Book of a shop are."""
        return self.built and self.session.journal is not None and view is self.places.shop.view

    def show_step(self, index: int) -> None:
        """The page of a step of the plan."""
        self.turn_to("methods")
        self.places.methods.show_step(index)

    def _open_film(self, instrument: str) -> None:
        self.session.select(instrument, "rack")
        self.turn_to("film")

    def _changed(self, changes: Changes) -> None:
        if changes.file and self.session.journal is not None:
            imagined = made_up.is_made_up(self.session.journal.path)
            if not imagined:
                self.remembered.remember(self.session.journal.path)
            settings.save(self.remembered, self.settings_file)  # whatever becomes of this process
            name = f"{self.session.shop.name}{' (made up)' if imagined else ''}"
            self.setWindowTitle(f"{name} — Ravden" + (" (reading only)" if self.session.journal.read_only else ""))
            if self.built:
                self.looks.take_up_tools()
            self.menus.show_recent(self.remembered.recent, lambda n: self.session.open(Path(n)))
        if changes.message and not (changes.origin == "booth" and self._place == "booth"):
            back = ("Bring it back  (Ctrl+Shift+Z)", lambda: self.guarded(self.anywhere.redo))
            undo = not changes.file and not changes.taken_back
            self.notice.tell(changes.message, undo=undo, way=back if changes.taken_back else None)
        if changes.file and self.session.journal is not None and self.session.journal.unsound:
            self.tell_unsound()
        elif changes.file and self.session.aside:
            self._tell_aside()
        if changes.file:
            self.clock_watch.forget()
        if self.built and changes.file:
            self.clock_watch.look()
            self.looking.begin()
            self._keep_zone()
        if self.built and (changes.file or changes.selection or changes.instruments):
            empty = self.stack.currentWidget() is self.empty
            if changes.file or empty != (not self.session.shop.racked):
                self.turn_to(self._place)
        self._show_air()
        self.foot.lay_out()

    def _keep_zone(self) -> None:
        """The machine's zone, for a shop file that has none: asked for once the window is there."""
        from ravden.app.zone import of_this_machine

        self.session.keep_zone(of_this_machine())

    def _tell_aside(self) -> None:
        """Entries that have no effect, since nobody can tell what they mean."""
        aside = self.session.aside
        first = next(iter(aside))
        which = f"Entry {first} is" if len(aside) == 1 else f"{len(aside)} entries are"
        one = "" if len(aside) == 1 else f", entry {first}"
        self.notice.tell_until_read(
            f"{which} set aside: what cannot be read, or cannot be, has no effect. It stays in the file, and the "
            f"journal as a table (Shop menu) shows it{one}: {aside[first]}."
        )

    def _show_air(self) -> None:
        if self.built:
            from ravden.ui.shell.air_line import air_line

            self.air.setText(air_line(self.session))

    def tell_bug(self, report: str) -> None:
        """An unforeseen fault, with a report that can be copied."""
        box = QMessageBox(self)
        style.dress(box)
        box.setWindowTitle("Ravden")
        box.setText("Something went wrong inside Ravden. What you logged is safe in the shop file.")
        box.setInformativeText("Help, Something went wrong has a report to copy and send.")
        box.setDetailedText(report)
        box.open()

    def _minute(self) -> None:
        self.clock_watch.look()
        self.places.refresh(tuple(self.session.shop.racked))
        self.places.notices.look()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        if self.built:
            self.looks.resized()
        self.foot.lay_out()
        if self.tour is not None:
            self.tour.lay_out()

    def _restore(self) -> None:
        if len(self.remembered.window) == 4 and leaving.on_a_screen(QRect(*self.remembered.window)):
            x, y, w, h = self.remembered.window
            self.setGeometry(x, y, max(w, LEAST_SIZE[0]), max(h, LEAST_SIZE[1]))
        else:
            self.resize(1280, 800)
        if self.remembered.maximised:
            self.showMaximized()

    def closeEvent(self, event: QCloseEvent | None) -> None:
        leaving.keep(self)
        self.tick.stop()
        self.files.stop()
        if self.built:
            self.places.stop()
        self.session.close()
        super().closeEvent(event)
