"""Reads what loggers and weather services write: time, temperature and humidity as CSV, in several common layouts.

Columns are found by their headings (or, without any, taken as time, temperature, humidity); times may be one column
or a date and a time; temperatures C or F by heading; commas, semicolons or tabs; decimal points or commas. Rows that
cannot be, or a sensor that lies, are told by number and left out.
"""

import csv
import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from datetime import UTC, datetime, timedelta, timezone, tzinfo

from ravden.core.errors import InputError, need
from ravden.text.say import whole_fault

MAX_ROWS = 500_000
LEAST_C, MOST_C = -20.0, 60.0  # [A] a shop is never outside; a sensor that says so is broken
LATEST = 2200
MOST_LINE = 1_000_000  # letters of one: no logger writes as many cells
TICK = 5000  # rows between one look at how far it has come and the next
NO_SHOP_C = 42.0  # [A] half of what a logger read being warmer than this, it is Fahrenheit: no shop is
A_DAY = re.compile(r"\d{1,4}[-/.]\d{1,2}[-/.]\d{1,4}\D")
STAMP = re.compile(
    r"(\d{1,4})([-/.])(\d{1,2})[-/.](\d{1,4})[ ,]+(\d{1,2}):(\d{2})(?::(\d{2}))?(?:[.,]\d+)?\s*([ap])?\.?(?:m\.?)?",
    re.IGNORECASE,
)
CENTURY = 70  # a year of two digits from here on is of the last one
# The unit says so, and not a word that ends in f.
FAHRENHEIT = r"°\s*f\b|\(\s*f\s*\)|\[\s*f\s*\]|\bdeg\s*f\b|fahrenheit|^f$|[_ ]f$"
CELSIUS = r"°\s*c\b|\(\s*c\s*\)|\[\s*c\s*\]|\bdeg\s*c\b|celsius|^c$|[_ ]c$"
NOT_THE_MEAN = r"max|min|high|low|peak"
NOT_THE_AIR = (
    r"batt|akku|volt|signal|rssi|snr|"
    r"dew|taupunkt|ros[ée]e|roc[ií]o|rugiada|wet.?bulb|feucht.?kugel|feels|heat.?ind|wind.?chill|abs"
)
EARLIEST = 1950  # a logger whose clock was never set begins in 1904, 1970 or 2000
HOPELESS = 1000  # rows at the start of which none can be read: this is something else


@dataclass(frozen=True, slots=True, kw_only=True)
class AirRow:
    """One reading: when (UTC), C, humidity as a share."""

    at: datetime
    temp_C: float
    rh: float


@dataclass(frozen=True, slots=True, kw_only=True)
class AirFile:
    """The readings in order of time, what was wrong with the rows left out: (row number, reason), and how the file was
    understood where it does not say so itself."""

    rows: tuple[AirRow, ...]
    bad: tuple[tuple[int, str], ...]
    taken_as: tuple[str, ...] = ()


class _Unset(ValueError):
    """A time that can be read, and cannot be."""


@dataclass(frozen=True, slots=True, kw_only=True)
class _Layout:
    date: int
    time: int | None
    temp: int
    rh: int | None
    fahrenheit: bool
    header: bool
    unit: bool = True  # whether the heading names a unit of temperature
    percent: bool = False  # whether it says that humidity is in hundredths
    share: bool = False  # whether humidity is a share of one
    zone: tzinfo | None = None  # that of its times, where the heading names one


Tick = Callable[[float], None]


def read(text: str, zone: tzinfo | None = None, file: str = "the file", tick: Tick = lambda share: None) -> AirFile:
    """Readings of a logger file. zone: that of times without one, the machine's own by default; tick: told now and then
    what share of it has been read, and may raise to end it.

    Raises InputError where no column can be made sense of, or no row is left.
    """
    lines = text.splitlines()
    long = next((i for i, line in enumerate(lines, start=1) if len(line) > MOST_LINE), 0)
    need(not long, file, f"row {long} is longer than any logger writes")
    need(len(lines) <= MAX_ROWS, file, f"has more than {MAX_ROWS} rows")
    last_line = next((line for line in reversed(lines) if line.strip()), "")
    need(bool(last_line), file, "is empty")
    # Readings are at the end, whatever notes stand above; a comma may also be the decimal point.
    delimiter = next((d for d in ";\t" if d in last_line), ",")
    try:
        table = [(i, row) for i, row in enumerate(csv.reader(lines, delimiter=delimiter), start=1) if any(row)]
    except csv.Error:
        raise InputError(file, "has a cell that does not end: is a quotation mark missing?") from None
    need(bool(table), file, "is empty")
    start, layout = _layout(table, file)
    body = _whole_numbers(table[start:], len(table[start - 1][1]) if layout.header else 0, delimiter)
    month_first = _month_first([_stamp(row, layout) for _, row in body])
    layout, taken_as = _understood(body, layout)
    zone = layout.zone or zone
    rows: list[AirRow] = []
    bad: list[tuple[int, str]] = []
    last: datetime | None = None
    for done, (number, row) in enumerate(body):
        if done % TICK == 0:
            tick(done / len(body))
        try:
            found = _row(row, layout, month_first, zone, last)
        except ValueError as error:
            bad.append((number, whole_fault(error) if isinstance(error, InputError) else str(error)))
            if len(bad) >= HOPELESS and not rows:
                break
            continue
        last = found.at
        rows.append(found)
    if not rows:
        why = f"; row {bad[0][0]}: {bad[0][1]}" if bad else ""
        raise InputError(file, f"has no row with a time and a temperature{why}")
    return AirFile(rows=tuple(sorted(rows, key=lambda r: r.at)), bad=tuple(bad), taken_as=taken_as)


def _understood(body: Sequence[tuple[int, list[str]]], layout: _Layout) -> tuple[_Layout, tuple[str, ...]]:
    """What the numbers say that the headings do not: humidity as a share, and degrees that can only be Fahrenheit."""
    some = [row for _, row in body[:: max(len(body) // 2000, 1)]]
    temps, shares = [_tried(row, layout.temp) for row in some], [_tried(row, layout.rh) for row in some]
    temp, share = sorted(t for t in temps if t is not None), [s for s in shares if s is not None]
    said: list[str] = []
    if not layout.unit and temp and temp[len(temp) // 2] > NO_SHOP_C and temp[0] >= LEAST_C:
        layout = replace(layout, fahrenheit=True)
        said.append("temperatures taken as Fahrenheit, since its heading names no unit and no shop is that warm")
    if share and not layout.percent and max(share) <= 1.0 and any(0 < s < 1 for s in share):
        layout = replace(layout, share=True)
        said.append("humidity taken as a share of one")
    if layout.zone is not None:
        said.append(f"times taken as {layout.zone}, as its heading says")
    return layout, tuple(said)


def _tried(row: Sequence[str], index: int | None) -> float | None:
    try:
        return None if index is None else _number(row, index, "number")
    except ValueError:
        return None


def _zone_in(name: str) -> tzinfo | None:
    """The zone a heading names, such as Date Time, GMT+01:00; None: it names none."""
    found = re.search(r"\b(?:gmt|utc)\s*(?:([+\-\u2212])\s*(\d{1,2})(?::?(\d{2}))?)?", name)
    if found is None:
        return None
    sign, hours, minutes = found.groups()
    ahead = timedelta(hours=int(hours or 0), minutes=int(minutes or 0))
    return timezone(-ahead if sign in ("-", "\u2212") else ahead) if ahead < timedelta(hours=24) else None


def _layout(table: Sequence[tuple[int, list[str]]], file: str) -> tuple[int, _Layout]:
    """Where the headings are, and which column is what; loggers put notes above them."""
    for start, (_, row) in enumerate(table[:30]):
        names = [cell.strip().lower() for cell in row]
        temp = _mean_first(names, r"temp|°\s*[cf]\b|celsius|fahrenheit|^[cf]$|^t$")
        when = _find(names, r"date|time|stamp|zeit|datum|^at$")
        if temp is None or when is None or any(re.fullmatch(r"-?\d+([.,]\d+)?", n) for n in names):
            continue
        apart = next((i for i, n in enumerate(names) if i != when and re.search(r"^time|uhrzeit|heure|hora", n)), None)
        date_only = re.search(r"date|datum", names[when]) and not re.search(r"time|stamp", names[when])
        return start + 1, _Layout(
            date=when, time=apart if date_only else None, temp=temp,
            rh=_mean_first(names, r"hum|\brh\b|feuchte") if _mean_first(names, r"hum|\brh\b|feuchte") is not None
            else _find(names, r"%", but=NOT_THE_AIR),
            fahrenheit=bool(re.search(FAHRENHEIT, names[temp])), header=True,
            unit=bool(re.search(f"{FAHRENHEIT}|{CELSIUS}", names[temp])), percent=any("%" in n for n in names),
            zone=_zone_in(names[when]),
        )  # fmt: skip
    width = len(table[0][1])
    if width < 2:
        raise InputError(file, "needs columns for the time and the temperature")
    return 0, _Layout(
        date=0, time=None, temp=1, rh=2 if width > 2 else None, fahrenheit=False, header=False, unit=False
    )


def _mean_first(names: Sequence[str], pattern: str) -> int | None:
    """The column of a reading: the mean of an hour and no end of it, where there are both."""
    found = _find(names, pattern, but=f"{NOT_THE_AIR}|{NOT_THE_MEAN}")
    return found if found is not None else _find(names, pattern, but=NOT_THE_AIR)


def _find(names: Sequence[str], pattern: str, but: str = "$^") -> int | None:
    return next((i for i, n in enumerate(names) if re.search(pattern, n) and not re.search(but, n)), None)


def _whole_numbers(
    body: Sequence[tuple[int, list[str]]], columns: int, delimiter: str
) -> Sequence[tuple[int, list[str]]]:  # fmt: skip
    """Rows in which a comma stands between cells and inside their numbers, put together again: 20,5,44,2 is 20.5 and
    44.2. columns: as many as there are headings, 0 where there are none."""
    widths = {len(row) for _, row in body}
    if delimiter != "," or len(widths) != 1:
        return body
    (width,) = widths
    cells = [cell for _, row in body[:50] for cell in row[1:]]
    plain = all(re.fullmatch(r"\s*-?\d{1,3}\s*", c) or ":" in c for c in cells)
    first = 1 + any(":" in c for c in body[0][1][1:2]) if body else 1
    split = (
        (width - first) % 2 == 0 and plain and (columns == first + (width - first) // 2 or (not columns and width == 5))
    )
    if not split or columns == width:
        return body
    return [
        (
            n,
            [
                *row[:first],
                *(f"{a.strip()},{b.strip()}" for a, b in zip(row[first::2], row[first + 1 :: 2], strict=True)),
            ],
        )
        for n, row in body
    ]


def _stamp(row: Sequence[str], layout: _Layout) -> str:
    parts = [row[i].strip() for i in (layout.date, layout.time) if i is not None and i < len(row)]
    return " ".join(parts)


def _month_first(stamps: Sequence[str]) -> bool:
    """With slashes, whether the day or the month comes first: whichever no row contradicts; the day where both fit,
    unless the clock is one of twelve hours."""
    slashed = [s for s in stamps if re.match(r"\d{1,2}/\d{1,2}/", s)]
    if not slashed or any(int(s.split("/")[0]) > 12 for s in slashed):
        return False
    return any(int(s.split("/")[1]) > 12 for s in slashed) or bool(re.search(r"[ap]m", slashed[0].lower()))


def _row(row: Sequence[str], layout: _Layout, month_first: bool, zone: tzinfo | None, last: datetime | None) -> AirRow:
    temp = _number(row, layout.temp, "temperature")
    if layout.fahrenheit:
        temp = (temp - 32) / 1.8
    if not LEAST_C <= temp <= MOST_C:
        raise ValueError(f"{temp:.0f} °C cannot be the air of a shop")
    rh = 50.0 if layout.rh is None else _number(row, layout.rh, "humidity") * (100.0 if layout.share else 1.0)
    if not 0 <= rh <= 100:
        raise ValueError(f"{rh:.0f} % humidity cannot be")
    return AirRow(at=_when(_stamp(row, layout), month_first, zone, last), temp_C=temp, rh=rh / 100)


def _number(row: Sequence[str], index: int, what: str) -> float:
    text = row[index].strip().replace(",", ".").replace("−", "-").rstrip("°CF% ") if index < len(row) else ""
    try:
        return float(text)
    except ValueError:
        raise ValueError(f"no {what}" if not text else f"{text} is not a {what}") from None


def _when(stamp: str, month_first: bool, zone: tzinfo | None, last: datetime | None) -> datetime:
    if not A_DAY.match(f"{stamp} "):
        raise ValueError(f"{stamp[:40]} is not a date and time" if stamp else "no time")
    clean = stamp.replace("T", " ") if re.match(r"\d{4}-", stamp) else stamp
    if re.match(r"\d{4}-", clean):
        try:
            found = datetime.fromisoformat(clean.replace("Z", "+00:00"))
            return _aware(found, zone, last)
        except _Unset:
            raise
        except ValueError:
            pass
    try:
        return _aware(_moment(clean, month_first), zone, last)
    except _Unset:
        raise
    except ValueError:
        raise ValueError(f"{stamp[:40]} is not a date and time") from None


def _moment(text: str, month_first: bool) -> datetime:
    """A date and time of the wall. Raises ValueError for anything else."""
    found = STAMP.fullmatch(text)
    if found is None:
        raise ValueError(text)
    first, between, second, third, hour, minute, seconds, half = found.groups()
    if len(first) == 4:
        year, month, day = int(first), int(second), int(third)
    else:
        day, month, year = int(first), int(second), int(third)
        if month_first and between == "/":
            day, month = month, day
        if len(third) == 2:
            year += 1900 if year >= CENTURY else 2000
    h = int(hour)
    if half is not None:
        if not 1 <= h <= 12:
            raise ValueError(text)
        h = h % 12 + (12 if half.lower() == "p" else 0)
    return datetime(year, month, day, h, int(minute), int(seconds or 0))


def _aware(found: datetime, zone: tzinfo | None, last: datetime | None) -> datetime:
    """In UTC. An hour that comes twice when the clocks go back is the later one once the time would run backwards."""
    if not EARLIEST <= found.year < LATEST:
        raise _Unset(f"is of the year {found.year}: is the logger's clock set?")
    if found.tzinfo is not None:
        return found.astimezone(UTC)
    first = (found.replace(tzinfo=zone) if zone else found).astimezone(UTC)
    again = (found.replace(tzinfo=zone, fold=1) if zone else found.replace(fold=1)).astimezone(UTC)
    return again if last is not None and first < last <= again else first
