"""What can happen to an instrument; hours are counted from its own zero."""

import math

from msgspec import Struct

from ravden.core.errors import need, need_above, need_in
from ravden.core.record.instrument import Zone
from ravden.core.record.material import LEAST_FILM_UM, MAX_FILM_UM

PURPOSES = ("scuff", "level", "rub-out")
CABINET_AIRFLOW = 3.0  # [A]
EDGE_WORKED = 1.5  # [A] film lost on an edge that a block runs over, against the flat
MAX_HOURS = 24 * 366 * 100.0
MOST_TEXTURE_UM = 500.0
MAX_COUNT = 200  # coats in one entry
GAUGE = "gauge"  # the reading of a film gauge on the wood
NOTICES = ("nail-dents", "nail-holds", "print", "no-print", "smells", "no-smell")
COLOUR_OF = "only of a sand-through can one say that colour showed"
READINGS = ("gloss", "gauge", "comb", "card", "micrometer", "volume", "through", "not-through", *NOTICES)
CARES = ("turn", "wipe")
MISHAPS = (
    "run", "nib", "orange-peel", "dry-spray", "blush", "milky", "satin-haze", "fish-eye", "pinholes", "pop",
    "sand-through", "witness", "stray-scratch", "swirl", "burn", "print", "sink-back", "checking", "wrinkling",
    "peeling", "blotch", "raised-grain", "tacky", "build-up", "chip", "swelling", "ding", "worn-through", "dry-patch",
    "clogs",
)  # fmt: skip
SPREADS = ("spot", "zone", "all")
TINTS = ("", "clear", "opaque")


class Coat(Struct, frozen=True, kw_only=True):
    """A coat laid down: nominal dry film [um] on a zone of factor 1; zones None means all of them but those bare.

    bare: zones masked, or under another finish, when it was laid; finish: empty for the instrument's own, else the id
    of another material; count: how many alike; count_odds: (count, odds) pairs where nobody is sure; earlier_h: how
    long before at_h each but the last of several was laid [h], the first of them first; empty: all of them at once;
    tinted: clear with colour, opaque, or empty.
    """

    at_h: float
    dry_um: float
    zones: tuple[str, ...] | None = None
    bare: tuple[str, ...] = ()
    finish: str = ""
    count: int = 1
    count_odds: tuple[tuple[int, float], ...] = ()
    how: str = ""
    earlier_h: tuple[float, ...] = ()
    mends: int = 0
    spot: bool = False
    tinted: str = ""
    id: int = 0

    def covers(self, zone: str) -> bool:
        """Whether it was laid on a zone: all of it, and not only a spot."""
        if self.spot:
            return False
        return zone in self.zones if self.zones is not None else zone not in self.bare

    @property
    def likely_count(self) -> float:
        """How many coats it stands for, in the mean."""
        return sum(n * p for n, p in self.count_odds) if self.count_odds else float(self.count)

    @property
    def whole_count(self) -> int:
        """That as coats of the method: of two numbers alike the lower, so that none is left out for nothing."""
        return max(math.ceil(self.likely_count - 0.5 - 1e-9), 0)

    @property
    def hours(self) -> list[float]:
        """When each of the coats it stands for was laid [h], as many as are likely."""
        n = self.whole_count
        ago = (*self.earlier_h, 0.0)[-n:] if n else ()
        return [self.at_h] * (n - len(ago)) + [self.at_h - h for h in ago]

    def share(self, zone: Zone) -> float:
        """Dry film this entry is meant to leave on a zone [um]."""
        return self.dry_um * zone.k_mean * self.likely_count if self.covers(zone.name) else 0.0

    def __post_init__(self) -> None:
        need(self.tinted in TINTS, "tinted", f"must be clear or opaque (got {self.tinted})")
        need_in(self.at_h, -MAX_HOURS, MAX_HOURS, "at_h", "h")
        need_above(self.dry_um, 0, "dry_um", MAX_FILM_UM)
        need(self.dry_um >= LEAST_FILM_UM, "dry_um", f"must be at least {LEAST_FILM_UM:g} (got {self.dry_um:g})")
        need(1 <= self.count <= MAX_COUNT, "count", f"must be between 1 and {MAX_COUNT} (got {self.count})")
        need(all(a >= b >= 0 for a, b in zip(self.earlier_h, self.earlier_h[1:], strict=False)), "earlier_h", "run on")
        need_in(max(self.earlier_h, default=0.0), 0, MAX_HOURS, "earlier_h", "h")
        need(len(self.count_odds) <= 8, "count_odds", "at most eight counts can be weighed")
        if self.count_odds:
            need(all(0 <= n <= MAX_COUNT and 0 < p <= 1 for n, p in self.count_odds), "count_odds", "must be odds")
            total = sum(p for _, p in self.count_odds)
            need(abs(total - 1) < 1e-6, "count_odds", f"must add up to 1 (got {total:g})")


class Pass(Struct, frozen=True, kw_only=True):
    """One pass of a coat under way: no film by itself, the coat is logged with its last pass."""

    at_h: float
    id: int = 0

    def __post_init__(self) -> None:
        need_in(self.at_h, -MAX_HOURS, MAX_HOURS, "at_h", "h")


class Sanding(Struct, frozen=True, kw_only=True):
    """Film taken off the flats [um]; other zones lose their share of it unless ``zones`` limits the work.

    purpose: scuff between coats, level, or rub-out: which stage of the method it belongs to; edges_worked: the paper
    went over the edges too, which costs them more than the flats; part: a rung with others still to come, so that the
    stage is not done yet; minutes: how long the paper was on the film, 0 where nobody looked; mends: the number of
    what it puts right, 0 for nothing; spot: only that spot, so that the zone lost nothing; bared: nothing of the film
    is left on its zones; texture_um: what was to be levelled, peak to valley, as somebody measured it, 0 where nobody
    did.
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
    mends: int = 0
    spot: bool = False
    bared: bool = False
    texture_um: float = 0.0
    id: int = 0

    def __post_init__(self) -> None:
        need_in(self.at_h, -MAX_HOURS, MAX_HOURS, "at_h", "h")
        need_above(self.um, 0, "um", MAX_FILM_UM)
        need_in(self.minutes, 0, 10_000, "minutes", "min")
        need_in(self.texture_um, 0, MOST_TEXTURE_UM, "texture_um", "um")
        need(self.purpose in PURPOSES, "purpose", f"must be one of {', '.join(PURPOSES)} (got {self.purpose})")

    def share(self, zone: Zone) -> float:
        """Film this sanding takes off a zone [um]."""
        if self.spot or (self.zones is not None and zone.name not in self.zones):
            return 0.0
        return self.um * (EDGE_WORKED if zone.kind == "edge" and self.edges_worked else zone.sanding)


class Reading(Struct, frozen=True, kw_only=True):
    """Something measured or seen.

    what: gauge (um, the mean of n touches on a zone, as the film stood, solvent included); comb (wet between um and
    high_um in the last coat, landed: its volume solids as it lands); card or micrometer (um on the witness card as it
    stood); volume (um: dry film the volume used would leave); through or not-through (a look at a zone, or at a spot
    of it; colour: what showed is the colour in the film, and no wood); gloss (gu60: gloss units at 60 degrees on a
    zone). place: where on the outline, along and across the body in mm.
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
    colour: bool = False
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
        need(not self.colour or self.what == "through", "colour", COLOUR_OF)
        need(1 <= self.n <= 100, "n", f"must be between 1 and 100 (got {self.n})")


class Air(Struct, frozen=True, kw_only=True):
    """The shop's air from an hour on: temperature [C] and relative humidity as a share [-].

    source: told (by hand), log, forecast, usual (for the month), own (as the logger had it of late) or cabinet.
    airflow: 1 still, 3 a fan; 0: as its source has it; light: on the work, times that of a room [-]: 1.5 sun through
    glass, 3 a lamp box.
    """

    at_h: float
    temp_C: float
    rh: float = 0.5
    source: str = "told"
    id: int = 0
    airflow: float = 0.0
    light: float = 1.0

    def __post_init__(self) -> None:
        need_in(self.light, 0.1, 20, "light")
        need_in(self.at_h, -MAX_HOURS, MAX_HOURS, "at_h", "h")
        need_in(self.temp_C, -20, 80, "temp_C", "C")
        need_in(self.rh, 0, 1, "rh")
        need_in(self.airflow, 0, 20, "airflow")

    @property
    def moves(self) -> float:
        """How it moves over the work: a warm cabinet has a fan in it [-, A]."""
        return self.airflow or (CABINET_AIRFLOW if self.source == "cabinet" else 1.0)


class Exposure(Struct, frozen=True, kw_only=True):
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


class Mishap(Struct, frozen=True, kw_only=True):
    """Something that went wrong, on a zone; grade: of the rung it showed on; place: on the outline [mm].

    size_mm: how far across; height_um: it stands over the film, depth_um: it goes into it; spread: a spot, the whole
    zone, or all of the instrument. None or empty: nobody has said, and what is usual holds. told: what was answered
    about it, yes or no by question. colour: a sand-through to the colour in the film, which is still there.
    """

    at_h: float
    what: str
    zone: str
    grade: str = ""
    place: tuple[float, float] | None = None
    size_mm: float | None = None
    height_um: float | None = None
    depth_um: float | None = None
    spread: str = ""
    told: tuple[tuple[str, bool], ...] = ()
    colour: bool = False
    id: int = 0

    def __post_init__(self) -> None:
        need_in(self.at_h, -MAX_HOURS, MAX_HOURS, "at_h", "h")
        need(self.what in MISHAPS, "what", f"must be one of {', '.join(MISHAPS)} (got {self.what})")
        need(not self.colour or self.what == "sand-through", "colour", COLOUR_OF)
        if self.size_mm is not None:
            need_above(self.size_mm, 0, "size_mm", 2000)
        if self.height_um is not None:
            need_in(self.height_um, 0, MAX_FILM_UM, "height_um", "um")
        if self.depth_um is not None:
            need_in(self.depth_um, 0, MAX_FILM_UM, "depth_um", "um")
        need(self.spread in ("", *SPREADS), "spread", f"must be one of {', '.join(SPREADS)} (got {self.spread})")


class StepDone(Struct, frozen=True, kw_only=True):
    """A step of the method done, or skipped, by the name it has there."""

    at_h: float
    step: str
    skipped: bool = False
    id: int = 0

    def __post_init__(self) -> None:
        need_in(self.at_h, -MAX_HOURS, MAX_HOURS, "at_h", "h")
        need(self.step.strip() != "", "step", "name the step")


class Care(Struct, frozen=True, kw_only=True):
    """Something done to a film while it rests, that leaves its thickness as it is: turned, or wiped over again."""

    at_h: float
    what: str
    id: int = 0

    def __post_init__(self) -> None:
        need_in(self.at_h, -MAX_HOURS, MAX_HOURS, "at_h", "h")
        need(self.what in CARES, "what", f"must be one of {', '.join(CARES)} (got {self.what})")


class LightOn(Struct, frozen=True, kw_only=True):
    """Curing light turned on zones, so many mW/cm2 at the work; what it gave is logged when it goes off."""

    at_h: float
    zones: tuple[str, ...]
    mW_cm2: float
    id: int = 0

    def __post_init__(self) -> None:
        need_in(self.at_h, -MAX_HOURS, MAX_HOURS, "at_h", "h")
        need(len(self.zones) > 0, "zones", "say what it was turned on")
        need_above(self.mW_cm2, 0, "mW_cm2", 1e5)


Act = Care | Coat | LightOn | Pass | Sanding | Reading | Air | Exposure | Mishap | StepDone
