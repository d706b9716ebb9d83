"""When the air of the shop keeps the booth still: by the forecast, by days struck out, and how often beyond. No Qt."""

from __future__ import annotations

import bisect
import operator
from collections.abc import Mapping, Sequence
from datetime import date, datetime, timedelta
from statistics import median
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from ravden.journal.air import AirRow
    from ravden.journal.hours import ShopHours
    from ravden.journal.shop import Shop

AHEAD_DAYS = 14  # that a forecast is looked through
LAST_H = 3  # that the last row of a forecast holds
SEASON_DAYS, LEAST_DAYS, MOST_BAD = 60, 14, 0.9  # [A] of readings that tell how often a day is a bad one
Bounds = Mapping[str, tuple[float, float]]
Stretches = tuple[tuple[float, float], ...]


def bad_air(shop: Shop, now: datetime) -> dict[str, Stretches]:
    """Stretches that each finish on the rack is not sprayed in, in hours from the midnight before now, on the shop's
    wall."""
    midnight = shop.hours.begins(now.date())
    rows = [r for r in shop.air.forecast if r[0] < midnight + timedelta(days=AHEAD_DAYS)]
    struck = [((day - now.date()).days * 24.0, (day - now.date()).days * 24.0 + 24.0) for day in shop.crew.struck]
    out: dict[str, Stretches] = {}
    for name, (coldest, dampest) in limits(shop).items():
        spans: list[tuple[float, float]] = []
        for n, (at, temp_C, rh) in enumerate(rows):
            if temp_C >= coldest and rh <= dampest:
                continue
            ends = rows[n + 1][0] if n + 1 < len(rows) else at + timedelta(hours=LAST_H)
            a, b = (_on_the_wall(shop, m, now.date()) for m in (at, ends))
            if spans and a <= spans[-1][1]:
                spans[-1] = (spans[-1][0], b)
            else:
                spans.append((a, b))
        if spans or struck:
            out[name] = tuple(sorted([*spans, *struck]))
    return out


def _on_the_wall(shop: Shop, moment: datetime, today: date) -> float:
    """Hours from the midnight of a day by the clock on the wall, which a night in spring puts on by one."""
    there = shop.hours.local(moment)
    return (there.date() - today).days * 24.0 + there.hour + there.minute / 60.0 + there.second / 3600.0


def of_late(shop: Shop, now: datetime) -> tuple[AirRow, ...]:
    """The readings of the last two months."""
    told = shop.air.told
    return told[bisect.bisect_left(told, now - timedelta(days=SEASON_DAYS), key=operator.itemgetter(0)) :]


def bad_odds(rows: Sequence[AirRow], hours: ShopHours, bounds: Bounds) -> dict[str, float]:
    """The odds of a day of bad air where nobody forecasts it: the share of such days among these readings, where there
    are enough of them. A logger's are many: it is asked for off the GUI thread."""
    by_day: dict[date, list[tuple[float, float]]] = {}
    for at, temp_C, rh, *_ in rows:
        by_day.setdefault(hours.local(at).date(), []).append((temp_C, rh))
    if len(by_day) < LEAST_DAYS:
        return {}
    middle = [(median(c for c, _ in day), median(rh for _, rh in day)) for day in by_day.values()]
    shares = {
        name: sum(c < coldest or rh > dampest for c, rh in middle) / len(middle)
        for name, (coldest, dampest) in bounds.items()
    }
    return {name: min(share, MOST_BAD) for name, share in shares.items() if share > 0}


def loaded(shop: Shop, now: datetime) -> str:
    """What is in a gun now, as far as the journal tells: what was mixed for the session that is going on."""
    going_on = shop.session
    if going_on is None or not going_on.is_open(now) or not going_on.mixes:
        return ""
    return going_on.mixes[-1].material


def limits(shop: Shop) -> dict[str, tuple[float, float]]:
    """The coldest [C] and the dampest air each finish on the rack is laid in: its own limits, or the shop's."""
    racked, guns = shop.racked.values(), shop.crew.guns
    used = {s.finish or r.instrument.material for r in racked for s in r.method.stage if s.kind == "coats"}
    out = {}
    for name in sorted(used):
        material, gun = shop.catalogue.material(name), guns.get(name)
        out[name] = (
            material.dries_C if gun is None or gun.coldest_C is None else gun.coldest_C,
            material.dries_rh if gun is None or gun.dampest is None else gun.dampest,
        )
    return out
