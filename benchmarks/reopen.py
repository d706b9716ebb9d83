"""Random shops of sixty deeds, each opened anew, folded whole and with its memories thrown away: does it show the same?
`reopen.py SEED N [--record]`: N shops from SEED on, after every tenth deed; with --record the record alone and not what
is worked out of it, in a twentieth of the time. Prints every difference, exits 1 where there is one.
"""

from __future__ import annotations

import collections
import sys
import time
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from tests.reopened import walked

LONG = 160


def main() -> int:
    first, shops, whole = int(sys.argv[1]), int(sys.argv[2]), "--record" not in sys.argv
    began, bad, places = time.monotonic(), set(), collections.Counter()
    for seed in range(first, first + shops):
        for hands, way, place, (one, other) in walked(seed, whole=whole):
            at = next((i for i, (a, b) in enumerate(zip(one, other, strict=False)) if a != b), 0)
            lead = max(at - 50, 0)
            print(
                f"{seed}, {len(hands.done)} deeds, {way}: {place}\n"
                f"  {one[lead : lead + LONG]}\n  {other[lead : lead + LONG]}"
            )
            bad.add(seed)
            places[way, place.split(" ", 1)[-1]] += 1
    for (way, place), n in places.most_common():
        print(f"{n:5} {way}: {place}")
    print(f"{shops} shops, {len(bad)} of them differ: {sorted(bad)}; took {time.monotonic() - began:.0f} s")
    return 1 if bad else 0


if __name__ == "__main__":
    sys.exit(main())
