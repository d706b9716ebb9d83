"""From an instrument as entered to a project the core can fold: shape, zones, material and drawer looked up.

What needs NumPy is imported when it is first used: the first paint does without.
"""

from __future__ import annotations

import functools
from collections.abc import Mapping
from typing import TYPE_CHECKING

from ravden.catalogue.tables import DEFAULT_DRAWER, Catalogue, InstrumentKind, shipped
from ravden.core.record import RATE_LN_SD, Act, Coat, Instrument, Measures, Project, Zone

if TYPE_CHECKING:
    from ravden.core.instrument.outline import Outline
    from ravden.core.plan.rubout import Drawer


@functools.lru_cache(maxsize=64)
def body(measures: Measures) -> Outline:
    """The outline of measured bodies, remembered."""
    from ravden.core.instrument.outline import outline

    return outline(measures, dict(shipped().shapes))


def measures_of(kind: InstrumentKind) -> Measures:
    """A kind's starting measurements."""
    return Measures(
        family=kind.family, length_mm=kind.length_mm, upper_mm=kind.upper_mm, waist_mm=kind.waist_mm,
        lower_mm=kind.lower_mm, depth_neck_mm=kind.depth_neck_mm, depth_tail_mm=kind.depth_tail_mm,
        neck_length_mm=kind.neck_length_mm, stations=kind.stations, cutaway_mm=kind.cutaway_mm,
        cutaway_left_mm=kind.cutaway_left_mm, arch_mm=kind.arch_mm,
    )  # fmt: skip


def zones(catalogue: Catalogue, instrument: Instrument) -> tuple[Zone, ...]:
    """The zones of an instrument with their areas and factors for its material."""
    from ravden.core.instrument.zones import zones_of

    kind = catalogue.kind(instrument.kind)
    return zones_of(
        instrument.measures,
        body(instrument.measures),
        catalogue.zone_habits,
        padded=catalogue.applied[catalogue.material(instrument.material).id] != "spray",
        neck_girth_mm=kind.neck_girth_mm,
        head_cm2=kind.head_cm2,
        contour_share=kind.contour_share,
        end_grain_share=kind.end_grain_share,
    )


def project(
    catalogue: Catalogue, instrument: Instrument, acts: tuple[Act, ...], masked: tuple[str, ...] = (),
    finishes: Mapping[str, str] | None = None, rate_ln: tuple[float, float] = (0.0, RATE_LN_SD),
) -> Project:  # fmt: skip
    """Everything the core needs of one instrument; finishes: material ids of zones under another finish."""
    parts = zones(catalogue, instrument)
    return Project(
        instrument=instrument,
        material=catalogue.material(instrument.material),
        zones=parts,
        acts=acts,
        masked=masked,
        rate_ln=rate_ln,
        finishes={z: catalogue.material(m) for z, m in (finishes or {}).items()},
        layers={a.finish: catalogue.material(a.finish) for a in acts if isinstance(a, Coat) and a.finish},
        drunk={z.name: catalogue.drunk("end-grain" if z.name == "end-grain" else instrument.ground) for z in parts},
    )


def default_drawer(catalogue: Catalogue) -> Drawer:
    """A usual drawer of papers and compounds, until the user's own is entered."""
    from ravden.core.abrasive.grades import find
    from ravden.core.plan.rubout import Drawer

    owned = tuple(find(catalogue.abrasives, name) for name in DEFAULT_DRAWER)
    return Drawer(abrasives=owned, backings=dict(catalogue.backings))
