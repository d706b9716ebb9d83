"""What is worth telling on the desktop: changes from one look at the shop to the next. No Qt."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import TYPE_CHECKING

from ravden.app.session import ShopSession
from ravden.text import words, written

if TYPE_CHECKING:
    from ravden.core.ahead.outlook import Outlook

SOON = timedelta(hours=1)  # before a window shuts
OPENS = {"scuff": "it may be scuffed", "level": "it may be level sanded", "buff": "it may be rubbed out",
         "case": "it is ready for the case"}  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class State:
    """How an instrument stood at a look: the window it waits for, whether that is open, and whether the time for a coat
    without a scuff is about to run out."""

    window: str
    open: bool
    shutting: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class News:
    """One notification."""

    title: str
    body: str


def state(session: ShopSession, instrument: str, found: Outlook, shuts: datetime | None) -> State:
    """An instrument as it stands now. shuts: the last moment for a coat without a scuff."""
    rack = session.shop.racked[instrument]
    first = found.windows[0] if found.windows else None
    opens = None if first is None or first.likely_h is None else rack.moment(first.likely_h)
    return State(
        window="" if first is None else f"{first.name} {first.label}", open=opens is not None and opens <= session.now,
        shutting=shuts is not None and shuts - SOON <= session.now < shuts,
    )  # fmt: skip


def news(
    session: ShopSession, before: Mapping[str, State], after: Mapping[str, State], shuts: Mapping[str, datetime | None]
) -> tuple[News, ...]:
    """What changed from one look to the next; an instrument seen for the first time is no news."""
    out = []
    for instrument, now in after.items():
        then = before.get(instrument)
        if then is None or instrument not in session.shop.racked:
            continue
        name = session.shop.racked[instrument].instrument.name
        if now.open and not then.open and now.window == then.window:
            act = OPENS[now.window.split(" ")[0]]
            out.append(News(title=f"{name}: {act}", body="By the cure engine; try a hidden spot first."))
        shut = shuts.get(instrument)
        if now.shutting and not then.shutting and shut is not None:
            left = words.wait(max((shut - session.now).total_seconds() / 3600, 0.1))
            out.append(
                News(
                    title=f"{name}: {left} left for a coat without a scuff",
                    body=f"From {written.clock(session.local(shut))} on the next coat needs a key first.",
                )
            )
    return tuple(out)
