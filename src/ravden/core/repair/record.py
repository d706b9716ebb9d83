"""What the journal holds that can speak for a cause: gathered once, asked by every kind of evidence."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from ravden.core.ahead.outlook import Outlook
from ravden.core.film.wetcoat import Conditions, Flow, WetWindow, window
from ravden.core.materials.mixing import landed_solids, thinned_solids
from ravden.core.method.habit import AirLimits
from ravden.core.method.refinish import Over
from ravden.core.record import Air, Coat, Exposure, Material, Mishap, Reading, Sanding, StepDone, Zone
from ravden.core.state.history import air_at

SOON_H = 0.5  # after a coat, in which its surface is coldest
COMB_H = 1.0  # a comb within so long speaks of that coat
SAME_DAY_H = 12.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Settings:
    """How a coat was laid, where somebody said: thinner to material by volume, wet film [um]; None: nobody did."""

    thinner_ratio: float | None = None
    wet_um: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Record:
    """found: the instrument as it stands; mishap: what went wrong; flow: how its finish flows, None where that is not
    known; limits: the air it is laid in; settings: of its coats, by number; near: when oil was laid on others [h];
    overs: what may go over what; out_h: when it was handed over or put in its case [h]; old: it is a finish over one
    nobody knows; can_share: of its shelf life that was over in the can of its last coat, None where nobody knows."""

    found: Outlook
    mishap: Mishap
    flow: Flow | None = None
    limits: AirLimits | None = None
    settings: Mapping[int, Settings] = field(default_factory=dict)
    near: tuple[float, ...] = ()
    overs: tuple[Over, ...] = ()
    out_h: tuple[float, ...] = ()
    old: bool = False
    can_share: float | None = None

    @property
    def at_h(self) -> float:
        """When it was noticed."""
        return self.mishap.at_h

    @property
    def zone(self) -> Zone:
        return self.found.project.zone(self.mishap.zone)

    @property
    def coats(self) -> list[Coat]:
        """Coats of the zone by then, in order."""
        mine = [c for c in self.found.project.coats if c.at_h <= self.at_h and c.covers(self.mishap.zone)]
        return sorted(mine, key=lambda c: c.at_h)

    @property
    def sandings(self) -> list[Sanding]:
        """Paper on the zone by then, in order."""
        mine = [s for s in self.found.project.sandings if s.at_h <= self.at_h and s.share(self.zone) > 0]
        return sorted(mine, key=lambda s: s.at_h)

    def material(self, coat: Coat) -> Material:
        """What a coat was of."""
        project = self.found.project
        if coat.finish:
            return project.layers.get(coat.finish) or project.finishes.get(self.mishap.zone, project.material)
        return project.material

    def air(self, at_h: float) -> Air | None:
        """The air then, as it was told; None: nobody said by then."""
        told = [a for a in self.found.project.air if a.at_h <= at_h]
        return air_at(self.found.project, at_h) if told else None

    def thinner(self, coat: Coat) -> float:
        """Thinner to material of a coat, as told, or as is usual for it."""
        told = self.settings.get(coat.id)
        usual = self.material(coat).thinner_ratio
        return usual if told is None or told.thinner_ratio is None else told.thinner_ratio

    def wet_um(self, coat: Coat) -> tuple[float, bool]:
        """Wet film of a coat on the zone [um], and whether a comb or the settings said so."""
        read = [
            r for r in self.found.project.readings
            if r.what == "comb" and r.zone == self.mishap.zone and 0 <= r.at_h - coat.at_h <= COMB_H
        ]  # fmt: skip
        if read:
            return 0.5 * (read[-1].um + read[-1].high_um), True
        told = self.settings.get(coat.id)
        if told is not None and told.wet_um is not None:
            return told.wet_um * self.zone.k_mean, True
        material = self.material(coat)
        solids = thinned_solids(material.volume_solids, self.thinner(coat))
        return coat.dry_um * self.zone.k_mean / landed_solids(solids, material.flight_loss), False

    def window(self, coat: Coat) -> WetWindow | None:
        """The safe wet film in the air of that coat, on a surface that hangs; None where nobody knows."""
        air = self.air(coat.at_h)
        if self.flow is None or air is None:
            return None
        under = Conditions(
            temp_C=min(max(air.temp_C, 0.0), 45.0), rh=max(air.rh, 0.01), slope_deg=90.0,
            thinner_ratio=self.thinner(coat),
        )  # fmt: skip
        return window(self.flow, under)

    def steps_since(self, at_h: float) -> list[StepDone]:
        """Steps ticked since an hour."""
        acts = self.found.project.acts
        return [a for a in acts if isinstance(a, StepDone) and at_h < a.at_h <= self.at_h]

    def lights(self) -> list[Exposure]:
        """Light on the zone by then."""
        return [e for e in self.found.project.light_on(self.mishap.zone) if e.at_h <= self.at_h]

    def readings(self, what: str) -> list[Reading]:
        """Of one kind, by then."""
        return [r for r in self.found.project.readings if r.what == what and r.at_h <= self.at_h]
