"""``ravden-sim-hygrometer``: a made-up room, warm by day and damp by night, told over a local socket."""

import math
import random
import sys
from collections.abc import Iterator
from datetime import UTC, datetime

from ravden.devices.protocol import air_line
from ravden.devices.server import parser, serve


def room(temp_C: float, rh: float, seed: int, *, lie: bool = False) -> Iterator[str]:
    """Readings without end: a daily swing about the middle, and a little noise."""
    rng = random.Random(seed)
    while True:
        now = datetime.now(UTC)
        swing = math.sin((now.hour + now.minute / 60 - 9) / 24 * 2 * math.pi)
        warm, damp = temp_C + 2 * swing + rng.gauss(0, 0.1), rh - 0.06 * swing + rng.gauss(0, 0.005)
        yield air_line(now, 85.0, 1.4) if lie else air_line(now, warm, min(max(damp, 0.0), 1.0))


def main(argv: list[str] | None = None) -> int:
    """Run until interrupted."""
    options = parser("hygrometer", __doc__ or "")
    options.add_argument("--temp", type=float, default=19.0, metavar="C", help="the room's middle (default: 19)")
    options.add_argument("--rh", type=float, default=0.55, help="its humidity, 0 to 1 (default: 0.55)")
    args = options.parse_args(argv)
    return serve(args.socket, "hygrometer", args.name, args.every, lambda: room(args.temp, args.rh, 1, lie=args.lie))


if __name__ == "__main__":
    sys.exit(main())
