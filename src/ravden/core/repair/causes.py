"""What the record says of the cause of a defect: ranked, each with the number that speaks for it."""

from collections.abc import Callable
from dataclasses import replace

from ravden.core.repair import in_coats as coats
from ravden.core.repair import in_paper as paper
from ravden.core.repair.evidence import LIKELY, POSSIBLE, VERY, Cause, Looked, asked
from ravden.core.repair.record import Record

Look = Callable[[Record], Looked]
HAZE: tuple[Look, ...] = (coats.dew, coats.damp, coats.heavy_haze, coats.cold_coat)
FLOW: tuple[Look, ...] = (coats.thin, coats.thick_mix, coats.dry_air, coats.gun)
LOOKS: dict[str, tuple[Look, ...]] = {
    "blush": HAZE, "milky": (coats.heavy_haze, coats.damp, coats.dew, coats.close, coats.cold_coat),
    "satin-haze": (coats.too_thick, asked("many-satin")), "run": (coats.sags, coats.close),
    "nib": (asked("dusty"),), "orange-peel": FLOW, "dry-spray": FLOW,
    "fish-eye": (coats.soap, coats.no_wipe, coats.oil_near),
    "pinholes": (coats.short_rest, coats.unfilled, coats.session),
    "pop": (coats.session, coats.early_heat), "wrinkling": (coats.forbidden, coats.late_coat, coats.order),
    "peeling": (coats.late_coat, coats.order, coats.old_finish, asked("greasy")),
    "witness": (paper.through_top_layer,), "sand-through": (paper.sand_odds, paper.edges, asked("finger")),
    "stray-scratch": (paper.skipped_grade, paper.worn_paper, paper.no_wipe_between),
    "swirl": (paper.skipped_grade, asked("dirty-pad")), "print": (paper.cased_early,),
    "sink-back": (paper.shrank, coats.unfilled), "burn": (paper.buffed_early, paper.burnt_edge),
    "checking": (coats.too_thick, coats.soft_under, coats.cold),
    "clogs": (coats.days_between, coats.cold_coat, coats.old_can),
    "tacky": (coats.heavy_oil, coats.days_between, coats.cold_coat, coats.old_can),
    "blotch": (asked("glue"), asked("no-wash")), "raised-grain": (asked("not-raised"),),
    "build-up": (coats.sags, asked("not-wiped")), "chip": (asked("not-relieved"),),
    "swelling": (paper.early_paper, asked("water")), "ding": (asked("knock"),),
    "worn-through": (asked("wear"),), "dry-patch": (coats.thin, asked("wet-edge")),
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
