"""Results worked out elsewhere, kept with the tests."""

import functools
import json
from pathlib import Path

DATA = Path(__file__).resolve().parent.parent / "data"


@functools.cache
def surface():
    """Closed forms and small runs of the surface."""
    return json.loads((DATA / "surface.json").read_text(encoding="utf-8"))
