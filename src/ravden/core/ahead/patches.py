"""The films of patches that are being put right, beside the body's: each followed from its own past."""

from collections.abc import Iterator, Sequence

from ravden.core.ahead.coming import Coming
from ravden.core.film.ledger import Ledger
from ravden.core.method.steps import Stage
from ravden.core.record import Coat, Mishap, Project, Sanding
from ravden.core.state.damage import spot_film


class Patches:
    """One film for each repair that has steps on a spot, or on one zone alone, made when it is first asked for."""

    def __init__(self, project: Project, ledger: Ledger, now_h: float, *, ranges: bool) -> None:
        self._project, self._ledger, self._now_h, self._ranges = project, ledger, now_h, ranges
        self._films: dict[tuple[int, str], Coming] = {}

    def prepare(self, stages: Sequence[Stage]) -> None:
        """All that these steps will ask for, before anything is laid on any of them."""
        for stage in stages:
            key = _key(stage)
            if key is not None and key not in self._films:
                self._films[key] = self._made(stage)

    def film(self, stage: Stage) -> Coming | None:
        """The film a step is on; None: the body's."""
        key = _key(stage)
        return None if key is None else self._films.get(key)

    def __iter__(self) -> Iterator[Coming]:
        return iter(self._films.values())

    def _made(self, stage: Stage) -> Coming:
        project = self._project
        about = next((a for a in project.acts if isinstance(a, Mishap) and a.id == stage.mends), None)
        if stage.spot and about is not None:
            there = spot_film(project, about, self._now_h)
            return Coming(there.project, there.zone, there.ledger, self._now_h, None, False, self._ranges)
        zone = project.zone(stage.patch)
        return Coming(project, zone, self._ledger, self._now_h, None, False, self._ranges)

    def lay(self, coat: Coat, hands_h: float, but: Coming) -> None:
        """A coat that all films get but the one it was laid on already."""
        for (mends, patch), film in self._films.items():
            mine = coat.spot and coat.mends == mends
            if film is not but and (mine or (not coat.spot and coat.covers(patch))):
                film.lay(coat, hands_h)

    def cut(self, cut: Sanding, but: Coming) -> None:
        """The same of paper."""
        for (_, patch), film in self._films.items():
            if film is not but and not cut.spot and (cut.zones is None or patch in cut.zones):
                film.cut(cut.at_h, cut.um, cut.purpose)


def _key(stage: Stage) -> tuple[int, str] | None:
    return (stage.mends, stage.patch) if stage.patch else None
