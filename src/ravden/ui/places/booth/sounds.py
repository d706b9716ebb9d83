"""Plays the Booth's sounds, as loud as was chosen. A machine that cannot play is told of once, and works on."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QLoggingCategory, QObject, QUrl, pyqtSignal

from ravden.catalogue.shipped_files import DATA

LEVELS = {"loud": 1.0, "quiet": 0.35, "off": 0.0}
NAMES = ("ready", "late", "pot")


class Sounds(QObject):
    """The toolkit's sound is loaded with the first one played: it takes a part of a second, and most sessions start
    without."""

    told = pyqtSignal(str)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.level = "loud"
        self.effects: dict[str, Any] | None = None
        self._cannot = ""

    def turn(self) -> str:
        """The next level, in turn; returns it."""
        names = list(LEVELS)
        self.level = names[(names.index(self.level) + 1) % len(names)]
        return self.level

    def mute(self) -> None:
        """Play nothing from now on, whatever the level says, and load nothing: for pictures."""
        self.effects = {}

    def play(self, name: str) -> None:
        """Play one of NAMES, unless sound is off."""
        if LEVELS[self.level] <= 0:
            return
        effects = self._loaded()
        if effects:
            effects[name].setVolume(LEVELS[self.level])
            effects[name].play()

    def _loaded(self) -> dict[str, Any]:
        if self.effects is None:
            self.effects = {}
            # What it says of codecs and video cards is of no use to anybody who wants three short sounds.
            QLoggingCategory.setFilterRules("qt.multimedia.*=false")
            try:
                from PyQt6.QtMultimedia import QMediaDevices, QSoundEffect
            except ImportError as error:
                self._tell(f"no sound can be played here ({error}); the count is shown all the same")
                return self.effects
            if not QMediaDevices.audioOutputs():
                self._tell("this machine has nothing to play a sound on; the count is shown all the same")
                return self.effects
            for sound in NAMES:
                effect = QSoundEffect(self)
                effect.setSource(QUrl.fromLocalFile(str(DATA / "sounds" / f"{sound}.wav")))
                self.effects[sound] = effect
        return self.effects

    def _tell(self, sentence: str) -> None:
        if sentence != self._cannot:
            self._cannot = sentence
            self.told.emit(sentence)
