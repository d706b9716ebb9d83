"""The film of one zone as it was laid and cut: what is asked of the cure engine."""

from dataclasses import dataclass

from ravden.core.cure.asked import Sampling
from ravden.core.cure.film import History
from ravden.core.film.ledger import Ledger
from ravden.core.record import Coat, Project, Sanding, Zone
from ravden.core.state.history import cure, film_events, scale_of


@dataclass(frozen=True, slots=True, kw_only=True)
class LaidFilm:
    """A zone's coats and cuts in its own um; scale: how much thicker than nominal its coats are taken to be [-]."""

    project: Project
    zone: Zone
    laid: tuple[Coat, ...]
    cuts: tuple[Sanding, ...]
    scale: float

    @property
    def left_um(self) -> float:
        """Dry film that is left [um]."""
        return sum(c.dry_um for c in self.laid) - sum(s.um for s in self.cuts)

    def cure(self, sampling: Sampling, rate: float = 1.0) -> History:
        """How it hardens in this project's air; rate: times the rate of the shop [-]."""
        return cure(self.project, self.laid, self.cuts, sampling, rate, zone=self.zone.name)


def laid_film(project: Project, zone: Zone, ledger: Ledger, until_h: float) -> LaidFilm:
    """The film of a zone up to an hour, as thick as the ledger knows it."""
    scale = scale_of(project, zone, ledger, until_h)
    laid, cuts = film_events(project, zone, scale, until_h)
    return LaidFilm(project=project, zone=zone, laid=tuple(laid), cuts=tuple(cuts), scale=scale)
