"""The one error that means "this input is wrong", as opposed to a bug."""


class InputError(ValueError):
    """Bad input, told in one sentence.

    path: where the fault is, e.g. ``coats[3].dry_um``, a file name or a field of a form; may be empty.
    sentence: what is wrong and, where it helps, what to do.
    """

    def __init__(self, path: str, sentence: str) -> None:
        self.path = path
        self.sentence = sentence
        super().__init__(f"{path}: {sentence}" if path else sentence)

    def within(self, prefix: str) -> "InputError":
        """The same fault seen from one level further out."""
        if not prefix:
            return self
        joined = f"{prefix}{self.path}" if self.path.startswith("[") or not self.path else f"{prefix}.{self.path}"
        return InputError(joined, self.sentence)


def need(ok: bool, path: str, sentence: str) -> None:
    """Raise InputError unless ok. Write conditions so that nan makes them false."""
    if not ok:
        raise InputError(path, sentence)


def need_in(value: float, low: float, high: float, path: str, unit: str = "") -> None:
    """Raise InputError unless low <= value <= high; nan fails."""
    if not low <= value <= high:
        unit = f" {unit}" if unit else ""
        raise InputError(path, f"must be between {low:g} and {high:g}{unit} (got {value:g})")


def need_above(value: float, low: float, path: str, high: float = float("inf")) -> None:
    """Raise InputError unless low < value < high; nan and infinity fail."""
    if not low < value:
        raise InputError(path, f"must be greater than {low:g} (got {value:g})")
    if not value < high:
        raise InputError(path, f"must be less than {high:g} (got {value:g})")
