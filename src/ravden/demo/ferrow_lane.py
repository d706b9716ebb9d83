"""Ferrow Lane, a made-up two-bench workshop: instruments at different moments of their finish, dated from a given day.

Everything happens at hours a bench would keep, relative to ``start``; nothing is in the future of it.
"""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime, timedelta
from pathlib import Path
from typing import TYPE_CHECKING

from msgspec.structs import replace

from ravden.catalogue.assemble import measures_of
from ravden.catalogue.tables import shipped
from ravden.core.method.steps import Stage
from ravden.demo.ferrow_book import PRINT, PRINTED, TO, book
from ravden.demo.ferrow_shelf import lot_of, shelf
from ravden.journal.entry import iso
from ravden.journal.hours import Spans
from ravden.journal.kinds.air import AirLogged
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.crew import DaysStruck, PersonSet
from ravden.journal.kinds.handed_over import HandedOver
from ravden.journal.kinds.hours import HoursSet
from ravden.journal.kinds.instrument import InstrumentAdded
from ravden.journal.kinds.kind import Kind
from ravden.journal.kinds.light import ExposureLogged
from ravden.journal.kinds.mishap import DefectLooked, MishapLogged, OfDefect, RepairChosen
from ravden.journal.kinds.reading import ReadingLogged
from ravden.journal.kinds.sanding import SandingLogged
from ravden.journal.kinds.shop_name import ShopNamed
from ravden.journal.kinds.step import StepLogged
from ravden.journal.kinds.stock import OfLot
from ravden.journal.store import Journal

if TYPE_CHECKING:
    from ravden.app.session import ShopSession
    from ravden.app.shop_plan import ShopPlanned

NAME = "Ferrow Lane"
MORNING_H = 9
Week = dict[str, Spans]
WORKDAYS = ("mon", "tue", "wed", "thu", "fri")
# One is there by day; the other in the evenings and on Saturday, and keeps away from the wheel.
IDA: Week = dict.fromkeys(WORKDAYS, ((8.0, 12.0), (13.0, 17.0)))
ODD: Week = {**dict.fromkeys(WORKDAYS[:4], ((17.5, 21.0),)), "sat": ((9.0, 13.0), (14.0, 17.0))}
OPEN: Week = {**dict.fromkeys(WORKDAYS, ((8.0, 21.0),)), "sat": ((9.0, 17.0),)}
WET_DAYS = 2


def _day(start: datetime, days_ago: int, hour: float) -> datetime:
    """A local hour some days before start."""
    midnight = start.astimezone().replace(hour=0, minute=0, second=0, microsecond=0)
    return midnight - timedelta(days=days_ago) + timedelta(hours=hour)


def _added(kind_id: str, name: str, method_id: str, sheen: str, promised: datetime | None) -> InstrumentAdded:
    catalogue = shipped()
    kind = catalogue.kind(kind_id)
    material = catalogue.material(catalogue.method(method_id).material)
    return InstrumentAdded(
        id=name.lower(), name=name, instrument_kind=kind_id, measures=measures_of(kind), material=material.id,
        method=method_id, sheen=sheen, min_film_um=catalogue.method(method_id).least_um(material),
        promised=None if promised is None else iso(promised),
    )  # fmt: skip


def entries(start: datetime, only: tuple[str, ...] = ()) -> list[tuple[datetime, str, Kind]]:
    """What the journal says on the day the shop is opened, in the order it was logged; only: these instruments."""
    # Early in the day, or before it, "today's" work was yesterday's.
    today = 0 if start.astimezone().hour >= 13 else 1
    out: list[tuple[datetime, str, Kind]] = [(_day(start, 20, 8), "", ShopNamed(name=NAME))]

    def note(days_ago: int, hour: float, instrument: str, body: Kind) -> None:
        out.append((_day(start, days_ago, hour), instrument, body))

    note(20, 8, "", AirLogged(temp_C=19, rh=0.52))
    note(6, 8, "", AirLogged(temp_C=21, rh=0.47))

    note(20, 8.1, "tern", _added("solid-body", "Tern", "lacquer-contrast-grain", "mirror", _day(start, -24, 17)))
    note(19, 18, "tern", StepLogged(step="Colour, as thin as covers"))
    note(16, 18, "tern", StepLogged(step="Fill the pores"))
    for days_ago, coats in ((20, 2), (14, 3), (13, 3), (12, 3)):
        for i in range(coats):
            note(days_ago, MORNING_H + 1.5 * i, "tern", CoatLogged(dry_um=12))
    note(9, 16, "tern", ReadingLogged(zone="top", um=131, n=3, place=(285, 85)))
    note(9, 16.1, "tern", ReadingLogged(zone="sides", um=116, n=3))
    for days_ago, grams in ((11, 1.892), (9, 1.852), (5, 1.815), (2, 1.799)):
        card = ReadingLogged(what="card", um=grams / 1.35 / 100 * 1e4, how=f"{grams:.3f} g")
        note(days_ago, 18, "tern", card)

    note(13, 8, "wren", _added("parlour-guitar", "Wren", "shellac-pad-rounds", "gloss", _day(start, -40, 17)))
    for days_ago in range(12, 4, -1):
        note(days_ago, MORNING_H + 8, "wren", CoatLogged(dry_um=3.0 if days_ago < 12 else 2.0))

    note(today + 4, 8, "heron", _added("mandola", "Heron", "lacquer-fine-start", "gloss", _day(start, -20, 17)))
    for days_ago, coats in ((today + 3, 3), (today + 2, 3)):
        for i in range(coats):
            note(days_ago, MORNING_H + 1.5 * i, "heron", CoatLogged(dry_um=12, how="67 µm wet, thinned 20 %"))
    comb = ReadingLogged(what="comb", zone="top", um=50, high_um=75, landed=0.18, place=(230, -20))
    note(today + 2, MORNING_H + 3.02, "heron", comb)
    note(today, 8.5, "heron", SandingLogged(um=2, grade="P400", purpose="scuff"))
    note(today, 9, "heron", CoatLogged(dry_um=12))
    if not only:
        note(20, 8.01, "", HoursSet(week=OPEN))
        note(20, 8.02, "", PersonSet(name="Ida", week=IDA))
        note(20, 8.03, "", PersonSet(name="Odd", week=ODD, buffs=False))
        shelf(note)
        book(note, lambda kind, name, method, sheen, days: _added(kind, name, method, sheen, _day(start, days, 17)))
    _others(note, start, today)
    told = sorted((e for e in out if not only or e[1] in ("", *only)), key=lambda e: e[0])
    return [(at, who, _numbered(body, told)) for at, who, body in told]


def _numbered(body: Kind, told: list[tuple[datetime, str, Kind]]) -> Kind:
    """What tells of the defect of this shop that was put right, or of a can, by its number in the journal."""
    if isinstance(body, OfLot):
        lot = lot_of(body)
        return replace(body, lot=next(n for n, (_, _, b) in enumerate(told, 1) if b is lot))
    numbers = {
        told_as: n
        for n, (_, _, b) in enumerate(told, 1)
        for told_as, defect in ((0, BRUSHED), (PRINT, PRINTED)) if b is defect
    }  # fmt: skip
    return body.renumbered(numbers) if isinstance(body, OfDefect | StepLogged) else body


def _others(note: Callable[[int, float, str, Kind], None], start: datetime, today: int) -> None:
    """The other benches: satin over gloss, waterborne, light-cured, an oil finish redone, and a varnished viola."""
    note(18, 8, "gannet", _added("bass", "Gannet", "satin-over-gloss", "satin", _day(start, -30, 17)))
    note(18, 9, "gannet", StepLogged(step="Sand the bare wood"))
    note(17, 9, "gannet", StepLogged(step="Fill the pores"))
    note(16, 8.5, "gannet", StepLogged(step="Mask what stays bare"))
    for days_ago in (16, 15, 14):
        for i in range(3):
            note(days_ago, MORNING_H + 1.5 * i, "gannet", CoatLogged(dry_um=12))

    note(today + 2, 8, "dunlin", _added("tenor-ukulele", "Dunlin", "waterborne-sprayed", "gloss", _day(start, -25, 17)))
    note(today + 1, 9, "dunlin", StepLogged(step="Mask what stays bare"))
    # The second coat came on too soon, which nobody saw until it clouded.
    for hour in (8.2, 8.7):
        note(today, hour, "dunlin", CoatLogged(dry_um=20))

    note(7, 8, "curlew", _added("solid-slab", "Curlew", "light-cured-polyester", "mirror", _day(start, -6, 17)))
    note(6, 9, "curlew", StepLogged(step="Mask what stays bare"))
    for hour in (9.5, 10.2, 12.5):
        note(6, hour, "curlew", CoatLogged(dry_um=120))
    note(6, 15, "curlew", ExposureLogged(dose_mJ_cm2=6000, how="100 min of sun, index 1"))
    # Coats that ran thinner than they were told: a gauge found it before the paper did.
    note(3, 17, "curlew", ReadingLogged(zone="top", um=186, n=3, place=(200, 30)))
    note(3, 17.1, "curlew", ReadingLogged(zone="sides", um=171, n=3))

    note(5, 8, "petrel", _added("mandola", "Petrel", "refinish-over-oil", "satin", None))
    note(5, 9, "petrel", StepLogged(step="Find out what is on it"))
    note(4, 9, "petrel", StepLogged(step="Degrease and cut back"))

    _mended(note)
    note(today, 9.6, "dunlin", MishapLogged(what="milky", zone="top", place=(120, 15)))
    note(12, 8, "siskin", _added("viola", "Siskin", "violin-varnish", "semi-gloss", _day(start, -60, 17)))
    note(11, 9, "siskin", StepLogged(step="Ground"))
    for days_ago in (8, 5):
        note(days_ago, 10, "siskin", CoatLogged(dry_um=15))


# A run in slow varnish, seen while it was wet and brushed out.
BRUSHED = MishapLogged(what="run", zone="back", size_mm=22)
BRUSH_OUT = Stage(
    kind="mend", label="Brush it out while it is wet", hours=0.1, mends=0, patch="back", spot=True, op="brush-out",
    id="mend-0-0-brush-out",
)  # fmt: skip


def _mended(note: Callable[[int, float, str, Kind], None]) -> None:
    """What went wrong on the viola, and how it was put right."""
    note(8, 10.2, "siskin", BRUSHED)
    note(8, 10.25, "siskin", RepairChosen(defect=0, name="Brush it out now", steps=(BRUSH_OUT,)))
    note(8, 10.4, "siskin", StepLogged(step=BRUSH_OUT.id))
    note(7, 9, "siskin", DefectLooked(defect=0, outcome="gone"))


def keep_plan(session: ShopSession, found: ShopPlanned) -> None:
    """The plan as it was kept, and the wet days that came between this morning."""
    from ravden.app import shop_acts

    shop_acts.keep(session, found)
    first = session.local(session.now).date() + timedelta(days=1)
    wet = tuple((first + timedelta(days=n)).isoformat() for n in range(WET_DAYS))
    session.log(DaysStruck(days=wet), origin="demo")


def plan(path: Path, start: datetime) -> None:
    """Plan the shop that was built, keep that plan, and let it rain."""
    from ravden.app.clock import HandClock
    from ravden.app.session import ShopSession
    from ravden.app.whole_plan import whole_plan

    session = ShopSession(shipped(), HandClock(start))
    session.open(path)
    try:
        asked = session.request
        days, _ = whole_plan(
            session.shop, start, lambda i, held, stays: replace(asked(i), held=held, stays=stays).run()
        )
        assert days.made is not None
        keep_plan(session, days.made)
    finally:
        session.close()


def build(path: Path, start: datetime, only: tuple[str, ...] = ()) -> None:
    """Write the shop file, replacing an earlier demo at the same path; only: with these instruments."""
    for old in (path, path.with_name(f"{path.name}-wal"), path.with_name(f"{path.name}-shm")):
        old.unlink(missing_ok=True)
    journal = Journal.create(path)
    try:
        for at, instrument, body in entries(start, only):
            if isinstance(body, HandedOver):
                body = replace(body, person=journal.person(TO[instrument]))
            journal.append(body, at=at, logged_at=at, instrument=instrument)
    finally:
        journal.close()
