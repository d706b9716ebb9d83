"""The line protocol of sensors on a local socket: a greeting, then one reading a line.

    RAVDEN-SENSOR 1 hygrometer back-room
    AIR 2026-03-14T08:30:00+00:00 18.52 0.553
    MASS 2026-03-14T08:30:00+00:00 1.7140

AIR carries C and humidity as a share, MASS grams. Nothing is sent to a sensor.
"""

from dataclasses import dataclass
from datetime import UTC, datetime

GREETING = "RAVDEN-SENSOR 1"
MOST_LETTERS, MOST_NAME = 400, 40  # of a line, and of what a sensor calls itself
LEAST_C, MOST_C = -30.0, 60.0  # [A] beyond these a sensor lies


@dataclass(frozen=True, slots=True, kw_only=True)
class Greeting:
    """Who is speaking."""

    kind: str
    name: str


@dataclass(frozen=True, slots=True, kw_only=True)
class AirReading:
    """Temperature [C] and humidity [-] at a moment."""

    at: datetime
    temp_C: float
    rh: float


@dataclass(frozen=True, slots=True, kw_only=True)
class MassReading:
    """What lies on a scale [g]."""

    at: datetime
    grams: float


Line = Greeting | AirReading | MassReading


def greeting(kind: str, name: str) -> str:
    """The first line of a sensor."""
    return f"{GREETING} {kind} {name}\n"


def air_line(at: datetime, temp_C: float, rh: float) -> str:
    """A reading of the air."""
    return f"AIR {at.astimezone(UTC).isoformat(timespec='seconds')} {temp_C:.2f} {rh:.4f}\n"


def mass_line(at: datetime, grams: float) -> str:
    """A reading of a scale."""
    return f"MASS {at.astimezone(UTC).isoformat(timespec='seconds')} {grams:.4f}\n"


def parse(text: str) -> Line:
    """A line as a record. Raises ValueError, saying why, for one that is none, and for a reading nobody can believe."""
    if len(text) > MOST_LETTERS:
        raise ValueError(f"not a line of the protocol: {len(text)} letters")
    words = "".join(c for c in text if c.isprintable() or c in "\n\r\t").split()
    if text.startswith(GREETING) and len(words) >= 4:
        return Greeting(kind=words[2][:MOST_NAME], name=" ".join(words[3:])[:MOST_NAME])
    if len(words) == 4 and words[0] == "AIR":
        temp, rh = float(words[2]), float(words[3])
        if not LEAST_C <= temp <= MOST_C:
            raise ValueError(f"{temp:.0f} °C cannot be the air of a shop")
        if not 0 <= rh <= 1:
            raise ValueError(f"{100 * rh:.0f} % humidity cannot be")
        return AirReading(at=_moment(words[1]), temp_C=temp, rh=rh)
    if len(words) == 3 and words[0] == "MASS":
        grams = float(words[2])
        if not -1e4 < grams < 1e5:
            raise ValueError(f"{grams:g} g cannot be")
        return MassReading(at=_moment(words[1]), grams=grams)
    raise ValueError(f"not a line of the protocol: {text[:40]!r}")


def _moment(text: str) -> datetime:
    found = datetime.fromisoformat(text)
    if found.tzinfo is None:
        raise ValueError("a time without a time zone")
    return found
