"""What the record says of paper, wheel and case: each looks for one cause and says its number and the limit."""

from __future__ import annotations

import itertools
import math

from ravden.core.abrasive.sandthrough import zone_odds
from ravden.core.cure.asked import Sampling
from ravden.core.cure.windows import BUFF_MARGIN_K, CASE_MARGIN_K
from ravden.core.film.layers import witness_odds
from ravden.core.record import Sanding
from ravden.core.repair.evidence import LIKELY, POSSIBLE, VERY, Cause, Looked, ask, last_coat, over_limit, under_limit
from ravden.core.repair.record import Record
from ravden.core.repair.sizing import GUN_KNOWN_SD, KNOWN_CV, NEW_CV, SINK_LEFT_UM
from ravden.core.rubout.rub_out import zone_left
from ravden.core.state.history import cure, film_events, known

ODDS_RISKY, ODDS_NEAR = 0.05, 0.02  # [A] of sanding through
BOLD = 1.6  # [A] grain of the next paper against the one before: a grade left out
WITNESS_RISKY = 0.05


def through_top_layer(r: Record) -> Looked:
    """What levelling took, against the top layer."""
    coats = r.coats
    if not coats:
        return
    cut = sum(s.share(r.zone) for s in r.sandings if s.at_h > coats[-1].at_h and s.purpose in ("level", "rub-out"))
    if cut <= 0:
        return
    before = [s.at_h for s in r.sandings if s.at_h < coats[-1].at_h]
    since = max(before, default=-math.inf)
    layer = sum(c.share(r.zone) for c in coats if c.at_h > since)
    _, sd = r.found.ledger.applicator()
    odds = witness_odds(max(layer, 0.1), cut, KNOWN_CV if sd < GUN_KNOWN_SD else NEW_CV)
    if odds > WITNESS_RISKY:
        yield Cause(code="layer-cut", confidence=VERY, value=cut, limit=layer, what="um", at_h=r.sandings[-1].at_h)


def sand_odds(r: Record) -> Looked:
    """The odds there were before the last rung."""
    papers = [s for s in r.sandings if s.purpose in ("level", "rub-out")]
    if not papers:
        yield from ask("sanded-by")
        return
    last = papers[-1]
    before = known(r.found.project, last.at_h - 1e-6).ledger
    left = zone_left(r.zone, before)
    odds = zone_odds(left, last.share(r.zone), 0.25, 1.0)
    if odds > ODDS_RISKY:
        yield Cause(code="film-thin", confidence=VERY, value=odds, limit=ODDS_RISKY, what="odds", at_h=last.at_h)
    elif odds > ODDS_NEAR:
        yield Cause(code="film-thin", confidence=LIKELY, value=odds, limit=ODDS_RISKY, what="odds", at_h=last.at_h)


def edges(r: Record) -> Looked:
    """Paper over an edge."""
    papers = [s for s in r.sandings if s.purpose in ("level", "rub-out")]
    worked = [s for s in papers if s.edges_worked or (r.zone.kind == "edge" and s.zones and r.zone.name in s.zones)]
    if r.zone.kind == "edge" and worked:
        yield Cause(code="edge-worked", confidence=VERY, value=len(worked), limit=0, what="count", at_h=worked[-1].at_h)
    elif r.zone.kind == "edge" and papers:
        yield Cause(code="edge-worked", confidence=POSSIBLE, asks="edge-worked", at_h=papers[-1].at_h)


def skipped_grade(r: Record) -> Looked:
    """A grade left out, by the grain of the papers one after the other."""
    grains = {d.abrasive.name: d.abrasive.d50_um for d in r.found.rub_out.drawer}
    grains |= {d.abrasive.id: d.abrasive.d50_um for d in r.found.rub_out.drawer}
    used = [s for s in r.sandings if s.grade in grains and s.purpose in ("level", "rub-out")]
    for a, b in itertools.pairwise(used):
        if grains[b.grade] > 0 and grains[a.grade] / grains[b.grade] > 2 * BOLD:
            yield Cause(code="grade-skipped", confidence=VERY, value=grains[a.grade] / grains[b.grade],
                        limit=2 * BOLD, what="times", at_h=b.at_h)  # fmt: skip
            return


def worn_paper(r: Record) -> Looked:
    """The paper's wear, as the drawer has it."""
    wear = r.found.rub_out.held.wear
    by_name = {d.abrasive.name: wear.get(d.abrasive.id, 0.0) for d in r.found.rub_out.drawer}
    if r.sandings and by_name.get(r.sandings[-1].grade, 0.0) > 0.8:
        yield Cause(code="worn-paper", confidence=LIKELY, value=by_name[r.sandings[-1].grade], limit=0.8, what="share",
                    at_h=r.sandings[-1].at_h)  # fmt: skip


def no_wipe_between(r: Record) -> Looked:
    """No wipe between grades is logged: asked."""
    if r.sandings:
        yield from ask("wipe-between")


def _margin(r: Record, at_h: float) -> float | None:
    """Least margin of the zone's film over the bench at an hour [K]."""
    project = r.found.project
    laid, cuts = film_events(project, r.zone, 1.0, at_h)
    if not laid:
        return None
    history = cure(project, laid, cuts, Sampling(sample_h=[at_h], until_h=at_h, rough=True), zone=r.zone.name)
    return float(history.column("Tg_min_C")[-1]) - project.instrument.judged_C


def cased_early(r: Record) -> Looked:
    """In its case, or in hands, before the case window, by so many kelvin."""
    coat = last_coat(r)
    if coat is None:
        return
    out = [h for h in r.out_h if coat.at_h < h <= r.at_h]
    at = min(out, default=None)
    if at is None:
        margin = _margin(r, r.at_h)
        if margin is not None and not math.isnan(margin) and margin < CASE_MARGIN_K:
            yield Cause(
                code="handled-soft", confidence=LIKELY, value=margin, limit=CASE_MARGIN_K, what="K", at_h=r.at_h
            )
        return
    margin = _margin(r, at)
    if margin is not None:
        value = -99.0 if math.isnan(margin) else margin
        yield from under_limit("cased-early", value, CASE_MARGIN_K, "K", at)


def shrank(r: Record) -> Looked:
    """Shrink still to come when it was levelled."""
    levelled = [s for s in r.sandings if s.purpose == "level"]
    if not levelled:
        return
    project, at = r.found.project, levelled[-1].at_h
    laid, cuts = film_events(project, r.zone, 1.0, at)
    if not laid:
        return
    history = cure(project, laid, cuts[:-1], Sampling(sample_h=[at], until_h=at, rough=True), zone=r.zone.name)
    left = float(history.column("film_um")[-1] - history.column("dry_um")[-1])
    yield from over_limit("levelled-early", left, SINK_LEFT_UM, "um", at)


def buffed_early(r: Record) -> Looked:
    """On the wheel before its window."""
    rubbed = [s for s in r.sandings if s.purpose == "rub-out"]
    at = rubbed[-1].at_h if rubbed else None
    margin = None if at is None else _margin(r, at)
    if margin is not None:
        yield from under_limit("buffed-early", -99.0 if math.isnan(margin) else margin, BUFF_MARGIN_K, "K", at)
    yield from ask("wheel-held")


def burnt_edge(r: Record) -> Looked:
    """An edge on the wheel."""
    if r.zone.kind == "edge":
        yield Cause(code="edge-wheel", confidence=LIKELY, value=1, limit=0, what="count")


def early_paper(r: Record) -> Looked:
    """Paper or water on open wood."""
    wet = [s for s in r.sandings if isinstance(s, Sanding) and s.mode == "wet"]
    if wet:
        yield Cause(code="wet-paper", confidence=LIKELY, value=len(wet), limit=0, what="count", at_h=wet[-1].at_h)
