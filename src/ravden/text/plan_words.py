"""What a plan does between its coats, why it goes no further, and what habit adds to a wait. No Qt."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ravden.text import words
from ravden.text.say import sentence

if TYPE_CHECKING:
    from ravden.core.ahead.outlook import Outlook
    from ravden.core.ahead.steps import PlannedStep
    from ravden.core.method.steps import Stage
    from ravden.core.record import Air
    from ravden.journal.rack import OnRack
    from ravden.text.units import Units

DRIES_NOWHERE = "It does not get there within sight in this air: warm the room, or lay thinner coats."
# What the film wants between coats that the method does not name.
BETWEEN_LABEL = {"light": "Light, face by face", "scuff": "Scuff before the next coat"}


def first_of_all(rack: OnRack) -> str:
    """What happens next with the very first instrument of a shop."""
    first = rack.method.stage[0]
    if first.kind == "coats":
        return (
            f"{rack.instrument.name} is on the rack. Next: lay the first coat, then press C. Ravden says what follows."
        )
    return (
        f"{rack.instrument.name} is on the rack. Next: {first.label.lower()}; D ticks it off, and C logs each coat when it "
        "is laid. Ravden says what follows, and when."
    )


def between(found: Outlook, step: PlannedStep) -> tuple[str, str]:
    """What is done between coats, and how much of it."""
    label = BETWEEN_LABEL[step.kind]
    if step.kind == "scuff":
        from ravden.core.ahead.steps import grown_old  # the Rack is painted without it

        old = grown_old(found.progress.last_coat_h, step.from_h)
        return label, "cleaned first: the film is over a year old" if old else "past its recoat window"
    from ravden.core.session.light import lamp_minutes  # the Rack is painted without it

    minutes = lamp_minutes(found.project, step.dose_mJ_cm2)
    if minutes is None:
        return label, f"{step.dose_mJ_cm2:.0f} mJ/cm² a face"
    if minutes < 1.5:
        return label, f"about {60 * minutes:.0f} s of lamp a face"
    return label, f"about {minutes:.0f} min of lamp a face"


def stuck(units: Units, found: Outlook) -> str:
    """Why the plan goes no further, and what would help; empty: it does."""
    ahead = found.forward
    if ahead.stuck is None:
        return ""
    if ahead.refused is not None:
        label = found.method.stage[ahead.stuck].label
        return f"{label}: not planned on this film. {sentence(ahead.refused, units)}"
    return hindered(units, found, ahead.hindered)


def refused(units: Units, found: Outlook) -> str:
    """What hands do instead of a sanding that is refused: more film where that would do, in a few words."""
    ahead = found.forward
    more = None if ahead.refused is None else ahead.refused.values.get("instead")
    more_um = None if more is None else more.values["more_um"]
    if more_um is not None:
        return f"Lay about {units.film(more_um)} more first"
    return "" if ahead.stuck is None else f"{found.method.stage[ahead.stuck].label}: not as it stands"


def hindered(units: Units, found: Outlook, by: tuple[str, Air] | None) -> str:
    """The same for a film that this air keeps from drying."""
    if by is None:
        return DRIES_NOWHERE
    what, air = by
    material = found.project.layers.get(_next_finish(found)) or found.project.material
    if what == "cold":
        least = units.temperature(material.dries_C)
        return f"Does not dry here at {units.temperature(air.temp_C)}: it wants {least} at least. Warm the room."
    if what == "blush":
        at = f"{units.temperature(air.temp_C)} and {100 * air.rh:.0f} % humidity"
        return f"A coat turns white here at {at}, with slow thinner too. Warm or dry the air, or wait for another day."
    most = f"{100 * material.dries_rh:.0f} %"
    return (
        f"Does not dry here in {100 * air.rh:.0f} % humidity: at most {most} will do. Warm or dry the air, or wait for "
        "another day."
    )


def _next_finish(found: Outlook) -> str:
    at = found.forward.stuck
    return "" if at is None else found.method.stage[at].finish


def habit(stage: Stage) -> str:
    """What habit adds to a wait of the film's own."""
    return f"by habit {words.wait(stage.rest_h)} at least" if stage.kind == "wait" and stage.rest_h > 0 else ""
