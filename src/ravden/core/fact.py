"""What is so, as a code and the numbers and names that belong to it. `ravden.text` says it in words and units."""

from collections.abc import Mapping
from typing import Any

from msgspec import Struct

PLAIN = "plain"  # the code of a sentence that holds nothing to be turned into the user's units


class Fact(Struct, frozen=True):
    """code: which sentence it is; values: what it speaks of, units in the names (um, C, h, min); other facts too."""

    code: str
    values: Mapping[str, Any]

    def __str__(self) -> str:
        """For logs and tests alone: nothing a user reads."""
        if self.code == PLAIN:
            return str(self.values["text"])
        return f"{self.code} {', '.join(f'{k}={v}' for k, v in self.values.items())}".strip()


def fact(code: str, **values: Any) -> Fact:
    """A fact by its code.

    >>> str(fact("TIGHT", remove_um=2.0))
    'TIGHT remove_um=2.0'
    """
    return Fact(code, values)
