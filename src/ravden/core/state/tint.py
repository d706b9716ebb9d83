"""Where in a film its colour ends: the share of it that lies under the top of the last tinted coat."""

from collections.abc import Sequence
from typing import NamedTuple

from ravden.core.record import Coat, Sanding


class Under(NamedTuple):
    """share: of a film and what was sanded off it since, up to the colour's top [-]; since_um: sanded off since."""

    share: float
    since_um: float

    def top_um(self, film_um: float) -> float:
        """Film up to the top of the colour, of so much that is there [um]."""
        return min((film_um + self.since_um) * self.share, film_um)


def under_colour(laid: Sequence[Coat], cuts: Sequence[Sanding]) -> Under | None:
    """Of one zone's coats and cuts, nominal; None: no coat on it is tinted.

    .. math:: C = (F + S)\\,\\frac{c}{c + x}

    F: film there; S: sanded off since the first clear coat over the colour; c, x: nominal film up to the colour's top,
    sandings taken off, and over it. The coats are as heavy as one another [A].
    """
    last = max((c.at_h for c in laid if c.tinted), default=None)
    if last is None:
        return None
    over = [c for c in laid if c.at_h > last]
    if not over:
        return Under(1.0, 0.0)
    begins = min(c.at_h for c in over)
    under_um = max(sum(c.dry_um for c in laid if c.at_h <= last) - sum(s.um for s in cuts if s.at_h <= begins), 0.0)
    share = under_um / max(under_um + sum(c.dry_um for c in over), 1e-9)
    return Under(share, sum(s.um for s in cuts if s.at_h > begins))
