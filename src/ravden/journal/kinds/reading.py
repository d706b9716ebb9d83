"""Something measured or seen."""

from __future__ import annotations

from typing import ClassVar

from ravden.core.errors import need
from ravden.core.record import Reading
from ravden.journal.kinds.kind import Acted
from ravden.journal.rack import OnRack

NO_COLOUR = "no coat on it has colour in it: what showed was wood"


class ReadingLogged(Acted, frozen=True, tag="reading"):
    """Something measured or seen, as core's Reading has it."""

    zone: str = ""
    um: float = 0.0
    n: int = 1
    what: str = "gauge"
    high_um: float = 0.0
    landed: float = 0.0
    spot: bool = False
    place: tuple[float, float] | None = None
    how: str = ""
    gu60: float = 0.0
    colour: bool = False

    made: ClassVar[type] = Reading

    def check_act(self, rack: OnRack, act: Reading) -> None:
        coats = [c for c in rack.project.coats if c.at_h <= act.at_h]
        need(bool(coats), "um", "there was no film to measure yet then")
        if act.what in ("gauge", "gloss", "comb", "through", "not-through"):
            rack.project.zone(act.zone)
        if act.what in ("gauge", "through", "not-through"):
            need(any(c.covers(act.zone) for c in coats), "zone", f"nothing was laid on {act.zone} before then")
        if act.colour:
            need(rack.project.coloured(act.zone, act.at_h), "colour", NO_COLOUR)
        if act.what in ("comb", "volume"):
            last = coats[-1]
            one = last.likely_count == 1 and not last.count_odds
            need(one, "um", "the last entry was several coats; this speaks of one")
            need(act.what == "volume" or last.covers(act.zone), "zone", f"the last coat was not laid on {act.zone}")
