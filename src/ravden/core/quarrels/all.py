"""What workshops quarrel over, answered for one instrument: two sentences, and the best the other side can say.

Each answer is computed from this instrument's plan, film, air and drawer; where nothing here decides it, the answer
says what would.
"""

from collections.abc import Callable, Mapping

from ravden.core.abrasive.prep import PrepHabit
from ravden.core.abrasive.scuff import ScuffHabit
from ravden.core.ahead.outlook import Outlook
from ravden.core.quarrels import coats, sanding, wood
from ravden.core.quarrels.quarrel import Case, Quarrel

ASKED: tuple[Callable[[Case], Quarrel | None], ...] = (
    coats.weight, coats.between, coats.fineness, coats.waiting, sanding.first_grit, sanding.where, sanding.wet,
    sanding.circles, sanding.machine, coats.satin, wood.filling, wood.pore_level, wood.prepare, wood.across,
    sanding.wool, coats.soap, coats.wipe,
)  # fmt: skip


def quarrels(found: Outlook, scuffs: Mapping[str, ScuffHabit], preps: Mapping[str, PrepHabit]) -> tuple[Quarrel, ...]:
    """Every quarrel that this method meets, answered for this instrument."""
    case = Case(found=found, scuffs=scuffs, preps=preps)
    return tuple(q for ask in ASKED if (q := ask(case)) is not None)
