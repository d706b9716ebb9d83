"""What one more coat today would cost: when the film down to the wood is hard enough to level, with it and without."""

from dataclasses import dataclass

from msgspec.structs import replace

from ravden.core.ahead.outlook import Outlook
from ravden.core.ahead.steps import HORIZON_H
from ravden.core.cure.asked import Sampling
from ravden.core.cure.windows import windows
from ravden.core.record import Coat
from ravden.core.state.history import planned, thickest
from ravden.core.state.laid_film import laid_film


@dataclass(frozen=True, slots=True, kw_only=True)
class OneMore:
    """Hours at which the film would be hard down to the wood if nothing more were laid, as it is and with one more coat
    now; None: not within sight."""

    as_is_h: float | None
    with_it_h: float | None


def one_more(found: Outlook, coat_um: float) -> OneMore:
    """The level window of the thickest zone as it stands, and with a coat of coat_um [um] laid at the outlook's moment.

    Both count from the film alone, with no coat still planned, so that what is compared is the softness this session
    leaves at the bottom. Source: the cure engine (docs/maths.md).
    """
    zone = thickest(found.project, found.ledger)
    coat = Coat(at_h=found.now_h, dry_um=coat_um)
    more = replace(found.project, acts=(*found.project.acts, coat))
    after = planned(found.project, found.ledger, coat, found.project.acts)
    out: list[float | None] = []
    for project, ledger in ((found.project, found.ledger), (more, after)):
        film = laid_film(project, zone, ledger, found.now_h)
        if not film.laid:
            out.append(None)
            continue
        end_h = found.now_h + HORIZON_H
        solved = film.cure(Sampling(until_h=end_h, rough=True))
        out.append(windows(solved, project.instrument.judged_C).level_h)
    return OneMore(as_is_h=out[0], with_it_h=out[1])
