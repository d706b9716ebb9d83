"""The places, in the order of the rail. Each is a folder of `ui/places`; its `place.py` builds and wires it."""

from __future__ import annotations

import importlib
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from ravden.ui.shell.around import Around
    from ravden.ui.widgets.place import Place

PLACES = (
    ("rack", "Rack"), ("film", "Film"), ("booth", "Booth"), ("rubout", "Rub-out"), ("shop", "Shop"),
    ("methods", "Methods"),
)  # fmt: skip


def build(key: str, around: Around) -> Place:
    """A place with its view, wired to the window."""
    made: Place = importlib.import_module(f"ravden.ui.places.{key}.place").build(around)
    return made
