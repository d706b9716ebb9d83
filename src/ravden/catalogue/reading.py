"""Reads tables into records; a fault names the file, the line and the field."""

import csv
import tomllib
from typing import Any, TypeVar

import msgspec

from ravden.catalogue.shipped_files import DATA
from ravden.core.errors import InputError, need

T = TypeVar("T")


def text_of(name: str) -> str:
    return DATA.joinpath(name).read_text(encoding="utf-8")


def convert(raw: Any, kind: type[T], where: str) -> T:
    """raw checked and converted into a record; a fault becomes an InputError at where."""
    try:
        return msgspec.convert(raw, kind, strict=False, dec_hook=_as_it_is)
    except InputError as error:
        raise error.within(where) from None
    except msgspec.ValidationError as error:
        cause = error.__cause__
        if isinstance(cause, InputError):
            raise cause.within(where) from None
        raise InputError(where, str(error)) from None


def _as_it_is(kind: type, value: Any) -> Any:
    """A part that was read before, such as how a film hardens."""
    if isinstance(value, kind):
        return value
    raise InputError("", f"must be a {kind.__name__}")


def read_csv(text: str, kind: type[T], file: str) -> tuple[T, ...]:
    """Rows of a CSV table as records; the fault of a row names the file and the line."""
    out: list[T] = []
    for row in csv.DictReader(text.splitlines()):
        line = len(out) + 2
        if None in row or None in row.values():
            raise InputError(f"{file}, line {line}", "does not have as many fields as the heading")
        out.append(convert(row, kind, f"{file}, line {line}"))
    return tuple(out)


MOST_DOTS = 200  # a line of a long text may have many, a name of a field none


def read_toml(text: str, file: str) -> dict[str, Any]:
    """A TOML table; a fault names the file and the line."""
    for number, line in enumerate(text.splitlines(), start=1):
        # The reader takes the square of the time for a name of so many parts.
        need(line.partition("=")[0].count(".") <= MOST_DOTS, f"{file}, line {number}", "has a name of too many parts")
    try:
        return tomllib.loads(text)
    except tomllib.TOMLDecodeError as error:
        raise InputError(file, str(error)) from None
    except (RecursionError, ValueError):
        raise InputError(file, "is nested too deep, or has a number nobody can mean") from None
