"""A method as data, and how far along it a project is."""

import math
from collections.abc import Collection, Sequence

from msgspec import Struct
from msgspec.structs import replace

from ravden.core.errors import need, need_above, need_in
from ravden.core.record import TINTS, Act, Coat, Material, Sanding, StepDone

WORK_KINDS = (
    "prepare",
    "colour",
    "pores",
    "mask",
    "finish",
    "mend",
)  # done by hand, with no film of the finish on or off
STAGE_KINDS = (*WORK_KINDS, "coats", "wait", "scuff", "level", "rub-out")
SESSION_H = 8.0  # [A] a coat so long after the last belongs to another session
SCUFF_UM = 2.0  # [ENG] mean film a scuff takes
SEAL_TIMES = 3.0  # [A] as thick as a seal from which a coat is the thick one
FLOW_SHARE, LEAST_TEXTURE_UM = 0.35, 3.0  # [A] of a texture under a coat laid to flow out; the least there is
WAITS = ("scuff", "level", "buff", "case")
PAPER_MODES = ("", "wet", "dry")
WAYS = ("", "spray", "brush", "pad", "wipe")


class Stage(Struct, frozen=True, kw_only=True, omit_defaults=True):
    """One stage: work by hand (hours, then rest_h before the next), coats (count, per_session, between_h, of another
    finish where it says so), a wait for a window, a scuff, levelling or rubbing out (um).

    how: what to do, with what and how much; inspect: what to see before going on; wrong: what usually goes wrong;
    hours: hands on the work, for coats of each coat; rest_h: before the next step, for a wait since the last coat: no
    sooner by habit, whatever the film says; next: for paper on wood, what comes next, and school: how fine;
    zones: only these, in another finish than the body: a track of its own, beside the body's; by: spray, brush, pad or
    wipe, where it is not the usual way of its finish; id: what it was called before it was given another name, empty
    where it never was.

    mends: the number of what went wrong, where the step puts that right; patch: the zone it is on alone, in the finish
    that zone has; spot: and only on the spot of it; op: which operation of a repair it is; takes: how many times longer
    hands are at it in this shop, as it was learnt: worked out, and no part of any plan that is kept; flow: coats laid
    to flow out; grades: ids of the papers it is done with, in order, whatever the texture; tinted: coats with colour in
    them, clear or opaque; mode: a level or a rub-out wet or dry, empty: as is usual.
    """

    kind: str
    label: str
    how: str = ""
    inspect: str = ""
    wrong: str = ""
    hours: float = 0.0
    rest_h: float = 0.0
    finish: str = ""
    zones: tuple[str, ...] = ()
    next: str = ""
    school: str = ""
    count: int = 0
    per_session: int = 0
    between_h: float = 0.0
    window: str = ""
    um: float | None = None
    by: str = ""
    id: str = ""
    mends: int = 0
    patch: str = ""
    spot: bool = False
    op: str = ""
    takes: float = 1.0
    flow: bool = False
    grades: tuple[str, ...] = ()
    tinted: str = ""
    mode: str = ""

    @property
    def hands_h(self) -> float:
        """Hours of hands here; for coats of each coat."""
        return self.hours * self.takes

    @property
    def bares(self) -> bool:
        """Whether it takes all of the film off."""
        return self.op == "strip"

    @property
    def key(self) -> str:
        """By what the record knows it: its name when it was written, whatever it is called by now."""
        return self.id or self.label

    def __post_init__(self) -> None:
        need(self.by in WAYS, "by", f"must be spray, brush, pad or wipe (got {self.by})")
        need(self.kind in STAGE_KINDS, "kind", f"must be one of {', '.join(STAGE_KINDS)} (got {self.kind})")
        if self.kind == "coats":
            need(1 <= self.count <= 500, "count", f"must be between 1 and 500 (got {self.count})")
            need(1 <= self.per_session <= 50, "per_session", f"must be between 1 and 50 (got {self.per_session})")
            need_in(self.between_h, 0.05, 24 * 30, "between_h", "h")
        need(self.label.strip() != "", "label", "give the step a name")
        need_in(self.hours, 0, 1000, "hours", "h")
        need_in(self.rest_h, 0, 24 * 90, "rest_h", "h")
        need(self.school in ("", "coarse", "fine"), "school", f"must be coarse or fine (got {self.school})")
        if self.kind in WORK_KINDS:
            need(self.hours > 0, "hours", "say how long the hands are on it")
        if self.kind == "wait":
            need(self.window in WAITS, "window", f"must be one of {', '.join(WAITS)} (got {self.window})")
        if self.um is not None:
            need_above(self.um, 0, "um", 1000)
        need(not self.flow or self.kind == "coats", "flow", "only a coat can flow out")
        need(self.tinted in TINTS, "tinted", f"must be clear or opaque (got {self.tinted})")
        need(not self.tinted or self.kind == "coats", "tinted", "only coats can be tinted")
        need(self.mode in PAPER_MODES, "mode", f"must be wet or dry (got {self.mode})")
        need(not self.mode or self.kind in ("level", "rub-out"), "mode", "only a level or a rub-out is wet or dry")
        need(not self.grades or self.kind in ("level", "rub-out"), "grades", "only a level or a rub-out has grades")
        if self.zones:
            need(self.kind in ("coats", "wait"), "zones", "only coats and waits can be for some zones alone")
            need(
                self.kind == "wait" or self.finish != "",
                "finish",
                "coats on some zones alone need a finish of their own",
            )
            need(not self.patch, "patch", "a zone in another finish is mended with its own steps")
        need(not (self.spot and not self.patch), "spot", "say on which zone the spot is")


def texture_at(method: "Method", at: int) -> float:
    """The texture a sanding of a method meets, peak to valley [um]. at: its stage.

    .. math:: T = T_0 \\min(1, \\sqrt{n / n_0})\\,f

    before the first level the method's own T0; later n: coats since the last level, n0: those before the first, f: .35
    where the last of them was laid to flow out; never below 3 um; with no coats since, as the level before met it. Peel
    of one coat and of another add as independent waves do [C]; the share of a flow coat is [A].
    """
    stages = method.stage
    before = [i for i in range(at) if stages[i].kind in ("level", "rub-out") and not stages[i].patch]
    if not before:
        return method.texture_um
    coats = [i for i, s in enumerate(stages) if s.kind == "coats" and not (s.zones or s.patch)]
    since = [i for i in coats if before[-1] < i < at]
    if not since:
        return texture_at(method, before[-1])
    first = sum(stages[i].count for i in coats if i < before[0])
    share = math.sqrt(sum(stages[i].count for i in since) / max(first, 1))
    flown = FLOW_SHARE if stages[since[-1]].flow else 1.0
    return max(method.texture_um * min(1.0, share) * flown, min(LEAST_TEXTURE_UM, method.texture_um))


def textures_met(method: "Method") -> tuple[float, ...]:
    """The texture [um] of every round of coats that is levelled, in the order of the method; its own where none is."""
    out: list[float] = []
    coated = True
    for i, stage in enumerate(method.stage):
        if stage.kind == "coats" and not (stage.zones or stage.patch):
            coated = True
        elif stage.kind in ("level", "rub-out") and not stage.patch and coated:
            out.append(texture_at(method, i))
            coated = False
    return tuple(out) or (method.texture_um,)


def spacing(stage: Stage | None, count: int) -> tuple[float, ...]:
    """How long before the last of so many coats each of the others was laid, by the rhythm of their step [h]: so many a
    session, the sessions a day apart; a coat a day where no step says.

    >>> spacing(Stage(kind="coats", label="Coats", count=9, per_session=3, between_h=1.5), 4)
    (24.0, 3.0, 1.5)
    """
    per, between = (1, 24.0) if stage is None else (stage.per_session, stage.between_h)
    session_h = 24.0 * max(math.ceil(per * between / 24.0), 1)
    return tuple((i // per) * session_h + (i % per) * between for i in range(count - 1, 0, -1))


def as_told(stage: Stage) -> Stage:
    """A step without what was learnt of it."""
    return stage if stage.takes == 1.0 else replace(stage, takes=1.0)


def hours_of(stage: Stage) -> str:
    """Which steps are reckoned alike in hours: coats by how they are laid, the rest by what they are."""
    return stage.by or "coats" if stage.kind == "coats" else stage.kind


class ZoneFinish(Struct, frozen=True, kw_only=True):
    """A part meant to get another finish than the rest: the zone's name, and the material's id."""

    name: str
    finish: str


class Method(Struct, frozen=True, kw_only=True):
    """A way of finishing, stage by stage; texture_um: peak to valley expected before levelling.

    why: what speaks for it, against: what speaks against it; looks: what it feels and looks like; skill: 1 a first
    time, 2 some practice, 3 a practised hand; for_families: bodies it suits, empty for all; zone: parts in another
    finish, where nobody says otherwise; min_film_um: the least film an instrument starts from, where it is not the
    material's; ready_days: how long it usually takes at 20 C and half humidity, from bare wood to the case, where it is
    told; least_coats: of its own, however thin the film may be, 0: six in ten of what it has; brings: grades it is done
    with, whatever else the drawer holds.
    """

    id: str
    label: str
    material: str
    why: str
    texture_um: float
    stage: tuple[Stage, ...]
    basis: str = ""
    skill: int = 2
    looks: str = ""
    against: str = ""
    for_families: tuple[str, ...] = ()
    zone: tuple[ZoneFinish, ...] = ()
    min_film_um: float | None = None
    ready_days: tuple[float, float] | None = None
    least_coats: int = 0
    brings: tuple[str, ...] = ()

    def __post_init__(self) -> None:
        need(0 <= self.least_coats <= 200, "least_coats", "must be from none to 200")
        need_in(self.min_film_um or 0.0, 0, 5000, "min_film_um", "um")
        if self.ready_days is not None:
            low, high = self.ready_days
            need(0 < low <= high <= 1000, "ready_days", "must be two numbers of days, the shorter first")
        need(1 <= self.skill <= 3, "skill", f"must be 1, 2 or 3 (got {self.skill})")
        need(len(self.stage) <= 500, "stage", "a method has at most 500 steps")
        need(len(self.stage) > 0, "stage", "a method needs at least one stage")
        need_above(self.texture_um, 0, "texture_um", 500)

    def least_um(self, material: Material) -> float:
        """The least film an instrument starts from [um]."""
        return material.min_film_um if self.min_film_um is None else self.min_film_um

    @property
    def coats(self) -> int:
        """Coats of the method's own finish on the whole of it."""
        return sum(s.count for s in self.stage if not s.finish and not s.patch)

    @property
    def finishes(self) -> tuple[str, ...]:
        """Other finishes it lays under or over its own."""
        return tuple(dict.fromkeys(s.finish for s in self.stage if s.finish))


class Progress(Struct, frozen=True, kw_only=True):
    """Where a project stands: the stage it is in (len(stages) when done), coats done in it, and coats done in all;
    zone_coats: coats laid of each finish that only some zones get."""

    index: int
    coats_in_stage: int
    coats_done: int
    in_session: int
    last_coat_h: float | None
    zone_coats: tuple[tuple[str, int], ...] = ()


def progress(method: Method, acts: Sequence[Act], now_h: float, body: Collection[str] = ()) -> Progress:
    """Walk what happened along the method. What happened wins: a coat passes over the work before it that nobody
    logged, and a coat laid during a wait starts that wait again. A coat on some zones alone is none of the plan until
    every zone of the body (by name) has had one since the last whole coat. Zones in another finish are counted beside
    it."""
    index, in_stage, done, in_session = 0, 0, 0, 0
    last: float | None = None
    touched: set[str] = set()
    main = [i for i, s in enumerate(method.stage) if not s.zones]
    stages = [method.stage[i] for i in main]
    beside = {s.finish: 0 for s in method.stage if s.zones and s.finish}
    for act in sorted(acts, key=lambda a: a.at_h):
        if act.at_h > now_h:
            break
        if isinstance(act, Coat | Sanding) and act.mends and (act.spot or act.zones is not None):
            reached = _local(stages, index, act)
            if reached is None and isinstance(act, Coat) and not act.spot:
                index = _back_to_wait(stages, index)
            elif reached is not None and isinstance(act, Sanding):
                index, in_stage = (reached, in_stage) if act.part else (reached + 1, 0)
            elif reached is not None and isinstance(act, Coat):
                in_stage = (in_stage if reached == index else 0) + act.whole_count
                index, last, in_session = reached, act.at_h, in_session + 1 if last == act.at_h else 1
                if in_stage >= stages[index].count:
                    index, in_stage = index + 1, 0
            continue
        if isinstance(act, Coat):
            if act.finish in beside and act.zones is not None:
                beside[act.finish] += act.whole_count
                continue
            later = last is not None and act.at_h - last >= SESSION_H
            at = _coats_ahead(stages, index, act.finish, later)
            if at is None and act.finish:
                continue  # a layer that is no part of the method
            touched |= set(act.zones or body)
            if act.zones is not None and not (body and touched >= set(body)):
                index = _back_to_wait(stages, index) if at is None else index
                continue
            touched = set()
            for at_h in act.hours:
                # Several told at once are laid one after the other, as they would be if each had been told by itself.
                later = later or (last is not None and at_h - last >= SESSION_H)
                at = _coats_ahead(stages, index, act.finish, later)
                if at is None:
                    index = _back_to_wait(stages, index)
                elif _one_seal_more(stages, at, 0 if at != index else in_stage, act):
                    index = at
                else:
                    index, in_stage = at, (in_stage if at == index else 0) + 1
                    if in_stage >= stages[index].count:
                        index, in_stage = index + 1, 0
                between = stages[index].between_h if index < len(stages) and stages[index].between_h else 6.0
                in_session = in_session + 1 if last is not None and at_h - last < max(8.0, 1.5 * between) else 1
                done += 0 if act.finish else 1
                last, later = at_h, False
        elif isinstance(act, Sanding) and not act.part:
            if act.purpose == "scuff" and not _scuff_due(stages, index):
                continue
            reached = _first(stages, index, act.purpose)
            if reached is not None:
                index, in_stage = reached + 1, 0
        elif isinstance(act, StepDone):
            reached = next((i for i in range(index, len(stages)) if stages[i].key == act.step), None)
            if reached is not None:
                index, in_stage = reached + 1, 0
    return Progress(
        index=main[index] if index < len(main) else len(method.stage), coats_in_stage=in_stage, coats_done=done,
        in_session=in_session, last_coat_h=last, zone_coats=tuple(beside.items()),
    )  # fmt: skip


def left(method: Method, done: Progress) -> list[tuple[int, Stage]]:
    """What is left of a method, each stage with its place in it; a stage of coats under way is cut to what is left."""
    out = []
    laid = dict(done.zone_coats)
    for i, stage in enumerate(method.stage):
        if stage.zones and stage.kind == "coats":
            had = min(laid.get(stage.finish, 0), stage.count)
            laid[stage.finish] = laid.get(stage.finish, 0) - had
            if had < stage.count:
                out.append((i, replace(stage, count=stage.count - had)))
        elif i == done.index and stage.kind == "coats":
            out.append((i, replace(stage, count=max(stage.count - done.coats_in_stage, 1))))
        elif i >= done.index:
            out.append((i, stage))
    return out


def _coats_ahead(stages: Sequence[Stage], start: int, finish: str, later: bool) -> int | None:
    """The stage of coats of a finish that one is in, or that only work and scuffs stand before; waits too, where the
    coat cannot be one more of those waited for: it is another finish, or in a later session a wait for a scuff."""
    before = next((s.finish for s in reversed(stages[:start]) if s.kind == "coats"), finish)
    for i in range(start, len(stages)):
        stage = stages[i]
        if stage.patch:
            continue  # what is done to all of it does for the patch too
        if stage.kind == "coats" and stage.finish == finish:
            return i
        waited = stage.kind == "wait" and (before != finish or (later and stage.window == "scuff"))
        if stage.kind not in (*WORK_KINDS, "scuff") and not waited and not (stage.kind == "coats" and i == start):
            return None
    return None


def _one_seal_more(stages: Sequence[Stage], at: int, in_stage: int, coat: Coat) -> bool:
    """Whether a coat before a thick one is another of the thin ones before it: the thick one is still to come."""
    before = next((s for s in reversed(stages[:at]) if s.kind == "coats" and s.finish == coat.finish), None)
    thick = stages[at].um
    if in_stage or before is None or before.um is None or thick is None or thick < SEAL_TIMES * before.um:
        return False
    return coat.dry_um < math.sqrt(before.um * thick)


def _first(stages: Sequence[Stage], start: int, kind: str) -> int | None:
    """The next stage of a kind with nothing but waits and work before it."""
    for i in range(start, len(stages)):
        if stages[i].patch:
            continue
        if stages[i].kind == kind:
            return i
        if stages[i].kind not in ("wait", *WORK_KINDS):
            return None
    return None


def _scuff_due(stages: Sequence[Stage], start: int) -> bool:
    """Whether a scuff is next, or only the wait for it stands before it: between coats the method names none."""
    for stage in stages[start:]:
        if stage.kind == "scuff":
            return not stage.patch
        if not stage.patch and not (stage.kind == "wait" and stage.window == "scuff"):
            return False
    return False


def _local(stages: Sequence[Stage], start: int, act: Coat | Sanding) -> int | None:
    """The step of a repair that an act on its patch belongs to: the first to come of that repair and kind."""
    kind = "coats" if isinstance(act, Coat) else act.purpose
    for i in range(start, len(stages)):
        if stages[i].mends == act.mends and stages[i].patch and stages[i].kind == kind:
            return i
    return None


def _back_to_wait(stages: Sequence[Stage], index: int) -> int:
    for i in range(min(index, len(stages) - 1), -1, -1):
        if stages[i].kind == "coats":
            return i + 1
    return index
