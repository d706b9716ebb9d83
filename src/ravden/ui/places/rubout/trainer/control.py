"""Runs the exercises: what the hand holds, the panel worked in order off the GUI thread, and what came of it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING, TypeVar

from msgspec.structs import replace
from PyQt6.QtCore import QObject, Qt, QThreadPool, QTimer, pyqtSignal
from PyQt6.QtGui import QKeyEvent

from ravden.app import gloss_back, practising
from ravden.app.practice_end import ASKED, End, ended
from ravden.catalogue.exercises import Exercise, exercises
from ravden.core.errors import InputError
from ravden.core.surface import trial as core
from ravden.core.surface.panel import CELLS, FEW_CELLS, SIZE_MM
from ravden.core.surface.shade import pixels
from ravden.core.surface.trial import LOADS_KPA, STANDS_FOR, Hold, Told, Trial
from ravden.text import practice_words as say
from ravden.text.say import fault, grade_name
from ravden.text.units import Units
from ravden.ui.places.rubout.trainer.in_order import InOrder
from ravden.ui.places.rubout.trainer.result_view import film_image
from ravden.ui.places.rubout.trainer.view import TrainerPage
from ravden.ui.widgets.latest_job import LatestJob, Outcome
from ravden.ui.widgets.seen import image_of

if TYPE_CHECKING:
    from ravden.core.rubout.rub_out import RubOut
    from ravden.core.surface.contact import Cells
    from ravden.core.surface.shade import Pixels
    from ravden.ui.shell.around import Around

T = TypeVar("T")
STEP_MM, STROKE_MM, TURN_DEG, LOWEST, HIGHEST = 5.0, 30.0, 5.0, 4.0, 40.0
SWING_MS = 60
TIME_UP_MIN = 45.0
SMALL_WINDOW_H = 760
FACES = {"block": "block 60 × 30 mm", "small": "block 35 × 20 mm", "fingers": "fingers, 60 × 10 mm"}
BACKS = ("firm", "rigid", "foam", "finger")
LAMP = (20.0, 12.0)
STOCK, MINE = "stock", "mine"
ARROWS = {
    Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1),
}  # fmt: skip


class Practice(QObject):
    """One exercise at a time, on the board chosen."""

    settled = pyqtSignal()
    failed = pyqtSignal(object)

    def __init__(self, around: Around, rub: Callable[[], RubOut | None]) -> None:
        super().__init__()
        self._around, self._session, self._rub = around, around.session, rub
        self._pool = QThreadPool(self)
        self._pool.setMaxThreadCount(2)  # the panel, and what careful rounds would come to on it
        self._file = practising.practice_file(around.shell.settings_file)
        self.page = TrainerPage([(e.id, e.title) for e in exercises().values()])
        self.exercise: Exercise = next(iter(exercises().values()))
        self.seed = 1
        self.board = practising.stock_board(self._session.catalogue)
        self._on = STOCK
        self.hold = Hold()
        self.trial: Trial | None = None
        self.order: InOrder | None = None
        self.told: Told | None = None
        self._par: Told | None = None
        self._wants_end = self._time_up = False
        self.guesses: list[float] = []
        self._marked = 0
        self.peeks = 0
        self._xray = self._space = False
        self._rungs: tuple[int, ...] = (0,)
        self._swing = QTimer(self)
        self._swing.setInterval(SWING_MS)
        self._swing.timeout.connect(lambda: self._turn_lamp(TURN_DEG))
        self._made: End | None = None
        self._par_job = LatestJob(self, self._pool)
        self._par_job.done.connect(self._par_known)
        self._wire()

    def _wire(self) -> None:
        page = self.page
        page.left.connect(self._leave)
        page.chosen.connect(self.begin)
        page.board_chosen.connect(self._choose_board)
        page.key_pressed.connect(self._key)
        page.key_released.connect(self._key_up)
        page.panel.rubbed.connect(self.rub)
        page.panel.pointed_at.connect(self._point)
        page.panel.clicked.connect(self._click)
        page.panel.lamp_turned.connect(lambda deg: self._turn_lamp(deg - page.panel.lamp_deg))
        page.panel.pressed_more.connect(self._press_more)
        page.hand.acted.connect(self.act)
        page.hand.pressed.connect(lambda kPa: self._hold(load_kPa=kPa))
        page.hand.held.connect(self._look_through)
        page.gloss.acted.connect(self._gloss_act)
        page.result.again.connect(lambda: self.begin(self.exercise.id, self.seed))
        page.result.another.connect(lambda: self.begin(self.exercise.id, self.seed + 1))
        page.result.onward.connect(self._onward)

    @property
    def busy(self) -> bool:
        """Whether something of it is being worked out."""
        return self._par_job.busy or (self.order is not None and self.order.busy)

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
        self._offer_boards()
        self.begin(exercise or self.exercise.id, self.seed)

    def begin(self, name: str, seed: int | None = None) -> None:
        """Begin an exercise anew."""
        self.exercise, self.seed = exercises()[name], seed or self.seed
        self._stop_work()
        self.guesses, self.peeks, self._par, self.told = [], 0, None, None
        self._marked = 0
        self._wants_end = self._time_up = self._xray = False
        self._made = None
        page = self.page
        page.tell_fault("")
        page.task.setText(self.exercise.task)
        page.mark(name, practising.done(practising.read_past(self._file)))
        page.indicative.setText(say.MAY_CLAIM)
        page.panel.lamp_deg, page.panel.lamp_low = LAMP
        if self.exercise.kind == "gloss":
            self._rungs = (0,)
            self._show_gloss()
        else:
            self._begin_panel()
        page.setFocus()

    def _begin_panel(self) -> None:
        page, exercise = self.page, self.exercise
        if exercise.kind == "plan" and self._on != MINE:
            self._choose_board(MINE, again=False)
        cells = CELLS if self._around.shell.height() >= SMALL_WINDOW_H else FEW_CELLS
        try:
            setup = practising.setup_of(exercise, self.board, self.seed, cells)
        except InputError as error:
            page.tell_fault(fault(error, self._units))
            stock = practising.stock_board(self._session.catalogue)
            setup = practising.setup_of(exercise, stock, self.seed, cells)
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
        if self._xray:
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

    def _point(self, at_mm: tuple[float, float]) -> None:
        if self.trial is not None:
            self.page.panel.at_mm = self.trial.kept(at_mm, self.hold)
            self.page.panel.update()

    def _click(self, at_mm: tuple[float, float]) -> None:
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
            "grade": lambda: self._hold(sheet=(hold.sheet + 1) % len(trial.setup.sheets)),
            "backing": lambda: self._hold(backing=_after(BACKS, hold.backing)),
            "face": lambda: self._hold(face=_after(tuple(FACES), hold.face)),
            "turn": lambda: self._hold(turned=not hold.turned),
            "stands": lambda: self._hold(stands_for=_after(STANDS_FOR, hold.stands_for)),
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
        self._swing.stop()
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

    def _hold(self, **change: object) -> None:
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
        self._hold(load_kPa=LOADS_KPA[min(max(at, 0), len(LOADS_KPA) - 1)])

    def _turn_lamp(self, by_deg: float, up_deg: float = 0.0) -> None:
        panel = self.page.panel
        panel.lamp_deg = (panel.lamp_deg + by_deg) % 360
        panel.lamp_low = min(max(panel.lamp_low + up_deg, LOWEST), HIGHEST)
        self._look()

    def _look(self) -> None:
        """Show the panel anew as it is."""
        self.page.panel.update()
        if self.order is not None:
            self.order.submit()

    def _look_through(self, on: bool) -> None:
        if on and not self._xray:
            self.peeks += 1
        self._xray = on
        self._look()

    def _key(self, event: QKeyEvent) -> None:
        page, key = self.page, Qt.Key(event.key())
        if page.middle.currentWidget() is page.gloss:
            acts = {Qt.Key.Key_Return: "next", Qt.Key.Key_Enter: "next", Qt.Key.Key_S: "skip", Qt.Key.Key_A: "over"}
            if key in acts:
                self._gloss_act(acts[key])
        elif page.middle.currentWidget() is page.result:
            keys = {
                Qt.Key.Key_Return: "onward",
                Qt.Key.Key_Enter: "onward",
                Qt.Key.Key_A: "again",
                Qt.Key.Key_P: "another",
            }
            if key in keys:
                page.result.buttons[keys[key]].click()
        else:
            self._panel_key(event, key)

    def _panel_key(self, event: QKeyEvent, key: Qt.Key) -> None:
        letters = {
            Qt.Key.Key_G: "grade", Qt.Key.Key_B: "backing", Qt.Key.Key_K: "face", Qt.Key.Key_T: "turn",
            Qt.Key.Key_F: "stands", Qt.Key.Key_W: "wipe", Qt.Key.Key_N: "new", Qt.Key.Key_R: "rounds",
            Qt.Key.Key_M: "mark", Qt.Key.Key_Return: "done", Qt.Key.Key_Enter: "done",
        }  # fmt: skip
        lamp = {"[": (-1, 0), "]": (1, 0), "{": (0, -1), "}": (0, 1)}
        if key in ARROWS:
            self._arrow(*ARROWS[key])
        elif event.text() in lamp:
            round_, up = lamp[event.text()]
            self._turn_lamp(TURN_DEG * round_, 2.0 * up)
        elif event.isAutoRepeat():
            return
        elif key == Qt.Key.Key_Space:
            self._space = True
            if self.exercise.kind == "strays":
                self._click(self.page.panel.at_mm)
        elif key == Qt.Key.Key_X:
            self._look_through(True)
        elif key == Qt.Key.Key_L:
            (self._swing.stop if self._swing.isActive() else self._swing.start)()
        elif Qt.Key.Key_1 <= key < Qt.Key.Key_1 + len(LOADS_KPA):
            self._hold(load_kPa=LOADS_KPA[key - Qt.Key.Key_1])
        elif key in letters:
            self.act(letters[key])

    def _arrow(self, across: int, upright: int) -> None:
        x, y = self.page.panel.at_mm
        if self._space and self.exercise.kind != "strays":
            self.rub((x, y), (x + STROKE_MM * across, y + STROKE_MM * upright))
        else:
            self._point((x + STEP_MM * across, y + STEP_MM * upright))

    def _key_up(self, event: QKeyEvent) -> None:
        if event.isAutoRepeat():
            return
        if event.key() == Qt.Key.Key_Space:
            self._space = False
        elif event.key() == Qt.Key.Key_X and self._xray:
            self._look_through(False)

    def _gloss_act(self, name: str) -> None:
        count = len(gloss_back.RUNGS)
        if name == "over":
            self._rungs = (0,)
        elif self._rungs[-1] == count - 1:
            if name == "next":
                practising.keep(self._file, "gloss", self.seed, None, self._session.now)
                self._onward()
            return
        else:
            at = self._rungs[-1] + (2 if name == "skip" else 1)
            self._rungs = (*self._rungs, min(at, count - 1))
        self._show_gloss()

    def _show_gloss(self) -> None:
        catalogue = self._session.catalogue
        shown = gloss_back.shown(catalogue, self._rungs, self.board.base)
        names = [grade_name(r.abrasive.name) for r in gloss_back.rungs(catalogue)]
        way: list[tuple[str, gloss_back.Shown | None]] = []
        for i, name in enumerate(names[: self._rungs[-1] + 1]):
            so_far = self._rungs[: self._rungs.index(i) + 1] if i in self._rungs else None
            way.append((name, None if so_far is None else gloss_back.shown(catalogue, so_far, self.board.base)))
        words = shown.words[:1].upper() + shown.words[1:]
        if shown.left_um:
            words += (
                f" Scratches from before are still in it ({self._units.film(shown.left_um)} deep): one was left out."
            )
        elif shown.last:
            words += " That is the whole way back: nothing was lost when it went dull."
        self.page.gloss.show_rung(shown, way, words)
        self.page.turn_to(self.page.gloss)

    def _onward(self) -> None:
        names = list(exercises())
        self.begin(names[(names.index(self.exercise.id) + 1) % len(names)])

    def _offer_boards(self) -> None:
        box, rub = self.page.board, self._rub()
        box.clear()
        box.addItem("On a stock board", STOCK)
        if rub is not None:
            box.addItem(f"On {rub.film.project.instrument.name}", MINE)
        elif self._on == MINE:
            self._on, self.board = STOCK, practising.stock_board(self._session.catalogue)
        box.setCurrentIndex(max(box.findData(self._on), 0))

    def _choose_board(self, which: str, again: bool = True) -> None:
        """Practise on this; one that cannot be is told, and the stock board is taken."""
        said, rub = "", self._rub()
        try:
            if which == MINE and rub is None:
                raise InputError("", "there is no instrument to practise on: this is a stock board")
            mine = which == MINE and rub is not None
            self.board = (
                practising.board_of(self._session.catalogue, rub) if mine and rub is not None else self._stock()
            )
            self._on = which
        except InputError as error:
            said, self._on, self.board = fault(error, self._units), STOCK, self._stock()
        self.page.board.setCurrentIndex(max(self.page.board.findData(self._on), 0))
        if again:
            self.begin(self.exercise.id, self.seed)
        if said:
            self.page.tell_fault(said)

    def _stock(self) -> practising.Board:
        return practising.stock_board(self._session.catalogue)

    def _leave(self) -> None:
        self._stop_work()
        self._around.shell.turn_back()

    def _stop_work(self) -> None:
        self._swing.stop()
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
