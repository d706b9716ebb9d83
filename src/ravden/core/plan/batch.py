"""How much to mix for everything a session is to lay."""

from collections.abc import Sequence
from dataclasses import dataclass

from ravden.core.errors import need_above, need_in
from ravden.core.film.deposit import GUN_ON_WORK, material_ml
from ravden.core.materials.mixing import thinned_solids
from ravden.core.record import Material

SPARE = 0.15  # [A] left in the cup, the strainer and the hose


@dataclass(frozen=True, slots=True, kw_only=True)
class Layer:
    """Coats of one session on one instrument: how many, of which nominal dry film [um], on how much [cm2, weighed by
    how much lands there]."""

    coats: int
    dry_um: float
    area_cm2: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Mix:
    """What to make ready of one finish: the whole, and its parts as supplied and thinner [ml]."""

    total_ml: float
    supplied_ml: float
    thinner_ml: float


def mix(material: Material, way: str, transfer: float, layers: Sequence[Layer]) -> Mix:
    """The mix for all these layers.

    .. math:: V = (1 + s) \\sum_i \\frac{n_i A_i h_i}{VS'\\; TE\\; \\eta}

    transfer: share of solids that lands [-]; VS' the solids as thinned, s what stays in cup and hose [A]. Source:
    volume balance [S] (docs/maths.md).
    """
    need_above(transfer, 0, "transfer", 1 + 1e-9)
    need_in(len(layers), 1, 1000, "layers")
    solids = thinned_solids(material.volume_solids, material.thinner_ratio)
    on_work = GUN_ON_WORK if way == "spray" else 1.0
    total = sum(a.coats * material_ml(a.area_cm2, a.dry_um, solids, transfer, on_work) for a in layers) * (1.0 + SPARE)
    supplied = total / (1.0 + material.thinner_ratio)
    return Mix(total_ml=total, supplied_ml=supplied, thinner_ml=total - supplied)
