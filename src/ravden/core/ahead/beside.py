"""The track beside the body's: zones in another finish, coated while the body waits, with waits of their own film."""

from collections.abc import Sequence

from ravden.core.ahead.steps import BOND_H, HORIZON_H, SCUFF_H, PlannedStep, bonds_until_h
from ravden.core.calendar.hours import WorkHours
from ravden.core.cure.asked import Sampling
from ravden.core.cure.layered import NO_FILM_UM
from ravden.core.cure.windows import Windows, windows
from ravden.core.method.steps import Stage
from ravden.core.record import Coat, Project, Sanding, Zone
from ravden.core.state.history import cure, film_events


class Beside:
    """Dates the stages of zones in another finish, one after the other; ``t`` is where it has come to [h]."""

    def __init__(self, project: Project, now_h: float, hours: WorkHours, body: Sequence[PlannedStep]) -> None:
        """body: the steps of the body, whose hands are not free."""
        self._project, self._now_h, self._hours = project, now_h, hours
        self._busy = sorted(stint for s in body for stint in s.hands)
        self.t = now_h
        self.coats: list[Coat] = []
        self.steps: list[PlannedStep] = []
        self.between: list[PlannedStep] = []
        self.stuck: int | None = None  # the step that nothing in sight lets begin

    def date(
        self, place: int, stage: Stage, from_h: float, held: Sequence[tuple[float, float] | None] = ()
    ) -> None:  # fmt: skip
        """Put a stage on the calendar, not before from_h and not before what this track has come to. held: where the
        shop's plan has each of its coats."""
        if self.stuck is not None:
            return
        self.t = max(self.t, from_h) if not self.coats else self.t
        if stage.kind == "coats":
            self._coats(place, stage, held)
        else:
            self._wait(place, stage)

    def _coats(self, place: int, stage: Stage, held: Sequence[tuple[float, float] | None]) -> None:
        mine = [c for c in self._project.coats if c.finish == stage.finish and c.at_h <= self._now_h]
        material = self._project.finishes.get(stage.zones[0]) or self._project.layers.get(stage.finish)
        dry_um = self._project.dry_um(material or self._project.material, stage.by, stage.um)
        last = self.coats[-1].at_h if self.coats else max((c.at_h for c in mine), default=None)
        today = 0 if last is None else sum(last - c.at_h < 8.0 for c in [*mine, *self.coats])
        began, stints = self.t, []
        for nth in range(stage.count):
            soonest = self.t
            if last is not None:
                soonest = max(soonest, last + stage.between_h)
                if today >= stage.per_session:
                    soonest, today = max(soonest, self._hours.next_morning(last)), 0
            planned = held[nth] if nth < len(held) else None
            told = planned is not None and planned[0] >= soonest - 1e-9
            at = self._on_film(place, stage, planned[0] if planned and told else self._free(soonest, stage.hands_h))
            if at is None:
                self.stuck = place
                break
            self.coats.append(Coat(at_h=at, dry_um=dry_um, zones=stage.zones, finish=stage.finish))
            stints.append((at, at + stage.hands_h))
            last, self.t, today = at, at + stage.hands_h, today + 1
            began = at if nth == 0 else began
        if stints:
            hands_h = stage.hands_h * len(stints)
            self.steps.append(PlannedStep(index=place, from_h=began, to_h=self.t, hands_h=hands_h, hands=tuple(stints)))

    def _on_film(self, place: int, stage: Stage, at: float) -> float | None:
        """The same hour, or the first one from which on the film of these zones takes a coat, scuffed first where it
        comes too late to hold by itself; None: not within sight."""
        found = self._windows(stage, at, stage.finish)
        if found is None:
            return at
        if found.next_coat_h is None or found.next_coat_h > at + 1e-9:
            found = self._windows(stage, at + BOND_H, stage.finish)
            if found is None or found.next_coat_h is None:
                return None
            at = self._free(max(at, found.next_coat_h), stage.hands_h)
        last = self._last(stage)
        until = bonds_until_h(found.recoat_until_h, last.at_h, at)
        if last.dry_um <= NO_FILM_UM or until is None or at <= until:
            return at
        began = self._free(max(at, found.scuff_h or at), SCUFF_H)
        stint = (began, began + SCUFF_H)
        self.between.append(
            PlannedStep(index=place, from_h=began, to_h=stint[1], hands_h=SCUFF_H, hands=(stint,), kind="scuff")
        )
        return self._free(stint[1], stage.hands_h)

    def _laid(self, zone: Zone) -> tuple[list[Coat], list[Sanding]]:
        """The film of a zone so far, in its own um."""
        laid, cuts = film_events(self._project, zone, 1.0, self._now_h)
        mine: Sequence[Coat] = [c for c in self.coats if c.covers(zone.name)]
        return [*laid, *(Coat(at_h=c.at_h, dry_um=c.share(zone), finish=c.finish) for c in mine)], cuts

    def _last(self, stage: Stage) -> Coat:
        return self._laid(self._project.zone(stage.zones[0]))[0][-1]

    def _windows(self, stage: Stage, end_h: float, finish: str = "") -> Windows | None:
        """The windows of these zones' film, followed up to an hour; None: bare. finish: only what was laid of it, since
        what a zone had before it was given another finish says nothing of the next coat."""
        zone = self._project.zone(stage.zones[0])
        laid, cuts = self._laid(zone)
        if finish:
            laid, cuts = [c for c in laid if c.finish == finish], []
        if not laid:
            return None
        found = cure(self._project, laid, cuts, Sampling(until_h=max(end_h, laid[-1].at_h), rough=True), zone=zone.name)
        return windows(found, self._project.instrument.judged_C)

    def _free(self, at_h: float, hands_h: float) -> float:
        """The first hour from which the shop is open and no hand of it is on the body for so long."""
        at = self._hours.fits(at_h, hands_h)
        while True:
            taken = [b for a, b in self._busy if a < at + hands_h - 1e-9 and at < b - 1e-9]
            if not taken:
                return at
            at = self._hours.fits(max(taken), hands_h)

    def _wait(self, place: int, stage: Stage) -> None:
        last = max((c.at_h for c in self._laid(self._project.zone(stage.zones[0]))[0]), default=self.t)
        found = self._windows(stage, max(self.t, last) + HORIZON_H)
        if found is None:
            return
        opens = found.at(stage.window)
        if opens is None:
            self.stuck = place
            return
        began, self.t = self.t, max(self.t, self._hours.next_open(opens))
        self.steps.append(PlannedStep(index=place, from_h=began, to_h=self.t, hands_h=0.0))
