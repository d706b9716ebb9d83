"""Everything that reads what others wrote, each with good inputs to spoil. A reader refuses with InputError or takes
it; whatever else it raises is a fault."""

import contextlib
import io
import json
import random
import shutil
import tempfile
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from unittest import mock

from msgspec import MsgspecError, convert
from PIL import Image

from ravden.app import compute, settings
from ravden.app.air_files import import_air
from ravden.app.clock import HandClock
from ravden.app.search import need_sense
from ravden.app.session import ShopSession
from ravden.app.stock_files import import_stock
from ravden.catalogue.method_files import read_method_file, write_method
from ravden.catalogue.tables import shipped
from ravden.core.errors import InputError
from ravden.core.schedule.dispatch import dispatch
from ravden.core.schedule.wire import SearchAsked, SearchTold, asked, pack, sent, unpack_told
from ravden.demo import ferrow_lane
from ravden.devices import protocol
from ravden.exchange import instrument, photo_child
from ravden.exchange.compute_schedule_in import ScheduleIn, problem_of
from ravden.exchange.photo_child import Refused
from ravden.journal.entry import Entry, decode, encode
from ravden.journal.fold import Fold
from ravden.journal.store import Journal
from tests.core.shops import shop as shop_case
from tests.test_mending import CASE as MENDING
from tests.test_stock import CASE as STOCK

NOW = datetime(2026, 5, 4, 15, tzinfo=UTC)
WHEN = [(d, h) for d in (1, 2, 3) for h in (1, 4, 7)]
CSV = (
    "Date/Time,Temperature (°C),Humidity (%)\n" + "".join(f"2026-05-0{d} 0{h}:30,2{h}.4,4{d}\n" for d, h in WHEN),
    "Datum;Uhrzeit;Temp °C;Feuchte %\n" + "".join(f"0{d}.05.2026;0{h}:30;2{h},4;4{d},5\n" for d, h in WHEN),
    "time,temp F,dew point F,rh\n" + "".join(f"5/{d}/2026 {h}:30:00 PM,6{h}.1,5{h}.0,4{d}\n" for d, h in WHEN),
    "2026-05-01 10:00,20.5,44\n2026-05-01 11:00,20.7,45\n",
)
LINES = (
    protocol.greeting("hygrometer", "back-room"), protocol.air_line(NOW, 18.5, 0.55), protocol.mass_line(NOW, 1.7),
)  # fmt: skip
COAT = {"at_h": 0, "dry_um": 10}
TOP = {"name": "top", "film_um": 120, "sd_um": 10, "area_cm2": 1200}
FILM = [
    {"kind": "coat", "nominal_dry_um": 12},
    {"kind": "sand", "um": {"top": 5}},
    {"kind": "gauge", "zone": "top", "um": 30, "n": 3},
    {"kind": "card", "um": 20},
    {"kind": "volume", "dry_equivalent_um": 9},
]
CASES = {
    "cure": {"material": "lacquer-sprayed", "coats": [COAT, {"at_h": 3, "dry_um": 9, "material": "shellac-pad"}],
             "until_h": 300, "sample_h": [5, 50], "sand": [{"at_h": 40, "um": 2}],
             "climate": [{"at_h": 0, "temp_C": 18, "rh": 0.6}], "light": [{"at_h": 9, "dose_mJ_cm2": 300}]},
    "film": {"zones": [{"name": "top", "area_cm2": 1200, "k_mean": 1}], "events": FILM,
             "applicator": {"ln_mean": 0.1, "ln_sd": 0.1}, "priors": {"g_ln_sd": 0.3}},
    "rubout": {"texture_um": 18, "zones": [TOP], "target": "mirror"},
    "plan": {"start": "2026-01-12T09:00:00+00:00", "now_h": 30,
             "instrument": {"kind": "mandola", "method": "lacquer-fine-start", "sheen": "gloss"},
             "acts": [{"kind": "coat", "at_h": 1, "dry_um": 12}, {"kind": "sanding", "at_h": 9, "um": 2}]},
}  # fmt: skip


SHOP = {**shop_case(1, 2), "effort": {"rounds": 0}}
CASES |= {
    "schedule": SHOP, "repair": MENDING, "stock": STOCK,
    "level": {"surface": [{"kind": "peel", "pv_um": 18, "lambda_mm": [1.5, 5], "seed": 3}], "cells": 64,
              "sample_n": [1, 20], "paper": {"grain_um": 22.0, "kappa_um_kPa_m": 0.38}},
}  # fmt: skip
SHARES = {"plan": 1, "rubout": 4, "schedule": 4, "repair": 1, "level": 2}
SHELVES = (
    "product,what,finish,sizes,content_ml,price,bought,opened,use_by,place\n"
    'Bench,finish,lacquer-sprayed,"500, 1000 30.50",1000,26.50,2026-04-01,2026-04-03,2027-01-01,door\n'
    "Thin,thinner,lacquer-sprayed,1000,900,9,2026-04-02,,,\n",
    "Product;What;Content_ml;Bought\nPolish;polish;1.000,5;2026-04-01\n",
)


class _Back(Exception):
    """All of it again as it was."""


def a_search() -> SearchAsked:
    """A search in a made-up shop."""
    made = problem_of(convert(shop_case(2, 3), ScheduleIn))
    return asked(made, start=sent(dispatch(made).plan), rounds=0, seconds=0.1)


def _pictures() -> tuple[bytes, ...]:
    out = []
    for kind in ("JPEG", "PNG"):
        raw = io.BytesIO()
        Image.effect_noise((60, 40), 30).convert("RGB").save(raw, format=kind)
        out.append(raw.getvalue())
    return tuple(out)


@dataclass(frozen=True, slots=True, kw_only=True)
class Reader:
    """share: how often it is its turn; also: what else it may raise."""

    name: str
    seeds: tuple[bytes, ...]
    read: Callable[[bytes], object]
    share: int
    also: tuple[type[Exception], ...] = ()


def refuses(reader: Reader, raw: bytes) -> bool:
    """Read it; whether it was refused."""
    try:
        reader.read(raw)
    except (InputError, *reader.also):
        return True
    return False


@contextlib.contextmanager
def readers() -> Iterator[tuple[Reader, ...]]:
    """All of them, on a demo shop of their own."""
    folder = Path(tempfile.mkdtemp())
    # To prove that no plan is better is work that was asked for, and takes the seconds it was given.
    unproved = mock.patch("ravden.core.schedule.exact.available", return_value=False)
    try:
        with contextlib.ExitStack() as opened, unproved:
            yield _readers(folder, opened)
    finally:
        shutil.rmtree(folder)


def _readers(folder: Path, opened: contextlib.ExitStack) -> tuple[Reader, ...]:
    path = folder / "lane.ravden"
    ferrow_lane.build(path, NOW, ("heron", "wren"))
    session = ShopSession(shipped(), HandClock(NOW))
    session.open(path)
    whole = session.everything()
    exported = tuple(
        instrument.write(whole, session.shop, name) for name in ("heron", "wren")
    )  # fmt: skip
    shop = session.shop
    session.close()
    raw_shop = path.read_bytes()

    def one_entry(raw: bytes) -> None:
        body = decode(raw.decode())
        for about in ("heron", ""):
            entry = Entry(id=len(whole) + 1, at=NOW, logged_at=NOW, instrument=about, body=body)
            Fold([*whole, entry], shipped())

    def one_file(raw: bytes) -> None:
        file = folder / "spoilt.ravden"
        file.write_bytes(raw)
        for beside in folder.glob("spoilt*-*"):
            beside.unlink()
        spoilt = ShopSession(shipped(), HandClock(NOW))
        try:
            spoilt.open(file)
        finally:
            spoilt.close()

    def bring_in(raw: bytes) -> None:
        found = instrument.read(raw, "x.json")
        journal = Journal.create(folder / "into.ravden")
        try:
            name, written = instrument.bring_in(found, "x.json", journal, whole, shop)
        except InputError:
            assert journal.entries() == []
            raise
        else:
            there = Fold([*whole, *(e for e in written)], shipped())
            assert not set(there.aside) & {e.id for e in written}
            if name in there.shop.racked:
                there.shop.racked[name].project_at(NOW)
        finally:
            journal.close()
            (folder / "into.ravden").unlink()

    def air(raw: bytes) -> None:
        file = folder / "air.csv"
        file.write_bytes(raw)
        logged: list[object] = []

        class Stand:
            shop = session.shop
            now = NOW

            def log(self, body: object, **_: object) -> None:
                body.limits()  # type: ignore[attr-defined]
                body.check(self.shop, "", NOW)  # type: ignore[attr-defined]
                logged.append(body)

        for source in ("log", "forecast"):
            with contextlib.suppress(InputError):
                import_air(Stand(), file, source)  # type: ignore[arg-type]

    def remembered(raw: bytes) -> None:
        file = folder / "settings.json"
        file.write_bytes(raw)
        settings.load(file)

    beside = ShopSession(shipped(), HandClock(NOW))
    ferrow_lane.build(folder / "shelf.ravden", NOW, ("heron",))
    beside.open(folder / "shelf.ravden")
    opened.callback(beside.close)

    def shelf(raw: bytes) -> None:
        file = folder / "shelf.csv"
        file.write_bytes(raw)
        many = len(beside.entries)
        with contextlib.suppress(_Back), beside.one_act():
            import_stock(beside, file)
            raise _Back
        assert len(beside.entries) == many

    request = a_search()

    def wire(raw: bytes) -> None:
        need_sense(request, unpack_told(raw))

    methods = tuple(write_method(shipped().method(m)).encode() for m in ("lacquer-fine-start", "shellac-pad-rounds"))
    bodies = tuple(dict.fromkeys(encode(e.body).encode() for e in whole))
    table = {
        "entry": Reader(name="entry", seeds=bodies, read=one_entry, share=12, also=(UnicodeError,)),
        "shop": Reader(name="shop", seeds=(raw_shop,), read=one_file, share=2),
        "instrument": Reader(name="instrument", seeds=exported, read=bring_in, share=8),
        "method": Reader(
            name="method", seeds=methods, share=12,
            read=lambda raw: read_method_file(raw.decode(errors="replace"), "x.toml", shipped()),
        ),
        "air": Reader(name="air", seeds=tuple(c.encode() for c in CSV), read=air, share=16),
        "sensor": Reader(
            name="sensor", seeds=tuple(line.encode() for line in LINES), share=12, also=(ValueError,),
            read=lambda raw: protocol.parse(raw.decode(errors="replace")),
        ),
        "settings": Reader(
            name="settings", seeds=(b'{"units": "us", "window": [1, 2, 3, 4]}',), read=remembered, share=4,
        ),
    }  # fmt: skip
    table["shelf"] = Reader(name="shelf", seeds=tuple(t.encode() for t in SHELVES), read=shelf, share=6)
    table["photo"] = Reader(
        name="photo", seeds=_pictures(), share=6, also=(Refused,), read=lambda raw: photo_child.decoded(raw, 0, 1),
    )  # fmt: skip
    lamps = ("low", "low-other")
    shots = [{"path": str(folder / f"{lamp}.png"), "lamp": lamp} for lamp in lamps]
    for lamp in lamps:
        (folder / f"{lamp}.png").write_bytes(_pictures()[1])
    looked = {"shots": shots, "size_mm": [90, 90], "corners_px": [[4, 4], [54, 5], [55, 36], [5, 35]]}
    table["inspect"] = Reader(
        name="inspect", seeds=(json.dumps(looked).encode(),), share=1, read=lambda raw: compute.run("inspect", raw),
    )  # fmt: skip
    told = SearchTold(seconds=1.0, plan=request.start, over=True)
    table["wire"] = Reader(
        name="wire", seeds=(pack(told)[8:],), share=10, read=wire,
        also=(MsgspecError, ValueError, LookupError, ArithmeticError),
    )  # fmt: skip
    for kind, case in CASES.items():
        table[kind] = Reader(
            name=kind, seeds=(json.dumps(case).encode(),), share=SHARES.get(kind, 10),
            read=lambda raw, kind=kind: compute.run(kind, raw),
        )  # fmt: skip
    return tuple(table.values())


def pick(all_of: tuple[Reader, ...], chance: random.Random) -> Reader:
    """One of them, by its share."""
    return chance.choices(all_of, [r.share for r in all_of])[0]
