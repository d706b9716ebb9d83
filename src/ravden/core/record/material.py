"""A finish, and how it hardens."""

from msgspec import Struct

from ravden.core.errors import need, need_above, need_in

LEAST_FILM_UM = 0.001  # a tenth of nothing: no coat leaves so little
MAX_FILM_UM = 5000.0  # a thicker layer is a slip of the keyboard, not a finish
RATE_LN_SD = 0.22  # [A] spread of a material's rate factor before a witness card has been weighed


class CureModel:
    """A way a film hardens; which one is told by ``model``."""

    __slots__ = ()
    model: str


class SolventLoss(Struct, CureModel, frozen=True, kw_only=True):
    """Constants of a film that dries by losing solvent (docs/maths.md; all [A] but the physics).

    solids: polymer volume over volume as applied [-]; D0_um2_h: diffusivity at 20 C in the dry film [um2/h];
    beta, gamma: its rise with solvent [-]; Ea_J_mol: its activation energy [J/mol]; ke20_um_h: evaporation at the
    surface at 20 C [um/h]; chi: Flory-Huggins [-]; Tg_dry_C, Tg_solvent_C: glass transitions [C]; water_share: water
    to dry film by volume, which must leave first, and water_um_h: its pace into dry air at 20 C, its mean to the end
    [um/h]; recoat_h: how long a layering film takes the next coat without a scuff [h]; scuff_K: margin of the top from
    which it takes a scuff [K]: grains of a waterborne film are hard before they are dry.
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
    scuff_K: float = 0.0

    def __post_init__(self) -> None:
        need_in(self.scuff_K, -100, 50, "scuff_K", "K")
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


class Material(Struct, frozen=True, kw_only=True):
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
    caution_codes: tuple[str, ...] = ()
    basis: str = ""
    flow: str = ""  # its row in the table of how finishes flow
    thinner_ratio: float = 0.0  # usual thinner to material by volume
    flash_s: float = 60.0  # [A] flash-off between passes at 20 C
    flatted: bool = False  # dulled by particles all through
    dries_C: float = 5.0  # air colder than this does not dry it to a sound film
    dries_rh: float = 0.90  # nor does air damper than this
    drinks: float = 1.0  # [A] of what bare wood drinks of a usual finish
    wiped_off_ml_m2: float = 0.0  # [A] of each coat, into the rag
    handle_h: float = 16.0  # [A] after the last coat before it is unmasked, drilled or fitted, whatever the air

    def __post_init__(self) -> None:
        need_above(self.volume_solids, 0, "volume_solids", 1.0 + 1e-9)
        need_above(self.coat_dry_um, 0, "coat_dry_um", MAX_FILM_UM)
        need_in(self.flight_loss, 0, 0.9, "flight_loss")
        need_in(self.dries_C, -10, 40, "dries_C", "C")
        need_in(self.dries_rh, 0.1, 1, "dries_rh")
        need_in(self.handle_h, 0, 1000, "handle_h", "h")
        need_in(self.drinks, 0, 5, "drinks")
        need_in(self.wiped_off_ml_m2, 0, 500, "wiped_off_ml_m2", "ml/m2")

    def hindered(self, temp_C: float, rh: float) -> str:
        """What keeps it from drying to a sound film in this air: cold, damp, or nothing."""
        if temp_C < self.dries_C:
            return "cold"
        return "damp" if rh > self.dries_rh else ""
