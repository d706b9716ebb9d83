"""Which entries count: what was undone or corrected does not, and what can be undone or brought back next."""

from collections.abc import Sequence

from ravden.journal.entry import Entry
from ravden.journal.kinds.instrument import InstrumentAdded
from ravden.journal.kinds.kind import Kind
from ravden.journal.kinds.undone import Undone


def effective(entries: list[Entry]) -> list[Entry]:
    """The entries that count: not undone or corrected, or brought back, and of an instrument that did come onto the
    rack, as far as that is among them. Undone entries themselves are left out."""
    gone = gone_of([(e.id, e.corrects, lets_go(e.body)) for e in entries if e.corrects is not None])
    came = {e.instrument: e.id in gone for e in sorted(entries, key=lambda e: e.id not in gone) if _came(e)}
    return [
        e for e in entries if e.id not in gone and not isinstance(e.body, Undone) and not came.get(e.instrument, False)
    ]


def _came(entry: Entry) -> bool:
    return isinstance(entry.body, InstrumentAdded)


def lets_go(body: Kind) -> bool:
    """Whether what an entry takes back gives up its own hold on what it had corrected."""
    return isinstance(body, Undone) and not body.whole


def gone_of(corrections: Sequence[tuple[int, int, bool]]) -> set[int]:
    """The entries that no longer count. corrections: in the order written, each by its number, that of the entry it
    takes the place of, and whether that one lets go of what it had corrected itself."""
    gone: set[int] = set()
    held: set[int] = set()
    for number, target, lets in reversed(corrections):
        # Walking back, every undo or correction that still counts is known before what it takes the place of. What was
        # itself corrected keeps its hold on the entry before it; what was undone lets go, unless it went as a whole.
        if number not in gone or number in held:
            gone.add(target)
            if not lets:
                held.add(target)
    return gone


def last_to_undo(entries: list[Entry]) -> Entry | None:
    """The newest entry of hands that still counts: what a sensor wrote is none of theirs."""
    counting = [e for e in effective(entries) if not e.body.by_machine]
    return counting[-1] if counting else None


def last_to_redo(entries: list[Entry]) -> Entry | None:
    """The newest undo that could itself be undone: nothing else has been logged since."""
    gone: set[int] = set()
    for entry in reversed(entries):
        if entry.body.by_machine:
            continue
        if not isinstance(entry.body, Undone):
            return None
        if entry.id in gone:
            continue
        target = next((e for e in entries if e.id == entry.corrects), None)
        if target is not None and isinstance(target.body, Undone):
            gone.add(target.id)  # this is a redo: it takes its undo out of the running, and is none itself
            continue
        return entry
    return None
