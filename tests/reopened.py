"""A random shop, and the same shop told otherwise: opened anew, folded whole, with every memory thrown away."""

import contextlib
import os
import random
import shutil
import sqlite3
import tempfile
from pathlib import Path
from unittest import mock

from ravden.app.clock import HandClock
from ravden.app.session import ShopSession
from ravden.catalogue.tables import shipped
from ravden.journal.shelves import Shelves
from tests.deeds import BEGUN, Deeds
from tests.shown import differences, shown

DEEDS, EVERY = 60, 10


def walked(seed, *, deeds=DEEDS, every=EVERY, whole=True):
    """A shop of so many deeds, looked at after every so many: yields (deeds done, way of telling, place, both)."""
    with tempfile.TemporaryDirectory() as folder:
        path, clock = Path(folder) / "shop.ravden", HandClock(BEGUN)
        session = ShopSession(shipped(), clock)
        session.open(path, create=True)
        hands = Deeds(session, clock, random.Random(seed))
        for n in range(1, deeds + 1):
            hands.one()
            if n % every == 0:
                here = shown(session, whole=whole)
                for way, there in others(session, clock, Path(folder) / "other", whole=whole):
                    for place, both in differences(here, there).items():
                        yield hands, way, place, both
        session.close()


def others(session, clock, folder, *, whole=True):
    """What the same shop shows, told in other ways."""
    with mock.patch.dict(os.environ, RAVDEN_FRESH="1"):
        yield "memories off", shown(session, whole=whole)
    for way, told in (("reopened", contextlib.nullcontext()), ("little read", few()), ("folded whole", all_of_it())):
        with told:
            again = ShopSession(shipped(), clock)
            again.open(copied(session, folder))
            again.selected = session.selected
            yield way, shown(again, whole=whole)
            again.close()
        shutil.rmtree(folder)


def few():
    """A patch under which little is read for its newness alone, as in a file of years."""
    return mock.patch.multiple("ravden.journal.shelves", LATE=12, LATE_SESSIONS=2, LATE_PLANS=1)


def all_of_it():
    """A patch under which opening a file reads every entry of it."""
    return mock.patch("ravden.app.session.shelves", lambda journal, now: Shelves(entries=journal.entries()))


def copied(session, folder):
    """The open file, as it is on disk by now, elsewhere."""
    folder.mkdir()
    there = folder / session.journal.path.name
    with (
        contextlib.closing(sqlite3.connect(session.journal.path)) as one,
        contextlib.closing(sqlite3.connect(there)) as other,
    ):
        one.backup(other)
    return there
