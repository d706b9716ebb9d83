"""Takes the window apart while the toolkit still stands.

At the interpreter's exit PyQt walks its list of everything Python owns and deletes it on the way. Where one object's
end brings another's with it, the walk steps onto memory that is gone and the process dies, its work done but its return
code wrong (7 ends of 40 on Python 3.13). So it is done before, with each object held until all are gone."""

import atexit
import gc

from PyQt6 import sip
from PyQt6.QtCore import QObject, QThreadPool
from PyQt6.QtWidgets import QApplication, QWidget


def at_exit() -> None:
    """End in order, whatever ends this process; asked for more than once it is done once."""
    atexit.unregister(end)
    atexit.register(end)  # the last asked for comes first: before PyQt's own


def end() -> None:
    """Close the windows, let work in other threads end, then delete all that Python owns but the application."""
    if QApplication.instance() is not None:
        for window in QApplication.topLevelWidgets():
            window.close()
    # All pools first, and without the interpreter's lock: their work needs it, and whoever deletes a pool waits for it.
    for pool in _pools():
        pool.clear()
        pool.waitForDone()
    ours = owned(QObject)
    for thing in sorted(ours, key=lambda thing: not isinstance(thing, QWidget)):  # views before what feeds them
        if not sip.isdeleted(thing):
            sip.delete(thing)


def owned(kind: type[QObject]) -> list[QObject]:
    """What is left of this kind that Python has to delete itself, the application not counted."""
    return [t for t in _left(kind) if sip.ispyowned(t) and not isinstance(t, QApplication) and t.parent() is None]


def _pools() -> list[QThreadPool]:
    """Pools that were made here, whoever deletes them; of one the toolkit made nobody is told when it goes."""
    return [t for t in _left(QThreadPool) if isinstance(t, QThreadPool) and sip.ispycreated(t)]


def _left(kind: type[QObject]) -> list[QObject]:
    return [thing for thing in gc.get_objects() if isinstance(thing, kind) and not sip.isdeleted(thing)]
