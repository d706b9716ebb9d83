"""Which single measurement would tell most, in words; the Film place and the Booth both say it. No Qt."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Sequence

    from ravden.core.ahead.advice import Counsel
    from ravden.core.ahead.outlook import Outlook
    from ravden.core.film.advice import Choice
    from ravden.text.knows import Knows

WORTH_IT = 0.85  # [A] a measurement that leaves more of the uncertainty than this is not advised
# A tool nobody has here is named where it would leave at most this share of what is unsure without it, and only where
# that could decide something: odds of too little film neither negligible nor bad in any case.
WORTH_BUYING = 0.75  # [A]
DECIDES = (0.01, 0.60)  # [A]
NEEDS = {"gauge": "gauge", "comb": "comb", "card": "scale", "micrometer": "micrometer", "volume": ""}


def owned(choices: Sequence[Choice], tools: Sequence[str]) -> list[Choice]:
    """Measurements that can be taken with what there is; how much a coat takes can be told by everybody."""
    return [c for c in choices if not NEEDS[c.measurement] or NEEDS[c.measurement] in tools]


def measure_next(session: Knows, found: Outlook, advice: Counsel) -> str:
    """Which single measurement is worth taking, and what it would buy; where a tool that is not here would decide
    something, what such a thing costs."""
    project = found.project
    if not project.coats:
        return ""
    risk = project.zone(advice.risk_zone)
    units = session.units
    mine = owned(advice.measure, session.tools)
    best = next((c for c in mine if c.share < WORTH_IT), None)
    if best is None:
        said = f"No single measurement would tell much more about the {risk.label.lower()}."
    else:
        before, after = units.film_number(best.before_um), units.film(best.after_um)
        said = (
            f"Worth measuring: {_named(found, best)}. That takes the {risk.label.lower()} from ±{before} to ±{after}."
        )
    below = next(z.below_floor for z in found.zones if z.name == risk.name)
    if not DECIDES[0] <= below <= DECIDES[1]:
        return said
    left_um = best.after_um if best is not None else max((c.before_um for c in advice.measure), default=0.0)
    other = next((c for c in advice.measure if c not in mine and c.after_um <= WORTH_BUYING * left_um), None)
    if other is None:
        return said
    tool = session.catalogue.measuring[NEEDS[other.measurement]]
    return f"{said} A {tool.label} ({tool.costs}) would take it to ±{units.film(other.after_um)}."


def _named(found: Outlook, choice: Choice) -> str:
    if choice.measurement == "gauge":
        return f"the {found.project.zone(choice.zone).label.lower()}, film gauge, 3 touches"
    if choice.measurement == "comb":
        return f"the next coat on the {found.project.zone(choice.zone).label.lower()}, wet comb"
    return {
        "card": "the witness card on a scale", "micrometer": "the witness card with a micrometer",
        "volume": "how much the next coat takes",
    }[choice.measurement]  # fmt: skip
