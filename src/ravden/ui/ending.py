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
    for window in QApplication.topLevelWidgets():
        window.close()
    # All pools first, and without the interpreter's lock: their work needs it, and whoever deletes a pool waits for it.
    for pool in (*owned(QThreadPool, of_any=True), QThreadPool.globalInstance()):
        if isinstance(pool, QThreadPool):
            pool.clear()
            pool.waitForDone()
    ours = owned(QObject)
    for thing in sorted(ours, key=lambda thing: not isinstance(thing, QWidget)):  # views before what feeds them
        if not sip.isdeleted(thing):
            sip.delete(thing)


def owned(kind: type[QObject], *, of_any: bool = False) -> list[QObject]:
    """What is left of this kind that Python has to delete itself, the application not counted; of_any: what another
    object deletes too."""
    return [
        thing
        for thing in gc.get_objects()
        if isinstance(thing, kind)
        and not isinstance(thing, QApplication)
        and not sip.isdeleted(thing)
        and (of_any or (sip.ispyowned(thing) and thing.parent() is None))
    ]
