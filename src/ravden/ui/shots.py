"""Renders every main view to PNG from the demo data, with no display needed."""

import tempfile
from collections.abc import Callable
from datetime import datetime
from pathlib import Path

from PyQt6.QtCore import QBuffer, QEventLoop, QIODevice, QTimer
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QApplication

from ravden.app import settings
from ravden.app.clock import HandClock
from ravden.app.hours_form import PRESETS, read
from ravden.core.surface.shade import Pixels, pixels
from ravden.core.surface.trial import Trial
from ravden.journal.counting import last_to_undo
from ravden.journal.hours import DAYS
from ravden.system.files import put
from ravden.ui.app import make_app, make_window
from ravden.ui.shell.main_window import MainWindow
from ravden.ui.widgets.seen import image_of

SIZE = (1280, 800)
TIME_LIMIT_MS = 120_000


def _put(image: QImage, path: Path) -> None:
    out = QBuffer()
    out.open(QIODevice.OpenModeFlag.WriteOnly)
    image.save(out, "PNG")
    put(path, out.data().data())


def settle(window: MainWindow) -> None:
    """Wait until nothing shown is still being worked out."""
    app = QApplication.instance()
    assert app is not None
    if window.places.busy:
        loop = QEventLoop()
        window.places.settled.connect(loop.quit)
        QTimer.singleShot(TIME_LIMIT_MS, loop.quit)
        loop.exec()
    app.processEvents()


def render(shop: Path, folder: Path, now: datetime) -> list[Path]:
    """Write a picture of every main view of the demo shop file, as it stands at now; returns their paths."""
    folder.mkdir(parents=True, exist_ok=True)
    app = make_app(["ravden"])
    out: list[Path] = []
    with tempfile.TemporaryDirectory() as temporary:
        clock = HandClock(now)
        remembered = Path(temporary) / "settings.json"
        first = make_window(app, clock=clock, settings_file=remembered)
        first.resize(*SIZE)
        first.show()
        first.begin()
        app.processEvents()
        out.append(folder / "start.png")
        _put(first.grab().toImage(), out[0])
        first.close()
        settings.save(settings.Settings(tools=list(settings.TOOLS)), remembered)
        window = make_window(app, clock=clock, settings_file=remembered, path=shop)
        window.resize(*SIZE)
        window.show()
        window.begin()
        window.places.booth.sounds.mute()
        settle(window)

        def shot(name: str) -> None:
            settle(window)
            path = folder / f"{name}.png"
            _put(window.grab().toImage(), path)
            out.append(path)

        def turn(instrument: str, place: str) -> None:
            window.session.select(instrument, "shots")
            settle(window)
            window.notice.hide()
            window.turn_to(place)

        turn("tern", "rack")
        shot("rack")
        _days(window, turn, shot)
        turn("heron", "film")
        window.film.side.turn_to("coat")
        shot("film-next-coat")
        turn("tern", "film")
        window.film.side.turn_to("zones")
        shot("film-curing")
        turn("dunlin", "film")
        window.something_wrong()
        window.repairs.at = 1
        window.places.show_all()
        shot("repair")
        turn("tern", "rubout")
        shot("rub-out")
        window.rubout.side.turn_to("zones")
        _surface(window, folder, shot)
        _booth(window, clock, turn, shot)
        turn("tern", "methods")
        shot("methods")
        turn("heron", "methods")
        window.methods.pages.turn_to("plan")
        shot("methods-plan")
        turn("tern", "shop")
        shot("shop")
        window.shop.pages.turn_to("stock")
        settle(window)
        window.shop.stock.pick(next(i for i, r in enumerate(window.shop.stock.model.rows) if r.id == "water-clear"))
        shot("shop-stock")
        for page in ("knows", "right"):
            window.shop.pages.turn_to(page)
            shot(f"shop-{page}")
        _hours_and_book(window, shot)
        window.close()
    return out


def _days(window: MainWindow, turn: Callable[[str, str], None], shot: Callable[[str], None]) -> None:
    """The days ahead of a plan that the weather broke, with what one instrument waits for."""
    turn("heron", "rack")
    window.looks.turn_theme()
    window.rack.days_ahead.setChecked(True)
    settle(window)
    days = window.rack.days
    row = next(n for n, r in enumerate(days.model.rows) if r.doing is not None and r.doing.broken)
    days.list.selectRow(row)
    days.buttons["why"].click()
    shot("days")
    days.answer.leave.click()
    window.rack.days_ahead.setChecked(False)
    window.looks.turn_theme()
    settle(window)


def _surface(window: MainWindow, folder: Path, shot: Callable[[str], None]) -> None:
    """The trainer half way, a look at three photos of that panel, and the sheet of all there is to see."""
    rubout = window.places.rubout
    rubout.practise("edge")
    practice = rubout.practice
    settle(window)
    for act in ("rounds", "wipe"):
        practice.act(act)
    settle(window)
    shot("practise")
    practice.begin("run")
    for _ in range(3):
        practice.order.submit(lambda: practice.trial.round(practice.hold))
    practice.act("wipe")
    settle(window)
    files = [folder / f".{name}.png" for name in ("low", "low-other", "broad")]
    for file, light in zip(files, panel_under_lamps(practice.trial), strict=True):
        _put(image_of(light), file)
    practice.page.left.emit()
    rubout.look_at_photos()
    looking = rubout.looking
    looking.take("low", files)
    settle(window)
    looking.act("corners")
    side = float(looking.page.corners.full[0])
    looking.page.corners.corners = [(0.0, 0.0), (side, 0.0), (side, side), (0.0, side)]
    for spin in looking.page.sides:
        spin.setValue(practice.size_mm)
    looking.look()
    settle(window)
    shot("is-it-level")
    looking.page.left.emit()
    for file in files:
        file.unlink()
    window.help.show_looks()
    looks = window.help.looks
    assert looks is not None
    while looks.busy:
        QApplication.processEvents(QEventLoop.ProcessEventsFlag.WaitForMoreEvents)
    shot("looks")
    looks.left.emit()


def panel_under_lamps(trial: Trial) -> tuple[Pixels, Pixels, Pixels]:
    """A practice panel under a low lamp from two sides, and mirroring broad light."""
    dull = trial.dull()[..., None]
    broad = 0.5 * trial.under + dull * 0.17 + (1 - dull) * 0.4
    return pixels(trial.seen(20, 12)), pixels(trial.seen(115, 12)), pixels(broad.astype("float32"))


def _hours_and_book(window: MainWindow, shot: Callable[[str], None]) -> None:
    """Hours for evenings and Saturday, and three more instruments handed over; taken back."""
    session, page = window.session, window.shop.hours
    window.shop.pages.turn_to("hours")
    typed = dict(zip(DAYS, dict(PRESETS)["Evenings and Saturday"], strict=True))
    closed = "2026-12-24 to 2027-01-02  the year's turn"
    session.log(read("Europe/Rome", typed, closed), origin="shots")
    for name, to, note in (("siskin", "", ""), ("wren", "A. Player", ""), ("gannet", "", "second strap button fitted")):
        session.select(name, "shots")
        session.hand_over(session.now, to, note, "shots")
    settle(window)
    window.notice.hide()
    page.setFocus()
    window.shop.pages.turn_to("book")
    window.shop.book.search.left.emit()
    settle(window)
    window.notice.hide()
    shot("shop-book")
    for _ in range(4):
        session.undo("shots")
    window.shop.pages.turn_to("air")


def _booth(window: MainWindow, clock: HandClock, turn: Callable[[str, str], None], shot: Callable[[str], None]) -> None:
    """A session on two instruments, and paper on a third; what it logs is taken back."""
    start, booth = clock.time, window.places.booth
    before = window.session.entries[-1].id
    turn("heron", "booth")
    for check in range(3):
        window.booth.before.tick(check)
    window.booth.act_asked.emit()
    for seconds in (5, 30, 40):
        clock.turn(seconds=seconds)
        window.booth.act_asked.emit()
        settle(window)
    clock.turn(seconds=25)
    window.session.select("heron", "shots")
    settle(window)
    window.notice.hide()
    booth.show()
    shot("booth")
    window.booth.mishap_logged.emit("nib", "top")
    window.booth.key_asked.emit("end")
    settle(window)
    window.notice.hide()
    window.booth.act_asked.emit()
    turn("tern", "booth")
    clock.turn(days=3)
    window.places.refresh(("tern",))
    settle(window)
    booth.show()
    window.booth.act_asked.emit()
    clock.turn(minutes=12)
    booth.show()
    window.notice.hide()
    shot("booth-paper")
    while (last := last_to_undo(window.session.entries)) is not None and last.id > before:
        window.session.undo("shots")
    clock.time = start
