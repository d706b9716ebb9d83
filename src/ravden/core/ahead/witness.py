"""What the weighed card and what was noticed say of an instrument's finish, and what that would do to its windows."""

from dataclasses import dataclass, replace

from msgspec import structs

from ravden.core.ahead.outlook import Outlook
from ravden.core.ahead.waits import Wait, waits
from ravden.core.cure.asked import Sampling
from ravden.core.cure.witness import Fit, Noticed, Weighing, fit
from ravden.core.errors import InputError
from ravden.core.record import NOTICES, RATE_LN_SD, SolventLoss
from ravden.core.state.history import thickest
from ravden.core.state.laid_film import laid_film


@dataclass(frozen=True, slots=True, kw_only=True)
class Verdict:
    """The fit, and every window as it is dated now and as it would be."""

    fit: Fit
    before: tuple[Wait, ...]
    after: tuple[Wait, ...]
    accepted: bool


def witness(found: Outlook) -> Verdict:
    """Fit the rate of the instrument's finish. Raises InputError where there is nothing to fit, or it cannot be."""
    project = found.project
    material = project.material
    if not isinstance(material.cure, SolventLoss):
        what = material.label.lower()
        raise InputError("", f"{what} hardens by reacting: its weight says what was laid, not how hard it is")
    seen = [r for r in project.readings if r.at_h <= found.now_h]
    cards = [Weighing(at_h=r.at_h, mg_cm2=0.1 * r.um * material.dry_density_g_ml) for r in seen if r.what == "card"]
    noticed = [Noticed(at_h=r.at_h, what=r.what) for r in seen if r.what in NOTICES]
    if not cards and not noticed:
        raise InputError("", "weigh the witness card, or note what nail, cloth or nose say (R), to fit the rate")
    own = [c for c in project.coats if not c.finish and c.at_h <= found.now_h]
    coats = [
        structs.replace(c, at_h=h, zones=None, count=1, count_odds=(), earlier_h=()) for c in own for h in c.hours
    ]  # fmt: skip
    deposit = found.known.folded.start.applicator()
    learnt = fit(
        material.cure, coats, project.air, cards, dry_g_ml=material.dry_density_g_ml, noticed=noticed,
        margin_K=lambda rate: _margins(found, rate, [n.at_h for n in noticed]), prior=(0.0, RATE_LN_SD),
        deposit=deposit,
    )  # fmt: skip
    moved = replace(found, project=structs.replace(project, rate_ln=(learnt.mean, learnt.sd)))
    before, after = waits(found), waits(moved)
    return Verdict(
        fit=learnt, before=() if before is None else before.waits, after=() if after is None else after.waits,
        accepted=abs(project.rate_ln[0] - learnt.mean) < 1e-9,
    )  # fmt: skip


def _margins(found: Outlook, rate: float, hours: list[float]) -> list[float]:
    """Least margin of the slowest zone over the bench at these hours, for a rate [K]."""
    project = found.project
    zone = thickest(project, found.ledger)
    film = laid_film(project, zone, found.ledger, found.now_h)
    asked = Sampling(sample_h=sorted(hours), until_h=found.now_h, rough=True)
    past = film.cure(asked, rate / project.rate)
    by_hour = dict(zip(sorted(hours), past.column("Tg_min_C").tolist(), strict=True))
    return [by_hour[h] - project.instrument.judged_C for h in hours]
