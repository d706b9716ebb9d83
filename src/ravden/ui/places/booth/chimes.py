"""Which sound belongs between two moments: told by the turns and the clock, so that none is missed or doubled. No
Qt."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import TYPE_CHECKING

from ravden.app.mixing import pot_of
from ravden.app.session import ShopSession
from ravden.core.errors import InputError
from ravden.journal.booth import BoothSession
from ravden.ui.places.booth import turns
from ravden.ui.places.booth.beside import WORN_S, shop_air_C

if TYPE_CHECKING:
    from ravden.core.ahead.outlook import Outlook

LATE = timedelta(minutes=1)  # past what was due
STALE = timedelta(minutes=2)  # a moment further back was slept through: it is seen, and no longer heard


def between(session: ShopSession, outlooks: dict[str, Outlook], then: datetime, now: datetime) -> tuple[str, ...]:
    """The sounds of all that came due after ``then`` and up to ``now``: ready, late, pot. None while it is paused."""
    open_session = turns.going_on(session)
    if open_session is None or open_session.paused is not None:
        return ()
    then = max(then, now - STALE)
    heard = set()
    for name in turns.in_rotation(session):
        here = turns.turn_of(session, name, outlooks.get(name))
        due = turns.due_at(session, name, here)
        if due is None or here.kind not in ("pass", "coat", "care", "light", "lit"):
            continue
        if then < due <= now:
            heard.add("ready")
        if then < due + LATE <= now and here.kind in ("pass", "lit", "care"):
            heard.add("late")
    heard |= _paper(session, outlooks, open_session, then, now)
    if any(then < at <= now for at in _pots(session, open_session)):
        heard.add("pot")
    return tuple(s for s in ("ready", "late", "pot") if s in heard)


def _paper(
    session: ShopSession, outlooks: dict[str, Outlook], open_session: BoothSession, then: datetime, now: datetime
) -> set[str]:
    """Under paper: ready once the usual time is over, late once the odds say stop, pot when the paper is used up."""
    found = outlooks.get(session.selected)
    here = turns.turn_of(session, session.selected, found) if session.selected in session.shop.racked else None
    if here is None or session.selected not in open_session.instruments:
        return set()
    try:
        bench = turns.bench_of(session, here, found)
    except InputError:
        return set()
    if bench is None:
        return set()
    start, end = (open_session.worked(at).total_seconds() / 60.0 for at in (then, now))
    bears = bench.most / bench.strokes * bench.minutes
    face = bench.minutes / bench.faces if bench.faces > 1 else float("inf")
    out = {"ready"} if start < bench.minutes <= end else set()
    out |= {"late"} if start < bears <= end else set()
    return out | ({"pot"} if int(end / face) > int(start / face) else set())


def _pots(session: ShopSession, open_session: BoothSession) -> list[datetime]:
    """When each mix is to be used up, and when it is past it."""
    out = []
    for mixed in {m.material: m for m in open_session.mixes}.values():
        pot = pot_of(session, mixed.material)
        if pot is not None:
            over = mixed.at + timedelta(minutes=pot.at(shop_air_C(session)))
            out += [over - timedelta(seconds=WORN_S), over]
    return out
