"""Builds the places that may wait until the Rack has been painted."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel

from ravden.ui.forms.log_card import LogCard
from ravden.ui.forms.logging_acts import Acts
from ravden.ui.places.instrument.view import InstrumentPage
from ravden.ui.shell.anywhere import Anywhere
from ravden.ui.shell.around import Around
from ravden.ui.shell.desktop import Desktop
from ravden.ui.shell.file_dialogs import FileDialogs
from ravden.ui.shell.looks import Looks
from ravden.ui.shell.menus import Menus
from ravden.ui.shell.places import Places
from ravden.ui.shell.registry import PLACES
from ravden.ui.shell.registry import build as build_place
from ravden.ui.shell.shell import Shell


def build(window: Shell, anywhere: Anywhere, files: FileDialogs, looks: Looks, menus: Menus) -> None:
    """Give the window its places; nothing is worked out yet."""
    session, remembered = window.session, window.remembered
    window.card = LogCard(window.centralWidget(), lambda: session.units)
    window.card.grown.connect(window.foot_changed)
    window.card.closed.connect(window.focus_place)
    window.desktop = Desktop(window)
    window.desktop.failed.connect(window.say)
    places = Places(session, window.desktop.send)
    around = Around(
        shell=window, session=session, anywhere=anywhere, files=files, looks=looks, pool=places.pool,
        outlooks=lambda: places.found,
    )  # fmt: skip
    places.add({key: build_place(key, around) for key, _ in PLACES})
    window.places = places
    for place in places.all.values():
        window.stack.addWidget(place.view)
    window.page = InstrumentPage(session.catalogue)
    window.page.left.connect(window.turn_back)
    window.stack.addWidget(window.page)
    window.acts = Acts(session, window.card)
    _as_written(window)
    places.failed.connect(window.failed)
    places.notices.failed.connect(window.failed)
    places.notices.on = remembered.notify
    menus.notify.setChecked(remembered.notify)
    session.tools = tuple(remembered.tools)
    menus.gauge.setChecked("gauge" in remembered.tools)


def _as_written(window: Shell) -> None:
    """Names are shown as their user wrote them: no label takes what stands in them for markup."""
    for label in window.findChildren(QLabel):
        label.setTextFormat(Qt.TextFormat.PlainText)
