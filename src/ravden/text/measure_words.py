"""Which single measurement would tell most, in words; the Film place and the Booth both say it. No Qt."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from ravden.core.ahead.advice import Counsel
    from ravden.core.ahead.outlook import Outlook
    from ravden.core.film.advice import Choice
    from ravden.text.knows import Knows

WORTH_IT = 0.85  # [A] a measurement that leaves more of the uncertainty than this is not advised


def measure_next(session: Knows, found: Outlook, advice: Counsel) -> str:
    """Which single measurement is worth taking, and what it would buy."""
    project = found.project
    if not project.coats:
        return ""
    risk = project.zone(advice.risk_zone).label.lower()
    best = next((c for c in advice.measure if c.share < WORTH_IT), None)
    if best is None:
        return f"No single measurement would tell much more about the {risk}."
    units = session.units
    before, after = units.film_number(best.before_um), units.film(best.after_um)
    return f"Worth measuring: {_named(found, best)}. That takes the {risk} from ±{before} to ±{after}."


def _named(found: Outlook, choice: Choice) -> str:
    if choice.measurement == "gauge":
        return f"the {found.project.zone(choice.zone).label.lower()}, film gauge, 3 touches"
    if choice.measurement == "comb":
        return f"the next coat on the {found.project.zone(choice.zone).label.lower()}, wet comb"
    return {
        "card": "the witness card on a scale", "micrometer": "the witness card with a micrometer",
        "volume": "how much the next coat takes",
    }[choice.measurement]  # fmt: skip
