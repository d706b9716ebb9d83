"""The mixing desk: what is asked for each way of mixing, what to pour, and the label for the jar. No Qt."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime, timedelta
from html import escape
from typing import TYPE_CHECKING

from msgspec import Struct

from ravden.app.forms import Field, at_fields, number
from ravden.catalogue.shelf import shelves
from ravden.core.errors import need
from ravden.core.materials import desk
from ravden.core.materials.desk import Recipe
from ravden.core.method.habit import Pot
from ravden.core.stock.lots import in_use
from ravden.core.stock.product import Figures
from ravden.text import words, written

if TYPE_CHECKING:
    from ravden.app.session import ShopSession
    from ravden.app.stock import Wanted
    from ravden.core.record import Material

WAYS = (
    ("thin", "Thin a finish"), ("solids", "Thin it to a solids"), ("flakes", "Shellac from flakes"),
    ("stronger", "Shellac from a stronger cut"), ("hardener", "A finish with hardener"), ("dye", "A dye"),
)  # fmt: skip
STEPS = (("1", "1 ml"), ("5", "5 ml"), ("10", "10 ml"), ("25", "25 ml"))
CUTS = ((desk.PER_GALLON, "pounds to a gallon of alcohol"), (desk.PER_LITRE, "grams in a litre of mix"))
NAMES = {
    "thinner": "thinner", "retarder": "retarder", "hardener": "hardener", "alcohol": "alcohol", "flakes": "dry flakes",
    "stronger": "the stronger cut", "dye": "dye", "carrier": "what carries it",
}  # fmt: skip
SHELLAC = "shellac"
HALVES_K = 10.0  # [C] by how many K warmer a pot life is halved, where the finish has no figure of its own
LEAST_ML = 5.0  # of what is made ready
SOON = timedelta(hours=24)
OFF = 0.02  # of the proportion: what rounding may change without a word
MIXED_MONTHS = 6.0  # [A] of shellac once it is dissolved; the shelf's own figure is for what is bought


class Mixed(Struct, frozen=True, kw_only=True):
    """pour: what to pour, in order; told: what comes of it; warn: what to mind; material: the finish, empty for none;
    ml: in all; supplied_ml, thinner_ml: of it out of the cans of the finish and of thinner; keeps: until when it can be
    used, None where nobody knows."""

    title: str
    pour: tuple[str, ...]
    told: tuple[str, ...]
    warn: tuple[str, ...]
    material: str
    ml: float
    supplied_ml: float
    thinner_ml: float
    keeps: datetime | None


def fields(
    session: ShopSession, way: str, wants: Wanted | None = None, finish_id: str = ""
) -> tuple[Field, ...]:  # fmt: skip
    """What is asked for a way of mixing; the amount begins with what the plans take of the finish within a day.
    finish_id: the one chosen by hand; empty: the one that is likely."""
    materials = session.catalogue.materials.values()
    shellac = way in ("flakes", "stronger")
    two = [m for m in materials if m.cure.model == "crosslink"]
    there = [m for m in materials if m.family == SHELLAC] if shellac else two if way == "hardener" else list(materials)
    first = next((m for m in there if m.id == finish_id), None) or _first(session, there, wants)
    soon, sheet = _soon(session, first, wants), sheet_of(session, first.id)
    finish = Field(name="finish", label="Which finish", value=first.id, choices=tuple((m.id, m.label) for m in there),
                   turns=True)  # fmt: skip
    step = Field(name="step", label="Measured in steps of", value="5", choices=STEPS)
    amount = Field(name="ml", label="How much", unit="ml", value=f"{soon:.0f}",
                   tip="What the plans take of it within a day, where they do.")  # fmt: skip
    retarder = Field(name="retarder", label="Of the thinner, retarder", unit="%", value="0",
                     tip="In the damp: it keeps the film open. Not more than its data sheet says.")  # fmt: skip
    cut = Field(name="cut", label="Cut wanted", value="2")
    said = Field(name="convention", label="A cut is", value=desk.PER_GALLON, choices=CUTS)
    by_way: dict[str, tuple[Field, ...]] = {
        "thin": (finish, amount, Field(name="ratio", label="Thinner to the finish", unit="%",
                                       value=f"{100 * first.thinner_ratio:.0f}"), retarder, step),
        "solids": (finish, amount, Field(name="wanted", label="Solids wanted", unit="%",
                                         value=f"{100 * first.volume_solids / (1 + first.thinner_ratio):.1f}"),
                   Field(name="solids", label="Solids as supplied", unit="%", value=f"{100 * first.volume_solids:.1f}",
                         tip="By volume, from its data sheet."), retarder, step),
        "flakes": (finish, amount, cut, said, step),
        "stronger": (finish, amount, Field(name="have", label="Cut there is", value="3"), cut, said, step),
        "hardener": (finish, amount, Field(name="base_parts", label="Parts of the finish",
                                    value="2" if sheet.hardener is None else "1"),
                     Field(name="hardener_parts", label="Parts of hardener",
                           value="1" if sheet.hardener is None else written.number(sheet.hardener, ".3g")),
                     Field(name="by", label="Parts go by", value="volume",
                           choices=(("volume", "volume"), ("weight", "weight"))),
                     Field(name="base_g_ml", label="Density of the finish", unit="g/ml",
                           value="1.0" if sheet.density_g_ml is None else written.number(sheet.density_g_ml, ".3g"),
                           tip="Only asked for by weight."),
                     Field(name="hardener_g_ml", label="Density of the hardener", unit="g/ml", value="1.0",
                           tip="Only asked for by weight."),
                     Field(name="thinner", label="Thinner to both", unit="%", value="0"), step),
        "dye": (amount, Field(name="g_per_litre", label="Strength", unit="g/l", value="5")),
    }  # fmt: skip
    return by_way[way]


def sheet_of(session: ShopSession, material: str) -> Figures:
    """What the data sheet of the product says whose can is in use; nothing where there is none."""
    stock = session.shop.stock
    lot = in_use(stock, "finish", material, session.now)
    return Figures() if lot is None else stock.products[lot.product].figures


def pot_of(session: ShopSession, material: str, way: str = "") -> Pot | None:
    """How long a mix of a finish can be used: by the data sheet of the product in use where that says it, else as is
    usual for it; None: as long as one likes, or nobody knows."""
    usual, told = session.catalogue.booth.habit(material, way).pot, sheet_of(session, material).pot_h
    if told is None:
        return usual
    halves_K = HALVES_K if usual is None else usual.halves_K
    return Pot(material=material, pot_min=60.0 * told, halves_K=halves_K, basis="by its data sheet")


def _first(session: ShopSession, there: list[Material], wants: Wanted | None) -> Material:
    """The finish that is wanted soonest, or that of the instrument turned to."""
    ids = {m.id: m for m in there}
    soonest = sorted(
        (needs[0].at, material) for (kind, material), needs in (wants or {}).items() if kind == "finish" and needs
    )  # fmt: skip
    own = session.rack.instrument.material if session.rack is not None else ""
    named = [own, *(m for _, m in soonest)]
    return next((ids[m] for m in named if m in ids), there[0])


def _soon(session: ShopSession, material: Material, wants: Wanted | None) -> float:
    """What the plans take of a finish within a day, thinner with it, to the next 10 ml; 250 ml where they take none."""
    needs = (wants or {}).get(("finish", material.id), ())
    soon = sum(n.ml for n in needs if n.at <= session.now + SOON) * (1 + material.thinner_ratio)
    return 250.0 if soon <= 0 else max(10.0 * -(-soon // 10.0), 10.0)


def mixed(session: ShopSession, way: str, typed: Mapping[str, str]) -> Mixed:
    """What to pour. Raises InputError at the field."""
    ml = number(typed["ml"], "ml")
    step = float(typed.get("step", "1"))

    def share(name: str) -> float:
        return number(typed[name], name) / 100.0

    with at_fields({}):
        if way == "dye":
            made = desk.dyed(ml, number(typed["g_per_litre"], "g_per_litre"))
            return _told(session, None, made, f"Dye, {typed['g_per_litre'].strip()} g/l")
        material = session.catalogue.material(typed["finish"])
        label = material.label
        if way == "thin":
            made = desk.thinned(ml, share("ratio"), material.volume_solids, retarder=share("retarder"), step_ml=step)
            title = f"{label}, thinned {typed['ratio'].strip()} %"
        elif way == "solids":
            solids = share("solids")
            need(0 < solids <= 1, "solids", "must be more than nothing and at most 100 %")
            made = desk.to_solids(ml, share("wanted"), solids, retarder=share("retarder"), step_ml=step)
            title = f"{label}, thinned to {typed['wanted'].strip()} % solids"
        elif way == "hardener":
            made = desk.catalysed(
                ml, number(typed["base_parts"], "base_parts"), number(typed["hardener_parts"], "hardener_parts"),
                by_weight=typed["by"] == "weight", base_g_ml=number(typed["base_g_ml"], "base_g_ml"),
                hardener_g_ml=number(typed["hardener_g_ml"], "hardener_g_ml"), thinner=share("thinner"), step_ml=step,
            )  # fmt: skip
            title = f"{label} with hardener, {typed['base_parts'].strip()} : {typed['hardener_parts'].strip()}"
        else:
            cut = number(typed["cut"], "cut")
            if way == "flakes":
                made = desk.from_flakes(ml, cut, typed["convention"], step_ml=step)
            else:
                made = desk.from_stronger(ml, number(typed["have"], "have"), cut, typed["convention"], step_ml=step)
            unit = "lb cut" if typed["convention"] == desk.PER_GALLON else "g/l"
            title = f"{label}, {typed['cut'].strip()} {unit}"
    return _told(session, material, made, title)


def lasts(session: ShopSession, pot: Pot) -> str:
    """How long a mix can be used, in words."""
    return f"Once mixed it can be used for about {words.minutes(pot.pot_min)} at {session.units.temperature(20)}"


def ready(material: Material, ml: float) -> Recipe:
    """So much of a finish as it is usually laid, by the desk's own reckoning: the finish, and its thinner where it
    takes any."""
    return desk.thinned(max(ml, LEAST_ML), material.thinner_ratio, material.volume_solids, step_ml=float(STEPS[1][0]))


def _told(session: ShopSession, material: Material | None, made: Recipe, title: str) -> Mixed:
    base = "" if material is None else material.label.lower()
    pour = tuple(f"{_amount(p.amount, p.unit)} of {base if p.what == 'base' else NAMES[p.what]}" for p in made.parts)
    told = [
        f"Makes {made.ml:.0f} ml" + ("" if made.solids is None else f", {100 * made.solids:.1f} % of it solids") + "."
    ]
    if abs(made.off) > OFF:
        more = "more" if made.off > 0 else "less"
        told.append(f"Rounded: {100 * abs(made.off):.0f} % {more} of the second part than asked; take smaller steps.")
    keeps = None
    pot = None if material is None else pot_of(session, material.id, session.catalogue.applied[material.id])
    if pot is not None and any(p.what == "hardener" for p in made.parts):
        keeps = session.now + timedelta(minutes=pot.pot_min)
        told.append(f"{lasts(session, pot)}: mix it last.")
    elif material is not None and any(p.what in ("flakes", "stronger") for p in made.parts):
        keeps = session.now + timedelta(days=30.44 * MIXED_MONTHS)
        shelf = shelves().get(material.family)
        told.append("Flakes want a night to dissolve; then strain it. " if made.parts[0].what == "alcohol" else "")
        told.append(f"Use it within {MIXED_MONTHS:.0f} months; {shelf.what}." if shelf is not None else "")
    warn = () if material is None else material.cautions
    if any(p.what == "retarder" for p in made.parts):
        told.append("Retarder keeps the film open longer: wait longer between coats.")
    return Mixed(
        title=title, pour=pour, told=tuple(t for t in told if t), warn=tuple(warn),
        material="" if material is None else material.id, ml=made.ml, keeps=keeps,
        supplied_ml=sum(p.ml for p in made.parts if p.what in ("base", "stronger")),
        thinner_ml=sum(p.ml for p in made.parts if p.what == "thinner"),
    )  # fmt: skip


def _amount(value: float, unit: str) -> str:
    return f"{written.number(value, '.1f' if value < 10 and value != round(value) else '.0f')} {unit}"


def label(session: ShopSession, made: Mixed) -> str:
    """A label for the jar: what, how much of what, when, until when, what to mind."""
    now = session.local(session.now)
    keeps = ""
    if made.keeps is not None:
        at = session.local(made.keeps)
        hours = made.keeps - session.now < SOON
        keeps = f"<p><b>Use until {words.moment(at, now) if hours else at.date().isoformat()}</b></p>"
    rows = "".join(f"<p>{escape(line)}</p>" for line in made.pour)
    warn = "".join(f"<p class='small'>{escape(w)}</p>" for w in made.warn)
    return (
        f"<p class='title'>{escape(made.title)}</p>{rows}<p>{made.ml:.0f} ml, mixed {now.date().isoformat()}</p>"
        f"{keeps}{warn}"
    )
