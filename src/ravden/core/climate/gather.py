"""What a sensor says every few seconds, gathered to the few readings a shop's record needs."""

from collections import deque
from datetime import datetime, timedelta
from statistics import median

from ravden.core.climate.series import NOTICE_K, NOTICE_RH

SPAN = timedelta(minutes=5)  # [A] of which the middle counts: a door opened, a breath on the sensor are none of it
APART = timedelta(seconds=4)  # readings closer than this add nothing to the middle
STILL = timedelta(hours=3)  # [A] air that does not change is said again after this, so that it is known to be so
REFILL = timedelta(minutes=55)  # a reading more may be kept for every one of these: 9 557 a year
IN_HAND = 6  # [A] that may be kept at once when the air really turns, as when the heating goes on

SET_BACK = timedelta(minutes=10)  # [A] further back than a reading that comes late
Reading = tuple[datetime, float, float]


class Gathering:
    """Readings of one sensor in the order they come: moment, C, humidity [-]."""

    def __init__(self) -> None:
        self._late: deque[Reading] = deque()
        self._kept: Reading | None = None
        self._left, self._since = float(IN_HAND), datetime.min

    def heard(self, at: datetime, temp_C: float, rh: float) -> Reading | None:
        """One reading more; what is to be kept now, if anything is. One that goes back in time is passed over; so far
        back that the clock must have been set, it begins anew.

        >>> from datetime import UTC
        >>> g, t = Gathering(), datetime(2026, 3, 1, tzinfo=UTC)
        >>> g.heard(t, 20.0, 0.5) is not None, g.heard(t + timedelta(seconds=5), 20.4, 0.5)
        (True, None)
        """
        if self._late and timedelta(0) <= at - self._late[-1][0] < APART:
            return None
        if self._late and at < self._late[-1][0] - SET_BACK:
            self._late.clear()
            self._kept = None
        elif self._late and at < self._late[-1][0]:
            return None
        self._late.append((at, temp_C, rh))
        while at - self._late[0][0] > SPAN:
            self._late.popleft()
        temp, share = median(r[1] for r in self._late), median(r[2] for r in self._late)
        last = self._kept
        if last is None:
            self._since = at
        else:
            self._left = min(self._left + (at - self._since) / REFILL, IN_HAND)
            self._since = at
            turned = abs(temp - last[1]) >= NOTICE_K or abs(share - last[2]) >= NOTICE_RH
            if not (turned or at - last[0] >= STILL) or self._left < 1:
                return None
        self._left -= 1
        self._kept = (at, round(temp, 2), round(share, 4))
        return self._kept
