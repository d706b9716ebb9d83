"""What hands do now, one class for each kind of turn."""

from dataclasses import dataclass, fields
from typing import Any, ClassVar, TypeVar


@dataclass(frozen=True, slots=True, kw_only=True)
class Turn:
    """due_h: when the film is ready for it [h], None: nobody knows; since_h: when the last act was, None: nothing yet;
    label: what it is called; index: the step of the method; coat, coats: which of how many, in_session of per_session;
    finish, by, um, zones: of that coat, zones none for all; nth_pass, passes: which of how many passes, times or faces;
    off_plan: the session does this though the plan has it not, and coats are those of this session, of no set number;
    clock_back: the last act lies ahead of the clock, so nothing can be counted down; mends, spot: of a repair, as its
    step has them."""

    due_h: float | None
    since_h: float | None
    label: str
    index: int = 0
    coat: int
    coats: int
    in_session: int
    per_session: int
    finish: str = ""
    by: str = ""
    um: float | None = None
    zones: tuple[str, ...] = ()
    nth_pass: int = 1
    passes: int = 1
    off_plan: bool = False
    clock_back: bool = False
    mends: int = 0
    spot: bool = False

    KIND: ClassVar[str] = ""

    @property
    def kind(self) -> str:
        """pass, coat, stop, care, light, lit, mend, other or done."""
        return self.KIND


T = TypeVar("T", bound=Turn)


def turned(kind: type[T], turn: Turn, **told: Any) -> T:
    """A turn of another kind, of the same coat at the same step, with what is told of it."""
    same = {f.name: getattr(turn, f.name) for f in fields(Turn)}
    return kind(**(same | told))


@dataclass(frozen=True, slots=True, kw_only=True)
class CoatTurn(Turn):
    """A pass of a coat, the first where it is not begun. what, how: the pass is called, and laid; before: work by hand
    that the plan has before it and nobody has logged."""

    begun: bool = False
    what: str = ""
    how: str = ""
    before: str = ""

    @property
    def kind(self) -> str:
        return "pass" if self.begun else "coat"

    @property
    def ends_coat(self) -> bool:
        """Whether the next act is the last pass, and so the coat."""
        return self.nth_pass >= self.passes


@dataclass(frozen=True, slots=True, kw_only=True)
class StopTurn(Turn):
    """Enough for today."""

    KIND: ClassVar[str] = "stop"


@dataclass(frozen=True, slots=True, kw_only=True)
class CareTurn(Turn):
    """What a resting coat wants before the next act: turn, or wipe."""

    what: str
    how: str

    KIND: ClassVar[str] = "care"


@dataclass(frozen=True, slots=True, kw_only=True)
class LightTurn(Turn):
    """The lamp on these zones for so many seconds; on: it is lit."""

    on: bool
    how: str
    seconds: float
    mW_cm2: float

    @property
    def kind(self) -> str:
        return "lit" if self.on else "light"


@dataclass(frozen=True, slots=True, kw_only=True)
class MendTurn(Turn):
    """A step of a repair that is no coat: a cut on its patch, cleaning, colour; how it is done."""

    how: str

    KIND: ClassVar[str] = "mend"


@dataclass(frozen=True, slots=True, kw_only=True)
class OtherTurn(Turn):
    """No coat is next: paper, a wait, or other work."""

    KIND: ClassVar[str] = "other"


@dataclass(frozen=True, slots=True, kw_only=True)
class DoneTurn(Turn):
    """All steps are done."""

    KIND: ClassVar[str] = "done"
