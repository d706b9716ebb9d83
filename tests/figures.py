"""What Ravden tells of the made-up shop, as plain figures by path; run as a script it keeps those of today.

A figure that moves is not wrong: but nobody moves one without seeing which, and by how much.
"""

import contextlib
import gzip
import importlib
import json
import math
import os
import pkgutil
import tempfile
import time
from collections.abc import Mapping
from dataclasses import fields, is_dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path

import msgspec
import numpy as np
from msgspec.structs import replace

from ravden import core
from ravden.app.clock import HandClock
from ravden.app.session import ShopSession
from ravden.catalogue import assemble
from ravden.catalogue.amounts import stage_amounts
from ravden.catalogue.assemble import drawer_of
from ravden.catalogue.tables import shipped
from ravden.core.abrasive.buffing import Wheel
from ravden.core.abrasive.scuff import chemistry
from ravden.core.ahead.compare import offer
from ravden.core.ahead.counsel import look_at
from ravden.core.ahead.dated import WhatIf
from ravden.core.ahead.fit import fitted
from ravden.core.ahead.one_more import one_more
from ravden.core.ahead.shutting import shuts_h
from ravden.core.ahead.waits import before, waits
from ravden.core.ahead.whatif import tried
from ravden.core.ahead.witness import witness
from ravden.core.calendar.hours import WorkHours
from ravden.core.cure.witness import Weighing
from ravden.core.errors import InputError
from ravden.core.film.filter import Priors
from ravden.core.method.standing import standing
from ravden.core.quarrels.all import quarrels
from ravden.core.record import GROUNDS, Air, Instrument
from ravden.core.rubout.rub_out import Ask, beside, rub_out
from ravden.core.session.bench import bench
from ravden.core.session.booth import turn
from ravden.core.session.light import lamp_minutes
from ravden.demo import ferrow_lane
from ravden.journal.store import Journal
from ravden.text.units import Units
from tests import bounds, rich_shop

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
    yield "standing", standing(found.method, found.progress, found.project.acts)
    yield "lamp", lamp_minutes(replace(found.project, lamp_mW_cm2=6.0), 900.0)
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
    habit = tables.scuffs.get(chemistry(found.project.material))
    yield "before", before(found, tables.cure_before)
    two = [z.name for z in found.project.zones][:2]
    for label, ask in (
        ("bench", lambda: bench(found)), ("card", lambda: witness(found)), ("scuffing", lambda: bench(found, habit)),
        ("two zones", lambda: bench(found, habit, two)),
    ):  # fmt: skip
        try:
            yield label, ask()
        except InputError as error:
            yield label, str(error)


def told():
    """Of every instrument of two made-up shops, of every method on one body, and how far every number may go."""
    out = {}

    def keep(name, parts):
        for part, value in parts:
            out.update({f"{name}: {part}{at}": v for at, v in plain(value)})

    with _on_the_wall(WALL), tempfile.TemporaryDirectory() as folder:
        for build in (ferrow_lane.build, _rich):
            path = Path(folder) / f"{build.__name__}.ravden"
            build(path, NOW)
            session = ShopSession(shipped(), HandClock(NOW), Units())
            session.open(path)
            session.keep_zone(WALL)
            for name in session.shop.racked:
                keep(name, told_of(session, name))
                keep(name, told_otherwise(session, name))
            keep(build.__name__, _shop(session))
            for record in _records(session):
                for field, ends in bounds.bounds(record):
                    out[f"{type(record).__name__}.{field} of {session.shop.name}"] = ends
            session.close()
    keep("methods", _methods())
    keep("constants", _constants())
    return out


def _constants():
    """Every constant of the core, by its module: a default is changed on purpose, and with its source."""
    for found in pkgutil.walk_packages(core.__path__, "ravden.core."):
        module = importlib.import_module(found.name)
        for name, value in vars(module).items():
            if name.lstrip("_").isupper() and isinstance(value, int | float | str | tuple | Mapping):
                yield f"{found.name}.{name}", value


ASKS = (
    Ask(edges=True, mode="dry"), Ask(target="satin", mode="machine"), Ask(target="semi-gloss", texture_um=25.0),
    Ask(target="key", block="foam"),
)  # fmt: skip


def told_otherwise(session, name):
    """The same instrument when less of it had happened, and sanded in other ways."""
    found = session.request(name).run()
    for i, ask in enumerate(ASKS):
        other = rub_out(found.rub_out.film, found.rub_out.held, ask)
        yield f"asked.{i}", (other.job, other)
    for days in (9, 21):
        then = NOW - timedelta(days=days)
        last = max((e.id for e in session.entries if e.at <= then), default=0)
        asked = session.request_then(last, then, name)
        if asked is None:
            continue
        before = asked.run()
        rack, tables = asked.rack, session.catalogue.booth
        yield f"then.{days}", before
        yield f"waits.{days}", waits(before, draws=6)
        yield f"turn.{days}", turn(rack.project, rack.method, tables.habit, before.now_h, None, tables.places)


def _rich(path, now):
    journal = Journal.create(path)
    for at, instrument, body in rich_shop.entries(now):
        journal.append(body, at=at, logged_at=at, instrument=instrument)
    journal.close()


def _shop(session):
    """What is known of the shop as a whole."""
    shop = session.shop
    yield "air", shop.air.series(NOW - timedelta(days=30), NOW)
    yield "session", shop.session
    yield "drawer", session.drawer
    for name in shop.racked:
        yield f"lesson.{name}", session.request(name).lesson()
        rack = shop.on_rack(name)
        yield f"amounts.{name}", stage_amounts(session.catalogue, rack.project, [*enumerate(rack.method.stage)])


def _records(session):
    """One of each record of numbers, valid as it is."""
    tables = session.catalogue
    rack = next(iter(session.shop.racked.values()))
    found = session.request(rack.instrument.id).run()
    kinds = {}
    for one in (
        *tables.materials.values(), *(m.cure for m in tables.materials.values()), rack.instrument,
        rack.instrument.measures,
        *rack.project.zones, *rack.project.acts, *rack.method.stage, found.rub_out.job, *found.rub_out.job.zones,
        *found.rub_out.drawer, *(r.abrasive for r in found.rub_out.drawer), Priors(), Weighing(at_h=1.0, mg_cm2=5.0),
        Wheel(),
    ):  # fmt: skip
        kinds.setdefault(type(one), one)
    return kinds.values()


def _methods():
    """Every method on one body in a damp and a dry air, as Methods compares them."""
    tables = shipped()
    drawer = drawer_of(tables, None)
    for i, method in enumerate(tables.methods.values()):
        kind = tables.kind("parlour-guitar" if i % 2 else "solid-body")
        material = tables.material(method.material)
        item = Instrument(
            id="x", name="Plover", kind=kind.id, measures=assemble.measures_of(kind), material=material.id,
            method=method.id, sheen="gloss", min_film_um=method.least_um(material), ground=GROUNDS[i % len(GROUNDS)],
        )  # fmt: skip
        acts = (Air(at_h=0.0, temp_C=17.0 + i % 5, rh=0.42 + 0.04 * (i % 4)),)
        made = assemble.project(tables, item, acts)
        yield method.id, offer(made, method, drawer, 0.0, WorkHours(hour_at_zero=9.0))


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
