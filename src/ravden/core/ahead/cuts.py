"""What the sandings still to come take off, and how long they are."""

from ravden.core.method.steps import SCUFF_UM, Method, Stage
from ravden.core.record import Zone
from ravden.core.rubout.aim import SANDED, coats_after
from ravden.core.rubout.rub_out import Sands

TINT_SCUFF_UM = 0.5  # [A] that a soft pad takes of a tinted coat


def sanded(sands: Sands, method: Method, place: int, stage: Stage) -> tuple[float, float]:
    """Film [um] and hours a sanding will take."""
    if stage.kind == "scuff":
        return scuff_um(method, place), stage.hands_h
    if stage.kind == "level":
        key = coats_after(method, place) is not None
        um, hours = (sands.key_um, sands.key_h) if key else (sands.level_um, sands.level_h)
    else:
        um, hours = sands.rubout_um, sands.rubout_h
    return um, stage.hands_h or hours


def scuff_um(method: Method, place: int) -> float:
    """Film a scuff at a stage takes [um]: on colour, and between tinted coats, only a soft pad goes over it."""
    before = next((s for s in reversed(method.stage[:place]) if s.kind == "coats" and not s.zones), None)
    return TINT_SCUFF_UM if before is not None and before.tinted else SCUFF_UM


def key_cut_um(sands: Sands, method: Method, at: int) -> float | None:
    """What a level takes off the flats that coats follow [um]; None: it is none."""
    stage = method.stage[at]
    if stage.kind != "level" or stage.patch or coats_after(method, at) is None:
        return None
    return stage.um if stage.um is not None else sands.key_um


def next_cut_um(sands: Sands, method: Method, place: int, zone: Zone) -> float | None:
    """The cut of the level that a wait is for, on a zone [um]; None: it is the last one."""
    stages = method.stage
    at = next((i for i in range(place, len(stages)) if stages[i].kind in SANDED and not stages[i].patch), None)
    cut = None if at is None else key_cut_um(sands, method, at)
    return None if cut is None else cut * max(zone.sanding, 0.1)
