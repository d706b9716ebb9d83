"""What a shop learns, in 200 made-up shops whose habits are known: how often the truth lies in the 90 % range, and how
much better the next instrument's film is known for it, gauged on its top alone.

Bars: 85 to 95 % for each kind of figure; the next film off by less than without, and its range no less true.
"""

import numpy as np
from tests.core.learning_shops import inside, next_one

SHOPS = 200


def main() -> None:
    for kind, share in sorted(inside(np.random.default_rng(1), SHOPS).items()):
        print(f"{kind}: {100 * share:.0f} % in the 90 % range (85 to 95)")
    (before, off), (after, less) = (next_one(np.random.default_rng(2), SHOPS, learn=learn) for learn in (False, True))
    print(f"next film off by {off:.3f} of ln without, {less:.3f} with: {less / off:.2f} (1)")
    print(f"inside its 90 % range {100 * before:.0f} % without, {100 * after:.0f} % with")


if __name__ == "__main__":
    main()
