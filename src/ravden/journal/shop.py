"""A whole shop as the journal tells it."""

from collections.abc import Mapping

from msgspec import Struct, field
from msgspec.structs import replace

from ravden.catalogue.assemble import Owned
from ravden.catalogue.tables import Catalogue, shipped
from ravden.core.errors import InputError
from ravden.core.record import RATE_LN_SD
from ravden.core.record.word import Rule
from ravden.core.stock.lots import Stock
from ravden.journal.air import ShopAir
from ravden.journal.book import Booked
from ravden.journal.booth import BoothSession
from ravden.journal.crew import Crew, Kept
from ravden.journal.hours import ShopHours
from ravden.journal.rack import OnRack


class Shop(Struct, frozen=True, kw_only=True):
    """racked: in the order instruments came in; book: those handed over, in the order they went; rates: mean and sd of
    ln of a drying rate, by material; lamp_mW_cm2: of the curing lamp as last told, 0 where nobody said; crew: who works
    here and with what; kept: the plan it keeps to, None while the plan follows along; stock: cans on the shelf;
    per_hour: what hands cost, 0 where that is not reckoned; learning: what its user has said about figures of its
    own, by figure."""

    name: str = "Shop"
    racked: dict[str, OnRack] = field(default_factory=dict)
    book: Mapping[str, Booked] = field(default_factory=dict)
    air: ShopAir = field(default_factory=ShopAir)
    hours: ShopHours = field(default_factory=ShopHours)
    drawer: Owned | None = None
    prices: Mapping[str, float] = field(default_factory=dict)
    per_hour: float = 0.0
    rates: Mapping[str, tuple[float, float]] = field(default_factory=dict)
    lamp_mW_cm2: float = 0.0
    session: BoothSession | None = None
    crew: Crew = field(default_factory=Crew)
    kept: Kept | None = None
    stock: Stock = field(default_factory=Stock)
    learning: Mapping[str, Rule] = field(default_factory=dict)
    catalogue: Catalogue = field(default_factory=shipped)

    def on_rack(self, instrument_id: str) -> OnRack:
        if instrument_id in self.book:
            raise InputError(
                "instrument", f"{self.book[instrument_id].name} is in the Book: bring it back first", "book"
            )
        if instrument_id not in self.racked:
            raise InputError("instrument", f"there is no instrument {instrument_id} on the rack")
        return self.racked[instrument_id]

    def around(self, rack: OnRack) -> OnRack:
        """An instrument in the air, with the tables, rate and lamp of this shop."""
        rate = self.rates.get(rack.instrument.material, (0.0, RATE_LN_SD))
        return replace(
            rack, air=self.air, catalogue=self.catalogue, rate_ln=rate, lamp_mW_cm2=self.lamp_mW_cm2, stock=self.stock
        )

    def with_rack(self, rack: OnRack) -> "Shop":
        """The same with an instrument as it is now."""
        return replace(self, racked={**self.racked, rack.instrument.id: rack})

    def _all_around(self) -> "Shop":
        read = {
            i: b if b.rack is None else replace(b, rack=self.around(b.rack)) for i, b in self.book.items()
        }  # fmt: skip
        return replace(self, racked={i: self.around(r) for i, r in self.racked.items()}, book=read)

    def with_air(self, air: ShopAir) -> "Shop":
        """The same in other air."""
        return replace(self, air=air)._all_around()

    def with_rates(self, rates: Mapping[str, tuple[float, float]]) -> "Shop":
        """The same with other drying rates."""
        return replace(self, rates=rates)._all_around()

    def with_lamp(self, lamp_mW_cm2: float) -> "Shop":
        """The same with another lamp."""
        return self if lamp_mW_cm2 == self.lamp_mW_cm2 else replace(self, lamp_mW_cm2=lamp_mW_cm2)._all_around()

    def with_stock(self, stock: Stock) -> "Shop":
        """The same with another shelf."""
        return replace(self, stock=stock)._all_around()

    def with_catalogue(self, catalogue: Catalogue) -> "Shop":
        """The same with other tables."""
        return replace(self, catalogue=catalogue)._all_around()
