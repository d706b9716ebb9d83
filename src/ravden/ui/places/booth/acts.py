"""What the Booth's keys write in the journal. No Qt."""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING

from ravden.app.next_coat import next_mend
from ravden.app.session import ShopSession
from ravden.core.errors import NO_INSTRUMENT, InputError
from ravden.core.record.word import FASTEST, SLOWEST
from ravden.core.session.turns import CareTurn, CoatTurn, LightTurn, MendTurn
from ravden.journal.entry import Entry
from ravden.journal.kinds.booth_acts import CareLogged, PassLogged
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.kind import Kind
from ravden.journal.kinds.light import ExposureLogged, LightOnLogged
from ravden.journal.kinds.mishap import MishapLogged
from ravden.journal.kinds.sanding import SandingLogged
from ravden.journal.kinds.session import MixMade, SessionBegun, SessionEnded, SessionPaused
from ravden.journal.kinds.step import StepLogged
from ravden.ui.places.booth import turns

if TYPE_CHECKING:
    from ravden.core.ahead.outlook import Outlook
    from ravden.core.session.bench import BenchTurn

OWN = (
    PassLogged, CoatLogged, MishapLogged, CareLogged, LightOnLogged, ExposureLogged, SandingLogged, SessionPaused,
    MixMade, SessionBegun, SessionEnded, StepLogged,
)  # fmt: skip


def act(session: ShopSession, found: Outlook | None) -> Kind:
    """What Space logs now. Raises InputError where hands have nothing to do."""
    rack = session.rack
    if rack is None:
        raise InputError("", NO_INSTRUMENT, remedy="instrument")
    here = turns.turn_of(session, session.selected, found)
    if isinstance(here, MendTurn) or here.mends:
        own = next_mend(rack, session.now)
        if own is not None:
            return own
    if isinstance(here, CareTurn):
        return CareLogged(what=here.what)
    if isinstance(here, LightTurn):
        return _light_given(session, here) if here.on else LightOnLogged(zones=here.zones, mW_cm2=here.mW_cm2)
    if here.kind in ("other", "done"):
        bench = turns.bench_of(session, here, found)
        if bench is None:
            raise InputError("", f"no coat is next on {rack.instrument.name}: {here.label}")
        return _sanded(bench, turns.worked_min(session))
    if isinstance(here, CoatTurn) and not here.ends_coat:
        return PassLogged()
    material = session.catalogue.material(here.finish) if here.finish else rack.project.material
    return CoatLogged(
        dry_um=rack.project.dry_um(material, here.by, here.um), finish=here.finish, zones=here.zones or None
    )


def _light_given(session: ShopSession, here: LightTurn) -> ExposureLogged:
    rack = session.shop.on_rack(session.selected)
    since = rack.hours(session.now) if here.since_h is None else here.since_h
    seconds = max((rack.hours(session.now) - since) * 3600.0, 0.0)
    if here.clock_back or seconds < 0.1:
        seconds = here.seconds  # the clock cannot say how long it was on: the dose that was asked for
    how = f"lamp of {here.mW_cm2:g} mW/cm² for {seconds:.0f} s"
    return ExposureLogged(dose_mJ_cm2=round(here.mW_cm2 * seconds, 1), zones=here.zones, how=how)


def _sanded(bench: BenchTurn, worked_min: float) -> SandingLogged:
    """What paper did; worked_min: since the last act, which is how long it took where that can be."""
    timed = FASTEST * bench.minutes <= worked_min <= SLOWEST * bench.minutes
    return SandingLogged(
        um=round(max(bench.entry_um, 0.01), 2), grade=bench.rung.abrasive.name, purpose=bench.purpose,
        zones=(bench.zone.name,), part=bench.part, mode=bench.mode, minutes=round(worked_min, 2) if timed else 0.0,
    )  # fmt: skip


def mishap(session: ShopSession, found: Outlook | None, what: str, zone: str) -> MishapLogged:
    """What went wrong on a zone, with the grade it came after where paper is in hand."""
    here = turns.turn_of(session, session.selected, found)
    try:
        bench = turns.bench_of(session, here, found)
    except InputError:
        bench = None
    rack = session.shop.on_rack(session.selected)
    colour = what == "sand-through" and rack.project.coloured(zone, rack.hours(session.now))
    return MishapLogged(what=what, zone=zone, colour=colour, grade="" if bench is None else bench.rung.abrasive.name)


def moment_of(session: ShopSession, instrument: str) -> datetime:
    """When an act of now is logged as done: now, or just after the act before it where the clock was set back."""
    newest = max((e.at for e in session.entries if e.instrument == instrument), default=session.now)
    return max(session.now, newest)


def own_last(session: ShopSession, last: Entry | None) -> Entry:
    """The newest entry, where it is one of the session's. Raises InputError where it is not."""
    newest = session.shop.session
    if last is None or not isinstance(last.body, OWN):
        raise InputError("", "the last entry is no act of the Booth; take it back with Ctrl+Z")
    if newest is None or last.id < newest.entry or (turns.going_on(session) is None and newest.ended is None):
        raise InputError("", "no session is going on; Ctrl+Z takes back what was logged last")
    return last
