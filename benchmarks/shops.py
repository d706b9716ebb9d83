"""Makes shop files of many years: instruments finished one after another, handed over, and the air of all that time;
and opens a window on the demo shop."""

import contextlib
import math
import os
import tempfile
from collections.abc import Iterator
from datetime import datetime, timedelta
from pathlib import Path
from typing import Any

from ravden.app.clock import HandClock
from ravden.app.lessons import Kept
from ravden.app.session import ShopSession
from ravden.catalogue.assemble import measures_of
from ravden.catalogue.tables import shipped
from ravden.journal.entry import iso
from ravden.journal.kinds.air import AirLogged
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.handed_over import HandedOver
from ravden.journal.kinds.instrument import InstrumentAdded
from ravden.journal.kinds.reading import ReadingLogged
from ravden.journal.kinds.sanding import SandingLogged
from ravden.journal.kinds.session import SessionBegun, SessionEnded
from ravden.journal.store import Journal, Row

KINDS = ("solid-slab", "parlour-guitar", "mandola", "tenor-ukulele")
METHODS = ("lacquer-fine-start", "lacquer-contrast-grain", "shellac-pad-rounds", "waterborne-sprayed", "two-part-clear",
           "varnish-brushed")  # fmt: skip
COATS, BATCH = 10, 20_000


def instrument(number: int, start: datetime, handed: datetime | None) -> list[Row]:
    """A job: coats over five days, a reading, a level, and the hand-over."""
    catalogue = shipped()
    name, method = f"job-{number:04d}", catalogue.method(METHODS[number % len(METHODS)])
    kind = KINDS[number % len(KINDS)]
    dry = catalogue.material(method.material).coat_dry_um
    body = InstrumentAdded(
        id=name, name=f"Job {number}", instrument_kind=kind, material=method.material, method=method.id, sheen="gloss",
        measures=measures_of(catalogue.kind(kind)), min_film_um=50.0,
    )  # fmt: skip
    acts: list[tuple[float, str, object]] = [(0.0, "", body)]
    for i in range(COATS):
        day = 24.0 * (i // 3) + 4.0 * (i % 3) + 2.0
        if i % 3 == 0:
            acts.append((day - 0.2, "", SessionBegun(instruments=(name,))))
        acts.append((day, name, CoatLogged(dry_um=dry)))
        if i % 3 == 2:
            acts.append((day + 0.3, "", SessionEnded()))
    acts.append((24.0 * 12, name, ReadingLogged(zone="top", um=0.9 * COATS * dry, n=3)))
    acts.append((24.0 * 20, name, SandingLogged(um=8.0, grade="P800", purpose="level")))
    rows = [Row(body=b, at=start + timedelta(hours=h), logged_at=start + timedelta(hours=h), instrument=i)
            for h, i, b in acts]  # fmt: skip
    if handed is not None:
        rows.append(Row(body=HandedOver(), at=handed, logged_at=handed, instrument=name))
        return rows
    return rows


def air(start: datetime, now: datetime, every_h: float) -> list[Row]:
    out, at, i = [], start, 0
    while at < now:
        temp = 20 + 3 * math.sin(i / 24 * every_h * 6.283) + math.sin(i * 0.013)
        out.append(Row(body=AirLogged(temp_C=round(temp, 1), rh=0.5), at=at, logged_at=at))
        at, i = at + timedelta(hours=every_h), i + 1
    return out


def build(path: Path, now: datetime, *, past: int, years: float, racked: int, every_h: float) -> None:
    """A shop file: so many instruments of the past spread over the years, and racked ones begun over the last weeks."""
    start = now - timedelta(days=365.25 * years)
    rows: list[Row] = []
    for i in range(past):
        begun = start + timedelta(days=i * (365.25 * years - 90) / max(past, 1))
        rows += instrument(i, begun, begun + timedelta(days=45))
    for i in range(racked):
        rows += [r for r in instrument(past + i, now - timedelta(days=2 + 28 * i / racked), None) if r.at <= now]
    rows += air(start, now, every_h) if every_h else []
    rows.sort(key=lambda r: r.at)
    journal = Journal.create(path)
    for i in range(0, len(rows), BATCH):
        journal.append_all(rows[i : i + BATCH])
    # What each taught is worked out when it is handed over through the window; here it is said.
    for i in range(past):
        kept = f"job-{i:04d}"
        newest = journal.names("SELECT max(id) FROM entry WHERE instrument = ?", (kept,))[0]
        begun = start + timedelta(days=i * (365.25 * years - 90) / max(past, 1))
        journal.keep_lesson(kept, int(newest), _taught(i, begun + timedelta(days=45)))
    journal.close()


def _taught(i: int, handed: datetime) -> str:
    """The gun, and a word on the texture, on two grades and on three zones, as an instrument that was measured says."""
    import msgspec

    at, method = iso(handed), METHODS[i % len(METHODS)]
    keys = (f"texture/{method}", "minutes/FEPA-P:P800", "minutes/FEPA-P:P1200", "hours/coats",
            *(f"zone/waisted/spray/{zone}" for zone in ("top", "back", "sides")))  # fmt: skip
    said = tuple((key, at, round(0.2 * math.sin(i + n), 4), 0.3) for n, key in enumerate(keys))
    return msgspec.json.encode(Kept(coated=True, ln=0.05 * math.sin(i), var=0.02, said=said)).decode()


def opened(path: Path, now: datetime) -> ShopSession:
    session = ShopSession(shipped(), HandClock(now))
    session.open(path)
    return session


@contextlib.contextmanager
def demo_window(now: datetime, every_h: float = 0.0) -> Iterator[tuple[Any, HandClock]]:
    """A window on the demo shop, offscreen and settled, with a year of readings so far apart if that is asked for."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from ravden.demo import ferrow_lane
    from ravden.ui.app import make_app, make_window
    from ravden.ui.shots import settle

    app = make_app(["ravden"])
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "lane.ravden"
        ferrow_lane.build(path, now)
        if every_h:
            journal = Journal.open(path)
            journal.append_all(air(now - timedelta(days=365), now, every_h))
            journal.close()
        clock = HandClock(now)
        window = make_window(app, clock=clock, settings_file=path.with_suffix(".json"), path=path)
        window.resize(1280, 800)
        window.show()
        window.begin()
        settle(window)
        try:
            yield window, clock
        finally:
            window.close()
