"""From what is in the cup to what is on the wood: solids, thinning and shellac cuts (docs/maths.md)."""

from ravden.core.errors import need_above, need_in

G_PER_L_PER_LB_CUT = 119.826  # [S] one pound in one US gallon
ETHANOL_DENSITY_G_ML = 0.789  # [S] at 20 C
SHELLAC_DENSITY_G_ML = 1.15  # [A] 1.10-1.20


def thinned_solids(solids: float, thinner_ratio: float) -> float:
    """Volume solids after thinning, VS' = VS/(1+R) [-].

    solids: volume solids of the material, 0 < VS <= 1; thinner_ratio: thinner to material by volume, R >= 0. Ideal
    mixing. Raises InputError outside these ranges. Source: volume balance [S].

    >>> round(thinned_solids(0.20, 0.5), 6)
    0.133333
    """
    need_above(solids, 0, "solids", 1.0 + 1e-12)
    need_in(thinner_ratio, 0, 50, "thinner_ratio")
    return solids / (1.0 + thinner_ratio)


def dry_from_wet(wet_um: float, solids: float, thinner_ratio: float = 0.0) -> float:
    """Dry film left by a wet film that lost nothing in flight [um].

    .. math:: h_d = h_w \\, V_s / (1 + R)

    wet_um: wet film [um]; the rest as thinned_solids. Source: volume balance [S].

    >>> round(dry_from_wet(100, 0.20, 0.5), 3)
    13.333
    """
    need_above(wet_um, 0, "wet_um", 1e5)
    return wet_um * thinned_solids(solids, thinner_ratio)


def landed_solids(solids: float, flight_loss: float) -> float:
    """Volume solids of the film as it lands, phiL = VS/(VS+(1-VS)(1-f)) [-]; f: share of solvent lost in flight.

    >>> round(landed_solids(0.17, 0.25), 4)
    0.2145
    """
    need_above(solids, 0, "solids", 1.0 + 1e-12)
    need_in(flight_loss, 0, 0.95, "flight_loss")
    return solids / (solids + (1.0 - solids) * (1.0 - flight_loss))


def dry_from_comb(comb_um: float, solids: float, flight_loss: float) -> float:
    """Dry film under a wet-comb reading taken at once [um]: the comb reads after the loss in flight.

    >>> round(dry_from_comb(1.0, 0.17, 0.25), 3)
    0.215
    """
    need_above(comb_um, 0, "comb_um", 1e5)
    return comb_um * landed_solids(solids, flight_loss)


def wet_from_dry(dry_um: float, solids: float, flight_loss: float = 0.0) -> float:
    """Wet film on the surface that leaves dry_um [um].

    >>> round(wet_from_dry(13.0, 0.13), 1)
    100.0
    """
    need_above(dry_um, 0, "dry_um", 1e5)
    return dry_um / landed_solids(solids, flight_loss)


def volume_solids(mass_solids: float, dry_density_g_ml: float, solvent_density_g_ml: float) -> float:
    """Volume solids from mass solids, VS = (w/rs)/(w/rs+(1-w)/rv) [-]. Densities in g/ml [S].

    >>> round(volume_solids(0.20, 1.45, 0.86), 5)
    0.12913
    """
    need_in(mass_solids, 0, 1, "mass_solids")
    need_above(dry_density_g_ml, 0, "dry_density_g_ml", 30)
    need_above(solvent_density_g_ml, 0, "solvent_density_g_ml", 30)
    resin = mass_solids / dry_density_g_ml
    return resin / (resin + (1.0 - mass_solids) / solvent_density_g_ml)


def mass_solids(solids: float, dry_density_g_ml: float, solvent_density_g_ml: float) -> float:
    """Mass solids from volume solids [-], the inverse of volume_solids [S].

    >>> round(mass_solids(0.12913, 1.45, 0.86), 4)
    0.2
    """
    need_in(solids, 0, 1, "solids")
    resin = solids * dry_density_g_ml
    return resin / (resin + (1.0 - solids) * solvent_density_g_ml)


def shellac_volume_solids(cut_lb_gal: float, dry_density_g_ml: float = SHELLAC_DENSITY_G_ML) -> float:
    """Volume solids of a shellac cut, pounds in a US gallon of alcohol (not of solution) [-].

    >>> round(shellac_volume_solids(2.0), 4)
    0.1725
    """
    need_above(cut_lb_gal, 0, "cut_lb_gal", 20)
    v = cut_lb_gal * G_PER_L_PER_LB_CUT / (1000.0 * dry_density_g_ml)
    return v / (1.0 + v)


def cut_from_solution_g_l(g_per_l_solution: float, dry_density_g_ml: float = SHELLAC_DENSITY_G_ML) -> float:
    """Pound cut of a shellac given as grams in a litre of finished solution: C = c/(1 - c/(1000 rs)) [lb/gal].

    >>> round(cut_from_solution_g_l(250), 3)
    2.666
    """
    need_in(g_per_l_solution, 0.001, 0.95 * 1000 * dry_density_g_ml, "g_per_l_solution", "g/L")
    return g_per_l_solution / (1 - g_per_l_solution / (1000 * dry_density_g_ml)) / G_PER_L_PER_LB_CUT


def alcohol_to_dilute_ml(volume_ml: float, from_cut: float, to_cut: float) -> float:
    """Alcohol to add to bring a shellac from one pound cut to a thinner one [ml].

    >>> round(alcohol_to_dilute_ml(500, 3, 2), 2)
    190.46
    """
    need_above(volume_ml, 0, "volume_ml", 1e6)
    need_above(to_cut, 0, "to_cut", from_cut + 1e-12)
    concentration = from_cut * G_PER_L_PER_LB_CUT
    return volume_ml * (from_cut / to_cut - 1.0) / (1.0 + concentration / (1000.0 * SHELLAC_DENSITY_G_ML))


def pad_session_um(volume_ml: float, cut_lb_gal: float, area_cm2: float, retained: float = 0.8) -> float:
    """Dry film of a pad session [um]; retained: share left on the work, .8 [A] (the pad keeps the rest).

    >>> round(pad_session_um(8, 1.5, 1350), 2)
    6.41
    """
    need_above(volume_ml, 0, "volume_ml", 1e5)
    need_above(area_cm2, 0, "area_cm2", 1e6)
    need_in(retained, 0.05, 1, "retained")
    return volume_ml * shellac_volume_solids(cut_lb_gal) * retained / area_cm2 * 1e4
