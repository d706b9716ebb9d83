"""Papers and compounds the shop owns."""

from __future__ import annotations

from datetime import datetime
from typing import ClassVar

import msgspec
from msgspec.structs import replace

from ravden.catalogue.assemble import drawer_of
from ravden.journal.kinds.kind import OfShop
from ravden.journal.shop import Shop


class OwnAbrasive(msgspec.Struct, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """An abrasive the shop knows only by its micrometres."""

    label: str
    d50_um: float
    grain: str = "paper"


class DrawerSet(OfShop, frozen=True, tag="drawer"):
    """What the shop owns from then on: grade ids, abrasives of its own, wear by grade (0 fresh to 1 worn out), and the
    block papers are used on."""

    owned: tuple[str, ...]
    own: tuple[OwnAbrasive, ...] = ()
    wear: dict[str, float] = {}
    block: str = "firm"

    part: ClassVar[str] = "drawer"

    def check(self, shop: Shop, instrument: str, at: datetime) -> None:
        drawer_of(shop.catalogue, self)

    def onto(self, shop: Shop, instrument: str, at: datetime, entry: int) -> Shop:
        return replace(shop, drawer=self)
