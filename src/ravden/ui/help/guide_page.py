"""The guide: pages by task at the left, found by typing, and the one that is read."""

from __future__ import annotations

import re

from PyQt6.QtCore import Qt, QUrl
from PyQt6.QtGui import QTextDocument
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QTextBrowser,
    QVBoxLayout,
    QWidget,
)

from ravden.catalogue.guide import GUIDE, glossary, pages, search
from ravden.ui.theme.style import current, fit, px, scale
from ravden.ui.widgets.page import Page

GLOSSARY = "glossary"
LIST_W, PICTURE_W = 290, 700
SPACED = "margin-top:5px; margin-bottom:5px;"


class GuidePage(Page):
    """Opened on the page of the place it is asked from."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__("Guide", parent)
        self.add_head()
        self.sought = QLineEdit()
        self.sought.setPlaceholderText("Find in the guide")
        self.sought.setAccessibleName("Find in the guide")
        self.sought.textChanged.connect(self._seek)
        self.list = QListWidget()
        self.list.setAccessibleName("Pages of the guide")
        self.list.currentItemChanged.connect(lambda now, _: self._turn(now))
        side = QWidget()
        fit(side, lambda w: w.setFixedWidth(px(LIST_W)))
        column = QVBoxLayout(side)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.sought)
        column.addWidget(self.list, 1)
        self.text = QTextBrowser()
        self.text.setAccessibleName("The page")
        self.text.setOpenLinks(False)
        self.text.setSearchPaths([str(GUIDE)])
        self.text.anchorClicked.connect(self._follow)
        row = QHBoxLayout()
        row.setSpacing(12)
        row.addWidget(side)
        row.addWidget(self.text, 1)
        self.box.addLayout(row, 1)
        self._seek("")

    def open_at(self, page: str) -> None:
        """Turn to a page."""
        self.sought.setText("")
        self._choose(page)
        self.list.setFocus()

    def _seek(self, typed: str) -> None:
        self.list.blockSignals(True)
        self.list.clear()
        every = pages()
        words = [t for t, m in glossary().items() if typed.lower() in f"{t} {m}".lower()]
        for page in search(typed):
            self._add(page, every[page].title)
        if words:
            self._add(GLOSSARY, "Words of the trade")
        self.list.blockSignals(False)
        self.list.setCurrentRow(0)
        if not self.list.count():
            self.text.setPlainText("Nothing in the guide has all of these words.")

    def _add(self, page: str, title: str) -> None:
        item = QListWidgetItem(title)
        item.setData(Qt.ItemDataRole.UserRole, page)
        self.list.addItem(item)

    def _choose(self, page: str) -> None:
        for i in range(self.list.count()):
            item = self.list.item(i)
            if item is not None and item.data(Qt.ItemDataRole.UserRole) == page:
                self.list.setCurrentRow(i)

    def _turn(self, item: QListWidgetItem | None) -> None:
        if item is None:
            return
        page = item.data(Qt.ItemDataRole.UserRole)
        document = self.text.document()
        assert document is not None
        document.setDefaultStyleSheet(f"a {{ color: {current().accent}; }}")
        if page == GLOSSARY:
            text = "# Words of the trade\n\n" + "\n\n".join(f"**{t}**: {m}" for t, m in glossary().items())
        else:
            text = pages()[page].text
        self.text.setMarkdown(text)
        self._fit_pictures(document)

    def _fit_pictures(self, document: QTextDocument) -> None:
        """No picture wider than is read with ease, and air between paragraphs."""
        html = re.sub(r'(<img src="[^"]*")', rf'\1 width="{round(PICTURE_W * min(scale(), 1.2))}"', document.toHtml())
        html = re.sub(r'(<(?:p|li)[^>]*style=")\s*margin-top:\d+px; margin-bottom:\d+px;', rf"\1{SPACED}", html)
        self.text.setHtml(html)
        document.setDocumentMargin(px(18))

    def _follow(self, url: QUrl) -> None:
        self._choose(url.toString().removesuffix(".md"))
