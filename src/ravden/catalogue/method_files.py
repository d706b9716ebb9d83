"""Method files: read with every fault told by file, line and reason, and written back."""

from __future__ import annotations

import re
from collections.abc import Sequence, Set
from typing import Any

import msgspec

from ravden.catalogue.method_tables import read_method
from ravden.catalogue.reading import read_toml
from ravden.catalogue.tables import Catalogue
from ravden.core.errors import InputError, need
from ravden.core.fact import PLAIN, Fact
from ravden.core.method.slots import need_own_ids
from ravden.core.method.steps import Method, Stage, ZoneFinish

MOST_LETTERS, MOST_STAGES = 200_000, 300
REQUIRED = ("id", "label", "material", "why")


def read_method_file(text: str, file: str, catalogue: Catalogue) -> Method:
    """A method from a file's text. Nothing in it is executed; nothing of a faulty one is kept.

    Raises InputError whose path is the file with the line, where one is to blame.
    """
    if len(text) > MOST_LETTERS:
        raise InputError(file, f"is larger than {MOST_LETTERS // 1000} kB; a method is a page or two")
    _known_fields(read_toml(text, file), text, file)
    try:
        method = read_method(text, file)
    except InputError as error:
        field = error.path.removeprefix(file).lstrip(".")
        raise _at(text, file, field, error.said) from None
    if not re.fullmatch(r"[a-z0-9][a-z0-9-]{0,60}", method.id):
        raise _at(text, file, "id", "must be small letters, digits and hyphens")
    known = catalogue.materials
    if method.material not in known:
        raise _at(text, file, "material", f"unknown material {method.material}; known: {', '.join(known)}")
    for i, part in enumerate(method.zone):
        if part.finish not in known:
            raise _at(text, file, f"zone[{i}].finish", f"unknown material {part.finish}; known: {', '.join(known)}")
    try:
        need_own_ids(method.stage)
        check_stages(method.stage, catalogue)
    except InputError as error:
        raise _at(text, file, error.path, error.said) from None
    return method


def with_ids(text: str, file: str, catalogue: Catalogue) -> str:
    """The text of a method file, with an id at every step that has none, so that its steps stay what they are when
    they are renamed. Raises InputError as reading it does."""
    method = read_method_file(text, file, catalogue)
    lines, at = [], -1
    raw = read_toml(text, file)["stage"]
    for line in text.splitlines():
        lines.append(line)
        if line.split("#", 1)[0].strip() == "[[stage]]":
            at += 1
            if at < len(raw) and not raw[at].get("id"):
                lines.append(f"id = {_toml(method.stage[at].id)}")
    told = "\n".join(lines) + "\n"
    # A file written otherwise than ours is left as it is: its steps are known by their names.
    return told if at + 1 == len(raw) and read_method(told, file) == method else text


def check_stages(stages: Sequence[Stage], catalogue: Catalogue, zones: Set[str] | None = None) -> None:
    """Raise InputError at the step that names what nobody knows, or contradicts those before it; zones: those there
    are, where a body is known. No steps at all are no fault: they stand for the method's own."""
    known, laid, coloured = catalogue.materials, "", False
    for i, stage in enumerate(stages):
        here = f"stage[{i}]"
        if stage.finish and stage.finish not in known:
            raise InputError(f"{here}.finish", f"unknown material {stage.finish}; known: {', '.join(known)}")
        if stage.next and stage.next not in catalogue.preps:
            raise InputError(f"{here}.next", f"must be one of {', '.join(catalogue.preps)} (got {stage.next})")
        for zone in stage.zones if zones is not None else ():
            need(zones is None or zone in zones, f"{here}.zones", f"there is no zone called {zone}")
        if stage.kind in ("wait", "scuff", "level", "rub-out") and not laid:
            raise InputError(f"{here}.kind", f"a {stage.kind} before any coat")
        if stage.kind == "rub-out" and laid.endswith("-satin"):
            raise InputError(f"{here}.kind", "a satin coat is never rubbed out")
        if stage.kind == "colour" and laid and not any(s.kind == "coats" and not s.zones for s in stages[i:]):
            raise InputError(f"{here}.kind", "colour over a film, with no coat over it to hold it")
        if stage.tinted and not laid and not stage.patch:
            raise InputError(f"{here}.tinted", "colour on bare wood is a stain: lay a clear coat under it first")
        between = stage.kind == "level" and not stage.patch and coloured
        if between and any(s.tinted for s in stages[i + 1 :]):
            raise InputError(f"{here}.kind", "no level between tinted coats: it takes the colour off the high spots")
        coloured = coloured or bool(stage.tinted)
        if stage.kind == "coats" and not stage.zones:
            laid = stage.finish or "own"
    if stages and not any(s.kind == "coats" and not s.finish for s in stages):
        raise InputError("stage", "lays no coat of its own material")


def _known_fields(raw: dict[str, Any], text: str, file: str) -> None:
    """A field nobody knows is a typing slip, never passed over."""
    tables: list[tuple[str, Any, set[str]]] = [("", raw, set(Method.__struct_fields__))]
    for part, kind in (("stage", Stage), ("zone", ZoneFinish)):
        rows = raw.get(part, [])
        if isinstance(rows, list):
            fields = {*kind.__struct_fields__, *(("use",) if part == "stage" else ())}
            tables += [(f"{part}[{i}].", row, fields) for i, row in enumerate(rows)]
    for where, table, known in tables:
        for key in table if isinstance(table, dict) else ():
            if key not in known:
                raise _at(text, file, f"{where}{key}", f"unknown field `{key}`; known: {', '.join(sorted(known))}")


def _at(text: str, file: str, field: str, said: str | Fact) -> InputError:
    """The fault with the line of the field it is about."""
    if isinstance(said, Fact) and said.code != PLAIN:
        line = line_of(text, field, "")
        return InputError(f"{file}, line {line}: {field}" if line else f"{file}: {field}", said)
    sentence = str(said)
    inside = re.search(r"at `\$\.?([^`]*)`", sentence)
    if inside is not None:
        field = inside[1] or field
        sentence = sentence[: inside.start()].rstrip(" -")
    unknown = re.search(r"unknown field `(\w+)`", sentence)
    line = line_of(text, field, unknown[1] if unknown else "")
    where = f"{file}, line {line}" if line else file
    name = field.split(".")[-1] if field and not field.endswith("]") else ""
    return InputError(where, f"{name}: {sentence}" if name and name not in sentence else sentence)


def line_of(text: str, field: str, key: str = "") -> int | None:
    """The line a field stands on: ``stage[3].kind`` is the fourth table's, ``id`` the head's."""
    lines = text.splitlines()
    found = re.match(r"(stage|zone)\[(\d+)\]\.?(\w*)", field)
    key = key or (found[3] if found else field.split(".")[-1])
    part = found[1] if found else "stage"
    heads = [i for i, line in enumerate(lines) if line.strip() == f"[[{part}]]"]
    start, end = 0, heads[0] if heads else len(lines)
    if found:
        n = int(found[2])
        if n >= len(heads):
            return None
        start, end = heads[n], heads[n + 1] if n + 1 < len(heads) else len(lines)
    for i in range(start, end):
        if key and re.match(rf"\s*{re.escape(key)}\s*=", lines[i]):
            return i + 1
    return start + 1 if found else None


def write_method(method: Method) -> str:
    """A method as the text of a file that reads back the same."""
    head = msgspec.to_builtins(method)
    stages, parts = [s for s in head.pop("stage") if not s.get("mends")], head.pop("zone")
    if not head["least_coats"]:
        del head["least_coats"]  # as usual
    lines = [f"{k} = {_toml(v)}" for k, v in head.items() if v not in (None, "", [], ()) or k in REQUIRED]
    for part in parts:
        lines += ["", "[[zone]]", *(f"{k} = {_toml(v)}" for k, v in part.items())]
    for stage in stages:
        lines += ["", "[[stage]]"]
        lines += [f"{k} = {_toml(v)}" for k, v in stage.items() if v not in (None, "", [], ())]
    return "\n".join(lines) + "\n"


def _toml(value: Any) -> str:
    if isinstance(value, str):
        return msgspec.json.encode(value).decode()
    if isinstance(value, bool):
        return "true" if value else "false"
    if isinstance(value, list | tuple):
        return "[" + ", ".join(_toml(v) for v in value) + "]"
    return repr(value)
