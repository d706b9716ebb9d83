"""Correcting an entry: the form as it was filled in, and what was typed anew in the place of what was there. No Qt."""

from collections.abc import Mapping
from dataclasses import replace

import msgspec

from ravden.app.forms import Field
from ravden.core.record import Project
from ravden.journal.kinds.air import AirLogged, AirSeries, AirUsual
from ravden.journal.kinds.cabinet import CabinetLogged
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.kind import Kind
from ravden.journal.kinds.light import ExposureLogged
from ravden.journal.kinds.reading import ReadingLogged
from ravden.journal.kinds.sanding import SandingLogged
from ravden.text import written
from ravden.text.units import Units

ALWAYS = {CoatLogged: "coat", SandingLogged: "sanding", ReadingLogged: "reading", AirLogged: "air"}
# These cannot be told back from what they came to, so they are corrected where what was typed is kept.
WHERE_TYPED = {ExposureLogged: "light", CabinetLogged: "cabinet", AirUsual: "usual", AirSeries: "forecast"}
AMOUNTS = frozenset({"dry_um", "um", "dose_mJ_cm2"})  # what ``how`` tells the source of
UNITS = "units"  # among what was typed: the units it was typed in


def form_of(body: Kind) -> str | None:
    """Which form an entry is corrected with; None: it is taken back and logged again."""
    return ALWAYS.get(type(body)) or (WHERE_TYPED.get(type(body)) if body.typed else None)


def keeping(body: Kind, typed: Mapping[str, str], units: Units) -> Kind:
    """An entry with its form as it was filled in. When it was stands in the entry itself."""
    return msgspec.structs.replace(body, typed={UNITS: units.system, **{k: v for k, v in typed.items() if k != "at"}})


def units_of(body: Kind, now: Units) -> Units:
    """The units its form is shown in: those it was typed in."""
    return Units(system=body.typed.get(UNITS, now.system))


def choice_of(body: Kind) -> str:
    """Which form of its kind: how the coat was known, or what the reading was taken with."""
    if isinstance(body, ReadingLogged):
        return body.what
    return body.typed.get("by", "dry") if isinstance(body, CoatLogged) else ""


def values(body: Kind, project: Project | None, units: Units) -> Mapping[str, str]:
    """What the fields of an entry's form say: what was typed, or as near as can be told where that was not kept."""
    if body.typed:
        return {k: v for k, v in body.typed.items() if k != UNITS}
    if isinstance(body, CoatLogged):
        count = " or ".join(str(n) for n, _ in body.count_odds) or str(body.count)
        return {"dry_um": written.number(units.film_value(body.dry_um), ".4g"), "count": count, "on": _on(body)}
    if isinstance(body, SandingLogged):
        return {
            "um": written.number(units.film_value(body.um), ".4g"), "grade": body.grade, "purpose": body.purpose,
            "minutes": written.number(body.minutes, "g") if body.minutes else "",
            "texture": written.number(units.film_value(body.texture_um), ".4g") if body.texture_um else "",
            "edges": "worked" if body.edges_worked else "off",
        }  # fmt: skip
    if isinstance(body, AirLogged):
        return {
            "temp_C": written.number(units.temperature_value(body.temp_C), ".4g"),
            "rh": written.number(100 * body.rh, ".4g"),
        }
    if not isinstance(body, ReadingLogged):
        return {}
    amount = body.how.split(" ")[0]
    told = {
        "what": body.what, "zone": body.zone, "um": written.number(units.film_value(body.um), ".4g"), "n": str(body.n),
        "high_um": written.number(units.film_value(body.high_um), ".4g"), "g": amount, "ml": amount,
        "spot": "spot" if body.spot else "whole", "gu60": written.number(body.gu60, "g"),
    }  # fmt: skip
    weighed = _number(amount)
    if body.what == "card" and weighed and project is not None and body.um > 0:
        told["cm2"] = written.number(weighed / project.material.dry_density_g_ml / body.um * 1e4, ".4g")
    return told


def _number(text: str) -> float:
    """What an older shop noted a weight as; 0 for anything else that may stand there."""
    try:
        return float(text)
    except ValueError:
        return 0.0


def _on(body: CoatLogged) -> str:
    if body.finish:
        return f"finish:{body.finish}"
    return ",".join(body.zones or ())


def filled(fields: tuple[Field, ...], said: Mapping[str, str], project: Project | None) -> tuple[Field, ...]:
    """The fields with what they say. What is no longer on offer, such as a zone masked since, is offered once more."""
    out = []
    for field in fields:
        value = said.get(field.name, field.value)
        if field.choices and value not in dict(field.choices):
            labels = {z.name: z.label for z in project.zones} if project is not None else {}
            label = ", ".join(labels.get(name, name) for name in value.split(","))
            field = replace(field, choices=(*field.choices, (value, label)))
        out.append(replace(field, value=value))
    return tuple(out)


def corrected(old: Kind, before: Kind | None, after: Kind) -> Kind:
    """An entry with what another filling of its form changes. before: what the form as it was shown comes to, None
    where it comes to nothing; after: what it comes to now. What the form does not ask, and what nobody touched, stays
    to the digit."""
    names = [f for f in after.__struct_fields__ if f not in ("typed", "how")]
    new = {f: getattr(after, f) for f in names if before is None or getattr(after, f) != getattr(before, f)}
    if "how" in after.__struct_fields__:
        was = getattr(before, "how", None)
        if AMOUNTS & set(new) or getattr(after, "how", None) != was:
            new["how"] = getattr(after, "how", "")
    return msgspec.structs.replace(old, **new, typed=after.typed)
