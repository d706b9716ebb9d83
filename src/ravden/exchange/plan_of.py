"""The plan of an instrument at a moment, as the window has it, for files that carry it."""

from __future__ import annotations

from datetime import datetime

from ravden.catalogue.assemble import drawer_of
from ravden.core.plan.hours import WorkHours
from ravden.core.plan.outlook import Outlook, outlook
from ravden.exchange.instrument import StepOut
from ravden.journal.shop import Shop


def plan_of(shop: Shop, instrument_id: str, now: datetime) -> Outlook:
    """The outlook of one instrument; now carries the shop's time zone, whose hours are its opening hours."""
    rack = shop.on_rack(instrument_id)
    zero = rack.zero.astimezone(now.tzinfo)
    hours = WorkHours(hour_at_zero=zero.hour + zero.minute / 60)
    return outlook(rack.project_at(now), rack.method, drawer_of(shop.catalogue, shop.drawer), rack.hours(now), hours)


def steps_out(shop: Shop, instrument_id: str, found: Outlook) -> list[StepOut]:
    """The steps still to come, dated."""
    rack = shop.on_rack(instrument_id)
    stages = found.method.stage
    return [
        StepOut(step=stages[s.index].label, kind=stages[s.index].kind, begins=_minute(rack.moment(s.from_h)),
                ends=_minute(rack.moment(s.to_h)), hands_h=round(s.hands_h, 3))
        for s in found.forward.steps
    ]  # fmt: skip


def _minute(at: datetime) -> datetime:
    return at.replace(second=0, microsecond=0)
