"""Wires the Rub-out place: what is asked, the panels beside the ladder, the drawer, and logging a rung in two keys."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QThreadPool

from ravden.app.seen import colour_of, seen_of
from ravden.app.session import ShopSession
from ravden.core.abrasive.buffing import Wheel
from ravden.core.abrasive.grades import Abrasive
from ravden.core.ahead.outlook import Outlook
from ravden.core.errors import InputError
from ravden.core.rubout.rub_out import Ask, RubOut, rub_out
from ravden.journal.kinds.drawer import DrawerSet
from ravden.text.say import sentence
from ravden.text.tables import Table
from ravden.ui.places.rubout import acts, bench_card, drawer_words, extras, presenter
from ravden.ui.places.rubout.see_panel import NO_LADDER
from ravden.ui.places.rubout.view import RubOutView
from ravden.ui.widgets.latest_job import LatestJob, Outcome
from ravden.ui.widgets.place import Place

if TYPE_CHECKING:
    from ravden.ui.places.rubout.look.control import Looking
    from ravden.ui.places.rubout.trainer.control import Practice
    from ravden.ui.shell.around import Around

HINT = "A number logs that rung; click a grade, or Space, puts it in or takes it out."


class RubOutControl(Place):
    """Shows the rub-out of the instrument turned to, as it is asked for."""

    def __init__(self, session: ShopSession, view: RubOutView, pool: QThreadPool, around: Around) -> None:
        super().__init__(session, view, view.ladder)
        self._around = around
        self._practice: Practice | None = None
        self._looking: Looking | None = None
        self.ask = Ask()
        self.found: Outlook | None = None
        self.rub: RubOut | None = None
        self._stale = True
        self._rung: int | None = None
        self._job = LatestJob(self, pool)
        self._job.done.connect(self._ready)
        self._seen_of: object = None  # the ladder the pictures are of
        self._see_job = LatestJob(self, pool)
        self._see_job.done.connect(self._seen)
        view.side.turned.connect(lambda _: self._see())
        view.asked.connect(self.asked)
        view.key_pressed.connect(self._key)
        side = view.side
        side.zones.stray_asked.connect(self.log_stray)
        side.wheel.changed.connect(self._wheel)
        side.paper.wood_asked.connect(self._wood)
        side.drawer.typed.connect(self._typed)
        side.drawer.meant.connect(self._meant)
        side.drawer.dropped.connect(lambda grade: self._set(drawer_words.without(session.drawer, grade)))
        side.drawer.worn.connect(lambda grade, wear: self._set(drawer_words.worn(session.drawer, grade, wear)))
        side.drawer.blocked.connect(lambda block: self._set(drawer_words.on_block(session.drawer, block)))
        side.drawer.tell("")
        view.hint.setText(HINT)

    @property
    def busy(self) -> bool:
        """Whether a ladder is being worked out."""
        over = any(part is not None and part.busy for part in (self._practice, self._looking))
        return self._job.busy or self._see_job.busy or over

    @property
    def practice(self) -> Practice:
        """The trainer, made when somebody first practises."""
        if self._practice is None:
            from ravden.ui.places.rubout.trainer.control import Practice

            self._practice = Practice(self._around, lambda: self.rub)
            self._practice.settled.connect(self.settled)
            self._practice.failed.connect(self.failed)
        return self._practice

    def practise(self, exercise: str = "") -> None:
        """Practise levelling, over the whole place."""
        self.practice.open(exercise)

    def stop(self) -> None:
        super().stop()
        for part in (self._practice, self._looking):
            if part is not None:
                part.stop()

    @property
    def looking(self) -> Looking:
        """The look at photos, made when somebody first looks."""
        if self._looking is None:
            from ravden.ui.places.rubout.look.control import Looking

            self._looking = Looking(self._around, lambda: self.rub)
            self._looking.settled.connect(self.settled)
            self._looking.failed.connect(self.failed)
        return self._looking

    def look_at_photos(self) -> None:
        """Look whether it is level, over the whole place."""
        self.looking.open()

    def forget(self) -> None:
        """Another instrument: nothing asked of the last one holds."""
        self.ask, self.found, self.rub = Ask(), None, None
        self._leave()

    def take(self, found: Outlook) -> None:
        """A new outlook of the instrument turned to."""
        self.found, self._stale = found, True
        self.show()

    def show(self) -> None:
        """Work out and show, if this is the place looked at."""
        if (
            self.found is None
            or self.view.isHidden()
            or self.found.project.instrument.id not in self.session.shop.racked
        ):
            return
        if self._stale:
            self._stale = False
            self._submit()
        elif self.rub is not None:
            self._draw()

    def asked(self, ask: Ask) -> None:
        """Something else is asked."""
        # What is as the drawer has it goes on following the drawer.
        self.ask = replace(ask, block="") if ask.block == self.session.drawer.block else ask
        if self.found is not None:
            self._submit()

    def _submit(self) -> None:
        assert self.found is not None
        film, held, ask = self.found.rub_out.film, self.found.rub_out.held, self.ask
        self._job.submit(lambda: rub_out(film, held, ask, full=True))

    def _ready(self, outcome: Outcome) -> None:
        if not self.live:
            return
        if outcome.error is not None:
            self.failed.emit(outcome)
        else:
            assert isinstance(outcome.value, RubOut)
            same = self.found is not None and outcome.value.film.project.instrument.id == self.session.selected
            if same:
                self.rub = outcome.value
                self._draw()
        self.settled.emit()

    def tables(self) -> tuple[Table, ...]:
        from ravden.ui.places.rubout.tables import tables

        if self.found is None or self.rub is None:
            return ()
        return tables(presenter.show(self.session, self.found, self.rub))

    def _draw(self) -> None:
        """Everything shown, from what is known."""
        found, rub, side = self.found, self.rub, self.view.side
        if found is None or rub is None or self.view.isHidden():
            return
        shown = presenter.show(self.session, found, rub)
        self.view.show_ladder(shown)
        self.view.hint.setVisible(bool(shown.ladder.rungs))
        side.ways.show_ways(shown.ladder.own, shown.remarks, extras.ways(self.session, rub))
        side.drawer.show_drawer(drawer_words.show(self.session.drawer))
        side.paper.offer(tuple((p.id, p.label) for p in self.session.catalogue.preps.values()))
        self._wheel(side.wheel.wheel())
        self._see()
        self._wood(str(side.paper.next.currentData()), float(side.paper.start.currentData()))

    def _see(self) -> None:
        """What each rung should look like, worked out off the GUI thread once somebody looks."""
        rub, found, see = self.rub, self.found, self.view.side.see
        if found is None or rub is None or self.view.side.page != "see":
            return
        if rub.ladder is None:
            see.show_seen(())
            see.wait(NO_LADDER)
            return
        ladder, base = rub.ladder, colour_of(self.session.catalogue, found.project)
        texture = rub.texture_um if rub.job.after is None else 0.0
        if self._seen_of is not ladder:
            self._seen_of = ladder
            see.wait()
            self._see_job.submit(lambda: seen_of(ladder, texture, base))

    def _seen(self, outcome: Outcome) -> None:
        if self.live and outcome.error is not None:
            self.failed.emit(outcome)
        elif self.live:
            self.view.side.see.show_seen(outcome.value)
        self.settled.emit()

    def _wheel(self, wheel: Wheel) -> None:
        if self.found is not None and self.rub is not None:
            self.view.side.wheel.told.tell(*extras.wheel_words(self.session, self.found, self.rub, wheel))

    def _wood(self, next_id: str, start_um: float) -> None:
        if self.found is not None and self.rub is not None:
            scuff = extras.scuff_words(self.session, self.found, self.rub)
            self.view.side.paper.show_words(scuff, extras.wood_words(self.session, self.rub, next_id, start_um))

    def _typed(self, text: str) -> None:
        entry, meanings, note = drawer_words.added(self.session, text)
        if entry is not None:
            self._set(entry)
        self.view.side.drawer.tell(note, meanings)

    def _meant(self, grade: Abrasive) -> None:
        entry, _, note = drawer_words.with_grade(self.session, grade)
        if entry is not None:
            self._set(entry)
        self.view.side.drawer.tell(note)

    def _set(self, entry: DrawerSet) -> None:
        try:
            self.session.log(entry, origin="drawer")
        except InputError as error:
            self.view.side.drawer.tell(sentence(error.said, self.session.units))

    def _key(self, key: str) -> None:
        """First the rung, then the zone."""
        if self.found is None or self.rub is None:
            return
        if key == "esc":
            self._leave()
        elif key == "x":
            self.log_stray(self.view.side.zones.zone)
        else:
            try:
                self._digit(key)
            except InputError as error:
                self._leave()
                self.view.hint.setText(sentence(error.said, self.session.units))

    def _digit(self, key: str) -> None:
        assert self.found is not None and self.rub is not None
        if self._rung is None:
            if key == "0":
                raise InputError("", "first the number of the rung, then the zone")
            question = acts.rung_question(self.found, self.rub, int(key) - 1)
            self._rung = int(key) - 1
            self.view.hint.setStyleSheet("font-weight: bold;")
            self.view.hint.setText(question)
            return
        index = self._rung
        entry = acts.rung_entry(self.session, self.found, self.rub, index, key)
        self._leave()
        self.ask = replace(self.ask, sequence=None)
        self.session.log(entry, instrument=self.session.selected, origin="rung")

    def _leave(self) -> None:
        self._rung = None
        self.view.hint.setStyleSheet("")
        self.view.hint.setText(HINT)

    def log_stray(self, zone: str) -> None:
        """Note a stray scratch on a zone."""
        if self.found is None or self.rub is None:
            return
        try:
            entry = acts.stray_entry(self.found, self.rub, zone, None)
            self.session.log(entry, instrument=self.session.selected, origin="stray")
        except InputError as error:
            self.view.hint.setText(sentence(error.said, self.session.units))

    def write_card(self, path: Path) -> str:
        """The bench card as PDF; returns what was done, in words."""
        if self.found is None or self.rub is None:
            raise InputError("", "turn to the Rub-out place of an instrument first")
        bench_card.write(presenter.show(self.session, self.found, self.rub), path)
        return f"The bench card is in {path.name}"
