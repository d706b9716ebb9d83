"""Pictures on buttons, once they have been made off the GUI thread."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QIcon, QPixmap
from PyQt6.QtWidgets import QAbstractButton

from ravden.ui.theme.style import px
from ravden.ui.widgets.seen import image_of

if TYPE_CHECKING:
    from ravden.core.surface.shade import Pixels


def put_pictures(buttons: Mapping[str, QAbstractButton], made: Sequence[tuple[str, Pixels]], icon: QSize) -> None:
    """made: name and pixels; icon: its size at the usual size of type. A button that has none keeps its name in line
    with the others."""
    size = QSize(px(icon.width()), px(icon.height()))
    none = QPixmap(size)
    none.fill(Qt.GlobalColor.transparent)
    shown = {name: QPixmap.fromImage(image_of(pixels)) for name, pixels in made}
    for name, button in buttons.items():
        button.setIcon(QIcon(shown.get(name, none)))
        button.setIconSize(size)
