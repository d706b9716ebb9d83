"""What coats and mixes took out of cans. No Qt."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import datetime, timedelta
from typing import TYPE_CHECKING

from msgspec.structs import replace

from ravden.core.stock.lots import Draw

if TYPE_CHECKING:
    from ravden.catalogue.tables import Catalogue
    from ravden.journal.kinds.session import MixMade

    Mix = tuple[datetime, MixMade]

MIX_LASTS = timedelta(hours=12)


def all_draws(drawn: Mapping[str, Sequence[Draw]], mixes: Sequence[Mix], catalogue: Catalogue) -> tuple[Draw, ...]:
    """All that coats and mixes took, in the order of time. A mix took what was made; the coats laid from it took
    nothing more, as far as it went. drawn: by instrument; mixes: in the order of time."""
    coats = sorted((d for some in drawn.values() for d in some), key=lambda d: d.at)
    return tuple(sorted(_with_mixes(coats, mixes, catalogue), key=lambda d: d.at))


def _with_mixes(coats: list[Draw], mixes: Sequence[Mix], catalogue: Catalogue) -> list[Draw]:
    """Coats laid from a mix took of each part what is in the mix; what no coat took is out of the can all the same."""
    out, after = list(coats), dict[str, datetime]()
    for at, mixed in reversed(mixes):
        until = min(at + MIX_LASTS, after.get(mixed.material, at + MIX_LASTS))
        after[mixed.material] = at
        supplied, thinner = _parts(catalogue, mixed)
        rest = mixed.ml
        for n, coat in enumerate(out):
            if coat.material == mixed.material and at <= coat.at < until and coat.of and rest > 0:
                whole = coat.ml + coat.thinner_ml
                share = min(rest / whole, 1.0) if whole > 0 else 0.0
                took = share * whole
                out[n] = replace(
                    coat, ml=coat.ml * (1 - share) + took * supplied, thinner_ml=coat.thinner_ml * (1 - share) +
                    took * thinner,
                )  # fmt: skip
                rest -= took
        if rest > 0:
            out.append(Draw(at=at, material=mixed.material, ml=rest * supplied, thinner_ml=rest * thinner))
    return out


def _parts(catalogue: Catalogue, mixed: MixMade) -> tuple[float, float]:
    """Shares of a mix that came out of the can of the finish, and of thinner: as was said, or as is usual for it."""
    if mixed.supplied_ml is not None and mixed.thinner_ml is not None:
        return mixed.supplied_ml / mixed.ml, mixed.thinner_ml / mixed.ml
    ratio = catalogue.material(mixed.material).thinner_ratio
    return 1 / (1 + ratio), ratio / (1 + ratio)
