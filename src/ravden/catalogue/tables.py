"""All shipped tables in one catalogue; a fault names the file, the line and the field.

What the first paint does not need (abrasives, backings) is imported and read when it is first asked for.
"""

from __future__ import annotations

import csv
import functools
from collections.abc import Mapping
from typing import TYPE_CHECKING

import msgspec
from msgspec import Struct
from msgspec.structs import asdict, replace

from ravden.catalogue.material_tables import read_cure, read_materials
from ravden.catalogue.method_tables import ShippedMethods, whole_steps
from ravden.catalogue.reading import convert, read_csv, read_toml, text_of
from ravden.catalogue.rows import Applicator, Family, Ground, InstrumentKind, Look, Measuring, Texture
from ravden.catalogue.shipped_files import DATA
from ravden.core.errors import InputError
from ravden.core.method.steps import Method
from ravden.core.record import CureModel, Material

if TYPE_CHECKING:
    from ravden.catalogue.booth_tables import BoothTables
    from ravden.core.abrasive.grades import Abrasive
    from ravden.core.abrasive.prep import PrepHabit
    from ravden.core.abrasive.scratch import Backing
    from ravden.core.abrasive.scuff import ScuffHabit
    from ravden.core.instrument.zones import ZoneHabit
    from ravden.core.method.compose import Module
    from ravden.core.method.refinish import OldFinish, Over
    from ravden.core.repair.table import Tables

TOOLS = {"spray": "gun-low-pressure", "brush": "brush", "pad": "pad", "wipe": "cloth"}
DEFAULT_DRAWER = (
    "FEPA-P:P80", "FEPA-P:P120", "FEPA-P:P150", "FEPA-P:P180", "FEPA-P:P220", "FEPA-P:P280",
    "FEPA-P:P320", "FEPA-P:P400", "FEPA-P:P500", "FEPA-P:P600", "FEPA-P:P800", "FEPA-P:P1000", "FEPA-P:P1200",
    "FEPA-P:P1500", "FEPA-P:P2000", "FEPA-P:P2500", "FOAM-CLASS:3000", "COMPOUND:coarse (Ra 0.07)",
    "COMPOUND:medium (Ra 0.04)", "COMPOUND:fine (Ra 0.02)", "COMPOUND:ultrafine (Ra 0.008)",
    "STEEL-WOOL:#0000 (fibre 25 um)", "SYN-WOOL:synthetic #0000",
)  # fmt: skip


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
    def zone_labels(self) -> dict[str, str]:
        """What each zone is called: without the outlines, which the first paint does without."""
        return {row["name"]: row["label"] for row in csv.DictReader(text_of("zones.csv").splitlines())}

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
        from ravden.catalogue.abrasive_tables import abrasives

        return abrasives()

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
    def repairs(self) -> Tables:
        """What goes wrong, and the operations and repairs that put it right."""
        from ravden.catalogue.repair_tables import repair_tables

        return repair_tables()

    @functools.cached_property
    def mend_cautions(self) -> dict[str, str]:
        """What each operation of a repair can do to who does it, by code."""
        return {row["code"]: row["words"] for row in csv.DictReader(text_of("mend_cautions.csv").splitlines())}

    @functools.cached_property
    def booth(self) -> BoothTables:
        """What the Booth goes by: passes, cares, light, pots, faces, checks, patterns, cleaning up."""
        from ravden.catalogue.booth_tables import BoothTables

        return BoothTables(self.applied)

    @functools.cached_property
    def film_colours(self) -> dict[tuple[str, str], tuple[float, float, float]]:
        """A film over wood in even light, linear red, green and blue, by family of finish and wood: for pictures."""
        rows = csv.DictReader(text_of("pictures.csv").splitlines())
        return {(r["family"], r["wood"]): (float(r["red"]), float(r["green"]), float(r["blue"])) for r in rows}

    @functools.cached_property
    def looks(self) -> dict[str, Look]:
        """What goes wrong, as it looks."""
        return {look.id: look for look in read_csv(text_of("looks.csv"), Look, "looks.csv")}

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
def shipped() -> Catalogue:
    """The tables that come with the program."""
    materials, applied = read_materials(text_of("materials.toml"), "materials.toml")
    kinds = read_toml(text_of("instruments.toml"), "instruments.toml").get("kind", [])
    return Catalogue(
        materials=materials,
        applied=applied,
        methods=ShippedMethods(),
        kinds={k["id"]: convert(k, InstrumentKind, f"instruments.toml, kind {k.get('id', '?')}") for k in kinds},
        shapes=msgspec.json.decode(text_of("outlines.json"))["outlines"],
    )
