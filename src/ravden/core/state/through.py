"""A sand-through is one record, whether it was told as a reading or as something that went wrong."""

from collections.abc import Sequence
from typing import TypeGuard

from ravden.core.film.ledger import Ledger
from ravden.core.record import Act, Coat, Mishap, Reading


def ledger_through(ledger: Ledger, act: Reading | Mishap, before: Sequence[Act]) -> Ledger:
    """The ledger after wood or colour was seen; before: what was told before it, since one sand-through told twice
    between two coats, by the meter's form and by what went wrong, is still one."""
    whole = _whole(act)
    for earlier in reversed(before):
        if isinstance(earlier, Coat) and earlier.covers(act.zone):
            break
        if tells_through(earlier) and earlier.zone == act.zone and (_whole(earlier) or not whole):
            return ledger
    return ledger.through(act.zone, spot=not whole)


def tells_through(act: Act) -> TypeGuard[Reading | Mishap]:
    """Whether it says that a sanding went through the film."""
    return isinstance(act, Reading | Mishap) and act.what in ("through", "sand-through")


def _whole(act: Reading | Mishap) -> bool:
    """Whether all of the zone is bare; where nobody has said, it is that spot."""
    return act.spread in ("zone", "all") if isinstance(act, Mishap) else not act.spot
