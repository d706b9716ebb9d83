"""The paper in the hand: how it wears and loads with what it takes off (docs/maths.md)."""

from __future__ import annotations

import math

from msgspec import Struct

from ravden.core.abrasive.scratch import CUT_PER_GRAIN, USUAL_WEAR
from ravden.core.errors import need, need_above

WEAR_RATE, LOADED_LEFT = 1.4, 0.15  # [ENG] of wear on the cut; what is left of the cut in a paper that is clogged
HOLDS = {"wet": 1.2, "dry": 0.3}  # [ENG] um of loose film a grain holds, per um of grain, before it clogs
WIPED = 0.15  # [ENG] of the loose film that a wipe leaves
PILLS_AT = 1.6  # [A] of what the grain holds: from there on it rolls into pills that scratch


class Paper(Struct, frozen=True, kw_only=True):
    """A piece of paper: film it has taken through its face and film loose in its grain, both [um over the face]."""

    grain_um: float
    mode: str = "wet"
    through_um: float = 0.0
    loose_um: float = 0.0

    def __post_init__(self) -> None:
        need_above(self.grain_um, 0, "grain_um", 1000)
        need(self.mode in HOLDS, "mode", f"must be wet or dry (got {self.mode})")

    @property
    def holds_um(self) -> float:
        return HOLDS[self.mode] * self.grain_um

    @property
    def worn(self) -> float:
        """Wear, 0 fresh; 1 and more is worn out."""
        return self.through_um / (CUT_PER_GRAIN[self.mode] * self.grain_um)

    @property
    def loaded(self) -> float:
        """How full the grain is, 0 clean to 1 and above."""
        return self.loose_um / self.holds_um

    @property
    def pills(self) -> bool:
        return self.loaded > PILLS_AT

    @property
    def cut(self) -> float:
        """What it takes against a clean paper neither fresh nor worn out [-].

        .. math:: e^{-1.4 (W/(g d) - 0.45)}\\,(0.15 + 0.85\\,e^{-V/V_c})

        >>> round(Paper(grain_um=22).cut, 3)
        1.878
        """
        loaded = LOADED_LEFT + (1 - LOADED_LEFT) * math.exp(-self.loaded)
        return math.exp(-WEAR_RATE * (self.worn - USUAL_WEAR)) * loaded

    def after(self, um: float) -> Paper:
        """After taking so much film, spread over its face."""
        return Paper(
            grain_um=self.grain_um, mode=self.mode, through_um=self.through_um + um, loose_um=self.loose_um + um
        )

    def wiped(self) -> Paper:
        """Rinsed, or brushed out."""
        return Paper(grain_um=self.grain_um, mode=self.mode, through_um=self.through_um, loose_um=WIPED * self.loose_um)

    def new_piece(self) -> Paper:
        return Paper(grain_um=self.grain_um, mode=self.mode)
