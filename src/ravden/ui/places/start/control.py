"""The first start: three choices, a page of questions, and the way to the first instrument."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ravden.app import made_up, starting
from ravden.core.errors import InputError
from ravden.system.writable import need_writable
from ravden.ui.places.start.choices import StartChoices
from ravden.ui.places.start.page import StartPage

if TYPE_CHECKING:
    from ravden.ui.shell.shell import Shell


class Starting:
    """Takes what was chosen, and turns the window to what comes of it."""

    def __init__(self, window: Shell) -> None:
        self._window = window
        self.choices = StartChoices()
        self.choices.chosen.connect(lambda key: window.guarded(lambda: self._take(key)))
        self.page: StartPage | None = None
        window.stack.addWidget(self.choices)

    def show(self) -> None:
        """The three choices."""
        self._window.stack.setCurrentWidget(self.choices)
        self.choices.buttons["start"].setFocus()

    def _take(self, key: str) -> None:
        if key == "start":
            self.ask()
        elif key == "look":
            self.look_around()
        else:
            self._window.files.open_shop()

    def ask(self) -> None:
        """The page of questions."""
        window = self._window
        if self.page is None:
            self.page = StartPage(window.session.catalogue.measuring)
            self.page.left.connect(self._back)
            window.stack.addWidget(self.page)
        window.stack.setCurrentWidget(self.page)
        self.page.begin(window.session.units.system, self._start)

    def _back(self) -> None:
        if self._window.session.journal is None:
            self.show()
        else:
            self._window.turn_back()

    def _start(self, answers: starting.Answers) -> None:
        window = self._window
        starting.start(window.session, window.remembered, answers)
        window.looks.take_up()
        window.anywhere.add_instrument()

    def _keep_made_up(self) -> None:
        """The first plan of the made-up workshop is one it keeps, and finds broken by the weather."""
        from ravden.demo import ferrow_lane

        planning, session = self._window.places.planning, self._window.session
        made = None if planning.days is None else planning.days.made
        if planning.busy or made is None or made.plan is None:
            return
        planning.changed.disconnect(self._keep_made_up)
        imagined = session.journal is not None and made_up.is_made_up(session.journal.path)
        if imagined and session.shop.kept is None:
            ferrow_lane.keep_plan(session, made)

    def look_around(self) -> None:
        """A made-up workshop, new each time, with the tour over it."""
        from ravden.demo import ferrow_lane

        window = self._window
        path = made_up.path()
        need_writable(path.parent)
        if window.session.journal is not None and window.session.journal.is_at(path):
            raise InputError("", "this is the made-up workshop: look around")
        ferrow_lane.build(path, window.session.now)
        window.session.open(path)
        window.places.planning.changed.connect(self._keep_made_up)
        window.begin_tour()
