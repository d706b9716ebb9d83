"""Instruments whose record cannot be worked out: which, since which entry, and why; the rest goes on. No Qt."""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING

from msgspec import Struct

from ravden.core.errors import InputError
from ravden.text import words
from ravden.text.say import fault

if TYPE_CHECKING:
    from ravden.app.session import ShopSession
    from ravden.app.was_right import Asked, ToAsk

NOT_FORESEEN = "of a fault of the program, whose report is in the log"


class Trouble(Struct, frozen=True, kw_only=True):
    """name: of the instrument; why: in words; entry: the first after which nothing could be worked out any more, at:
    when it was logged; 0 and None while that is looked for, or where it cannot be said."""

    name: str
    why: str
    entry: int = 0
    at: datetime | None = None


def trouble(session: ShopSession, instrument: str, error: Exception) -> Trouble:
    """What is known at once of an instrument whose outlook came to nothing."""
    why = fault(error, session.units) if isinstance(error, InputError) else NOT_FORESEEN
    return Trouble(name=session.shop.on_rack(instrument).instrument.name, why=why)


def since(of: ToAsk, found: Trouble) -> Trouble:
    """The same with the entry it began with; reads the record, takes some outlooks, and belongs off the GUI thread.
    Raises InputError where the record cannot be read."""
    asked = of.elsewhere()
    mine = [e for e in asked.entries if e.instrument == asked.rack.instrument.id]
    low, high = 0, len(mine)  # with the first `low` it can be worked out, as far as was tried
    while low < high:
        middle = (low + high) // 2
        if _stands(asked, mine[middle].id):
            low = middle + 1
        else:
            high = middle
    return found if low == len(mine) else Trouble(name=found.name, why=found.why, entry=mine[low].id, at=mine[low].at)


def _stands(asked: Asked, number: int) -> bool:
    then = asked.as_of(number, after=True)
    try:
        return then is None or then.run() is not None
    except Exception:  # whatever it is: this is the entry that is looked for
        return False


def sentence(session: ShopSession, found: Trouble) -> str:
    """Wren's record cannot be worked out since Tue 12 May."""
    when = "" if found.at is None else f" since {words.moment(session.local(found.at), session.local(session.now))}"
    return f"{found.name}'s record cannot be worked out{when}"


def notice(found: Trouble) -> str:
    """The same when it has just happened."""
    return f"{found.name}'s record cannot be worked out any more: {found.why}"


def what_it_says(session: ShopSession, found: Trouble) -> str:
    """The entry in words, and why it cannot be."""
    entry = "" if not found.entry else f"{session.describe(session.entry(found.entry))}. "
    return f"{entry}{found.why[:1].upper()}{found.why[1:]}."
