"""Deeds of a made-up shop, of every kind there is an entry for: logged late and early, corrected, taken back and
brought back, handed over and forgotten. What cannot be is refused, and is no deed."""

from datetime import UTC, datetime, timedelta

import msgspec

from ravden.app import stock
from ravden.app.forgetting import forget_person
from ravden.catalogue.assemble import measures_of
from ravden.catalogue.method_files import write_method
from ravden.core.errors import InputError
from ravden.core.method.slots import slot, starts
from ravden.core.method.steps import Stage
from ravden.core.record import Coat, Mishap
from ravden.core.stock.product import Product
from ravden.journal.counting import effective
from ravden.journal.crew import Gun, KeptStep
from ravden.journal.hours import Closed
from ravden.journal.kinds.air import SENSOR, AirLogged, AirSeries, AirUsual
from ravden.journal.kinds.booth_acts import CareLogged, PassLogged
from ravden.journal.kinds.cabinet import CabinetLogged
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.crew import BoothRule, DayOff, DaysStruck, PersonSet, StationsSet
from ravden.journal.kinds.drawer import DrawerSet
from ravden.journal.kinds.handed_over import CheckSeen
from ravden.journal.kinds.hour_price import HourPriced
from ravden.journal.kinds.hours import HoursSet
from ravden.journal.kinds.instrument import InstrumentAdded
from ravden.journal.kinds.learning import LearningRuled
from ravden.journal.kinds.light import ExposureLogged, LightOnLogged
from ravden.journal.kinds.look import LookNoted
from ravden.journal.kinds.method import MethodKept
from ravden.journal.kinds.mishap import DefectLooked, DefectTold, MishapLogged, RepairChosen, RepairLeft
from ravden.journal.kinds.pin import PinSet, Unpinned
from ravden.journal.kinds.plan import PlanSet
from ravden.journal.kinds.plan_kept import PlanKept
from ravden.journal.kinds.price import PriceSet
from ravden.journal.kinds.promise import PromiseSet
from ravden.journal.kinds.rate import RateAccepted
from ravden.journal.kinds.reading import ReadingLogged
from ravden.journal.kinds.sanding import SandingLogged
from ravden.journal.kinds.session import MixMade, SessionBegun, SessionEnded, SessionPaused
from ravden.journal.kinds.shop_name import ShopNamed
from ravden.journal.kinds.step import StepLogged
from ravden.journal.kinds.stock import CanWeighed, LotBought, LotGone, LotOpened, LotTaken, ProductTold
from ravden.journal.kinds.zones import ZonesSet

BEGUN = datetime(2026, 1, 12, 8, tzinfo=UTC)
METHODS = ("lacquer-fine-start", "shellac-pad-rounds", "light-cured-polyester", "waterborne-sprayed", "oil-wiped")
KIND = "tenor-ukulele"
MATERIALS = ("lacquer-sprayed", "shellac-pad", "waterborne")
PEOPLE = ("Odd", "Ida", "Una")
BUYERS = ("Mrs Ames", "Bo", 'Ann "Nan" Lee')
MOST_ON_RACK = 4
KEYS = ("gun/lacquer-sprayed", "texture/lacquer-fine-start", "minutes/P800", "sink/lacquer-sprayed", "cut/hand")


class Deeds:
    """A session in hands, and a clock that is turned; done: what was done, in words, the refused left out."""

    def __init__(self, session, clock, rng):
        self.session, self.clock, self.rng = session, clock, rng
        self.done, self.refused = [], 0
        self._named = 0
        self._every = [
            *[self.coat] * 7, *[self.sand] * 4, *[self.read] * 4, *[self.take_back] * 3, *[self.correct] * 4,
            *[self.undo] * 3, *[self.redo] * 2, *[self.add] * 2, *[self.air] * 3, *[self.step] * 2,
            *[self.shelf] * 5, *[self.booth] * 4, *[self.plan] * 4, *[self.crew] * 3, *[self.wrong] * 3,
            *[self.book] * 3, *[self.tables] * 3, self.zones, self.light, self.forget,
        ]  # fmt: skip

    def one(self):
        """One deed, or a refusal."""
        self.clock.time += timedelta(minutes=self.rng.choice((1, 7, 45, 200, 1400, 4000)))
        if not self.session.shop.racked:
            return self._try(self.add)
        return self._try(self.rng.choice(self._every))

    def _try(self, deed):
        before = len(self.session.entries)
        try:
            said = deed()
        except InputError:
            self.refused += 1
            return
        if said or len(self.session.entries) > before:
            self.done.append(f"{deed.__name__}: {said or self.session.entries[-1].body}")

    # --- what deeds are made of

    def pick(self, some):
        """One of them. Raises InputError where there is none."""
        some = list(some)
        if not some:
            raise InputError("", "there is none")
        return self.rng.choice(some)

    def rack(self):
        return self.session.shop.racked[self.pick(self.session.shop.racked)]

    def late(self):
        """A moment of the past, as often as not the present."""
        ago = self.rng.choice((0, 0, 0, 0.2, 3, 30))
        return self.clock.time - timedelta(hours=ago)

    def log(self, body, rack=None, at=None):
        name = "" if rack is None else rack.instrument.id
        self.session.log(body, instrument=name, at=at or self.late())

    # --- the deeds

    def add(self):
        if len(self.session.shop.racked) >= MOST_ON_RACK:
            raise InputError("", "the rack is full")
        found = self.session.catalogue
        method = found.method(self.pick([*METHODS, *(["own"] if "own" in found.methods else [])]))
        material = found.material(method.material)
        self._named += 1
        name = f"wren-{self._named}"
        body = InstrumentAdded(
            id=name, name=name.title(), instrument_kind=KIND, measures=measures_of(found.kind(KIND)),
            material=material.id, method=method.id, sheen=self.pick(("gloss", "satin")),
            min_film_um=material.min_film_um,
            promised=self.pick((None, (self.clock.time + timedelta(days=40)).isoformat())),
        )  # fmt: skip
        self.session.log(body, at=self.late())

    def coat(self):
        if self.rng.random() < 0.4:
            self.session.select(self.pick(self.session.shop.racked), "deeds")
            self.session.log_usual_coat("deeds")
            return
        rack, um = self.rack(), self.pick((3.0, 12.0, 24.0))
        self.log(self.pick((
            CoatLogged(dry_um=um), CoatLogged(dry_um=um, count=2), CoatLogged(dry_um=um, zones=("top",)),
            CoatLogged(dry_um=4.0, finish="shellac-pad"), CoatLogged(dry_um=um, count_odds=((1, 0.4), (2, 0.6))),
            CoatLogged(dry_um=um, tinted="clear"), PassLogged(), CareLogged(what="turn"),
        )), rack)  # fmt: skip

    def sand(self):
        rack = self.rack()
        self.log(SandingLogged(
            um=self.pick((0.5, 2.0, 6.0)), purpose=self.pick(("scuff", "level", "rub-out")),
            grade=self.pick(("", "P800", "P1200")), minutes=self.pick((0.0, 20.0)),
            zones=self.pick((None, ("top",), ("back", "sides"))), texture_um=self.pick((0.0, 9.0)),
        ), rack)  # fmt: skip

    def read(self):
        rack, zone = self.rack(), self.pick(("top", "back", "edges"))
        self.log(self.pick((
            ReadingLogged(zone=zone, um=self.rng.uniform(10, 90), n=3), ReadingLogged(what="card", um=40.0),
            ReadingLogged(what="comb", zone=zone, um=50.0, high_um=75.0, landed=0.18), ReadingLogged(what="nail-dents"),
            ReadingLogged(what="no-print"), ReadingLogged(what="through", zone=zone, spot=True),
            ReadingLogged(what="gloss", zone=zone, gu60=60.0), ReadingLogged(what="volume", um=11.0),
        )), rack)  # fmt: skip

    def step(self):
        rack = self.rack()
        stage = self.pick(rack.method.stage)
        self.log(StepLogged(step=stage.key, skipped=self.rng.random() < 0.2), rack)

    def zones(self):
        self.log(self.pick((
            ZonesSet(masked=("neck",)), ZonesSet(finishes={"neck": "oil-wax"}), ZonesSet(),
            ZonesSet(finishes={"back": "shellac-pad"}),
        )), self.rack())  # fmt: skip

    def light(self):
        rack = self.rack()
        self.log(self.pick((
            LightOnLogged(zones=("top",), mW_cm2=self.pick((9.0, 20.0))), ExposureLogged(dose_mJ_cm2=3000.0),
            CabinetLogged(hours=12.0, temp_C=32.0), CabinetLogged(hours=40.0, temp_C=30.0, light=3.0),
        )), rack)  # fmt: skip

    def wrong(self):
        rack, way = self.rack(), self.rng.random()
        mishaps = [a for a in rack.acts if isinstance(a, Mishap)]
        if way < 0.4 or not mishaps:
            what = self.pick(("run", "nib", "sand-through", "stray-scratch", "orange-peel"))
            self.log(MishapLogged(what=what, zone=self.pick(("top", "back")), size_mm=8.0), rack)
            return
        mishap = self.pick(mishaps)
        if way < 0.7:
            self.log(RepairChosen(defect=mishap.id, name="Local coats", steps=_repair(mishap)), rack, self.clock.time)
            return
        self.log(self.pick((
            DefectTold(defect=mishap.id, size_mm=20.0, spread="zone"), RepairLeft(defect=mishap.id),
            DefectLooked(defect=mishap.id, outcome=self.pick(("gone", "still"))),
        )), rack, self.clock.time)  # fmt: skip

    def plan(self):
        rack, way = self.rack(), self.rng.random()
        slot = self.slot(rack)
        if way < 0.3:
            day = (self.clock.time + timedelta(days=self.pick((2, 9)))).date().isoformat()
            self.log(self.pick((PinSet(step=slot, day=day), PinSet(step=slot, who="Odd"))), rack)
        elif way < 0.4:
            self.log(Unpinned(step=self.pick(rack.pins)), rack)
        elif way < 0.7:
            self.log(PlanSet(method=rack.instrument.method, stage=self.moved(rack)), rack, self.clock.time)
        elif way < 0.85:
            starts = ((self.clock.time + timedelta(days=3)).isoformat(),)
            self.log(self.pick((PlanKept(steps=(KeptStep(instrument=rack.instrument.id, step=slot, who="Odd",
                                                         starts=starts),)), PlanKept())))  # fmt: skip
        else:
            day = (self.clock.time + timedelta(days=50)).isoformat()
            self.log(PromiseSet(promised=self.pick(("", day)), firm=self.rng.random() < 0.3), rack)

    def slot(self, rack):
        """What a step of its plan is held by."""
        at = self.rng.randrange(len(rack.method.stage))
        return self.pick((f"{at}.1", slot(starts(rack.method.stage)[at], self.pick((1, 2)))))

    def moved(self, rack):
        """Its own steps with one put in, one taken out, or none at all."""
        stages, way = list(rack.own_method.stage), self.rng.random()
        if way < 0.2:
            return ()
        at = self.rng.randrange(len(stages))
        if way < 0.6:
            stages.insert(at, Stage(kind="prepare", label=f"Look it over {self.rng.randrange(9)}", hours=0.2))
        elif stages[at].kind != "coats":
            del stages[at]
        else:
            stages[at] = msgspec.structs.replace(stages[at], count=max(stages[at].count + self.pick((-1, 1, 2)), 1))
        return tuple(stages)

    def crew(self):
        day = (self.clock.time + timedelta(days=self.pick((1, 5)))).date().isoformat()
        self.log(self.pick((
            PersonSet(name=self.pick(PEOPLE), sprays=self.rng.random() < 0.7),
            PersonSet(name=self.pick(PEOPLE), gone=True),
            DayOff(first=day, person=self.pick(("", *PEOPLE))), DayOff(first=day, cleared=True),
            StationsSet(arbors=self.pick((1, 2)), cabinet_places=self.pick((0, 1))), DaysStruck(days=(day,)),
            BoothRule(company_days=self.pick((0, 2, 7)), guns={"lacquer-sprayed": Gun(setup_min=20, clean_min=15)}),
        )))  # fmt: skip

    def tables(self):
        found = self.session.catalogue
        own = msgspec.structs.replace(found.method("lacquer-fine-start"), id="own", label="Our own")
        longer = [msgspec.structs.replace(s, count=s.count + 1) if s.kind == "coats" else s for s in own.stage]
        self.log(self.pick((
            HoursSet(zone="Europe/Berlin"), HoursSet(zone="America/New_York", closed=(Closed(first="2026-03-03"),)),
            HoursSet(week={"monday": (("08:00", "12:00"),), "friday": (("08:00", "18:00"),)}), ShopNamed(name="Yard"),
            PriceSet(material=self.pick(MATERIALS), per_litre=self.rng.uniform(5, 60)), HourPriced(per_hour=35.0),
            DrawerSet(owned=("P600", "P800", "P1200", "P2000")),
            RateAccepted(material=self.pick(MATERIALS), ln_mean=self.rng.uniform(-0.4, 0.4), ln_sd=0.1),
            LearningRuled(key=self.pick(KEYS), what="freeze", ln_mean=0.1, ln_sd=0.1),
            LearningRuled(key=self.pick(KEYS), what="back"), LearningRuled(key=self.pick(KEYS), what="go-on"),
            MethodKept(text=write_method(msgspec.structs.replace(own, stage=self.pick((own.stage, tuple(longer)))))),
        )))  # fmt: skip

    def air(self):
        temp_C, way = self.rng.uniform(14, 26), self.rng.random()
        hours = tuple(float(h) for h in range(0, 30, 3))
        rows = {"hours": hours, "temp_C": tuple(temp_C + h % 5 for h in hours), "rh": tuple(0.5 for _ in hours)}
        if way < 0.4:
            self.log(AirLogged(temp_C=temp_C, rh=self.rng.uniform(0.3, 0.8)))
        elif way < 0.6:
            # It may tell of what was told already: two readings of one minute.
            self.log(AirSeries(source="log", **rows), at=self.clock.time - timedelta(hours=self.pick((27, 40))))
        elif way < 0.75:
            one = {"hours": (0.0,), "temp_C": (temp_C,), "rh": (0.5,)}
            self.log(AirSeries(source="log", name=SENSOR, **one), at=self.clock.time)
        elif way < 0.9:
            self.log(AirSeries(source="forecast", **rows), at=self.clock.time)
        else:
            self.log(AirUsual(temp_C=tuple(self.rng.uniform(14, 24) for _ in range(12)), rh=(0.5,) * 12))

    def shelf(self):
        there, way = self.session.shop.stock, self.rng.random()
        if way < 0.2 or not there.products:
            material = self.pick(MATERIALS)
            self.log(ProductTold(product=Product(id=f"p-{material}", name=f"Our {material}", kind="finish",
                                                 material=material)))  # fmt: skip
        elif way < 0.5 or not there.lots:
            body = LotBought(product=self.pick(there.products), ml=self.pick((250.0, 1000.0)),
                             use_by=self.pick(("", "2026-04-01")))  # fmt: skip
            self.log(body)
        elif way < 0.7:
            body = CanWeighed(lot=self.pick(there.lots), left_ml=self.rng.uniform(10, 240))
            stock.weigh(self.session, body, self.clock.time)
        else:
            lot = self.pick(there.lots)
            self.log(self.pick((LotOpened(lot=lot), LotGone(lot=lot, what="empty"), LotTaken(lot=lot))))

    def booth(self):
        going_on, way = self.session.shop.session, self.rng.random()
        if way < 0.3:
            self.log(MixMade(material=self.pick(MATERIALS), ml=80.0, supplied_ml=60.0, thinner_ml=20.0))
        elif going_on is None or going_on.ended is not None or way < 0.5:
            names = self.rng.sample(list(self.session.shop.racked), min(2, len(self.session.shop.racked)))
            self.log(SessionBegun(instruments=tuple(names), lamp_mW_cm2=self.pick((0.0, 15.0))), at=self.clock.time)
        else:
            self.log(self.pick((SessionPaused(), SessionPaused(on=False), SessionEnded())), at=self.clock.time)

    def book(self):
        shop, way = self.session.shop, self.rng.random()
        if way < 0.4 or not shop.book:
            rack = self.rack()
            if not any(isinstance(a, Coat) for a in rack.acts):
                raise InputError("", "nothing has been done to it")
            self.session.select(rack.instrument.id, "deeds")
            self.session.hand_over(self.clock.time, self.pick((*BUYERS, "")), self.pick(("", "went well")), "deeds")
        elif way < 0.7:
            body = CheckSeen(sink=self.pick(("none", "slight")), seen=self.pick(((), ("print",))), note="looked at")
            self.session.log(body, instrument=self.pick(shop.book), at=self.clock.time)
        else:
            self.session.bring_back(self.pick(shop.book), "deeds")
        if self.rng.random() < 0.3 and shop.racked:
            self.log(LookNoted(zone="top", said="level", spots=2, lit_share=0.3), self.rack())

    def undo(self):
        return self.session.undo("deeds")

    def redo(self):
        return self.session.redo("deeds")

    def take_back(self):
        counting = effective(self.session.entries)
        entry = self.pick(counting[-self.pick((3, 30)) :])
        return self.session.take_back(entry.id, "deeds")

    def correct(self):
        counting = effective(self.session.entries)
        entry = self.pick(counting[-self.pick((4, 40)) :])
        body, moved = entry.body, entry.at - timedelta(hours=self.pick((0, 0, 1, 20)))
        if isinstance(body, CoatLogged | SandingLogged):
            name = "dry_um" if isinstance(body, CoatLogged) else "um"
            body = msgspec.structs.replace(body, **{name: self.pick((1.5, 5.0, 14.0))})
        elif isinstance(body, AirLogged):
            body = msgspec.structs.replace(body, temp_C=self.rng.uniform(14, 26))
        elif isinstance(body, CanWeighed):
            body = msgspec.structs.replace(body, left_ml=self.rng.uniform(10, 200))
        elif isinstance(body, LotBought):
            body = msgspec.structs.replace(body, ml=self.pick((500.0, 750.0)))
        elif isinstance(body, InstrumentAdded):
            body = msgspec.structs.replace(body, bench_C=self.pick((18.0, 22.0)))
        self.session.correct(entry.id, body, at=moved, origin="deeds")
        return f"{entry.id} {body} {moved}"

    def forget(self):
        number = self.pick(self.session.people)
        return forget_person(self.session, number, "deeds")


def _repair(mishap):
    """Steps of a repair, as a page of it puts them in."""
    mend = {"mends": mishap.id, "patch": mishap.zone, "spot": True}
    return (
        Stage(kind="mend", label="Clean the place", op="clean", hours=0.3, id=f"mend-{mishap.id}-0-clean", **mend),
        Stage(kind="coats", label="Local coats", op="local", count=2, between_h=2.0, id=f"mend-{mishap.id}-1-local",
              **mend),
    )  # fmt: skip
