"""Who works in the shop, when they are not there, and with what."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime
from typing import ClassVar

from msgspec.structs import replace

from ravden.core.calendar.week import need_week
from ravden.core.errors import need
from ravden.journal.crew import CABINET_C, COMPANY_DAYS, Crew, Gun, Hand, Off, Stations, days_between
from ravden.journal.hours import DAYS, Spans
from ravden.journal.kinds.cabinet import HOTTEST_C
from ravden.journal.kinds.kind import OfShop
from ravden.journal.shop import Shop

MOST_HANDS, MOST_OFF, MOST_NAME, MOST_PLACES, MOST_MIN = 12, 400, 40, 99, 240
MOST_STRUCK = 60


class OfCrew(OfShop, frozen=True):
    """Tells who works, or with what; the films know nothing of it."""

    part: ClassVar[str] = "crew"

    @property
    def bears_on_plans(self) -> bool:
        return False

    def onto(self, shop: Shop, instrument: str, at: datetime, entry: int) -> Shop:
        return replace(shop, crew=self.onto_crew(shop.crew))

    def onto_crew(self, crew: Crew) -> Crew:
        """The crew with it."""
        raise NotImplementedError


class PersonSet(OfCrew, frozen=True, tag="person"):
    """Somebody who works here from now on, or no longer. week: hours by weekday, one that is not named being free; none
    at all for the shop's own hours."""

    name: str
    week: dict[str, Spans] = {}
    sprays: bool = True
    buffs: bool = True
    gone: bool = False

    def limits(self) -> None:
        need(0 < len(self.name.strip()) <= MOST_NAME, "name", f"must be 1 to {MOST_NAME} letters")
        need(self.name == self.name.strip(), "name", "must not begin or end with a space")
        for day in self.week:
            need(day in DAYS, "week", f"{day} is no day; they are {', '.join(DAYS)}")
        if self.week:
            need_week(self._week())

    def check(self, shop: Shop, instrument: str, at: datetime) -> None:
        known = shop.crew.named(self.name) is not None
        need(known or not self.gone, "name", f"nobody here is called {self.name}")
        need(known or len(shop.crew.hands) < MOST_HANDS, "name", f"a shop has at most {MOST_HANDS} people here")

    def _week(self) -> tuple[Spans, Spans, Spans, Spans, Spans, Spans, Spans]:
        return tuple(self.week.get(d, ()) for d in DAYS)  # type: ignore[return-value]

    def onto_crew(self, crew: Crew) -> Crew:
        mine = Hand(name=self.name, week=self._week() if self.week else (), sprays=self.sprays, buffs=self.buffs)
        if crew.named(self.name) is None:
            return crew if self.gone else replace(crew, hands=(*crew.hands, mine))
        rest = [mine if h.name == self.name else h for h in crew.hands if not (self.gone and h.name == self.name)]
        off = tuple(o for o in crew.off if not (self.gone and o.person == self.name))
        return replace(crew, hands=tuple(rest), off=off)


class DayOff(OfCrew, frozen=True, tag="day-off"):
    """Days on which somebody, or with no name whoever works here, is there otherwise than in the week. hours: then;
    none: away all day; cleared: as in the week again."""

    first: str
    last: str = ""
    person: str = ""
    hours: Spans = ()
    cleared: bool = False

    def check(self, shop: Shop, instrument: str, at: datetime) -> None:
        known = not self.person or shop.crew.named(self.person) is not None
        need(known, "person", f"nobody here is called {self.person}")
        need(self.cleared or len(shop.crew.off) < MOST_OFF, "first", f"at most {MOST_OFF} can be kept")

    def limits(self) -> None:
        days_between(self.first, self.last, "first")
        if self.hours:
            need_week((self.hours,) * 7)

    def onto_crew(self, crew: Crew) -> Crew:
        first, last = days_between(self.first, self.last, "first")
        rest = tuple(o for o in crew.off if (o.person, o.first, o.last) != (self.person, first, last))
        if self.cleared:
            return replace(crew, off=rest)
        mine = Off(person=self.person, first=first, last=last, hours=self.hours)
        return replace(crew, off=tuple(sorted((*rest, mine), key=lambda o: (o.first, o.last, o.person))))


class StationsSet(OfCrew, frozen=True, tag="stations"):
    """What the shop has of each from then on. drying_places: None for enough."""

    arbors: int = 1
    cabinet_places: int = 0
    cabinet_C: float = CABINET_C
    drying_places: int | None = None

    def limits(self) -> None:
        for name in ("arbors", "cabinet_places"):
            need(0 <= getattr(self, name) <= MOST_PLACES, name, f"must be 0 to {MOST_PLACES}")
        need(15 <= self.cabinet_C <= HOTTEST_C, "cabinet_C", f"must be 15 to {HOTTEST_C:.0f} °C")
        enough = self.drying_places is None or 1 <= self.drying_places <= MOST_PLACES
        need(enough, "drying_places", f"must be 1 to {MOST_PLACES}, or empty for enough")

    def onto_crew(self, crew: Crew) -> Crew:
        there = Stations(
            arbors=self.arbors, cabinet_places=self.cabinet_places, cabinet_C=self.cabinet_C,
            drying_places=self.drying_places,
        )  # fmt: skip
        return replace(crew, stations=there)


class BoothRule(OfCrew, frozen=True, tag="booth-rule"):
    """How the booth is worked from then on. company_days: what a set-up is worth in days of an instrument, so that a
    session waits for company: 0, 2 or 7; guns: by material."""

    company_days: int = COMPANY_DAYS
    guns: Mapping[str, Gun] = {}

    def check(self, shop: Shop, instrument: str, at: datetime) -> None:
        for material in self.guns:
            shop.catalogue.material(material)

    def limits(self) -> None:
        need(self.company_days in (0, 2, 7), "company_days", "must be 0, 2 or 7")
        for material, gun in self.guns.items():
            for name in ("setup_min", "clean_min"):
                at_most = 0 <= getattr(gun, name) <= MOST_MIN
                need(at_most, f"{material}.{name}", f"must be 0 to {MOST_MIN} minutes")
            need(gun.coldest_C is None or -10 <= gun.coldest_C <= 40, f"{material}.coldest_C", "must be -10 to 40 °C")
            need(gun.dampest is None or 0.1 <= gun.dampest <= 1, f"{material}.dampest", "must be 10 to 100 %")

    def onto_crew(self, crew: Crew) -> Crew:
        return replace(crew, company_days=self.company_days, guns=dict(self.guns))


class DaysStruck(OfCrew, frozen=True, tag="weather-by-hand"):
    """The days nothing is sprayed on, in the place of those said before: ISO dates."""

    days: tuple[str, ...] = ()

    def limits(self) -> None:
        need(len(self.days) <= MOST_STRUCK, "days", f"at most {MOST_STRUCK} days")
        for day in self.days:
            days_between(day, "", "days")

    def onto_crew(self, crew: Crew) -> Crew:
        return replace(crew, struck=frozenset(days_between(day, "", "days")[0] for day in self.days))
