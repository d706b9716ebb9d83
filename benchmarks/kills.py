"""A process killed at a random moment while it appends, makes shop files, opens them, brings in an instrument, writes a
table, copies, hands over, forgets somebody or upgrades.

``kills.py [kills] [seed]``. After each kill: what was acknowledged is there, an instrument is there whole or not at
all, and every name either opens or can be made again. Prints how often each was tried and every fault.
"""

import collections
import random
import shutil
import signal
import subprocess
import sys
import tempfile
import time
from datetime import UTC, datetime
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT))

from tests.old_files import as_version

from ravden.catalogue.tables import shipped
from ravden.core.errors import InputError
from ravden.demo import ferrow_lane
from ravden.exchange import instrument
from ravden.journal import copies
from ravden.journal.fold import Fold
from ravden.journal.schema import VERSION
from ravden.journal.store import Journal

NOW = datetime(2026, 5, 4, 15, tzinfo=UTC)
HEAD = """
import sys
from datetime import datetime, UTC
from pathlib import Path
from ravden.app.clock import HandClock
from ravden.app.session import ShopSession
from ravden.catalogue.tables import shipped
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.store import Journal
folder, now = Path(sys.argv[1]), datetime(2026, 5, 4, 15, tzinfo=UTC)
path = folder / "shop.ravden"
def session():
    out = ShopSession(shipped(), HandClock(now))
    out.open(path)
    return out
print("ready", flush=True)
"""
DOING = {
    "append": "s = session()\nwhile True:\n    print(s.log(CoatLogged(dry_um=9), instrument='heron').id, flush=True)",
    "create": "for i in range(100000):\n"
    "    Journal.create(folder / f'new-{i}.ravden').close()\n    print(i, flush=True)",
    "open": "while True:\n    s = session()\n    print(len(s.entries), flush=True)\n    s.close()",
    "import": "raw = (folder / 'heron.json').read_bytes()\ns = session()\nwhile True:\n"
    "    s.bring_in(raw, 'heron.json')\n    print(s.entries[-1].id, flush=True)",
    "export": "from ravden.exchange.journal_csv import journal_csv\nfrom ravden.system.files import put_text\n"
    "s = session()\nn = 0\nwhile True:\n    n += 1\n"
    "    put_text(folder / 'journal.csv', journal_csv(s.everything()) + f'the end {n}\\n')\n    print(n, flush=True)",
    "copy": "import os\nwhile True:\n    s = session()\n"
    "    print(s.log(CoatLogged(dry_um=9), instrument='heron').id, flush=True)\n    s.close()\n"
    "    for c in folder.glob('shop.ravden.backup*'):\n        os.utime(c, (1e9, 1e9))",
    "hand over": "s = session()\ni = 0\nwhile True:\n    i += 1\n"
    "    s.select('heron', 'x')\n    s.clock.turn(minutes=1)\n"
    "    s.hand_over(s.now, f'Somebody {i}')\n    s.bring_back('heron')\n    print(s.entries[-1].id, flush=True)",
    "forget": "from ravden.app.forgetting import forget_person\ns = session()\ni = 0\nwhile True:\n    i += 1\n"
    "    s.select('heron', 'x')\n    s.clock.turn(minutes=1)\n    s.hand_over(s.now, f'Forgotten {i}')\n"
    "    forget_person(s, s.shop.book['heron'].person)\n"
    "    s.bring_back('heron')\n    print(s.entries[-1].id, flush=True)",
    "upgrade": "import shutil\nwhile True:\n    shutil.copyfile(folder / 'old.ravden', folder / 'older.ravden')\n"
    "    Journal.open(folder / 'older.ravden').close()\n    print(1, flush=True)",
}


def killed(what, folder, chance):
    """The lines a process had said when it was killed."""
    line = [sys.executable, "-c", HEAD + DOING[what], str(folder)]
    child = subprocess.Popen(line, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True)
    child.stdout.readline()
    time.sleep(chance.random() ** 2 * (0.8 if what in ("import", "open") else 0.25))
    child.send_signal(signal.SIGKILL)
    said = child.stdout.read().split("\n")[:-1]
    error = child.stderr.read()
    child.wait()
    child.stdout.close()
    child.stderr.close()
    return said, error


def fault(what, folder, said, error, rows):
    """What is wrong after it; empty: nothing."""
    if error:
        return f"it said: {error.splitlines()[-1]}"
    if what == "create":
        for i in range(len(said) + 2):
            path = folder / f"new-{i}.ravden"
            try:
                (Journal.open if path.exists() else Journal.create)(path).close()
            except InputError as refused:
                return f"{path.name} neither opens nor can be made: {refused}"
            if i < len(said) and not path.exists():
                return f"{path.name} was made and is gone"
        for path in folder.glob("*new-*"):
            path.unlink()
        return ""
    if what == "export":
        path = folder / "journal.csv"
        text = path.read_text() if path.exists() else ""
        last = int(text.splitlines()[-1].removeprefix("the end ")) if text else 0
        return "" if last >= int(said[-1] if said else 0) else f"export {said[-1]} was acknowledged, and is not there"
    if what == "upgrade":
        return upgraded(folder)
    try:
        journal = Journal.open(folder / "shop.ravden")
    except InputError as refused:
        return f"it does not open: {refused}"
    entries, off = journal.entries(), journal.unsound
    journal.close()
    if off:
        return f"it is not as it was written: {off.said}"
    made = any(copies.backup_path(folder / "shop.ravden", i).exists() for i in range(copies.GENERATIONS))
    if what == "copy" and (made or said) and not copies.newest(folder / "shop.ravden"):
        return "no copy of it is whole"
    if said and what != "open" and int(said[-1]) > entries[-1].id:
        return f"entry {said[-1]} was acknowledged and is lost"
    folded = Fold(entries, shipped())
    if folded.aside:
        return "entries had to be set aside"
    for name in folded.shop.racked:
        if name.startswith("heron-") and sum(e.instrument == name for e in entries) != rows:
            return f"{name} was brought in by halves"
    return ""


def upgraded(folder):
    """What is wrong with a file whose upgrade was cut off; empty: it is what it was, or upgraded, and opens."""
    path = folder / "older.ravden"
    try:
        found = [e.id for e in opened(path)] if path.exists() and path.stat().st_size else None
    except InputError as refused:
        whole = path.stat().st_size == (folder / "old.ravden").stat().st_size
        return f"it does not open: {refused}" if whole else ""  # it was being copied there, by this very test
    for left in folder.glob("older.ravden*"):
        left.unlink()
    return "" if found in (None, [e.id for e in opened(folder / "new.ravden")]) else "entries are gone"


def opened(path):
    journal = Journal.open(path)
    try:
        return journal.entries()
    finally:
        journal.close()


def main(kills, seed):
    chance = random.Random(seed)
    tried, faults = collections.Counter(), 0
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        for i in range(kills):
            if i % 20 == 0:
                for path in folder.iterdir():
                    path.unlink()
                ferrow_lane.build(folder / "shop.ravden", NOW, ("heron", "wren"))
                journal = Journal.open(folder / "shop.ravden")
                entries = journal.entries()
                journal.close()
                raw = instrument.write(entries, Fold(entries, shipped()).shop, "heron")
                (folder / "heron.json").write_bytes(raw)
                rows = len(instrument.read(raw, "heron.json").entries)
                for name in ("new", "old"):
                    shutil.copyfile(folder / "shop.ravden", folder / f"{name}.ravden")
                as_version(folder / "old.ravden", chance.randint(1, VERSION - 1))
            what = chance.choice(list(DOING))
            tried[what] += 1
            if wrong := fault(what, folder, *killed(what, folder, chance), rows):
                faults += 1
                print(f"{what} (kill {i}): {wrong}", flush=True)
    print(f"{kills} kills: {dict(tried)}; {faults} faults (0)")
    return 1 if faults else 0


if __name__ == "__main__":
    told = [int(a) for a in sys.argv[1:]]
    sys.exit(main(*(told + [1000, 1][len(told) :])))
