"""What stands on the shelf of the made-up workshop: six products by names of its own, one too old, one short."""

from __future__ import annotations

from collections.abc import Callable

from ravden.core.stock.product import Can, Figures, Product
from ravden.journal.kinds.kind import Kind
from ravden.journal.kinds.stock import CanWeighed, LotBought, LotGone, LotOpened, OfLot, ProductTold

BENCH = Product(
    id="bench-lacquer", name="Bench lacquer", material="lacquer-sprayed",
    cans=(Can(ml=1000, price=28), Can(ml=5000, price=105)),
    figures=Figures(volume_solids=0.18, recoat_h=1.0, density_g_ml=0.93),
)  # fmt: skip
SATIN = Product(id="satin-lacquer", name="Satin lacquer", material="lacquer-satin", cans=(Can(ml=250, price=11),))
CLEAR = Product(
    id="water-clear", name="Water clear", material="waterborne", cans=(Can(ml=250, price=9), Can(ml=1000, price=26)),
    figures=Figures(sealed_months=24, open_months=12),
)  # fmt: skip
OIL = Product(id="wiping-oil", name="Wiping oil", material="polymerising-oil", cans=(Can(ml=500, price=17),))
POLISH = Product(id="pad-polish", name="Pad polish, own mix", material="shellac-pad", cans=(Can(ml=500),))
THINNER = Product(id="thinner", name="Lacquer thinner", kind="thinner", cans=(Can(ml=1000, price=9),))
FIRST = LotBought(product=BENCH.id, ml=1000, price=28, place="steel cupboard")
SECOND = LotBought(product=BENCH.id, ml=1000, price=28, place="steel cupboard")
WATER = LotBought(product=CLEAR.id, ml=500, price=15, place="shelf by the door")
OLD = LotBought(product=OIL.id, ml=500, price=15, place="top shelf")
MIXED = LotBought(product=POLISH.id, ml=500, place="top shelf")
THIN = LotBought(product=THINNER.id, ml=1000, price=9, place="steel cupboard")
# What happened to which can; its number is that of its entry in the journal.
TOLD: tuple[tuple[int, float, OfLot, LotBought], ...] = (
    (500, 10, LotOpened(lot=0), OLD), (140, 9, LotOpened(lot=0), WATER),
    (30, 18, CanWeighed(lot=0, left_ml=150, how="as seen", sd_ml=8), WATER), (100, 9, LotOpened(lot=0), THIN),
    (20, 8.5, LotOpened(lot=0), FIRST), (14, 8.4, LotGone(lot=0, what="empty"), FIRST),
    (14, 8.5, LotOpened(lot=0), SECOND),
    (2, 18.2, CanWeighed(lot=0, left_ml=265, how="395 g, of which the can 148 g"), SECOND),
    (12, 8.5, LotOpened(lot=0), MIXED),
)  # fmt: skip


def shelf(note: Callable[[int, float, str, Kind], None]) -> None:
    """Products, and cans bought; what happened to them follows."""
    for days, product, lots in (
        (700, OIL, (OLD,)), (160, CLEAR, (WATER,)), (150, THINNER, (THIN,)), (60, BENCH, (FIRST, SECOND)),
        (50, SATIN, (LotBought(product=SATIN.id, ml=250, price=11, place="steel cupboard"),)), (14, POLISH, (MIXED,)),
    ):  # fmt: skip
        note(days, 17, "", ProductTold(product=product))
        for n, lot in enumerate(lots):
            note(days, 17.1 + 0.1 * n, "", lot)
    for days, hour, body, _ in TOLD:
        note(days, hour, "", body)


def lot_of(body: OfLot) -> LotBought | None:
    """Which can something tells of."""
    return next((lot for _, _, told, lot in TOLD if told is body), None)
