"""What may stand in the words of an entry: so much, and nothing that is no letter."""

import unicodedata
from typing import Any

import msgspec

from ravden.core.errors import InputError
from ravden.journal.kinds.kind import Kind

MOST_LETTERS = 400  # of a name, a grade, how something is known
MOST_TEXT = 20_000  # of a note, or how a step is done
LONG = frozenset({"note", "text", "how", "inspect", "wrong"})
FREE = frozenset({"text"})  # a method's file is checked by its own reader
TURNS = frozenset("\u202a\u202b\u202c\u202d\u202e\u2066\u2067\u2068\u2069")  # they show a name backwards


def in_words(body: Kind) -> None:
    """Raise InputError, naming the field, for words of an entry that are too long or hold what cannot be shown."""
    for name in body.__struct_fields__:
        if name not in FREE:
            _checked(name, name, getattr(body, name))


def in_letters(path: str, text: str) -> None:
    """The same for words that stand in no entry. path: of the field."""
    _checked(path, path, text)


def _checked(path: str, name: str, value: Any) -> None:
    if isinstance(value, str):
        most = MOST_TEXT if name in LONG else MOST_LETTERS
        if len(value) > most:
            raise InputError(path, f"must be at most {most} letters long")
        lines = "\n\t\r" if name in LONG else ""
        if any((unicodedata.category(c) in ("Cc", "Cs") and c not in lines) or c in TURNS for c in value):
            raise InputError(path, "has something in it that is no letter, such as a line break")
    elif isinstance(value, dict):
        for key, one in value.items():
            _checked(path, name, key)
            _checked(path, key if isinstance(key, str) else name, one)
    elif isinstance(value, tuple) and not all(isinstance(v, float | int) for v in value[:1]):
        for one in value:
            _checked(path, name, one)
    elif isinstance(value, msgspec.Struct):
        for field in value.__struct_fields__:
            _checked(path, field, getattr(value, field))
    elif hasattr(value, "__dataclass_fields__"):
        for field in value.__dataclass_fields__:
            _checked(path, field, getattr(value, field))
