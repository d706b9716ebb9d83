"""What every kind of entry has: fields, what makes it impossible, and what it does to the shop."""

from __future__ import annotations

from datetime import datetime
from typing import Any, ClassVar

import msgspec

from ravden.core.errors import need
from ravden.core.record import Act
from ravden.journal.rack import OnRack
from ravden.journal.shop import Shop


class Kind(
    msgspec.Struct, frozen=True, forbid_unknown_fields=True, tag_field="kind", omit_defaults=True, kw_only=True
):  # fmt: skip
    """A kind of entry. Entries of one group are folded together, apart from all others: an instrument's, or those that
    tell one part of the shop.

    typed: its form as it was filled in, by field, with the units that was done in; empty where it came by a key.
    """

    typed: dict[str, str] = {}

    @property
    def by_machine(self) -> bool:
        """Whether a machine wrote it by itself, so that it is never what Undo takes back."""
        return False

    @property
    def turns_rack(self) -> bool:
        """Whether it takes an instrument off the rack or onto it, so that the order on the rack is told anew."""
        return False

    def group(self, instrument: str) -> str:
        """Which group an entry about an instrument, or about none, belongs to."""
        raise NotImplementedError

    @property
    def bears_on_plans(self) -> bool:
        """Whether an outlook may come out otherwise with it."""
        return True

    def renumbered(self, numbers: dict[int, int]) -> Kind:
        """The same in a journal where entries have other numbers: what it speaks of by number goes along."""
        return self

    def until(self, at: datetime) -> datetime:
        """The last moment it speaks of as having been."""
        return at

    def limits(self) -> None:
        """Raise InputError, naming the field, for what cannot be in any shop. It is asked wherever an entry comes from:
        when it is logged, brought in, reckoned with, and read from a file; before any work is done with it."""

    def check(self, shop: Shop, instrument: str, at: datetime) -> None:
        """Raise InputError, naming the field, unless it may be logged now, in this shop, as having happened at a
        moment."""

    def onto(self, shop: Shop, instrument: str, at: datetime, entry: int) -> Shop:
        """The shop with it; entry: its number in the journal. It is the newest of its group by time."""
        raise NotImplementedError


class OfShop(Kind, frozen=True):
    """Tells one part of the shop."""

    part: ClassVar[str]

    def group(self, instrument: str) -> str:
        return f"/{self.part}"


class OfInstrument(Kind, frozen=True):
    """Tells of one instrument on the rack."""

    def group(self, instrument: str) -> str:
        return instrument

    def check(self, shop: Shop, instrument: str, at: datetime) -> None:
        rack = shop.on_rack(instrument)
        need(at >= rack.added, "at", f"{rack.instrument.name} was not on the rack yet then")
        for gone, back in rack.away:
            told = f"{rack.instrument.name} was away then: handed over on {gone:%Y-%m-%d}, back on {back:%Y-%m-%d}"
            need(not gone < at < back, "at", told)
        self.check_on(rack, at)

    def check_on(self, rack: OnRack, at: datetime) -> None:
        """The same of an instrument that was there by then."""

    def onto(self, shop: Shop, instrument: str, at: datetime, entry: int) -> Shop:
        rack = shop.racked.get(instrument)
        return shop if rack is None else shop.with_rack(self.onto_rack(rack, at, entry))

    def onto_rack(self, rack: OnRack, at: datetime, entry: int) -> OnRack:
        """The instrument with it."""
        raise NotImplementedError


class Acted(OfInstrument, frozen=True):
    """Something done to an instrument: the core's act is made from it here, field by field of the same name."""

    made: ClassVar[type]

    def act(self, rack: OnRack, at: datetime, entry: int) -> Act:
        """The core's act. Raises InputError for quantities that cannot be."""
        act: Act = self.made(at_h=rack.hours(at), id=entry, **self.fields())
        return act

    def alone(self, rack: OnRack) -> bool:
        """Whether what is made of it rests on nothing that was done before, so that many are put on at once."""
        return True

    def fields(self) -> dict[str, Any]:
        """Its own fields by name, without what was typed."""
        return {name: getattr(self, name) for name in self.__struct_fields__ if name != "typed"}

    def check_on(self, rack: OnRack, at: datetime) -> None:
        self.check_act(rack, self.act(rack, at, 0))

    def check_act(self, rack: OnRack, act: Any) -> None:
        """Raise InputError where this cannot have been done to the instrument."""

    def onto_rack(self, rack: OnRack, at: datetime, entry: int) -> OnRack:
        return rack.acted(self.act(rack, at, entry))
