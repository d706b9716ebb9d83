"""The plan of a whole shop and every outlook dated by it, one after the other, for where nobody waits at a window."""

from __future__ import annotations

import contextlib
from collections.abc import Callable
from datetime import datetime
from typing import TYPE_CHECKING

from ravden.app.shop_days import ShopDays, days_of
from ravden.app.shop_plan import planned, snapshot, stands
from ravden.core.errors import InputError

if TYPE_CHECKING:
    from ravden.core.ahead.outlook import Outlook
    from ravden.core.ahead.steps import Held
    from ravden.core.climate.series import Cabinet
    from ravden.journal.shop import Shop

ROUNDS = 3  # that it is made again while an outlook dated by it asks for other waits
Asks = Callable[[str, "Held", "tuple[Cabinet, ...]"], "Outlook"]


def whole_plan(shop: Shop, now: datetime, ask: Asks) -> tuple[ShopDays, dict[str, Outlook]]:
    """The days of a shop and its outlooks, without instruments whose record cannot be worked out. ask: for the outlook
    of an instrument, dated by where hands are on it and when it stands in the cabinet."""
    days, outlooks = ShopDays(), {}
    for instrument in shop.racked:
        with contextlib.suppress(InputError):
            outlooks[instrument] = ask(instrument, {}, ())
    for _ in range(ROUNDS + 1):
        made = days.made
        if made is not None and stands(made, outlooks):
            break
        days = days_of(planned(snapshot(shop, now, outlooks, {} if made is None else made.steps)))
        assert days.made is not None
        held, stays = days.made.held, days.made.stays
        outlooks = {i: ask(i, held.get(i, {}), stays.get(i, ())) for i in outlooks}
    return days, outlooks
