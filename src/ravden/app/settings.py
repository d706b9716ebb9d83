"""What the program remembers between runs: units, theme, window, recent files. Plain JSON in the user's folder."""

import contextlib
import os
from pathlib import Path
from typing import Any

import msgspec

from ravden.core.errors import InputError
from ravden.system.files import put
from ravden.system.writable import may_write

RECENT_MAX = 8
FARTHEST_PX = 100_000  # of a corner of the window from the first screen's
NOT_KEPT = (
    "{folder} cannot be written to, so your choices (units, look, sound, files opened) are forgotten when Ravden "
    "is closed. What you log is kept in the shop file as always."
)


TOOLS = ("comb", "micrometer", "scale", "gauge", "gloss", "hygrometer")  # what there can be to measure with
LIKELY = ("scale", "hygrometer")  # [A] what a bench has before anybody has said
LAYS = ("gun", "can", "brush", "cloth", "pad")  # how a finish can be laid
TEXT_LEAST, TEXT_MOST = 90, 200  # per cent


SYSTEM = "system"  # as the desktop has it


class Draft(msgspec.Struct, kw_only=True, frozen=True):
    """A form that was being filled in when the window went: on which file and instrument, of which kind (empty for a
    page's own), under which heading, and what stood in its fields."""

    file: str
    instrument: str
    kind: str
    heading: str
    typed: dict[str, str]


class Settings(msgspec.Struct, kw_only=True):
    """Remembered choices."""

    units: str = "metric"
    decimal: str = SYSTEM  # or point, comma
    dates: str = SYSTEM  # or dmy, mdy, ymd
    clock: str = SYSTEM  # or 24, 12
    desktop: list[str] = []  # what the desktop's own settings were, and decimal, dates, clock and money they came to
    theme: str = "light"
    contrast: bool = False
    text: int = 100  # size of the type [%]
    sound: str = "loud"
    guard: bool = False  # in the Booth a second press within two seconds counts as none
    booth_full: bool = False  # the Booth takes the whole screen
    left_hand: bool = False  # the Booth's large keys at the left
    notify: bool = False
    tools: list[str] = msgspec.field(default_factory=lambda: list(LIKELY))  # what there is to measure with
    least_um: dict[str, float] = {}  # least film wanted of new instruments, by family of finish; else the method's own
    lays: list[str] = []  # how a finish is laid on here; none: nobody said
    told: list[str] = []  # what has been told once and need not be again
    place: str = "rack"
    rack_density: str = "roomy"  # how close its lanes are
    rack_grouped: bool = False  # by what is next
    last_file: str = ""
    recent: list[str] = []
    window: list[int] = []  # x, y, width, height
    maximised: bool = False
    draft: Draft | None = None

    def remember(self, path: Path) -> None:
        """Put a file first among the recent ones."""
        name = str(path.resolve())
        self.last_file = name
        self.recent = [name, *[r for r in self.recent if r != name]][:RECENT_MAX]


# What may be remembered of each; the first is taken for anything else.
CHOICES = {
    "units": ("metric", "us"), "theme": ("light", "dark"), "sound": ("loud", "quiet", "off"),
    "decimal": (SYSTEM, "point", "comma"), "dates": (SYSTEM, "dmy", "mdy", "ymd"), "clock": (SYSTEM, "24", "12"),
}  # fmt: skip


def settings_path() -> Path:
    """Where settings lie; RAVDEN_HOME overrides the user's folder."""
    return _folder("XDG_CONFIG_HOME", ".config") / "settings.json"


def data_folder() -> Path:
    """Where shop files are kept by default."""
    return _folder("XDG_DATA_HOME", ".local/share")


def cache_folder() -> Path:
    """Where things lie that can be made again."""
    return _folder("XDG_CACHE_HOME", ".cache")


def _folder(named: str, usual: str) -> Path:
    """By the base directories of the desktop: a relative path there does not count."""
    if home := os.environ.get("RAVDEN_HOME"):
        return Path(home)
    told = Path(os.environ.get(named, ""))
    return (told if told.is_absolute() else Path.home() / usual) / "ravden"


def load(path: Path) -> Settings:
    """Settings as remembered; damaged or missing ones are started afresh."""
    try:
        raw = path.read_bytes()
        found = msgspec.json.decode(raw, type=Settings)
        if "lays" not in msgspec.json.decode(raw):
            # Of a Ravden that asked for these two whoever had them: nothing that was offered goes by itself.
            found.tools = [*found.tools, *(t for t in ("gloss", "hygrometer") if t not in found.tools)]
    except (OSError, msgspec.DecodeError, msgspec.ValidationError, UnicodeError, RecursionError):
        return Settings()
    for name, choices in CHOICES.items():
        if getattr(found, name) not in choices:
            setattr(found, name, choices[0])
    found.text = min(max(found.text, TEXT_LEAST), TEXT_MOST)
    if len(found.window) != 4 or any(abs(n) > FARTHEST_PX for n in found.window):
        found.window = []
    return found


def may_save(path: Path) -> bool:
    """Whether what is chosen now can be remembered."""
    return may_write(path.parent)


def save(settings: Settings, path: Path) -> None:
    """Keep settings."""
    save_json(settings, path)


def save_json(what: Any, path: Path) -> None:
    """Keep something by whole files; a folder that cannot be written costs the memory, never the work."""
    with contextlib.suppress(OSError, InputError):
        path.parent.mkdir(parents=True, exist_ok=True)
        put(path, msgspec.json.format(msgspec.json.encode(what), indent=1))
