"""What became of a defect: the repair chosen for it, and how it looked when somebody looked again."""

import functools
from collections.abc import Callable, Mapping

from msgspec import Struct

from ravden.core.method.steps import Stage

OUTCOMES = ("gone", "better", "still", "lived-with")
CLOSED = ("gone", "better", "lived-with")


class Mending(Struct, frozen=True, kw_only=True):
    """chosen: the repair's name, empty while there is none; steps: its own; later: with the next levelling; chosen_h:
    when; left_off: begun and left; outcome: as it looked last, at looked_h."""

    chosen: str = ""
    steps: tuple[Stage, ...] = ()
    later: bool = False
    chosen_h: float = 0.0
    left_off: bool = False
    outcome: str = ""
    looked_h: float | None = None

    @property
    def closed(self) -> bool:
        """Whether nothing more is to be done about it."""
        return self.outcome in CLOSED


class Moves:
    """Where steps of a plan went as a repair came into it or left it: worked out when somebody asks, since opening a
    shop file does without. Two are the same where they say the same."""

    def __init__(self, work: Callable[[], Mapping[int, tuple[int, int]]]) -> None:
        self._work = work

    @functools.cached_property
    def places(self) -> Mapping[int, tuple[int, int]]:
        """By the place a step had: the one it has, and how many of its coats stand before it now."""
        return self._work()

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Moves) and self.places == other.places

    def __hash__(self) -> int:
        return hash(tuple(self.places.items()))
