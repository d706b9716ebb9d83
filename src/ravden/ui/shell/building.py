"""Builds the places that may wait until the Rack has been painted."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel, QWidget

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
from ravden.ui.widgets.place import Place


def build(window: Shell, anywhere: Anywhere, files: FileDialogs, looks: Looks, menus: Menus) -> None:
    """Give the window its places, each built when it is first turned to; nothing is worked out yet."""
    session, remembered = window.session, window.remembered
    window.card = LogCard(window.centralWidget(), lambda: session.units)
    window.card.grown.connect(window.foot_changed)
    window.card.closed.connect(window.focus_place)
    window.desktop = Desktop(window)
    window.desktop.failed.connect(window.say)
    places = Places(session, window.desktop.send, tuple(key for key, _ in PLACES), window)
    around = Around(
        shell=window, session=session, anywhere=anywhere, files=files, looks=looks, pool=places.pool,
        outlooks=lambda: places.found, troubles=lambda: places.troubles, planning=places.planning,
    )  # fmt: skip

    def make(key: str) -> Place:
        place = build_place(key, around)
        window.stack.addWidget(place.view)
        _as_written(place.view)
        return place

    places.made_by(make)
    window.places = places
    places.at("rack")
    window.page = InstrumentPage(session.catalogue)
    window.page.left.connect(window.turn_back)
    window.stack.addWidget(window.page)
    window.acts = Acts(session, window.card)
    window.dress()
    _as_written(window)
    places.failed.connect(window.failed)
    places.notices.failed.connect(window.failed)
    places.planning.died.connect(window.say)
    places.notices.on = remembered.notify
    menus.notify.setChecked(remembered.notify)
    looks.take_up_tools()


def _as_written(shown: QWidget) -> None:
    """Names are shown as their user wrote them: no label takes what stands in them for markup. One that is told to be
    markup says what it shows in markup of its own, names escaped."""
    for label in shown.findChildren(QLabel):
        if label.textFormat() != Qt.TextFormat.RichText:
            label.setTextFormat(Qt.TextFormat.PlainText)
