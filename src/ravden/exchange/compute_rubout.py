"""``ravden compute rubout``: the ladder of grits, or the user's own judged."""

import math
from collections.abc import Sequence
from typing import Any, Literal

from ravden.catalogue.tables import DEFAULT_DRAWER, Catalogue
from ravden.core.abrasive.choice import plan
from ravden.core.abrasive.climb import Ladder
from ravden.core.abrasive.explain import changes
from ravden.core.abrasive.grades import Abrasive, custom, find
from ravden.core.abrasive.job import BURIED_FILM_UM, BURIED_KEY_UM, KEY, KEY_UM, Job
from ravden.core.abrasive.ladder import evaluate
from ravden.core.abrasive.remarks import Remark, ambiguous, judge
from ravden.core.abrasive.sandthrough import ZoneFilmLeft, odds_class
from ravden.core.abrasive.schools import schools
from ravden.core.abrasive.scratch import KEY_SOFTEST_K, SOFT_K, SOFTEST_K, USUAL_WEAR, Rung, hardness_from_margin_MPa
from ravden.core.abrasive.sequence import equally_good
from ravden.core.errors import InputError, need, need_above, need_in
from ravden.core.fact import fact
from ravden.core.rubout.rub_out import Drawer
from ravden.exchange.case import Case
from ravden.text.ladders import SCHOOLS
from ravden.text.say import fault, say, sentence

USUAL_MARGIN_K = 38.0  # the reference film, 120 MPa


class RubZoneIn(Case):
    """A zone to be rubbed out. share: of the strokes that cross it; floor: of the least film that it asks for; as is
    usual for its kind where not told."""

    name: str
    film_um: float
    sd_um: float
    area_cm2: float
    kind: Literal["flat", "contour", "edge"] = "flat"
    share: float | None = None
    floor: float | None = None


class OwnAbrasiveIn(Case):
    """An abrasive known only by its micrometres."""

    label: str
    d50_um: float
    kind: Literal["paper", "foam", "cushion", "wool", "powder", "polish"] = "paper"
    spread: float = 0.15


class RubOutIn(Case):
    """A rub-out. odds_limit: by kind of zone; wear: by grade, 0 fresh to 1 worn out; cut, scratch: this user's removal
    and scratch against the built-in ones."""

    texture_um: float
    zones: list[RubZoneIn]
    owned: list[str] | None = None
    custom: list[OwnAbrasiveIn] = []
    wear: dict[str, float] = {}
    min_film_um: float = 40.0
    target: Literal["key", "matte", "satin", "semi-gloss", "gloss", "mirror"] = "gloss"
    key_um: tuple[float, float] | None = None
    margin_K: float | None = None
    hardness_MPa: float | None = None
    backing: str | None = None
    polisher: str = "pad"
    mode: Literal["dry", "wet", "machine"] = "wet"
    odds_limit: dict[str, float] = {}
    slack: float = 0.8
    ratio_max: float = 1.8
    objective: Literal["balanced", "time", "film"] = "balanced"
    refractive_index: float = 1.51
    flatted: bool = False
    edges_worked: bool = False
    cut: float = 1.0
    scratch: float = 1.0
    sequence: list[str] | None = None


def rubout(case: RubOutIn, catalogue: Catalogue) -> dict[str, Any]:
    """The ladder, or why there is none."""
    backing = case.backing or ("orbital" if case.mode == "machine" else "firm")
    for name, value in (("backing", backing), ("polisher", case.polisher)):
        need(value in catalogue.backings, name, f"must be one of {', '.join(catalogue.backings)} (got {value})")
    for name in ("cut", "scratch"):
        need_above(getattr(case, name), 0, name, 20)
    if case.hardness_MPa is None:
        margin = USUAL_MARGIN_K if case.margin_K is None else case.margin_K
        need_in(margin, -300, 300, "margin_K", "K")
        least = KEY_SOFTEST_K if case.target == KEY else SOFTEST_K
        if margin < least:
            return _refused(
                f"the film is too soft to sand: {margin:.0f} K above the bench where {least:.0f} K is wanted; wait"
            )
        hardness = hardness_from_margin_MPa(margin, least)
    else:
        margin, hardness = None, case.hardness_MPa
    job = _job(case, hardness)
    own = [_own(c, i) for i, c in enumerate(case.custom)]
    known = (*catalogue.abrasives, *own)
    drawer = Drawer(abrasives=(), backings=catalogue.backings, block=backing, polisher=case.polisher, cut=case.cut,
                    scratch=case.scratch)  # fmt: skip

    def rungs(names: Sequence[str], path: str) -> list[Rung]:
        grades = [find(known, name, f"{path}[{i}]") for i, name in enumerate(names)]
        return [drawer.rung(g, case.mode, hardness, _wear(case, g, known)) for g in grades]

    owned = list(DEFAULT_DRAWER) if case.owned is None else case.owned
    for name in owned:
        need(owned.count(name) == 1, "owned", f"{name} is named twice")
    extra = [Remark(said=fact("SOFT"))]
    said = extra if margin is not None and margin < SOFT_K else []
    if case.sequence is not None:
        asked = ambiguous(known, case.sequence)
        if asked:
            return _refused(say(asked[0].said), list(asked))
        mine = rungs(case.sequence, "sequence")
        every = [*rungs(owned, "owned"), *[drawer.rung(a, case.mode, hardness) for a in own]]
        found = judge(job, mine, every)
        grave = next((r for r in found if r.grave), None)
        out = ladder_out(evaluate(job, mine), job, every, [*said, *found])
        return out | ({"verdict": "refused", "reason": out["reason"] or sentence(grave.said)} if grave else {})
    every = [*rungs(owned, "owned"), *[drawer.rung(a, case.mode, hardness) for a in own]]
    try:
        ladder = plan(job, every)
    except InputError as error:
        if error.path in ("owned", "target"):
            return _refused(fault(error))
        raise
    out = ladder_out(ladder, job, every, said)
    out["equally_good"] = [[r.abrasive.id for r in path] for path in equally_good(job, every)]
    out["schools"] = [
        {"name": SCHOOLS[s.id][0], "sequence": [r.abrasive.id for r in s.ladder.rungs], "minutes": s.ladder.minutes,
         "total_um": s.ladder.film_used_um} for s in schools(job, every) if s.ladder is not None
    ]  # fmt: skip
    return out


def _key_um(case: RubOutIn) -> tuple[float, float]:
    """The grain a key is left by [um]: as told, and else finer where there is film that can only be near the top."""
    if case.key_um is not None:
        return case.key_um
    return KEY_UM if any(z.film_um > BURIED_FILM_UM for z in case.zones) else BURIED_KEY_UM


def _job(case: RubOutIn, hardness_MPa: float) -> Job:
    for i, z in enumerate(case.zones):
        need_in(z.film_um, 0, 5000, f"zones[{i}].film_um", "um")
        need_in(z.sd_um, 0, 5000, f"zones[{i}].sd_um", "um")
        need_in(z.area_cm2, 0.01, 1e6, f"zones[{i}].area_cm2", "cm2")
        need_in(1.0 if z.share is None else z.share, 0.01, 2, f"zones[{i}].share")
        need_in(1.0 if z.floor is None else z.floor, 0, 1, f"zones[{i}].floor")
    zones = tuple(
        ZoneFilmLeft(
            name=z.name,
            kind=z.kind,
            film_um=z.film_um,
            sd_um=z.sd_um,
            area_cm2=z.area_cm2,
            share=math.nan if z.share is None else z.share,
            floor=math.nan if z.floor is None else z.floor,
        )
        for z in case.zones
    )
    return Job(
        texture_um=case.texture_um, zones=zones, min_film_um=case.min_film_um, target=case.target,
        hardness_MPa=hardness_MPa, refractive_index=case.refractive_index, mode=case.mode, slack=case.slack,
        ratio_max=case.ratio_max, objective=case.objective, odds_limit=tuple(case.odds_limit.items()),
        flatted=case.flatted, edges_count=case.edges_worked, key_um=_key_um(case),
    )  # fmt: skip


def _own(given: OwnAbrasiveIn, i: int) -> Abrasive:
    try:
        need(0 < given.spread < 1, "spread", f"must be between 0 and 1 (got {given.spread:g})")
        return custom(given.label, given.d50_um, given.kind, given.spread)
    except InputError as error:
        raise error.within(f"custom[{i}]") from None


def _wear(case: RubOutIn, grade: Abrasive, known: Sequence[Abrasive]) -> float:
    for name, wear in case.wear.items():
        need_in(wear, 0, 1, f"wear.{name}")
        if find(known, name, "wear") == grade:
            return wear
    return USUAL_WEAR


def ladder_out(ladder: Ladder, job: Job, drawer: Sequence[Rung], said: Sequence[Remark]) -> dict[str, Any]:
    """A ladder as plain data."""
    remarks = list(said)
    told = {(r.code, r.at) for r in remarks}
    for i, s in enumerate(ladder.steps):
        if s.tight and not {("TIGHT", i), ("CANNOT_ERASE", i), ("START_TOO_FINE", i)} & told:
            told_ = fact("TIGHT", grade=s.rung.abrasive.name, remove_um=s.remove_um, limit_um=s.rung.d_max_um)
            remarks.append(Remark(said=told_, at=i))
    if ladder.edges_kept_out:
        remarks.append(Remark(said=fact("EDGES", grade=None)))
    elif ladder.edges_from is not None and any(z.kind == "edge" for z in job.zones) and not job.edges_count:
        remarks.append(Remark(said=fact("EDGES", grade=ladder.edges_from)))
    return {
        "sequence": [
            {"grade": s.rung.abrasive.id, "d50_um": s.rung.abrasive.d50_um, "remove_um": s.remove_um,
             "scratch_um": s.rung.rz_um, "minutes": s.minutes, "pieces": s.pieces, "film_left_um": s.film_left_um,
             "odds": {name: odds_class(p) for name, p in s.odds.items()}, "strokes": s.strokes,
             "gloss20": s.gu20, "gloss60": s.gu60, "gloss60_band": list(s.band.gu60), "sheen": s.sheen,
             "why": say(s.why), "look_for": say(s.look_for)} for s in ladder.steps
        ],
        "total_um": ladder.film_used_um,
        "minutes": ladder.minutes,
        "odds": {name: {"odds": p, "class": odds_class(p)} for name, p in ladder.odds.items()},
        "caps_um": ladder.caps_um,
        "gloss60": ladder.steps[-1].gu60,
        "verdict": ladder.verdict.word,
        "kept_off": {
            n: None if k is None else ladder.rungs[k].abrasive.id for n, k in ladder.verdict.joins.items() if k != 0
        },
        "measure": list(ladder.verdict.measure),
        "short": list(ladder.verdict.short),
        "reason": say(ladder.reason),
        "remarks": [_remark(r) for r in remarks],
        "changes": [
            {"grade": c.rung.abrasive.id, "used": c.used, "minutes": c.minutes, "film_um": c.film_um,
             "needed": say(c.needed)} for c in changes(job, ladder, drawer)
        ],
    }  # fmt: skip


def _remark(remark: Remark) -> dict[str, Any]:
    return {"code": remark.code, "text": sentence(remark.said), "at": remark.at}


def _refused(reason: str, remarks: Sequence[Remark] = ()) -> dict[str, Any]:
    return {
        "sequence": [], "total_um": None, "minutes": None, "odds": {}, "gloss60": None, "verdict": "refused",
        "reason": reason, "remarks": [_remark(r) for r in remarks],
    }  # fmt: skip
