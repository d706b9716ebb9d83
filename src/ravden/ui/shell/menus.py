"""The menu bar: every act by name, with its key. The window is told which one was asked for."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtGui import QAction, QKeySequence
from PyQt6.QtWidgets import QMenu, QMenuBar

if TYPE_CHECKING:
    from ravden.ui.shell.anywhere import Anywhere
    from ravden.ui.shell.exchange_dialogs import ExchangeDialogs
    from ravden.ui.shell.file_dialogs import FileDialogs
    from ravden.ui.shell.looks import Looks
    from ravden.ui.shell.shell import Shell

LOG_FORMS = (
    ("coat", "A coat, with its weight and time …", "Shift+C"), ("sanding", "A sanding …", "S"),
    ("reading", "A reading …", "R"), ("light", "Light on a light-cured film …", "L"),
    ("zones", "Zones: masked, or in another finish …", "M"), ("cabinet", "Into the warm cabinet …", "W"),
    ("forecast", "Forecast by hand …", ""), ("usual", "The shop's usual air, by month …", ""),
    ("air", "The shop's air …", "A"),
)  # fmt: skip


class Menus:
    """Made once, before there is anything to act on: acts are offered when the window says so."""

    def __init__(
        self, window: Shell, places: tuple[tuple[str, str], ...], anywhere: Anywhere, files: FileDialogs,
        out: ExchangeDialogs, looks: Looks,
    ) -> None:  # fmt: skip
        self._window = window
        self._actions: list[QAction] = []
        # Made here and kept, not by Qt: a menu Python did not make is not known to be gone when its window is.
        bar = QMenuBar(window)
        window.setMenuBar(bar)
        shop, log, look, aid = (QMenu(name, bar) for name in ("&Shop", "&Log", "&View", "&Help"))
        self._kept = (bar, shop, log, look, aid)
        for menu in (shop, log, look, aid):
            bar.addMenu(menu)
        self._add(shop, "A new workshop …", "Ctrl+N", lambda: window.starting.ask())
        self._add(shop, "Open a shop file …", "Ctrl+O", files.open_shop)
        self.recent = QMenu("Open again", shop)
        shop.addMenu(self.recent)
        shop.addSeparator()
        self._add(shop, "Add an instrument", "N", anywhere.add_instrument)
        shop.addSeparator()
        self._add(shop, "Bench card for rubbing out (PDF) …", "Ctrl+P", files.bench_card)
        self._add(shop, "Finish record (PDF) …", "", out.record_out)
        self._add(shop, "Quote for a customer (PDF) …", "", out.quote_out)
        self._add(shop, "Its plan as a calendar …", "", out.plan_out)
        self._add(shop, "The shop's plan as a calendar …", "", out.days_out)
        self._add(shop, "This instrument as a file …", "", out.instrument_out)
        self._add(shop, "Bring in an instrument …", "", out.instrument_in)
        self._add(shop, "The journal as a table …", "", out.journal_out)
        shop.addSeparator()
        self._add(shop, "Settings …", "Ctrl+,", window.show_settings)
        self._add(shop, "Leave", "Ctrl+Q", window.close)
        self._add(log, "The usual coat, now", "C", anywhere.log_coat)
        for kind, text, key in LOG_FORMS:
            self._add(log, text, key, partial(anywhere.ask, kind))
        self._add(log, "The next step is done", "D", anywhere.step_done)
        self._add(log, "Skip the next step", "", anywhere.step_skipped)
        self._add(log, "Something is wrong …", "G", window.something_wrong)
        self._add(log, "Hand it over, into the Book …", "H", partial(anywhere.ask, "handed"))
        self._add(log, "Air from a logger file …", "", partial(files.read_air, "log"))
        self._add(log, "Forecast from a file …", "", partial(files.read_air, "forecast"))
        log.addSeparator()
        self._add(log, "Take back the last entry", "Ctrl+Z", anywhere.undo)
        self._add(log, "Bring it back", "Ctrl+Shift+Z", anywhere.redo)
        for i, (place, label) in enumerate(places, start=1):
            self._add(look, label, f"Ctrl+{i}", partial(window.turn_to, place))
        self._add(look, "Its numbers as a table", "T", lambda: window.help.show_tables())
        look.addSeparator()
        self._add(look, "Metric or US units", "Ctrl+U", looks.turn_units)
        self._add(look, "Light or dark", "Ctrl+D", looks.turn_theme)
        self._add(look, "High contrast, or not", "Ctrl+H", looks.turn_contrast)
        self.notify = QAction("Tell on the desktop when a window opens or is about to shut", window)
        self.notify.setCheckable(True)
        self.notify.toggled.connect(looks.turn_notices)
        self._actions.append(self.notify)
        look.addAction(self.notify)
        self._add(look, "Full screen, or not", "F11", looks.turn_full)

        for text, key, slot in (
            ("Practise: gloss comes back", "", lambda: window.places.rubout.practise("gloss")),
            ("Guide", "F1", lambda: window.help.open_guide()),
            ("Keys of this place", "?", lambda: window.help.show_keys()),
            ("What the numbers mean", "", lambda: window.help.open_guide("numbers")),
            ("What it should look like", "", lambda: window.help.show_looks()),
            ("Tour", "", window.begin_tour),
            ("Look around a made-up workshop", "", lambda: window.starting.look_around()),
            ("Something went wrong …", "", lambda: window.help.went_wrong()),
            ("About", "", lambda: window.help.about()),
        ):
            self._add(aid, text, key, slot)

    def _add(self, menu: QMenu, text: str, shortcut: str, slot: Callable[[], object]) -> None:
        action = QAction(text, self._window)
        if shortcut:
            action.setShortcut(QKeySequence(shortcut))
        action.triggered.connect(lambda _=False: self._window.guarded(slot))
        self._actions.append(action)
        menu.addAction(action)

    def offer(self, ready: bool) -> None:
        """Acts are offered once there is something to act on them."""
        for action in self._actions:
            action.setEnabled(ready)

    def show_recent(self, names: list[str], reopen: Callable[[str], object]) -> None:
        """The files that were open lately."""
        self.recent.clear()
        for name in names:
            action = QAction(name, self._window)
            action.triggered.connect(lambda _=False, n=name: self._window.guarded(lambda: reopen(n)))
            self.recent.addAction(action)
