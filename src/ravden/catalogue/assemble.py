"""From an instrument as entered to a project the core can fold: shape, zones, material and drawer looked up.

What needs NumPy is imported when it is first used: the first paint does without.
"""

from __future__ import annotations

import functools
from collections.abc import Iterable, Mapping, Sequence
from typing import TYPE_CHECKING, Protocol

from msgspec.structs import replace

from ravden.catalogue.rows import InstrumentKind
from ravden.catalogue.tables import DEFAULT_DRAWER, Catalogue, shipped
from ravden.core.errors import need, need_in
from ravden.core.record import RATE_LN_SD, Act, Coat, Instrument, Measures, Project, StepDone, Zone

if TYPE_CHECKING:
    from ravden.core.instrument.outline import Outline
    from ravden.core.method.steps import Method
    from ravden.core.rubout.rub_out import Drawer


class OwnGrade(Protocol):
    """An abrasive told in micrometres."""

    @property
    def label(self) -> str: ...
    @property
    def d50_um(self) -> float: ...
    @property
    def grain(self) -> str: ...


class Owned(Protocol):
    """What a shop says is in its drawer."""

    @property
    def owned(self) -> tuple[str, ...]: ...
    @property
    def own(self) -> Sequence[OwnGrade]: ...
    @property
    def wear(self) -> Mapping[str, float]: ...
    @property
    def block(self) -> str: ...


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


BARE = ("close-grain", "open-grain")


def project(
    catalogue: Catalogue, instrument: Instrument, acts: tuple[Act, ...], masked: tuple[str, ...] = (),
    finishes: Mapping[str, str] | None = None, rate_ln: tuple[float, float] = (0.0, RATE_LN_SD),
    also: Iterable[str] = (),
) -> Project:  # fmt: skip
    """Everything the core needs of one instrument; finishes: material ids of zones under another finish, of which
    those of parts it does not have are passed over; also: other materials its plan lays."""
    parts = zones(catalogue, instrument)
    there = {z.name for z in parts}
    return Project(
        instrument=instrument,
        material=catalogue.material(instrument.material),
        zones=parts,
        acts=acts,
        masked=masked,
        rate_ln=rate_ln,
        finishes={z: catalogue.material(m) for z, m in (finishes or {}).items() if z in there},
        layers={f: catalogue.material(f) for f in (*_layers(catalogue, instrument, acts), *also)},
        wet_um={by: catalogue.tool(by).wet_um for by in ("brush", "pad", "wipe")},
        own_way=catalogue.applied,
        absorbed=_absorbed(catalogue, instrument, acts, parts),
    )


def _absorbed(
    catalogue: Catalogue, instrument: Instrument, acts: tuple[Act, ...], parts: tuple[Zone, ...]
) -> dict[str, tuple[float, ...]]:
    """What the wood takes of the first coats, by zone; by hand one feeds it until the film stands on it."""
    if first_way(catalogue, instrument) != "spray":
        return {}
    end, rest = (catalogue.absorbed(_ground(catalogue, instrument, acts, zone)) for zone in ("end-grain", ""))
    return {z.name: end if z.name == "end-grain" else rest for z in parts}


def ground(catalogue: Catalogue, made: Project, zone: str) -> str:
    """What the first coats of a zone of an instrument meet."""
    return _ground(catalogue, made.instrument, made.acts, zone)


def first_way(catalogue: Catalogue, instrument: Instrument) -> str:
    """How the first coats on the bare wood of an instrument are laid."""
    method = catalogue.methods.get(instrument.method)
    stages = () if method is None else method.stage
    first = next((s for s in stages if s.kind == "coats" and not s.zones), None)
    if first is None:
        return catalogue.applied[instrument.material]
    return first.by or catalogue.applied[first.finish or instrument.material]


def _ground(catalogue: Catalogue, instrument: Instrument, acts: tuple[Act, ...], zone: str) -> str:
    """What the first coats of a zone meet: the wood as told, its pores filled where the method fills them first."""
    if zone == "end-grain":
        return zone
    method = catalogue.methods.get(instrument.method)
    stages = () if method is None else method.stage
    first = next((i for i, s in enumerate(stages) if s.kind == "coats"), 0)
    skipped = {a.step for a in acts if isinstance(a, StepDone) and a.skipped}
    fills = any(s.kind == "pores" and s.key not in skipped for s in stages[:first])
    return "filled" if fills and instrument.ground in BARE else instrument.ground


def _layers(catalogue: Catalogue, instrument: Instrument, acts: tuple[Act, ...]) -> dict[str, None]:
    """Finishes besides its own that were laid on an instrument, or that its method will lay."""
    planned = catalogue.method(instrument.method).finishes if instrument.method in catalogue.methods else ()
    return dict.fromkeys((*(a.finish for a in acts if isinstance(a, Coat) and a.finish), *planned))


def ways(catalogue: Catalogue, finishes: Iterable[str]) -> dict[str, Method]:
    """For each material, the shortest method that lays it; none where no method does."""
    out = {}
    for finish in finishes:
        own = [m for m in catalogue.methods.values() if m.material == finish]
        if own:
            out[finish] = min(own, key=lambda m: (len(m.stage), m.coats, m.id))
            continue
        over = [m for m in catalogue.methods.values() if finish in m.finishes]
        if over:
            steps = tuple(replace(s, finish="") for s in over[0].stage if s.finish == finish)
            out[finish] = replace(over[0], stage=steps)
    return out


def drawer_of(catalogue: Catalogue, owned: Owned | None) -> Drawer:
    """The papers and compounds of the shop; a usual drawer until it has told its own. Raises InputError for a grade
    nobody knows, one named twice, or a block there is not."""
    from ravden.core.abrasive.grades import custom, find
    from ravden.core.rubout.rub_out import Drawer

    if owned is None:
        grades = tuple(find(catalogue.abrasives, name) for name in DEFAULT_DRAWER)
        return Drawer(abrasives=grades, backings=dict(catalogue.backings))
    need(owned.block in catalogue.backings, "block", f"must be one of {', '.join(catalogue.backings)}")
    own = [custom(o.label, o.d50_um, o.grain) for o in owned.own]
    grades = (*(find(catalogue.abrasives, name) for name in owned.owned), *own)
    ids = [g.id for g in grades]
    for grade in grades:
        need(ids.count(grade.id) == 1, "owned", f"{grade.name} is in the drawer twice")
    for name, wear in owned.wear.items():
        need_in(wear, 0, 1, f"wear of {name}")
    return Drawer(abrasives=grades, backings=dict(catalogue.backings), wear=dict(owned.wear), block=owned.block)
