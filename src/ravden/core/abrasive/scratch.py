"""The scratch a grade leaves and what it costs to take the last one out (docs/maths.md)."""

import math
from dataclasses import dataclass, field

from ravden.core.abrasive.gloss import RZ_PER_RA
from ravden.core.abrasive.grades import Abrasive
from ravden.core.errors import InputError, need_above, need_in
from ravden.core.fact import fact

RZ_COEFFICIENT, RZ_EXPONENT = 0.125, 1.15  # [ENG] +-40 % on any single Rz
REFERENCE_H_MPA = 120.0  # well-cured lacquer
PIT_SHARE = 0.60  # [ENG] deepest pit below the mean plane over Rz
DRY_SCRATCH = 1.15  # [ENG]
COVERAGE = 1.15  # [ENG] one sigma of removal unevenness
TEXTURE_SHARE = 0.8  # [ENG] mean film lost to level a texture, over its peak-to-valley
CELL_CM2, SURVIVE = 0.04, 0.90  # [ENG] cell of the extreme-value count; odds that no deeper pit survives
SETUP_MIN = {"paper": 3.0, "foam": 3.0, "cushion": 3.0, "polish": 4.0, "powder": 4.0, "wool": 3.0}  # [ENG]
# The most film a grade can usefully take off [um]: of paper .14 d^1.45 [A]; of the rest a share of its grain [ENG;
# cushion and powder A, as the foam-backed].
PAPER_MOST, PAPER_MOST_EXPONENT = 0.14, 1.45
MOST_PER_GRAIN = {"foam": 0.5, "cushion": 0.5, "powder": 0.8}
ERASES = 1.4  # [A] share of the typical pit a rung takes out; the rarer, deeper ones are stray, worked on the spot
WOOL_BLENDS = 0.35  # [ENG] of its own pit: all that wool takes where the surface under it is finer
BLENDS = ("wool", "powder")
USUAL_WEAR = 0.45  # neither fresh nor worn out: what the constants are for
CUT_PER_GRAIN = {"wet": 8.0, "dry": 4.0, "machine": 4.0}  # [ENG] um of film a piece removes per um of grain
LOOSE_CUT = {"wool": 0.8, "powder": 0.6}  # [A] of paper: wool blends in minutes; loose grain rolls
FINE_UM, COARSE_CUT = 20.0, 1.6  # [A] grain under which the cut goes with the grain itself, and how it goes above
FIRST_DUTY, LATER_DUTY = 0.85, 1.6  # [A] of papers by hand: the first hunts for low spots, the rest is one even pass
BY_MACHINE = ("orbital", "orbital-foam", "pad", "wheel")
DULL_SHARE, DULL = 0.7, ("matte", "satin")  # [A] of a texture: a dull sheen hides its shallow end
BLOCK_M, BLOCK_CM2 = 0.10, 70.0  # a hand block, along the stroke, and its face
WOOL_MOST_UM, POWDER_MOST_UM = 4.0, 2.5  # [A]
SOFTEST_K, SOFT_K = 15.0, 25.0  # [ENG] margins: below the first film gums, up to the second paper loads
KEY_SOFTEST_K = 8.0  # [A] the same where coats follow and close the scratch again: paper only loads sooner


@dataclass(frozen=True, slots=True, kw_only=True)
class Backing:
    """What is behind the abrasive: pressure [kPa], speed [m/s], contact [cm2], how it bears on shapes, and the share of
    the rubbing time that cuts new film (lanes lap, one looks, wipes, rinses); stiffness [kPa] and thickness [mm] of its
    layer and how stiff the sheet on it is [kPa mm3], 0 where how it follows a surface is not known."""

    id: str
    label: str
    c_back: float
    p_kPa: float
    v_m_s: float
    contact_cm2: float
    gumbel_b: float
    cv: float
    f_contour: float
    f_edge: float
    duty: float = 0.25
    E_kPa: float = 0.0
    t_mm: float = 0.0
    D: float = 0.0
    basis: str = ""

    def bears_on(self, kind: str) -> float:
        """Pressure on a flat, contour or edge, against a flat."""
        return {"flat": 1.0, "contour": self.f_contour, "edge": self.f_edge}[kind]


@dataclass(frozen=True, slots=True, kw_only=True)
class Rung:
    """An abrasive in the hand: with its backing, on this film.

    wear: 0 fresh to 1 worn out; scratch, cut: this user's scratch and removal against the built-in ones; pace: how much
    longer this user is at it than that removal asks for; rz_um: the peak-to-valley of the scratch it leaves [um].
    """

    abrasive: Abrasive
    backing: Backing
    mode: str
    hardness_MPa: float
    wear: float = USUAL_WEAR
    scratch: float = 1.0
    cut: float = 1.0
    pace: float = 1.0
    rz_um: float = field(init=False, compare=False, repr=False)

    def __post_init__(self) -> None:
        # Asked for by every step of every path: worked out once.
        deep = peak_to_valley_um(self.abrasive, self.backing, self.mode, self.hardness_MPa, self.wear)
        object.__setattr__(self, "rz_um", deep * self.scratch)

    @property
    def pit_um(self) -> float:
        """Deepest pit of a typical cell below the mean plane [um]."""
        return PIT_SHARE * self.rz_um

    @property
    def d_max_um(self) -> float:
        """The most film it can usefully take off [um, ENG]."""
        a = self.abrasive
        if a.polish_max_um is not None:
            return a.polish_max_um
        if a.kind == "paper":
            return float(PAPER_MOST * a.grain_um**PAPER_MOST_EXPONENT)
        if a.kind == "wool":
            return WOOL_MOST_UM
        most = MOST_PER_GRAIN[a.kind] * a.grain_um
        return min(most, POWDER_MOST_UM) if a.kind == "powder" else most

    @property
    def by_hand(self) -> bool:
        """Whether a hand moves it."""
        return self.mode != "machine" and self.backing.id not in BY_MACHINE


def hardness_from_margin_MPa(margin_K: float, least_K: float = SOFTEST_K) -> float:
    """Indentation hardness from the film's margin over the bench, H = 25 + 2.5 M [MPa, ENG].

    Raises InputError below least_K, where film gums and paper loads.

    >>> hardness_from_margin_MPa(38)
    120.0
    """
    need_in(margin_K, -300, 300, "margin_K", "K")
    if margin_K < least_K:
        raise InputError(
            "margin_K",
            fact("too-soft", margin_K=margin_K, least_K=least_K),
        )
    return 25.0 + 2.5 * margin_K


def peak_to_valley_um(
    abrasive: Abrasive, backing: Backing, mode: str = "wet", hardness_MPa: float = 120.0, wear: float = USUAL_WEAR
) -> float:
    """Mean five-cell peak-to-valley Rz of the scratch left [um].

    .. math:: R_z = 0.125\\, d^{1.15} c_{back} ((p/2)(120/H))^{0.35} c_{dry}\\, e^{-0.5 (w - 0.45)}

    w: wear, 0 fresh to 1 worn out. Polishes: 7.5 times the Ra they leave. Source: ENG, +-40 %.
    """
    need_above(hardness_MPa, 0, "hardness_MPa", 1e4)
    if abrasive.ra_um is not None:
        return RZ_PER_RA * abrasive.ra_um
    need_in(wear, 0, 1, "wear")
    c_back = 1.0 if abrasive.kind in ("wool", "cushion") else backing.c_back
    load = (backing.p_kPa / 2.0) * (REFERENCE_H_MPA / hardness_MPa)
    dry = 1.0 if mode == "wet" else DRY_SCRATCH
    worn = math.exp(-0.5 * (wear - USUAL_WEAR)) if abrasive.coated else 1.0
    deep = RZ_COEFFICIENT * abrasive.grain_um**RZ_EXPONENT * abrasive.scratch
    return float(deep * c_back * load**0.35 * dry * worn)


def deepest_factor(area_cm2: float, gumbel_b: float) -> float:
    """How much deeper the deepest scratch of an area is than a typical one (Gumbel extreme value, 90 % sure) [-].

    >>> round(deepest_factor(1200, 0.11), 2)
    2.32
    """
    need_above(area_cm2, 0, "area_cm2", 1e7)
    cells = max(area_cm2 / CELL_CM2, 1.0)
    return max(1.0, 1.0 + gumbel_b * (math.log(cells) - math.log(-math.log(SURVIVE)) - 0.5772))


def removal_um(rung: Rung, before: Rung | None, texture_um: float) -> float:
    """Film this rung must take off [um]: level the texture (first rung), or erase the rung before; never less than its
    own scratch, plus the coverage margin. Wool and loose powders only blend, and let the rest show through. texture_um:
    what of it has to go.

    .. math:: D_1 = 1.15\\max(pit, 0.8 PV), \\quad D_{ij} = 1.15\\max(pit_j, 1.4\\,pit_i - pit_j)
    """
    if before is None:
        return COVERAGE * max(rung.pit_um, TEXTURE_SHARE * texture_um)
    if rung.abrasive.kind in BLENDS:
        return COVERAGE * max(WOOL_BLENDS * rung.pit_um, before.pit_um - rung.pit_um)
    return COVERAGE * max(rung.pit_um, ERASES * before.pit_um - rung.pit_um)


def residual_um(last: Rung) -> float:
    """Depth of the scratches left at the end, below the mean plane [um]: not film one can count on."""
    return ERASES * last.pit_um


def deepest_um(rung: Rung, area_cm2: float) -> float:
    """The single deepest scratch a rung leaves over an area [um]: a stray one, or the groove under a scuff."""
    return deepest_factor(area_cm2, rung.backing.gumbel_b) * rung.pit_um


def removal_constant(rung: Rung) -> float:
    """K of the Preston form, with wear and this user's own cut [-, ENG]: a worn paper cuts about half as fast."""
    a = rung.abrasive
    k = a.polish_k if a.polish_k is not None else 0.020 * _of_grain(a.grain_um)
    k *= LOOSE_CUT.get(a.kind, 1.0)
    worn = math.exp(-1.4 * (rung.wear - USUAL_WEAR)) if a.coated else 1.0
    return k * worn * rung.cut


def _of_grain(grain_um: float) -> float:
    return float((grain_um / FINE_UM) ** (1.0 if grain_um < FINE_UM else COARSE_CUT))


def rate_um_s(rung: Rung) -> float:
    """Removal rate under the contact, 1000 K p v / H [um/s] (Preston form, PUB; K is ENG). By hand H counts by its
    root, as it is at 120 MPa: one leans on a hard film [A]; not so for compounds."""
    hardness = rung.hardness_MPa
    if rung.by_hand and rung.abrasive.kind != "polish":
        hardness = math.sqrt(hardness * REFERENCE_H_MPA)
    return 1000.0 * removal_constant(rung) * rung.backing.p_kPa * rung.backing.v_m_s / hardness


def duty(rung: Rung, *, first: bool) -> float:
    """Share of the rubbing time that cuts new film [-, A]."""
    if not (rung.by_hand and rung.abrasive.kind == "paper"):
        return rung.backing.duty
    return rung.backing.duty * (FIRST_DUTY if first else LATER_DUTY)


def per_pass_um(rung: Rung) -> float:
    """Film one pass of the block takes, 1000 K p L / H [um]; the speed cancels. L: length of the contact [m]."""
    length_m = BLOCK_M if rung.backing.contact_cm2 == BLOCK_CM2 else 0.01 * math.sqrt(rung.backing.contact_cm2)
    return 1000.0 * removal_constant(rung) * rung.backing.p_kPa * length_m / rung.hardness_MPa


def pieces_of_paper(rung: Rung, remove_um: float, area_cm2: float) -> float:
    """Faces of paper used up, each as large as the contact [-]."""
    per_grain = CUT_PER_GRAIN[rung.mode]
    return remove_um * area_cm2 / (per_grain * rung.abrasive.grain_um * rung.backing.contact_cm2)


def rubbing_minutes(rung: Rung, remove_um: float, area_cm2: float, *, first: bool) -> float:
    """Time the paper is on the film [min], D A / (60 rate contact duty), times the pace. first: no rung came before."""
    cuts = rate_um_s(rung) * rung.backing.contact_cm2 * duty(rung, first=first)
    return rung.pace * remove_um * area_cm2 / (60.0 * cuts)


def minutes(rung: Rung, remove_um: float, area_cm2: float, *, first: bool) -> float:
    """Time for a rung with setting up and changing paper [min, ENG; within a factor of 1.6]."""
    rub = rubbing_minutes(rung, remove_um, area_cm2, first=first)
    changes = 0.0
    if rung.abrasive.coated:
        changes = 0.5 * max(0, math.ceil(pieces_of_paper(rung, remove_um, area_cm2)) - 1)
    return SETUP_MIN[rung.abrasive.kind] + rub + changes
