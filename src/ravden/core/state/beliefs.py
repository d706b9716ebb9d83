"""Figures of this shop's own: what is assumed of each, what the record says of it, and what is believed by now.

.. math:: p = s^{-2} + \\sum_i s_i^{-2},\\quad \\mu = (s^{-2} m + \\sum_i s_i^{-2} y_i) / p

A factor's logarithm is normal, and so is every word on it: the product of normals [S]. Priors are in ``PRIORS`` [A].
"""

from __future__ import annotations

import functools
import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from typing import TYPE_CHECKING

from msgspec.structs import replace

from ravden.core.abrasive.hands import CUT_LN_SD, SCRATCH_LN_SD, Belief, Hands
from ravden.core.method.steps import hours_of
from ravden.core.record.word import CUT, HOURS, MINUTES, POLISHING, SCRATCH, SINK, TEXTURE, ZONE, Rule, Word, key_of
from ravden.core.state.zone_factors import Factor, Told, zone_factors

if TYPE_CHECKING:
    from ravden.core.method.steps import Method, Stage
    from ravden.core.record import Zone

# sd of ln of each factor before anything was found: 10 to 90 % of shops within a factor of 1.6 (texture, hours), of
# 1.5 (minutes, of papers beside their cut), of 1.9 (sinking) [A].
PRIORS = {CUT: CUT_LN_SD, SCRATCH: SCRATCH_LN_SD, TEXTURE: 0.37, MINUTES: 0.32, POLISHING: 0.32, HOURS: 0.37, SINK: 0.5}
FEWEST_INSTRUMENTS = 3  # a zone's factor is a habit of the hand once so many instruments show it
USUAL_SIGHTINGS = 10  # [A] that a usual spread is worth against those found here
MOST_SAID, MOST_INSTRUMENTS = 200, 60
NO_RULE = Rule()


@dataclass(frozen=True, kw_only=True, eq=False)
class Beliefs:
    """Everything learnt of a shop. words: by figure, all there are; rules: by figure; now: nothing from after it
    counts, None: all of it does."""

    words: Mapping[str, tuple[Word, ...]] = field(default_factory=dict)
    rules: Mapping[str, Rule] = field(default_factory=dict)
    now: datetime | None = None

    def said(self, key: str) -> tuple[Word, ...]:
        """What the record says of a figure and counts, oldest first: the newest of very many, since hands change."""
        if key not in self._said:
            rule, now = self.rules.get(key, NO_RULE), self.now
            counted = (w for w in self.words.get(key, ()) if rule.counts(w.at) and (now is None or w.at <= now))
            self._said[key] = tuple(sorted(counted, key=_when))[-MOST_SAID:]
        return self._said[key]

    @functools.cached_property
    def _said(self) -> dict[str, tuple[Word, ...]]:
        return {}

    def prior(self, key: str) -> Belief:
        """What is believed of a figure before anything was found. Minutes go with how fast the paper cuts here."""
        what = key.partition("/")[0]
        mean = -self.of(CUT).ln_mean if what == MINUTES else 0.0
        return Belief(ln_mean=mean, ln_sd=PRIORS[what])

    def of(self, key: str) -> Belief:
        """What is believed of a figure that is not a zone's."""
        if key not in self._found:
            self._found[key] = self._of(key)
        return self._found[key]

    @functools.cached_property
    def _found(self) -> dict[str, Belief]:
        return {}

    def _of(self, key: str) -> Belief:
        frozen, said = self.rules.get(key, NO_RULE).frozen, self.said(key)
        if frozen is not None:
            return Belief(ln_mean=frozen[0], ln_sd=frozen[1], readings=len(said))
        found = self.prior(key)
        for word in said:
            found = found.told(word.ln, word.sd)
        return found

    def scatter(self, what: str, usual: float) -> float:
        r"""How far one sighting of a kind of figure lies beside what is believed of it, as a sd of ln [-].

        .. math:: s^2 = (n_0 s_0^2 + \sum r^2) / (n_0 + n)

        s_0: as is usual, worth n_0 = 10 sightings [A]; r: of every sighting, beside the mean of its figure's own.
        Source: a gamma prior on the precision of a normal [S].
        """
        squares, count = 0.0, 0
        for key in self.names():
            said = self.said(key) if key.partition("/")[0] == what else ()
            if len(said) > 1:
                mean = sum(w.ln for w in said) / len(said)
                squares += sum((w.ln - mean) ** 2 for w in said)
                count += len(said) - 1
        return math.sqrt((USUAL_SIGHTINGS * usual**2 + squares) / (USUAL_SIGHTINGS + count))

    def names(self) -> tuple[str, ...]:
        """Figures anything was found or said of, in order of their names."""
        return tuple(sorted(set(self.words) | set(self.rules)))

    def hands(self) -> Hands:
        """Removal, scratch and pace."""
        timed = [k.partition("/") for k in self.names()]
        paces = {grade: self.of(f"{what}/{grade}") for what, _, grade in timed if what in (MINUTES, POLISHING)}
        return Hands(cut=self.of(CUT), scratch=self.of(SCRATCH), pace=paces)

    def sinks(self, material: str) -> float:
        """How many times as much a finish was found to sink here as is reckoned."""
        key = key_of(SINK, material)
        return self.of(key).factor if key in self.names() else 1.0

    def method(self, method: Method) -> Method:
        """A method with the texture it leaves here, and its hours of hands as they go here."""
        stages = tuple(self._stage(s) for s in method.stage)
        texture = min(method.texture_um * self.of(key_of(TEXTURE, method.id)).factor, 500.0)
        if stages == method.stage and texture == method.texture_um:
            return method
        return replace(method, stage=stages, texture_um=texture)

    def _stage(self, stage: Stage) -> Stage:
        key = key_of(HOURS, hours_of(stage))
        if stage.hours <= 0 or key not in self.names():
            return stage
        return replace(stage, takes=self.of(key).factor)

    def factors(self, family: str, way: str, before: datetime | None = None, but: str = "") -> dict[str, Factor]:
        """Deposit factors of zones on bodies of a family, laid one way, where enough instruments were measured. before,
        but: as found by a moment, and without one instrument, whose own readings count in its ledger."""
        start = key_of(ZONE, family, way, "")
        told: dict[str, list[Told]] = {}
        for key in self.names():
            if key.startswith(start):
                counted = (w for w in self.said(key) if w.of != but and (before is None or w.at < before))
                for word in counted:
                    told.setdefault(word.of, []).append((key.removeprefix(start), word.ln, word.sd))
        late = list(told.values())[-MOST_INSTRUMENTS:]
        found = zone_factors(late) if len(late) >= FEWEST_INSTRUMENTS else {}
        for key, rule in self.rules.items():
            if key.startswith(start) and rule.frozen is not None:
                found[key.removeprefix(start)] = Factor(ln=rule.frozen[0], sd=rule.frozen[1], instruments=len(told))
        return found

    def zones(
        self, zones: Sequence[Zone], family: str, way: str, before: datetime | None = None, but: str = ""
    ) -> tuple[Zone, ...]:
        """Zones with the factors learnt here, and how far they still scatter from one instrument to the next; before,
        but: as for factors()."""
        found = self.factors(family, way, before, but)
        return tuple(found[z.name].on(z) if z.name in found else z for z in zones)


def _when(word: Word) -> datetime:
    return word.at
