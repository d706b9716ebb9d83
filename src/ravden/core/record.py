"""The domain records shared by the packages of the core. Units are in the names; checks fail on nan."""

import math
from collections.abc import Mapping
from dataclasses import dataclass, field

from ravden.core.errors import InputError, need, need_above, need_in

MAX_FILM_UM = 5000.0  # a thicker layer is a slip of the keyboard, not a finish
PURPOSES = ("scuff", "level", "rub-out")
EDGE_WORKED = 1.5  # [A] film lost on an edge that a block runs over, against the flat
MAX_HOURS = 24 * 366 * 100.0
RATE_LN_SD = 0.22  # [A] spread of a material's rate factor before a witness card has been weighed
MAX_COUNT = 200  # coats in one entry
NOTICES = ("nail-dents", "nail-holds", "print", "no-print", "smells", "no-smell")
READINGS = ("gloss", "gauge", "comb", "card", "micrometer", "volume", "through", "not-through", *NOTICES)


class CureModel:
    """A way a film hardens; which one is told by ``model``."""

    __slots__ = ()
    model: str


@dataclass(frozen=True, slots=True, kw_only=True)
class SolventLoss(CureModel):
    """Constants of a film that dries by losing solvent (docs/maths.md; all [A] but the physics).

    solids: polymer volume over volume as applied [-]; D0_um2_h: diffusivity at 20 C in the dry film [um2/h];
    beta, gamma: its rise with solvent [-]; Ea_J_mol: its activation energy [J/mol]; ke20_um_h: evaporation at the
    surface at 20 C [um/h]; chi: Flory-Huggins [-]; Tg_dry_C, Tg_solvent_C: glass transitions [C]; water_share: water
    to dry film by volume, which must leave first, and water_um_h: its pace into dry air at 20 C [um/h]; recoat_h: how
    long a layering film takes the next coat without a scuff [h].
    """

    model: str = "evaporative"
    solids: float
    D0_um2_h: float
    beta: float
    gamma: float
    Ea_J_mol: float
    ke20_um_h: float
    chi: float
    Tg_dry_C: float
    Tg_solvent_C: float
    water_share: float = 0.0
    water_um_h: float = 0.0
    recoat_h: float = 0.0

    def __post_init__(self) -> None:
        need_in(self.water_share, 0, 50, "water_share")
        need(
            self.water_share == 0 or self.water_um_h > 0, "water_um_h", "a film with water needs the pace it leaves at"
        )
        need_in(self.recoat_h, 0, 1e5, "recoat_h", "h")
        need(self.model == "evaporative", "model", f"must be evaporative (got {self.model})")
        need_above(self.solids, 0, "solids", 1.0)
        need_above(self.D0_um2_h, 0, "D0_um2_h", 1e9)
        need_in(self.beta, 0, 500, "beta")
        need_in(self.gamma, 0, 100, "gamma")
        need_in(self.Ea_J_mol, 0, 3e5, "Ea_J_mol", "J/mol")
        need_above(self.ke20_um_h, 0, "ke20_um_h", 1e9)
        need_in(self.chi, -2, 2, "chi")
        need_in(self.Tg_dry_C, -100, 400, "Tg_dry_C", "C")
        need_in(self.Tg_solvent_C, -250, 100, "Tg_solvent_C", "C")


@dataclass(frozen=True, slots=True, kw_only=True)
class Material:
    """A finish by kind. ``cure`` uses the solids of the cure model; ``volume_solids`` is as sprayed or padded."""

    id: str
    label: str
    family: str
    dissolving: bool
    volume_solids: float
    dry_density_g_ml: float
    coat_dry_um: float
    min_film_um: float
    usual_film_um: tuple[float, float]
    max_film_um: float
    refractive_index: float
    flight_loss: float
    cure: CureModel
    dust_colour: str = ""
    cautions: tuple[str, ...] = ()
    basis: str = ""
    flow: str = ""  # its row in the table of how finishes flow
    thinner_ratio: float = 0.0  # usual thinner to material by volume
    flash_s: float = 60.0  # [A] flash-off between passes at 20 C
    flatted: bool = False  # dulled by particles all through

    def __post_init__(self) -> None:
        need_above(self.volume_solids, 0, "volume_solids", 1.0 + 1e-9)
        need_above(self.coat_dry_um, 0, "coat_dry_um", MAX_FILM_UM)
        need_in(self.flight_loss, 0, 0.9, "flight_loss")


@dataclass(frozen=True, slots=True, kw_only=True)
class Zone:
    """A part of the instrument that is finished and sanded as one.

    kind: flat, contour or edge (how hard paper bears on it); k_mean, k_cv: film laid here against the nominal coat;
    sanding: film removed here when the flats lose 1 (docs/maths.md).
    """

    name: str
    label: str
    kind: str
    area_cm2: float
    k_mean: float = 1.0
    k_cv: float = 0.12
    sanding: float = 1.0

    def __post_init__(self) -> None:
        need(self.name != "", "name", "must not be empty")
        need(self.kind in ("flat", "contour", "edge"), "kind", f"must be flat, contour or edge (got {self.kind})")
        need_above(self.area_cm2, 0, "area_cm2", 1e6)
        need_above(self.k_mean, 0, "k_mean", 10)
        need_in(self.k_cv, 0.001, 1, "k_cv")
        need_in(self.sanding, 0, 10, "sanding")


@dataclass(frozen=True, slots=True, kw_only=True)
class Coat:
    """A coat laid down: nominal dry film [um] on a zone of factor 1; zones None means all of them but those bare.

    bare: zones masked, or under another finish, when it was laid; finish: empty for the instrument's own, else the id
    of another material; count: how many alike; count_odds: (count, odds) pairs where nobody is sure.
    """

    at_h: float
    dry_um: float
    zones: tuple[str, ...] | None = None
    bare: tuple[str, ...] = ()
    finish: str = ""
    count: int = 1
    count_odds: tuple[tuple[int, float], ...] = ()
    how: str = ""
    id: int = 0

    def covers(self, zone: str) -> bool:
        """Whether it was laid on a zone."""
        return zone in self.zones if self.zones is not None else zone not in self.bare

    @property
    def likely_count(self) -> float:
        """How many coats it stands for, in the mean."""
        return sum(n * p for n, p in self.count_odds) if self.count_odds else float(self.count)

    def share(self, zone: Zone) -> float:
        """Dry film this entry is meant to leave on a zone [um]."""
        return self.dry_um * zone.k_mean * self.likely_count if self.covers(zone.name) else 0.0

    def __post_init__(self) -> None:
        need_in(self.at_h, -MAX_HOURS, MAX_HOURS, "at_h", "h")
        need_above(self.dry_um, 0, "dry_um", MAX_FILM_UM)
        need(1 <= self.count <= MAX_COUNT, "count", f"must be between 1 and {MAX_COUNT} (got {self.count})")
        need(len(self.count_odds) <= 8, "count_odds", "at most eight counts can be weighed")
        if self.count_odds:
            need(all(0 <= n <= MAX_COUNT and 0 < p <= 1 for n, p in self.count_odds), "count_odds", "must be odds")
            total = sum(p for _, p in self.count_odds)
            need(abs(total - 1) < 1e-6, "count_odds", f"must add up to 1 (got {total:g})")


@dataclass(frozen=True, slots=True, kw_only=True)
class Sanding:
    """Film taken off the flats [um]; other zones lose their share of it unless ``zones`` limits the work.

    purpose: scuff between coats, level, or rub-out: which stage of the method it belongs to; edges_worked: the paper
    went over the edges too, which costs them more than the flats; part: a rung with others still to come, so that the
    stage is not done yet; minutes: how long the paper was on the film, 0 where nobody looked.
    """

    at_h: float
    um: float
    grade: str = ""
    purpose: str = "level"
    edges_worked: bool = False
    zones: tuple[str, ...] | None = None
    part: bool = False
    minutes: float = 0.0
    mode: str = ""
    id: int = 0

    def __post_init__(self) -> None:
        need_in(self.at_h, -MAX_HOURS, MAX_HOURS, "at_h", "h")
        need_above(self.um, 0, "um", MAX_FILM_UM)
        need_in(self.minutes, 0, 10_000, "minutes", "min")
        need(self.purpose in PURPOSES, "purpose", f"must be one of {', '.join(PURPOSES)} (got {self.purpose})")

    def share(self, zone: Zone) -> float:
        """Film this sanding takes off a zone [um]."""
        if self.zones is not None and zone.name not in self.zones:
            return 0.0
        return self.um * (EDGE_WORKED if zone.kind == "edge" and self.edges_worked else zone.sanding)


@dataclass(frozen=True, slots=True, kw_only=True)
class Reading:
    """Something measured or seen.

    what: gauge (um, the mean of n touches on a zone, as the film stood, solvent included); comb (wet between um and
    high_um in the last coat, landed: its volume solids as it lands); card or micrometer (um on the witness card as it
    stood); volume (um: dry film the volume used would leave); through or not-through (a look at a zone, or at a spot
    of it); gloss (gu60: gloss units at 60 degrees on a zone). place: where on the outline, along and across the body
    in mm.
    """

    at_h: float
    zone: str = ""
    um: float = 0.0
    n: int = 1
    what: str = "gauge"
    high_um: float = 0.0
    landed: float = 0.0
    spot: bool = False
    place: tuple[float, float] | None = None
    how: str = ""
    gu60: float = 0.0
    id: int = 0

    def __post_init__(self) -> None:
        need_in(self.at_h, -MAX_HOURS, MAX_HOURS, "at_h", "h")
        need(self.what in READINGS, "what", f"must be one of {', '.join(READINGS)} (got {self.what})")
        if self.what == "gloss":
            need_above(self.gu60, 0, "gu60", 100)
        elif self.what not in ("through", "not-through", *NOTICES):
            need_above(self.um, 0, "um", MAX_FILM_UM)
        if self.what == "comb":
            need(self.high_um > self.um, "high_um", f"must be greater than {self.um:g}: the teeth are reversed")
            need_above(self.high_um, 0, "high_um", MAX_FILM_UM)
            need_above(self.landed, 0, "landed", 1 + 1e-9)
        need(1 <= self.n <= 100, "n", f"must be between 1 and 100 (got {self.n})")


@dataclass(frozen=True, slots=True, kw_only=True)
class Air:
    """The shop's air from an hour on: temperature [C] and relative humidity as a share [-].

    source: told (by hand), log, forecast, usual (for the month) or cabinet.
    """

    at_h: float
    temp_C: float
    rh: float = 0.5
    source: str = "told"
    id: int = 0

    def __post_init__(self) -> None:
        need_in(self.at_h, -MAX_HOURS, MAX_HOURS, "at_h", "h")
        need_in(self.temp_C, -20, 80, "temp_C", "C")
        need_in(self.rh, 0, 1, "rh")


@dataclass(frozen=True, slots=True, kw_only=True)
class Exposure:
    """Light given to a light-cured film: dose [mJ/cm2] on these zones; None: everything that was turned to it."""

    at_h: float
    dose_mJ_cm2: float
    zones: tuple[str, ...] | None = None
    id: int = 0

    def __post_init__(self) -> None:
        need_in(self.at_h, -MAX_HOURS, MAX_HOURS, "at_h", "h")
        need_above(self.dose_mJ_cm2, 0, "dose_mJ_cm2", 1e7)

    def covers(self, zone: str) -> bool:
        """Whether it fell on a zone."""
        return self.zones is None or zone in self.zones


@dataclass(frozen=True, slots=True, kw_only=True)
class Mishap:
    """Something that went wrong, on a zone; grade: of the rung it showed on; place: on the outline [mm]."""

    at_h: float
    what: str
    zone: str
    grade: str = ""
    place: tuple[float, float] | None = None
    id: int = 0

    def __post_init__(self) -> None:
        need_in(self.at_h, -MAX_HOURS, MAX_HOURS, "at_h", "h")
        need(self.what in MISHAPS, "what", f"must be one of {', '.join(MISHAPS)} (got {self.what})")


MISHAPS = (
    "run", "nib", "orange-peel", "dry-spray", "blush", "milky", "fish-eye", "pinholes", "pop", "sand-through",
    "stray-scratch", "dry-patch", "wrinkling", "print",
)  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class StepDone:
    """A step of the method done, or skipped, by the name it has there."""

    at_h: float
    step: str
    skipped: bool = False
    id: int = 0

    def __post_init__(self) -> None:
        need_in(self.at_h, -MAX_HOURS, MAX_HOURS, "at_h", "h")
        need(self.step.strip() != "", "step", "name the step")


@dataclass(frozen=True, slots=True, kw_only=True)
class Pass:
    """One pass of a coat under way: no film by itself, the coat is logged with its last pass."""

    at_h: float
    id: int = 0

    def __post_init__(self) -> None:
        need_in(self.at_h, -MAX_HOURS, MAX_HOURS, "at_h", "h")


Act = Coat | Pass | Sanding | Reading | Air | Exposure | Mishap | StepDone


@dataclass(frozen=True, slots=True, kw_only=True)
class Measures:
    """An instrument's outline family and what was measured on it, in mm."""

    family: str
    length_mm: float
    upper_mm: float
    waist_mm: float
    lower_mm: float
    depth_neck_mm: float
    depth_tail_mm: float
    neck_length_mm: float = 0.0
    stations: tuple[float, float, float] = (0.19, 0.42, 0.755)  # upper bout, waist, lower bout along the body [A]
    cutaway_mm: float = 0.0
    cutaway_left_mm: float = 0.0
    arch_mm: float = 0.0

    def __post_init__(self) -> None:
        for name in ("length_mm", "upper_mm", "waist_mm", "lower_mm"):
            need_in(getattr(self, name), 20, 2500, name, "mm")
        for name in ("depth_neck_mm", "depth_tail_mm"):
            need_in(getattr(self, name), 5, 600, name, "mm")
        need_in(self.neck_length_mm, 0, 1500, "neck_length_mm", "mm")
        need_in(self.cutaway_mm, 0, 0.45 * self.length_mm, "cutaway_mm", "mm")
        need_in(self.cutaway_left_mm, 0, 0.5 * self.upper_mm, "cutaway_left_mm", "mm")
        need_in(self.arch_mm, 0, 0.25 * min(self.length_mm, self.lower_mm), "arch_mm", "mm")
        rising = all(a < b for a, b in zip((0.02, *self.stations), (*self.stations, 0.98), strict=True))
        need(rising, "stations", "must rise between 0.02 and 0.98, upper bout first")
        if self.waist_mm > min(self.upper_mm, self.lower_mm) and self.family in ("waisted", "bowed"):
            raise InputError("waist_mm", "must not be wider than the upper or lower bout")


@dataclass(frozen=True, slots=True, kw_only=True)
class Instrument:
    """An instrument on the rack, as it was entered."""

    id: str
    name: str
    kind: str
    measures: Measures
    material: str
    method: str
    sheen: str
    min_film_um: float
    bench_C: float = 20.0
    promised_h: float | None = None
    ground: str = "sealed"

    def __post_init__(self) -> None:
        need(self.name.strip() != "", "name", "give the instrument a name")
        need(len(self.name) <= 80, "name", "must be at most 80 letters long")
        need(self.sheen in SHEENS, "sheen", f"must be one of {', '.join(SHEENS)} (got {self.sheen})")
        need_in(self.min_film_um, 0, MAX_FILM_UM, "min_film_um", "um")
        need_in(self.bench_C, 0, 45, "bench_C", "C")
        need(self.ground in GROUNDS, "ground", f"must be one of {', '.join(GROUNDS)} (got {self.ground})")


SHEENS = ("matte", "satin", "semi-gloss", "gloss", "mirror")
GROUNDS = ("sealed", "filled", "close-grain", "open-grain")


@dataclass(frozen=True, slots=True, kw_only=True)
class Project:
    """One instrument and everything that happened to it, hours counted from its own zero.

    masked: zones that get no finish for now; finishes: zones under another finish; drunk: dry film [um] that the wood
    of each zone drinks from its first, second, ... coat; layers: other materials laid under or over its own finish;
    rate_ln: mean and sd of ln of the rate factor of its finish in this shop; air_gaps: hours nobody knows the air of.
    """

    instrument: Instrument
    material: Material
    zones: tuple[Zone, ...]
    acts: tuple[Act, ...] = field(default=())
    masked: tuple[str, ...] = ()
    finishes: Mapping[str, Material] = field(default_factory=dict)
    drunk: Mapping[str, tuple[float, ...]] = field(default_factory=dict)
    layers: Mapping[str, Material] = field(default_factory=dict)
    rate_ln: tuple[float, float] = (0.0, RATE_LN_SD)
    air_gaps: tuple[tuple[float, float], ...] = ()

    @property
    def rate(self) -> float:
        """How many times faster than assumed this finish dries in this shop [-]."""
        return math.exp(self.rate_ln[0])

    @property
    def bare(self) -> tuple[str, ...]:
        """Zones that a coat of the instrument's own finish would not be laid on now."""
        return tuple(z.name for z in self.zones if z.name in self.masked or z.name in self.finishes)

    def models(self, zone: str) -> dict[str, CureModel]:
        """How each finish that can lie on a zone hardens, by the finish of its coats."""
        own = self.finish(zone).cure if zone else self.material.cure
        return {
            "": own,
            **{m.id: m.cure for m in self.layers.values()},
            **{m.id: m.cure for m in self.finishes.values()},
        }

    def light_on(self, zone: str) -> tuple[Exposure, ...]:
        """The light that fell on a zone."""
        return tuple(a for a in self.acts if isinstance(a, Exposure) and a.covers(zone))

    def finish(self, zone: str) -> Material:
        """What is on a zone."""
        return self.finishes.get(zone, self.material)

    @property
    def coats(self) -> tuple[Coat, ...]:
        return tuple(a for a in self.acts if isinstance(a, Coat))

    @property
    def sandings(self) -> tuple[Sanding, ...]:
        return tuple(a for a in self.acts if isinstance(a, Sanding))

    @property
    def readings(self) -> tuple[Reading, ...]:
        return tuple(a for a in self.acts if isinstance(a, Reading))

    @property
    def air(self) -> tuple[Air, ...]:
        return tuple(a for a in self.acts if isinstance(a, Air))

    def zone(self, name: str) -> Zone:
        for zone in self.zones:
            if zone.name == name:
                return zone
        raise InputError("zone", f"{self.instrument.name} has no zone called {name}")
