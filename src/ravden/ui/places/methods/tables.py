"""Methods side by side as a table. No Qt."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ravden.text.tables import Table

if TYPE_CHECKING:
    from ravden.ui.places.methods.presenter import MethodShown, OfferShown


def tables(offers: tuple[OfferShown, ...], page: MethodShown | None) -> tuple[Table, ...]:
    """Those compared, and the steps of the one that is open."""
    out = []
    if offers:
        rows = tuple((o.label, o.ready_words, o.numbers, o.risk) for o in offers)
        out.append(Table(title="Methods side by side", columns=("method", "ready", "what it takes", "risk"), rows=rows))
    if page is not None:
        steps = tuple((s.label, s.when, s.how, s.inspect) for s in page.steps)
        out.append(Table(title=page.label, columns=("step", "when", "how", "look for"), rows=steps))
    return tuple(out)
