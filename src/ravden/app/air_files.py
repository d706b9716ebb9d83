"""A logger's or a forecast's file, read into the journal; what was left out is told by row. No Qt."""

import itertools
from collections.abc import Callable, Sequence
from datetime import datetime, tzinfo
from pathlib import Path

from msgspec import Struct

from ravden.app.session import ShopSession
from ravden.core.climate.series import GAP_H, fitted
from ravden.core.errors import InputError
from ravden.core.record import Air
from ravden.exchange import air_csv
from ravden.journal.kinds.air import MOST_ROWS, AirSeries
from ravden.system.files import take_text
from ravden.text import words

MOST_BYTES = 60_000_000
MOST_TOLD = 3


class AirRead(Struct, frozen=True, kw_only=True):
    """What a file has to say, not logged yet: the entry, when it begins, and what is told of it."""

    body: AirSeries
    at: datetime
    said: str


def air_in(
    path: Path, source: str, zone: tzinfo | None, now: datetime, tick: Callable[[float], None] = lambda share: None
) -> AirRead:
    """The readings of a file, on any thread. source: log, whose rows in the future are left out, or forecast; zone: of
    times without one; tick: told what share has been read, and may raise to end it. Raises InputError, naming the file.
    """
    text = take_text(path, MOST_BYTES, "is too large to be a logger's file")
    found = air_csv.read(text, zone, path.name, tick)
    rows = [r for r in found.rows if source == "forecast" or r.at <= now]
    bad = [(number, why) for number, why in found.bad]
    if not rows:
        raise InputError(path.name, "has readings of the future only: is it a forecast?")
    zero = rows[0].at
    if source == "forecast" and rows[-1].at <= now:
        raise InputError(path.name, "ends before now: it is no forecast")
    # An entry cannot be dated in the future; a forecast counts from now.
    base = min(zero, now)
    air = fitted([Air(at_h=(r.at - base).total_seconds() / 3600, temp_C=r.temp_C, rh=r.rh) for r in rows], MOST_ROWS)
    tick(1.0)
    body = AirSeries(
        source=source, hours=tuple(a.at_h for a in air), temp_C=tuple(a.temp_C for a in air),
        rh=tuple(a.rh for a in air), name=path.name,
    )  # fmt: skip
    said = _told(path.name, len(rows), bad, len(found.rows) - len(rows), _gaps([r.at_h for r in air]), found.taken_as)
    return AirRead(body=body, at=base, said=said)


def import_air(session: ShopSession, path: Path, source: str) -> str:
    """Log the readings of a file, here and now; returns what was read, left out and missing, in a sentence or two.
    Raises InputError, naming the file, with nothing logged."""
    return log_air(session, air_in(path, source, session.shop.hours.clock, session.now))


def log_air(session: ShopSession, read: AirRead) -> str:
    """Log what was read; returns what is told of it. Raises InputError."""
    session.log(read.body, at=read.at, origin="file")
    return read.said


def _gaps(hours: list[float]) -> list[float]:
    return [b - a for a, b in itertools.pairwise(hours) if b - a > GAP_H]


def _told(
    name: str, read: int, bad: list[tuple[int, str]], ahead: int, gaps: list[float], taken_as: Sequence[str]
) -> str:
    text = f"{name}: {words.plural(read, 'row')} read"
    if bad:
        some = "; ".join(f"row {number}: {why}" for number, why in bad[:MOST_TOLD])
        more = f"; and {len(bad) - MOST_TOLD} more" if len(bad) > MOST_TOLD else ""
        text += f", {len(bad)} left out ({some}{more})"
    if ahead:
        text += f", {ahead} of the future left out"
    text += "."
    for one in taken_as:
        text += f" {one[:1].upper()}{one[1:]}."
    if gaps:
        longest = words.wait(max(gaps))
        text += f" {words.plural(len(gaps), 'gap')}, the longest {longest}: bridged by the usual air."
    return text
