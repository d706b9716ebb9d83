"""Where each instrument stands, as the core has it, put together from the shop and what has been worked out. No Qt."""

from __future__ import annotations

import functools
from dataclasses import replace
from datetime import datetime, timedelta
from typing import TYPE_CHECKING

from ravden.app.session import ShopSession
from ravden.core.errors import InputError
from ravden.core.method.habit import LAMP_MW_CM2
from ravden.core.session.booth import turn
from ravden.core.session.off_plan import off_plan_turn
from ravden.core.session.turns import CoatTurn, OtherTurn, Turn, turned
from ravden.journal.booth import BoothSession, SessionPart

if TYPE_CHECKING:
    from ravden.core.abrasive.scuff import ScuffHabit
    from ravden.core.ahead.outlook import Outlook
    from ravden.core.session.bench import BenchTurn
    from ravden.journal.rack import OnRack

IN_HAND = ("pass", "coat", "stop", "care", "light", "lit", "mend")  # kinds of turn that the Booth itself goes on with
RECENT = timedelta(hours=12)  # the page after a session is shown for so long, until it has been read
SANDED = ("level", "buff", "scuff")


def going_on(session: ShopSession) -> BoothSession | None:
    """The session that is going on; None: none is."""
    found = session.shop.session
    return found if found is not None and found.is_open(session.now) else None


def part_of(session: ShopSession, instrument: str) -> SessionPart:
    """What the session going on does to an instrument otherwise than the plan has it."""
    found = going_on(session)
    return found.part(instrument) if found is not None else SessionPart(instrument=instrument)


def named_zones(session: ShopSession, instrument: str) -> tuple[str, ...]:
    """Zones the session going on was said to be on, in its order; none: nobody said."""
    return _still_open(part_of(session, instrument), session.shop.on_rack(instrument))


def _still_open(part: SessionPart, rack: OnRack) -> tuple[str, ...]:
    """Zones named for a session, without those masked since."""
    return tuple(z for z in part.zones if z in rack.open_zones)


def turn_of(session: ShopSession, instrument: str, found: Outlook | None, part: SessionPart | None = None) -> Turn:
    """Where an instrument stands now. part: what a session would do to it; none: what the one going on does."""
    rack = session.shop.on_rack(instrument)
    opens = None
    if found is not None:
        mine = [c.at_h for c in found.forward.coats if c.zones is None]
        opens = mine[0] if mine else None
    open_session = going_on(session)
    lamp = (open_session.lamp_mW_cm2 if open_session is not None else 0.0) or LAMP_MW_CM2
    tables, now_h = session.catalogue.booth, rack.hours(session.now)
    here = turn(rack.project, rack.method, tables.habit, now_h, opens, tables.places, lamp)
    part = part_of(session, instrument) if part is None else part
    if part.off_plan == "paper":
        return turned(OtherTurn, here, label="Sand or rub out", off_plan=True, clock_back=False)
    named = _still_open(part, rack)
    only = named if set(named) != set(rack.open_zones) else ()
    planned = here.kind in ("pass", "coat", "stop") and not here.zones and not here.mends
    if part.off_plan == "coat" or (only and planned):
        begun_h = now_h if open_session is None else rack.hours(open_session.begun)
        return off_plan_turn(rack.project, rack.method, tables.habit, now_h, begun_h, only)
    if (
        isinstance(here, CoatTurn)
        and here.before
        and open_session is not None
        and instrument in open_session.instruments
    ):
        # Who takes an instrument into a session has done that work, whether it was logged or not.
        return replace(here, due_h=None)
    return here


def due_at(session: ShopSession, instrument: str, here: Turn) -> datetime | None:
    """When a turn is due; None: nobody knows."""
    return None if here.due_h is None else session.shop.on_rack(instrument).moment(here.due_h)


def to_sand(here: Turn, found: Outlook | None) -> bool:
    """Whether paper is what comes next, and its window is open as far as is known."""
    if found is None or here.kind != "other":
        return False
    if here.off_plan:
        return True
    stage = found.method.stage[here.index]
    if stage.kind in ("level", "rub-out", "scuff"):
        return True
    if stage.kind != "wait" or stage.window not in SANDED or not found.forward.windows:
        return False
    opens = found.forward.windows[0].likely_h
    return opens is not None and opens <= found.now_h


def bench_of(session: ShopSession, here: Turn, found: Outlook | None) -> BenchTurn | None:
    """What paper does now; None: it is not paper's turn. Raises InputError with the reason where nothing can be
    sanded."""
    if found is None or not to_sand(here, found):
        return None
    from ravden.core.abrasive.scuff import chemistry

    zones = named_zones(session, found.project.instrument.id)
    stage = None if here.off_plan else found.method.stage[here.index]
    if stage is None or (stage.kind != "scuff" and stage.window != "scuff"):
        return _bench(found, None, zones)
    habit = session.catalogue.scuffs.get(chemistry(found.project.material))
    if habit is None:
        raise InputError("", f"{found.project.material.label} is not scuffed")
    return _bench(found, habit, zones)


@functools.lru_cache(maxsize=8)
def _bench(found: Outlook, habit: ScuffHabit | None, zones: tuple[str, ...]) -> BenchTurn:
    """Asked for four times a second, and the same until something is logged."""
    from ravden.core.session.bench import bench

    return bench(found, habit, zones)


def may_be_sanded(found: Outlook | None) -> bool:
    """Whether paper may go on an instrument, whatever the plan has."""
    try:
        return found is not None and _bench(found, None, ()) is not None
    except InputError:
        return False


def wants_hands(session: ShopSession, here: Turn, found: Outlook | None) -> bool:
    """Whether the Booth has something to run on an instrument at all."""
    return here.kind in IN_HAND or to_sand(here, found)


def worked_min(session: ShopSession) -> float:
    """Minutes since the last act of the session, pauses left out; 0 without one."""
    found = going_on(session)
    return 0.0 if found is None else found.worked(session.now).total_seconds() / 60.0


def in_rotation(session: ShopSession) -> tuple[str, ...]:
    """The instruments of the session going on that are still on the rack, in its order."""
    found = going_on(session)
    return tuple(i for i in found.instruments if i in session.shop.racked) if found is not None else ()


def next_in_rotation(session: ShopSession, outlooks: dict[str, Outlook]) -> str:
    """The instrument hands turn to after an act: what is ready first, in the session's order from here on; the same one
    where nothing else wants hands sooner."""
    names = in_rotation(session)
    here = session.selected
    if len(names) < 2 or here not in names:
        return here
    if to_sand(turn_of(session, here, outlooks.get(here)), outlooks.get(here)):
        return here  # paper stays on one instrument until it is done
    at = names.index(here)
    best, best_left = here, float("inf")
    for name in (*names[at + 1 :], *names[: at + 1]):
        now = turn_of(session, name, outlooks.get(name))
        if now.kind not in ("pass", "coat", "care", "light", "lit", "mend"):
            continue
        due = due_at(session, name, now)
        left = 0.0 if due is None else max((due - session.now).total_seconds(), 0.0)
        if left < best_left:
            best, best_left = name, left
    return best
