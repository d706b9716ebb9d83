"""How numbers, days and hours are written: as the desktop has it, or as chosen under Settings."""

from __future__ import annotations

import os
from typing import TYPE_CHECKING

from ravden.text.written import Written

if TYPE_CHECKING:
    from PyQt6.QtCore import QLocale

    from ravden.app.settings import Settings

KEPT = 6  # of the desktop: what it said when it was asked, and what of that is used here
FIRST = "first"
ORDERS = ("dmy", "mdy", "ymd")
SAID_BY = ("LC_ALL", "LC_NUMERIC", "LC_TIME", "LC_MEASUREMENT", "LANGUAGE", "LANG")


def written_of(remembered: Settings) -> Written:
    """What is in force by what was chosen."""
    decimal, dates, clock, currency, side = _of_the_desktop(remembered)
    return Written(
        decimal=_chosen(remembered.decimal, decimal),
        dates=_chosen(remembered.dates, dates),
        clock=_chosen(remembered.clock, clock),
        currency=currency,
        sign_first=side == FIRST,
    )


def _of_the_desktop(remembered: Settings) -> tuple[str, str, str, str, str]:
    """Decimal, dates, clock, the sign of the money and where it stands as the desktop has them. To ask the toolkit
    costs the first paint some milliseconds, so what it said is remembered for as long as the desktop's own settings are
    the same."""
    now = "|".join(os.environ.get(name, "") for name in SAID_BY)
    if len(remembered.desktop) != KEPT or remembered.desktop[0] != now or remembered.desktop[2] not in ORDERS:
        from PyQt6.QtCore import QLocale

        here = QLocale.system()
        comma = here.decimalPoint() == ","
        twelve = "a" in here.timeFormat(QLocale.FormatType.ShortFormat).lower()
        dates = order(here.dateFormat(QLocale.FormatType.ShortFormat))
        currency, first = money_of(here)
        remembered.desktop = [
            now, "comma" if comma else "point", dates, "12" if twelve else "24", currency, FIRST if first else "last",
        ]  # fmt: skip
    _, decimal, dates, clock, currency, side = remembered.desktop
    return decimal, dates, clock, currency, side


def money_of(here: QLocale) -> tuple[str, bool]:
    """The sign of a place's money, and whether it stands before the amount; empty where the place is not known."""
    if here.territory() == here.Country.AnyTerritory or here.language() == here.Language.C:
        return "", False
    return here.currencySymbol(), not here.toCurrencyString(1.0)[:1].isdigit()


def _chosen(said: str, by_desktop: str) -> str:
    return by_desktop if said == "system" else said


def order(form: str) -> str:
    """dmy, mdy or ymd, from a pattern such as dd/MM/yyyy."""
    places = sorted((form.index(letter), letter.lower()) for letter in "dMy" if letter in form)
    found = "".join(letter for _, letter in places)
    return found if found in ORDERS else "dmy"
