"""Where the files that come with the program lie."""

from pathlib import Path

DATA = Path(__file__).resolve().parents[1] / "data"
