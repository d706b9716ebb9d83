"""Long work in plain Python on another thread gives way to whoever paints. No Qt."""

import contextlib
import gc
import sys
from collections.abc import Iterator

GIVES_WAY_S = 0.0003


@contextlib.contextmanager
def giving_way() -> Iterator[None]:
    """Whoever paints goes on within a third of a millisecond: it asks for its turn again after every array it draws,
    and waits each time for as long as the interpreter lets one thread go on."""
    before = sys.getswitchinterval()
    sys.setswitchinterval(GIVES_WAY_S)
    try:
        yield
    finally:
        sys.setswitchinterval(before)


@contextlib.contextmanager
def nothing_let_go() -> Iterator[None]:
    """What is read all at once is kept: looking through it for circles, again and again as it grows, finds none."""
    was = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if was:
            gc.enable()
