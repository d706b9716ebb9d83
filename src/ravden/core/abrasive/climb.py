"""What a ladder of grits is: its steps, what each leaves of the film, and how it was judged."""

from dataclasses import dataclass

from ravden.core.abrasive import gloss
from ravden.core.abrasive.scratch import Rung
from ravden.core.abrasive.sequence import Path
from ravden.core.abrasive.verdict import Verdict
from ravden.core.fact import Fact


@dataclass(frozen=True, slots=True, kw_only=True)
class Step:
    """One rung of a ladder.

    film_left_um: by zone, after it, a zone counted as worked only once it has joined; odds: by zone, of having gone
    below the floor if one stopped here; strokes: by zone, full strokes of this block that are still safe before it;
    pieces: faces of paper; sheen: words and figures, band: their ends.
    """

    rung: Rung
    remove_um: float
    minutes: float
    pieces: float
    gu20: float
    gu60: float
    sheen: str
    band: gloss.Band
    film_left_um: dict[str, float]
    odds: dict[str, float]
    strokes: dict[str, int]
    why: Fact
    look_for: Fact
    tight: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class Ladder:
    """A whole rub-out. residual_um: depth of the last scratches, film one cannot count on; reason: what the film says
    to it, where it is not simply enough."""

    steps: tuple[Step, ...]
    residual_um: float
    minutes: float
    film_used_um: float
    odds: dict[str, float]
    caps_um: dict[str, float]
    verdict: Verdict
    edges: tuple[str, ...]
    reason: Fact | None = None

    @property
    def rungs(self) -> Path:
        return tuple(s.rung for s in self.steps)

    @property
    def film_ok(self) -> bool:
        """Whether the film is not known to be short."""
        return not self.verdict.short

    @property
    def kept_off(self) -> dict[str, str | None]:
        """Zones that are not worked from the first rung on: the grade they are worked from, None: never."""
        joins = self.verdict.joins
        return {n: None if k is None else self.steps[k].rung.abrasive.name for n, k in joins.items() if k != 0}

    @property
    def edges_from(self) -> str | None:
        """The grade from which on the edges are worked; None: never, or there are none."""
        late = [self.verdict.joins[n] for n in self.edges]
        if not late or None in late:
            return None
        return self.steps[max(k for k in late if k is not None)].rung.abrasive.name

    @property
    def edges_kept_out(self) -> bool:
        return any(self.verdict.joins[n] is None for n in self.edges)
