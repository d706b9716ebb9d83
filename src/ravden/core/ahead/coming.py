"""The thickest zone's film as the plan will lay it: asked of the cure engine whenever a step has to wait for it."""

import math
from collections.abc import Sequence

from ravden.core.ahead.steps import BOND_H, HORIZON_H, Bond, bonds_until_h
from ravden.core.climate.series import own_spread_K
from ravden.core.cure.asked import Sampling
from ravden.core.cure.film import History, goes_on
from ravden.core.cure.layered import NO_FILM_UM, cure_depth_um
from ravden.core.cure.light import HARD_DOSE, full_dose
from ravden.core.cure.models import LightCure
from ravden.core.cure.windows import Windows, cut_hours, windows
from ravden.core.film.ledger import Ledger
from ravden.core.record import Coat, Exposure, Project, Sanding, Zone
from ravden.core.state.history import LEAST_LEFT_UM, absorbed_of, cure
from ravden.core.state.laid_film import laid_film

P90_Z = 1.2816
LN_RATE_PER_K = 0.07  # [ENG] of 50 kJ/mol about 20 C, E / (R T^2)
UNKNOWN_FILM = 0.25  # [A] relative sd of a film too thin to speak of


def air_is_own(project: Project) -> bool:
    """Whether the shop's own record stands for the air to come."""
    return bool(project.air) and max(project.air, key=lambda a: a.at_h).source == "own"


def air_spread(project: Project, ahead_h: float) -> float:
    """The sd of the ln of a wait that is over so far ahead, by what nobody knows of the air to come [-]."""
    return LN_RATE_PER_K * own_spread_K(ahead_h) if air_is_own(project) else 0.0


class Coming:
    """Coats, cuts and light on one zone, in its own um, past and planned. cuts_asked: whether any level still to come
    is judged by the depth of its cut; ranges: whether the early and late ends of a wait will be wanted."""

    def __init__(
        self, project: Project, zone: Zone, ledger: Ledger, now_h: float, past: History | None, cuts_asked: bool,
        ranges: bool,
    ) -> None:  # fmt: skip
        self.project, self.zone, self.now_h, self.ranges, self.ledger = project, zone, now_h, ranges, ledger
        film = laid_film(project, zone, ledger, now_h)
        self.laid, self.cuts = list(film.laid), list(film.cuts)
        self._lays, self._lays_sd = ledger.lays(zone.name), ledger.lays_spread(zone.name)
        # The past is solved once; what is planned goes on from there, so that a month of waiting costs a few ms.
        self._base = past
        if past is None and self.laid:
            self._base = film.cure(Sampling(sample_h=(now_h,), until_h=now_h))
        self._new_coats: list[Coat] = []
        self._new_cuts: list[Sanding] = []
        self._absorbs = list(absorbed_of(project, zone, now_h))
        self.light: list[Exposure] = []
        self._cuts_asked = cuts_asked
        self._solved_for = (-1, -1)  # planned coats and cuts the history at hand is for
        self._opens: History | None = None
        self._ends: tuple[History | None, ...] = ()
        self._followed = self._base  # the film coat by coat, and what came since
        self._since: list[Coat] = []
        self._cut_since: list[Sanding] = []

    def _spread(self, opens_h: float) -> float:
        r"""The sd of the ln of a wait for this film that is likely over at an hour [-]: of the drying rate, of the film
        there will be, and of the air where nobody told it.

        .. math:: \sigma_T = \sqrt{\sigma_r^2 + (2 \min(q, 0.5))^2 + (b\,\sigma_K)^2},\quad
            q^2 = \sigma_c^2 + [\sigma_o^2 + (\kappa^2 + \zeta^2) \textstyle\sum n^2] / F^2

        r: the shop's rate; c: what all coats have in common; o: the film that is there, without that [um]; kappa, zeta:
        one coat against the next, on the instrument and on a zone; n: coats to come, F: film there and to come [um]; K:
        the mean air to come where the shop's own record stands for it, by how far off it is; b: ln of the rate for a
        degree. Time goes with the square of the film [S]; the spreads are `Priors`' [A].
        """
        film_um, priors = self.dry_um, self.ledger.priors
        share = UNKNOWN_FILM
        if film_um >= 1.0:
            now = self.ledger.film(self.zone.name)
            own2 = max(now.sd_um**2 - (self._lays_sd * now.mean_um) ** 2, 0.0)
            each2 = (priors.coat_common**2 + priors.coat_zone**2) * sum(c.dry_um**2 for c in self._new_coats)
            share = math.hypot(self._lays_sd, math.sqrt(own2 + each2) / film_um)
        air = air_spread(self.project, opens_h - self.now_h)
        return math.hypot(self.project.rate_ln[1], 2 * min(share, 0.5), air)

    @property
    def dry_um(self) -> float:
        """Film on the zone, dry."""
        return sum(c.dry_um for c in self.laid) - sum(s.um for s in self.cuts)

    @property
    def last_coat_h(self) -> float:
        """When the last coat goes on."""
        return max(c.at_h for c in self.laid)

    def lay(self, coat: Coat, hands_h: float, lit_h: float = -math.inf) -> Exposure | None:
        """A coat still to come, nominal, that hands are on for so long; returns the light it then wants, which it gets
        no sooner than lit_h."""
        gone = self._absorbs.pop(0) if self._absorbs else 0.0
        own_um = max(coat.dry_um * self.zone.k_mean * self._lays - gone, LEAST_LEFT_UM)
        self._new_coats.append(Coat(at_h=coat.at_h, dry_um=own_um, finish=coat.finish))
        self.laid.append(self._new_coats[-1])
        self._since.append(self._new_coats[-1])
        self._ends = ()
        return self._lit(coat, hands_h, lit_h)

    def _lit(self, coat: Coat, hands_h: float, lit_h: float) -> Exposure | None:
        model = self.project.models("")[coat.finish]
        if not isinstance(model, LightCure):
            return None
        # It levels and loses vapour, then the lamp: nothing hardens before.
        return self.light_at(max(coat.at_h + hands_h + model.rest_h(self._new_coats[-1].dry_um), lit_h))

    def light_at(self, at_h: float) -> Exposure:
        """Light still to come on the film so far, enough to cure it down to the wood."""
        model = self.project.models("")[self.laid[-1].finish]
        assert isinstance(model, LightCure)
        self.light.append(Exposure(at_h=at_h, dose_mJ_cm2=full_dose(model, max(self.dry_um, 1.0))))
        return self.light[-1]

    def unlit_from_h(self) -> float | None:
        """From when the film laid already may have the light it still waits for; None: it waits for none."""
        if not self.laid:
            return None
        last = self.laid[-1]
        model = self.project.models("")[last.finish]
        if not isinstance(model, LightCure):
            return None
        given = [e for e in self.project.light_on(self.zone.name) if last.at_h <= e.at_h <= self.now_h]
        lit_um = cure_depth_um(model, sum(e.dose_mJ_cm2 for e in given) / HARD_DOSE)
        return None if lit_um >= self.dry_um else last.at_h + model.rest_h(last.dry_um)

    def until_lit_h(self, finish: str, coat_h: float, light_h: float, um: float) -> float:
        """How long somebody has to be there for a coat [h], its light included where it wants some."""
        model = self.project.models("")[finish]
        if not isinstance(model, LightCure):
            return coat_h
        return coat_h + model.rest_h(um) + light_h

    def cut(self, at_h: float, um: float, purpose: str) -> None:
        """A sanding still to come, nominal; a cut never takes the last of the film."""
        left = self.dry_um - LEAST_LEFT_UM
        if left <= 0:
            return
        share = min(um * self.zone.sanding, max(self.dry_um - 0.5, min(0.01, left)))
        self.cuts.append(Sanding(at_h=at_h, um=share, purpose=purpose))
        self._new_cuts.append(self.cuts[-1])
        self._cut_since.append(self.cuts[-1])

    def bond(self, at_h: float) -> Bond:
        """What the next coat has to keep to, as far as can be seen by an hour, or beyond it where the film is not ready
        for one then. Asked of later and later hours: the film is followed from one to the next."""
        if self._followed is None or at_h > float(self._followed.end_state[0]) or self._since:
            self._followed = self._follow(at_h)
            self._since, self._cut_since = [], []
        found = windows(self._followed, self.project.instrument.judged_C)
        if found.next_coat_h is None:
            found = windows(self._follow(at_h + BOND_H), self.project.instrument.judged_C)
        # What the wood drank is no film that a coat could fail to hold on.
        thin = self.laid[-1].dry_um <= NO_FILM_UM
        recoat_until_h = None if thin else bonds_until_h(found.recoat_until_h, self.last_coat_h, at_h)
        return Bond(next_h=found.next_coat_h, scuff_h=found.scuff_h, recoat_until_h=recoat_until_h)

    def _follow(self, until_h: float) -> History:
        """The film up to an hour, from where it was followed to before."""
        project, before = self.project, self._followed
        if goes_on(project.models(""), self._since, before) and (before is not None or self._since):
            found = cure(
                project, self._since, self._cut_since, Sampling(until_h=until_h), after=before, light=self.light
            )
        else:
            found = cure(project, self.laid, self.cuts, Sampling(until_h=until_h), light=self.light)
        return found

    def windows(self, cut_um: float | None, t: float) -> Windows | None:
        """When hands may do what after the last coat so far; cut_um: of the level waited for; t: where the plan is."""
        opens = self._ahead(t)
        return None if opens is None else windows(opens, self.project.instrument.judged_C, cut_um)

    def since(self, cut_um: float) -> Windows:
        """The same for a window that is open already: since when, only the whole of its past can tell."""
        end = self.now_h + 1.0
        found = cure(
            self.project,
            self.laid,
            self.cuts,
            Sampling(sample_h=cut_hours(self.last_coat_h, end).tolist(), until_h=end, rough=True),
        )
        return windows(found, self.project.instrument.judged_C, cut_um)

    def ends(self, cut_um: float | None, t: float) -> tuple[Windows | None, ...]:
        """The same of the fast, the middle and the slow film, all before any sanding still planned."""
        if not self._ends:
            spread = self._spread(self._likely_h(t))
            fast, slow = (self._stretched(math.exp(z * spread), t) for z in (P90_Z, -P90_Z))
            self._ends = (fast, self._ahead(t), slow)
        bench = self.project.instrument.judged_C
        return tuple(None if e is None else windows(e, bench, cut_um) for e in self._ends)

    def _likely_h(self, t: float) -> float:
        """When what is waited for last is likely there: the case, or where that is not within sight the last coat."""
        found = self._ahead(t) if air_is_own(self.project) else None
        case_h = None if found is None else windows(found, self.project.instrument.judged_C).case_h
        return self.last_coat_h if case_h is None else case_h

    def _ahead(self, t: float) -> History | None:
        if self._base is None and not self._new_coats:
            return None
        if self._solved_for != (len(self._new_coats), len(self._new_cuts)):
            end = max(t, self.last_coat_h) + HORIZON_H
            self._opens = self._solved(end, self._cut_samples(end), rough=not self.ranges)
            self._solved_for = (len(self._new_coats), len(self._new_cuts))
        return self._opens

    def _solved(self, end: float, asked: Sequence[float], rough: bool) -> History:
        project = self.project
        if goes_on(project.models(""), self._new_coats, self._base):
            return cure(
                project,
                self._new_coats,
                self._new_cuts,
                Sampling(sample_h=asked, until_h=end, rough=rough),
                after=self._base,
                light=self.light,
            )
        return cure(project, self.laid, self.cuts, Sampling(sample_h=asked, until_h=end, rough=True), light=self.light)

    def _stretched(self, rate: float, t: float) -> History:
        end = max(t, self.last_coat_h) + HORIZON_H
        return cure(
            self.project,
            self.laid,
            self.cuts,
            Sampling(sample_h=self._cut_samples(end), until_h=end, rough=True),
            rate,
            light=self.light,
        )

    def _cut_samples(self, end: float) -> Sequence[float]:
        """Hours at which the depth of a level's cut will be asked about, where the plan has one with coats after it."""
        if not self._cuts_asked:
            return ()
        found_from = self.now_h if self._base is None else float(self._base.end_state[0])
        asked = cut_hours(self.last_coat_h, end).tolist()
        return [found_from, *(h for h in asked if h > found_from)] if math.isfinite(found_from) else asked
