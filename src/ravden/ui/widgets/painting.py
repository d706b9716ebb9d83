"""A painter that is ended by who began it, whatever happens in between: one that goes out of scope with the traceback
of an exception paints on, and takes the process with it."""

from collections.abc import Iterator
from contextlib import contextmanager

from PyQt6.QtGui import QPaintDevice, QPainter


@contextmanager
def painting(device: QPaintDevice) -> Iterator[QPainter]:
    """Paint on something."""
    painter = QPainter(device)
    try:
        yield painter
    finally:
        painter.end()
