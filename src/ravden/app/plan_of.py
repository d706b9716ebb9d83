"""The plan of an instrument at a moment, by itself or in its shop, for files that carry it."""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING

from msgspec.structs import replace

from ravden.app.outlook_request import request
from ravden.catalogue.assemble import drawer_of
from ravden.exchange.instrument import StepOut
from ravden.journal.shop import Shop

if TYPE_CHECKING:
    from ravden.core.ahead.outlook import Outlook
    from ravden.core.ahead.steps import Held
    from ravden.core.climate.series import Cabinet
    from ravden.core.state.history import Memory


def plan_of(shop: Shop, instrument_id: str, now: datetime) -> Outlook:
    """The outlook of one instrument as if it had all hands to itself, by the clock on the shop's wall."""
    drawer = drawer_of(shop.catalogue, shop.drawer)
    return request(shop, instrument_id, drawer, now, shop.hours.local, {}).run()


def plan_in_shop(shop: Shop, instrument_id: str, now: datetime) -> Outlook:
    """The same as the window has it: dated by the plan of the whole shop."""
    from ravden.app.whole_plan import whole_plan

    shop.on_rack(instrument_id)
    drawer = drawer_of(shop.catalogue, shop.drawer)
    memories: dict[str, Memory] = {}

    def ask(name: str, held: Held, stays: tuple[Cabinet, ...]) -> Outlook:
        asked = request(shop, name, drawer, now, shop.hours.local, memories)
        return replace(asked, held=held, stays=stays).run()

    outlooks = whole_plan(shop, now, ask)[1]
    return outlooks[instrument_id] if instrument_id in outlooks else ask(instrument_id, {}, ())  # to say why not


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
