"""Runs a look: photos read by a process of their own, laid over each other off the GUI thread; what the eye says."""

from __future__ import annotations

import functools
import threading
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtWidgets import QFileDialog

from ravden.app import looking
from ravden.core.errors import InputError
from ravden.text.say import fault
from ravden.ui.places.rubout.look.slots import LAMPS
from ravden.ui.places.rubout.look.view import LookPage
from ravden.ui.widgets.latest_job import LatestJob, Outcome, own_pool
from ravden.ui.widgets.seen import image_of

if TYPE_CHECKING:
    from ravden.core.rubout.rub_out import RubOut
    from ravden.exchange.inspecting import Inspected
    from ravden.exchange.photo import Photo
    from ravden.ui.shell.around import Around

USUAL_MM = (120.0, 90.0)
TAPE_MM = 25.0
PHOTOS = "Photos (*.jpg *.jpeg *.png *.JPG *.JPEG *.PNG)"
NAMES = {lamp: label for lamp, label, _ in LAMPS}


class Looking(QObject):
    """One look at a time, on the instrument turned to."""

    settled = pyqtSignal()
    failed = pyqtSignal(object)

    def __init__(self, around: Around, rub: Callable[[], RubOut | None]) -> None:
        super().__init__(around.shell)
        self._around, self._session, self._rub = around, around.session, rub
        self._pool = own_pool()
        self._pool.setMaxThreadCount(2)
        self.page = LookPage()
        self.photos: dict[str, Photo] = {}
        self.found: Inspected | None = None
        self._left = threading.Event()
        self._previews = {lamp: LatestJob(self, self._pool) for lamp, _, _ in LAMPS}
        for lamp, job in self._previews.items():
            job.done.connect(lambda outcome, lamp=lamp: self._previewed(lamp, outcome))
        self._look_job = LatestJob(self, self._pool)
        self._look_job.done.connect(self._looked)
        page = self.page
        page.left.connect(self._leave)
        page.pick_asked.connect(self._pick)
        page.picked.connect(lambda lamp, files: self.take(lamp, files))
        page.acted.connect(self.act)
        page.look_asked.connect(self.look)
        page.said.connect(self._say)

    @property
    def busy(self) -> bool:
        """Whether photos are being read or looked at."""
        return self._look_job.busy or any(job.busy for job in self._previews.values())

    def open(self) -> None:
        """Take the whole place. Raises InputError where there is no instrument to look at."""
        rack = self._session.rack
        if rack is None:
            raise InputError("", "there is no instrument to look at", remedy="instrument")
        stack = self._around.shell.stack
        if stack.indexOf(self.page) < 0:
            stack.addWidget(self.page)
        self._left.clear()
        self.photos, self.found = {}, None
        for slot in self.page.slots.values():
            slot.clear()
        self.page.zone.clear()
        for zone in rack.project.zones:
            self.page.zone.addItem(zone.label, zone.name)
        units = self._session.units
        for spin, mm in zip(self.page.sides, USUAL_MM, strict=True):
            spin.setSuffix(f" {units.length_unit}")
            spin.setDecimals(2 if units.us else 0)
            spin.setRange(units.length_value(10), units.length_value(600))
            spin.setValue(units.length_value(mm))
        self.page.tell_fault("")
        self.page.stages.setCurrentWidget(self.page.shots)
        stack.setCurrentWidget(self.page)
        self.page.setFocus()

    def _pick(self, lamp: str) -> None:
        names, _ = QFileDialog.getOpenFileNames(self.page, NAMES[lamp], "", PHOTOS)
        if names:
            self.take(lamp, [Path(n) for n in names])

    def take(self, lamp: str, files: list[Path]) -> None:
        """A photo for a slot; several: this slot and those after it."""
        from ravden.exchange.photo import preview

        slots = list(self.page.slots)
        for name, file in zip(slots[slots.index(lamp) :], files, strict=False):
            slot = self.page.slots[name]
            slot.path = file
            slot.tell(f"reading {file.name} …")
            self._previews[name].submit(functools.partial(preview, file))

    def _previewed(self, lamp: str, outcome: Outcome) -> None:
        slot = self.page.slots[lamp]
        if outcome.error is not None:
            slot.clear()
            self.photos.pop(lamp, None)
            self._tell(outcome, lambda text: slot.tell(f"{text}.", fault=True))
        else:
            photo: Photo = outcome.value
            same = [n for n, p in self.photos.items() if p.sha256 == photo.sha256 and n != lamp]
            if same:
                slot.clear()
                slot.tell(f"{photo.path.name} is the same file as that of {NAMES[same[0]][3:].lower()}.", fault=True)
            else:
                self.photos[lamp] = photo
                slot.show_photo(image_of(photo.pixels), photo.path.name)
        self.settled.emit()

    def _tell(self, outcome: Outcome, say: Callable[[str], None]) -> None:
        if isinstance(outcome.error, InputError):
            text = fault(outcome.error, self._session.units)
            say(f"{text[:1].upper()}{text[1:]}")
        else:
            self.failed.emit(outcome)

    def act(self, name: str) -> None:
        """One of the page's acts."""
        page = self.page
        if name == "corners":
            self._to_corners()
        elif name == "shots":
            page.stages.setCurrentWidget(page.shots)
        elif name == "blink":
            page.over.turn()
        elif name in ("divider", "loupe"):
            setattr(page.over, name, page.acts[name].isChecked())
            page.over.update()
        else:
            page.over.change_contrast(1 if name == "more" else -1)
        page.setFocus()

    def _to_corners(self) -> None:
        page, usable = self.page, [lamp for lamp, _, _ in LAMPS if lamp in self.photos]
        if len(usable) < 2:
            page.tell_fault("two photos at the least are needed, three for rings")
            return
        page.tell_fault("")
        photo = self.photos[usable[0]]
        high, wide, _ = photo.pixels.shape
        page.corners.show_photo(image_of(photo.pixels), (round(wide * photo.factor), round(high * photo.factor)))
        page.stages.setCurrentWidget(page.square)

    def size_mm(self) -> tuple[float, float]:
        """How large the panel is said to be [mm]."""
        units = self._session.units
        wide, high = (units.length_to_mm(s.value()) for s in self.page.sides)
        return wide, high

    def _untouched(self) -> tuple[float, float, float, float] | None:
        where, (w, h) = str(self.page.tape.currentData()), self.size_mm()
        if not where:
            return None
        return (0.0 if "l" in where[1] else w - TAPE_MM, 0.0 if where[0] == "t" else h - TAPE_MM, TAPE_MM, TAPE_MM)

    def look(self) -> None:
        """Lay the photos over each other, and look."""
        from ravden.exchange.inspecting import Shot, inspect

        shots = [Shot(path=self.photos[lamp].path, lamp=lamp) for lamp, _, _ in LAMPS if lamp in self.photos]
        corners, size, corner = tuple(self.page.corners.corners), self.size_mm(), self._untouched()
        self.page.tell_fault("")
        self.page.look.setText("Looking …")
        self.page.look.setEnabled(False)
        left = self._left
        self._look_job.submit(lambda: inspect(shots, corners, size, corner, lambda: not left.is_set()))

    def _looked(self, outcome: Outcome) -> None:
        page = self.page
        page.look.setText("Look  (Enter)")
        page.look.setEnabled(True)
        if outcome.error is not None:
            if not self._left.is_set():
                self._tell(outcome, page.tell_fault)
        else:
            self._show(outcome.value)
        self.settled.emit()

    def _show(self, found: Inspected) -> None:
        page = self.page
        usable = [s for s in found.shots if s.colour is not None and not s.refused]
        if len(usable) < 2:
            page.tell_fault("; ".join(found.why))
            return
        self.found = found
        look = found.look
        page.over.show_photos(
            [image_of(s.colour) for s in usable if s.colour is not None], [NAMES[s.shot.lamp][3:] for s in usable],
            None if look is None else look.view, () if look is None else look.ringed,
        )  # fmt: skip
        page.show_verdict(*looking.verdict_words(found))
        self._show_grade()
        page.stages.setCurrentWidget(page.laid)
        page.setFocus()

    def _grade(self) -> str:
        """The paper that was last on this instrument, or the one it begins with."""
        rub = self._rub()
        if rub is None:
            return ""
        if rub.film.done:
            return rub.film.done[-1].grade
        return rub.ladder.steps[0].rung.abrasive.id if rub.ladder is not None else ""

    def _show_grade(self) -> None:
        from ravden.app import seen
        from ravden.text.say import grade_name

        rub, grade = self._rub(), self._grade()
        rung = next(
            (r for r in (rub.drawer if rub is not None else ()) if grade in (r.abrasive.id, r.abrasive.name)), None
        )
        self.page.grade.setVisible(rung is not None)
        if rung is None or rub is None:
            return
        rough = seen.rough_of(rung)
        base = seen.colour_of(self._session.catalogue, rub.film.project)
        name = grade_name(rung.abrasive.name)
        words = f"A film as {name} leaves it: {seen.words_of(rough, 60)}."
        self.page.grade.show_image(image_of(seen.picture(rough, 60, base)), name, words, f"as {name} leaves it, at 60°")

    def _say(self, said: str) -> None:
        """What the eye says is kept; level offers to note the step."""
        if self.found is None:
            return
        try:
            looking.note(self._session, str(self.page.zone.currentData()), said, self._grade(), self.found)
        except InputError as error:
            self.page.tell_fault(fault(error, self._session.units))
            return
        shell = self._around.shell
        self._leave()
        if said == "level":
            shell.notice.tell(
                "Noted: level, by your eye. Is the step done?", undo=True,
                way=("The step is done", lambda: shell.guarded(self._around.anywhere.step_done)),
            )  # fmt: skip

    def _leave(self) -> None:
        self._left.set()
        self._around.shell.turn_back()

    def stop(self) -> None:
        """The window closes."""
        self._left.set()
        self._pool.clear()
        self._pool.waitForDone(5000)
