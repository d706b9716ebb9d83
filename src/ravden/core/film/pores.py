"""Pores that sink after levelling, because what fills them still has solvent to lose (docs/maths.md)."""

from ravden.core.errors import need_above, need_in

PORE_UM = 120.0  # [A] depth of an unfilled pore of an open-grained wood
SEEN_UM = 1.0  # [A] telegraph that shows under gloss
LEFT_BY_FILLER = {"filled": 0.05, "half-filled": 0.5, "unfilled": 1.0}  # [A] share of the depth that lacquer must fill


def shrink_strain(solvent: float, solvent_at_rest: float = 0.0) -> float:
    """Share of its height a film has still to lose [-].

    .. math:: e = 1 - \\frac{1-\\psi}{1-\\psi_\\infty}

    solvent: volume fraction now [-]; solvent_at_rest: what never leaves [-]. Source: volume balance [S].

    >>> round(shrink_strain(0.20, 0.015), 4)
    0.1878
    """
    need_in(solvent, 0, 0.999, "solvent")
    need_in(solvent_at_rest, 0, 0.999, "solvent_at_rest")
    return 1.0 - (1.0 - solvent) / (1.0 - solvent_at_rest)


def sink_um(depth_um: float, solvent: float, solvent_at_rest: float = 0.0) -> float:
    """How far a pore levelled flush at this solvent will sink [um].

    >>> [round(sink_um(120, psi, 0.015), 1) for psi in (0.20, 0.10, 0.06, 0.03)]
    [22.5, 10.4, 5.5, 1.8]
    """
    need_above(depth_um, 0, "depth_um", 2000)
    return depth_um * shrink_strain(solvent, solvent_at_rest)


def depth_after_um(depth_um: float, solids: float, coats: float) -> float:
    """What is left of a pore's depth after so many coats that filled it flush [um].

    .. math:: d_n = d\\,(1-VS)^n

    >>> [round(depth_after_um(120, 0.20, n)) for n in (3, 6)]
    [61, 31]
    """
    need_above(depth_um, 0, "depth_um", 2000)
    need_above(solids, 0, "solids", 1)
    need_in(coats, 0, 500, "coats")
    return float(depth_um * (1.0 - solids) ** coats)
