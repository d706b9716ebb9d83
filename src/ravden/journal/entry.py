"""Lines of the journal: when something happened, when it was written, about which instrument, and what."""

import functools
from datetime import UTC, datetime
from typing import Any

import msgspec

from ravden.core.errors import InputError
from ravden.core.fact import PLAIN, fact
from ravden.journal.kinds import every_kind
from ravden.journal.kinds.kind import Kind
from ravden.journal.kinds.unknown import Unknown


class Entry(msgspec.Struct, frozen=True, kw_only=True):
    """One line of the journal: when it happened, when it was written, about which instrument, and what; act: the number
    of the first of those written with it at one stroke, None where it was written alone."""

    id: int
    at: datetime
    logged_at: datetime
    instrument: str
    body: Kind
    corrects: int | None = None
    act: int | None = None


UNREAD = "unread"  # the kind of an entry that cannot be read, for who is given it
_encoder = msgspec.json.Encoder()


class _Named(msgspec.Struct):
    kind: str


_name = msgspec.json.Decoder(_Named)


@functools.cache
def _by_name() -> dict[str, type[Kind]]:
    return {str(kind.__struct_config__.tag): kind for kind in every_kind()}


@functools.cache
def _decoder(name: str) -> msgspec.json.Decoder[Any]:
    """Of one kind, made when the first of it is read: a shop of an instrument or two has a dozen of them."""
    return msgspec.json.Decoder(_by_name()[name])


def encode(body: Kind) -> str:
    """The JSON kept in the file."""
    if isinstance(body, Unknown) and body.why:
        # What cannot be read goes out as what it is, whole, and harms no reader.
        return _encoder.encode({"kind": UNREAD, "text": body.text, "why": body.why}).decode()
    return body.text if isinstance(body, Unknown) else _encoder.encode(body).decode()


def decode(text: str) -> Kind:
    """A body read back; one of a kind nobody knows here is kept as it is. Raises InputError for anything else."""
    try:
        name = _name.decode(text).kind
        body: Kind = _decoder(name).decode(text) if name in _by_name() else Unknown(kind_name=name, text=text)
    except (UnicodeError, RecursionError):
        raise InputError("", "cannot be read: it is not text, or nested too deep") from None
    except (msgspec.DecodeError, msgspec.ValidationError, InputError) as error:
        cause = error if isinstance(error, InputError) else error.__cause__
        why = cause.said if isinstance(cause, InputError) else fact(PLAIN, text=str(error))
        raise InputError("", fact("unreadable-entry", why=why)) from None
    return body


def iso(moment: datetime) -> str:
    """Aware time as UTC text that sorts by time."""
    if moment.tzinfo is None:
        raise InputError("at", "a time without a time zone cannot be kept")
    return moment.astimezone(UTC).isoformat(timespec="milliseconds")


def as_dict(entry: Entry) -> dict[str, Any]:
    """An entry as plain data, for export."""
    act = {} if entry.act is None else {"act": entry.act}
    return act | {
        "id": entry.id, "at": iso(entry.at), "logged_at": iso(entry.logged_at), "instrument": entry.instrument,
        "corrects": entry.corrects, "body": msgspec.json.decode(encode(entry.body)),
    }  # fmt: skip
