"""The ladder of a patch: something that stands over the film or goes into it is a texture of its own, on its zone
alone."""

import functools
from dataclasses import dataclass, replace

from msgspec import structs

from ravden.core.abrasive.climb import Ladder
from ravden.core.record import Sanding
from ravden.core.rubout.rub_out import RubOut, rub_out

SHAVED_FROM_UM = 25.0  # [A] what stands higher is shaved off before any paper
SHAVED_UM = 6.0  # [A] what a blade leaves standing


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Patch:
    """shaved: a blade comes first; ladder: None where the film does not carry one there; odds: of thin film."""

    shaved: bool
    ladder: Ladder | None
    odds: float


@functools.lru_cache(maxsize=16)
def patch(rub: RubOut, zone: str, texture_um: float) -> Patch:
    """The ladder on one zone from a texture of so many um, by the same drawer and for the same sheen. texture_um: how
    high it stands, or how deep it goes."""
    project = rub.film.project
    shaved = texture_um > SHAVED_FROM_UM
    others = tuple(z.name for z in project.zones if z.name != zone)
    acts = tuple(a for a in project.acts if not isinstance(a, Sanding))
    film = replace(rub.film, project=structs.replace(project, masked=others, acts=acts))
    ask = replace(rub.ask, texture_um=SHAVED_UM if shaved else max(texture_um, 0.5), sequence=None)
    found = rub_out(film, rub.held, ask)
    odds = 0.0 if found.ladder is None else max(found.ladder.odds.values(), default=0.0)
    return Patch(shaved=shaved, ladder=found.ladder, odds=odds)
