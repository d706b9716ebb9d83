"""Time is a thing passed in, so that tests turn it by hand."""

from datetime import UTC, datetime, timedelta
from typing import Protocol


class Clock(Protocol):
    """Something that tells the time."""

    def now(self) -> datetime:
        """Aware UTC."""
        ...


class SystemClock:
    """The machine's clock."""

    def now(self) -> datetime:
        return datetime.now(UTC)


class HandClock:
    """A clock that stands still until it is turned."""

    def __init__(self, start: datetime) -> None:
        self.time = start

    def now(self) -> datetime:
        return self.time

    def turn(self, **by: float) -> None:
        """Turn it on by timedelta's arguments."""
        self.time += timedelta(**by)
