"""A repair as steps of a plan: each operation of its recipe sized for this film, on this spot or zone."""

from collections.abc import Mapping
from dataclasses import dataclass

from msgspec.structs import replace

from ravden.core.method.steps import Stage
from ravden.core.repair import sizing
from ravden.core.repair.case import Case
from ravden.core.repair.table import MendHabit, Recipe

PATCH_LEVEL_UM = 4.0  # [A] film the ladder of a patch takes once what stood over it is off
PATCH_SHARE = 0.5  # [A] of the height of a texture that levelling it takes in the mean
RUB_UM = 1.0  # [A] film the finer grades and compounds take of a patch
POLISH_UM = 0.3  # [A] the same of a compound alone
FLAT_SHARE = 0.5  # [A] of what is there that levelling a patch takes at most
TOUCH_UM = 2.0  # [A] one touch of fine paper
MIST_SHARE = 0.3  # [A] of a usual coat: mostly thinner
DROP_SHARE = 1.15  # [A] of the depth: a drop ends a little higher than the film
LEAST_COAT_UM = 0.05
ON_ALL = ("overall", "mist")
SANDED = ("touch", "cut", "cut-back", "flat")  # on a spot, what leaves it dull and flat
NEXT_DAY_H = 16.0  # [A] before a flatted top that was sanded is scuffed and coated


@dataclass(frozen=True, slots=True, kw_only=True)
class Steps:
    """A repair's steps; later: with the next levelling; taken_um: film they take off the zone; skill: 1 to 3; overshot:
    odds of cutting into sound film, None where nothing is cut back; cautions: by code."""

    steps: tuple[Stage, ...]
    later: bool
    taken_um: float
    skill: int
    overshot: float | None
    cautions: tuple[str, ...]


def steps_of(recipe: Recipe, case: Case, mends: Mapping[str, MendHabit]) -> Steps:
    """The recipe worked out. Steps that this film does not want (rubbing a film that is not rubbed, polishing a flatted
    one, coats that are to come anyhow) are left out."""
    maker = _Maker(case, mends)
    maker.then_all_over = "overall" in recipe.operations
    maker.only_coats = recipe.operations == ("overall",)
    ops = recipe.operations
    for i, op in enumerate(ops):
        follows = next((o for o in ops[i + 1 :] if o not in ("wait-scuff", "scuff")), "")
        maker.whole = op in ("wait-scuff", "scuff") and follows in ON_ALL
        maker.add(op)
    maker.flatted_again()
    used = [mends[s.op] for s in maker.steps]
    return Steps(
        steps=tuple(maker.steps), later=recipe.later, taken_um=maker.taken_um,
        skill=max((m.skill for m in used), default=1), overshot=maker.overshot,
        cautions=tuple(dict.fromkeys(m.caution for m in used if m.caution)),
    )  # fmt: skip


class _Maker:
    def __init__(self, case: Case, mends: Mapping[str, MendHabit]) -> None:
        self.case, self.mends = case, mends
        self.steps: list[Stage] = []
        self.taken_um = 0.0
        self.overshot: float | None = None
        self.then_all_over = False  # whether coats all over follow the local ones
        self.only_coats = False  # whether coats are all the repair there is
        # Film on the patch as the repair leaves it so far: what there is not, nobody can take.
        own, name = (
            (case.there.ledger, case.there.zone.name) if case.spread == "spot" else (case.found.ledger, case.zone.name)
        )
        self.left_um = own.mean_um(name)
        self.whole = False  # whether the operation is done to all of it, for the sake of coats all over

    def add(self, op: str) -> None:
        """One operation more."""
        case = self.case
        if op == "rub?":
            # Up to the sheen again only where the rest is there already, and never on a flatted film.
            if case.stage in "lf" and case.gloss and self._rubbed():
                self._put("rub", um=self._take(min(RUB_UM, 0.2 * self.left_um)))
            return
        if op == "polish" and not case.gloss:
            return
        if op == "colour" and not (case.through or case.mishap.colour or case.mishap.what == "blotch"):
            return  # there is film over the colour: it was not touched
        if op == "colour" and case.mishap.what != "blotch" and sizing.tint_of(case) is not None:
            op = "tint"  # the colour is in the film and not in the wood
        count = self._count(op)
        um = self._um(op)
        kind = self.mends[op].kind
        if kind == "coats" and count == 0:
            return
        if op == "overall" and self._top():
            # What is under the last of them is gloss: every flatted coat more is a greyer one.
            if count > 1:
                self._put(op, um=um, count=count - 1, glossy=True)
            count = 1
        if kind == "coats" and um is not None:
            self.left_um += count * um * (1.0 if op == "drop" else case.zone.k_mean)
        self._put(op, um=um, count=count)

    def flatted_again(self) -> None:
        """A flatted top is never left with a sanded patch in it, which shows from every side: the next day it is
        scuffed all over and gets one flatted coat more. Coats still to come do that by themselves."""
        case = self.case
        sanded = [s.op for s in self.steps if s.op in SANDED or s.op in ON_ALL]
        if case.gloss or case.stage == "b" or not sanded or sanded[-1] in ON_ALL:
            return
        self.whole = True
        self.add("wait-scuff")
        self.steps[-1] = replace(self.steps[-1], rest_h=NEXT_DAY_H)
        self.add("scuff")
        self._put("overall", um=sizing.coat_um(case), count=1)

    def _top(self) -> str:
        """The flatted finish on top of it; empty: its own."""
        project = self.case.found.project
        laid = [c.finish for c in project.coats if not c.spot and c.covers(self.case.zone.name)]
        flatted = bool(laid) and laid[-1] in project.layers and project.layers[laid[-1]].flatted
        return laid[-1] if flatted else ""

    def _rubbed(self) -> bool:
        return any(s.kind == "rub-out" and not s.mends for s in self.case.found.method.stage)

    def _um(self, op: str) -> float | None:
        case = self.case
        if op == "cut":
            return self._take(max(case.height_um, 0.3), spot_only=case.mishap.what in ("run", "build-up"))
        if op == "cut-back":
            cut = sizing.cut_back(case)
            self.overshot = cut.odds_over
            return self._take(cut.um)
        if op == "strip":
            gone, self.left_um = max(case.film_um, LEAST_COAT_UM), 0.0
            self.taken_um += gone
            return gone
        if op == "flat":
            return self._take(self._flat_um())
        if op in ("touch", "scuff"):
            return self._take(min(TOUCH_UM, max(0.2 * case.film_um, 0.05)))
        if op == "polish":
            return self._take(POLISH_UM)
        if op == "mist":
            return max(MIST_SHARE * sizing.coat_um(case), LEAST_COAT_UM)
        if op == "wash":
            soft = case.height_um if case.kind.ask == "height" else sizing.cut_back(case).um
            return self._take(max(soft, 0.3), spot_only=case.mishap.what in ("run", "build-up"))
        if op == "drop":
            # The depth shared among the drops, each of which can harden by itself.
            return max(self._deep() * DROP_SHARE / self._count(op), LEAST_COAT_UM)
        if op == "tint":
            tint = sizing.tint_of(case)
            return None if tint is None else tint.dry_um
        if op in ("local", "overall", "rebuild"):
            return sizing.coat_um(case)
        return None

    def _flat_um(self) -> float:
        """What levelling the patch takes: waves in part, a pit down to its ground, what was cut flat already little."""
        case = self.case
        cut_before = any(s.op in ("cut", "cut-back") for s in self.steps)
        if cut_before or case.kind.ask in ("through", "spread"):
            um = PATCH_LEVEL_UM
        elif case.kind.ask == "height":
            um = max(PATCH_SHARE * case.height_um, PATCH_LEVEL_UM)
        else:
            um = max(sizing.DEEPER * (case.depth_um or PATCH_LEVEL_UM), 0.5)
        return min(um, max(FLAT_SHARE * self.left_um, LEAST_COAT_UM))

    def _take(self, um: float, *, spot_only: bool = False) -> float | None:
        """So much off the patch, as far as it is there; None: there is nothing to take, and the hands only feather."""
        taken = min(um, self.left_um - LEAST_COAT_UM)
        if taken < LEAST_COAT_UM:
            return None
        self.left_um -= taken
        self.taken_um += 0.0 if spot_only else taken
        return taken

    def _deep(self) -> float:
        case = self.case
        depth = case.there.before_um if case.depth_um is None else case.depth_um
        return max(min(depth, max(case.there.before_um, 1.0)), 1.0)

    def _count(self, op: str) -> int:
        case = self.case
        if op == "local":
            more = sizing.coat_um(case) * sizing.overall_coats(case, self.taken_um) if self.then_all_over else 0.0
            return sizing.local_coats(case, more)
        if op == "rebuild":
            return sizing.rebuild_coats(case)
        if op == "overall":
            return max(sizing.overall_coats(case, self.taken_um), 1 if self.only_coats else 0)
        if op == "drop":
            usual = max(sizing.coat_um(case) * 2.0, 1.0)
            return min(max(round(self._deep() * DROP_SHARE / usual), 1), 8)
        return 1 if op in ("mist", "tint") else 0

    def _put(self, op: str, *, um: float | None = None, count: int = 0, glossy: bool = False) -> None:
        case, habit = self.case, self.mends[op]
        patch, spot = self._where(op)
        label = f"{habit.label}, {case.zone.label.lower()}" if patch else habit.label
        finish = ""
        if patch and patch in case.found.project.finishes and habit.kind == "coats":
            finish = case.found.project.finishes[patch].id
        if op == "overall" and not glossy:
            finish = self._top()
        stage = {
            "kind": habit.kind, "label": label, "how": habit.how, "hours": habit.hours, "um": um,
            "mends": case.mishap.id, "patch": patch, "spot": spot, "op": op,
            "id": f"mend-{case.mishap.id}-{len(self.steps)}-{op}", "finish": finish,
        }  # fmt: skip
        if um is not None and patch:
            # An entry speaks of the flats, and of the nominal coat: the zone itself gets and loses its share of it.
            share = case.zone.k_mean if habit.kind == "coats" and op == "drop" else case.zone.sanding
            stage["um"] = um if op in ("local", "rebuild", "tint") else um / max(share, 0.05)
        if op == "tint" and (tint := sizing.tint_of(case)) is not None:
            stage |= {"tinted": tint.tinted, "finish": tint.finish}
        if habit.kind == "wait":
            stage |= {"window": op.removeprefix("wait-"), "hours": 0.0, "um": None}
        elif habit.kind == "coats":
            usual = self._usual()
            stage |= {
                "count": count, "per_session": usual.per_session if usual is not None else 3,
                "between_h": usual.between_h if usual is not None else 2.0,
            }  # fmt: skip
        else:
            stage |= {"rest_h": habit.rest_h}
        if habit.kind in ("mend", "colour", "prepare"):
            stage |= {"um": None}
        elif habit.kind in ("level", "scuff", "rub-out") and um is None:
            stage |= {"kind": "mend"}
        self.steps.append(Stage(**stage))  # type: ignore[arg-type]

    def _usual(self) -> Stage | None:
        coats = [s for s in self.case.found.method.stage if s.kind == "coats" and not (s.patch or s.finish)]
        return coats[-1] if coats else None

    def _where(self, op: str) -> tuple[str, bool]:
        """On which zone alone, and whether only on the spot."""
        case = self.case
        if op in ON_ALL or self.whole or case.spread == "all":
            return "", False
        if op in ("rebuild", "strip") or any(s.bares for s in self.steps):
            return case.zone.name, False
        return case.zone.name, case.spread == "spot"
