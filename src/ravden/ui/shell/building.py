"""Builds the places that may wait until the Rack has been painted, and wires them to the window."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ravden.ui.forms.log_card import LogCard
from ravden.ui.forms.logging_acts import Acts
from ravden.ui.places.booth.view import BoothView
from ravden.ui.places.film.view import FilmView
from ravden.ui.places.instrument.view import InstrumentPage
from ravden.ui.places.methods.view import MethodsView
from ravden.ui.places.rubout.view import RubOutView
from ravden.ui.places.shop.listening import Listening
from ravden.ui.places.shop.view import ShopView
from ravden.ui.shell.desktop import Desktop
from ravden.ui.shell.places import Places

if TYPE_CHECKING:
    from ravden.ui.shell.anywhere import Anywhere
    from ravden.ui.shell.file_dialogs import FileDialogs
    from ravden.ui.shell.looks import Looks
    from ravden.ui.shell.menus import Menus
    from ravden.ui.shell.shell import Shell


def build(window: Shell, anywhere: Anywhere, files: FileDialogs, looks: Looks, menus: Menus) -> None:
    """Give the window its places; nothing is worked out yet."""
    session = window.session
    window.card = LogCard(window.centralWidget(), lambda: session.units)
    window.card.grown.connect(window.foot_changed)
    window.card.closed.connect(window.focus_place)
    window.film, window.rubout, window.shop = FilmView(), RubOutView(), ShopView()
    window.methods, window.booth = MethodsView(), BoothView()
    window.page = InstrumentPage(session.catalogue)
    for view in (window.film, window.booth, window.rubout, window.shop, window.methods, window.page):
        window.stack.addWidget(view)
    window.desktop = Desktop(window)
    window.places = Places(
        session, window.rack, window.film, window.rubout, window.shop, window.methods, window.booth,
        window.desktop.send,
    )  # fmt: skip
    window.acts = Acts(session, window.card)
    window.listening = Listening(session, window.shop)
    _wire_film(window, anywhere, files)
    _wire_booth(window, anywhere, looks, menus)
    _wire_methods(window, files)
    window.listening.failed.connect(window.say)
    window.shop.asked.connect(window.shop_asked)
    window.page.left.connect(window.turn_back)
    window.places.failed.connect(window.failed)


def _wire_film(window: Shell, anywhere: Anywhere, files: FileDialogs) -> None:
    ask, guarded = anywhere.ask, window.guarded
    for view in (window.film, window.rubout):
        view.head.instrument_picked.connect(lambda i: window.session.select(i, "chooser"))
        view.sanding_asked.connect(lambda: guarded(lambda: ask("sanding")))
    window.rubout.card_asked.connect(lambda: guarded(files.bench_card))
    log = window.film.side.log
    log.correct_asked.connect(lambda i: guarded(lambda: anywhere.correct(i)))
    log.back_asked.connect(lambda i: guarded(lambda: window.session.take_back(i, "log")))
    window.film.coat_asked.connect(lambda: guarded(anywhere.log_coat))
    window.film.reading_asked.connect(lambda: guarded(lambda: ask("reading")))
    window.film.step_picked.connect(window.show_step)


def _wire_booth(window: Shell, anywhere: Anywhere, looks: Looks, menus: Menus) -> None:
    booth, remembered = window.places.booth, window.remembered
    booth.told.connect(window.say)
    booth.bold_asked.connect(looks.turn_contrast)
    booth.sounds.level = remembered.sound
    booth.sound_turned.connect(lambda level: setattr(remembered, "sound", level))
    booth.listen_to(window.listening.live)
    window.booth.run.large = remembered.contrast
    window.booth.after.reading_asked.connect(lambda: window.guarded(lambda: anywhere.ask("reading")))
    window.places.notices.failed.connect(window.failed)
    window.places.notices.on = remembered.notify
    menus.notify.setChecked(remembered.notify)
    window.session.tools = tuple(remembered.tools)
    menus.gauge.setChecked("gauge" in remembered.tools)
    window.desktop.failed.connect(window.say)


def _wire_methods(window: Shell, files: FileDialogs) -> None:
    window.places.methods.told.connect(window.say)
    window.methods.head.instrument_picked.connect(lambda i: window.session.select(i, "chooser"))
    window.methods.save_asked.connect(lambda m: window.guarded(lambda: files.save_method(m)))
    window.methods.read_asked.connect(lambda: window.guarded(files.read_method))
