"""What the Shop place shows, as plain data. No Qt."""

from __future__ import annotations

import math
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import TYPE_CHECKING

from ravden.core.climate.air import dew_point_C
from ravden.text import words

if TYPE_CHECKING:
    from collections.abc import Mapping

    from ravden.app.session import ShopSession
    from ravden.core.ahead.outlook import Outlook

BACK, AHEAD = timedelta(days=14), timedelta(days=7)
SOURCES = {"told": "logged by hand", "log": "from a logger", "forecast": "forecast", "usual": "usual for the month",
           "assumed": "assumed"}  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class AirPoint:
    """The air from a moment on."""

    at: datetime
    temp_C: float
    rh: float
    source: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ShopShown:
    """The whole place. gaps: hours nobody knows of; tools: what each finish and its applicator do here."""

    name: str
    points: tuple[AirPoint, ...]
    gaps: tuple[tuple[datetime, datetime], ...]
    start: datetime
    end: datetime
    now: datetime
    heading: str
    detail: str
    tools: tuple[tuple[str, str], ...]


def show(session: ShopSession, found: Mapping[str, Outlook]) -> ShopShown:
    """The shop's air about now, and what its materials and applicators were found to do."""
    now = session.local(session.now)
    start, end = now - BACK, now + AHEAD
    zero = session.now - BACK
    rows, gaps = session.shop.air.series(zero, session.now)
    points = [
        AirPoint(at=session.local(zero + timedelta(hours=max(a.at_h, 0.0))), temp_C=a.temp_C, rh=a.rh, source=a.source)
        for a in rows
        if a.at_h < (BACK + AHEAD).total_seconds() / 3600
    ]
    heading = "No shop air logged yet."
    detail = f"Assuming {session.units.temperature(20)} and half humidity until it is (A)."
    past = [p for p in points if p.at <= now]
    if past:
        last = past[-1]
        units = session.units
        heading = f"{units.temperature(last.temp_C)}, {100 * last.rh:.0f} % humidity now, {SOURCES[last.source]}"
        dew = dew_point_C(last.temp_C, max(last.rh, 0.01))
        detail = f"Dew point {units.temperature(dew)}."
        if gaps:
            longest = max(g.to_h - g.from_h for g in gaps)
            detail += (
                f" {words.plural(len(gaps), 'gap')} in the log, the longest {words.wait(longest)}: bridged, hatched."
            )

    def at(hours: float) -> datetime:
        return session.local(zero + timedelta(hours=hours))

    return ShopShown(
        name=session.shop.name, points=tuple(points), gaps=tuple((at(g.from_h), at(g.to_h)) for g in gaps),
        start=start, end=end, now=now, heading=heading, detail=detail, tools=_tools(session, found),
    )  # fmt: skip


def _tools(session: ShopSession, found: Mapping[str, Outlook]) -> tuple[tuple[str, str], ...]:
    """Each finish in use: how it dries here, and what its applicator lays down, from the newest instrument in it."""
    out: dict[str, tuple[str, str]] = {}
    for outlook in found.values():
        project = outlook.project
        material = project.material
        mean, sd = outlook.ledger.applicator()
        lays = 100 * (math.exp(mean) - 1)
        film = (
            "is not known yet"
            if sd > 0.2
            else f"lays down {abs(lays):.0f} % {'more' if lays > 0 else 'less'} than nominal"
        )
        known = f"{words.rate(project.rate_ln[0])} (±{100 * project.rate_ln[1]:.0f} %)"
        out[material.id] = (
            material.label,
            f"{known}; what applies it {film} (±{100 * sd:.0f} %)".replace(" %", "\u00a0%"),
        )
    return tuple(out.values())
