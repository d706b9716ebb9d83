"""``ravden-sim-scale``: a made-up witness card drying on a milligram scale, told over a local socket."""

import math
import random
import sys
from collections.abc import Iterator
from datetime import UTC, datetime

from ravden.devices.protocol import mass_line
from ravden.devices.server import parser, serve


def card(dry_g: float, solvent_g: float, halving_h: float, seed: int, *, lie: bool = False) -> Iterator[str]:
    """Readings without end: what the card gained, its solvent leaving, and a milligram of noise."""
    rng = random.Random(seed)
    start = datetime.now(UTC)
    while True:
        now = datetime.now(UTC)
        left = solvent_g * math.exp2(-((now - start).total_seconds() / 3600) / halving_h)
        yield mass_line(now, 1e6 if lie else dry_g + left + rng.gauss(0, 0.001))


def main(argv: list[str] | None = None) -> int:
    """Run until interrupted."""
    options = parser("scale", __doc__ or "")
    options.add_argument("--dry", type=float, default=1.6, metavar="G", help="dry film on the card (default: 1.6)")
    options.add_argument("--solvent", type=float, default=0.1, metavar="G", help="solvent in it at the start")
    options.add_argument("--halving", type=float, default=60.0, metavar="H", help="hours in which it halves")
    args = options.parse_args(argv)
    lines = card(args.dry, args.solvent, args.halving, 1, lie=args.lie)
    return serve(args.socket, "scale", args.name, args.every, lambda: lines)


if __name__ == "__main__":
    sys.exit(main())
