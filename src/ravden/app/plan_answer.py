"""``ravden compute plan``, what comes out: the outlook of one instrument as plain data."""

import math
import re
from datetime import datetime
from typing import Any

from msgspec.structs import replace

from ravden.app.outlook_request import OutlookRequest
from ravden.app.plan_case import PlanIn, Told, told
from ravden.catalogue.amounts import Amount, stage_amounts
from ravden.catalogue.tables import Catalogue
from ravden.core.abrasive.climb import Ladder, Step
from ravden.core.abrasive.sandthrough import zone_odds
from ravden.core.ahead.dated import Forward, WindowRange
from ravden.core.ahead.fit import Fit, fitted
from ravden.core.ahead.foretold import Z80
from ravden.core.ahead.outlook import Outlook
from ravden.core.ahead.steps import PlannedStep
from ravden.core.ahead.timeline import line_ahead
from ravden.core.film.ledger import Ledger
from ravden.core.method.standing import standing
from ravden.core.method.steps import Method, Stage, left
from ravden.core.record import StepDone
from ravden.core.rubout.aim import SANDED, coats_after
from ravden.core.rubout.rub_out import split, zone_left
from ravden.core.session.light import lamp_minutes
from ravden.core.state.history import air_at
from ravden.exchange.compute_rubout import ladder_out
from ravden.text.plan_words import BETWEEN_LABEL
from ravden.text.say import say


def plan(case: PlanIn, catalogue: Catalogue) -> dict[str, Any]:
    """The plan of one instrument, its film and its ladder, by the same request the window makes."""
    made = told(case, catalogue)
    before = made.asked.run()
    fit = fitted(before)
    found = before
    if case.fit and fit is not None and fit.stage != before.method.stage:
        found = _with(made.asked, fit).run()
    return _Answer(made, found, before, fit, case.fit).out()


def _with(asked: OutlookRequest, fit: Fit) -> OutlookRequest:
    return replace(asked, method=replace(asked.method, stage=fit.stage))


class _Answer:
    """One outlook, told."""

    def __init__(self, made: Told, found: Outlook, before: Outlook, fit: Fit | None, is_fitted: bool) -> None:
        self._rack, self._zone, self._catalogue = made.asked.rack, made.zone, made.shop.catalogue
        self._found, self._before, self._fit, self._is_fitted = found, before, fit, is_fitted
        self._amounts = stage_amounts(self._catalogue, found.project, left(found.method, found.progress))

    def out(self) -> dict[str, Any]:
        found = self._found
        ahead = found.forward
        early, likely, late = ahead.ready_h
        totals: dict[str, float] = {}
        for amount in self._amounts.values():
            totals[amount.material] = totals.get(amount.material, 0.0) + amount.mix.supplied_ml
        return {
            "steps": self._steps(),
            "windows": [
                {"what": w.name, "step": w.label, "early": self._at(w.early_h), "likely": self._at(w.likely_h),
                 "late": self._at(w.late_h), "planned": self._at(self._hands_after(w)),
                 "open": w.likely_h is not None and w.likely_h <= found.now_h}
                for w in ahead.windows
            ],
            "zones": self._zones(),
            "ladder": self._ladder(),
            "ready": {"early": self._at(early), "likely": self._at(likely), "late": self._at(late)},
            **self._promised(likely, late),
            "coats": {
                "laid": found.progress.coats_done,
                "planned": sum(s.count for _, s in left(found.method, found.progress) if _own(s)),
                "fitted": None if self._fit is None else self._fit.coats,
            },
            "ml_total": totals,
            "cautions": list(found.project.material.caution_codes),
            "remarks": self._remarks(),
        }  # fmt: skip

    def _at(self, at_h: float | None) -> str | None:
        if at_h is None:
            return None
        moment: datetime = self._rack.moment(at_h).astimezone(self._zone)
        return moment.isoformat(timespec="seconds")

    def _steps(self) -> list[dict[str, Any]]:
        found = self._found
        states = standing(found.method, found.progress, found.project.acts)
        ids = _ids(found.method)
        planned = {s.index: s for s in found.forward.steps}
        done = {a.step: a for a in found.project.acts if isinstance(a, StepDone) and a.at_h <= found.now_h}
        out = []
        for i, stage in enumerate(found.method.stage):
            row: dict[str, Any] = {"id": ids[i], "kind": stage.kind, "label": stage.label, "state": states[i]}
            step = planned.get(i)
            if step is not None:
                row |= self._dates(step)
            elif stage.key in done:
                row |= {"begins": self._at(done[stage.key].at_h), "ends": self._at(done[stage.key].at_h)}
            else:
                row |= {"begins": None, "ends": None}
            row |= self._about(i, stage)
            out += [row, *self._between(i, ids[i])]
        return out

    def _dates(self, step: PlannedStep) -> dict[str, Any]:
        return {
            "begins": self._at(step.from_h), "ends": self._at(step.to_h), "hands_min": 60.0 * step.hands_h,
            "hands": [[self._at(a), self._at(b)] for a, b in step.hands],
        }  # fmt: skip

    def _between(self, index: int, step_id: str) -> list[dict[str, Any]]:
        """What is done between the coats of a step: light, and scuffs it needs because a coat comes late."""
        out = []
        mine = [b for b in self._found.forward.between if b.index == index]
        for nth, b in enumerate(mine):
            light = b.kind == "light"
            row = {
                "id": f"{step_id}-{b.kind}-{nth + 1}", "kind": b.kind,
                "label": BETWEEN_LABEL[b.kind],
                "state": "planned", **self._dates(b), "within": step_id,
            }  # fmt: skip
            if light:
                row |= {"dose_mJ_cm2": b.dose_mJ_cm2, "face_min": lamp_minutes(self._found.project, b.dose_mJ_cm2)}
            out.append(row)
        return out

    def _about(self, index: int, stage: Stage) -> dict[str, Any]:
        found = self._found
        out: dict[str, Any] = {}
        if stage.zones:
            out["zones"] = list(stage.zones)
        if stage.kind == "coats":
            project = found.project
            material = project.layers.get(stage.finish) or project.finishes.get(next(iter(stage.zones), ""))
            material = project.material if not stage.finish or material is None else material
            out |= {"coats": stage.count, "material": material.id,
                    "dry_um": project.dry_um(material, stage.by, stage.um)}  # fmt: skip
            amount = self._amounts.get(index)
            if amount is not None:
                out |= _ml(amount)
        elif stage.kind == "wait":
            out["why_wait"] = stage.window
        elif stage.kind in ("level", "rub-out"):
            ladder = self._ladder_of(index)
            if ladder is not None:
                out["grades"] = [s.rung.abrasive.id for s in self._share(index, ladder)]
        return out

    def _ladder_of(self, index: int) -> Ladder | None:
        found = self._found
        key = coats_after(found.method, index) is not None
        if found.rub_out.film.aim.left and found.rub_out.film.aim.key == key:
            return found.rub_out.ladder
        return found.sands.key if key else found.sands.sheen

    def _share(self, index: int, ladder: Ladder) -> tuple[Step, ...]:
        """The steps of a ladder that this sanding takes."""
        method = self._found.method
        if coats_after(method, index) is not None:
            return ladder.steps
        last = [i for i, s in enumerate(method.stage) if s.kind in SANDED and coats_after(method, i) is None]
        kinds = {method.stage[i].kind for i in last}
        level, rest = split(ladder, "level" in kinds, "rub-out" in kinds)
        return level if method.stage[index].kind == "level" else rest

    def _built(self) -> Ledger:
        found = self._found
        line = line_ahead(found.project, found.ledger, found.forward, found.now_h, found.zone, found.past)
        return found.ledger if line is None else line.end

    def _zones(self) -> list[dict[str, Any]]:
        """Film of each zone when all is done, and its state now."""
        found = self._found
        built, out = self._built(), []
        for z in found.zones:
            film = built.film(z.name)
            zone = found.project.zone(z.name)
            whole = z.floor_um / zone.floor if zone.floor > 0 else 0.0
            out.append(
                {
                    "name": z.name, "mean_um": film.mean_um, "p05_um": film.p05_um, "p95_um": film.p95_um,
                    "floor_um": z.floor_um,
                    "odds_below": zone_odds(zone_left(zone, built), 0.0, 0.0, whole) if whole > 0 else 0.0,
                    "now_um": z.film.mean_um, "now_state": self._state(z.name, z.film.mean_um),
                }
            )  # fmt: skip
        return out

    def _state(self, name: str, film_um: float) -> str:
        """bare, masked, wet (no coat on it yet), soft (no paper on it yet), or hard."""
        found = self._found
        if name in found.project.masked:
            return "masked"
        if film_um < 0.5:
            return "bare"
        margin = found.margin_now_K
        if margin is None or margin < -25:
            return "wet"
        return "soft" if margin < found.rub_out.film.least_K else "hard"

    def _ladder(self) -> dict[str, Any]:
        rub = self._found.rub_out
        names = {z.label: z.name for z in rub.film.project.zones}
        if rub.ladder is None:
            return {"sequence": [], "verdict": "none" if rub.idle else "refused", "reason": say(rub.refusal),
                    "zones": dict.fromkeys(names.values(), "kept_off")}  # fmt: skip
        out = ladder_out(rub.ladder, rub.job, rub.drawer, rub.remarks)
        joins = rub.ladder.verdict.joins
        zones = {}
        for label, name in names.items():
            if label not in joins:
                zones[name] = "kept_off"
            else:
                at = joins[label]
                zones[name] = "kept_off" if at is None else "worked" if at == 0 else "lightly"
        return out | {"for": rub.target, "zones": zones}

    def _promised(self, likely: float | None, late: float | None) -> dict[str, Any]:
        """Whether what was promised is kept, its odds, and what is missing [h]; nothing where nothing was promised."""
        found = self._found
        promised = found.project.instrument.promised_h
        if promised is None:
            return {}
        if likely is None:
            return {"promised": {"at": self._at(promised), "kept": False, "odds": 0.0, "late_h": None}}
        left, wait = promised - found.now_h, max(likely - found.now_h, 1e-6)
        sd = 0.0 if late is None else math.log(max(late - found.now_h, wait) / wait) / Z80
        odds = float(likely <= promised)
        if left > 0 and sd > 1e-6:
            odds = 0.5 * (1.0 + math.erf(math.log(left / wait) / sd / math.sqrt(2.0)))
        late_h = max(likely - promised, 0.0)
        return {
            "promised": {"at": self._at(promised), "kept": likely <= promised, "odds": odds, "late_h": late_h}
        }  # fmt: skip

    def _hands_after(self, window: WindowRange) -> float | None:
        """When hands are on what a window is waited for."""
        stages, steps = self._found.method.stage, self._found.forward.steps
        at = next((s.index for s in steps if stages[s.index].label == window.label), None)
        return None if at is None else next((s.from_h for s in steps if s.index > at and s.hands), None)

    def _remarks(self) -> list[dict[str, Any]]:
        found, ahead = self._found, self._found.forward
        out: list[dict[str, Any]] = []
        if ahead.refused is not None and ahead.stuck is not None:
            more = ahead.refused.values.get("instead")
            out.append({"code": "REFUSED", "step": found.method.stage[ahead.stuck].label,
                        "more_um": None if more is None else more.values["more_um"]})  # fmt: skip
        elif ahead.stuck is not None:
            shut = next((w.name for w in ahead.windows if w.likely_h is None), "next_coat")
            what, air = ahead.hindered or ("slow", air_at(found.project, max(_last_h(ahead), found.now_h)))
            step = found.method.stage[ahead.stuck].label
            out.append({"code": "NEVER_DRIES", "why": what, "step": step, "window": shut,
                        "temp_C": air.temp_C, "rh": air.rh})  # fmt: skip
        if found.project.material.cure.model == "light" and found.forward.light and not found.project.lamp_mW_cm2:
            out.append({"code": "NO_LAMP", "dose_mJ_cm2": ahead.light[-1].dose_mJ_cm2})
        if self._fit is not None and self._fit.capped:
            out.append({"code": "CAPPED", "coats": self._fit.coats, "zone": self._fit.zone, "odds": self._fit.odds})
        if self._fit is not None and not self._is_fitted and self._fit.stage != self._before.method.stage:
            out.append({"code": "FIT_DIFFERS", "coats": self._fit.coats, "planned": self._fit.before})
        if found.ledger.flags:
            out.append({"code": "READINGS_CONTRADICT", "count": len(found.ledger.flags)})
        if found.forward.between:
            late = [b for b in found.forward.between if b.kind == "scuff"]
            if late:
                out.append({"code": "LATE_COATS", "scuffs": len(late), "first": self._at(late[0].from_h)})
        return out


def _last_h(ahead: Forward) -> float:
    return max((c.at_h for c in ahead.coats), default=0.0)


def _own(stage: Stage) -> bool:
    return stage.kind == "coats" and not stage.finish and not stage.zones


def _ml(amount: Amount) -> dict[str, Any]:
    return {"ml": amount.mix.supplied_ml, "thinner_ml": amount.mix.thinner_ml}


def _ids(method: Method) -> list[str]:
    """A name for each step that no other step of the plan has."""
    return [
        f"{i + 1:02d}-" + re.sub(r"[^a-z0-9]+", "-", s.label.lower()).strip("-") for i, s in enumerate(method.stage)
    ]
