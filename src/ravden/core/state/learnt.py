"""What earlier instruments have taught about an applicator, before the next one's first coat."""

from collections.abc import Sequence

from ravden.core.film.carry import Learnt, carry
from ravden.core.film.filter import Priors
from ravden.core.record import Project
from ravden.core.state.history import Memory, known

NEW_GUN = Learnt(mean=0.0, var=0.24622068**2 - 0.08**2)  # [A] CV .25 on the first instrument


def learnt(earlier: Sequence[tuple[Project, float, Memory]], base: Priors | None = None) -> Learnt:
    """The belief carried over from earlier instruments in the same finish, in the order they came onto the rack.

    earlier: each instrument, the hour of its own time until which it is known, and its remembered ledgers.
    """
    belief = NEW_GUN
    for project, until_h, memory in earlier:
        ledger = known(project, until_h, memory, started_from(belief, base))[-1].ledger
        if project.coats:
            belief = carry(belief, *ledger.applicator())
    return belief


def started_from(belief: Learnt, base: Priors | None = None) -> Priors:
    """The priors of an instrument sprayed with an applicator of which this much is known."""
    mean, sd = belief.for_next
    values = {name: getattr(base or Priors(), name) for name in Priors.__slots__}
    return Priors(**(values | {"g_ln_mean": mean, "g_ln_sd": sd}))
