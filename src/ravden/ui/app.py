"""Starts the window: first paint first, heavy work after it."""

import os
import sys
import threading
import traceback
from collections.abc import Callable
from pathlib import Path
from types import TracebackType

from PyQt6.QtCore import QTimer
from PyQt6.QtGui import QIcon
from PyQt6.QtWidgets import QApplication

from ravden.app import settings
from ravden.app.clock import Clock, SystemClock
from ravden.app.session import ShopSession
from ravden.catalogue.shipped_files import DATA
from ravden.catalogue.tables import shipped
from ravden.core.errors import InputError
from ravden.journal.copies import DamagedError
from ravden.text import written
from ravden.text.say import whole_fault
from ravden.text.units import Units
from ravden.ui import ending
from ravden.ui.collecting import Collecting
from ravden.ui.shell.leaving import Signals
from ravden.ui.shell.local import written_of
from ravden.ui.shell.looks import theme_of
from ravden.ui.shell.main_window import MainWindow
from ravden.ui.theme import style

REPORT_PAINT = "RAVDEN_REPORT_PAINT"
IDLE_MS = 250  # between two places built ahead: several frames, so that a key pressed meanwhile is answered


def make_app(argv: list[str]) -> QApplication:
    """The application with our type; one is reused where there is one. It ends in order with the process."""
    # Set before there is an application, so that no other style is made first.
    if QApplication.instance() is None:
        QApplication.setStyle("Fusion")
    found = QApplication.instance()
    app = found if isinstance(found, QApplication) else QApplication(argv)
    app.setApplicationName("ravden")
    app.setDesktopFileName("ravden")
    style.load_fonts()
    ending.at_exit()
    return app


def make_window(
    app: QApplication, *, clock: Clock | None = None, settings_file: Path | None = None, path: Path | None = None
) -> MainWindow:
    """A window over a shop file, or over the last one, or over none."""
    where = settings_file or settings.settings_path()
    remembered = settings.load(where)
    style.apply(app, theme_of(remembered.theme, remembered.contrast), remembered.text)
    written.use(written_of(remembered))
    session = ShopSession(shipped(), clock or SystemClock(), Units(system=remembered.units))
    window = MainWindow(session, remembered, where)
    target = path or (Path(remembered.last_file) if remembered.last_file else None)
    if target is not None:
        try:
            if path is None or path.exists():
                session.open(target)
            else:
                window.files.make_shop(target)
        except DamagedError as error:
            window.tell_damage(error)
        except InputError as error:
            said = whole_fault(error, session.units)
            window.notice.tell_until_read(f"{said[:1].upper()}{said[1:]}.")
    window.show_rack_alone()
    return window


def install_excepthook(window: MainWindow) -> None:
    """PyQt ends the process on an exception in a slot unless a hook is set: log it, tell it, go on."""

    def hook(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        report = "".join(traceback.format_exception(kind, error, trace))
        import logging

        logging.getLogger(__name__).error("unforeseen fault\n%s", report)
        window.tell_bug(report)

    sys.excepthook = hook


def preload() -> None:
    """Bring in, off the GUI thread, what the first answer will need. The interpreter waits for it at its exit: what is
    being compiled then must not have its floor taken away."""

    def load() -> None:
        import scipy.special  # noqa: F401

        from ravden.core.cure import evaporative
        from ravden.core.schedule import odds

        evaporative.warm_up()
        odds.warm_up()

    threading.Thread(target=load, name="preload").start()


def build_rest(window: MainWindow, built: Callable[[], object] = lambda: None) -> None:
    """Build the places that nobody has turned to yet, one between two events, so that each is there when it is; built:
    called when all are."""
    if window.places.build_next():
        QTimer.singleShot(IDLE_MS, lambda: build_rest(window, built))
    else:
        built()


def run(path: Path | None = None) -> int:
    """Open the window and stay until it is closed; with RAVDEN_REPORT_PAINT set, leave at the first painted Rack."""
    app = make_app(sys.argv[:1])
    window = make_window(app, path=path)
    install_excepthook(window)
    window.show()
    signals: list[Signals] = []

    def after_paint() -> None:
        if os.environ.get(REPORT_PAINT):
            print("painted", flush=True)
            os._exit(0)
        collecting = Collecting(window)
        from ravden.app import report

        report.begin()
        app.setWindowIcon(QIcon(str(DATA / "icons" / "ravden.svg")))
        preload()
        window.begin()
        signals.append(Signals(app, window))
        QTimer.singleShot(IDLE_MS, lambda: build_rest(window, collecting.settle))

    QTimer.singleShot(0, after_paint)
    code = app.exec()
    ending.end()  # here, where the application is still held
    return code
