"""The made-up workshop one can look around in: its file lies where things lie that can be made again."""

from pathlib import Path

from ravden.app.settings import cache_folder
from ravden.journal.store import SUFFIX

NAME = f"made-up-workshop{SUFFIX}"


def path() -> Path:
    """Where its file lies."""
    return cache_folder() / NAME


def is_made_up(file: Path) -> bool:
    """Whether a shop file is the made-up one: what is done in it is gone when it is looked at again."""
    return file.name == NAME and file.resolve() == path().resolve()
