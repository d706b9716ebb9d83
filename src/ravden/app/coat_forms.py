"""The form for a coat: how it was laid down, by what one has in the hand, turned into nominal dry film. No Qt."""

import re
from collections.abc import Mapping

from ravden.app.forms import Field, at_fields, film, number, when_tip
from ravden.catalogue.rows import Applicator
from ravden.catalogue.tables import Catalogue
from ravden.core.errors import InputError, need
from ravden.core.film import deposit
from ravden.core.materials import mixing
from ravden.core.record import Coat, Material, Project
from ravden.journal.kinds.coat import CoatLogged
from ravden.text.units import Units

BRUSHED = (("brush", "brush"), ("dry", "dry film meant"), ("volume", "volume used"), ("cloth", "cloth or squeegee"))
BY = {
    "brush": BRUSHED,
    "wipe": (BRUSHED[3], *BRUSHED[:3]),
    "spray": (
        ("dry", "dry film meant"), ("wet", "wet film on the work"), ("gun", "gun settings"), ("volume", "volume used"),
        ("can", "spray can weighed"), ("brush", "brush"), ("cloth", "cloth or squeegee"),
    ),
    "pad": (
        ("pad", "pad, by volume"), ("dry", "dry film meant"), ("brush", "brush"), ("cloth", "cloth or squeegee"),
    ),
}  # fmt: skip
TYPED_AT = {
    "used_ml": "ml", "taken_ml": "ml", "volume_ml": "ml", "left_in_cloth_ml": "left", "fluid_ml_min": "fluid",
    "travel_m_min": "travel", "fan_m": "fan", "sprayed_g": "grams", "thinner_ratio": "thinner", "cut_lb_gal": "cut",
    "g_per_l_solution": "cut",
}  # fmt: skip
CAN_SOLIDS = 0.09  # [A] mass solids of everything in a spray can, .06-.12


def finish_of(project: Project, typed: Mapping[str, str], catalogue: Catalogue) -> Material:
    """Which finish the form is about."""
    other = typed.get("on", "")
    return catalogue.material(other.removeprefix("finish:")) if other.startswith("finish:") else project.material


TINT_WORDS = (
    ("", "as its step has it"), ("none", "none"), ("clear", "some, still clear"), ("opaque", "opaque"),
)  # fmt: skip


def fields(
    catalogue: Catalogue, project: Project, units: Units, by: str = "", dry_um: float = 0.0, count: str = "1"
) -> tuple[Field, ...]:
    """The fields of a way of saying how heavy a coat was."""
    material = project.material
    ways = BY[catalogue.applied[material.id]]
    by = by or ways[0][0]
    dry = dry_um or material.coat_dry_um
    out = [Field(name="by", label="How you know it", value=by, choices=ways, turns=True)]
    thinner = Field(
        name="thinner", label="Thinner", unit="% of the material", value=f"{100 * material.thinner_ratio:.0f}",
        tip="Parts of thinner to a hundred of material, by volume.",
    )  # fmt: skip
    volume = Field(name="ml", label="Used", unit="ml", tip="What went from the cup onto the work and into the air.")
    if by == "dry":
        tip = "The usual coat of this material; change it for a light or a heavy one."
        out.append(
            Field(
                name="dry_um",
                label="Dry film of this coat",
                unit=units.film_unit,
                value=units.film_number(dry),
                tip=tip,
            )
        )
    elif by == "wet":
        landed = _landed(material, material.thinner_ratio)
        tip = "As a comb reads it on the surface."
        wet = Field(
            name="wet_um", label="Wet film", unit=units.film_unit, value=units.film_number(dry / landed), tip=tip
        )
        out += [wet, thinner]
    elif by == "gun":
        gun = catalogue.applicators["gun-low-pressure"]
        out += [
            Field(name="fluid", label="Fluid", unit="ml/min", value="150"),
            Field(name="travel", label="Travel", unit="m/min", value="24"),
            Field(name="fan", label="Fan width", unit="cm", value="25"),
            Field(name="overlap", label="Overlap", unit="%", value="50"),
            Field(name="passes", label="Passes", value="1"),
            lands(gun),
            thinner,
        ]
    elif by == "volume":
        out += [volume, lands(catalogue.tool(catalogue.applied[material.id])), thinner]
    elif by == "can":
        can = catalogue.applicators["aerosol"]
        out += [
            Field(name="grams", label="The can lost", unit="g", tip="Weigh it before and after, propellant and all."),
            lands(can),
        ]
    elif by == "brush":
        brush = catalogue.applicators["brush"]
        wet_tip = "Brushes lay 60 to 110 \u00b5m wet, foam pads 20 to 40."
        out += [
            Field(
                name="wet_um",
                label="Wet film",
                unit=units.film_unit,
                value=units.film_number(brush.wet_um),
                tip=wet_tip,
            ),
            thinner,
        ]
    elif by == "cloth":
        out += [
            Field(name="ml", label="Taken up", unit="ml"),
            Field(
                name="left", label="Left in the cloth", unit="ml", tip="From its gain of weight; empty: not weighed."
            ),
            thinner,
        ]
    else:
        out += [
            Field(name="ml", label="Taken up", unit="ml", value="8"),
            Field(name="cut", label="Cut", unit="lb/gal of alcohol", value="1.5", tip=CUT_TIP),
        ]
    out.append(Field(name="count", label="Coats alike", value=count, tip="A number, or 9 or 10 when you are not sure."))
    out.append(
        Field(
            name="first",
            label="First of them",
            tip=f"When the first of several was laid: {when_tip()}. Empty: spaced as the method says.",
        )
    )
    places = [("", "all its zones"), *((z.name, z.label) for z in project.zones if z.name not in project.bare)]
    places += [(f"finish:{m.id}", f"{m.label} on its zones") for m in _others(project)]
    on_zones = {m.id for m in _others(project)} | {material.id}
    places += [(f"finish:{m.id}", f"a layer of {m.label.lower()}") for m in catalogue.materials.values()
               if m.id not in on_zones]  # fmt: skip
    out.append(Field(name="on", label="On", value="", choices=tuple(places)))
    out.append(Field(name="tinted", label="Colour in it", value="", choices=TINT_WORDS))
    out.append(Field(name="at", label="When", value="now", tip=when_tip()))
    return tuple(out)


CUT_TIP = "Pounds to a US gallon of alcohol; or write 180 g/L for grams to a litre of alcohol, 155 g/Ls of solution."


def _others(project: Project) -> tuple[Material, ...]:
    return tuple({m.id: m for m in project.finishes.values()}.values())


def lands(tool: Applicator) -> Field:
    """How much of what leaves the cup, brush, cloth or pad reaches the work."""
    low, high = 100 * tool.transfer_low, 100 * tool.transfer_high
    usual = f"{low:.0f} to {high:.0f} % is usual" if low < high else f"{low:.0f} % is usual, as all of it is laid on"
    return Field(
        name="transfer", label="Lands", unit="%", value=f"{100 * tool.transfer:.0f}",
        tip=f"The share of the solids that reaches the work: {usual}.",
    )  # fmt: skip


def on_work(catalogue: Catalogue, material: Material) -> float:
    """Share of what is used that is laid over the work and not beside it [-]: only a gun also sprays the air."""
    return deposit.GUN_ON_WORK if catalogue.applied[material.id] == "spray" else 1.0


def cut(text: str) -> float:
    """A shellac cut [lb/gal of alcohol]: 2, 240 g/L (of alcohol), or 198 g/Ls (of finished solution)."""
    clean = text.strip().lower().replace(" ", "")
    if clean.endswith("g/ls"):
        return mixing.cut_from_solution_g_l(number(clean[:-4], "cut"))
    if clean.endswith("g/l"):
        return number(clean[:-3], "cut") / mixing.G_PER_L_PER_LB_CUT
    return number(clean.removesuffix("lb"), "cut")


def counts(text: str) -> tuple[int, tuple[tuple[int, float], ...]]:
    """How many coats: 3; or "9 or 10" and "9-10", each as likely."""
    clean = text.strip().lower()
    if re.fullmatch(r"\d+", clean):
        return int(clean), ()
    if found := re.fullmatch(r"(\d+)\s*(?:to|-|\u2013)\s*(\d+)", clean):
        low, high = int(found[1]), int(found[2])
        need(low < high, "count", "write the counts in order, such as 9 or 10")
        need(high - low < 8, "count", "that is too wide a range to weigh")
        several = list(range(low, high + 1))
    elif re.fullmatch(r"\d+(\s*(or|,)\s+\d+)+", clean):
        several = [int(n) for n in re.findall(r"\d+", clean)]
        need(
            several == sorted(set(several)) and len(several) <= 8, "count", "write the counts in order, such as 9 or 10"
        )
    else:
        raise InputError("count", "a whole number of coats, or 9 or 10")
    return 1, tuple((n, 1.0 / len(several)) for n in several)


def _landed(material: Material, thinner_ratio: float) -> float:
    return mixing.landed_solids(mixing.thinned_solids(material.volume_solids, thinner_ratio), material.flight_loss)


def _share(typed: Mapping[str, str], field: str) -> float:
    value = number(typed[field], field) / 100
    need(value >= 0, field, "must not be negative")
    return value


def covered_cm2(project: Project, on: str) -> float:
    """Area that a coat goes on [cm2]. on: empty for all its zones, zones with commas between them, or finish:id."""
    if on.startswith("finish:"):
        names = {z for z, m in project.finishes.items() if m.id == on.removeprefix("finish:")}
        if names:
            return sum(z.area_cm2 for z in project.zones if z.name in names)
        on = ""
    named = on.split(",") if on else []
    return sum(z.area_cm2 for z in project.zones if (z.name in named if on else z.name not in project.bare))


def dry_film(catalogue: Catalogue, project: Project, typed: Mapping[str, str], units: Units) -> tuple[float, str]:
    """The nominal dry film [um] a filled form stands for, and how it is known, in words."""
    by, material = typed["by"], finish_of(project, typed, catalogue)
    area = covered_cm2(project, typed["on"])
    solids = material.volume_solids
    thinner = _share(typed, "thinner") if "thinner" in typed else 0.0
    thinned = f", thinned {100 * thinner:.0f} %" if thinner else ""
    if by == "dry":
        return film(typed, "dry_um", units), ""
    if by == "wet":
        wet = film(typed, "wet_um", units)
        return wet * _landed(material, thinner), f"{units.film(wet)} wet{thinned}"
    if by == "gun":
        gun = deposit.Gun(
            fluid_ml_min=number(typed["fluid"], "fluid"), travel_m_min=number(typed["travel"], "travel"),
            fan_m=number(typed["fan"], "fan") / 100, overlap=_share(typed, "overlap"),
            transfer=_share(typed, "transfer"),
        )  # fmt: skip
        passes = number(typed["passes"], "passes")
        words = f"{gun.fluid_ml_min:g} ml/min, {passes:g} passes{thinned}"
        return deposit.gun_dry_um(gun, solids, thinner, passes), words
    if by == "volume":
        used = number(typed["ml"], "ml")
        share = mixing.thinned_solids(solids, thinner)
        dry = deposit.volume_dry_um(used, area, share, _share(typed, "transfer"), on_work(catalogue, material))
        return dry, f"{used:g} ml used{thinned}"
    if by == "can":
        grams = number(typed["grams"], "grams")
        need(grams > 0, "grams", "weigh the can before and after: it gets lighter by what was sprayed")
        return (
            deposit.aerosol_dry_um(grams, area, CAN_SOLIDS, material.dry_density_g_ml, _share(typed, "transfer")),
            f"{grams:g} g from a can",
        )
    if by == "brush":
        wet = film(typed, "wet_um", units)
        return deposit.brush_dry_um(wet, solids, thinner), f"brushed {units.film(wet)} wet{thinned}"
    if by == "cloth":
        taken = number(typed["ml"], "ml")
        left = number(typed["left"], "left") if typed["left"].strip() else None
        wet = deposit.cloth_wet_um(taken, area, left, catalogue.applicators["cloth"].transfer)
        return deposit.brush_dry_um(wet, solids, thinner), f"{taken:g} ml wiped{thinned}"
    taken, pounds = number(typed["ml"], "ml"), cut(typed["cut"])
    return (
        mixing.pad_session_um(taken, pounds, area, catalogue.applicators["pad"].transfer),
        f"{taken:g} ml of a {pounds:.2g} lb cut",
    )


def read(catalogue: Catalogue, project: Project, typed: Mapping[str, str], units: Units) -> CoatLogged:
    """The journal entry a filled form stands for."""
    with at_fields(TYPED_AT):
        dry, how = dry_film(catalogue, project, typed, units)
    count, odds = counts(typed["count"])
    on = typed["on"]
    body = CoatLogged(
        dry_um=dry, zones=tuple(on.split(",")) if on and not on.startswith("finish:") else None,
        finish=on.removeprefix("finish:") if on.startswith("finish:") else "", count=count, count_odds=odds, how=how,
        tinted=typed.get("tinted", ""),
    )  # fmt: skip
    Coat(at_h=0.0, dry_um=dry, count=count, count_odds=odds)  # refuses what cannot be
    return body
