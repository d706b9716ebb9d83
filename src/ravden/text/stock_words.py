"""The shelf in words: how much, how old, how far it goes."""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING

from ravden.text import words, written

if TYPE_CHECKING:
    from ravden.core.stock.age import Aged
    from ravden.core.stock.buying import Purchase, Reach
    from ravden.core.stock.lots import Left
    from ravden.core.stock.product import Product
    from ravden.text.units import Units

KINDS = {
    "finish": "Finish", "thinner": "Thinner", "hardener": "Hardener", "dye": "Dye", "filler": "Filler",
    "compound": "Compound", "wax": "Wax", "paper": "Paper",
}  # fmt: skip
AGES = {"fine": "fine", "soon": "use it soon", "test": "test a drop first", "not": "do not use it"}
LITRE_ML = 1000.0
Z90 = 1.645
SURE_SD = 0.04  # of what is left: less than that is not worth saying


def ml(amount: float) -> str:
    """5 ml; 420 ml; 1.2 l: as one would read it off a cup.

    >>> ml(3.2), ml(47), ml(423), ml(1240)
    ('3 ml', '45 ml', '420 ml', '1.24 l')
    """
    if amount < 10:
        return f"{max(amount, 0):.0f} ml"
    if amount < 100:
        return f"{5 * round(amount / 5)} ml"
    return f"{round(amount, -1):.0f} ml" if amount < LITRE_ML else f"{written.number(amount / LITRE_ML, '.3g')} l"


def of(kind: str, amount: float) -> str:
    """420 ml of what is poured; 3 sheets of paper.

    >>> of("paper", 3.2), of("paper", 0.3), of("finish", 420)
    ('3 sheets', '0.3 sheets', '420 ml')
    """
    if kind != "paper":
        return ml(amount)
    count = max(amount, 0.0)
    return f"{written.number(count, '.1f')} sheets" if 0 < count < 1.5 and round(count, 1) != 1 else words.plural(
        round(count), "sheet"
    )  # fmt: skip


def left(amount: float, sd: float, kind: str = "") -> str:
    """420 ml; 420 ml (300 to 540 ml), in nine of ten cases."""
    if sd <= SURE_SD * max(amount, 1.0):
        return of(kind, amount)
    least, most = of(kind, max(amount - Z90 * sd, 0.0)), of(kind, amount + Z90 * sd)
    unit = most.partition(" ")[2]
    return f"{of(kind, amount)} ({least.removesuffix(f' {unit}')} to {most})"


def roughly(amount: float, sd: float, kind: str = "") -> str:
    """420 ml; about 420 ml."""
    return of(kind, amount) if sd <= SURE_SD * max(amount, 1.0) else f"about {of(kind, amount)}"


def months(value: float) -> str:
    """3 weeks; 10 months; 2 years."""
    if value < 2:
        return words.plural(max(round(value * 4.35), 0), "week")
    return words.plural(round(value), "month") if value < 24 else words.plural(round(value / 12), "year")


def age(found: Aged | None) -> str:
    """open 9 months: test a drop on glass first."""
    if found is None:
        return "how long it keeps is not known"
    return f"{'open' if found.open else 'sealed'} {months(found.months)}: {AGES[found.word]}"


def reaches(found: Reach, now: datetime, kind: str = "") -> str:
    """short of 140 ml on Wed 3 Feb (Heron); enough for what is planned."""
    if found.wanted_ml <= 0:
        return "nothing planned"
    if found.short_ml > 0:
        day = "" if found.at is None else words.day(found.at, now)
        day = f" {day}" if day in ("today", "tomorrow") else f" on {day}" if day else ""
        return f"short of {of(kind, found.short_ml)}{day}" + (f" ({found.of})" if found.of else "")
    if found.odds > 0.1:
        return f"just enough for {of(kind, found.wanted_ml)}: {100 * found.odds:.0f} % odds that it is short"
    return f"enough for {of(kind, found.wanted_ml)}"


def can(shown: Left, found: Aged | None, money: str = "", kind: str = "") -> str:
    """1 l, open 9 months: test ...; 420 ml, 300 to 540 ml."""
    lot = shown.lot
    paper = kind == "paper"
    drawn = f"{of(kind, -shown.ml)} more {'used than there were: count them' if paper else 'drawn than was in it: weigh it'}"
    what = left(shown.ml, shown.sd_ml, kind) if shown.ml >= 0 else drawn
    where = f", {lot.place}" if lot.place else ""
    old = "" if paper else f"{age(found)[:1].upper()}{age(found)[1:]}"
    below = " · ".join(part for part in (old, money) if part)
    return f"{of(kind, lot.ml)} {'pack' if paper else 'can'}{where}: {what}" + (f"\n{below}" if below else "")


def buys(product: Product, found: Purchase) -> str:
    """2 x 1 l, 60; 300 ml of it would be too old before it is used."""
    parts = [f"{n} × {of(product.kind, c.ml)}" for n, c in zip(found.cans, product.cans, strict=True) if n]
    text = " and ".join(parts)
    if found.price is not None:
        text += f", {written.money(found.price)} in all"
    if found.spoils_ml > 0.05 * found.ml:
        text += f"; about {of(product.kind, found.spoils_ml)} of it would be too old before it is used"
    return text


SHEET = (
    ("volume_solids", "solids by volume", "{:.0f} %"), ("coat_wet_um", "wet film of a coat", ""),
    ("recoat_h", "next coat after", "{:g} h"), ("cure_days", "in use after", "{:g} days"),
    ("least_C", "not below", ""), ("hardener", "hardener to one part of it", "{:g}"), ("pot_h", "once mixed", "{:g} h"), ("density_g_ml", "density", "{:g} g/ml"),
    ("sealed_months", "keeps sealed", "{:g} months"), ("open_months", "keeps open", "{:g} months"),
)  # fmt: skip


def sheet(product: Product, units: Units) -> list[tuple[str, str, str]]:
    """What its data sheet says: field, what it is, and how much."""
    out = []
    for name, label, form in SHEET:
        told = getattr(product.figures, name)
        if told is not None:
            own = {"coat_wet_um": units.film, "least_C": units.temperature}.get(name)
            text = form.format(100 * told if name == "volume_solids" else told) if own is None else own(told)
            out.append((name, label, text))
    return out
