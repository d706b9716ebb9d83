"""How far every number of every record may go, found by trying: a limit that moves is seen."""

import dataclasses
import math

import msgspec

from ravden.core.errors import InputError

STEPS = 34
DIGITS = 3


def _put(record, name, value):
    if isinstance(record, msgspec.Struct):
        return msgspec.structs.replace(record, **{name: value})
    return dataclasses.replace(record, **{name: value})


def _ok(record, name, value):
    try:
        _put(record, name, value)
    except (InputError, ValueError):
        return False
    return True


def _end(record, name, start, sign):
    """The farthest value in a direction that is still taken; inf: none is refused."""
    step = max(abs(start), 1e-6) * 1e-3
    good, bad = start, None
    while step < 1e14:
        if not _ok(record, name, start + sign * step):
            bad = start + sign * step
            break
        good, step = start + sign * step, step * 2
    if bad is None:
        return math.inf * sign
    for _ in range(STEPS):
        middle = (good + bad) / 2
        good, bad = (middle, bad) if _ok(record, name, middle) else (good, middle)
    return good


def bounds(record):
    """Of every float that can be put into a record that is valid as it is: name, least and most."""
    plain = [f.name for f in dataclasses.fields(record) if f.init] if dataclasses.is_dataclass(record) else []
    for name in plain or record.__struct_fields__:
        value = getattr(record, name)
        if type(value) is float and math.isfinite(value):
            ends = [_end(record, name, value, sign) for sign in (-1, 1)]
            yield name, [str(v) if math.isinf(v) else float(f"{v:.{DIGITS}g}") for v in ends]
