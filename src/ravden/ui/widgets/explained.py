"""A label whose words of the trade are explained where they stand: underlined, told to who points at one, or presses
Enter on it."""

from __future__ import annotations

import functools
import re
from html import escape

from PyQt6.QtCore import QEvent, QPoint, Qt
from PyQt6.QtGui import QCursor
from PyQt6.QtWidgets import QLabel, QToolTip, QWidget

from ravden.ui.theme.style import current

MOST = 3  # words underlined in one label: more would be a thicket


class Explained(QLabel):
    """Its text is what was set, as it was written; only what is drawn has links in it."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._plain, self._ink = "", ""
        self.words: tuple[str, ...] = ()
        self.setWordWrap(True)
        super().setTextFormat(Qt.TextFormat.RichText)
        self.setTextInteractionFlags(
            Qt.TextInteractionFlag.TextSelectableByMouse
            | Qt.TextInteractionFlag.LinksAccessibleByMouse
            | Qt.TextInteractionFlag.LinksAccessibleByKeyboard
        )
        self.linkHovered.connect(self._tell)
        self.linkActivated.connect(self._tell)

    def text(self) -> str:
        """As it was written."""
        return self._plain

    def setTextFormat(self, kind: Qt.TextFormat) -> None:
        """It is always plain to who writes it: nothing in it is taken for markup."""

    def setText(self, text: str | None) -> None:
        """Write this."""
        told = text or ""
        if told != self._plain:
            self._plain = told
            self.setAccessibleName(told)
            self._write()

    def _write(self) -> None:
        self._ink = current().ink
        marked, self.words = _marked(self._plain, self._ink)
        super().setText(marked)

    def changeEvent(self, event: QEvent | None) -> None:
        super().changeEvent(event)
        dressed = event is not None and event.type() == QEvent.Type.StyleChange
        if dressed and self._plain and self._ink != current().ink:
            self._write()

    def _tell(self, word: str) -> None:
        if not word:
            QToolTip.hideText()
            return
        from ravden.catalogue.guide import glossary

        at = QCursor.pos() if self.underMouse() else self.mapToGlobal(QPoint(0, self.height()))
        QToolTip.showText(at, f"{word}: {glossary()[word]}", self)


@functools.cache
def _terms() -> tuple[re.Pattern[str], dict[str, str]]:
    from ravden.catalogue.guide import puzzling

    longest_first = sorted(puzzling(), key=len, reverse=True)
    one_of = "|".join(re.escape(term) for term in longest_first)
    return re.compile(rf"(?<![\w-])({one_of})s?(?![\w-])", re.IGNORECASE), {t.lower(): t for t in longest_first}


def _marked(text: str, ink: str) -> tuple[str, tuple[str, ...]]:
    """Markup with the first of each word underlined, and those words."""
    pattern, terms = _terms()
    out: list[str] = []
    words: list[str] = []
    at = 0
    for hit in pattern.finditer(text):
        term = terms[hit[1].lower()]
        if term in words or len(words) == MOST:
            continue
        link = f'<a href="{escape(term)}" style="color: {ink}; text-decoration: underline;">'
        out += [escape(text[at : hit.start()]), link, escape(hit[0]), "</a>"]
        at = hit.end()
        words.append(term)
    out.append(escape(text[at:]))
    return "".join(out).replace("\n", "<br>"), tuple(words)
