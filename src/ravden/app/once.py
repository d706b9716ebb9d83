"""What is said once to who has worked with an earlier Ravden: built-in figures that changed under the record. No Qt."""

from collections.abc import Sequence

from ravden.journal.entry import Entry
from ravden.journal.kinds.rate import RateAccepted
from ravden.journal.kinds.sanding import SandingLogged

TIMES = "sanding-times"
WAITS = "waits"
SAID = {
    WAITS: (
        "Waits are reckoned anew: by the top for the next coat, by the depth of the cut for a level that coats follow, "
        "by what a wheel warms for the buffer; waterborne, two parts and oils dry as the trade finds them. The rate "
        "your witness cards taught multiplies the new figures: hang one again before you rely on it. "
        "Film, Waits, Beside what was said before puts both next to one another."
    ),
    TIMES: (
        "Sanding is reckoned anew: hands lap, look, wipe and rinse, so a paper by hand takes about three times as long "
        "as Ravden used to say. What your gauge and clock taught it was worked out again from the same readings."
    ),
}


def learnt_before(entries: Sequence[Entry]) -> bool:
    """Whether a shop has taken over a drying rate of its own, which now multiplies other built-in figures."""
    return any(isinstance(e.body, RateAccepted) for e in entries)


def due(entries: Sequence[Entry], told: Sequence[str]) -> tuple[str, ...]:
    """Keys of what this shop should be told and has not been."""
    out = []
    if TIMES not in told and any(isinstance(e.body, SandingLogged) and e.body.mode for e in entries):
        out.append(TIMES)
    if WAITS not in told and learnt_before(entries):
        out.append(WAITS)
    return tuple(out)
