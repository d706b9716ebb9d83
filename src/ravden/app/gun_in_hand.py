"""Whose gun is loaded: by the coats that were laid today of a session that goes on, where no mix tells it. No Qt."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime
from typing import TYPE_CHECKING

from ravden.core.method.slots import parts
from ravden.core.record import Coat

if TYPE_CHECKING:
    from ravden.journal.crew import KeptStep
    from ravden.journal.shop import Shop


def gun_in_hand(shop: Shop, now: datetime, standing: Mapping[tuple[str, str], KeptStep]) -> tuple[str, str]:
    """The finish in the gun and whose it is; empty: none. Of a session that stands for today, and goes on, a coat was
    laid today: after it nobody sets the gun up again."""
    for (instrument, name), kept in standing.items():
        rack, (stage_id, nth) = shop.racked.get(instrument), parts(name)
        stage = None if rack is None else next((s for s in rack.method.stage if s.id == stage_id), None)
        if rack is None or stage is None or stage.kind != "coats" or not nth.isdigit():
            continue
        today = any(shop.hours.local(datetime.fromisoformat(text)).date() == now.date() for text in kept.starts)
        own = rack.instrument.material
        finish = stage.finish or own
        laid = (a for a in reversed(rack.acts) if isinstance(a, Coat) and (a.finish or own) == finish)
        last = next(laid, None)
        if today and last is not None and shop.hours.local(rack.moment(last.at_h)).date() == now.date():
            return finish, kept.who
    return "", ""
