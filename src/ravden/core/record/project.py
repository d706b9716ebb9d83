"""One instrument and everything that happened to it."""

import math
from collections.abc import Mapping

from msgspec import Struct, field

from ravden.core.errors import InputError
from ravden.core.record.acts import Act, Air, Coat, Exposure, Reading, Sanding
from ravden.core.record.instrument import Instrument, Zone
from ravden.core.record.material import RATE_LN_SD, CureModel, Material


class Project(Struct, frozen=True, kw_only=True):
    """One instrument and everything that happened to it, hours counted from its own zero.

    masked: zones that get no finish for now; finishes: zones under another finish; absorbed: dry film [um] that the
    wood of each zone absorbs from its first, second, ... coat; layers: other materials under or over its own finish;
    rate_ln: mean and sd of ln of the rate factor of its finish in this shop; air_gaps: hours nobody knows the air of;
    wet_um: wet film of a coat by the way it is laid; own_way: how each material is usually laid, by its id;
    lamp_mW_cm2: strength of the curing lamp at the work, 0 where nobody said.
    """

    instrument: Instrument
    material: Material
    zones: tuple[Zone, ...]
    acts: tuple[Act, ...] = field(default=())
    masked: tuple[str, ...] = ()
    finishes: Mapping[str, Material] = field(default_factory=dict)
    absorbed: Mapping[str, tuple[float, ...]] = field(default_factory=dict)
    layers: Mapping[str, Material] = field(default_factory=dict)
    rate_ln: tuple[float, float] = (0.0, RATE_LN_SD)
    air_gaps: tuple[tuple[float, float], ...] = ()
    wet_um: Mapping[str, float] = field(default_factory=dict)
    own_way: Mapping[str, str] = field(default_factory=dict)
    lamp_mW_cm2: float = 0.0

    def dry_um(self, material: Material, by: str = "", um: float | None = None) -> float:
        """Dry film of one coat [um]: as its step says, or by the way it is laid, or as is usual for the material.

        by: brush, pad or wipe: their wet film times the solids as thinned. Oils and waxes are wiped off again, and keep
        the material's own.
        """
        if um is not None:
            return um
        wet = self.wet_um.get(by)
        if wet is None or by == self.own_way.get(material.id) or material.family.startswith("oil"):
            return material.coat_dry_um
        return wet * material.volume_solids / (1.0 + material.thinner_ratio)

    @property
    def rate(self) -> float:
        """How many times faster than assumed this finish dries in this shop [-]."""
        return math.exp(self.rate_ln[0])

    @property
    def bare(self) -> tuple[str, ...]:
        """Zones that a coat of the instrument's own finish would not be laid on now."""
        return tuple(z.name for z in self.zones if z.name in self.masked or z.name in self.finishes)

    @property
    def body(self) -> tuple[str, ...]:
        """Zones a coat of the own finish has to be on to be one of the plan; edges get theirs from both sides."""
        own = [z for z in self.zones if z.name not in self.bare]
        return tuple(z.name for z in own if z.kind != "edge") or tuple(z.name for z in own)

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

    @property
    def dries_in(self) -> tuple[Air, ...]:
        """The air its films dry in: as told, and until something was, air as warm as the bench, which is no reading."""
        told = self.air
        if told and told[0].at_h <= 0.0:
            return told
        return (Air(at_h=0.0, temp_C=self.instrument.bench_C, rh=0.5, source="assumed"), *told)

    def coloured(self, zone: str, by_h: float) -> bool:
        """Whether a coat with colour in it was laid on a zone by then."""
        return any(c.tinted and c.covers(zone) and c.at_h <= by_h for c in self.coats)

    def zone(self, name: str) -> Zone:
        for zone in self.zones:
            if zone.name == name:
                return zone
        raise InputError("zone", f"{self.instrument.name} has no zone called {name}")
