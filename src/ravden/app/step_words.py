"""A piece of work of the shop's plan in words. No Qt."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ravden.text.plan_words import BETWEEN_LABEL

if TYPE_CHECKING:
    from ravden.core.ahead.outlook import Outlook
    from ravden.core.schedule.jobs import What


def step_said(found: Outlook, what: What, nth: int = 0) -> str:
    """A piece of work by the name its method gives it."""
    stage = found.method.stage[what.place]
    label = stage.label
    if stage.kind == "coats" and not stage.finish and not stage.zones and what.kind in ("coats", "hands"):
        before = sum(s.count for s in found.method.stage[: what.place] if s.kind == "coats" and not s.finish)
        return f"Coat {before + what.nth + nth} of {found.method.coats}"
    if what.kind in BETWEEN_LABEL:
        return BETWEEN_LABEL[what.kind]
    if what.kind == "case":
        return f"{label}: likely over"
    if what.of > 1:
        return f"{label}, {what.nth + nth} of {what.of}"
    return label
