"""Wires the plan of the instrument turned to: every change is an entry of the journal, and can be taken back."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, QThreadPool, pyqtSignal

from ravden.app import by_plan
from ravden.app.session import ShopSession
from ravden.core.errors import InputError
from ravden.core.method.compose import coloured, edited, moved
from ravden.core.method.steps import Stage
from ravden.text.say import fault
from ravden.ui.places.methods import plan_presenter as presenter
from ravden.ui.places.methods.plan_view import PlanView
from ravden.ui.widgets.latest_job import LatestJob, Outcome

if TYPE_CHECKING:
    from ravden.app.seen import Wanted
    from ravden.core.ahead.fit import Fit
    from ravden.core.ahead.outlook import Outlook


class PlanControl(QObject):
    """Shows the plan from the outlook at hand; how its coats fit the film is worked out off the GUI thread."""

    failed = pyqtSignal(object)
    settled = pyqtSignal()

    def __init__(
        self, session: ShopSession, view: PlanView, pool: QThreadPool, outlooks: Callable[[], Mapping[str, Outlook]]
    ) -> None:
        """outlooks: of every instrument, as far as they are known."""
        super().__init__(view)
        self.session, self.view, self._outlooks = session, view, outlooks
        self._found: Outlook | None = None
        self._fit: Fit | None = None
        self._shown: presenter.PlanShown | None = None
        self._wanted: int | None = None
        self.live = True
        self._job = LatestJob(self, pool)
        self._job.done.connect(self._fitted)
        view.picked.connect(self._picked)
        view.kept.connect(self._kept)
        view.insert_asked.connect(self._insert)
        view.drop_asked.connect(self._drop)
        view.move_asked.connect(self._move)
        view.fit_asked.connect(self._take_fit)
        view.colour_asked.connect(self._colour)
        view.own_dropped.connect(
            lambda: self._try(lambda: by_plan.edit_plan(self.session, (), "the method's own again", "plan"))
        )

    @property
    def busy(self) -> bool:
        """Whether the fit is being worked out."""
        return self._job.busy

    def _looks(self, stage: Stage | None) -> tuple[Wanted, ...]:
        """What goes wrong in a step like this one, over this instrument's wood."""
        if stage is None or self._found is None:
            return ()
        from ravden.app.seen import looks_of_step

        return looks_of_step(self.session.catalogue, self._found.project, stage.kind, stage.by)

    def take(self, found: Outlook | None) -> None:
        """The outlook of the instrument turned to."""
        self._found, self._fit = found, None
        self.show()

    def show(self) -> None:
        """Draw the plan, if it is looked at."""
        found = self._found
        if found is None or self.view.isHidden() or not self.view.isVisible():
            return
        if self._fit is None:
            from ravden.core.ahead.fit import fitted

            self._job.submit(lambda: (found, fitted(found)))
        self._draw()

    def _draw(self) -> None:
        if self._found is not None and self._found.project.instrument.id in self.session.shop.racked:
            self._shown = presenter.show(self.session, self._found, self._fit, self._outlooks())
            self.view.show_plan(self._shown)
            if self._wanted is not None and self._found.method.stage == self.stages:
                self.view.pick(self._wanted)
                self._wanted = None

    def _fitted(self, outcome: Outcome) -> None:
        if not self.live:
            return
        if outcome.error is not None:
            self.failed.emit(outcome)
        elif outcome.value[0] is self._found:
            self._fit = outcome.value[1]
            self._draw()
        self.settled.emit()

    def turn_to(self, row: int) -> None:
        """Pick a step, now or as soon as the plan is drawn."""
        self._wanted = row
        self.show()

    @property
    def stages(self) -> tuple[Stage, ...]:
        """The steps as planned now."""
        rack = self.session.rack
        return rack.method.stage if rack is not None else ()

    def _picked(self, row: int) -> None:
        stage = self.stages[row] if 0 <= row < len(self.stages) else None
        words = "" if stage is None else presenter.left_out_words(stage)
        self.view.show_step(stage, words, self.session.units)
        self.view.form.show_looks(self._looks(stage))

    def _try(self, act: Callable[[], object]) -> bool:
        """Bad input is told beside the form, and changes nothing."""
        try:
            act()
        except InputError as error:
            self.view.form.tell(fault(error, self.session.units))
            return False
        return True

    def _edit(self, make: Callable[[], tuple[Stage, ...]], what: str) -> bool:
        return self._try(lambda: by_plan.edit_plan(self.session, make(), what, "plan"))

    def _kept(self, row: int, stage: Stage) -> None:
        self._edit(lambda: edited(self.stages, row, stage), f"{stage.label} changed")

    def _insert(self, row: int, kind: str) -> None:
        stage = presenter.step_to_insert(kind)
        if self._edit(lambda: edited(self.stages, row, stage, insert=True), f"{stage.label} put in"):
            self._turn_to(row + 1)

    def _drop(self, row: int) -> None:
        if 0 <= row < len(self.stages):
            stage = self.stages[row]
            self._edit(lambda: edited(self.stages, row), f"{stage.label} left out")

    def _move(self, row: int, by: int) -> None:
        if 0 <= row < len(self.stages):
            stage = self.stages[row]
            if self._edit(lambda: moved(self.stages, row, by), f"{stage.label} moved"):
                self._turn_to(row + by)

    def _turn_to(self, row: int) -> None:
        """The step just put somewhere is in hand once the plan has been dated anew."""
        self._wanted = row

    def _take_fit(self) -> None:
        if self._shown is not None and self._shown.fit_stage and self._fit is not None:
            stages, coats = self._shown.fit_stage, self._fit.coats
            self._edit(lambda: stages, f"fitted to the film, {coats} coats")

    def _colour(self, module_id: str) -> None:
        rack = self.session.rack
        if rack is not None:
            module = self.session.catalogue.modules[module_id]
            self._edit(lambda: coloured(rack.method, module).stage, module.label.lower())
