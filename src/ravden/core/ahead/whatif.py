"""A plan tried out while a slider is dragged: what changes from now on, quickly, on the outlook already at hand."""

from dataclasses import dataclass, replace

from ravden.core.abrasive.sandthrough import zone_odds
from ravden.core.ahead.dated import Forward, WhatIf
from ravden.core.ahead.forward import plan_forward
from ravden.core.ahead.outlook import Outlook
from ravden.core.ahead.timeline import line_ahead, timeline
from ravden.core.film.ledger import Ledger
from ravden.core.rubout.rub_out import zone_left


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Tried:
    """The outlook as it would be, and what the shown zone would end with: 5, 50 and 95 % film [um] and the odds of the
    least film wanted [-]."""

    outlook: Outlook
    low_um: float
    middle_um: float
    high_um: float
    odds_of_floor: float
    finished_h: float | None


def forward_with(found: Outlook, change: WhatIf) -> Forward:
    """The rest of the plan, changed; without the early and late ends of its windows, which cost most of the time."""
    return plan_forward(
        found.project, found.method, found.ledger, found.now_h, found.hours, found.sands, found.slowest, change,
        ranges=False, held=found.held,
    )  # fmt: skip


def _thin(found: Outlook, ledger: Ledger) -> float:
    """Odds that some place of the zone looked at ends below what it asks for; what is sanded is off the ledger."""
    zone = zone_left(found.project.zone(found.zone), ledger)
    return zone_odds(zone, 0.0, 0.0, found.project.instrument.min_film_um)


def tried(found: Outlook, change: WhatIf) -> Tried:
    """What a change of plan would do, on the zone the outlook is seen on; no change is the plan, to the digit."""
    as_planned = change == WhatIf()
    ahead = found.forward if as_planned else forward_with(found, change)
    line = line_ahead(found.project, found.ledger, ahead, found.now_h, found.zone, found.past, rough=True)
    ledger = found.ledger if line is None else line.end
    low, middle, high = ledger.quantiles(found.zone, (0.05, 0.5, 0.95))
    return Tried(
        outlook=found
        if as_planned
        else replace(found, forward=ahead, view=replace(found.view, timeline=timeline(found.past, line))),
        low_um=low,
        middle_um=middle,
        high_um=high,
        odds_of_floor=1.0 - _thin(found, ledger),
        finished_h=ahead.finished_h,
    )
