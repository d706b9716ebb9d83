"""Applies a palette and the shipped type to the application."""

from __future__ import annotations

import contextlib
import weakref
from collections.abc import Callable
from typing import Any, TypeVar

from PyQt6.QtGui import QColor, QFont, QFontDatabase, QPalette
from PyQt6.QtWidgets import QApplication, QWidget

from ravden.catalogue.shipped_files import DATA
from ravden.ui.theme.palette import LIGHT, PALETTES, Palette

FONT_FAMILY = "Atkinson Hyperlegible"
SIGN_FAMILY = "Ravden Signs"  # the arrows and ticks the type lacks
FONT_FILES = ("AtkinsonHyperlegible-Regular.ttf", "AtkinsonHyperlegible-Bold.ttf", "RavdenSigns.ttf")
BASE_PX = 14
DRESSED = "dressed"  # the property that says in which theme

_current = LIGHT
_scale = 1.0


def scale() -> float:
    """How much larger than usual everything is to be; painters ask for it each time they paint."""
    return _scale


def px(usual: float) -> int:
    """Pixels for what is this large at the usual size of the type."""
    return round(usual * _scale)


W = TypeVar("W", bound=QWidget)
_fitted: weakref.WeakKeyDictionary[QWidget, list[Callable[[Any], object]]] = weakref.WeakKeyDictionary()


def fit(widget: W, measure: Callable[[W], object]) -> None:
    """Measure a widget by the size of the type now, and again whenever that changes."""
    measure(widget)
    _fitted.setdefault(widget, []).append(measure)


def _fit_again() -> None:
    for widget, measures in tuple(_fitted.items()):
        with contextlib.suppress(RuntimeError):  # the toolkit has let go of it before Python did
            for measure in measures:
                measure(widget)


def current() -> Palette:
    """The palette in force; painters ask for it each time they paint."""
    return _current


def load_fonts() -> None:
    """Our own type, so that screens are the same on every machine."""
    for name in FONT_FILES:
        QFontDatabase.addApplicationFontFromData(DATA.joinpath("fonts", name).read_bytes())


def font(px: int = BASE_PX, *, bold: bool = False) -> QFont:
    """The shipped type at a size in pixels, before any picture is made larger as a whole."""
    out = QFont([FONT_FAMILY, SIGN_FAMILY])
    out.setPixelSize(px)
    out.setBold(bold)
    return out


def apply(app: QApplication, theme: str, text: int = 100) -> None:
    """Make a theme and a size of type [%] current; what is shown is dressed in it one by one."""
    global _current, _scale
    p = _current = PALETTES[theme]
    was, _scale = _scale, text / 100
    app.setFont(font(px(BASE_PX)))
    colours = QPalette()
    for role, colour in (
        (QPalette.ColorRole.Window, p.ground), (QPalette.ColorRole.Base, p.panel),
        (QPalette.ColorRole.AlternateBase, p.ground), (QPalette.ColorRole.Text, p.ink),
        (QPalette.ColorRole.WindowText, p.ink), (QPalette.ColorRole.Button, p.panel),
        (QPalette.ColorRole.ButtonText, p.ink), (QPalette.ColorRole.Highlight, p.accent),
        (QPalette.ColorRole.HighlightedText, p.accent_ink), (QPalette.ColorRole.ToolTipBase, p.panel),
        (QPalette.ColorRole.ToolTipText, p.ink), (QPalette.ColorRole.PlaceholderText, p.muted),
    ):  # fmt: skip
        colours.setColor(role, QColor(colour))
    app.setPalette(colours)
    if was != _scale:
        _fit_again()


def dress(shown: QWidget, *, around: bool = False) -> None:
    """Give a part of the window the sheet of the theme in force. One sheet for the whole application would style every
    widget there is again with each change, those of the places that nobody looks at too. around: what stands round the
    places, and needs little of it."""
    look = f"{_current.name} {_scale}"
    if shown.property(DRESSED) != look:
        shown.setProperty(DRESSED, look)
        shown.setStyleSheet(sheet_around(_current) if around else sheet(_current))


def arrow(p: Palette) -> str:
    """The drop-down arrow of a theme, as a path a style sheet can read."""
    return str(DATA / "icons" / f"drop-{p.name}.svg")


def tick(p: Palette) -> str:
    """The tick of a theme's boxes."""
    return str(DATA / "icons" / f"tick-{p.name}.svg")


def sheet_around(p: Palette) -> str:
    """What menus, the line at the foot, notices, tips and scroll bars need of the sheet: it is read in a fifth of the
    time."""
    return f"""
    QWidget {{ color: {p.ink}; font-size: {px(BASE_PX)}px; }}
    QFrame#notice {{ background: {p.ink}; border-radius: 3px; }}
    QFrame#notice QLabel {{ color: {p.panel}; }}
    QFrame#notice QPushButton {{ background: transparent; color: {p.panel}; border: 1px solid {p.panel}; }}
    QMenuBar {{ background: {p.ground}; }}
    QMenuBar::item:selected, QMenu::item:selected {{ background: {p.accent}; color: {p.accent_ink}; }}
    QMenu {{ background: {p.panel}; border: 1px solid {p.line}; }}
    QMenu::item:disabled {{ color: {p.muted}; }}
    QToolTip {{ background: {p.panel}; color: {p.ink}; border: 1px solid {p.line}; padding: 4px; }}
    QScrollBar:vertical {{ background: transparent; width: 12px; margin: 0; }}
    QScrollBar:horizontal {{ background: transparent; height: 12px; margin: 0; }}
    QScrollBar::handle:horizontal {{ background: {p.line}; border-radius: 5px; min-width: 30px; margin: 1px; }}
    QScrollBar::handle:vertical {{ background: {p.line}; border-radius: 5px; min-height: 30px; margin: 1px; }}
    QScrollBar::handle:vertical:hover {{ background: {p.muted}; }}
    QScrollBar::add-line, QScrollBar::sub-line, QScrollBar::add-page, QScrollBar::sub-page {{
        background: transparent; border: none; width: 0; height: 0; }}
    QStatusBar QLabel {{ color: {p.muted}; padding-right: 14px; }}
    QStatusBar::item {{ border: none; }}
    QStatusBar {{ background: {p.ground}; color: {p.muted}; }}
    """


def sheet(p: Palette) -> str:
    """The style sheet of a palette."""
    return f"""{sheet_around(p)}
    QWidget {{ color: {p.ink}; font-size: {px(BASE_PX)}px; }}
    QMainWindow, QWidget#ground {{ background: {p.ground}; }}
    QFrame#panel {{ background: {p.panel}; border: 1px solid {p.line}; border-radius: 3px; }}
    QFrame#told {{ background: {p.open_soft}; border: none; border-left: 5px solid {p.open_ink}; }}
    QFrame#told[tone="warn"] {{ background: {p.warn_soft}; border-left-color: {p.warn}; }}
    QFrame#told[tone="plain"] {{ background: {p.accent_soft}; border-left-color: {p.accent}; }}
    QFrame#logcard {{ background: {p.panel}; border: 2px solid {p.accent}; border-radius: 3px; }}
    QLabel#title {{ font-size: {px(25)}px; font-weight: bold; }}
    QLabel#heading {{ font-size: {px(16)}px; font-weight: bold; }}
    QLabel#muted {{ color: {p.muted}; }}
    QLabel#warn {{ color: {p.warn}; font-weight: bold; }}
    QLabel#fault {{ color: {p.warn}; }}
    QLabel#strong {{ font-weight: bold; }}
    QLabel#odds {{ font-weight: bold; }}
    QLabel#odds[tone="open"] {{ color: {p.open_ink}; }}
    QLabel#odds[tone="warn"] {{ color: {p.warn}; }}
    QPushButton#zone {{ text-align: left; padding: 0px 5px; border: none; border-left: 3px solid transparent;
        background: transparent; border-radius: 0; }}
    QPushButton#zone:checked {{ border-left-color: {p.accent}; font-weight: bold; }}
    QPushButton#zone:focus {{ border: 1px solid {p.accent}; }}
    QLabel#said[tone="warn"] {{ color: {p.warn}; font-weight: bold; }}
    QLabel#said[tone="open"] {{ color: {p.open_ink}; font-weight: bold; }}
    QPushButton#turn {{ padding: 4px 7px; border: none; border-bottom: 3px solid transparent; border-radius: 0;
        background: transparent; }}
    QPushButton#turn:checked {{ border-bottom-color: {p.accent}; color: {p.accent}; }}
    QPushButton#turn:focus {{ border: 1px solid {p.accent}; border-bottom-width: 3px; padding: 3px 6px 4px 6px; }}
    QPushButton#quiet {{ padding: 2px 7px; font-size: {px(12)}px; }}
    QPushButton#quiet:checked {{ background: {p.accent_soft}; border-color: {p.accent}; }}
    QListWidget {{ background: {p.panel}; border: 1px solid {p.line}; border-radius: 3px; font-size: {px(13)}px; }}
    QListWidget::item {{ padding: 3px 4px; border-bottom: 1px solid {p.line}; }}
    QListWidget::item:selected {{ background: {p.accent_soft}; color: {p.ink}; }}
    QListWidget:focus {{ border: 1px solid {p.accent}; }}
    QTextBrowser, QPlainTextEdit, QTableView {{ background: {p.panel}; border: 1px solid {p.line};
        border-radius: 3px; }}
    QTextBrowser:focus, QPlainTextEdit:focus, QTableView:focus {{ border: 1px solid {p.accent}; }}
    QTableView {{ selection-background-color: {p.accent_soft}; selection-color: {p.ink}; outline: none; }}
    QHeaderView, QHeaderView::section {{ background: {p.panel}; color: {p.muted}; border: none; padding: 3px 4px; }}
    QHeaderView::section {{ border-bottom: 1px solid {p.line}; }}
    QSlider {{ min-height: 26px; }}
    QSlider::groove:horizontal {{ height: 4px; background: {p.line}; border-radius: 2px; }}
    QSlider::sub-page:horizontal {{ background: {p.accent}; border-radius: 2px; }}
    QSlider::handle:horizontal {{ width: 14px; height: 22px; margin: -9px 0; background: {p.panel};
        border: 2px solid {p.accent}; border-radius: 3px; }}
    QSlider::handle:horizontal:focus {{ background: {p.accent}; }}
    QLabel#big {{ font-size: {px(18)}px; font-weight: bold; }}
    QPushButton {{ background: {p.panel}; border: 1px solid {p.line}; border-radius: 3px; padding: 7px 14px; }}
    QPushButton:hover {{ border-color: {p.accent}; }}
    QPushButton:focus {{ border: 2px solid {p.accent}; padding: 6px 13px; }}
    QPushButton:disabled {{ color: {p.muted}; }}
    QPushButton#pick {{ text-align: left; padding: 7px 12px; }}
    QPushButton#pick:checked {{ background: {p.accent_soft}; border-color: {p.accent}; font-weight: bold; }}
    QProgressBar {{ background: {p.panel}; border: 1px solid {p.line}; border-radius: 3px; text-align: right;
        padding-right: 4px; }}
    QProgressBar::chunk {{ background: {p.accent_soft}; border-right: 3px solid {p.accent}; }}
    QPushButton#main {{ background: {p.accent}; color: {p.accent_ink}; border-color: {p.accent}; font-weight: bold; }}
    QCheckBox::indicator, QListWidget::indicator {{ width: 13px; height: 13px; border: 1px solid {p.muted};
        border-radius: 2px; background: {p.panel}; }}
    QCheckBox::indicator:checked, QListWidget::indicator:checked {{ background: {p.accent}; border-color: {p.ink};
        image: url("{tick(p)}"); }}
    QPushButton#main:disabled {{ background: {p.line}; border-color: {p.line}; color: {p.muted}; }}
    QPushButton#main:focus {{ border: 2px solid {p.ink}; }}
    QLineEdit, QSpinBox, QDoubleSpinBox, QComboBox, QDateTimeEdit {{
        background: {p.panel}; border: 1px solid {p.line}; border-radius: 3px; padding: 5px 7px; min-height: 20px;
        selection-background-color: {p.accent}; selection-color: {p.accent_ink}; }}
    QLineEdit:focus, QSpinBox:focus, QDoubleSpinBox:focus, QComboBox:focus {{ border: 2px solid {p.accent}; }}
    QLineEdit[bad="true"], QComboBox[bad="true"] {{ border: 2px solid {p.warn}; }}
    QComboBox::drop-down {{ border: none; width: 26px; }}
    QComboBox::down-arrow {{ image: url("{arrow(p)}"); width: 12px; height: 8px; }}
    QComboBox QAbstractItemView {{ background: {p.panel}; color: {p.ink}; selection-background-color: {p.accent};
        selection-color: {p.accent_ink}; }}
    QScrollArea, QScrollArea > QWidget > QWidget {{ background: transparent; border: none; }}
    """
