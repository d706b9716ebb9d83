"""Whether a folder can be written to."""

from pathlib import Path

from ravden.core.errors import InputError


def may_write(folder: Path) -> bool:
    """Tried, not asked: a right on paper is of no use on a disk that is full or mounted for reading."""
    try:
        need_writable(folder)
    except InputError:
        return False
    return True


def need_writable(folder: Path) -> None:
    """Make the folder where it is not there, and write to it. Raises InputError that names it."""
    import tempfile  # not before the first paint

    try:
        folder.mkdir(parents=True, exist_ok=True)
        with tempfile.TemporaryFile(dir=folder) as f:
            f.write(b"tried")
    except (FileExistsError, NotADirectoryError):
        raise InputError(str(folder), "is not a folder") from None
    except OSError as error:
        raise InputError(str(folder), f"cannot be written to: {error.strerror}") from None
