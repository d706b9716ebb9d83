"""The scripted session that the soak test kills: every act follows from the journal alone, so whoever comes after a
kill goes on where the file says. Says "did N" for each act once it is acknowledged."""

import functools
import sys
from datetime import timedelta
from pathlib import Path

from msgspec.structs import replace

from ravden.app.clock import HandClock
from ravden.app.session import ShopSession
from ravden.catalogue.assemble import measures_of
from ravden.catalogue.tables import shipped
from ravden.journal.kinds.instrument import InstrumentAdded
from ravden.journal.store import Journal
from ravden.ui.places.booth.acts import act
from tests.ui.support import NOW

NAMES = tuple(f"bird-{i}" for i in range(12))
ACTS = 400
FINE = shipped().method("lacquer-fine-start")
UNDO_EVERY = 18
EVERY_S = 27  # 400 acts make three hours


def prepare(path: Path) -> None:
    """A shop of twelve instruments in mid-build."""
    many = replace(FINE.stage[4], count=90, per_session=50)
    plan = (*FINE.stage[:4], many, *FINE.stage[5:])
    journal = Journal.create(path)
    for name in NAMES:
        body = InstrumentAdded(
            id=name, name=name, instrument_kind="solid-slab", material="lacquer-sprayed", plan=plan,
            measures=measures_of(shipped().kind("solid-slab")), method=FINE.id, sheen="gloss", min_film_um=50.0,
        )  # fmt: skip
        journal.append(body, at=NOW, logged_at=NOW, instrument=name)
    journal.close()


def go_on(path: Path, told=print) -> None:
    """The rest of the session: one act each 27 s of a clock that is injected."""
    session = ShopSession(shipped(), HandClock(NOW))
    session.open(path)
    done = len(session.entries) - len(NAMES)
    while done < ACTS:
        session.clock.time = NOW + timedelta(seconds=EVERY_S * (done + 1))
        session.select(NAMES[done % len(NAMES)], "soak")
        if done % UNDO_EVERY == UNDO_EVERY - 1:
            session.undo("booth")
        else:
            session.log(act(session, None), instrument=session.selected, origin="booth")
        done += 1
        told(f"did {done}")
    session.close()


if __name__ == "__main__":
    go_on(Path(sys.argv[1]), functools.partial(print, flush=True))
