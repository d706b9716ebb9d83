"""The mixing desk: what to pour together for so much of a mix, rounded to what can be measured."""

from __future__ import annotations

from dataclasses import dataclass

from ravden.core.errors import need, need_above, need_in
from ravden.core.materials.mixing import (
    G_PER_L_PER_LB_CUT,
    SHELLAC_DENSITY_G_ML,
    cut_from_solution_g_l,
    thinned_solids,
)

MOST_ML = 50_000.0
MORE = 0.5  # [A] what is mixed beyond what was asked weighs half of what the proportion is off
PER_GALLON, PER_LITRE = "lb", "g"  # a cut as pounds in a gallon of alcohol, or as grams in a litre of solution


@dataclass(frozen=True, slots=True, kw_only=True)
class Part:
    """What is poured: base, stronger, thinner, alcohol, hardener, retarder [ml], or flakes or dye [g]; exact: before
    it was rounded; g_ml: density of what goes by weight."""

    what: str
    amount: float
    unit: str
    exact: float
    g_ml: float = 1.0

    @property
    def ml(self) -> float:
        """How much room it takes, where it is poured [ml]."""
        return self.amount / self.g_ml if self.unit == "g" else self.amount


@dataclass(frozen=True, slots=True, kw_only=True)
class Recipe:
    """parts: in the order they are poured; ml: in all, once rounded; solids: by volume, None where it says nothing;
    off: how much the rounding changed the proportion of the rest to the first part [-]."""

    parts: tuple[Part, ...]
    ml: float
    solids: float | None
    off: float


def thinned(
    ml: float, ratio: float, solids: float, *, retarder: float = 0.0, step_ml: float = 1.0
) -> Recipe:  # fmt: skip
    """A finish with thinner.

    ratio: thinner to finish by volume; retarder: share of the thinner that it takes the place of; solids: by volume as
    supplied. Ideal mixing [S].

    >>> [(p.what, p.amount) for p in thinned(240, 0.2, 0.17).parts]
    [('base', 200.0), ('thinner', 40.0)]
    """
    _volume(ml)
    need_in(ratio, 0, 10, "ratio")
    need_in(retarder, 0, 1, "retarder")
    base = ml / (1.0 + ratio)
    wanted = [("base", base), ("thinner", base * ratio * (1 - retarder)), ("retarder", base * ratio * retarder)]
    parts = _rounded(wanted, step_ml)
    total = sum(p.amount for p in parts)
    first = parts[0].amount
    return Recipe(parts=parts, ml=total, solids=thinned_solids(solids, (total - first) / first), off=_off(parts, ratio))


def to_solids(ml: float, wanted: float, solids: float, *, retarder: float = 0.0, step_ml: float = 1.0) -> Recipe:
    """The same, thinned until so much of it is solid: R = VS / VS' - 1 [S]. wanted, solids: by volume [-]."""
    need_in(wanted, 0.005, 1, "wanted")
    need(wanted <= solids + 1e-12, "wanted", f"thinner makes it less than {100 * solids:.0f} %, never more")
    return thinned(ml, solids / wanted - 1.0, solids, retarder=retarder, step_ml=step_ml)


def cut_lb(cut: float, convention: str) -> float:
    """A cut in pounds to a gallon of alcohol, however it was said."""
    need(convention in (PER_GALLON, PER_LITRE), "convention", f"must be {PER_GALLON} or {PER_LITRE}")
    if convention == PER_GALLON:
        need_in(cut, 0.05, 8, "cut")
        return cut
    need_in(cut, 5, 700, "cut", "g/l")
    return cut_from_solution_g_l(cut)


def from_flakes(ml: float, cut: float, convention: str = PER_GALLON, *, step_ml: float = 1.0) -> Recipe:
    """Shellac from flakes and alcohol: the flakes take room of their own, at 1.15 g/ml [A].

    >>> [(p.what, round(p.exact, 1)) for p in from_flakes(500, 2.0).parts]
    [('alcohol', 413.8), ('flakes', 99.2)]
    """
    _volume(ml)
    g_per_ml = cut_lb(cut, convention) * G_PER_L_PER_LB_CUT / 1000.0
    alcohol = ml / (1.0 + g_per_ml / SHELLAC_DENSITY_G_ML)
    poured = _nearest(alcohol, step_ml)
    flakes = float(max(round(poured * g_per_ml), 1))
    parts = (
        Part(what="alcohol", amount=poured, unit="ml", exact=alcohol),
        Part(what="flakes", amount=flakes, unit="g", exact=alcohol * g_per_ml),
    )
    dry = flakes / SHELLAC_DENSITY_G_ML
    return Recipe(parts=parts, ml=poured + dry, solids=dry / (poured + dry), off=flakes / (poured * g_per_ml) - 1.0)


def from_stronger(
    ml: float, have: float, cut: float, convention: str = PER_GALLON, *, step_ml: float = 1.0
) -> Recipe:  # fmt: skip
    """A thinner cut from a stronger one and alcohol.

    >>> [(p.what, round(p.exact, 1)) for p in from_stronger(300, 3.0, 1.5).parts]
    [('stronger', 170.3), ('alcohol', 129.7)]
    """
    _volume(ml)
    strong, weak = cut_lb(have, convention), cut_lb(cut, convention)
    need(weak < strong, "cut", "alcohol makes it thinner, never stronger")

    def in_a_litre(lb: float) -> float:
        g = lb * G_PER_L_PER_LB_CUT
        return g / (1.0 + g / (1000.0 * SHELLAC_DENSITY_G_ML))

    first = ml * in_a_litre(weak) / in_a_litre(strong)
    parts = _rounded([("stronger", first), ("alcohol", ml - first)], step_ml)
    solids = parts[0].amount * in_a_litre(strong) / 1000.0 / SHELLAC_DENSITY_G_ML / sum(p.amount for p in parts)
    return Recipe(parts=parts, ml=sum(p.amount for p in parts), solids=solids, off=_off(parts, (ml - first) / first))


def catalysed(
    ml: float, base_parts: float, hardener_parts: float, *, by_weight: bool = False, base_g_ml: float = 1.0,
    hardener_g_ml: float = 1.0, thinner: float = 0.0, step_ml: float = 1.0,
) -> Recipe:  # fmt: skip
    """A finish of two parts. thinner: share of both by volume. By weight the densities turn it into volumes [S].

    >>> [(p.what, p.amount) for p in catalysed(330, 2, 1, thinner=0.1).parts]
    [('base', 200.0), ('hardener', 100.0), ('thinner', 30.0)]
    """
    _volume(ml)
    need_above(base_parts, 0, "base_parts", 1000)
    need_above(hardener_parts, 0, "hardener_parts", 1000)
    need_in(thinner, 0, 5, "thinner")
    ratio = hardener_parts / base_parts
    if by_weight:
        need_in(base_g_ml, 0.5, 3, "base_g_ml", "g/ml")
        need_in(hardener_g_ml, 0.5, 3, "hardener_g_ml", "g/ml")
        ratio *= base_g_ml / hardener_g_ml
    base = ml / (1.0 + ratio) / (1.0 + thinner)
    wanted = [("base", base), ("hardener", base * ratio), ("thinner", base * (1 + ratio) * thinner)]
    parts = _rounded(wanted, step_ml)
    off = _off(parts[:2], ratio)
    total = sum(p.amount for p in parts)
    if by_weight:
        parts, off = _weighed(parts, {"base": base_g_ml, "hardener": hardener_g_ml}, hardener_parts / base_parts)
    return Recipe(parts=parts, ml=total, solids=None, off=off)


def _weighed(parts: tuple[Part, ...], g_ml: dict[str, float], ratio: float) -> tuple[tuple[Part, ...], float]:
    """What goes by weight in whole grams, the hardener by what was poured of the base."""
    first = float(round(parts[0].amount * g_ml["base"]))
    grams = {"base": first, "hardener": max(float(round(first * ratio)), 1.0)}
    out = [
        Part(what=p.what, amount=grams[p.what], unit="g", exact=p.exact * g_ml[p.what], g_ml=g_ml[p.what])
        if p.what in grams
        else p
        for p in parts
    ]
    return tuple(out), grams["hardener"] / first / ratio - 1.0


def dyed(ml: float, g_per_litre: float) -> Recipe:
    """A dye of a strength: so many grams in a litre of what carries it."""
    _volume(ml)
    need_in(g_per_litre, 0.01, 500, "g_per_litre", "g/l")
    exact = ml * g_per_litre / 1000.0
    grams = max(round(exact, 1) if exact < 10 else float(round(exact)), 0.1)
    carrier = Part(what="carrier", amount=ml, unit="ml", exact=ml)
    return Recipe(
        parts=(carrier, Part(what="dye", amount=grams, unit="g", exact=exact)),
        ml=ml,
        solids=None,
        off=grams / exact - 1.0,
    )


def _volume(ml: float) -> None:
    need_above(ml, 0, "ml", MOST_ML)


def _nearest(ml: float, step_ml: float) -> float:
    need_in(step_ml, 0.1, 100, "step_ml", "ml")
    return max(round(ml / step_ml), 1) * step_ml


def _measured(ml: float, step_ml: float) -> float:
    """To the steps of the cup; what is less than two of them by the ml, and less than 2 ml by tenths, as a syringe
    does."""
    finer = step_ml if ml >= 2 * step_ml else 1.0 if ml >= 2.0 else 0.1
    return _nearest(ml, min(finer, step_ml))


def _rounded(wanted: list[tuple[str, float]], step_ml: float) -> tuple[Part, ...]:
    """Each to a whole number of steps; the first a little more rather than less, so that it reaches, and as many steps
    more as keep the proportion of the others closest."""
    need_in(step_ml, 0.1, 100, "step_ml", "ml")
    kept = [(what, ml) for what, ml in wanted if ml > 1e-9]
    first = kept[0][1]
    least = max(int(first / step_ml + 0.999999), 1)

    def off(steps: int) -> float:
        scale = steps * step_ml / first
        return sum(abs(_measured(ml * scale, step_ml) / (ml * scale) - 1.0) for _, ml in kept[1:])

    steps = min(
        range(least, least + max(least // 10, 1) + 1), key=lambda n: (off(n) + MORE * (n * step_ml / first - 1.0), n)
    )
    scale = steps * step_ml / first
    return tuple(
        Part(what=what, amount=_measured(ml * scale, step_ml), unit="ml", exact=ml) for what, ml in kept
    )  # fmt: skip


def _off(parts: tuple[Part, ...], ratio: float) -> float:
    rest = sum(p.amount for p in parts[1:])
    return rest / parts[0].amount / ratio - 1.0 if ratio > 0 else 0.0
