"""The page of what went wrong at work: noted, asked about, worked out off the GUI thread, chosen, looked at."""

from __future__ import annotations

import logging
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, Qt, pyqtSignal
from PyQt6.QtWidgets import QLabel

from ravden.app import repairing, seen
from ravden.app.changes import Changes
from ravden.app.defects import defects_of, open_defects
from ravden.catalogue.assemble import body
from ravden.core.errors import NO_INSTRUMENT, InputError
from ravden.journal.kinds.mishap import MishapLogged
from ravden.text.say import whole_fault
from ravden.ui.places.repair import answers, presenter, tables
from ravden.ui.places.repair.view import RepairPage
from ravden.ui.widgets.latest_job import LatestJob, Outcome
from ravden.ui.widgets.seen import image_of

if TYPE_CHECKING:
    from ravden.app.repairing import Worked
    from ravden.core.record import Mishap
    from ravden.journal.rack import OnRack
    from ravden.text.tables import Table
    from ravden.ui.shell.shell import Shell

ORIGIN = "repair"


class RepairControl(QObject):
    """picked: the defect looked at, 0 for none; at: the repair looked at. settled: nothing is being worked out."""

    settled = pyqtSignal()

    def __init__(self, window: Shell) -> None:
        super().__init__(window)
        self._window, self._session = window, window.session
        self.picked, self.at = 0, 0
        self.worked: Worked | None = None
        self._of: tuple[object, ...] = ()  # what was worked out is of
        self.view = RepairPage()
        for label in self.view.findChildren(QLabel):
            label.setTextFormat(Qt.TextFormat.PlainText)
        pool = window.places.pool
        self._job, self._look = LatestJob(self, pool), LatestJob(self, pool)
        self._job.done.connect(self._done)
        self._look.done.connect(self._pictured)
        self._looked_of = ""
        view, guarded = self.view, window.guarded
        view.defect_picked.connect(lambda i: self._turn_to(i))
        view.way_picked.connect(self._way_picked)
        view.told.connect(lambda f, v: guarded(lambda: self._log(answers.told(self._mishap, f, v))))
        view.answered.connect(lambda c, y: guarded(lambda: self._log(answers.answered(self._mishap, c, y))))
        view.placed.connect(
            lambda x, y: guarded(lambda: self._log(answers.placed(self._mishap, (round(x, 1), round(y, 1)))))
        )
        view.choose_asked.connect(lambda: guarded(self._choose))
        view.live_asked.connect(lambda: guarded(lambda: self._look_at("lived-with")))
        view.leave_asked.connect(
            lambda: guarded(lambda: repairing.leave(self._session, self._session.selected, self.picked, ORIGIN))
        )
        view.looked.connect(lambda outcome: guarded(lambda: self._look_at(outcome)))
        view.note_asked.connect(lambda: guarded(self.note))
        view.noting.settled.connect(self.settled)
        view.noting.picked.connect(lambda k, z, p: guarded(lambda: self._noted(k, z, p)))
        view.left.connect(self._leave)
        window.stack.addWidget(view)
        self._session.listen(self._changed)
        self.live = True

    @property
    def busy(self) -> bool:
        """Whether anything shown is being worked out."""
        return self._job.busy or self._look.busy or self.view.noting.busy

    @property
    def _rack(self) -> OnRack:
        rack = self._session.rack
        if rack is None:
            raise InputError("", NO_INSTRUMENT, remedy="instrument")
        return rack

    @property
    def _mishap(self) -> Mishap:
        return repairing.mishap_of(self._rack, self.picked)

    def show(self, defect: int = 0) -> None:
        """The page of a defect of the instrument turned to; of its open ones the heaviest, or the page to note one."""
        rack = self._rack
        mine = open_defects(rack, self._session.now)
        if not defect and not mine:
            self.note()
            return
        self._window.stack.setCurrentWidget(self.view)
        self._turn_to(defect or mine[0].id)
        self.view.ways.setFocus()

    def note(self) -> None:
        """The page on which something new is noted."""
        rack, view = self._rack, self.view
        kinds = {k.id: (k.label, k.shows, k.met) for k in self._session.catalogue.repairs.kinds.values()}
        project = rack.project
        zones = [(z.name, z.label) for z in project.zones if z.name not in project.masked]
        base = seen.colour_of(self._session.catalogue, project)
        at = self._window.places.film.zone or zones[0][0]
        view.noting.offer(
            kinds, zones, body(rack.instrument.measures), rack.instrument.measures.neck_length_mm, at,
            seen.looks_of(self._session.catalogue, kinds, base),
        )  # fmt: skip
        self._window.stack.setCurrentWidget(view)
        view.show_noting(f"Something is wrong on {rack.instrument.name}")

    def _noted(self, kind: str, zone: str, place: object) -> None:
        rack = self._rack
        where = place if isinstance(place, tuple) else None
        # Paper comes to the colour first; on the page of it one can say that it is wood.
        colour = kind == "sand-through" and rack.project.coloured(zone, rack.hours(self._session.now))
        body = MishapLogged(what=kind, zone=zone, place=where, colour=colour)
        self._check(body)
        entry = self._session.log(body, instrument=rack.instrument.id, origin=ORIGIN)
        if self._session.catalogue.repairs.kinds[kind].light:
            self._window.turn_back()  # the next paper deals with it: there is nothing to choose
            return
        self._turn_to(entry.id)
        self.view.ways.setFocus()

    def _check(self, body: MishapLogged) -> None:
        """What cannot be there is told before it is noted. Raises InputError."""
        from ravden.core.record import Mishap
        from ravden.core.repair.case import check

        found = self._window.places.found.get(self._session.selected)
        if found is not None:
            check(found, Mishap(at_h=found.now_h, what=body.what, zone=body.zone, place=body.place))

    def _log(self, entry: object) -> None:
        self._session.log(entry, instrument=self._session.selected, origin=ORIGIN)  # type: ignore[arg-type]

    def _turn_to(self, defect: int) -> None:
        if defect != self.picked:
            self.picked, self.at, self.worked = defect, 0, None
        self._ask()
        self._draw()

    def _way_picked(self, at: int) -> None:
        self.at = at
        self._draw()

    def _choose(self) -> None:
        worked = self.worked
        if worked is None or not worked.repairs.ways:
            raise InputError("", "what puts it right is still being worked out")
        if self._stale():
            raise InputError("", "something has changed: it is being worked out anew")
        way = worked.repairs.ways[min(self.at, len(worked.repairs.ways) - 1)]
        repairing.choose(self._session, self._session.selected, worked.mishap, way, ORIGIN)

    def _look_at(self, outcome: str) -> None:
        repairing.looked(self._session, self._session.selected, self.picked, outcome, ORIGIN)

    def _leave(self) -> None:
        if self.view.pages.currentIndex() == 1 and self._noted_before():
            self.show()
        else:
            self._window.turn_back()

    def _noted_before(self) -> bool:
        rack = self._session.rack
        return rack is not None and bool(open_defects(rack, self._session.now)) and self.picked != 0

    # worked out

    def _key(self) -> tuple[object, ...]:
        """What the causes and repairs of the defect depend on."""
        session = self._session
        rack = session.rack
        acts = () if rack is None else rack.acts
        mending = {} if rack is None else dict(rack.mending)
        made = self._window.places.planning.days
        return session.selected, self.picked, acts, mending, None if rack is None else rack.plan, made is None

    def _stale(self) -> bool:
        return self._of != self._key()

    def _ask(self) -> None:
        if not self._stale() and (self.worked is not None or self._job.busy):
            return
        session, places = self._session, self._window.places
        self._of = self._key()
        made = None if places.planning.days is None else places.planning.days.made
        standing = {} if made is None else made.steps
        self._job.submit(repairing.work(session, session.selected, self.picked, dict(places.found), standing))
        self.view.work_goes_on()

    def _done(self, outcome: Outcome) -> None:
        if not self.live:
            return
        if outcome.error is not None and not isinstance(outcome.error, InputError):
            logging.getLogger(__name__).error("a repair failed\n%s", outcome.trace)
            self._window.failed(outcome)
        elif outcome.serial == self._job.latest and outcome.error is not None:
            self.view.head.setText(whole_fault(outcome.error, self._session.units).capitalize() + ".")
            self.view.ways.show_ways((), 0)
        elif outcome.serial == self._job.latest:
            self.worked = outcome.value
            self._draw()
        self.settled.emit()

    def _changed(self, changes: Changes) -> None:
        if not self.live or self.view.isHidden():
            if changes.file or changes.selection:
                self.picked, self.worked, self._of = 0, None, ()
            return
        rack = self._session.rack
        ids = set() if rack is None else {d.id for d in defects_of(rack, self._session.now)}
        if changes.file or rack is None or (changes.selection and self.picked not in ids):
            self.picked, self.worked, self._of = 0, None, ()
            self._window.turn_back()
            return
        if self.view.pages.currentIndex() == 1:
            return
        if self.picked not in ids:  # it was taken back
            self.picked, self.worked = 0, None
            if ids:
                self.show()
            else:
                self._window.turn_back()
            return
        self._ask()
        self._draw()

    def _draw(self) -> None:
        rack = self._session.rack
        if rack is None or (self.view.isHidden() and self._window.stack.currentWidget() is not self.view):
            return
        if self.picked not in {d.id for d in defects_of(rack, self._session.now)}:
            return
        worked = self.worked if self.worked is not None and self.worked.mishap.id == self.picked else None
        shown = presenter.page(self._session, rack, self.picked, worked, self.at)
        measures = rack.instrument.measures
        self.view.show_page(shown, body(measures), measures.neck_length_mm)
        self._show_look(shown.look, rack)
        if self._stale():
            self.view.work_goes_on()

    def _show_look(self, look: str, rack: OnRack) -> None:
        catalogue = self._session.catalogue
        looks = seen.looks_of(catalogue, [look] if look else [], seen.colour_of(catalogue, rack.project))
        key = looks[0].key if looks else look
        if key == self._looked_of:
            return
        self._looked_of = key
        label = catalogue.looks[look].label if look else ""
        words = catalogue.looks[look].words if look else ""
        self.view.seen.setVisible(bool(looks))
        if looks:
            self.view.seen.wait(label, words)
            make = looks[0].make
            self._look.submit(make)

    def _pictured(self, outcome: Outcome) -> None:
        if self.live and outcome.error is None and outcome.serial == self._look.latest:
            self.view.seen.show_pixels(image_of(outcome.value))
        self.settled.emit()

    def tables(self) -> tuple[Table, ...]:
        """What the page shows, in numbers and words."""
        return () if self.view.shown is None else tables.tables(self.view.shown)

    def stop(self) -> None:
        """The window closes."""
        self.live = False
