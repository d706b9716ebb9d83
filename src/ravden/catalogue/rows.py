"""What a row of each shipped table says."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct

if TYPE_CHECKING:
    from ravden.core.film.wetcoat import Flow


class InstrumentKind(Struct, forbid_unknown_fields=True, frozen=True):
    """A kind offered on the add-instrument page, with starting measurements in mm."""

    id: str
    label: str
    family: str
    length_mm: float
    upper_mm: float
    waist_mm: float
    lower_mm: float
    depth_neck_mm: float
    depth_tail_mm: float
    neck_length_mm: float
    neck_girth_mm: float
    head_cm2: float
    stations: tuple[float, float, float] = (0.19, 0.42, 0.755)
    cutaway_mm: float = 0.0
    cutaway_left_mm: float = 0.0
    arch_mm: float = 0.0
    contour_share: float = 0.0
    end_grain_share: float = 0.0


class Look(Struct, frozen=True, kw_only=True):
    """Something that goes wrong, as it looks; shown: honest (geometry and the gloss model), drawn (the place is right,
    width and brightness are not), or only words."""

    id: str
    label: str
    shown: str
    words: str
    basis: str


class Texture(Struct, frozen=True, kw_only=True):
    """A starting surface: peak to valley [um] and how to know it by eye."""

    id: str
    label: str
    pv_um: float
    words: str
    basis: str


class Ground(Struct, forbid_unknown_fields=True, frozen=True):
    """What the wood absorbs of the first three coats, dry um of a lacquer and ml of any finish to a square metre, and
    how its pores are left."""

    id: str
    label: str
    first_um: float
    second_um: float
    third_um: float
    first_ml_m2: float
    second_ml_m2: float
    third_ml_m2: float
    pores: str
    basis: str


class Applicator(Struct, forbid_unknown_fields=True, frozen=True):
    """A way of applying: the share that lands or stays on the work, with its spread; a usual wet film, and a
    usual dry film of one coat or session, in um."""

    id: str
    label: str
    way: str
    transfer: float
    transfer_low: float
    transfer_high: float
    wet_um: float
    dry_low_um: float
    dry_high_um: float
    basis: str


class Measuring(Struct, forbid_unknown_fields=True, frozen=True):
    """Something to measure with: what it tells, and what such a thing costs, in kind."""

    id: str
    label: str
    buys: str
    costs: str
    basis: str


class Family(Struct, forbid_unknown_fields=True, frozen=True):
    """A row of the table of finishes; a 0 in eta_Pa_s: how it flows is not known, so no wet window is told."""

    id: str
    label: str
    solids: float
    solids_low: float
    solids_high: float
    liquid_g_ml: float
    dry_g_ml: float
    mass_solids: float
    dry_low_um: float
    dry_high_um: float
    min_um: float
    usual_low_um: float
    usual_high_um: float
    max_um: float
    dissolving: bool
    eta_Pa_s: float
    rise: float
    loss_um_s: float
    no_flow: float
    tension_N_m: float
    flat_um: float
    flight_loss: float
    nature: str
    basis: str

    @property
    def flow(self) -> Flow | None:
        """The record the wet window is computed from; None where it is not known."""
        if self.eta_Pa_s <= 0:
            return None
        from ravden.core.film.wetcoat import Flow

        return Flow(
            solids=self.solids, eta_Pa_s=self.eta_Pa_s, rise=self.rise, loss_um_s=self.loss_um_s, no_flow=self.no_flow,
            tension_N_m=self.tension_N_m, density_kg_m3=1000 * self.liquid_g_ml, flat_um=self.flat_um,
            flight_loss=self.flight_loss, water=self.nature == "water", gels=self.nature == "gel",
            blushes=self.nature == "solvent",
        )  # fmt: skip
