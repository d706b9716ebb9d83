"""Runs the exercises: what the hand holds, the panel worked in order off the GUI thread, and what came of it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING, TypeVar

from msgspec.structs import replace
from PyQt6.QtCore import QObject, pyqtSignal

from ravden.app import practising
from ravden.app.practice_end import ASKED, End, ended
from ravden.catalogue.exercises import Exercise, exercises
from ravden.core.errors import InputError
from ravden.core.surface import trial as core
from ravden.core.surface.panel import CELLS, FEW_CELLS, SIZE_MM
from ravden.core.surface.shade import pixels
from ravden.core.surface.trial import LOADS_KPA, STANDS_FOR, Hold, Told, Trial
from ravden.text import practice_words as say
from ravden.text.say import fault
from ravden.text.units import Units
from ravden.ui.places.rubout.trainer.boards import MINE, Boards
from ravden.ui.places.rubout.trainer.gloss import Gloss
from ravden.ui.places.rubout.trainer.in_order import InOrder
from ravden.ui.places.rubout.trainer.keys import Keys
from ravden.ui.places.rubout.trainer.lamp import Lamp
from ravden.ui.places.rubout.trainer.result_view import film_image
from ravden.ui.places.rubout.trainer.view import TrainerPage
from ravden.ui.widgets.latest_job import LatestJob, Outcome, own_pool
from ravden.ui.widgets.seen import image_of

if TYPE_CHECKING:
    from ravden.core.rubout.rub_out import RubOut
    from ravden.core.surface.contact import Cells
    from ravden.core.surface.shade import Pixels
    from ravden.ui.shell.around import Around

T = TypeVar("T")
TIME_UP_MIN = 45.0
SMALL_WINDOW_H = 760
FACES = {"block": "block 60 × 30 mm", "small": "block 35 × 20 mm", "fingers": "fingers, 60 × 10 mm"}
BACKS = ("firm", "rigid", "foam", "finger")


class Practice(QObject):
    """One exercise at a time, on the board chosen."""

    settled = pyqtSignal()
    failed = pyqtSignal(object)

    def __init__(self, around: Around, rub: Callable[[], RubOut | None]) -> None:
        super().__init__(around.shell)
        self._around, self._session = around, around.session
        self._pool = own_pool()
        self._pool.setMaxThreadCount(2)  # the panel, and what careful rounds would come to on it
        self._file = practising.practice_file(around.shell.settings_file)
        self.page = TrainerPage([(e.id, e.title) for e in exercises().values()])
        self.exercise: Exercise = next(iter(exercises().values()))
        self.seed = 1
        self.boards = Boards(self._session, self.page.board, rub)
        self.lamp = Lamp(self.page.panel)
        self.gloss = Gloss(self._session, self.page.gloss, lambda: self.board.base, self._gloss_done)
        self.hold = Hold()
        self.trial: Trial | None = None
        self.order: InOrder | None = None
        self.told: Told | None = None
        self._par: Told | None = None
        self._wants_end = self._time_up = False
        self.guesses: list[float] = []
        self._marked = 0
        self.peeks = 0
        self.xray = False
        self._keys = Keys(self)
        self._made: End | None = None
        self._par_job = LatestJob(self, self._pool)
        self._par_job.done.connect(self._par_known)
        self._wire()

    def _wire(self) -> None:
        page = self.page
        page.left.connect(self._leave)
        page.chosen.connect(self.begin)
        page.board_chosen.connect(self._choose_board)
        page.key_pressed.connect(self._keys.down)
        page.key_released.connect(self._keys.up)
        self.lamp.turned.connect(self._look)
        page.panel.rubbed.connect(self.rub)
        page.panel.pointed_at.connect(self.point)
        page.panel.clicked.connect(self.click)
        page.panel.lamp_turned.connect(self.lamp.turn_to)
        page.panel.pressed_more.connect(self._press_more)
        page.hand.acted.connect(self.act)
        page.hand.pressed.connect(lambda kPa: self.change_hold(load_kPa=kPa))
        page.hand.held.connect(self.look_through)
        page.gloss.acted.connect(self.gloss.act)
        page.result.again.connect(lambda: self.begin(self.exercise.id, self.seed))
        page.result.another.connect(lambda: self.begin(self.exercise.id, self.seed + 1))
        page.result.onward.connect(self._onward)

    @property
    def busy(self) -> bool:
        """Whether something of it is being worked out."""
        return self._par_job.busy or (self.order is not None and self.order.busy)

    @property
    def board(self) -> practising.Board:
        """What is practised on."""
        return self.boards.board

    @property
    def size_mm(self) -> float:
        """How large a panel is."""
        return SIZE_MM

    @property
    def _units(self) -> Units:
        return self._session.units

    def open(self, exercise: str = "") -> None:
        """Take the whole place; at an exercise, or at the one that was on."""
        stack = self._around.shell.stack
        if stack.indexOf(self.page) < 0:
            stack.addWidget(self.page)
        stack.setCurrentWidget(self.page)
        self.boards.offer()
        self.begin(exercise or self.exercise.id, self.seed)

    def begin(self, name: str, seed: int | None = None) -> None:
        """Begin an exercise anew."""
        self.exercise, self.seed = exercises()[name], seed or self.seed
        self._stop_work()
        self.guesses, self.peeks, self._par, self.told = [], 0, None, None
        self._marked = 0
        self._wants_end = self._time_up = self.xray = False
        self._made = None
        page = self.page
        page.tell_fault("")
        page.task.setText(self.exercise.task)
        page.mark(name, practising.done(practising.read_past(self._file)))
        page.indicative.setText(say.MAY_CLAIM)
        self.lamp.begin()
        if self.exercise.kind == "gloss":
            self.gloss.begin()
            page.turn_to(page.gloss)
        else:
            self._begin_panel()
        page.setFocus()

    def _begin_panel(self) -> None:
        page, exercise = self.page, self.exercise
        if exercise.kind == "plan" and not self.boards.is_mine and (said := self.boards.choose(MINE)):
            page.tell_fault(said)
        cells = CELLS if self._around.shell.height() >= SMALL_WINDOW_H else FEW_CELLS
        try:
            setup = practising.setup_of(exercise, self.board, self.seed, cells)
        except InputError as error:
            page.tell_fault(fault(error, self._units))
            setup = practising.setup_of(exercise, self.boards.stock(), self.seed, cells)
        self.hold = Hold(sheet=setup.first, backing=exercise.backing, face=exercise.face)
        self.trial = Trial(setup)
        panel = page.panel
        panel.size_mm, panel.at_mm, panel.marks = self.trial.size_mm, (self.trial.size_mm / 2,) * 2, []
        panel.rubs = exercise.kind != "strays"
        panel.image = None
        for name, shown in (("mark", exercise.kind == "lows"), ("xray", exercise.kind != "strays")):
            page.hand.acts[name].setVisible(shown)
        page.hand.work.setVisible(panel.rubs)
        self._name_mark()
        for name in ("wipe", "new", "rounds"):
            page.hand.acts[name].setVisible(panel.rubs)
        page.hand.choose["backing"].setEnabled(exercise.kind != "halves")
        page.turn_to(panel)
        self.order = InOrder(self._picture, self._pool, self)
        self.order.shown.connect(self._shown)
        self.order.failed.connect(self._act_failed)
        self._show_hold()
        self.order.submit()
        if exercise.kind in ("rub", "plan"):
            self._par_job.submit(lambda: core.par(setup))

    def _picture(self) -> tuple[Told, Pixels | None, Cells | None]:
        """In the worker: the newest of it."""
        assert self.trial is not None
        panel = self.page.panel
        if self.xray:
            return self.trial.told(), None, self.trial.work.film_um.copy()
        return self.trial.told(), pixels(self.trial.seen(panel.lamp_deg, panel.lamp_low)), None

    def _shown(self, made: tuple[Told, Pixels | None, Cells | None]) -> None:
        if self._made is not None:
            self._show_end(self._made)
            return
        told, seen, film = made
        self.told = told
        words = self._numbers(told)
        image = image_of(seen) if seen is not None else None
        if film is not None and self.trial is not None:
            image = film_image(film, self.trial.setup.floor_um)
        if image is not None:
            self.page.panel.show_image(image, words)
        self.page.hand.show_paper(
            told.cut,
            told.loaded,
            told.worn,
            f"{say.paper(told)}; it {say.drag(told.drag_kPa)}" if told.strokes else say.paper(told),
        )
        self.page.hand.told.setText(words)
        ends = self.exercise.ends_um
        self._time_up = told.minutes > TIME_UP_MIN
        if not self._wants_end and (told.through or self._time_up or (ends and told.mean_um >= ends)):
            self.act("done")
        self.settled.emit()

    def _numbers(self, told: Told) -> str:
        if self.exercise.kind == "strays":
            return f"{len(self.page.panel.marks)} marked"
        return say.numbers(told, self._units, by_eye=self.exercise.hidden, learnt=self.board.learnt)

    def rub(self, start_mm: tuple[float, float], end_mm: tuple[float, float]) -> None:
        """Rub from one place to another."""
        if self.trial is None or self.order is None or self._wants_end:
            return
        trial, hold = self.trial, self.hold
        self.page.panel.at_mm = trial.kept(end_mm, hold)
        self.page.panel.update()
        self.order.submit(lambda: trial.rub(start_mm, end_mm, hold))

    def point(self, at_mm: tuple[float, float]) -> None:
        """Hold the block over this."""
        if self.trial is not None:
            self.page.panel.at_mm = self.trial.kept(at_mm, self.hold)
            self.page.panel.update()

    def click(self, at_mm: tuple[float, float]) -> None:
        """A stray scratch is seen here, or was not one after all."""
        marks = self.page.panel.marks
        near = [m for m in marks if (m[0] - at_mm[0]) ** 2 + (m[1] - at_mm[1]) ** 2 < 9]
        if near:
            marks.remove(near[0])
        else:
            marks.append(at_mm)
        self._look()

    def act(self, name: str) -> None:
        """One of the acts of the hand."""
        trial, hold = self.trial, self.hold
        if trial is None or self.order is None or self.page.middle.currentWidget() is not self.page.panel:
            return
        cycles: dict[str, Callable[[], None]] = {
            "grade": lambda: self.change_hold(sheet=(hold.sheet + 1) % len(trial.setup.sheets)),
            "backing": lambda: self.change_hold(backing=_after(BACKS, hold.backing)),
            "face": lambda: self.change_hold(face=_after(tuple(FACES), hold.face)),
            "turn": lambda: self.change_hold(turned=not hold.turned),
            "stands": lambda: self.change_hold(stands_for=_after(STANDS_FOR, hold.stands_for)),
        }
        if self.exercise.kind == "strays" and name != "done":
            return
        if name in cycles:
            if name != "backing" or self.exercise.kind != "halves":
                cycles[name]()
        elif name == "wipe":
            self.order.submit(trial.wipe)
        elif name == "new":
            self.order.submit(trial.new_piece)
        elif name == "rounds":
            for _ in range(10):
                self.order.submit(lambda: self._round(trial, hold))
        elif name == "mark" and self.exercise.kind == "lows":
            self._marked += 1
            self.order.submit(lambda: self.guesses.append(trial.told().touched))
            if self._marked == len(ASKED):
                self.act("done")
            self._name_mark()
        elif name == "done":
            self._end()

    def _name_mark(self) -> None:
        """Which share is to be told by eye next."""
        asked = ASKED[min(self._marked, len(ASKED) - 1)]
        self.page.hand.acts["mark"].setText(f"{say.share(asked)} now  (M)")

    @staticmethod
    def _round(trial: Trial, hold: Hold) -> None:
        if not trial.told().through:
            trial.round(hold)

    def _end(self) -> None:
        """After all that was asked before it, and once the par is known."""
        assert self.order is not None
        self._wants_end = True
        self.lamp.stop()
        if self._par is None and self.exercise.kind in ("rub", "plan"):
            self.page.hand.told.setText("Working out what careful rounds come to on this panel …")
            return
        exercise, trial, par, board, units = self.exercise, self.trial, self._par, self.board, self._units
        guesses, clicks, peeks, time_up = self.guesses, tuple(self.page.panel.marks), self.peeks, self._time_up
        assert trial is not None
        order = self.order

        def make() -> None:
            end = ended(
                exercise, trial, par, board, units, guesses=guesses, clicks=clicks, peeks=peeks, time_up=time_up
            )
            if self.order is order:
                self._made = end

        order.submit(make)

    def _par_known(self, outcome: Outcome) -> None:
        if outcome.error is not None:
            self.failed.emit(outcome)
        elif self._par_job.latest == outcome.serial:
            self._par = outcome.value
            if self._wants_end:
                self._end()
        self.settled.emit()

    def _show_end(self, end: End) -> None:
        self._made = None
        past = practising.keep(self._file, self.exercise.id, self.seed, end.score, self._session.now)
        page = self.page
        self._stop_work()
        page.mark(self.exercise.id, practising.done(past))
        page.result.show_end(end, practising.best(past, self.exercise.id), self.seed, self._units)
        page.turn_to(page.result)
        page.setFocus()
        self.settled.emit()

    def _act_failed(self, outcome: Outcome) -> None:
        if isinstance(outcome.error, InputError):
            self.page.tell_fault(fault(outcome.error, self._units))
        else:
            self.failed.emit(outcome)

    def change_hold(self, **change: object) -> None:
        """Hold the block otherwise."""
        self.hold = replace(self.hold, **change)
        self._show_hold()

    def _show_hold(self) -> None:
        if self.trial is None:
            return
        hold, panel = self.hold, self.page.panel
        panel.face_mm = (hold.shape.wide_mm, hold.shape.high_mm)
        panel.at_mm = self.trial.kept(panel.at_mm, hold)
        panel.update()
        backing = self._session.catalogue.backings[hold.backing].label
        if self.exercise.kind == "halves":
            backing = "firm block left, soft pad right"
        self.page.hand.show_hold(
            grade=self.trial.setup.sheets[hold.sheet].label, backing=backing, face=FACES[hold.face],
            stands_for=hold.stands_for, load_kPa=hold.load_kPa, fingers=hold.face == "fingers",
        )  # fmt: skip

    def _press_more(self, by: int) -> None:
        at = min(range(len(LOADS_KPA)), key=lambda i: abs(LOADS_KPA[i] - self.hold.load_kPa)) + by
        self.change_hold(load_kPa=LOADS_KPA[min(max(at, 0), len(LOADS_KPA) - 1)])

    def _look(self) -> None:
        """Show the panel anew as it is."""
        self.page.panel.update()
        if self.order is not None:
            self.order.submit()

    def look_through(self, on: bool) -> None:
        """See how much film is left; each look is counted."""
        if on and not self.xray:
            self.peeks += 1
        self.xray = on
        self._look()

    def _onward(self) -> None:
        names = list(exercises())
        self.begin(names[(names.index(self.exercise.id) + 1) % len(names)])

    def _gloss_done(self) -> None:
        practising.keep(self._file, "gloss", self.seed, None, self._session.now)
        self._onward()

    def _choose_board(self, which: str) -> None:
        said = self.boards.choose(which)
        self.begin(self.exercise.id, self.seed)
        if said:
            self.page.tell_fault(said)

    def _leave(self) -> None:
        self._stop_work()
        self._around.shell.turn_back()

    def _stop_work(self) -> None:
        self.lamp.stop()
        if self.order is not None:
            self.order.leave()
        self.order, self.trial = None, None

    def stop(self) -> None:
        """The window closes."""
        self._stop_work()
        self._pool.clear()
        self._pool.waitForDone(5000)


def _after(these: Sequence[T], one: T) -> T:
    """The next of them, round and round."""
    return these[(these.index(one) + 1) % len(these)]
