"""What the user says about a figure the shop has learnt: keep it as it is, go on, or begin anew from what is usual."""

from __future__ import annotations

from datetime import datetime
from typing import ClassVar

from msgspec.structs import replace

from ravden.core.errors import need
from ravden.core.record.word import (
    CUT,
    GUN,
    HOURS,
    MINUTES,
    POLISHING,
    SCRATCH,
    SINK,
    TEXTURE,
    ZONE,
    Rule,
)
from ravden.journal.kinds.kind import OfShop
from ravden.journal.shop import Shop

FREEZE, GO_ON, BACK = "freeze", "go-on", "back"
LEARNT = (CUT, SCRATCH, GUN, TEXTURE, MINUTES, POLISHING, HOURS, ZONE, SINK)
MOST_LETTERS = 200


class LearningRuled(OfShop, frozen=True, tag="learning"):
    """key: of which figure; what: freeze it at ln_mean and ln_sd, let it go on learning, or set it back, so that
    nothing from before counts."""

    key: str
    what: str
    ln_mean: float = 0.0
    ln_sd: float = 0.0

    part: ClassVar[str] = "learning"

    def limits(self) -> None:
        need(
            self.key.partition("/")[0] in LEARNT and len(self.key) <= MOST_LETTERS, "key", "is no figure that is learnt"
        )
        need(self.what in (FREEZE, GO_ON, BACK), "what", f"must be {FREEZE}, {GO_ON} or {BACK} (got {self.what})")
        if self.what == FREEZE:
            need(-3 <= self.ln_mean <= 3 and 0 < self.ln_sd <= 2, "ln_mean", "is no figure a shop could have")

    def onto(self, shop: Shop, instrument: str, at: datetime, entry: int) -> Shop:
        before = shop.learning.get(self.key, Rule())
        if self.what == FREEZE:
            rule = replace(before, frozen=(self.ln_mean, self.ln_sd), frozen_at=at)
        elif self.what == GO_ON:
            rule = replace(before, frozen=None, frozen_at=None)
        else:
            rule = Rule(since=at)
        return replace(shop, learning={**shop.learning, self.key: rule})
