"""Whose gun is loaded: by the coats that were laid today of a session that goes on, where no mix tells it. No Qt."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime
from typing import TYPE_CHECKING

from ravden.core.method.slots import parts
from ravden.core.record import Coat

STANDS_H = 3.0  # [A] that a gun stands loaded between two coats of a session: after that it is cleaned

if TYPE_CHECKING:
    from ravden.journal.crew import KeptStep
    from ravden.journal.shop import Shop


def gun_in_hand(shop: Shop, now: datetime, standing: Mapping[tuple[str, str], KeptStep]) -> tuple[str, str]:
    """The finish in the gun and whose it is; empty: none. Of a session that stands for today a coat was laid a while
    ago, and the next is due: nobody sets the gun up again for it."""
    for (instrument, name), kept in standing.items():
        rack, (stage_id, nth) = shop.racked.get(instrument), parts(name)
        stage = None if rack is None else next((s for s in rack.method.stage if s.id == stage_id), None)
        if rack is None or stage is None or stage.kind != "coats" or not nth.isdigit():
            continue
        next_at = min(datetime.fromisoformat(text) for text in kept.starts)
        own = rack.instrument.material
        finish = stage.finish or own
        laid = (a for a in reversed(rack.acts) if isinstance(a, Coat) and (a.finish or own) == finish)
        last = next(laid, None)
        if last is None or shop.hours.local(next_at).date() != now.date():
            continue
        if rack.hours(next_at) - last.at_h <= STANDS_H and rack.hours(now) - last.at_h <= STANDS_H:
            return finish, kept.who
    return "", ""
