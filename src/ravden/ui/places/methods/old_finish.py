"""What the old-finish page shows, as plain data. No Qt."""

from __future__ import annotations

from dataclasses import dataclass

from ravden.app.session import ShopSession
from ravden.core.method.refinish import Tried, class_of, likely, oil_left, over
from ravden.text.say import say

VERDICT = {"yes": ("may go over it", "open"), "key": ("after a scuff", "open"), "no": ("never", "warn")}


@dataclass(frozen=True, slots=True, kw_only=True)
class OldShown:
    """likely: kind and how it is told; kinds: id and label of those one can look at; overs: finish, verdict, tone,
    reason."""

    heading: str
    likely: tuple[tuple[str, str], ...]
    kinds: tuple[tuple[str, str], ...]
    under: str
    under_label: str
    off: str
    warning: str
    overs: tuple[tuple[str, str, str, str], ...]


def show(session: ShopSession, tried: Tried, under: str) -> OldShown:
    """What was tried tells, and what may go over the kind looked at."""
    every = session.catalogue.old_finishes
    found = likely(tried, every)
    offered = found or every
    kind = next((k for k in offered if k.id == under), offered[0])
    if not found:
        heading = "No usual finish does all of that: try again on another spot, or take it for layers of two"
    elif len(found) == len(every):
        heading = "It may be any of these: try a drop of alcohol first"
    else:
        heading = "It is likely this" if len(found) == 1 else "It is likely one of these"
    rows, seen = [], set()
    for material in session.catalogue.materials.values():
        name = class_of(material)
        if name in seen or material.flatted:
            continue
        seen.add(name)
        row = over(session.catalogue.overs, kind.id, name)
        verdict, tone = VERDICT.get(row.verdict, (f"over {row.barrier}", "plain"))
        rows.append((material.label, verdict, tone, row.reason))
    return OldShown(
        heading=heading, likely=tuple((k.label, k.told) for k in found), kinds=tuple((k.id, k.label) for k in offered),
        under=kind.id, under_label=kind.label[:1].lower() + kind.label[1:], off=f"To take it off: {kind.off}",
        warning=say(oil_left(tried)), overs=tuple(rows),
    )  # fmt: skip
