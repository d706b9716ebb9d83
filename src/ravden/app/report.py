"""What to send when something went wrong: versions, what the program was doing, no customer data. No Qt."""

from __future__ import annotations

import importlib.metadata
import logging
import platform
import re
import sys
from collections import deque
from pathlib import Path

from ravden import __version__

MOST_LINES = 60
PARTS = ("PyQt6", "numpy", "scipy", "numba", "msgspec")


class Remembering(logging.Handler):
    """The last warnings and faults, for the report."""

    def __init__(self) -> None:
        super().__init__(logging.WARNING)
        self.lines: deque[str] = deque(maxlen=MOST_LINES)
        self.setFormatter(logging.Formatter("%(levelname)s %(name)s %(message)s"))

    def emit(self, record: logging.LogRecord) -> None:
        self.lines.extend(self.format(record).splitlines()[-MOST_LINES:])


LOG = Remembering()


def begin() -> None:
    """Remember what is logged from now on."""
    root = logging.getLogger()
    if LOG not in root.handlers:
        root.addHandler(LOG)


def report(*, file: Path | None, entries: int, instruments: int, names: tuple[str, ...] = ()) -> str:
    """The report as text. names: what must not be in it, such as instruments and people."""
    versions = [f"{part} {_version(part)}" for part in PARTS]
    size = file.stat().st_size if file is not None and file.exists() else 0
    lines = [
        f"Ravden {__version__}, Python {sys.version.split()[0]}, {platform.platform()}",
        ", ".join(versions),
        f"Shop file: {size} bytes, {entries} entries, {instruments} on the rack" if file else "No shop file",
        "",
        "Last warnings and faults:",
        *(LOG.lines or ["none"]),
    ]
    return without("\n".join(lines), (*names, *((str(file), file.name) if file else ()), str(Path.home())))


def without(text: str, names: tuple[str, ...]) -> str:
    """The text with every one of these names left out."""
    for name in sorted((n for n in names if n.strip()), key=len, reverse=True):
        text = re.sub(rf"(?<!\w){re.escape(name)}(?!\w)", "…", text, flags=re.IGNORECASE)
    return text


def _version(part: str) -> str:
    try:
        return importlib.metadata.version(part)
    except importlib.metadata.PackageNotFoundError:
        return "(inside the package)"
