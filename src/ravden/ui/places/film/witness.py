"""The witness card's verdict in words. No Qt."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import TYPE_CHECKING

from ravden.text import words, written
from ravden.text.say import sentence
from ravden.ui.places.film.waits import LABELS

if TYPE_CHECKING:
    from ravden.app.session import ShopSession
    from ravden.core.ahead.outlook import Outlook
    from ravden.core.ahead.waits import Wait
    from ravden.core.ahead.witness import Verdict
    from ravden.core.errors import InputError


@dataclass(frozen=True, slots=True, kw_only=True)
class WitnessShown:
    """The panel: sentences, and a table of each window as dated now and as it would be."""

    lines: tuple[str, ...]
    rows: tuple[tuple[str, str, str], ...]
    can_accept: bool


def refused(session: ShopSession, error: InputError) -> WitnessShown:
    """Nothing to fit yet, and why."""
    return WitnessShown(lines=(sentence(error.said, session.units),), rows=(), can_accept=False)


def show(session: ShopSession, found: Outlook, verdict: Verdict) -> WitnessShown:
    """The verdict on one instrument's finish."""
    fit, units = verdict.fit, session.units
    told = [words.plural(n, what) for n, what in ((fit.weighings, "weighing"), (fit.observations, "observation")) if n]
    lines = [
        f"Assumed: as usual, give or take {_percent(fit.prior_sd)}. Measured: {' and '.join(told)}.",
        f"This finish {words.rate(fit.mean)} here (±{_percent(fit.sd)}).",
    ]
    if fit.weighings:
        dry, give = units.film(fit.deposit_um), units.film(fit.deposit_sd_um)
        left = f"{written.number(100 * fit.solvent_left, '.1f')} % solvent left at the last weighing"
        lines.insert(1, f"The card carries {dry} of dry film (±{give}), with {left}.")
    if verdict.accepted:
        lines.append("This rate is in use.")
    rack = session.shop.on_rack(found.project.instrument.id)
    now = session.local(session.now)

    def when(wait: Wait) -> str:
        if wait.likely_h is None:
            return "not in sight"
        return "open" if wait.likely_h <= found.now_h else words.day(session.local(rack.moment(wait.likely_h)), now)

    rows = [("", "now dated", "would be")]
    rows += [(LABELS[a.name], when(a), when(b)) for a, b in zip(verdict.before, verdict.after, strict=True)]
    return WitnessShown(lines=tuple(lines), rows=tuple(rows), can_accept=not verdict.accepted)


def _percent(ln_sd: float) -> str:
    return f"{100 * (math.exp(ln_sd) - 1):.0f}\u00a0%"
