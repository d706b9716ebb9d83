"""How numbers, days and hours are written: as the desktop has it, or as chosen under Settings."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QLocale

from ravden.text.written import Written

if TYPE_CHECKING:
    from ravden.app.settings import Settings


def written_of(remembered: Settings) -> Written:
    """What is in force by what was chosen."""
    here = QLocale.system()
    comma = here.decimalPoint() == ","
    twelve = "a" in here.timeFormat(QLocale.FormatType.ShortFormat).lower()
    return Written(
        decimal=_chosen(remembered.decimal, "comma" if comma else "point"),
        dates=_chosen(remembered.dates, order(here.dateFormat(QLocale.FormatType.ShortFormat))),
        clock=_chosen(remembered.clock, "12" if twelve else "24"),
    )


def _chosen(said: str, by_desktop: str) -> str:
    return by_desktop if said == "system" else said


def order(form: str) -> str:
    """dmy, mdy or ymd, from a pattern such as dd/MM/yyyy."""
    places = sorted((form.index(letter), letter.lower()) for letter in "dMy" if letter in form)
    found = "".join(letter for _, letter in places)
    return found if found in ("dmy", "mdy", "ymd") else "dmy"
