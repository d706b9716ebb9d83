"""A logger's or a forecast's file, read into the journal; what was left out is told by row. No Qt."""

import itertools
from pathlib import Path

from ravden.app.session import ShopSession
from ravden.core.climate.series import GAP_H, fitted
from ravden.core.errors import InputError
from ravden.core.record import Air
from ravden.exchange import air_csv
from ravden.journal.kinds.air import MOST_ROWS, AirSeries
from ravden.text import words

MOST_BYTES = 60_000_000
MOST_TOLD = 3


def import_air(session: ShopSession, path: Path, source: str) -> str:
    """Log the readings of a file; returns what was read, left out and missing, in a sentence or two.

    source: log, whose rows in the future are left out, or forecast. Raises InputError, naming the file, with nothing
    logged.
    """
    try:
        if path.stat().st_size > MOST_BYTES:
            raise InputError(path.name, "is too large to be a logger's file")
        text = path.read_bytes().decode("utf-8-sig", errors="replace")
    except OSError as error:
        raise InputError(path.name, f"cannot be read: {error.strerror}") from None
    found = air_csv.read(text, session.shop.hours.clock, path.name)
    now = session.now
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
    body = AirSeries(
        source=source, hours=tuple(a.at_h for a in air), temp_C=tuple(a.temp_C for a in air),
        rh=tuple(a.rh for a in air), name=path.name,
    )  # fmt: skip
    session.log(body, at=base, origin="file")
    return _told(path.name, len(rows), bad, len(found.rows) - len(rows), _gaps([r.at_h for r in air]))


def _gaps(hours: list[float]) -> list[float]:
    return [b - a for a, b in itertools.pairwise(hours) if b - a > GAP_H]


def _told(name: str, read: int, bad: list[tuple[int, str]], ahead: int, gaps: list[float]) -> str:
    text = f"{name}: {words.plural(read, 'row')} read"
    if bad:
        some = "; ".join(f"row {number}: {why}" for number, why in bad[:MOST_TOLD])
        more = f"; and {len(bad) - MOST_TOLD} more" if len(bad) > MOST_TOLD else ""
        text += f", {len(bad)} left out ({some}{more})"
    if ahead:
        text += f", {ahead} of the future left out"
    text += "."
    if gaps:
        longest = words.wait(max(gaps))
        text += f" {words.plural(len(gaps), 'gap')}, the longest {longest}: bridged by the usual air."
    return text
