"""A session in the booth: begun, left for a while, over; and what is mixed for it."""

from __future__ import annotations

from datetime import datetime
from typing import ClassVar

from ravden.core.errors import need
from ravden.journal.booth import OFF_PLAN, SessionPart
from ravden.journal.kinds.kind import OfShop
from ravden.journal.shop import Shop

MOST_ML = 100_000.0


class OfSession(OfShop, frozen=True):
    """Tells of a session that is going on."""

    part: ClassVar[str] = "session"

    @property
    def bears_on_plans(self) -> bool:
        return False

    def check(self, shop: Shop, instrument: str, at: datetime) -> None:
        need(shop.session is not None and shop.session.ended is None, "kind", "no session is going on")

    def onto(self, shop: Shop, instrument: str, at: datetime, entry: int) -> Shop:
        return shop  # the session is told from the entries since it began: journal/fold.py


class SessionBegun(OfSession, frozen=True, tag="session"):
    """A session in the booth, on these instruments in this order. unchecked: what was not ticked on the list before
    it; lamp_mW_cm2: of the curing lamp at the work, 0 where nobody said; parts: what is done otherwise than planned."""

    instruments: tuple[str, ...]
    unchecked: tuple[str, ...] = ()
    lamp_mW_cm2: float = 0.0
    parts: tuple[SessionPart, ...] = ()

    @property
    def bears_on_plans(self) -> bool:
        return self.lamp_mW_cm2 > 0

    def check(self, shop: Shop, instrument: str, at: datetime) -> None:
        for name in self.instruments:
            need(name in shop.racked, "instruments", f"there is no instrument {name} on the rack")
        for part in self.parts:
            need(part.instrument in self.instruments, "parts", f"{part.instrument} is not in this session")
            need(part.off_plan in OFF_PLAN, "off_plan", f"must be coat or paper (got {part.off_plan})")
            need(len(set(part.zones)) == len(part.zones), "zones", "a zone is named twice")
            open_zones = shop.racked[part.instrument].open_zones
            for zone in part.zones:
                need(zone in open_zones, "zones", f"{part.instrument} has no zone {zone} to work on")

    def limits(self) -> None:
        need(len(self.instruments) > 0, "instruments", "choose at least one instrument for the session")
        need(len(set(self.instruments)) == len(self.instruments), "instruments", "an instrument is named twice")
        need(0 <= self.lamp_mW_cm2 <= 1e5, "lamp_mW_cm2", "must be a lamp's rating in mW/cm2")


class SessionPaused(OfSession, frozen=True, tag="pause"):
    """The session was left, or gone on with; the film goes on drying either way."""

    on: bool = True


class SessionEnded(OfSession, frozen=True, tag="session-end"):
    """The session in the booth is over."""


class MixMade(OfSession, frozen=True, tag="mix"):
    """Material made ready, in ml; in a session its pot life runs from then on. supplied_ml, thinner_ml: what of it
    came out of the can of the finish, and of thinner, where that was said: flakes come out of none."""

    material: str
    ml: float
    supplied_ml: float | None = None
    thinner_ml: float | None = None

    def check(self, shop: Shop, instrument: str, at: datetime) -> None:
        shop.catalogue.material(self.material)

    def limits(self) -> None:
        need(0 < self.ml <= MOST_ML, "ml", f"must be more than nothing and at most {MOST_ML:.0f} ml")
        for name in ("supplied_ml", "thinner_ml"):
            told = getattr(self, name)
            need(told is None or 0 <= told <= MOST_ML, name, "cannot be")
        need((self.supplied_ml is None) == (self.thinner_ml is None), "thinner_ml", "goes with supplied_ml")
