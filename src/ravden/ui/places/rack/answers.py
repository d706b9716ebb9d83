"""What is answered under the days ahead, as plain data. No Qt."""

from __future__ import annotations

from msgspec import Struct


class WayShown(Struct, frozen=True, kw_only=True):
    """A way out. lines: its figures and what moves; may: it can be taken now."""

    name: str
    lines: tuple[str, ...]
    may: bool = True


class AnswerShown(Struct, frozen=True, kw_only=True):
    """An answer. asks_day: a day can be typed, hint: such as; ways: side by side; does: what the button beside the day
    does, empty for none; firm: whether the promise there is firm, None where none is asked about."""

    heading: str
    lines: tuple[str, ...] = ()
    asks_day: bool = False
    hint: str = ""
    ways: tuple[WayShown, ...] = ()
    does: str = ""
    firm: bool | None = None
