"""A sand-through is one record, whether it was told as a reading or as something that went wrong."""

from collections.abc import Sequence
from typing import TypeGuard

from ravden.core.film.ledger import Ledger
from ravden.core.record import Act, Coat, Mishap, Reading
from ravden.core.state.tint import Under


def ledger_through(ledger: Ledger, act: Reading | Mishap, before: Sequence[Act], under: Under | None) -> Ledger:
    """The ledger after wood or colour was seen; before: what was told before it, since one sand-through told twice
    between two coats, by the meter's form and by what went wrong, is still one. under: where the colour ends, None
    where it has none."""
    whole = is_whole(act)
    for earlier in reversed(before):
        if isinstance(earlier, Coat) and earlier.covers(act.zone):
            break
        if not tells_through(earlier) or earlier.zone != act.zone:
            continue
        if (is_whole(earlier) or not whole) and (act.colour or not earlier.colour):
            return ledger
    under_um = under.top_um(ledger.mean_um(act.zone)) if act.colour and under is not None else 0.0
    return ledger.through(act.zone, spot=not whole, under_um=under_um)


def tells_through(act: Act) -> TypeGuard[Reading | Mishap]:
    """Whether it says that a sanding went through the film."""
    return isinstance(act, Reading | Mishap) and act.what in ("through", "sand-through")


def is_whole(act: Reading | Mishap) -> bool:
    """Whether all of the zone is bare; where nobody has said, it is that spot."""
    return act.spread in ("zone", "all") if isinstance(act, Mishap) else not act.spot
