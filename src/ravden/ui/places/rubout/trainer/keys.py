"""The keys of the trainer: what each does while a panel is worked, a film polished or a result looked at."""

from __future__ import annotations

from typing import Protocol

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent

from ravden.catalogue.exercises import Exercise
from ravden.core.surface.trial import LOADS_KPA
from ravden.ui.places.rubout.trainer.gloss import Gloss
from ravden.ui.places.rubout.trainer.lamp import TURN_DEG, UP_DEG, Lamp
from ravden.ui.places.rubout.trainer.view import TrainerPage

STEP_MM, STROKE_MM = 5.0, 30.0
ARROWS = {
    Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1),
}  # fmt: skip


class Worked(Protocol):
    """What keys can do something to."""

    page: TrainerPage
    exercise: Exercise
    gloss: Gloss
    lamp: Lamp
    xray: bool

    def rub(self, start_mm: tuple[float, float], end_mm: tuple[float, float]) -> None: ...
    def point(self, at_mm: tuple[float, float]) -> None: ...
    def click(self, at_mm: tuple[float, float]) -> None: ...
    def act(self, name: str) -> None: ...
    def look_through(self, on: bool) -> None: ...
    def change_hold(self, **change: object) -> None: ...


class Keys:
    """Knows which of them are held."""

    def __init__(self, practice: Worked) -> None:
        self._practice, self._space = practice, False

    def down(self, event: QKeyEvent) -> None:
        """A key is pressed."""
        page, key = self._practice.page, Qt.Key(event.key())
        if page.middle.currentWidget() is page.gloss:
            acts = {Qt.Key.Key_Return: "next", Qt.Key.Key_Enter: "next", Qt.Key.Key_S: "skip", Qt.Key.Key_A: "over"}
            if key in acts:
                self._practice.gloss.act(acts[key])
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
            self._panel(event, key)

    def _panel(self, event: QKeyEvent, key: Qt.Key) -> None:
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
            self._practice.lamp.turn(TURN_DEG * round_, UP_DEG * up)
        elif event.isAutoRepeat():
            return
        elif key == Qt.Key.Key_Space:
            self._space = True
            if self._practice.exercise.kind == "strays":
                self._practice.click(self._practice.page.panel.at_mm)
        elif key == Qt.Key.Key_X:
            self._practice.look_through(True)
        elif key == Qt.Key.Key_L:
            self._practice.lamp.swing()
        elif Qt.Key.Key_1 <= key < Qt.Key.Key_1 + len(LOADS_KPA):
            self._practice.change_hold(load_kPa=LOADS_KPA[key - Qt.Key.Key_1])
        elif key in letters:
            self._practice.act(letters[key])

    def _arrow(self, across: int, upright: int) -> None:
        x, y = self._practice.page.panel.at_mm
        if self._space and self._practice.exercise.kind != "strays":
            self._practice.rub((x, y), (x + STROKE_MM * across, y + STROKE_MM * upright))
        else:
            self._practice.point((x + STEP_MM * across, y + STEP_MM * upright))

    def up(self, event: QKeyEvent) -> None:
        """A key is let go."""
        if event.isAutoRepeat():
            return
        if event.key() == Qt.Key.Key_Space:
            self._space = False
        elif event.key() == Qt.Key.Key_X and self._practice.xray:
            self._practice.look_through(False)
