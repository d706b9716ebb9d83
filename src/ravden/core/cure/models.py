"""The ways a film hardens, as records of constants (docs/maths.md; all [A] but the form of the equations)."""

from msgspec import Struct

from ravden.core.errors import InputError, need, need_above, need_in
from ravden.core.record import CureModel, SolventLoss

NO_WINDOW = 1e9
FULL_REST_UM = 100.0  # [A] of a light-cured coat, from which it rests in full


class Crosslink(Struct, CureModel, frozen=True, kw_only=True):
    """Two parts that react. k20_per_h: rate at 20 C [1/h]; n: order; Ea_J_mol; Tg0_C, Tg1_C: glass transition uncured
    and cured [C]; bend: DiBenedetto's lambda [-]; pot_share, recoat_share: conversion at which the cup is too thick,
    and beyond which the next coat no longer bonds by itself [-]; shrink: volume lost on cure [-]; solvent: share of the
    film once flashed off [-], which leaves at solvent_per_h [1/h], half as fast from solvent_um down [um], and is as
    soft as Tg_solvent_C [C]."""

    model: str = "crosslink"
    k20_per_h: float
    n: float = 2.0
    Ea_J_mol: float = 55000.0
    Tg0_C: float = -40.0
    Tg1_C: float = 60.0
    bend: float = 0.45
    pot_share: float = 0.10
    tack_share: float = 0.25
    recoat_share: float = 0.55
    shrink: float = 0.02
    solvent: float = 0.0
    solvent_per_h: float = 0.45
    solvent_um: float = 50.0
    Tg_solvent_C: float = -120.0

    def __post_init__(self) -> None:
        need_in(self.solvent, 0, 0.9, "solvent")
        need_above(self.solvent_per_h, 0, "solvent_per_h", 1e6)
        need_above(self.solvent_um, 0, "solvent_um", 1e5)
        need_in(self.Tg_solvent_C, -250, 100, "Tg_solvent_C", "C")
        need(self.model == "crosslink", "model", f"must be crosslink (got {self.model})")
        need_above(self.k20_per_h, 0, "k20_per_h", 1e6)
        need_in(self.n, 0.5, 4, "n")
        _common(self.Ea_J_mol, self.Tg0_C, self.Tg1_C, self.bend, self.shrink)
        for name in ("pot_share", "tack_share", "recoat_share"):
            need_above(getattr(self, name), 0, name, 1)


class Oxidation(Struct, CureModel, frozen=True, kw_only=True):
    """An oil that takes up oxygen. induction_h: before anything happens at 20 C [h]; k20_per_h [1/h]; coat_um: own film
    of a coat in which oxygen takes twice as long [um], 0: as thick_um; thick_um: the same of what lies above [um];
    buried_share: conversion below which a coat should not be covered [-]; light: how many times faster in sun or under
    ultraviolet [-]; skin_share: share that oxygen reaches quickly [-], the rest follows at tail_per_h [1/h], half as
    fast from tail_um down [um]; scuff_K: margin of the top from which it takes a scuff [K]: varnish powders under paper
    long before it is hard."""

    model: str = "oxidation"
    induction_h: float
    k20_per_h: float
    Ea_J_mol: float = 55000.0
    thick_um: float = 12.0
    coat_um: float = 0.0
    Tg0_C: float = -50.0
    Tg1_C: float = 50.0
    bend: float = 0.45
    buried_share: float = 0.6
    recoat_share: float = 0.9
    light: float = 1.0
    shrink: float = 0.0
    skin_share: float = 1.0
    tail_per_h: float = 0.0
    tail_um: float = 100.0
    scuff_K: float = 0.0

    def __post_init__(self) -> None:
        need_above(self.skin_share, 0, "skin_share", 1.0 + 1e-9)
        need_in(self.tail_per_h, 0, 1e3, "tail_per_h")
        need_above(self.tail_um, 0, "tail_um", 1e5)
        need_in(self.scuff_K, -100, 50, "scuff_K", "K")
        need(self.model == "oxidation", "model", f"must be oxidation (got {self.model})")
        need_in(self.induction_h, 0, 1e4, "induction_h", "h")
        need_above(self.k20_per_h, 0, "k20_per_h", 1e6)
        need_above(self.thick_um, 0, "thick_um", 1e5)
        need_in(self.coat_um, 0, 1e5, "coat_um", "um")
        need_in(self.light, 0.1, 20, "light")
        _common(self.Ea_J_mol, self.Tg0_C, self.Tg1_C, self.bend, self.shrink)
        for name in ("buried_share", "recoat_share"):
            need_above(getattr(self, name), 0, name, 1)


class LightCure(Struct, CureModel, frozen=True, kw_only=True):
    """A resin that stays wet until light reaches it. depth_um: depth in which light falls to 1/e [um]; gel_mJ_cm2: dose
    at which it sets [mJ/cm2]; rest_min: that a coat of 100 um or more levels and loses vapour for before exposure
    [min]; shrink: volume lost [-]."""

    model: str = "light"
    depth_um: float
    gel_mJ_cm2: float
    rest_min: float = 10.0
    Tg0_C: float = -60.0
    Tg1_C: float = 75.0
    bend: float = 0.45
    shrink: float = 0.07

    def __post_init__(self) -> None:
        need(self.model == "light", "model", f"must be light (got {self.model})")
        need_above(self.depth_um, 0, "depth_um", 1e5)
        need_above(self.gel_mJ_cm2, 0, "gel_mJ_cm2", 1e7)
        need_in(self.rest_min, 0, 1e4, "rest_min", "min")
        _common(1.0, self.Tg0_C, self.Tg1_C, self.bend, self.shrink)

    def rest_h(self, um: float) -> float:
        """How long a coat rests before it may have its light [h]: a thin one has less vapour to lose [A]."""
        return self.rest_min / 60.0 * min(1.0, um / FULL_REST_UM)


class NeverHard(Struct, CureModel, frozen=True, kw_only=True):
    """Oil and wax that stay in the wood: only when to wipe off, when it may be handled, when to oil again."""

    model: str = "never"
    wipe_min: float
    handle_h: float
    reoil_h: float

    def __post_init__(self) -> None:
        need(self.model == "never", "model", f"must be never (got {self.model})")
        need_above(self.wipe_min, 0, "wipe_min", 1e5)
        need_above(self.handle_h, 0, "handle_h", 1e5)
        need_above(self.reoil_h, 0, "reoil_h", 1e6)


def _common(Ea_J_mol: float, Tg0_C: float, Tg1_C: float, bend: float, shrink: float) -> None:
    need_in(Ea_J_mol, 0, 3e5, "Ea_J_mol", "J/mol")
    need_in(Tg0_C, -200, 200, "Tg0_C", "C")
    need_in(Tg1_C, -100, 400, "Tg1_C", "C")
    need(Tg1_C > Tg0_C, "Tg1_C", "must be above Tg0_C")
    need_above(bend, 0, "bend", 1 + 1e-9)
    need_in(shrink, 0, 0.5, "shrink")


MODELS: dict[str, type[CureModel]] = {
    "evaporative": SolventLoss, "crosslink": Crosslink, "oxidation": Oxidation, "light": LightCure, "never": NeverHard,
}  # fmt: skip


def model_class(name: str) -> type[CureModel]:
    """The record of a way of hardening by its name."""
    if name not in MODELS:
        raise InputError("model", f"must be one of {', '.join(MODELS)} (got {name})")
    return MODELS[name]
