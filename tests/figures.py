"""What Ravden tells of the made-up shop, as plain figures by path; run as a script it keeps those of today.

A figure that moves is not wrong: but nobody moves one without seeing which, and by how much.
"""

import contextlib
import gzip
import json
import math
import os
import tempfile
import time
from collections.abc import Mapping
from dataclasses import fields, is_dataclass
from datetime import UTC, datetime
from pathlib import Path

import msgspec
import numpy as np

from ravden.app.clock import HandClock
from ravden.app.session import ShopSession
from ravden.catalogue.tables import shipped
from ravden.core.ahead.counsel import look_at
from ravden.core.ahead.fit import fitted
from ravden.core.ahead.forward import WhatIf
from ravden.core.ahead.one_more import one_more
from ravden.core.ahead.shutting import shuts_h
from ravden.core.ahead.waits import waits
from ravden.core.ahead.whatif import tried
from ravden.core.ahead.witness import witness
from ravden.core.errors import InputError
from ravden.core.quarrels.all import quarrels
from ravden.core.rubout.rub_out import beside
from ravden.core.session.bench import bench
from ravden.core.session.booth import turn
from ravden.demo import ferrow_lane
from ravden.text.units import Units

KEPT = Path(__file__).parent / "data" / "figures.json.gz"
NOW = datetime(2026, 6, 10, 15, tzinfo=UTC)
# What goes in, and what is far too long to read: the film's arrays are told by the windows made of them.
INPUTS = {"project", "method", "drawer", "held", "folded", "hours", "film", "job", "found", "known_before", "outlook"}
DIGITS = 6
WALL = "Europe/London"
LONG = 24  # of a list more is told by its mean and its end


def plain(value, path=""):
    """Every figure and word of a record, by where it stands."""
    if isinstance(value, str | bool | int | None):
        yield path, value
    elif isinstance(value, float | np.floating):
        yield path, float(f"{value:.{DIGITS}g}") if math.isfinite(value) else str(value)
    elif isinstance(value, np.ndarray):
        yield f"{path}#", [*map(int, value.shape)]
        if value.size and value.dtype.kind in "fi":
            told = value[np.isfinite(value)]
            yield from plain([float(told.mean()), float(told.std()), float(value.ravel()[-1])], path)
    elif isinstance(value, Mapping):
        for key in value:
            yield from plain(value[key], f"{path}.{key}")
    elif isinstance(value, tuple | list | set | frozenset):
        rows = sorted(value, key=str) if isinstance(value, set | frozenset) else value
        yield f"{path}#", len(rows)
        if len(rows) > LONG and all(isinstance(v, float) for v in rows):
            yield from plain(np.array(rows), path)
        else:
            for i, one in enumerate(rows):
                yield from plain(one, f"{path}[{i}]")
    elif is_dataclass(value) or isinstance(value, msgspec.Struct):
        names = value.__struct_fields__ if isinstance(value, msgspec.Struct) else [f.name for f in fields(value)]
        for name in names:
            if name not in INPUTS and not name.startswith("_"):
                yield from plain(getattr(value, name), f"{path}.{name}")


def told_of(session, name):
    """All that is said of one instrument."""
    tables = session.catalogue
    rack = session.shop.on_rack(name)
    found = session.request(name, advise=True).run()
    yield "outlook", found
    yield "progress", found.progress
    yield "seen", [k.film.moments(found.zone) for k in found.history]
    for zone in [z.name for z in found.project.zones][1:3]:
        turned = look_at(found, zone)
        yield f"zone.{zone}", (turned.view, turned.counsel)
    yield "waits", waits(found, draws=12)
    yield "one more", one_more(found, 12.0)
    coats = max(len(found.forward.coats), 1)
    for change in (WhatIf(coats=coats + 2), WhatIf(coats=coats, coat_um=9.0)):
        trial = tried(found, change)
        yield f"tried.{change.coats}.{change.coat_um}", (trial, trial.outlook.forward)
    yield "fitted", fitted(found)
    yield "shuts", shuts_h(found)
    yield "rub out", (found.rub_out.job, found.rub_out)
    yield "beside", beside(found.rub_out)
    yield "quarrels", quarrels(found, tables.scuffs, tables.preps)
    yield "turn", turn(rack.project, rack.method, tables.booth.habit, found.now_h, None, tables.booth.places)
    for label, ask in (("bench", lambda: bench(found)), ("card", lambda: witness(found))):
        try:
            yield label, ask()
        except InputError as error:
            yield label, str(error)


def told():
    """Of every instrument of the made-up shop."""
    out = {}
    with _on_the_wall(WALL), tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "lane.ravden"
        ferrow_lane.build(path, NOW)
        session = ShopSession(shipped(), HandClock(NOW), Units())
        session.open(path)
        session.keep_zone(WALL)
        for name in session.shop.racked:
            for part, value in told_of(session, name):
                out |= {f"{name}: {part}{at}": v for at, v in plain(value)}
        session.close()
    return out


@contextlib.contextmanager
def _on_the_wall(zone):
    """The made-up shop is dated by the clock of the machine."""
    before = os.environ.get("TZ")
    try:
        os.environ["TZ"] = zone
        time.tzset()
        yield
    finally:
        os.environ.pop("TZ")
        if before is not None:
            os.environ["TZ"] = before
        time.tzset()


def kept():
    """As they were told when they were kept last."""
    return json.loads(gzip.decompress(KEPT.read_bytes()))


if __name__ == "__main__":
    now = told()
    KEPT.write_bytes(gzip.compress(json.dumps(now, indent=0).encode(), mtime=0))
    print(f"{len(now)} figures kept")
