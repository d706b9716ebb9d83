"""The coats that build the film: how many the plan has left, and how many the least film asks for. One rule for the fit
and for the advice beside the film."""

from dataclasses import dataclass

from ravden.core.ahead.held import deciding, thin_when_done
from ravden.core.ahead.outlook import Outlook
from ravden.core.film.coats import CoatsLeft, coats_left
from ravden.core.film.ledger import Ledger
from ravden.core.method.steps import Stage

ODDS_WANTED = 0.85  # [A] that no place ends below the least film: some nine in ten of a zone's mean film
ODDS_OF_THICK = 0.70  # [A] the same where a coat is as thick as the least film: a gauge settles the doubt, not a coat
BUILDS = 0.6  # [A] share of the thickest coat's film from which a coat builds, and does not only seal


@dataclass(frozen=True, slots=True, kw_only=True)
class Building:
    """stages: places in the method of the coats that build; left: how many of each; coat_um: the mean film of one;
    ledger: the film with every other coat to come, seals and layers of another finish, on it."""

    stages: tuple[int, ...]
    left: tuple[int, ...]
    coat_um: float
    ledger: Ledger

    @property
    def planned(self) -> int:
        """Building coats left in the plan."""
        return sum(self.left)


def own_coats(stage: Stage) -> bool:
    """Whether a step lays the instrument's own finish on its body."""
    return stage.kind == "coats" and not stage.finish and not stage.patch


def building(found: Outlook) -> Building:
    """What of the plan builds film from here on."""
    project, stages = found.project, found.method.stage
    at = found.progress.index
    um = {
        i: project.dry_um(project.layers.get(s.finish) or project.material, s.by, s.um)
        for i, s in enumerate(stages) if i >= at and s.kind == "coats" and not (s.zones or s.patch)
    }  # fmt: skip
    own = [i for i in um if own_coats(stages[i])]
    # A seal or a wash coat is laid as often as the method says: more film comes of the coats that build it.
    clear = [i for i in own if not stages[i].tinted]
    build = tuple(i for i in clear if um[i] >= BUILDS * max(um[n] for n in own))
    left = {i: stages[i].count - (found.progress.coats_in_stage if i == at else 0) for i in um}
    ledger = found.ledger
    for i in um:
        if i not in build and left[i] > 0:
            ledger = ledger.coat(um[i], count=left[i])
    total = sum(left[i] for i in build)
    mean = sum(left[i] * um[i] for i in build) / total if total > 0 else project.material.coat_dry_um
    return Building(stages=build, left=tuple(left[i] for i in build), coat_um=mean, ledger=ledger)


def removals(found: Outlook) -> dict[str, float]:
    """Film that the sandings still planned will take, by zone [um]."""
    own = [z for z in found.project.zones if z.name not in found.project.bare]
    return {z.name: sum(s.share(z) for s in found.forward.sandings) for z in own}


def wanted(found: Outlook, plan: Building, planned: int, odds: float | None = None) -> CoatsLeft:
    """How many building coats the least film asks for, and the odds of it with so many planned; odds: None for the
    usual ones."""
    floor = found.project.instrument.min_film_um
    if odds is None:
        odds = ODDS_OF_THICK if plan.coat_um >= floor else ODDS_WANTED
    return coats_left(
        plan.ledger, plan.coat_um, removals(found), floor, planned, odds, deciding(found), thin_when_done(found)
    )
