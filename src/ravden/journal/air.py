"""The shop's air as the journal tells it: by hand, by logger, by forecast, and the usual for the month."""

import bisect
import functools
import operator
import threading
from collections.abc import Iterable, Sequence
from datetime import datetime, timedelta

from msgspec import Struct, field
from msgspec.structs import replace

from ravden.core.climate.series import COMING_H, GAP_H, OWN_H, Gap, mean_C, merged, own_course
from ravden.core.record import Air
from ravden.journal.hours import ShopHours

Span = tuple[datetime, datetime]
AirRow = tuple[datetime, float, float, str]  # when, C, humidity [-], told or log
MOST_KEPT = 64  # instruments whose readings are kept in hours of their own
FELT = threading.Lock()  # outlooks being worked out fill what each instrument felt while the window tells more air
AHEAD_DAYS = 400  # how far the usual air is laid out


class ShopAir(Struct, frozen=True, kw_only=True, dict=True):
    """Everything told about the air, by moment; usual: twelve (C, humidity), empty where nobody said; hours:
    the clock its months go by."""

    told: tuple[AirRow, ...] = ()
    forecast: tuple[tuple[datetime, float, float], ...] = ()
    usual: tuple[tuple[float, float], ...] = ()
    hours: ShopHours = field(default_factory=ShopHours)

    @functools.cached_property
    def _felt(self) -> dict[datetime, tuple[Air, ...]]:
        """Each instrument's own hours of what was told, made when first asked for."""
        return {}

    @functools.cached_property
    def last(self) -> datetime | None:
        """The moment of the newest reading."""
        return max((at for at, *_ in self.told), default=None)

    def with_rows(self, rows: Iterable[AirRow]) -> "ShopAir":
        """The same with more readings, written later: what they tell of a minute told already takes its place."""
        more = [row for _, row in sorted({row[0]: row for row in rows}.items())]
        if self.told and more and more[0][0] <= self.told[-1][0]:
            both = {row[0]: row for row in (*self.told, *more)}
            return replace(self, told=tuple(row for _, row in sorted(both.items())))
        out = replace(self, told=(*self.told, *more))
        with FELT:
            before = list(self._felt.items())
        # What was told before is as it was: only the new is made for each instrument that has asked.
        out._felt.update(
            (zero, (*felt, *_in_hours(more, zero))) for zero, felt in before if not more or more[0][0] >= zero
        )
        return out

    def counts_for(self, rows: Sequence[AirRow], zero: datetime) -> bool:
        """Whether readings still to be told bear on what came at zero: not where a later one was in force by then."""
        in_force = bisect.bisect_right(self.told, zero, key=operator.itemgetter(0)) - 1
        return in_force < 0 or max(rows)[0] >= self.told[in_force][0]

    def with_forecast(self, rows: Iterable[tuple[datetime, float, float]]) -> "ShopAir":
        """The same with another forecast: the newest counts."""
        return replace(self, forecast=tuple(rows))

    def with_usual(self, months: tuple[tuple[float, float], ...]) -> "ShopAir":
        """The same with other usual air."""
        return replace(self, usual=months)

    def series(
        self, zero: datetime, now: datetime, *, away: Sequence[Span] = (), kept: bool = False
    ) -> tuple[tuple[Air, ...], tuple[Gap, ...]]:
        """The air in hours from zero, known up to now and expected after it, and the gaps in it. away: when it was not
        felt; kept: it will be asked for from the same zero again, as an instrument does."""

        def hours(moment: datetime) -> float:
            return (moment - zero).total_seconds() / 3600.0

        told = self._felt.get(zero)
        if told is None:
            # What an instrument stood in before it came, it never felt: the one in force then is the first to count.
            first = max(bisect.bisect_right(self.told, zero, key=operator.itemgetter(0)) - 1, 0)
            told = _in_hours(self.told[first:], zero)
            if kept:
                with FELT:
                    while len(self._felt) >= MOST_KEPT:
                        self._felt.pop(next(iter(self._felt)))
                    self._felt[zero] = told
        ahead = [Air(at_h=hours(at), temp_C=c, rh=rh, source="forecast") for at, c, rh in self.forecast]
        gone = [(hours(a), hours(b)) for a, b in away]
        own = () if self.usual else own_course(self._of_late(zero, now), hours(now))
        rows, gaps = merged(_not_away(told, gone), self._months(zero, now, hours), ahead, hours(now), own)
        return rows, tuple(g for g in gaps if not any(g.from_h < b and g.to_h > a for a, b in gone))

    def to_come_C(self, now: datetime) -> float:
        """The mean of the air that a wait begun now would mostly dry in [C]."""
        return mean_C(self.series(now, now)[0], 0.0, COMING_H)

    def _of_late(self, zero: datetime, now: datetime) -> tuple[Air, ...]:
        """What was read of late, whoever felt it: the air to come is one for every instrument."""
        key = operator.itemgetter(0)
        first = max(bisect.bisect_left(self.told, now - timedelta(hours=OWN_H + GAP_H), key=key), 0)
        return _in_hours(self.told[first : bisect.bisect_right(self.told, now, key=key)], zero)

    def _months(self, zero: datetime, now: datetime, hours: object) -> list[Air]:
        if not self.usual:
            return []
        first = self.hours.local(min([zero, *(at for at, *_ in self.told[:1])])).date().replace(day=1)
        out, month = [], first
        while (at := self.hours.begins(month)) < now + timedelta(days=AHEAD_DAYS):
            temp, rh = self.usual[month.month - 1]
            out.append(Air(at_h=hours(at), temp_C=temp, rh=rh, source="usual"))  # type: ignore[operator]
            month = (month + timedelta(days=32)).replace(day=1)
        return out


def _not_away(told: tuple[Air, ...], away: Sequence[tuple[float, float]]) -> tuple[Air, ...]:
    """Readings without those of hours away; the one in force at coming back begins then."""
    for gone_h, back_h in away:
        before = [a for a in told if a.at_h <= back_h]
        kept = [a for a in told if not gone_h < a.at_h <= back_h]
        if before:
            kept.append(replace(max(before, key=lambda a: a.at_h), at_h=back_h))
        told = tuple(sorted(kept, key=lambda a: a.at_h))
    return told


def _in_hours(rows: Iterable[AirRow], zero: datetime) -> tuple[Air, ...]:
    """Readings counted in hours from a moment."""
    return tuple(
        Air(at_h=(at - zero).total_seconds() / 3600.0, temp_C=c, rh=rh, source=source) for at, c, rh, source in rows
    )
