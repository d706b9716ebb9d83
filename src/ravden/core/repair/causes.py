"""What the record says of the cause of a defect: ranked, each with the number that speaks for it."""

from collections.abc import Callable
from dataclasses import replace

from ravden.core.repair import evidence as e
from ravden.core.repair.evidence import LIKELY, POSSIBLE, VERY, Cause, Looked
from ravden.core.repair.record import Record

Look = Callable[[Record], Looked]
HAZE: tuple[Look, ...] = (e.dew, e.damp, e.heavy_haze, e.cold_coat)
FLOW: tuple[Look, ...] = (e.thin, e.thick_mix, e.dry_air, e.gun)
LOOKS: dict[str, tuple[Look, ...]] = {
    "blush": HAZE, "milky": (e.heavy_haze, e.damp, e.dew, e.close, e.cold_coat),
    "satin-haze": (e.too_thick, e.asked("many-satin")), "run": (e.sags, e.close),
    "nib": (e.asked("dusty"),), "orange-peel": FLOW, "dry-spray": FLOW,
    "fish-eye": (e.soap, e.no_wipe, e.oil_near), "pinholes": (e.short_rest, e.unfilled, e.session),
    "pop": (e.session, e.early_heat), "wrinkling": (e.forbidden, e.late_coat, e.order),
    "peeling": (e.late_coat, e.order, e.old_finish, e.asked("greasy")),
    "witness": (e.through_top_layer,), "sand-through": (e.sand_odds, e.edges, e.asked("finger")),
    "stray-scratch": (e.skipped_grade, e.worn_paper, e.no_wipe_between),
    "swirl": (e.skipped_grade, e.asked("dirty-pad")), "print": (e.cased_early,),
    "sink-back": (e.shrank, e.unfilled), "burn": (e.buffed_early, e.burnt_edge),
    "checking": (e.too_thick, e.soft_under, e.cold), "tacky": (e.heavy_oil, e.days_between, e.cold_coat, e.old_can),
    "blotch": (e.asked("glue"), e.asked("no-wash")), "raised-grain": (e.asked("not-raised"),),
    "build-up": (e.sags, e.asked("not-wiped")), "chip": (e.asked("not-relieved"),),
    "swelling": (e.early_paper, e.asked("water")), "ding": (e.asked("knock"),),
    "worn-through": (e.asked("wear"),), "dry-patch": (e.thin, e.asked("wet-edge")),
}  # fmt: skip
RANK = {VERY: 0, LIKELY: 1, POSSIBLE: 2}
MOST = 5


def causes(record: Record) -> tuple[Cause, ...]:
    """The likeliest first; in one class, the order of the table. What was asked and answered yes is likely, and what
    was answered no is left out; never one alone as certain."""
    told = dict(record.mishap.told)
    found: dict[str, Cause] = {}
    for look in LOOKS.get(record.mishap.what, ()):
        for cause in look(record):
            if cause.asks and cause.asks in told:
                if not told[cause.asks]:
                    continue
                cause = replace(cause, confidence=LIKELY, asks="")
            before = found.get(cause.code)
            if before is None or RANK[cause.confidence] < RANK[before.confidence]:
                found[cause.code] = cause
    order = {code: i for i, code in enumerate(found)}
    return tuple(sorted(found.values(), key=lambda c: (RANK[c.confidence], order[c.code]))[:MOST])
