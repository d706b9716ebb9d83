"""The session in the booth as the journal tells it: which instruments, since when, left or over, what was mixed."""

from datetime import datetime, timedelta

import msgspec
from msgspec import Struct

LASTS = timedelta(hours=12)  # nothing logged for longer than this: the session is over, though nobody said so
OFF_PLAN = ("", "coat", "paper")


class SessionPart(msgspec.Struct, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """What a session does to one of its instruments, where that is not just what the plan has next. off_plan: coat or
    paper, though the plan has neither now; zones: only these, in this order; none named: all."""

    instrument: str
    off_plan: str = ""
    zones: tuple[str, ...] = ()


class Mixed(Struct, frozen=True, kw_only=True):
    """A mix made ready: of what, how much, and when."""

    material: str
    ml: float
    at: datetime


class BoothSession(Struct, frozen=True, kw_only=True):
    """The newest session. entry: its place in the journal; last: when anything was logged in it; lamp_mW_cm2: 0 where
    nobody said; paused: since when it has been left; ended: when it was said to be over; acted: when hands last did
    anything, and away since then."""

    entry: int
    begun: datetime
    last: datetime
    instruments: tuple[str, ...]
    unchecked: tuple[str, ...] = ()
    lamp_mW_cm2: float = 0.0
    paused: datetime | None = None
    ended: datetime | None = None
    acted: datetime | None = None
    away: timedelta = timedelta()
    mixes: tuple[Mixed, ...] = ()
    parts: tuple[SessionPart, ...] = ()

    def part(self, instrument: str) -> SessionPart:
        """What it does to an instrument."""
        return next((p for p in self.parts if p.instrument == instrument), SessionPart(instrument=instrument))

    def worked(self, now: datetime) -> timedelta:
        """How long hands have been on what comes after the last act, pauses left out."""
        left = self.away + (now - self.paused if self.paused is not None else timedelta())
        return max(now - (self.acted or self.begun) - left, timedelta())

    def is_open(self, now: datetime) -> bool:
        """Whether it is still going on."""
        return self.ended is None and now - self.last < LASTS
