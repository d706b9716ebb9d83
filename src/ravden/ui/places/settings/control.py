"""Settings at work: what was changed holds at once, is remembered, and can be set back."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

import msgspec
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel, QMessageBox

from ravden.app import made_up, settings, starting
from ravden.app.forms import number
from ravden.core.errors import InputError, need
from ravden.core.record.material import MAX_FILM_UM
from ravden.journal import copies
from ravden.journal.kinds.shop_name import ShopNamed
from ravden.text import words
from ravden.text.say import fault, whole_fault
from ravden.ui.places.settings.view import NO_FILE, SettingsPage
from ravden.ui.theme import style

if TYPE_CHECKING:
    from ravden.ui.shell.shell import Shell

# Families of finish whose least film is a matter of taste; a seal and an oil that leaves no film have none.
FAMILIES = {
    "dissolving lacquer": "Lacquer", "shellac": "Shellac", "layering waterborne": "Waterborne",
    "layering two-part": "Two parts", "layering oil varnish": "Oil varnish",
    "layering light-cured": "Light-cured resin",
}  # fmt: skip
KEPT_SETTINGS = (
    "place",
    "last_file",
    "recent",
    "window",
    "maximised",
    "told",
    "desktop",
)  # no choices, and not set back


class SettingsControl:
    """Shows what is chosen, and takes up what is changed."""

    def __init__(self, window: Shell) -> None:
        self._window = window
        catalogue = window.session.catalogue
        tools = {
            key: (f"{m.label[:1].upper()}{m.label[1:]}", f"Tells {m.buys}. Costs {m.costs}.")
            for key, m in catalogue.measuring.items()
        }
        self.view = SettingsPage(tools, starting.LAID, FAMILIES)
        view = self.view
        for label in view.findChildren(QLabel):
            label.setTextFormat(Qt.TextFormat.PlainText)
        guarded = window.guarded
        view.changed.connect(lambda n, v: guarded(lambda: self._change(n, v)))
        view.ticked.connect(lambda n, on: guarded(lambda: self._tick(n, on)))
        view.tool_ticked.connect(lambda k, on: guarded(lambda: self._in_list("tools", k, on)))
        view.lay_ticked.connect(lambda k, on: guarded(lambda: self._in_list("lays", k, on)))
        view.least_typed.connect(self._least)
        view.name_typed.connect(self._name)
        view.back_asked.connect(lambda p: guarded(lambda: self.go_back(Path(p))))
        view.asked.connect(lambda what: guarded(lambda: self._asked(what)))
        view.left.connect(window.turn_back)
        window.stack.addWidget(view)

    def show(self) -> None:
        """Turn to the page as things stand."""
        self._fill()
        self._window.stack.setCurrentWidget(self.view)
        self.view.boxes["units"].setFocus()

    def _fill(self) -> None:
        window, view, session = self._window, self.view, self._window.session
        told = window.remembered
        for name, box in view.boxes.items():
            value = {
                "theme": "contrast" if told.contrast else told.theme, "text": str(told.text),
                "left_hand": "left" if told.left_hand else "right",
            }.get(name) or getattr(told, name)  # fmt: skip
            box.setCurrentIndex(max(box.findData(value), 0))
        for name, check in view.ticks.items():
            check.setChecked(bool(getattr(told, name)))
        for boxes, ticked in ((view.tools, told.tools), (view.lays, told.lays)):
            for key, check in boxes.items():
                check.setChecked(key in ticked)
        units = session.units
        view.least_heading.setText(f"Least film wanted after rubbing out, {units.film_unit}")
        for family, edit in view.least.items():
            least = told.least_um.get(family)
            edit.setText("" if least is None else units.film_number(least))
        for label in view.faults.values():
            label.setText("")
        journal = session.journal
        imagined = journal is not None and made_up.is_made_up(journal.path)
        view.all_there.setVisible(imagined)
        view.name.setText(session.shop.name if journal is not None else "")
        view.name.setEnabled(journal is not None and not journal.read_only)
        view.hours.setEnabled(journal is not None)
        if journal is None:
            view.show_copies(NO_FILE, ())
            return
        now = session.local(session.now)
        rows = [
            (str(c), f"Copy of {words.moment(session.local(copies.made(c)), now)}, {c.stat().st_size / 1000:.0f} kB")
            for c in copies.there(journal.path)
        ]
        first = "" if rows else "\nA copy is made beside it each day it is opened."
        view.show_copies(f"{journal.path}{first}", rows)

    def _change(self, name: str, value: str) -> None:
        told = self._window.remembered
        if name == "theme":
            told.contrast = value == "contrast"
            told.theme = told.theme if told.contrast else value
        elif name == "text":
            told.text = int(value)
        elif name == "left_hand":
            told.left_hand = value == "left"
        else:
            setattr(told, name, value)
        self._take_up()

    def _tick(self, name: str, on: bool) -> None:
        setattr(self._window.remembered, name, on)
        self._take_up()

    def _in_list(self, name: str, key: str, on: bool) -> None:
        told = self._window.remembered
        setattr(told, name, [k for k in getattr(told, name) if k != key] + [key] * on)
        self._take_up()

    def _least(self, family: str, text: str) -> None:
        told, units = self._window.remembered, self._window.session.units
        others = {f: v for f, v in told.least_um.items() if f != family}
        was = told.least_um.get(family)
        if was is not None and text.strip() == units.film_number(was):
            return  # left as it was: what was typed first stays to the digit
        try:
            if text.strip():
                least = units.film_to_um(number(text, family))
                need(0 < least <= MAX_FILM_UM, family, f"must be between 0 and {units.film(MAX_FILM_UM)}")
                others[family] = least
        except InputError as error:
            self.view.faults[family].setText(fault(error, units))
            return
        self.view.faults[family].setText("")
        told.least_um = others
        settings.save(told, self._window.settings_file)

    def _name(self, text: str) -> None:
        session = self._window.session
        self.view.faults["name"].setText("")
        if session.journal is None or text.strip() == session.shop.name:
            return
        try:
            session.log(ShopNamed(name=text.strip()), origin="settings")
        except InputError as error:
            self.view.faults["name"].setText(fault(error, session.units))

    def _asked(self, what: str) -> None:
        if what == "hours":
            self._window.turn_to("shop")
            self._window.shop.pages.turn_to("hours")
        else:
            self.ask_again()

    def ask_again(self) -> None:
        """Set everything back, once the user has said so."""
        box = QMessageBox(self._window)
        style.dress(box)
        box.setWindowTitle("Ravden")
        box.setText("Set everything on this page back to what it was when Ravden was new?")
        box.setInformativeText("The workshop's name, its hours and all that was logged stay.")
        yes = box.addButton("Set it back", QMessageBox.ButtonRole.AcceptRole)
        box.addButton("Leave it", QMessageBox.ButtonRole.RejectRole)
        box.buttonClicked.connect(lambda button: self.set_back() if button is yes else None)
        box.open()

    def set_back(self) -> None:
        """Every choice as it was when Ravden was new."""
        told, new = self._window.remembered, settings.Settings()
        for name in msgspec.structs.asdict(new):
            if name not in KEPT_SETTINGS:
                setattr(told, name, getattr(new, name))
        self._take_up()
        self._fill()

    def go_back(self, copy: Path) -> None:
        """The file as a copy has it; as it is now it stays beside it."""
        session, window = self._window.session, self._window
        try:
            kept = session.go_back(copy)
        except InputError as error:
            window.say(whole_fault(error, session.units))
            return
        self._fill()
        window.say(f"You are back at the copy. The file as it was is kept as {kept.name}, beside it.")

    def _take_up(self) -> None:
        self._window.looks.take_up()
        self._fill()
