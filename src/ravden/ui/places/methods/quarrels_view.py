"""What workshops quarrel over, answered for the instrument turned to."""

from __future__ import annotations

from html import escape

from PyQt6.QtWidgets import QTextBrowser, QVBoxLayout, QWidget

from ravden.ui.theme.style import current
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.panel import panel


class QuarrelsView(QWidget):
    """Shows question, answer and the other side of each."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.about = Label()
        self.about.setObjectName("muted")
        self.about.setWordWrap(True)
        self.page = QTextBrowser()
        self.page.setAccessibleName("Questions workshops disagree on, answered for this instrument")
        self.page.setOpenLinks(False)
        frame, box = panel()
        box.addWidget(self.about)
        box.addWidget(self.page, 1)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(frame)

    def show_quarrels(self, about: str, rows: tuple[tuple[str, str, str], ...]) -> None:
        """Show these: question, answer, the other side."""
        p = current()
        self.about.setText(about)
        self.page.setHtml(
            "".join(
                f"<p style='margin: 10px 0 1px 0; font-size: 16px'><b>{escape(q)}</b></p>"
                f"<p style='margin: 0 0 0 14px'>{escape(answer)}</p>"
                f"<p style='margin: 1px 0 0 14px; color: {p.muted}'>The other side: {escape(other)}</p>"
                for q, answer, other in rows
            )
        )
