"""What became of a defect: the repair chosen for it, and how it looked when somebody looked again."""

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
