"""What is said once to who has worked with an earlier Ravden: built-in figures that changed under the record. No Qt."""

from collections.abc import Iterable

from ravden.journal.entries import Entry, SandingLogged

TIMES = "sanding-times"
SAID = {
    TIMES: (
        "Sanding is reckoned anew: hands lap, look, wipe and rinse, so a paper by hand takes about three times as long "
        "as Ravden used to say. What your gauge and clock taught it was worked out again from the same readings."
    ),
}


def due(entries: Iterable[Entry], told: Iterable[str]) -> tuple[str, ...]:
    """Keys of what this shop should be told and has not been."""
    out = []
    if TIMES not in told and any(isinstance(e.body, SandingLogged) and e.body.mode for e in entries):
        out.append(TIMES)
    return tuple(out)
