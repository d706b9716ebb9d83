"""The form for a reading: by what it was taken, turned into film. No Qt."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import replace

from ravden.app.coat_forms import lands, on_work
from ravden.app.forms import Field, at_fields, film, number, when_tip
from ravden.app.settings import TOOLS
from ravden.catalogue.tables import Catalogue
from ravden.core.errors import need
from ravden.core.film import deposit
from ravden.core.materials import mixing
from ravden.core.record import NOTICES, Material, Project, Reading
from ravden.journal.kinds.reading import ReadingLogged
from ravden.text import words, written
from ravden.text.units import Units

# What a reading is taken with; the others want eyes, a nail or a cloth.
BY = {"gauge": "gauge", "comb": "comb", "card": "scale", "micrometer": "micrometer", "gloss": "gloss"}
CARD_CM2 = 100.0  # a witness card of 10 by 10 cm, unless told otherwise


def fields(
    catalogue: Catalogue, project: Project, units: Units, zone: str, what: str = "gauge", tools: Sequence[str] = TOOLS
) -> tuple[Field, ...]:  # fmt: skip
    """The fields of a way of reading. tools: what there is to measure with; what cannot be read here is not asked for,
    but for what was read already."""
    choices = tuple(
        (way, said) for way, said in words.READ_WITH.items() if way == what or BY.get(way, "") in ("", *tools)
    )
    out = [Field(name="what", label="With", value=what, choices=choices, turns=True)]
    zones = tuple((z.name, z.label) for z in project.zones if z.name not in project.masked)
    where = Field(name="zone", label="Where", value=zone, choices=zones)
    if what == "gauge":
        out += [
            where,
            Field(name="um", label="It reads", unit=units.film_unit, tip="The mean of your touches."),
            Field(name="n", label="Touches", value="3", tip="How many touches the mean is of."),
        ]
    elif what == "gloss":
        tip = "At 60 degrees, across the scratches; it teaches Ravden what your papers leave."
        out += [where, Field(name="gu60", label="It reads", unit="gloss units", tip=tip)]
    elif what == "comb":
        out += [
            where,
            Field(
                name="um", label="Last wet tooth", unit=units.film_unit, tip="Of the last coat, read within seconds."
            ),
            Field(name="high_um", label="First dry tooth", unit=units.film_unit),
            Field(name="thinner", label="Thinner", unit="%", value=f"{100 * project.material.thinner_ratio:.0f}"),
        ]
    elif what == "card":
        out += [
            Field(name="g", label="The card gained", unit="g", tip="Its weight now less its weight bare."),
            Field(name="cm2", label="Coated area", unit="cm\u00b2", value=written.number(CARD_CM2, "g")),
        ]
    elif what == "micrometer":
        tip = "Its thickness now less its thickness bare."
        out.append(Field(name="um", label="The card grew by", unit=units.film_unit, tip=tip))
    elif what == "volume":
        last, _ = _last_coat(catalogue, project, math.inf)
        out += [
            Field(name="ml", label="The last coat took", unit="ml"),
            Field(name="thinner", label="Thinner", unit="%", value=f"{100 * last.thinner_ratio:.0f}"),
            replace(
                lands(catalogue.tool(catalogue.applied[last.id])),
                tip="Do not use it if the coat was logged by volume.",
            ),
        ]
    elif what not in NOTICES:
        out += [
            where,
            Field(
                name="spot", label="How much", value="spot", choices=(("spot", "a spot"), ("whole", "the whole zone"))
            ),
        ]
        if what == "through" and any(c.tinted for c in project.coats):
            tip = "The colour in the film, which is still there, or the wood under it."
            shows = (("colour", "colour"), ("wood", "wood"))
            out.append(Field(name="colour", label="What shows", value="colour", choices=shows, tip=tip))
    out.append(Field(name="at", label="When", value="now", tip=when_tip()))
    return tuple(out)


def first_of(tools: Sequence[str]) -> str:
    """The way of reading a form begins with."""
    return next((way for way, tool in BY.items() if tool in tools and way != "gloss"), "volume")


def _last_coat(catalogue: Catalogue, project: Project, at_h: float) -> tuple[Material, float]:
    """What the last coat by an hour was of, and the area it was laid on [cm2]."""
    last = max((c for c in project.coats if c.at_h <= at_h), key=lambda c: c.at_h, default=None)
    if last is None:
        return project.material, sum(z.area_cm2 for z in project.zones if z.name not in project.bare)
    material = catalogue.material(last.finish) if last.finish else project.material
    return material, sum(z.area_cm2 for z in project.zones if last.covers(z.name))


def read(
    catalogue: Catalogue, project: Project, typed: Mapping[str, str], units: Units,
    place: tuple[float, float] | None = None, at_h: float = math.inf,
) -> ReadingLogged:  # fmt: skip
    """The journal entry a filled form stands for; place: where on the outline it was taken [mm]; at_h: when, since some
    readings speak of the last coat before it."""
    what = typed["what"]
    material = project.material
    if what == "gauge":
        touches = number(typed["n"], "n")
        need(touches == int(touches), "n", "touches are counted in whole numbers")
        body = ReadingLogged(zone=typed["zone"], um=film(typed, "um", units), n=int(touches), place=place)
    elif what == "gloss":
        body = ReadingLogged(what=what, zone=typed["zone"], gu60=number(typed["gu60"], "gu60"))
    elif what == "comb":
        share = number(typed["thinner"], "thinner") / 100
        landed = mixing.landed_solids(mixing.thinned_solids(material.volume_solids, share), material.flight_loss)
        body = ReadingLogged(
            what=what, zone=typed["zone"], um=film(typed, "um", units), high_um=film(typed, "high_um", units),
            landed=landed, place=place,
        )  # fmt: skip
    elif what == "card":
        gained = number(typed["g"], "g")
        need(gained > 0, "g", "a card gains weight as it is coated; take its bare weight from its weight now")
        area = number(typed["cm2"], "cm2")
        need(area > 0, "cm2", "must be greater than 0")
        # The solvent still in it weighs less than the resin, but is weighed: the ledger takes it off again.
        body = ReadingLogged(what=what, um=gained / material.dry_density_g_ml / area * 1e4, how=f"{gained:g} g")
    elif what == "micrometer":
        body = ReadingLogged(what=what, um=film(typed, "um", units))
    elif what == "volume":
        used = number(typed["ml"], "ml")
        coat, area = _last_coat(catalogue, project, at_h)
        share = mixing.thinned_solids(coat.volume_solids, number(typed["thinner"], "thinner") / 100)
        arrives = number(typed["transfer"], "transfer") / 100
        with at_fields({"used_ml": "ml"}):
            um = deposit.volume_dry_um(used, area, share, arrives, on_work(catalogue, coat))
        body = ReadingLogged(what=what, um=um, how=f"{used:g} ml")
    elif what in NOTICES:
        body = ReadingLogged(what=what)
    else:
        colour = typed.get("colour") == "colour" and project.coloured(typed["zone"], at_h)
        body = ReadingLogged(what=what, zone=typed["zone"], spot=typed["spot"] == "spot", place=place, colour=colour)
    Reading(
        at_h=0.0,
        zone=body.zone,
        um=body.um,
        n=body.n,
        what=body.what,
        high_um=body.high_um,
        landed=body.landed,
        gu60=body.gu60,
    )  # refuses what cannot be
    return body
