"""A workshop begun: its file, its name and its hours, from the answers of the first page. No Qt."""

from __future__ import annotations

import re
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING

import msgspec

from ravden.app import settings
from ravden.app.hours_form import PRESETS, read
from ravden.app.zone import of_this_machine
from ravden.core.errors import InputError, need
from ravden.journal.hours import DAYS
from ravden.journal.kinds.shop_name import ShopNamed
from ravden.journal.store import SUFFIX
from ravden.system.writable import need_writable

if TYPE_CHECKING:
    from ravden.app.session import ShopSession

USUAL_NAME = "My workshop"
LONGEST_NAME = 80
LAID = {"gun": "Spray gun", "can": "Spray can", "brush": "Brush", "cloth": "Cloth", "pad": "Pad"}  # in words
# How a finish is laid: what a method's material is applied by.
WAYS = {"gun": "spray", "can": "spray", "brush": "brush", "cloth": "wipe", "pad": "pad"}


class Answers(msgspec.Struct, frozen=True, kw_only=True):
    """What was said on the first page; hours: the name of a preset, or empty; file: where it goes, None: the usual
    place."""

    name: str = USUAL_NAME
    units: str = "metric"
    lays: tuple[str, ...] = ()
    tools: tuple[str, ...] = settings.LIKELY
    hours: str = PRESETS[0][0]
    file: Path | None = None


def usual_file(name: str) -> Path:
    """Where a workshop of this name is kept when nobody says otherwise: a file that is not there yet."""
    stem = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:60] or "workshop"
    folder = settings.data_folder()
    tries = (folder / f"{stem}{f'-{n}' if n > 1 else ''}{SUFFIX}" for n in range(1, 1000))
    found = next((path for path in tries if not path.exists()), None)
    if found is None:
        raise InputError("file", f"{folder} has too many workshops of that name; choose another place")
    return found


def start(session: ShopSession, remembered: settings.Settings, answers: Answers) -> Path:
    """Make the file, open it, and keep what was said; returns where it lies. Raises InputError, and then nothing has
    changed."""
    name = answers.name.strip() or USUAL_NAME
    need(len(name) <= LONGEST_NAME, "name", f"a shorter name, please: at most {LONGEST_NAME} letters")
    path = answers.file or usual_file(name)
    need_writable(path.parent)
    session.open(path, create=True)
    session.log(ShopNamed(name=name), origin="start")
    if answers.hours:
        week = dict(zip(DAYS, dict(PRESETS)[answers.hours], strict=True))
        session.log(read(of_this_machine(), week, ""), origin="start")
    remembered.units = answers.units
    remembered.lays, remembered.tools = list(answers.lays), list(answers.tools)
    return path


def methods_first(methods: Sequence[tuple[str, str]], lays: Sequence[str]) -> list[str]:
    """Ids of methods, those laid in a way of this bench first; methods: id and the way its material is applied."""
    mine = {WAYS[way] for way in lays if way in WAYS}
    return [m for m, _ in sorted(methods, key=lambda each: each[1] not in mine)]
