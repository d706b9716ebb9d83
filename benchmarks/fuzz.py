"""Spoiled inputs to every reader: how many of how many were refused, which raised something else than a clear sentence,
and the slowest. ``fuzz.py [inputs] [seed]``; each found fault is printed once, with the seed that has it again."""

import collections
import random
import sys
import time
import traceback
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from tests.fuzz.readers import pick, readers, refuses
from tests.fuzz.spoil import spoiled

SLOW_S = 1.0


def main(inputs: int, seed: int) -> int:
    refused: collections.Counter[str] = collections.Counter()
    taken: collections.Counter[str] = collections.Counter()
    slowest: dict[str, float] = collections.defaultdict(float)
    faults: collections.Counter[str] = collections.Counter()
    with readers() as found:
        for reader in found:
            refuses(reader, reader.seeds[0])  # what is loaded once is loaded before the clock runs
        for i in range(inputs):
            chance = random.Random(f"{seed} {i}")
            reader = pick(found, chance)
            raw = spoiled(reader.seeds, chance)
            start = time.perf_counter()
            try:
                (refused if refuses(reader, raw) else taken)[reader.name] += 1
            except Exception as error:
                last = traceback.extract_tb(error.__traceback__)[-1]
                where = f"{reader.name}: {type(error).__name__} at {Path(last.filename).name}:{last.lineno}"
                if not faults[where]:
                    print(f"{where}  (seed {seed} {i}) {str(error)[:120]!r}", flush=True)
                faults[where] += 1
            took = time.perf_counter() - start
            if took > SLOW_S and took > slowest[reader.name]:
                print(f"{reader.name}: {took:.2f} s  (seed {seed} {i})", flush=True)
            slowest[reader.name] = max(slowest[reader.name], took)
    for reader in found:
        n = reader.name
        print(f"{n:10} refused {refused[n]:6}  taken {taken[n]:6}  slowest {slowest[n]:.3f} s")
    slow = sum(s > SLOW_S for s in slowest.values())
    print(f"{inputs} inputs, {sum(faults.values())} uncaught (0), {slow} readers over 1 s (0)")
    return 1 if faults else 0


if __name__ == "__main__":
    told = [int(a) for a in sys.argv[1:]]
    sys.exit(main(*(told + [2000, 1][len(told) :])))
