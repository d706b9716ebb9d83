"""Shop files with bits flipped, bytes written over, cut off and emptied: how many of how many are refused, are told of,
or open as they were. ``damaged.py [files] [seed]``; exits 1 where one opened with another record and nothing was said,
or where the good copy beside it was lost."""

import os
import random
import shutil
import sys
import tempfile
from collections import Counter
from datetime import UTC, datetime, timedelta
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from ravden.app.clock import HandClock
from ravden.app.session import ShopSession
from ravden.catalogue.tables import shipped
from ravden.core.errors import InputError
from ravden.demo import ferrow_lane
from ravden.journal.copies import GENERATIONS, backup_path

NOW = datetime(2026, 5, 4, 15, tzinfo=UTC)


def spoiled(raw, chance):
    """A file as a disk might give it back."""
    way = chance.choice(("bit", "bit", "bit", "bits", "bytes", "zeros", "cut", "page", "empty"))
    out = bytearray(raw)
    at = chance.randrange(len(out))
    if way == "bit":
        out[at] ^= 1 << chance.randrange(8)
    elif way == "bits":
        for _ in range(chance.randint(2, 20)):
            out[chance.randrange(len(out))] ^= 1 << chance.randrange(8)
    elif way in ("bytes", "zeros"):
        many = chance.randint(1, 600)
        out[at : at + many] = bytes(many) if way == "zeros" else chance.randbytes(many)
        del out[len(raw) :]
    elif way == "cut":
        del out[at:]
    elif way == "page":
        page = chance.randrange(len(out) // 4096) * 4096
        out[page : page + 4096] = chance.randbytes(4096)
    else:
        out.clear()
    return way, bytes(out)


def record(session):
    """What the open file says: entries and people."""
    return session.everything(), session.people, session.journal.torn()


def opened(path, at):
    """The session on a file; None where it is refused."""
    session = ShopSession(shipped(), HandClock(at))
    try:
        session.open(path)
    except InputError:
        session.close()
        return None
    return session


def one(folder, raw, whole, chance):
    """What becomes of one damaged file over three days of opening it: in a word, and whether that is a fault."""
    path = folder / "shop.ravden"
    for left in folder.iterdir():
        left.unlink()
    path.write_bytes(raw)
    good = opened(path, NOW)
    good.close()
    kept = backup_path(path).read_bytes()
    way, bad = spoiled(raw, chance)
    path.write_bytes(bad)
    said = ""
    for day in range(3):
        for i in range(GENERATIONS):  # a day has gone by, and each copy is a day older
            if (copy := backup_path(path, i)).exists():
                past = copy.stat().st_mtime - 86_400
                os.utime(copy, (past, past))
        session = opened(path, NOW + timedelta(days=day))
        if session is None:
            said = said or "refused"
            continue
        try:
            told = bool(session.journal.unsound or session.aside or session.journal.torn())
            if not told and record(session) != whole:
                said = "UNNOTICED"
            said = said or ("told" if told else "as it was")
        except InputError:
            said = said or "told"
        finally:
            session.close()
    copies = [p.read_bytes() for i in range(GENERATIONS) if (p := backup_path(path, i)).exists()]
    if said != "as it was" and kept not in copies:
        said = f"{said}, COPY LOST"
    return way, said


def main(files, seed):
    tally = Counter()
    with tempfile.TemporaryDirectory() as temporary:
        folder = Path(temporary) / "shop"
        folder.mkdir()
        made = Path(temporary) / "made.ravden"
        ferrow_lane.build(made, NOW)
        session = opened(made, NOW)
        session.select("wren", "bench")
        session.hand_over(NOW, "Somebody Here")
        whole = record(session)
        session.close()
        raw = made.read_bytes()
        for i in range(files):
            way, said = one(folder, raw, whole, random.Random(f"{seed} {i}"))
            tally[said] += 1
            if said.isupper() or "COPY" in said or "UNNOTICED" in said:
                print(f"{way}: {said} (seed {seed} {i})", flush=True)
        shutil.rmtree(folder)
    faults = sum(n for said, n in tally.items() if "COPY" in said or "UNNOTICED" in said)
    print(f"{files} damaged files: {dict(tally)}; {faults} faults (0)")
    return 1 if faults else 0


if __name__ == "__main__":
    told = [int(a) for a in sys.argv[1:]]
    sys.exit(main(*(told + [200, 1][len(told) :])))
