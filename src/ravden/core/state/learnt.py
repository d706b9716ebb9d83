"""What earlier instruments have taught about an applicator, before the next one's first coat."""

from collections.abc import Sequence
from dataclasses import dataclass

from ravden.core.errors import InputError
from ravden.core.film.carry import Evidence, Learnt, evidence, told
from ravden.core.film.filter import Priors
from ravden.core.record import Project
from ravden.core.record.word import Word
from ravden.core.state.history import Memory, known

NEW_GUN = Learnt(mean=0.0, var=0.24622068**2 - 0.08**2)  # [A] CV .25 on the first instrument


@dataclass(frozen=True, slots=True, kw_only=True)
class Lesson:
    """What an instrument taught: of the applicator, None where it was never coated, and of all the shop's own figures.
    It stays when the instrument has been handed over, and its record need not be read again."""

    gun: Evidence | None
    words: tuple[Word, ...] = ()


Earlier = tuple[Project, float, Memory] | Lesson


def learnt(earlier: Sequence[Earlier], base: Priors | None = None) -> Learnt:
    """The belief carried over from earlier instruments in the same finish, in the order they came onto the rack.

    earlier: each instrument, the hour of its own time until which it is known, and its remembered ledgers; or what it
    taught, where that is kept.
    """
    belief = NEW_GUN
    for one in earlier:
        try:
            said = one.gun if isinstance(one, Lesson) else said_by(*one, belief, base)
        except InputError:
            continue  # one whose record cannot be worked out teaches nothing, and spoils nothing
        if said is not None:
            belief = told(belief, said)
    return belief


def said_by(
    project: Project, until_h: float, memory: Memory, belief: Learnt, base: Priors | None = None
) -> Evidence | None:
    """What an instrument that began with a belief says of its applicator; None: it has not been coated."""
    ledger = known(project, until_h, memory, started_from(belief, base)).ledger
    return evidence(belief, *ledger.applicator()) if project.coats else None


def started_from(belief: Learnt, base: Priors | None = None) -> Priors:
    """The priors of an instrument sprayed with an applicator of which this much is known."""
    mean, sd = belief.for_next
    values = {name: getattr(base or Priors(), name) for name in Priors.__slots__}
    return Priors(**(values | {"g_ln_mean": mean, "g_ln_sd": sd}))
