"""Keeps the panels beside the timeline showing the truth, and the picture following the sliders."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from functools import partial

from PyQt6.QtCore import QObject, QThreadPool, pyqtSignal

from ravden.app.session import ShopSession
from ravden.core.ahead.outlook import Outlook
from ravden.core.ahead.waits import DRAWS, Waits, before
from ravden.core.ahead.waits import waits as waits_of
from ravden.core.ahead.whatif import Tried, tried
from ravden.core.ahead.witness import Verdict
from ravden.core.ahead.witness import witness as witness_of
from ravden.core.errors import InputError
from ravden.core.record.material import CureModel
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.rate import RateAccepted
from ravden.ui.places.film import advice, presenter, trial, witness
from ravden.ui.places.film.presenter import FilmShown
from ravden.ui.places.film.trial import Trial
from ravden.ui.places.film.view import FilmView
from ravden.ui.places.film.waits import show as waits_shown
from ravden.ui.widgets.latest_job import LatestJob, Outcome


class TryOut(QObject):
    """Trials are worked out off the GUI thread, one at a time, the newest next; each is shown when it comes."""

    failed = pyqtSignal(object)
    settled = pyqtSignal()

    def __init__(self, session: ShopSession, view: FilmView, pool: QThreadPool) -> None:
        super().__init__(view)
        self._session, self._view = session, view
        self._job = LatestJob(self, pool)
        self._job.done.connect(self._ready)
        self._waiting = LatestJob(self, pool)
        self._waiting.done.connect(self._waited)
        self._found: Outlook | None = None
        self._shown: FilmShown | None = None
        self._trial: Trial | None = None
        self._result: Tried | None = None
        self._instrument = ""
        self.cursor_h: float | None = None
        panel = view.side.coat
        panel.tried.connect(self._moved)
        panel.laid.connect(self._laid)
        panel.left.connect(self._as_planned)
        self._verdict: Verdict | None = None
        view.side.witness.accepted.connect(self._accept)
        view.side.waits.compare.toggled.connect(lambda _: self._fill())
        view.side.turned.connect(lambda _: self._turned())

    @property
    def busy(self) -> bool:
        """Whether a trial is being worked out."""
        return self._job.busy or self._waiting.busy

    @property
    def trial(self) -> Trial | None:
        """What the sliders stand for."""
        return self._trial

    def show(self, found: Outlook, shown: FilmShown) -> None:
        """A new truth: fill the panels; a trial of the same instrument keeps its weight, not its count."""
        session, before = self._session, self._instrument
        self._found, self._shown, self._result = found, shown, None
        self._instrument = found.project.instrument.id
        self._fill()
        try:
            usual = trial.usual(session.catalogue, found)
        except InputError:
            self._trial = None
            return
        kept = self._trial
        if kept is None or before != self._instrument or kept.padded != usual.padded:
            self._trial = usual
        else:
            self._trial = replace(kept, coats=usual.coats)
        if self._view.side.page == "coat":
            self._try()

    def _fill(self) -> None:
        """Fill the panel turned to; the others wait until they are."""
        found, shown, side = self._found, self._shown, self._view.side
        if found is None or shown is None or found.counsel is None:
            return
        if side.page == "plan":
            side.plan.show_plan(advice.plan(self._session, found, found.counsel))
        elif side.page == "waits":
            # A first answer at once, and the one from samples when it is ready.
            self._waiting.submit(partial(_waits, found, 0, self._before()))
        elif side.page == "witness":
            self._waiting.submit(partial(_witness, found))
        elif side.page == "log":
            side.log.show_entries(advice.entries(self._session, found, found.counsel), shown.zone_label)

    def _turned(self) -> None:
        self._fill()
        if self._view.side.page == "coat":
            self._try()
        elif self._shown is not None:
            self._view.show_tried(self._shown, self._session.units, self.cursor_h)

    def _moved(self, asked: Trial) -> None:
        self._trial = asked
        self._try()

    def _as_planned(self) -> None:
        if self._found is not None:
            self._trial = trial.usual(self._session.catalogue, self._found)
            self._try()

    def _try(self) -> None:
        found, asked = self._found, self._trial
        if found is None or asked is None:
            return
        self._say(self._result)
        change = trial.what_if(self._session.catalogue, found, asked)
        self._job.submit(lambda: tried(found, change))

    def _say(self, result: Tried | None) -> None:
        if self._found is not None and self._trial is not None:
            said = trial.show(self._session, self._found, self._trial, result)
            self._view.side.coat.show_trial(said, self._session.units)

    def _ready(self, outcome: Outcome) -> None:
        if outcome.error is not None:
            self.failed.emit(outcome)
        elif self._found is not None and outcome.value.outlook.ledger is self._found.ledger:
            self._result = outcome.value
            self._say(self._result)
            if self._view.side.page == "coat" and self._shown is not None:
                shown = presenter.tried(self._shown, outcome.value.outlook)
                self._view.show_tried(shown, self._session.units, self.cursor_h)
        if not self.busy:
            self.settled.emit()

    def _waited(self, outcome: Outcome) -> None:
        if outcome.error is not None:
            self.failed.emit(outcome)
        else:
            answered: Outlook
            answered, waits = outcome.value
            if answered is not self._found or self._instrument not in self._session.shop.racked:
                pass  # it was turned away from, or taken off the rack, meanwhile
            elif isinstance(waits, Verdict | InputError):
                self._say_witness(answered, waits)
            elif self._view.side.page == "waits":
                self._view.side.waits.show_waits(waits_shown(self._session, answered, waits))
                if waits is not None and not waits.draws:
                    self._waiting.submit(partial(_waits, answered, DRAWS, self._before()))
        if not self.busy:
            self.settled.emit()

    def _before(self) -> Mapping[str, CureModel] | None:
        """How finishes were reckoned to harden once, while both are looked at side by side."""
        return self._session.catalogue.cure_before if self._view.side.waits.compare.isChecked() else None

    def _say_witness(self, found: Outlook, said: Verdict | InputError) -> None:
        self._verdict = said if isinstance(said, Verdict) else None
        shown = (
            witness.refused(self._session, said)
            if isinstance(said, InputError)
            else witness.show(self._session, found, said)
        )
        self._view.side.witness.show_witness(shown)

    def _accept(self) -> None:
        """Use the fitted rate for this finish in this shop."""
        if self._verdict is None or self._found is None:
            return
        fit, item = self._verdict.fit, self._found.project.instrument
        # What an old can does to it is no part of the shop's own rate.
        can_ln, _ = self._session.shop.on_rack(item.id).old_can_ln
        how = f"card of {item.name}: {fit.weighings} weighings, {fit.observations} observations"
        try:
            self._session.log(
                RateAccepted(material=item.material, ln_mean=fit.mean - can_ln, ln_sd=fit.sd, how=how), origin="witness"
            )
        except InputError as error:
            self.failed.emit(Outcome(0, error=error))

    def _laid(self, asked: Trial) -> None:
        if self._found is None:
            return
        try:
            dry = trial.dry_um(self._session.catalogue, self._found.project, asked)
            body = CoatLogged(dry_um=dry, how=trial.how(asked, self._session.units))
            self._session.log(body, instrument=self._found.project.instrument.id, origin="panel")
        except InputError as error:
            self.failed.emit(Outcome(0, error=error))


def _waits(found: Outlook, draws: int, then: Mapping[str, CureModel] | None) -> tuple[Outlook, Waits | None]:
    told = waits_of(found, draws)
    if told is None or then is None:
        return found, told
    own = then.get(found.project.instrument.material)
    models = {**then, **({} if own is None else {"": own})}
    return found, replace(told, before=before(found, models))


def _witness(found: Outlook) -> tuple[Outlook, Verdict | InputError]:
    try:
        return found, witness_of(found)
    except InputError as error:
        return found, error
