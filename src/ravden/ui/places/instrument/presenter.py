"""What the add-instrument page shows while it is filled in. No Qt."""

from collections.abc import Mapping
from dataclasses import dataclass

from ravden.app import forms
from ravden.catalogue.assemble import body, measures_of
from ravden.catalogue.rows import InstrumentKind
from ravden.catalogue.tables import Catalogue
from ravden.core.errors import InputError
from ravden.core.instrument.outline import NECK, Outline
from ravden.core.record import Measures
from ravden.text import say
from ravden.text.units import Units


@dataclass(frozen=True, slots=True, kw_only=True)
class Preview:
    """The body as measured so far; fault: which field will not do, and why."""

    body: Outline | None
    words: str
    fault_field: str = ""
    fault: str = ""


def start_values(kind: InstrumentKind, units: Units) -> dict[str, str]:
    """A kind's measurements as shown in the fields."""
    return measured(measures_of(kind), units)


def measured(m: Measures, units: Units) -> dict[str, str]:
    """Measurements as shown in the fields."""
    digits = 2 if units.us else 0
    return {name: f"{units.length_value(getattr(m, name)):.{digits}f}" for name, _ in forms.MEASURE_FIELDS}


WAIST = ("upper_mm", "waist_mm", "cutaway_mm", "arch_mm")


def asked_of(kind: InstrumentKind) -> tuple[str, ...]:
    """The measurements that shape a kind: a slab has no waist, a neck alone no body."""
    names = tuple(name for name, _ in forms.MEASURE_FIELDS)
    if kind.family == NECK:
        return ("neck_length_mm",)
    return names if kind.family in ("waisted", "bowed") else tuple(n for n in names if n not in WAIST)


def preview(typed: Mapping[str, str], kind: InstrumentKind, units: Units) -> Preview:
    """The outline and areas of what was typed so far."""
    try:
        m: Measures = forms.measures(typed, measures_of(kind), units)
        shape = body(m)
    except InputError as error:
        return Preview(body=None, words="", fault_field=error.path, fault=say.fault(error, units))
    if kind.family == NECK:
        back = m.neck_length_mm * kind.neck_girth_mm / 100
        return Preview(body=shape, words=f"Back of the neck {units.area(back)}, head {units.area(kind.head_cm2)}.")
    total = 2 * shape.face_cm2 + shape.sides_cm2
    return Preview(
        body=shape,
        words=f"Top and back {units.area(shape.face_cm2)} each, sides {units.area(shape.sides_cm2)}; "
        f"body {units.area(total)} in all.",
    )


def method_words(catalogue: Catalogue, method_id: str, units: Units) -> str:
    """Why one would choose a method, and what it builds."""
    method = catalogue.method(method_id)
    material = catalogue.material(method.material)
    low, high = material.usual_film_um
    return (
        f"{method.why} {method.coats} coats of about {units.film(material.coat_dry_um)} dry; "
        f"{units.film_range(low, high)} is usual after rubbing out."
    )
