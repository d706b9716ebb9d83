"""A layout without what was in it."""

from __future__ import annotations

from PyQt6.QtWidgets import QLayout


def emptied(layout: QLayout) -> None:
    """Take everything out of a layout, for good."""
    while (item := layout.takeAt(0)) is not None:
        widget = item.widget()
        if widget is not None:
            widget.hide()  # it goes once what it is in the middle of is through
            widget.deleteLater()
