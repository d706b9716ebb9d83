"""The methods that come with the program, and the steps many of them share."""

from __future__ import annotations

import functools
from collections.abc import Iterator, Mapping
from typing import Any

from msgspec.structs import replace

from ravden.catalogue.reading import convert, read_toml
from ravden.catalogue.shipped_files import DATA
from ravden.core.errors import need
from ravden.core.method.slots import named
from ravden.core.method.steps import Method, ZoneFinish


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
    """A method file, its steps known by ids of their own: as it says, or by their names."""
    found = convert(whole_steps(read_toml(text, file), file), Method, file)
    return replace(found, stage=named(found.stage))
