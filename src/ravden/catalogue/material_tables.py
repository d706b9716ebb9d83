"""The finishes, and how each hardens."""

from __future__ import annotations

import csv
from typing import Any

from ravden.catalogue.reading import convert, read_toml, text_of
from ravden.core.errors import InputError, need
from ravden.core.record import CureModel, Material


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


def read_materials(text: str, file: str) -> tuple[dict[str, Material], dict[str, str]]:
    """The finishes of a file by id, and how each is applied."""
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
