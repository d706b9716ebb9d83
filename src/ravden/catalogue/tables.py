"""Reads the shipped tables, and a user's own, into records; a fault names the file, the line and the field.

What the first paint does not need (abrasives, backings) is imported and read when it is first asked for.
"""

from __future__ import annotations

import csv
import functools
from collections.abc import Iterator, Mapping
from typing import TYPE_CHECKING, Any, TypeVar

import msgspec
from msgspec import Struct
from msgspec.structs import asdict, replace

from ravden.catalogue.reading import convert, read_csv, read_toml, text_of
from ravden.catalogue.shipped_files import DATA
from ravden.core.errors import InputError, need
from ravden.core.method.steps import Method, ZoneFinish
from ravden.core.record import CureModel, Material

if TYPE_CHECKING:
    from ravden.catalogue.booth_tables import BoothTables
    from ravden.core.abrasive.grades import Abrasive
    from ravden.core.abrasive.prep import PrepHabit
    from ravden.core.abrasive.scratch import Backing
    from ravden.core.abrasive.scuff import ScuffHabit
    from ravden.core.film.wetcoat import Flow
    from ravden.core.instrument.zones import ZoneHabit
    from ravden.core.method.compose import Module
    from ravden.core.method.refinish import OldFinish, Over

T = TypeVar("T")

ABRASIVE_KINDS = {
    "foam disc": "foam", "polish": "polish", "wool": "wool", "non-woven": "wool", "cushioned cloth/pad": "cushion",
    "powder": "powder", "powder/bonded": "stone",
}  # fmt: skip
SCRATCH_OF_PAPER = {"CUSHION-CLOTH": 0.4, "GARNET": 0.85}  # [ENG] from the basis column of grades.csv
TOOLS = {"spray": "gun-low-pressure", "brush": "brush", "pad": "pad", "wipe": "cloth"}
DEFAULT_DRAWER = (
    "FEPA-P:P80", "FEPA-P:P120", "FEPA-P:P150", "FEPA-P:P180", "FEPA-P:P220", "FEPA-P:P280",
    "FEPA-P:P320", "FEPA-P:P400", "FEPA-P:P500", "FEPA-P:P600", "FEPA-P:P800", "FEPA-P:P1000", "FEPA-P:P1200",
    "FEPA-P:P1500", "FEPA-P:P2000", "FEPA-P:P2500", "FOAM-CLASS:3000", "COMPOUND:coarse (Ra 0.07)",
    "COMPOUND:medium (Ra 0.04)", "COMPOUND:fine (Ra 0.02)", "COMPOUND:ultrafine (Ra 0.008)",
)  # fmt: skip


class InstrumentKind(msgspec.Struct, forbid_unknown_fields=True, frozen=True):
    """A kind offered on the add-instrument page, with starting measurements in mm."""

    id: str
    label: str
    family: str
    length_mm: float
    upper_mm: float
    waist_mm: float
    lower_mm: float
    depth_neck_mm: float
    depth_tail_mm: float
    neck_length_mm: float
    neck_girth_mm: float
    head_cm2: float
    stations: tuple[float, float, float] = (0.19, 0.42, 0.755)
    cutaway_mm: float = 0.0
    cutaway_left_mm: float = 0.0
    arch_mm: float = 0.0
    contour_share: float = 0.0
    end_grain_share: float = 0.0


class Texture(Struct, frozen=True, kw_only=True):
    """A starting surface: peak to valley [um] and how to know it by eye."""

    id: str
    label: str
    pv_um: float
    words: str
    basis: str


class Ground(msgspec.Struct, forbid_unknown_fields=True, frozen=True):
    """What the wood absorbs of the first three coats, dry um of a lacquer and ml of any finish to a square metre, and
    how its pores are left."""

    id: str
    label: str
    first_um: float
    second_um: float
    third_um: float
    first_ml_m2: float
    second_ml_m2: float
    third_ml_m2: float
    pores: str
    basis: str


class Applicator(msgspec.Struct, forbid_unknown_fields=True, frozen=True):
    """A way of applying: the share that lands or stays on the work, with its spread; a usual wet film, and a
    usual dry film of one coat or session, in um."""

    id: str
    label: str
    way: str
    transfer: float
    transfer_low: float
    transfer_high: float
    wet_um: float
    dry_low_um: float
    dry_high_um: float
    basis: str


class Measuring(msgspec.Struct, forbid_unknown_fields=True, frozen=True):
    """Something to measure with: what it tells, and what such a thing costs, in kind."""

    id: str
    label: str
    buys: str
    costs: str
    basis: str


class Family(msgspec.Struct, forbid_unknown_fields=True, frozen=True):
    """A row of the table of finishes; a 0 in eta_Pa_s: how it flows is not known, so no wet window is told."""

    id: str
    label: str
    solids: float
    solids_low: float
    solids_high: float
    liquid_g_ml: float
    dry_g_ml: float
    mass_solids: float
    dry_low_um: float
    dry_high_um: float
    min_um: float
    usual_low_um: float
    usual_high_um: float
    max_um: float
    dissolving: bool
    eta_Pa_s: float
    rise: float
    loss_um_s: float
    no_flow: float
    tension_N_m: float
    flat_um: float
    flight_loss: float
    nature: str
    basis: str

    @property
    def flow(self) -> Flow | None:
        """The record the wet window is computed from; None where it is not known."""
        if self.eta_Pa_s <= 0:
            return None
        from ravden.core.film.wetcoat import Flow

        return Flow(
            solids=self.solids, eta_Pa_s=self.eta_Pa_s, rise=self.rise, loss_um_s=self.loss_um_s, no_flow=self.no_flow,
            tension_N_m=self.tension_N_m, density_kg_m3=1000 * self.liquid_g_ml, flat_um=self.flat_um,
            flight_loss=self.flight_loss, water=self.nature == "water", gels=self.nature == "gel",
            blushes=self.nature == "solvent",
        )  # fmt: skip


class ShippedMethods(Mapping[str, Method]):
    """The methods that come with the program, a file each, read when it is first asked for: the first paint needs none
    but those in use."""

    def __init__(self) -> None:
        self._files = {f.stem: f for f in sorted(DATA.joinpath("methods").glob("*.toml"))}
        self._read: dict[str, Method] = {}

    def __getitem__(self, method_id: str) -> Method:
        if method_id not in self._read:
            entry = self._files[method_id]
            self._read[method_id] = read_method(entry.read_text(encoding="utf-8"), entry.name)
        return self._read[method_id]

    def parts(self, method_id: str) -> tuple[ZoneFinish, ...]:
        """Its parts in another finish. Only a file that speaks of any is taken apart: the first paint asks this."""
        if method_id not in self._files or "[[zone]]" not in self._files[method_id].read_text(encoding="utf-8"):
            return ()
        return self[method_id].zone

    def __iter__(self) -> Iterator[str]:
        return iter(self._files)

    def __len__(self) -> int:
        return len(self._files)


class Catalogue(Struct, frozen=True, kw_only=True, dict=True):
    """All tables, each read once."""

    materials: dict[str, Material]
    applied: dict[str, str]
    methods: Mapping[str, Method]
    kinds: dict[str, InstrumentKind]
    shapes: dict[str, list[list[float]]]

    @functools.cached_property
    def zone_habits(self) -> tuple[ZoneHabit, ...]:
        """How film lands on and leaves each zone."""
        from ravden.core.instrument.zones import ZoneHabit

        return read_csv(text_of("zones.csv"), ZoneHabit, "zones.csv")

    @functools.cached_property
    def grounds(self) -> dict[str, Ground]:
        """What the first coats are laid on."""
        return {g.id: g for g in read_csv(text_of("grounds.csv"), Ground, "grounds.csv")}

    def absorbed(self, ground: str) -> tuple[float, ...]:
        """Dry film that wood of this ground absorbs from its first coats [um]."""
        g = self.grounds[ground]
        lost = (g.first_um, g.second_um, g.third_um)
        return lost if any(lost) else ()

    def absorbs_ml_m2(self, ground: str) -> tuple[float, ...]:
        """Finish that wood of this ground absorbs of its first coats by brush, pad or cloth [ml/m2]."""
        g = self.grounds[ground]
        return (g.first_ml_m2, g.second_ml_m2, g.third_ml_m2)

    @functools.cached_property
    def cure_before(self) -> dict[str, CureModel]:
        """How each finish was reckoned to harden before its constants were set anew."""
        changed: dict[str, dict[str, float]] = {}
        for row in csv.DictReader(text_of("cure_before.csv").splitlines()):
            changed.setdefault(row["material"], {})[row["field"]] = float(row["value"])
        now = {m: asdict(self.materials[m].cure) for m in changed}  # type: ignore[arg-type]
        return {m: read_cure({**now[m], **fields}) for m, fields in changed.items()}

    @functools.cached_property
    def families(self) -> dict[str, Family]:
        """How each kind of finish flows, and what film it is usually built to."""
        return {f.id: f for f in read_csv(text_of("families.csv"), Family, "families.csv")}

    @functools.cached_property
    def applicators(self) -> dict[str, Applicator]:
        """Ways of applying, with the settings they start from."""
        return {a.id: a for a in read_csv(text_of("applicators.csv"), Applicator, "applicators.csv")}

    @functools.cached_property
    def abrasives(self) -> tuple[Abrasive, ...]:
        """Every grade that can be a rung."""
        return _abrasives()

    @functools.cached_property
    def backings(self) -> dict[str, Backing]:
        """What can be behind an abrasive."""
        from ravden.core.abrasive.scratch import Backing

        return {b.id: b for b in read_csv(text_of("backings.csv"), Backing, "backings.csv")}

    @functools.cached_property
    def textures(self) -> tuple[Texture, ...]:
        """Surfaces to start from."""
        return read_csv(text_of("textures.csv"), Texture, "textures.csv")

    @functools.cached_property
    def scuffs(self) -> dict[str, ScuffHabit]:
        """Why and how each chemistry is scuffed between coats."""
        from ravden.core.abrasive.scuff import ScuffHabit

        return {s.chemistry: s for s in read_csv(text_of("scuffs.csv"), ScuffHabit, "scuffs.csv")}

    @functools.cached_property
    def preps(self) -> dict[str, PrepHabit]:
        """How fine bare wood is sanded, by what comes next."""
        from ravden.core.abrasive.prep import PrepHabit

        return {p.id: p for p in read_csv(text_of("prep.csv"), PrepHabit, "prep.csv")}

    @functools.cached_property
    def modules(self) -> dict[str, Module]:
        """Ways of colouring wood, to be put into a method."""
        from ravden.core.method.compose import Module

        files = sorted(DATA.joinpath("colours").glob("*.toml"))
        raw = [(whole_steps(read_toml(f.read_text(encoding="utf-8"), f.name), f.name), f.name) for f in files]
        found = [convert(each, Module, name) for each, name in raw]
        return {m.id: m for m in found}

    @functools.cached_property
    def overs(self) -> tuple[Over, ...]:
        """What may go over what."""
        from ravden.core.method.refinish import Over

        return read_csv(text_of("over.csv"), Over, "over.csv")

    @functools.cached_property
    def old_finishes(self) -> tuple[OldFinish, ...]:
        """How old finishes are told apart."""
        from ravden.core.method.refinish import OldFinish

        return read_csv(text_of("old_finishes.csv"), OldFinish, "old_finishes.csv")

    @functools.cached_property
    def defects(self) -> dict[str, tuple[str, str]]:
        """What can go wrong: its name, and what to do now."""
        return {row["id"]: (row["label"], row["now"]) for row in csv.DictReader(text_of("defects.csv").splitlines())}

    @functools.cached_property
    def booth(self) -> BoothTables:
        """What the Booth goes by: passes, cares, light, pots, faces, checks, patterns, cleaning up."""
        from ravden.catalogue.booth_tables import BoothTables

        return BoothTables(self.applied)

    @functools.cached_property
    def film_colours(self) -> dict[str, tuple[float, float, float]]:
        """A film over wood in even light, linear red, green and blue, by family of finish: for pictures alone."""
        rows = csv.DictReader(text_of("pictures.csv").splitlines())
        return {r["family"]: (float(r["red"]), float(r["green"]), float(r["blue"])) for r in rows}

    @functools.cached_property
    def measuring(self) -> dict[str, Measuring]:
        """What film, sheen and air can be measured with."""
        return {m.id: m for m in read_csv(text_of("measuring.csv"), Measuring, "measuring.csv")}

    def tool(self, way: str) -> Applicator:
        """The applicator a way of applying starts from."""
        return self.applicators[TOOLS.get(way, "gun-low-pressure")]

    @functools.cached_property
    def cares(self) -> dict[str, dict[str, str]]:
        """How each class of finish is cared for and mended."""
        return {row["class"]: row for row in csv.DictReader(text_of("care.csv").splitlines())}

    def parts_meant(self, method_id: str) -> dict[str, str]:
        """Zones that a method means to give another finish: the material's id by zone."""
        if isinstance(self.methods, ShippedMethods):
            return {p.name: p.finish for p in self.methods.parts(method_id)}
        return {p.name: p.finish for p in self.methods[method_id].zone} if method_id in self.methods else {}

    def with_methods(self, more: dict[str, Method]) -> Catalogue:
        """The same with methods of the shop's own, which stand for shipped ones of the same id."""
        return replace(self, methods={**self.methods, **more}) if more else self

    def material(self, material_id: str) -> Material:
        if material_id not in self.materials:
            raise InputError("material", f"unknown material {material_id}; known: {', '.join(self.materials)}")
        return self.materials[material_id]

    def method(self, method_id: str) -> Method:
        if method_id not in self.methods:
            raise InputError("method", f"unknown method {method_id}; known: {', '.join(self.methods)}")
        return self.methods[method_id]

    def kind(self, kind_id: str) -> InstrumentKind:
        if kind_id not in self.kinds:
            raise InputError("kind", f"unknown kind of instrument {kind_id}")
        return self.kinds[kind_id]


@functools.cache
def shared_steps() -> dict[str, dict[str, Any]]:
    """Steps that many methods name (``use``) and may override, as raw fields by their file's name."""
    files = sorted(DATA.joinpath("steps").glob("*.toml"))
    return {f.stem: read_toml(f.read_text(encoding="utf-8"), f.name) for f in files}


def whole_steps(raw: dict[str, Any], file: str) -> dict[str, Any]:
    """A table of steps with those it only names filled in; its own fields win."""
    stages = raw.get("stage")
    if not isinstance(stages, list):
        return raw
    known, out = shared_steps(), []
    for i, stage in enumerate(stages):
        if isinstance(stage, dict) and "use" in stage:
            name, here = stage["use"], f"{file}.stage[{i}].use"
            need(isinstance(name, str) and name in known, here, f"no shared step {name}; known: {', '.join(known)}")
            out.append({**known[name], **{k: v for k, v in stage.items() if k != "use"}})
        else:
            out.append(stage)
    return {**raw, "stage": out}


def read_method(text: str, file: str) -> Method:
    """A method file."""
    return convert(whole_steps(read_toml(text, file), file), Method, file)


def read_cure(raw: Any) -> CureModel:
    """How a film hardens, from its constants; ``model`` says which way (evaporative where it does not)."""
    from ravden.core.cure.models import model_class

    if not isinstance(raw, dict):
        raise InputError("", "must be a table of constants")
    kind = model_class(str(raw.get("model", "evaporative")))
    known = set(kind.__struct_fields__)  # type: ignore[attr-defined]
    for name in raw:
        if name not in known:
            raise InputError(name, f"is not a constant of {kind.__name__}")
    return convert(raw, kind, "")


def _materials(text: str, file: str) -> tuple[dict[str, Material], dict[str, str]]:
    materials, applied = {}, {}
    words = {row["code"]: row["words"] for row in csv.DictReader(text_of("cautions.csv").splitlines())}
    for raw in read_toml(text, file).get("material", []):
        raw = dict(raw)
        where = f"{file}, material {raw.get('id', '?')}"
        applied[str(raw.get("id"))] = str(raw.pop("applied", "spray"))
        try:
            raw["cure"] = read_cure(raw.get("cure"))
        except InputError as error:
            raise error.within("cure").within(where) from None
        codes = raw.get("cautions", [])
        for code in codes:
            need(code in words, f"{where}, cautions", f"{code} is in no row of cautions.csv")
        raw |= {"caution_codes": codes, "cautions": [words[code] for code in codes]}
        material = convert(raw, Material, where)
        materials[material.id] = material
    return materials, applied


def _abrasives() -> tuple[Abrasive, ...]:
    from ravden.core.abrasive.grades import Abrasive

    polishes = {row["label"]: row for row in csv.DictReader(text_of("polishes.csv").splitlines())}
    covered = {row["label"]: row["covered"] for row in csv.DictReader(text_of("wools.csv").splitlines())}
    out = []
    for line, row in enumerate(csv.DictReader(text_of("grades.csv").splitlines()), start=2):
        kind = ABRASIVE_KINDS.get(row["kind"], "paper")
        polish = polishes.get(row["label"])
        raw: dict[str, Any] = {k: row[k] for k in ("system", "label", "d50_um", "low_um", "high_um", "basis")}
        raw["kind"] = kind
        raw["scratch"] = SCRATCH_OF_PAPER.get(row["system"], 1.0)
        raw["covered"] = covered.get(row["label"], "1")
        if polish is not None:
            raw |= {"ra_um": polish["ra_um"], "polish_k": polish["k"], "polish_max_um": polish["d_max_um"]}
        out.append(convert(raw, Abrasive, f"grades.csv, line {line}"))
    return tuple(out)


@functools.cache
def shipped() -> Catalogue:
    """The tables that come with the program."""
    materials, applied = _materials(text_of("materials.toml"), "materials.toml")
    kinds = read_toml(text_of("instruments.toml"), "instruments.toml").get("kind", [])
    return Catalogue(
        materials=materials,
        applied=applied,
        methods=ShippedMethods(),
        kinds={k["id"]: convert(k, InstrumentKind, f"instruments.toml, kind {k.get('id', '?')}") for k in kinds},
        shapes=msgspec.json.decode(text_of("outlines.json"))["outlines"],
    )
