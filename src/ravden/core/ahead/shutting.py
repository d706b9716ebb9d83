"""When a film has grown too old for the next coat to bond without a scuff."""

from ravden.core.ahead.outlook import Outlook
from ravden.core.ahead.steps import HORIZON_H
from ravden.core.cure.asked import Sampling
from ravden.core.cure.windows import windows
from ravden.core.method.steps import progress
from ravden.core.state.history import thickest
from ravden.core.state.laid_film import laid_film


def shuts_h(found: Outlook) -> float | None:
    """The last moment for the next coat without a scuff [h]; None: no coat is next, the film never shuts, or it has no
    film yet. Source: the cure engine (docs/maths.md)."""
    project, method = found.project, found.method
    at = progress(method, project.acts, found.now_h, project.body).index
    coat_next = at < len(method.stage) and method.stage[at].kind == "coats"
    if not coat_next or project.material.dissolving or not project.coats:
        return None
    zone = thickest(project, found.ledger)
    film = laid_film(project, zone, found.ledger, found.now_h)
    if not film.laid:
        return None
    solved = film.cure(Sampling(until_h=found.now_h + HORIZON_H, rough=True))
    return windows(solved, project.instrument.judged_C).recoat_until_h
