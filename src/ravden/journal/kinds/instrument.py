"""An instrument comes onto the rack."""

from __future__ import annotations

import re
from datetime import datetime

from ravden.catalogue.method_files import MOST_STAGES, check_stages
from ravden.core.errors import InputError, need
from ravden.core.method.slots import named
from ravden.core.method.steps import Stage
from ravden.core.record import Instrument, Measures
from ravden.journal.crew import moment
from ravden.journal.kinds.kind import Kind
from ravden.journal.rack import OnRack
from ravden.journal.shop import Shop

ID = r"[A-Za-z0-9][A-Za-z0-9._-]{0,79}"


class InstrumentAdded(Kind, frozen=True, tag="instrument"):
    """An instrument came onto the rack. promised: ISO date and time, UTC; plan: steps of its own in the place of its
    method's, such as with other numbers of coats."""

    id: str
    name: str
    instrument_kind: str
    measures: Measures
    material: str
    method: str
    sheen: str
    min_film_um: float
    bench_C: float = 20.0
    promised: str | None = None
    ground: str = "sealed"
    plan: tuple[Stage, ...] = ()

    def group(self, instrument: str) -> str:
        return self.id

    def check(self, shop: Shop, instrument: str, at: datetime) -> None:
        need(self.id not in shop.racked, "id", "there is an instrument with this id already")
        need(self.id not in shop.book, "id", "there is an instrument with this id in the Book")
        check_stages(self.plan, shop.catalogue)

    def limits(self) -> None:
        need(bool(re.fullmatch(ID, self.id)), "id", "must be letters, digits, points and hyphens, at most 80 of them")
        need(len(self.plan) <= MOST_STAGES, "plan", f"at most {MOST_STAGES} steps")
        if self.promised is not None:
            moment(self.promised, "promised")

    def onto(self, shop: Shop, instrument: str, at: datetime, entry: int) -> Shop:
        made = OnRack(
            zero=at, added=at, instrument=self.record(at), acts=(), plan=named(self.plan), catalogue=shop.catalogue,
            finishes=shop.catalogue.parts_meant(self.method),
        )  # fmt: skip
        return shop.with_rack(shop.around(made))

    def record(self, zero: datetime) -> Instrument:
        """The core's record; the promise counted in hours from zero."""
        promised: float | None = None
        if self.promised is not None:
            try:
                promised = (datetime.fromisoformat(self.promised) - zero).total_seconds() / 3600
            except (ValueError, TypeError):
                raise InputError("promised", f"{self.promised} is not a date and time") from None
        return Instrument(
            id=self.id, name=self.name, kind=self.instrument_kind, measures=self.measures, material=self.material,
            method=self.method, sheen=self.sheen, min_film_um=self.min_film_um, bench_C=self.bench_C,
            promised_h=promised, ground=self.ground,
        )  # fmt: skip
