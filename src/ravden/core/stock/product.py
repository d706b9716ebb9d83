"""A product a shop buys: a kind of material, with what its own data sheet says of it."""

from __future__ import annotations

from msgspec import Struct, field

from ravden.core.errors import need, need_above, need_in

KINDS = ("finish", "thinner", "hardener", "dye", "filler", "compound", "wax", "paper")
RUBBED = ("paper", "compound")  # of which the material is a grade, and sanding takes; paper is counted in sheets
MOST_ML = 250_000.0  # a drum; more is a slip of the keyboard
MOST_PRICE = 1e6
MOST_MONTHS = 240.0
MOST_CANS = 12


class Figures(Struct, frozen=True, kw_only=True, omit_defaults=True):
    """What a data sheet says in place of the kind's own numbers; None where it is silent.

    volume_solids [-]; density_g_ml; coat_wet_um: wet film of a coat; recoat_h: when it takes the next; cure_days: until
    it is put to use; least_C: below it, it is not laid; hardener: parts of it by volume to one of the finish [-];
    pot_h: once mixed; sealed_months, open_months: how long it keeps.
    """

    volume_solids: float | None = None
    density_g_ml: float | None = None
    coat_wet_um: float | None = None
    recoat_h: float | None = None
    cure_days: float | None = None
    least_C: float | None = None
    hardener: float | None = None
    pot_h: float | None = None
    sealed_months: float | None = None
    open_months: float | None = None

    def __post_init__(self) -> None:
        for name, least, most, unit in (
            ("volume_solids", 0.01, 1, ""), ("density_g_ml", 0.5, 3, "g/ml"), ("coat_wet_um", 1, 2000, "um"),
            ("recoat_h", 0.01, 2000, "h"), ("cure_days", 0.01, 400, "days"), ("least_C", -10, 40, "C"),
            ("hardener", 0.005, 5, ""), ("pot_h", 0.05, 400, "h"), ("sealed_months", 0.1, MOST_MONTHS, "months"),
            ("open_months", 0.1, MOST_MONTHS, "months"),
        ):  # fmt: skip
            told = getattr(self, name)
            if told is not None:
                need_in(told, least, most, name, unit)


class Can(Struct, frozen=True, kw_only=True, omit_defaults=True):
    """A size it is sold in [ml; sheets of paper], and what that costs in the shop's own money; None where nobody
    said."""

    ml: float
    price: float | None = None

    def __post_init__(self) -> None:
        need_above(self.ml, 0, "ml", MOST_ML)
        if self.price is not None:
            need_in(self.price, 0, MOST_PRICE, "price")


class Product(Struct, frozen=True, kw_only=True, omit_defaults=True):
    """By the shop's own name. material: the finish it is, or what it goes into, or its grade; empty: with any."""

    id: str
    name: str
    kind: str = "finish"
    material: str = ""
    figures: Figures = field(default_factory=Figures)
    cans: tuple[Can, ...] = ()

    def __post_init__(self) -> None:
        need(bool(self.name.strip()), "name", "say what it is called")
        need(len(self.name) <= 80, "name", "must be at most 80 letters")
        need(self.kind in KINDS, "product_kind", f"must be one of {', '.join(KINDS)} (got {self.kind})")
        need(self.kind != "finish" or bool(self.material), "material", "say which finish it is")
        need(len(self.cans) <= MOST_CANS, "cans", f"at most {MOST_CANS} sizes")

    def serves(self, kind: str, material: str) -> bool:
        """Whether it is what is poured where this is wanted."""
        return self.kind == kind and self.material in ("", material)
