"""Odds that a zone ends below what it asks for once all is sanded: the rub-out's own figure, for plan and fit too."""

from collections.abc import Callable

from ravden.core.abrasive.sandthrough import zone_odds
from ravden.core.ahead.outlook import Outlook
from ravden.core.film.ledger import Ledger
from ravden.core.rubout.rub_out import zone_left
from ravden.core.state.history import absorbed_of

USUAL_CV = 0.15  # [ENG] unevenness of what a block takes off


def deciding(found: Outlook) -> tuple[str, ...]:
    """Zones that decide how many coats are laid: of its own finish, without the small ones, which a ladder spares."""
    project, job = found.project, found.rub_out.job
    small = {z.name for z in job.zones if job.small(z)}
    own = [z for z in project.zones if z.name not in project.bare]
    return tuple(z.name for z in own if z.label not in small) or tuple(z.name for z in own)


def thin_when_done(found: Outlook) -> Callable[[Ledger], dict[str, float]]:
    """For a film as it would be built, by zone: the odds of less than the zone's share of the least film somewhere.

    A zone loses what the ladder takes there, kept-off zones less of it, and what is scuffed on the way.
    """
    project, rub, ahead = found.project, found.rub_out, found.forward.sandings
    own = [z for z in project.zones if z.name not in project.bare]
    floor, cv = project.instrument.min_film_um, USUAL_CV
    if rub.ladder is None or rub.film.aim.key:
        lost = {z.name: sum(s.share(z) for s in ahead) for z in own}
    else:
        ladder, cv = rub.ladder, max(r.backing.cv for r in rub.ladder.rungs)
        before = {z.name: z.film_um for z in rub.job.zones}
        scuffed = {z.name: sum(s.share(z) for s in ahead if s.purpose == "scuff") for z in own}
        lost = {
            z.name: scuffed[z.name]
            + (
                before[z.label] - ladder.steps[-1].film_left_um[z.label] + ladder.residual_um
                if z.label in before
                else 0
            )
            for z in own
        }
        # Where a step says itself what it takes off, that is what it takes.
        planned = [s.um for s in ahead if s.purpose != "scuff"]
        more_um = sum(planned) - sum(s.remove_um for s in ladder.steps) if planned else 0.0
        lost = {z.name: lost[z.name] + more_um * z.sanding for z in own}
    for z in own:
        # A coat to come on bare wood leaves so much less, and never less than nothing.
        coming = [c.share(z) for c in found.forward.coats if c.covers(z.name)]
        lost[z.name] += sum(map(min, absorbed_of(project, z, found.now_h), coming))
    return lambda ledger: {z.name: zone_odds(zone_left(z, ledger), lost[z.name], cv, floor) for z in own}
