"""What can be done from every place: log, correct, take back, put an instrument on the rack."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec.structs import replace

from ravden.app import by_plan
from ravden.core.errors import NO_FILE, InputError
from ravden.core.method.mending import rejoined
from ravden.text.plan_words import first_of_all
from ravden.ui.theme.style import px

if TYPE_CHECKING:
    from collections.abc import Callable

    from ravden.app.forms import Field
    from ravden.core.method.steps import Stage
    from ravden.core.record import Instrument
    from ravden.journal.rack import OnRack
    from ravden.ui.shell.shell import Shell

CARD_W = 880
ROUND_CARD = 300  # of the window, left free beside a card: the buttons there can still be read


class Anywhere:
    """Acts of the menu and its keys. Bad input is raised as InputError; the window tells it in one line."""

    def __init__(self, window: Shell) -> None:
        self._window, self._session = window, window.session

    def no_form_open(self) -> None:
        """A letter typed while a form is being filled must not become an act."""
        window = self._window
        filling = hasattr(window, "card") and window.card.isVisible()
        if filling or window.in_repairs or window.stack.currentWidget() is getattr(window, "page", None):
            raise InputError("", "finish the form, or leave it with Esc, first", remedy="form")

    def to_form(self) -> None:
        """The keyboard back to what is being filled in."""
        window = self._window
        page = window.repairs.view if window.in_repairs else getattr(window, "page", None)
        filled = window.card if window.card.isVisible() else page
        if filled is not None:
            first = next(iter(filled.inputs.values()))
            first.setFocus()

    def log_coat(self) -> None:
        """The one-key coat."""
        from ravden.app.slips import usual_coat_doubt

        self.no_form_open()
        session, places = self._session, getattr(self._window, "places", None)
        slip = None if places is None else usual_coat_doubt(session, places.found.get(session.selected))
        if slip is None:
            session.log_usual_coat("key")
            return
        self.ask("coat")
        self._window.card.question(slip)

    def step_done(self) -> None:
        """The next step of the method, done."""
        self.no_form_open()
        by_plan.log_next_step(self._session, "key")

    def step_skipped(self) -> None:
        """The next step of the method, left out, with what that leads to."""
        self.no_form_open()
        by_plan.log_next_step(self._session, "menu", skipped=True)

    def ask(self, kind: str, choice: str = "") -> None:
        """Open the log card; choice: how a coat is known, or what a reading is with."""
        self.no_form_open()
        window = self._window
        window.card.setFixedWidth(min(px(CARD_W), window.width() - ROUND_CARD))
        film = window.places.film
        here = (film.spot[1], film.spot[2]) if film.spot is not None and film.spot[0] == film.zone else None
        window.acts.ask(kind, film.found, film.zone, here, choice)
        window.foot_changed.emit()

    def ask_for(self, heading: str, fields: tuple[Field, ...], put: Callable[[dict[str, str]], None]) -> None:
        """Open the card for a form of a page's own. put: takes what was typed; raises InputError."""
        self.no_form_open()
        window = self._window
        window.card.setFixedWidth(min(px(CARD_W), window.width() - ROUND_CARD))
        window.card.ask("", heading, fields, put, keep="Keep it")
        window.foot_changed.emit()

    def correct(self, entry_id: int) -> None:
        """Open the log card on an entry, to put something else in its place."""
        self.no_form_open()
        self._window.acts.correct(self._session.entry(entry_id))
        self._window.foot_changed.emit()

    def undo(self) -> None:
        """Take back the newest entry."""
        self._session.undo("key")

    def redo(self) -> None:
        """Bring back what was taken back."""
        self._session.redo("key")

    def add_instrument(self) -> None:
        """Turn to the guided page."""
        self.no_form_open()
        if self._session.journal is None:
            raise InputError("", NO_FILE, remedy="file")
        page = self._window.page
        told = self._window.remembered
        page.begin(self._session.units, self._put_on_rack, self._session.catalogue, told.lays, told.least_um)
        self._window.stack.setCurrentWidget(page)
        page.inputs["name"].setFocus()

    def as_last_time(self, rack: OnRack) -> None:
        """The guided page, with what an instrument was that is finished: its kind, measures, method with its own
        steps, and what was wanted of it."""
        item = rack.instrument
        self._session.catalogue.method(item.method)
        self._session.catalogue.kind(item.kind)
        self.add_instrument()
        plan = tuple(rejoined([s for s in rack.plan if not s.mends], 0))
        page = self._window.page
        page.submit_to(lambda typed, kind, method: self._put_on_rack(typed, kind, method, item, plan))
        page.like(item, item.min_film_um)

    def _put_on_rack(
        self, typed: dict[str, str], kind: str, method: str, like: Instrument | None = None,
        plan: tuple[Stage, ...] = (),
    ) -> None:  # fmt: skip
        from ravden.app import forms
        from ravden.catalogue.assemble import measures_of

        session, found = self._session, self._session.catalogue
        body = forms.added(
            typed, kind=kind, base=like.measures if like is not None and kind == like.kind else
            measures_of(found.kind(kind)), material=found.method(method).material, method=method,
            units=session.units, taken={*session.shop.racked, *session.shop.book},
            now=session.local(session.now), hours=session.shop.hours,
        )  # fmt: skip
        if like is not None and method == like.method:
            body = replace(body, plan=plan)
        first = not session.shop.racked and not session.shop.book
        session.log(body, instrument=body.id, origin="page")
        self._window.turn_to("film")
        if first:
            self._window.tell(first_of_all(session.shop.on_rack(body.id)), undo=False)
