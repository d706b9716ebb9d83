"""What the page of foretold and come shows. No Qt."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

from ravden.core.ahead.drying_rate import rate
from ravden.core.ahead.foretold import FILM, KINDS, MOVED_LN, Foretold, share
from ravden.text import right_words as said
from ravden.text import words
from ravden.text.tables import Table

if TYPE_CHECKING:
    from ravden.app.session import ShopSession
    from ravden.core.ahead.drying_rate import Rate

NOTHING = "Nothing that was foretold has come yet: it needs a gauge reading, a levelling, a timed rung, or a promise."


@dataclass(frozen=True, slots=True, kw_only=True)
class FinishShown:
    """A sentence on one finish; rate: what would be taken over, None where there is nothing to."""

    material: str
    text: str
    rate: Rate | None

    @property
    def can_take(self) -> bool:
        return self.rate is not None


@dataclass(frozen=True, slots=True, kw_only=True)
class RightRow:
    """A line of the picture. sentence: all of it, for who cannot see the picture."""

    told: Foretold
    name: str
    foretold: str
    came: str
    sentence: str


@dataclass(frozen=True, slots=True, kw_only=True)
class RightShown:
    """told: the heading; shares: by kind; why: what was noted of instruments that came out otherwise; more: there are
    instruments further back."""

    told: str
    rows: tuple[RightRow, ...]
    shares: dict[str, str]
    finishes: tuple[FinishShown, ...]
    why: tuple[str, ...]
    more: bool


def show(session: ShopSession, told: Sequence[Foretold], left: int, more: bool) -> RightShown:
    """left: instruments still to be worked out."""
    now, units = session.local(session.now), session.units
    rows = []
    for f in sorted(told, key=lambda f: f.at, reverse=True):
        when = words.day(session.local(f.at), now)
        label = f.label.lower() if f.what == FILM else f.label
        name = ", ".join(part for part in (f.name, label, when) if part)
        rows.append(
            RightRow(told=f, name=name, foretold=said.ranged(f, units), came=said.came(f, units),
                     sentence=said.line(f, units))
        )  # fmt: skip
    heading = NOTHING
    if told:
        heading = f"Of all that was foretold, {said.held(share(told))}."
    if left:
        heading = f"Working it out again from the journal: {words.plural(left, 'instrument')} to go …"
    shares = {k: said.held(share([f for f in told if f.what == k])) for k in KINDS}
    return RightShown(
        told=heading, rows=tuple(rows), shares=shares, finishes=finishes(session, told),
        why=_why(session, told), more=more,
    )  # fmt: skip


def _why(session: ShopSession, told: Sequence[Foretold]) -> tuple[str, ...]:
    """What was noted when instruments were handed over of which something came out otherwise than foretold."""
    names = dict.fromkeys(f.of for f in told if f.tells and not f.inside)
    booked = [session.shop.book[n] for n in names if n in session.shop.book]
    return tuple(f"{b.name}, as noted then: {b.note}" for b in booked if b.note)


def finishes(session: ShopSession, told: Sequence[Foretold]) -> tuple[FinishShown, ...]:
    """One sentence for each."""
    out, air_C = [], session.shop.air.to_come_C(session.now)
    for material in dict.fromkeys(f.finish for f in told):
        mine = [f for f in told if f.finish == material]
        found = rate(mine, air_C)
        here = session.shop.rates.get(material)
        taken = found is not None and here is not None and abs(here[0] - found.ln_mean) < MOVED_LN
        label = session.catalogue.materials[material].label if material in session.catalogue.materials else material
        text, put = said.advice(label, mine, taken, air_C)
        out.append(FinishShown(material=material, text=text, rate=put))
    return tuple(out)


def table(session: ShopSession, told: Sequence[Foretold]) -> Table:
    """The picture's numbers."""
    units = session.units
    rows = tuple(
        (said.HEADINGS[f.what], f.name, f.label, session.local(f.at).date().isoformat(), said.amount(f, f.low, units),
         said.amount(f, f.likely, units), said.amount(f, f.high, units), said.came(f, units),
         "says nothing" if not f.tells else "yes" if f.inside else "no")
        for f in sorted(told, key=lambda f: f.at)
    )  # fmt: skip
    columns = ("what", "instrument", "of", "came on", "from", "likeliest", "to", "came", "inside")
    return Table(title="Was Ravden right?", columns=columns, rows=rows)
