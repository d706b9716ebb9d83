"""The one error that means "this input is wrong", as opposed to a bug."""

from ravden.core.fact import PLAIN, Fact, fact


class InputError(ValueError):
    """Bad input, told in one sentence.

    path: where the fault is, e.g. ``coats[3].dry_um``, a file name or a field of a form; may be empty.
    said: what is wrong and, where it helps, what to do: a sentence, or a fact where it speaks of quantities.
    remedy: the one thing to do about it, by its name, where a window can offer it as a button; mostly empty.
    """

    def __init__(self, path: str, said: str | Fact, remedy: str = "") -> None:
        self.path, self.remedy = path, remedy
        self.said = said if isinstance(said, Fact) else fact(PLAIN, text=said)
        super().__init__(f"{path}: {self.said}" if path else str(self.said))

    def within(self, prefix: str) -> "InputError":
        """The same fault seen from one level further out."""
        if not prefix:
            return self
        joined = f"{prefix}{self.path}" if self.path.startswith("[") or not self.path else f"{prefix}.{self.path}"
        return InputError(joined, self.said, self.remedy)


# What is missing most often; the window knows what to do about each.
NO_FILE = "no shop file is open; make one (Ctrl+N) or open one first"
NO_INSTRUMENT = "add an instrument first (N)"


def need(ok: bool, path: str, said: str | Fact) -> None:
    """Raise InputError unless ok. Write conditions so that nan makes them false."""
    if not ok:
        raise InputError(path, said)


TINY = 1e-9  # in any unit used here: less is nothing, and makes numbers nobody can reckon with


def need_in(value: float, low: float, high: float, path: str, unit: str = "") -> None:
    """Raise InputError unless low <= value <= high; nan fails."""
    if not low <= value <= high:
        raise InputError(path, fact("not-between", low=low, high=high, got=value, unit=unit or unit_of(path)))


def need_above(value: float, low: float, path: str, high: float = float("inf")) -> None:
    """Raise InputError unless low < value < high; nan and infinity fail, and so does what is above nothing by less than
    anybody could mean."""
    if not low + (TINY if low == 0 else 0.0) < value:
        raise InputError(path, fact("not-above", limit=low, got=value, unit=unit_of(path)))
    if not value < high:
        raise InputError(path, fact("not-below", limit=high, got=value, unit=unit_of(path)))


def unit_of(path: str) -> str:
    """The unit a field is in, by its name; empty: its name does not say.

    >>> unit_of("coats[3].dry_um"), unit_of("um"), unit_of("temp_C"), unit_of("rpm")
    ('um', 'um', 'C', '')
    """
    last = path.rsplit(".", 1)[-1].rsplit("_", 1)[-1]
    return last if last in ("um", "C", "mm", "cm2") else ""
