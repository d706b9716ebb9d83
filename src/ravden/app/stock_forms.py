"""What is typed about products and cans, as entries of the journal. No Qt."""

from __future__ import annotations

import re
from collections.abc import Mapping

from msgspec.structs import replace

from ravden.app.forms import Field, number, when_tip
from ravden.catalogue.tables import Catalogue, shipped
from ravden.core.errors import InputError, need
from ravden.core.stock.lots import Left, Stock
from ravden.core.stock.product import KINDS, RUBBED, Can, Figures, Product
from ravden.journal.kinds.hour_price import HourPriced
from ravden.journal.kinds.stock import CanWeighed, LotBought, LotGone, ProductTold
from ravden.text import stock_words, written
from ravden.text.say import grade_name
from ravden.text.units import Units

A_SIZE = re.compile(r"\s*([\d.,]+)\s*(ml|l|g|kg|sheets?)?\s*(?:(?:at|=|@|:)\s*([\d.,]+))?\s*", re.IGNORECASE)
G_IN = {"ml": 1.0, "l": 1000.0, "g": 1.0, "kg": 1000.0, "": 1.0, "sheet": 1.0, "sheets": 1.0}
SHARE = 100.0


def product_fields(catalogue: Catalogue, product: Product | None, units: Units) -> tuple[Field, ...]:
    """A product, new or as it is."""
    told = product or Product(id="new", name="-", kind="wax")
    figures = told.figures

    def figure(name: str, scale: float = 1.0) -> str:
        value = getattr(figures, name)
        return "" if value is None else written.number(value * scale, ".4g")

    wet, cold = figures.coat_wet_um, figures.least_C

    finishes = tuple((m.id, m.label) for m in sorted(catalogue.materials.values(), key=lambda m: m.label))
    return (
        Field(name="name", label="Its name here", value=product.name if product else "",
              tip="Your own name for it, as on its shelf."),
        Field(name="product_kind", label="What it is", value=told.kind if product else "finish",
              choices=tuple((k, stock_words.KINDS[k]) for k in KINDS)),
        Field(name="material", label="Finish it is or goes into",
              value=told.material if told.kind not in RUBBED else "",
              choices=(("", "any"), *finishes)),
        Field(name="grade", label="Grade, of paper", value=told.material if told.kind in RUBBED else "",
              choices=(("", "any"), *((a.id, grade_name(a.name)) for a in catalogue.abrasives
                                      if a.kind in ("paper", "polish"))),
              tip="Of paper or compound: sanding with this grade takes of it."),
        Field(name="cans", label="Sold in", value=sizes(told.cans, told.kind) if product else "",
              tip="Sizes and prices, as 250 ml at 12; 1 l at 30; 50 sheets at 28"),
        Field(name="volume_solids", label="Solids by volume", unit="%", value=figure("volume_solids", SHARE),
              tip="From its data sheet; empty: as usual for its kind."),
        Field(name="recoat_h", label="Next coat after", unit="h", value=figure("recoat_h"), tip="From its data sheet."),
        Field(name="coat_wet_um", label="Wet film of a coat", unit=units.film_unit, tip="From its data sheet.",
              value="" if wet is None else written.number(units.film_value(wet), ".4g")),
        Field(name="cure_days", label="In use after", unit="days", tip="From its data sheet.",
              value=figure("cure_days")),
        Field(name="least_C", label="Not laid below", unit=units.temperature_unit, tip="From its data sheet.",
              value="" if cold is None else written.number(units.temperature_value(cold), ".4g")),
        Field(name="hardener", label="Hardener to one part", value=figure("hardener"),
              tip="Parts by volume, from its data sheet: the mixing desk begins with it."),
        Field(name="pot_h", label="Once mixed", unit="h", value=figure("pot_h"), tip="From its data sheet."),
        Field(name="density_g_ml", label="Density", unit="g/ml", value=figure("density_g_ml"),
              tip="From its data sheet: with it a can is weighed."),
        Field(name="sealed_months", label="Keeps sealed", unit="months", value=figure("sealed_months"),
              tip="From its data sheet; empty: as usual for its kind."),
        Field(name="open_months", label="Keeps open", unit="months", value=figure("open_months"),
              tip="From its data sheet; empty: as usual for its kind."),
    )  # fmt: skip


def sizes(cans: tuple[Can, ...], kind: str = "") -> str:
    """250 ml at 12; 1 l at 30; 50 sheets at 28."""
    return "; ".join(
        stock_words.of(kind, c.ml) + ("" if c.price is None else f" at {written.number(c.price, 'g')}") for c in cans
    )


def product(stock: Stock, typed: Mapping[str, str], before: Product | None, units: Units) -> ProductTold:
    """The product a filled form stands for. before: as it was; what the form does not ask for stays."""
    name = typed["name"].strip()
    need(bool(name), "name", "say what it is called")
    told: dict[str, float | None] = {}
    old = before.figures if before is not None else Figures()
    shown = {f.name: f.value for f in product_fields(shipped(), before, units)}
    for field in Figures.__struct_fields__:
        text = typed[field].strip()
        if text == shown[field].strip():
            told[field] = getattr(old, field)  # what nobody touched stays to the digit
            continue
        value = number(text, field) if text else None
        told[field] = None if value is None else _inside(field, value, units)
    figures = Figures(**told)
    made = Product(
        id=before.id if before is not None else new_id(stock, name), name=name, kind=typed["product_kind"],
        material=typed["grade" if typed["product_kind"] in RUBBED else "material"], figures=figures,
        cans=cans(typed["cans"]),
    )  # fmt: skip
    return ProductTold(product=made)


def _inside(field: str, value: float, units: Units) -> float:
    """A figure as typed, in the units it is kept in."""
    if field == "coat_wet_um":
        return units.film_to_um(value)
    if field == "least_C":
        return units.temperature_to_C(value)
    return value / SHARE if field == "volume_solids" else value


def with_density(product: Product, typed: str) -> ProductTold:
    """What was learnt of it as its can was weighed."""
    figures = replace(product.figures, density_g_ml=number(typed, "density"))
    return ProductTold(product=replace(product, figures=figures))


def new_id(stock: Stock, name: str) -> str:
    """Letters and digits of its name, with a number where that is taken."""
    base = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-") or "product"
    return next(i for i in (base, *(f"{base}-{n}" for n in range(2, 1000))) if i not in stock.products)


def cans(text: str) -> tuple[Can, ...]:
    """Sizes and prices as typed. Raises InputError at cans."""
    out = []
    for part in (p for p in text.split(";") if p.strip()):
        found = A_SIZE.fullmatch(part)
        if found is None:
            raise InputError("cans", f"{part.strip()} is no size: write 250 ml at 12; 1 l at 30")
        amount, unit, price = found.groups()
        out.append(
            Can(
                ml=number(amount, "cans") * G_IN[(unit or "").lower()],
                price=None if price is None else number(price, "cans"),
            )
        )
    return tuple(out)


def bought_fields(product: Product) -> tuple[Field, ...]:
    """A can that came."""
    first = product.cans[0] if product.cans else None
    return (
        Field(name="ml", label="Content", tip="As 250 ml, 1 l or 50 sheets",
              value=stock_words.of(product.kind, first.ml) if first else "50 sheets" if product.kind == "paper"
              else "1 l"),
        Field(name="price", label="Price", value="" if first is None or first.price is None else f"{first.price:g}",
              tip="In your own money; may be left empty."),
        Field(name="use_by", label="Use by", tip="The day on its label, as 2027-03-01; may be left empty."),
        Field(name="place", label="Where it stands", tip="Shelf, cupboard; may be left empty."),
        Field(name="at", label="Bought", value="now", tip=when_tip()),
    )  # fmt: skip


def bought(product: Product, typed: Mapping[str, str]) -> LotBought:
    """The can a filled form stands for."""
    found = A_SIZE.fullmatch(typed["ml"])
    if found is None:
        raise InputError("ml", "write its content as 250 ml, 1 l or 50 sheets")
    use_by = typed["use_by"].strip()
    day = written.read_day(use_by) if use_by else None
    need(not use_by or day is not None, "use_by", "write the day as 2027-03-01")
    return LotBought(
        product=product.id, ml=number(found[1], "ml") * G_IN[(found[2] or "").lower()],
        price=number(typed["price"], "price") if typed["price"].strip() else None,
        use_by="" if day is None else day.isoformat(), place=typed["place"].strip(),
    )  # fmt: skip


def weigh_fields(
    can: Left, density: float | None, kind: str = "", on_scale: float | None = None
) -> tuple[Field, ...]:  # fmt: skip
    """How much is left in a can; of paper how many sheets. on_scale: what lies on the scale now [g]."""
    if kind == "paper":
        return (
            Field(name="left_ml", label="Sheets left", tip=f"Reckoned: {stock_words.of(kind, can.ml)}"),
            Field(name="at", label="When", value="now", tip=when_tip()),
        )
    return (
        Field(name="g", label="It weighs, can and all", unit="g", tip="Leave this empty if you know what is left.",
              value="" if on_scale is None or on_scale <= 0 else written.number(on_scale, ".1f")),
        Field(name="empty_g", label="The empty can", unit="g",
              tip="Weigh an empty one of its size, with its lid; some 120 g for half a litre, 180 g for a litre."),
        Field(name="density", label="Density", unit="g/ml", value="" if density is None else f"{density:g}",
              tip="From its data sheet; without it, weight tells nothing."),
        Field(name="left_ml", label="Or it has left", unit="ml", value="", tip=f"Reckoned: {max(can.ml, 0):.0f} ml"),
        Field(name="at", label="When", value="now", tip=when_tip()),
    )  # fmt: skip


def weighed(lot: int, typed: Mapping[str, str]) -> CanWeighed:
    """What was found in a can, by weight or as seen."""
    if "g" not in typed:
        count = number(typed["left_ml"], "left_ml")
        need(count == round(count, 1), "left_ml", "count them: whole sheets, or halves")
        return CanWeighed(lot=lot, left_ml=count, sd_ml=0.25, how="counted")
    if typed["left_ml"].strip():
        need(not typed["g"].strip(), "g", "either its weight, or what is left")
        left = number(typed["left_ml"], "left_ml")
        return CanWeighed(lot=lot, left_ml=left, sd_ml=max(0.05 * left, 3.0), how="as seen")
    gross = number(typed["g"], "g")
    need(bool(typed["density"].strip()), "density", "without its density, weight does not tell how much it is")
    density = number(typed["density"], "density")
    need(0.5 <= density <= 3, "density", "must be 0.5 to 3 g/ml")
    empty = number(typed["empty_g"], "empty_g")
    need(0 <= empty <= gross, "empty_g", "the empty can cannot be heavier than the full one")
    return CanWeighed(lot=lot, left_ml=(gross - empty) / density, how=f"{gross:g} g, of which the can {empty:g} g")


def gone_fields() -> tuple[Field, ...]:
    """A can that is off the shelf."""
    return (
        Field(name="what", label="It is", value="empty", choices=(("empty", "empty"), ("thrown", "thrown away"))),
        Field(name="why", label="Why", tip="Gelled, skinned, too old; may be left empty."),
        Field(name="at", label="When", value="now", tip=when_tip()),
    )  # fmt: skip


def gone(lot: int, typed: Mapping[str, str]) -> LotGone:
    """The can a filled form stands for."""
    return LotGone(lot=lot, what=typed["what"], why=typed["why"].strip())


def hour_fields(per_hour: float) -> tuple[Field, ...]:
    """What an hour of hands costs."""
    return (
        Field(name="per_hour", label="An hour costs", value=written.number(per_hour, "g") if per_hour else "",
              tip="In your own money; empty: hours are not reckoned. It stands on no page that is given away."),
    )  # fmt: skip


def hour(typed: Mapping[str, str]) -> HourPriced:
    """The price of an hour a filled form stands for."""
    return HourPriced(per_hour=number(typed["per_hour"], "per_hour") if typed["per_hour"].strip() else 0.0)
