"""A made-up shop in which everything happens that the demo leaves out: each kind of reading, air from every source, two
finishes on one instrument, counts not known for sure, hands and papers learnt, mishaps, a session with a mix."""

from datetime import timedelta

from ravden.catalogue.assemble import measures_of
from ravden.catalogue.tables import shipped
from ravden.journal.entry import iso
from ravden.journal.kinds.air import AirLogged, AirSeries, AirUsual
from ravden.journal.kinds.booth_acts import PassLogged
from ravden.journal.kinds.cabinet import CabinetLogged
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.drawer import DrawerSet, OwnAbrasive
from ravden.journal.kinds.hours import HoursSet
from ravden.journal.kinds.instrument import InstrumentAdded
from ravden.journal.kinds.light import ExposureLogged
from ravden.journal.kinds.look import LookNoted
from ravden.journal.kinds.mishap import MishapLogged
from ravden.journal.kinds.price import PriceSet
from ravden.journal.kinds.rate import RateAccepted
from ravden.journal.kinds.reading import ReadingLogged
from ravden.journal.kinds.sanding import SandingLogged
from ravden.journal.kinds.session import MixMade, SessionBegun
from ravden.journal.kinds.shop_name import ShopNamed
from ravden.journal.kinds.zones import ZonesSet

DAYS = 40
OWN = tuple(
    OwnAbrasive(label=kind, d50_um=um, grain=kind) for kind, um in (("cushion", 11.0), ("wool", 9.0), ("stone", 14.0))
)
BODIES = (
    ("lapwing", "parlour-guitar", "lacquer-fine-start", "gloss"),
    ("dotterel", "solid-body", "two-part-clear", "mirror"),
    ("bittern", "mandola", "shellac-under-waterborne", "semi-gloss"), ("knot", "bass", "acrylic-lacquer", "satin"),
    ("ruff", "viola", "violin-varnish", "gloss"), ("brent", "solid-slab", "light-cured-polyester", "gloss"),
    ("rail", "tenor-ukulele", "oil-wiped", "satin"), ("godwit", "solid-body", "shellac-pad-rounds", "gloss"),
)  # fmt: skip


def entries(now):
    """In the order they were logged: (when, instrument, body)."""
    out = []

    def note(days_ago, hour, instrument, body):
        out.append((now - timedelta(days=days_ago) + timedelta(hours=hour - 15), instrument, body))

    note(DAYS, 7, "", ShopNamed(name="Heath Row"))
    week = dict.fromkeys(("mon", "tue", "wed", "thu", "fri"), ((8.0, 12.0), (13.0, 17.5)))
    note(DAYS, 7.01, "", HoursSet(zone="Europe/London", week=week))
    months = tuple(12.0 + 9.0 * (1 - abs(m - 6.5) / 5.5) for m in range(1, 13))
    note(DAYS, 7.02, "", AirUsual(temp_C=months, rh=tuple(0.70 - 0.015 * m for m in range(12))))
    hours = tuple(float(h) for h in range(0, 24 * 9, 3))
    log = AirSeries(
        source="log", hours=hours, temp_C=tuple(19 + 3.5 * ((h // 6) % 2) for h in hours),
        rh=tuple(0.45 + 0.01 * (h % 5) for h in hours), name="logger",
    )  # fmt: skip
    note(DAYS - 12, 8, "", log)
    note(3, 8, "", AirLogged(temp_C=18.5, rh=0.58))
    coming = AirSeries(source="forecast", hours=(0.0, 24.0, 48.0), temp_C=(17.0, 22.0, 20.0), rh=(0.6, 0.4, 0.5))
    note(0, 9, "", coming)
    note(DAYS, 7.03, "", PriceSet(material="lacquer-sprayed", per_litre=24.0))
    note(DAYS, 7.04, "", RateAccepted(material="acrylic-lacquer", ln_mean=-0.18, ln_sd=0.11))
    grades = tuple(f"FEPA-P:P{n}" for n in (320, 400, 500, 600, 800, 1000, 1200, 1500, 2000))
    note(DAYS, 7.05, "", DrawerSet(owned=grades, wear={"FEPA-P:P800": 0.6}, block="foam", own=OWN))
    tables = shipped()
    for i, (name, kind, method, sheen) in enumerate(BODIES):
        material = tables.material(tables.method(method).material)
        note(
            DAYS, 8 + i / 100, name,
            InstrumentAdded(
                id=name, name=name.title(), instrument_kind=kind, measures=measures_of(tables.kind(kind)), sheen=sheen,
                material=material.id, method=method, min_film_um=tables.method(method).least_um(material),
                ground="open-grain" if i % 2 else "close-grain", bench_C=19.0 + i / 4,
                promised=iso(now + timedelta(days=20 + i)),
            ),
        )  # fmt: skip
    _lacquer(note)
    _others(note)
    return sorted(out, key=lambda e: e[0])


def _lacquer(note):
    """Every kind of reading, and hands learnt from gauges and minutes."""
    for days_ago, coats in ((37, 3), (36, 3), (35, 3), (34, 2)):
        for i in range(coats):
            note(days_ago, 9 + 1.5 * i, "lapwing", CoatLogged(dry_um=12.5))
        note(days_ago, 9.03, "lapwing", ReadingLogged(what="comb", zone="back", um=50, high_um=75, landed=0.17))
    note(34, 16, "lapwing", CoatLogged(dry_um=11, count=2, count_odds=((2, 0.6), (3, 0.4))))
    note(34, 17, "lapwing", ReadingLogged(what="volume", um=11.4, how="300 ml"))
    note(33, 9, "lapwing", ReadingLogged(what="card", um=131, how="1.77 g"))
    note(33, 9.1, "lapwing", ReadingLogged(what="micrometer", um=139))
    note(30, 9, "lapwing", ReadingLogged(what="nail-dents"))
    note(22, 9, "lapwing", ReadingLogged(what="print"))
    note(16, 9, "lapwing", ReadingLogged(what="no-print"))
    note(16, 9.1, "lapwing", ReadingLogged(what="smells"))
    note(10, 9, "lapwing", ReadingLogged(zone="top", um=128, n=3, place=(200, 40)))
    note(10, 10, "lapwing", SandingLogged(um=9, grade="P600", purpose="level", minutes=38, mode="wet", zones=("top",)))
    note(10, 11, "lapwing", ReadingLogged(zone="top", um=117, n=4, place=(210, -30)))
    note(8, 10, "lapwing", SandingLogged(um=2, grade="P400", purpose="scuff", zones=("back", "sides")))
    note(10, 11.2, "lapwing", ReadingLogged(what="not-through", zone="edges"))
    note(9, 10, "lapwing", SandingLogged(um=3, grade="P1000", purpose="level", minutes=30, mode="wet", zones=("top",)))
    note(9, 11, "lapwing", ReadingLogged(what="gloss", zone="top", gu60=9.0))
    note(9, 11.5, "lapwing", ReadingLogged(what="through", zone="edges", spot=True))
    note(9, 12, "lapwing", MishapLogged(what="nib", zone="back"))
    note(9, 13, "lapwing", LookNoted(zone="top", said="lows-left", grade="P1000", lit_share=0.08, spots=12))


def _others(note):
    for days_ago in (30, 29):
        for i in range(2):
            note(days_ago, 9 + 2 * i, "dotterel", CoatLogged(dry_um=35))
    note(28, 9, "dotterel", ReadingLogged(zone="back", um=118, n=2))
    note(30, 8.5, "bittern", ZonesSet(masked=("head",)))
    for days_ago in (28, 27, 26):
        note(days_ago, 10, "bittern", CoatLogged(dry_um=3))
    note(20, 10, "bittern", CoatLogged(dry_um=18, finish="waterborne"))
    note(20, 13, "bittern", CoatLogged(dry_um=18, finish="waterborne"))
    note(25, 8.5, "knot", ZonesSet(finishes={"neck": "polymerising-oil"}))
    for days_ago in (24, 23, 22):
        for i in range(3):
            note(days_ago, 9 + i, "knot", CoatLogged(dry_um=12))
    note(21, 9, "knot", CoatLogged(dry_um=4, zones=("neck",), finish="polymerising-oil"))
    note(21, 12, "knot", CabinetLogged(hours=20, temp_C=32, rh=0.3))
    for days_ago in (30, 26, 22, 18):
        note(days_ago, 9, "ruff", CoatLogged(dry_um=14))
    note(17, 9, "ruff", SandingLogged(um=3, grade="P400", purpose="scuff"))
    note(12, 9, "brent", CoatLogged(dry_um=110, count=2))
    note(12, 14, "brent", ExposureLogged(dose_mJ_cm2=2500))
    note(11, 9, "brent", CoatLogged(dry_um=110))
    for days_ago in (15, 13, 11):
        note(days_ago, 9, "rail", CoatLogged(dry_um=5))
    for days_ago in range(20, 8, -2):
        note(days_ago, 10, "godwit", CoatLogged(dry_um=2.5, count=3, over_h=4.0))
    note(0, 13, "", SessionBegun(instruments=("dotterel", "godwit")))
    note(0, 13.1, "", MixMade(material="two-part-clear", ml=120))
    note(0, 13.4, "dotterel", PassLogged())
