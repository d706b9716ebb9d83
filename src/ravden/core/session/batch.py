"""How much to mix for everything a session is to lay."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ravden.core.errors import need_above, need_in
from ravden.core.film.deposit import GUN_ON_WORK, material_ml
from ravden.core.materials.mixing import thinned_solids
from ravden.core.record import Material, Zone

LEAST_ML = {"wipe": 1.0, "pad": 2.0, "brush": 3.0, "spray": 15.0}  # [A] of a coat: cloth, cup and hose want it
LEAST_OVER_CM2 = 50.0  # [A] a spot takes a drop
SPARE = 0.15  # [A] left in the cup, the strainer and the hose


@dataclass(frozen=True, slots=True, kw_only=True)
class Layer:
    """Coats of one session on one instrument: how many, of which nominal dry film [um], on how much [cm2, weighed by
    how much lands there]; absorbed_ml: what bare wood absorbs of them of a usual finish, where they are not sprayed
    [ml]."""

    coats: int
    dry_um: float
    area_cm2: float
    absorbed_ml: float = 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Mix:
    """What to make ready of one finish: the whole, and its parts as supplied and thinner [ml]."""

    total_ml: float
    supplied_ml: float
    thinner_ml: float

    def __add__(self, other: "Mix") -> "Mix":
        return Mix(
            total_ml=self.total_ml + other.total_ml, supplied_ml=self.supplied_ml + other.supplied_ml,
            thinner_ml=self.thinner_ml + other.thinner_ml,
        )  # fmt: skip


def absorbed_ml(zones: Sequence[Zone], ml_m2: Mapping[str, Sequence[float]], first: int, coats: int) -> float:
    """What bare wood absorbs of coats number ``first`` on [ml]. ml_m2: by zone, of its first, second, ... coat."""
    return sum(z.area_cm2 * z.k_mean * 1e-4 * sum(ml_m2[z.name][first - 1 : first - 1 + coats]) for z in zones)


def mix(material: Material, way: str, transfer: float, layers: Sequence[Layer]) -> Mix:
    """The mix for all these layers.

    .. math:: V = \\sum_i \\frac{(1 + s) n_i A_i h_i / VS' + d\\,w_i + n_i A_i c}{TE\\; \\eta}

    and no less than a coat by that way takes at all. transfer: share of solids that lands [-]; VS' the solids as
    thinned, s what stays in cup, cloth or hose [A], w what bare wood absorbs of a usual finish, which a gun does not
    push in, d how much of that this one is drunk, c what is wiped off again. Source: volume balance [S]
    (docs/maths.md).
    """
    need_above(transfer, 0, "transfer", 1 + 1e-9)
    need_in(len(layers), 1, 1000, "layers")
    solids = thinned_solids(material.volume_solids, material.thinner_ratio)
    on_work = GUN_ON_WORK if way == "spray" else 1.0
    total = sum(a.coats * material_ml(a.area_cm2, a.dry_um, solids, transfer, on_work) for a in layers) * (1.0 + SPARE)
    if way != "spray":
        total += material.drinks * sum(a.absorbed_ml for a in layers) / transfer
        total += sum(a.coats * a.area_cm2 * 1e-4 * material.wiped_off_ml_m2 for a in layers) / transfer
    total = max(total, sum(a.coats * LEAST_ML.get(way, 0.0) for a in layers if a.area_cm2 > LEAST_OVER_CM2))
    supplied = total / (1.0 + material.thinner_ratio)
    return Mix(total_ml=total, supplied_ml=supplied, thinner_ml=total - supplied)
