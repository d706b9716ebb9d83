"""Defects in a few words, the same wherever they are met. No Qt."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ravden.app.defects import PLANNED, WORKED, Defect, defects_of, open_defects
from ravden.text import words

if TYPE_CHECKING:
    from ravden.app.session import ShopSession
    from ravden.journal.rack import OnRack

OUTCOMES = {"gone": "gone", "better": "better", "lived-with": "lived with"}
MOST_NAMED = 2


def label(session: ShopSession, rack: OnRack, found: Defect) -> str:
    """What it is and where: Run or sag, top."""
    name, _ = session.catalogue.defects[found.mishap.what]
    zone = found.mishap.zone
    return f"{name}, {rack.catalogue.zone_labels.get(zone, zone).lower()}"


def state(session: ShopSession, rack: OnRack, found: Defect) -> str:
    """How it stands."""
    mending = found.mending
    if found.by_work:
        return "went with the paper since"
    if not found.open:
        looked = mending.looked_h
        now = session.local(session.now)
        day = "" if looked is None else f", {words.day(session.local(rack.moment(looked)), now)}"
        return f"{OUTCOMES[mending.outcome]}{day}"
    if found.state == PLANNED:
        return f"in the plan, {words.plural(found.left, 'step')} left" if found.left else "in the plan"
    if found.state == WORKED:
        return "worked: look at it"
    if found.light:
        return "goes with the next paper"
    return "still there" if mending.outcome == "still" else "repair left" if mending.left_off else "open"


def open_line(session: ShopSession, rack: OnRack) -> str:
    """The open ones of an instrument in one sentence; empty where there are none."""
    mine = open_defects(rack, session.now)
    if not mine:
        return ""
    named = [f"{label(session, rack, d)[:1].lower()}{label(session, rack, d)[1:]} ({state(session, rack, d)})"
             for d in mine[:MOST_NAMED]]  # fmt: skip
    more = f" and {len(mine) - MOST_NAMED} more" if len(mine) > MOST_NAMED else ""
    return f"Wrong on it: {'; '.join(named)}{more}"


def for_hands(session: ShopSession, rack: OnRack) -> list[str]:
    """What of its defects wants hands or a word now: those that are worked and not looked at, and heavier ones that
    nobody has done anything about."""
    out = []
    for found in open_defects(rack, session.now):
        name = label(session, rack, found)
        if found.state == WORKED:
            out.append(f"{rack.instrument.name}: look at it, {name[:1].lower()}{name[1:]}")
        elif found.state != PLANNED and not found.light:
            out.append(f"{rack.instrument.name}: {name[:1].lower()}{name[1:]}: choose a repair (G)")
    return out


def record_lines(session: ShopSession, rack: OnRack) -> list[str]:
    """What went wrong, for the finish record: what was done about it, and what is lived with."""
    out = []
    for found in defects_of(rack, session.now):
        if found.light and found.by_work:
            continue
        day = session.local(rack.moment(found.mishap.at_h)).date().isoformat()
        mended = found.mending.chosen
        done = f"{mended[:1].lower()}{mended[1:]}; " if mended else ""
        out.append(f"{day} {label(session, rack, found)}: {done}{state(session, rack, found)}")
    return out
