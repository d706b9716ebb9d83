"""The session in the booth as the journal tells it: which instruments, since when, left or over, what was mixed."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from datetime import datetime, timedelta

from ravden.catalogue.tables import Catalogue
from ravden.core.errors import need
from ravden.journal.booth_entries import (
    BOOTH_KINDS,
    OFF_PLAN,
    MixMade,
    SessionBegun,
    SessionEnded,
    SessionPart,
    SessionPaused,
)
from ravden.journal.entries import Body, Entry

LASTS = timedelta(hours=12)  # nothing logged for longer than this: the session is over, though nobody said so
MOST_ML = 100_000.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Mixed:
    """A mix made ready: of what, how much, and when."""

    material: str
    ml: float
    at: datetime


@dataclass(frozen=True, slots=True, kw_only=True)
class BoothSession:
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


def booth_session(counting: Iterable[Entry]) -> BoothSession | None:
    """The newest session of the entries that count, in the order they were written; None: there was none yet."""
    found: BoothSession | None = None
    for e in counting:
        body = e.body
        if isinstance(body, SessionBegun):
            found = BoothSession(
                entry=e.id, begun=e.at, last=e.at, instruments=body.instruments, unchecked=body.unchecked,
                lamp_mW_cm2=body.lamp_mW_cm2, parts=body.parts,
            )  # fmt: skip
            continue
        if found is None or found.ended is not None:
            continue
        if isinstance(body, SessionPaused):
            if not body.on and found.paused is not None:
                found = replace(found, away=found.away + (e.at - found.paused))
            found = replace(found, paused=e.at if body.on else None)
        elif isinstance(body, SessionEnded):
            found = replace(found, ended=e.at)
        elif isinstance(body, MixMade):
            found = replace(found, mixes=(*found.mixes, Mixed(material=body.material, ml=body.ml, at=e.at)))
        if e.instrument in found.instruments or isinstance(body, BOOTH_KINDS):
            found = replace(found, last=max(found.last, e.at))
        if e.instrument in found.instruments:
            found = replace(found, acted=e.at, away=timedelta())
    return found


def check_session(
    body: Body, zones: Mapping[str, tuple[str, ...]], session: BoothSession | None, catalogue: Catalogue
) -> None:
    """Raise InputError where an entry of a session cannot be. zones: of every instrument on the rack."""
    if isinstance(body, SessionBegun):
        need(len(body.instruments) > 0, "instruments", "choose at least one instrument for the session")
        for name in body.instruments:
            need(name in zones, "instruments", f"there is no instrument {name} on the rack")
        need(len(set(body.instruments)) == len(body.instruments), "instruments", "an instrument is named twice")
        for part in body.parts:
            need(part.instrument in body.instruments, "parts", f"{part.instrument} is not in this session")
            need(part.off_plan in OFF_PLAN, "off_plan", f"must be coat or paper (got {part.off_plan})")
            need(len(set(part.zones)) == len(part.zones), "zones", "a zone is named twice")
            for zone in part.zones:
                need(zone in zones[part.instrument], "zones", f"{part.instrument} has no zone {zone} to work on")
        need(0 <= body.lamp_mW_cm2 <= 1e5, "lamp_mW_cm2", "must be a lamp's rating in mW/cm2")
        return
    need(session is not None and session.ended is None, "kind", "no session is going on")
    if isinstance(body, MixMade):
        catalogue.material(body.material)
        need(0 < body.ml <= MOST_ML, "ml", f"must be more than nothing and at most {MOST_ML:.0f} ml")
