"""What is done from the shop's days: begun, put off, given to somebody else, done already, held, kept. No Qt."""

from __future__ import annotations

from datetime import date, datetime, timedelta
from typing import TYPE_CHECKING

from msgspec.structs import replace

from ravden.app.by_plan import log_next_step
from ravden.core.errors import InputError, need
from ravden.journal.crew import Pinned
from ravden.journal.entry import iso
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.pin import PinSet, Unpinned
from ravden.journal.kinds.plan_kept import PlanKept
from ravden.journal.kinds.promise import PromiseSet

if TYPE_CHECKING:
    from ravden.app.session import ShopSession
    from ravden.app.shop_days import Doing, ShopDays
    from ravden.app.shop_plan import ShopPlanned
    from ravden.core.schedule.problem import Plan
    from ravden.journal.entry import Entry

ORIGIN = "days"


def later(session: ShopSession, doing: Doing) -> Entry:
    """A piece of work put off: not before the day after the one it is planned for."""
    _need_step(doing)
    after = max(doing.at, session.local(session.now)).date() + timedelta(days=1)
    return _pinned(session, doing, Pinned(not_before=session.shop.hours.begins(after), who=_whose(session, doing)))


def someone_else(session: ShopSession, doing: Doing) -> Entry:
    """A piece of work given to whoever else may do it. Raises InputError where nobody may."""
    _need_step(doing)
    hands = session.shop.crew.hands
    may = [h.name for h in hands if (h.sprays or doing.kind != "coats") and (h.buffs or doing.kind != "wheel")]
    others = [name for name in may if name != doing.who]
    need(bool(others), "", "there is nobody else here who may do it: Shop, People and booth")
    at = may.index(doing.who) if doing.who in may else -1
    following = [name for name in (*may[at + 1 :], *may[: at + 1]) if name != doing.who]
    before = session.shop.on_rack(doing.instrument).pins.get(doing.step, Pinned())
    return _pinned(session, doing, replace(before, who=following[0]))


def pin_here(session: ShopSession, doing: Doing) -> Entry:
    """A piece of work held at the moment and by the hands it is planned for."""
    _need_step(doing)
    named = doing.who if session.shop.crew.named(doing.who) is not None else ""
    return _pinned(session, doing, Pinned(at=doing.at, who=named))


def pin_on(session: ShopSession, instrument: str, step: str, day: date) -> Entry:
    """A step of an instrument held on a day; whose hands it is for stays."""
    before = session.shop.on_rack(instrument).pins.get(step)
    body = PinSet(step=step, day=day.isoformat(), who="" if before is None else before.who)
    return session.log(body, instrument=instrument, origin=ORIGIN)


def unpin(session: ShopSession, doing: Doing) -> Entry:
    """A piece of work held no longer. Raises InputError where it was not."""
    return session.log(Unpinned(step=doing.step), instrument=doing.instrument, origin=ORIGIN)


def done_already(session: ShopSession, doing: Doing) -> Entry:
    """A piece of work logged as done, at the time it was planned for if that is past. Raises InputError where it is not
    what comes next on its instrument, or has more to tell than that it was done."""
    from ravden.app.next_coat import usual_coat_um

    _need_step(doing)
    rack, now = session.shop.on_rack(doing.instrument), session.now
    at = doing.at if doing.at < now else now
    session.select(doing.instrument, ORIGIN)
    if doing.kind == "scuff":
        raise InputError("", f"log the scuff of {doing.name} with its paper: Log a sanding (S)")
    if doing.where == "booth" and not doing.own_coat:
        raise InputError("", f"log this coat of {doing.name} in the Booth: it is of some zones alone")
    need(doing.first, "", f"something else comes first on {doing.name}: log that before")
    if doing.kind in ("coats", "hands") and doing.own_coat:
        return session.log(
            CoatLogged(dry_um=usual_coat_um(rack, at)), instrument=doing.instrument, at=at, origin=ORIGIN
        )
    return log_next_step(session, ORIGIN, at=at)


def keep(session: ShopSession, found: ShopPlanned, plan: Plan | None = None, offer: str = "") -> Entry:
    """The shop keeps to a plan from now on: the one at hand, or one that was offered."""
    from ravden.core.schedule.problem import figures

    shown = found.plan if plan is None else plan
    need(shown is not None and found.problem is not None, "", "there is nothing to plan yet")
    assert shown is not None and found.problem is not None
    told = figures(found.problem, shown)
    steps = tuple(found.steps_of(shown).values())
    body = PlanKept(steps=steps, offer=offer, late_days=told.late_days, moved=told.moved, setups=told.setups)
    return session.log(body, origin=ORIGIN)


def follow(session: ShopSession) -> Entry:
    """The plan follows along again. Raises InputError where none is kept."""
    need(session.shop.kept is not None, "", "no plan is kept: it follows along by itself")
    return session.log(PlanKept(), origin=ORIGIN)


def promise(session: ShopSession, instrument: str, by: datetime, *, firm: bool) -> Entry:
    """An instrument promised for a moment, which has to be met where it is firm; what its days late weigh stays."""
    body = PromiseSet(promised=iso(by), weight=session.shop.on_rack(instrument).weight, firm=firm)
    return session.log(body, instrument=instrument, origin=ORIGIN)


def in_session(days: ShopDays, doing: Doing) -> tuple[str, ...]:
    """The instruments of the session a piece of work belongs to, in the order of their first coats; none where it is no
    part of one."""
    sitting = next((s for s in days.sittings if s.at <= doing.at < s.until and s.who == doing.who), None)
    sprayed = doing.kind in ("coats", "gun")
    return () if sitting is None or not sprayed else sitting.instruments


def _need_step(doing: Doing) -> None:
    need(bool(doing.step) and doing.kind != "case", "", "choose a piece of work on an instrument first")


def _whose(session: ShopSession, doing: Doing) -> str:
    """Whom a piece of work is held for by now."""
    before = session.shop.on_rack(doing.instrument).pins.get(doing.step)
    return "" if before is None else before.who


def _pinned(session: ShopSession, doing: Doing, held: Pinned) -> Entry:
    """Held so from now on, in the place of what held it before."""
    body = PinSet(
        step=doing.step, at="" if held.at is None else iso(held.at),
        day="" if held.day is None else held.day.isoformat(),
        not_before="" if held.not_before is None else iso(held.not_before), who=held.who,
    )  # fmt: skip
    return session.log(body, instrument=doing.instrument, origin=ORIGIN)
