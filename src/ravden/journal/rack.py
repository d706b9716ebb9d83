"""An instrument on the rack: its hour zero, and what happened to it."""

import functools
import math
from collections.abc import Mapping
from datetime import datetime, timedelta

from msgspec import Struct, field
from msgspec.structs import replace

from ravden.catalogue.assemble import project, ways, zones
from ravden.catalogue.tables import Catalogue
from ravden.core.climate.series import Cabinet, in_cabinets
from ravden.core.method.slots import named, parts
from ravden.core.method.steps import Method, Stage
from ravden.core.record import RATE_LN_SD, Act, Coat, Instrument, Project
from ravden.core.stock.lots import Draw, Stock
from ravden.journal.air import ShopAir, Span
from ravden.journal.crew import Pinned
from ravden.journal.mending import Mending


class OnRack(Struct, frozen=True, kw_only=True, dict=True):
    """An instrument, its hour zero, and what happened to it; its project is put together when asked for. away: when it
    was handed over, and not in the shop's air; pins: steps of its plan held by hand; weight, firm: of its promise;
    mending: what is done about its defects, by their number; plans: those it had before, each with the zones that were
    in another finish then, and until when; stock: the cans its coats come from."""

    zero: datetime
    added: datetime
    instrument: Instrument
    acts: tuple[Act, ...]
    catalogue: Catalogue
    masked: tuple[str, ...] = ()
    finishes: Mapping[str, str] = field(default_factory=dict)
    air: ShopAir = field(default_factory=ShopAir)
    cabinets: tuple[Cabinet, ...] = ()
    rate_ln: tuple[float, float] = (0.0, RATE_LN_SD)
    plan: tuple[Stage, ...] = ()
    lamp_mW_cm2: float = 0.0
    away: tuple[Span, ...] = ()
    pins: Mapping[str, Pinned] = field(default_factory=dict)
    weight: int = 1
    firm: bool = False
    mending: Mapping[int, Mending] = field(default_factory=dict)
    plans: tuple[tuple[datetime, tuple[Stage, ...], Mapping[str, str]], ...] = ()
    stock: Stock = field(default_factory=Stock)

    @property
    def own_method(self) -> Method:
        """Its method as planned for it, without what zones in another finish get."""
        found = self.catalogue.method(self.instrument.method)
        return replace(found, stage=self.plan) if self.plan else found

    @functools.cached_property
    def method(self) -> Method:
        """Its method as planned for it: with its own steps where it has some, and those of zones in another finish."""
        found = self.own_method
        if not self.finishes:
            return found
        from ravden.core.method.compose import with_zones

        names = {z.name: z.label for z in zones(self.catalogue, self.instrument)}
        mine = {z: f for z, f in self.finishes.items() if z in names}
        return with_zones(found, mine, ways(self.catalogue, mine.values()), names)

    @functools.cached_property
    def project(self) -> Project:
        """The instrument with its zones, its material, and the air as it was told up to the last entry of it."""
        return self.project_at(self.air.last or self.added)

    @functools.cached_property
    def draws(self) -> tuple[Draw, ...]:
        """What its coats took out of cans, and sanding of paper and compound."""
        from ravden.catalogue.draws import coat_draws, rubbed_draws

        also = dict.fromkeys(s.finish for s in self.plan if s.finish)
        bare = project(self.catalogue, self.instrument, self.acts, self.masked, self.finishes, self.rate_ln, also=also)
        return (*coat_draws(self.catalogue, bare, self.zero), *rubbed_draws(self.catalogue, bare, self.zero))

    def planned_as(self, plan: tuple[Stage, ...], at: datetime) -> "OnRack":
        """The same with other steps of its own from a moment on; what is held to a step that is not among them is let
        go of."""
        made = replace(self, plan=plan, plans=(*self.plans, (at, self.plan, self.finishes)))
        if not self.pins:
            return made
        there = {s.id for s in named(made.own_method.stage)}
        # Steps of zones in another finish are put beside its own: "oil-wax:Wipe on".
        return replace(made, pins={s: p for s, p in self.pins.items() if (i := parts(s)[0]) in there or ":" in i})

    def stages_at(self, moment: datetime) -> tuple[Stage, ...]:
        """The steps it had at a moment."""
        then = next((p for p in self.plans if p[0] > moment), None)
        if then is None:
            return self.method.stage
        return replace(self, plan=then[1], finishes=then[2], plans=()).method.stage

    def acted(self, act: Act) -> "OnRack":
        """The same with something more done to it."""
        return replace(self, acts=(*self.acts, act))

    @property
    def body(self) -> tuple[str, ...]:
        """Zones a coat of the own finish has to be on to be one of the plan, as its project has them."""
        bare = {*self.masked, *self.finishes}
        own = [z for z in zones(self.catalogue, self.instrument) if z.name not in bare]
        return tuple(z.name for z in own if z.kind != "edge") or tuple(z.name for z in own)

    @property
    def body_where_it_matters(self) -> tuple[str, ...]:
        """The same where some zones were coated alone: where none were it is not asked for, and to know it takes the
        outline, which the first paint does without."""
        alone = any(isinstance(a, Coat) and a.zones is not None and not a.mends for a in self.acts)
        return self.body if alone else ()

    @property
    def open_zones(self) -> tuple[str, ...]:
        """Zones in its own finish, by name."""
        return tuple(z.name for z in self.project.zones if z.name not in self.project.bare)

    def project_at(self, now: datetime) -> Project:
        """The same, with the air as it was and is expected at a moment. The last one is remembered: whatever is worked
        out of a shop at one moment asks for it several times."""
        before = self.__dict__.get("_at")
        if before is not None and before[0] == now:
            found: Project = before[1]
            return found
        series, gaps = self.air.series(self.zero, now, away=self.away, kept=True)
        acts = tuple(sorted((*self.acts, *in_cabinets(series, self.cabinets)), key=lambda a: a.at_h))
        made = project(
            self.catalogue, self.instrument, acts, self.masked, self.finishes, self._rate(),
            also=dict.fromkeys(s.finish for s in self.plan if s.finish),
        )  # fmt: skip
        made = replace(made, air_gaps=tuple((g.from_h, g.to_h) for g in gaps), lamp_mW_cm2=self.lamp_mW_cm2)
        self.__dict__["_at"] = now, made
        return made

    def _rate(self) -> tuple[float, float]:
        """Mean and sd of ln of its drying rate: slower, and less sure, where its last coat came from an old can."""
        shift, sd = self.old_can_ln
        return self.rate_ln[0] + shift, math.hypot(self.rate_ln[1], sd)

    @property
    def old_can_ln(self) -> tuple[float, float]:
        """What the age of the can its last coat came from does to ln of its drying rate: shift and spread."""
        if not self.stock.lots:
            return 0.0, 0.0
        from ravden.catalogue.shelf import old_can

        coats = [a for a in self.acts if isinstance(a, Coat) and a.finish in ("", self.instrument.material)]
        if not coats:
            return 0.0, 0.0
        return old_can(self.catalogue, self.stock, self.instrument.material, self.moment(coats[-1].at_h))

    def hours(self, moment: datetime) -> float:
        return (moment - self.zero).total_seconds() / 3600.0

    def moment(self, at_h: float) -> datetime:
        return self.zero + timedelta(hours=at_h)
