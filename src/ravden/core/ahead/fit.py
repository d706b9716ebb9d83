"""How many coats a method needs on this instrument: its counts stretched to what the film ledger asks for."""

import math
from dataclasses import dataclass
from dataclasses import replace as with_fields

from msgspec.structs import replace

from ravden.core.abrasive.verdict import REFUSED
from ravden.core.ahead.building import building, own_coats, wanted
from ravden.core.ahead.forward import plan_forward
from ravden.core.ahead.outlook import Outlook, built
from ravden.core.method.steps import Method, Stage
from ravden.core.rubout.aim import SANDED, SHEEN
from ravden.core.rubout.rub_out import rub_out

LEAST_SHARE = 0.6  # [A] of a method's own coats, where it does not say how few will do
MORE_TRIED = 4  # coats beyond what the least film asks, where the ladder wants them
OF_MOST = 0.9  # [A] share of a finish's greatest film that a plan may go to


@dataclass(frozen=True, slots=True, kw_only=True)
class Fit:
    """The steps with their coats fitted: coats of its own in all and before, the odds of the least film with them, the
    zone that decides, and whether the finish's greatest film allows no more; refused: even so the film does not bear
    its last ladder, and there is nothing to propose."""

    stage: tuple[Stage, ...]
    coats: int
    before: int
    odds: float
    zone: str
    capped: bool
    refused: bool = False


def fitted(found: Outlook, odds: float | None = None) -> Fit | None:
    """The coats that hold the least film on every zone of its own finish, sanding included, at these odds.

    None where nothing asks for any: no least film, every own zone masked, or the build is over. Coats already laid
    stay, and so do thin seal coats; what is left of the other stages of coats is stretched alike, one of each at least.
    """
    project, method = found.project, found.method
    own = tuple(z.name for z in project.zones if z.name not in project.bare)
    plan = building(found)
    if not own or project.instrument.min_film_um <= 0 or not plan.stages:
        return None
    needed = wanted(found, plan, plan.planned, odds)
    room = OF_MOST * project.material.max_film_um - max(plan.ledger.mean_um(n) for n in own)
    # As thick as a coat comes out here, which with a gun that lays thin is less than it is called.
    coat_um = plan.coat_um * max(z.k_mean * plan.ledger.lays(z.name) for z in project.zones if z.name in own)
    most = int(room / coat_um)
    most = max(most, len(plan.stages))
    asked = most if needed.coats is None else needed.coats
    total = max(min(asked, most), len(plan.stages), least_left(method, plan.planned))

    def with_(count: int) -> tuple[Stage, ...]:
        stages = list(method.stage)
        for i, n, was in zip(plan.stages, _shared(count, list(plan.left)), plan.left, strict=True):
            stages[i] = replace(stages[i], count=stages[i].count - was + n)
        return tuple(stages)

    tries = range(total, max(min(total + MORE_TRIED, most), total) + 1)
    refused = {n: _refused(found, with_(n)) for n in tries[:1]}
    if refused[total]:
        # What holds the least film need not bear the ladder: a coat more, and again.
        total = next((n for n in tries if not _refused(found, with_(n))), tries[-1])
        refused[total] = _refused(found, with_(total))
    stages = with_(total)
    held = wanted(found, plan, total, odds)
    return Fit(
        stage=stages, coats=sum(s.count for s in stages if own_coats(s)), before=method.coats,
        odds=held.odds_planned, zone=held.zone, capped=asked > most, refused=refused[total],
    )  # fmt: skip


def least_left(method: Method, planned: int) -> int:
    """The fewest coats still to lay: what a method wants at least of its own, and never more than is planned."""
    least = method.least_coats or math.ceil(LEAST_SHARE * method.coats)
    return min(max(least - (method.coats - planned), 0), planned)


def _refused(found: Outlook, stages: tuple[Stage, ...]) -> bool:
    """Whether the film of a plan does not bear the ladder for the sheen."""
    rub = found.rub_out
    method = replace(found.method, stage=stages)
    if not any(s.kind in SANDED and not s.patch for s in stages) or rub.ask.sequence is not None:
        return False
    ahead = plan_forward(
        found.project, method, found.ledger, found.now_h, found.hours, found.sands, found.soft.found, ranges=False
    )
    coming, ledger = built(found.project, found.ledger, ahead, SHEEN)
    film = with_fields(rub.film, aim=SHEEN, coming=coming, ledger=ledger)
    ladder = rub_out(film, rub.held, rub.ask).ladder
    return ladder is not None and ladder.verdict.word == REFUSED


def _shared(total: int, counts: list[int]) -> list[int]:
    """So many coats shared out as these were, one of each at least.

    >>> _shared(14, [3, 6, 1]), _shared(3, [9, 9, 1])
    ([4, 9, 1], [1, 1, 1])
    """
    spare = total - len(counts)
    weight = sum(max(c - 1, 0) for c in counts) or len(counts)
    exact = [spare * (max(c - 1, 0) if sum(counts) > len(counts) else 1) / weight for c in counts]
    out = [1 + math.floor(e) for e in exact]
    by_rest = sorted(range(len(counts)), key=lambda i: -(exact[i] - math.floor(exact[i])))
    for i in by_rest[: total - sum(out)]:
        out[i] += 1
    return out
