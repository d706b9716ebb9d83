"""Kinds of entry, a file each, or a few that belong together. A new one is a file here: nothing lists them by hand."""

import functools
import importlib
from pathlib import Path

from ravden.journal.kinds.kind import Kind
from ravden.journal.kinds.unknown import Unknown


@functools.cache
def every_kind() -> tuple[type[Kind], ...]:
    """Every kind that can be read back, by its name in the file."""
    for name in _names():
        importlib.import_module(f"{__name__}.{name}")
    here = [k for k in _below(Kind) if k is not Unknown and k.__module__.startswith(__name__)]
    kinds = {k.__struct_config__.tag: k for k in here}
    return tuple(k for tag, k in sorted(kinds.items(), key=lambda pair: str(pair[0])) if tag != k.__name__)


def _names() -> list[str]:
    """Every file here. Listed by the disk where there is one: to ask Python for them costs the first paint some
    milliseconds; a program packed in one piece has no other way."""
    found = [p.stem for p in Path(__path__[0]).glob("[a-z]*.py")]
    if not found:
        import pkgutil

        found = [m.name for m in pkgutil.iter_modules(__path__)]
    return sorted(found)


def _below(kind: type[Kind]) -> list[type[Kind]]:
    return [found for part in kind.__subclasses__() for found in (part, *_below(part))]
