"""One quarrel of the workshops, and the case it is answered for."""

from collections.abc import Mapping
from dataclasses import dataclass, replace

from ravden.core.abrasive.choice import plan
from ravden.core.abrasive.climb import Ladder
from ravden.core.abrasive.prep import PrepHabit
from ravden.core.abrasive.scratch import Rung, hardness_from_margin_MPa
from ravden.core.abrasive.scuff import ScuffHabit, chemistry
from ravden.core.ahead.outlook import Outlook
from ravden.core.errors import InputError
from ravden.core.fact import Fact, fact
from ravden.core.method.steps import Stage
from ravden.core.rubout.rub_out import LEAST_SANDING_MARGIN_K


@dataclass(frozen=True, slots=True, kw_only=True)
class Quarrel:
    """A question by its id, what decides it here, and the other side's best argument."""

    id: str
    answer: Fact
    other: Fact


def quarrel(id: str, answer: Fact, other: Fact | str = "") -> Quarrel:
    """A quarrel; other: the code of what the other side says, the answer's own with "-other" where nothing is named."""
    said = other if isinstance(other, Fact) else fact(other or f"{answer.code}-other")
    return Quarrel(id=id, answer=answer, other=said)


@dataclass(frozen=True, slots=True, kw_only=True)
class Case:
    """What the answers are computed from."""

    found: Outlook
    scuffs: Mapping[str, ScuffHabit]
    preps: Mapping[str, PrepHabit]

    @property
    def dissolving(self) -> bool:
        return self.found.project.material.dissolving

    @property
    def sands(self) -> bool:
        return any(s.kind in ("level", "rub-out") for s in self.found.method.stage)

    @property
    def open_grain(self) -> bool:
        return self.found.project.instrument.ground == "open-grain"

    @property
    def family(self) -> str:
        return self.found.project.instrument.measures.family

    @property
    def oil(self) -> bool:
        return self.found.project.material.family.startswith("oil")

    @property
    def waterborne(self) -> bool:
        return chemistry(self.found.project.material) == "water"

    def coats_left(self) -> int:
        return sum(not c.finish for c in self.found.forward.coats)

    def stage(self, kind: str) -> Stage | None:
        return next((s for s in self.found.method.stage if s.kind == kind), None)

    def rungs(self, mode: str) -> tuple[Rung, ...]:
        rub = self.found.rub_out
        return rub.held.rungs(mode, hardness_from_margin_MPa(max(rub.margin_K or 0.0, LEAST_SANDING_MARGIN_K)))

    def ladder(self, **change: object) -> Ladder | None:
        """The ladder of this job with something else about it; None: this drawer cannot."""
        job = replace(self.found.rub_out.job, **change)  # type: ignore[arg-type]
        try:
            return plan(job, self.rungs(job.mode), explain=False)
        except InputError:
            return None
