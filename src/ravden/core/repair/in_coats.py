"""What the record says of coats, their air and their order: each looks for one cause and says its number and limit."""

from __future__ import annotations

import itertools
import math

from ravden.core.climate.air import spare_K
from ravden.core.cure.asked import Sampling
from ravden.core.cure.models import LightCure
from ravden.core.cure.windows import Windows, windows
from ravden.core.errors import InputError
from ravden.core.film.wetcoat import WARN_K
from ravden.core.method.refinish import class_of, over
from ravden.core.method.steps import SESSION_H
from ravden.core.record import Coat, StepDone
from ravden.core.repair.evidence import LIKELY, VERY, Cause, Looked, ask, last_coat, over_limit, under_limit
from ravden.core.repair.record import SAME_DAY_H, SOON_H, Record
from ravden.core.state.history import cure, film_events, known

COLD_C = 8.0  # [A] a cold that cracks a film
GUN_LOW = -0.10  # [A] ln of a gun that lays a tenth less than nominal
WARMER_K, DRIER = 3.0, 0.10  # [A] air against that of the coats before
WIPES = ("clean", "wipe", "degrease", "tack", "dust")


def dew(r: Record) -> Looked:
    """Dew-point spare at the coat, and in the half hour after."""
    coat = last_coat(r)
    if coat is None:
        return
    hours = [coat.at_h, *(a.at_h for a in r.found.project.air if coat.at_h < a.at_h <= coat.at_h + SOON_H)]
    spares = []
    for h in hours:
        air = r.air(h)
        if air is not None:
            wet, _ = r.wet_um(coat)
            spares.append((spare_K(min(max(wet, 1.0), 9e3), air.temp_C, min(max(air.rh, 0.01), 1.0)), h))
    if not spares:
        yield from ask("dew")
        return
    least, at = min(spares)
    if least < 0:
        yield Cause(code="dew", confidence=VERY, value=least, limit=0.0, what="K", at_h=at)
    elif least < WARN_K:
        yield Cause(code="dew", confidence=LIKELY, value=least, limit=0.0, what="K", at_h=at)


def damp(r: Record) -> Looked:
    """Humidity against what the finish is laid in."""
    coat = last_coat(r)
    air = None if coat is None else r.air(coat.at_h)
    if coat is None or r.limits is None:
        return
    if air is None:
        yield from ask("damp")
    else:
        yield from over_limit("damp", air.rh, r.limits.high_rh, "share", coat.at_h)


def heavy_haze(r: Record) -> Looked:
    """Wet film against that from which a coat stays milky, or shuts its solvent in."""
    coat = last_coat(r)
    wet_window = None if coat is None else r.window(coat)
    if coat is None or wet_window is None:
        return
    limit = min(wet_window.limits.get("haze", math.inf), wet_window.limits.get("trapped solvent", math.inf))
    if math.isfinite(limit):
        yield from over_limit("too-heavy", r.wet_um(coat)[0], limit, "um", coat.at_h)


def sags(r: Record) -> Looked:
    """Wet film against what runs in that air on a surface that hangs; lying flat it may be more."""
    coat = last_coat(r)
    wet_window = None if coat is None else r.window(coat)
    if coat is None:
        return
    if wet_window is None:
        yield from ask("too-wet")
        return
    wet, told = r.wet_um(coat)
    mine = list(over_limit("too-wet", wet, wet_window.limits["sag"], "um", coat.at_h))
    if mine:
        yield from mine
    elif not told:
        yield from ask("too-wet")


def close(r: Record) -> Looked:
    """Two coats closer than the flash-off the plan asks for."""
    coats = r.coats
    if len(coats) < 2:
        return
    gap = coats[-1].at_h - coats[-2].at_h
    mine = [s for s in r.found.method.stage if s.kind == "coats" and s.finish == coats[-1].finish and not s.patch]
    if mine and not coats[-1].count > 1:
        yield from under_limit("too-close", gap, min(s.between_h for s in mine), "h", coats[-1].at_h, near=False)


def thin(r: Record) -> Looked:
    """Wet film under the window: it dries before it flows."""
    coat = last_coat(r)
    wet_window = None if coat is None else r.window(coat)
    if coat is None:
        return
    if wet_window is None:
        yield from ask("too-dry")
        return
    wet, _ = r.wet_um(coat)
    yield from under_limit("too-dry", wet, wet_window.low_um, "um", coat.at_h)


def thick_mix(r: Record) -> Looked:
    """Less thinner than is usual for it."""
    coat = last_coat(r)
    told = None if coat is None else r.settings.get(coat.id)
    if coat is None or r.material(coat).thinner_ratio <= 0:
        return
    if told is None or told.thinner_ratio is None:
        yield from ask("thick-mix")
    else:
        yield from under_limit(
            "thick-mix", told.thinner_ratio, 0.7 * r.material(coat).thinner_ratio, "share", coat.at_h
        )


def dry_air(r: Record) -> Looked:
    """Air warmer or drier than at the coats before."""
    coats = r.coats
    if len(coats) < 2:
        return
    now = r.air(coats[-1].at_h)
    before = [a for c in coats[:-1] if (a := r.air(c.at_h)) is not None]
    if now is None or not before:
        return
    warmer = now.temp_C - sum(a.temp_C for a in before) / len(before)
    drier = sum(a.rh for a in before) / len(before) - now.rh
    yield from over_limit("warmer-air", warmer, WARMER_K, "K", coats[-1].at_h)
    yield from over_limit("drier-air", drier, DRIER, "share", coats[-1].at_h)


def gun(r: Record) -> Looked:
    """A gun that was learnt to lay less than nominal."""
    mean, sd = r.found.ledger.applicator()
    if sd < 0.2 and mean < GUN_LOW:
        yield Cause(code="gun-low", confidence=LIKELY, value=math.exp(mean), limit=1.0, what="share")


def soap(r: Record) -> Looked:
    """Paper since the last coat but one and a waterborne coat over it."""
    coats = r.coats
    if not coats or class_of(r.material(coats[-1])) != "waterborne":
        return
    since = coats[-2].at_h if len(coats) > 1 else -math.inf
    papers = [s for s in r.sandings if since < s.at_h <= coats[-1].at_h]
    soapy = [s for s in papers if "soap" in s.grade.lower() or "stearate" in s.grade.lower()]
    if soapy:
        yield Cause(code="soap-paper", confidence=VERY, value=len(soapy), limit=0, what="count", at_h=soapy[-1].at_h)
    elif papers:
        yield from ask("soap-paper")


def no_wipe(r: Record) -> Looked:
    """Paper before the coat, and no wipe logged between."""
    coats = r.coats
    if not coats:
        return
    papers = [s for s in r.sandings if s.at_h <= coats[-1].at_h and (len(coats) < 2 or s.at_h > coats[-2].at_h)]
    if papers and not _wiped(r, papers[-1].at_h, coats[-1].at_h):
        yield Cause(code="no-wipe", confidence=LIKELY, value=coats[-1].at_h - papers[-1].at_h, limit=0.0, what="h",
                    at_h=papers[-1].at_h)  # fmt: skip


def _wiped(r: Record, since_h: float, until_h: float) -> bool:
    done = [a for a in r.steps_since(since_h) if a.at_h <= until_h and not a.skipped]
    return any(any(w in a.step.lower() for w in WIPES) for a in done)


def oil_near(r: Record) -> Looked:
    """Oil laid on another instrument the same day."""
    coat = last_coat(r)
    if coat is None:
        return
    near = [h for h in r.near if abs(h - coat.at_h) <= SAME_DAY_H]
    if near:
        gap = min(abs(h - coat.at_h) for h in near)
        yield Cause(code="oil-near", confidence=LIKELY, value=gap, limit=SAME_DAY_H, what="h", at_h=coat.at_h)
    else:
        yield from ask("silicone")


def short_rest(r: Record) -> Looked:
    """Light sooner after the coat than its rest."""
    coat = last_coat(r)
    if coat is None:
        return
    model = r.material(coat).cure
    rest_min = 60.0 * model.rest_h(coat.dry_um) if isinstance(model, LightCure) else 0.0
    lit = [e.at_h for e in r.lights() if e.at_h >= coat.at_h]
    if rest_min > 0 and lit:
        yield from under_limit("short-rest", min(lit) - coat.at_h, rest_min / 60.0, "h", min(lit))


def unfilled(r: Record) -> Looked:
    """Pores that the ground or a step left out leaves open."""
    stages = r.found.method.stage
    skipped = {a.step for a in r.found.project.acts if isinstance(a, StepDone) and a.skipped}
    fills = [s for s in stages if s.kind == "pores"]
    left_out = [s for s in fills if s.key in skipped]
    if left_out:
        yield Cause(code="pores-skipped", confidence=VERY, value=len(left_out), limit=0, what="count")
    elif not fills and r.found.project.instrument.ground in ("open-grain", "close-grain"):
        yield Cause(code="pores-open", confidence=LIKELY, value=0, limit=1, what="count")


def session(r: Record) -> Looked:
    """Coats of a session over what the plan has, so that its bottom stays wet."""
    coats = r.coats
    if not coats:
        return
    last = coats[-1]
    hours = [h for c in coats for h in c.hours]
    run = [last.at_h]
    for h in sorted(hours, reverse=True):
        if 0 < run[-1] - h < SESSION_H:
            run.append(h)
    mine = [s for s in r.found.method.stage if s.kind == "coats" and s.finish == last.finish and not s.patch]
    if mine:
        most = max(s.per_session for s in mine)
        if len(run) > most:
            yield Cause(code="session", confidence=VERY, value=len(run), limit=most, what="count", at_h=last.at_h)
    wet_window = r.window(last)
    if wet_window is not None and "trapped solvent" in wet_window.limits:
        yield from over_limit("too-heavy", r.wet_um(last)[0], wet_window.limits["trapped solvent"], "um", last.at_h)


def early_heat(r: Record) -> Looked:
    """In the warm cabinet before it was dry to the touch."""
    coat = last_coat(r)
    if coat is None:
        return
    warm = [a.at_h for a in r.found.project.air if a.source == "cabinet" and coat.at_h <= a.at_h <= r.at_h]
    if not warm:
        return
    touch = _windows(r, coat, min(warm)).touch_dry_h
    dry_h = math.inf if touch is None else touch
    if min(warm) < dry_h:
        wanted = dry_h - coat.at_h if math.isfinite(dry_h) else math.nan
        yield Cause(
            code="early-heat", confidence=VERY, value=min(warm) - coat.at_h, limit=wanted, what="h", at_h=min(warm)
        )


def _windows(r: Record, upto: Coat, until_h: float) -> Windows:
    """The windows of the zone's film, of what was laid up to a coat, as far as an hour and two weeks on."""
    project, zone = r.found.project, r.zone
    laid, cuts = film_events(project, zone, 1.0, upto.at_h)
    found = cure(project, laid, cuts, Sampling(until_h=until_h + 24 * 14, rough=True), zone=zone.name)
    return windows(found, project.instrument.judged_C)


def forbidden(r: Record) -> Looked:
    """A coat before the one under it was ready for it."""
    coats = r.coats
    if len(coats) < 2:
        return
    under, top = coats[-2], coats[-1]
    ready = _windows(r, under, top.at_h).next_coat_h
    if ready is not None and top.at_h < ready:
        yield Cause(code="too-soon", confidence=VERY, value=top.at_h - under.at_h, limit=ready - under.at_h, what="h",
                    at_h=top.at_h)  # fmt: skip


def late_coat(r: Record) -> Looked:
    """A coat after the recoat window, with no scuff between."""
    coats = r.coats
    for under, top in itertools.pairwise(coats):
        until = _windows(r, under, top.at_h).recoat_until_h
        scuffed = any(under.at_h < s.at_h <= top.at_h for s in r.sandings)
        if until is not None and top.at_h > until and not scuffed:
            yield Cause(code="too-late", confidence=VERY, value=top.at_h - under.at_h, limit=until - under.at_h,
                        what="h", at_h=top.at_h)  # fmt: skip
            return


def order(r: Record) -> Looked:
    """A layer over what it should not go over."""
    for under, top in itertools.pairwise(r.coats):
        a, b = class_of(r.material(under)), class_of(r.material(top))
        if a == b:
            continue
        try:
            row = over(r.overs, a, b)
        except InputError:
            continue
        scuffed = any(under.at_h < s.at_h <= top.at_h for s in r.sandings)
        if row.verdict in ("no", "barrier") or (row.verdict == "key" and not scuffed):
            yield Cause(code="order", confidence=VERY if row.verdict != "key" else LIKELY, what="", at_h=top.at_h)
            return


def old_finish(r: Record) -> Looked:
    """An old finish under it that nobody knows."""
    if r.old:
        yield Cause(code="old-finish", confidence=LIKELY)


def too_thick(r: Record) -> Looked:
    """Film over the finish's greatest."""
    film = known(r.found.project, r.at_h).ledger.mean_um(r.zone.name)
    most = r.found.project.finish(r.zone.name).max_film_um
    yield from over_limit("too-thick", film, most, "um")


def cold(r: Record) -> Looked:
    """Cold that was logged since the last coat."""
    coat = last_coat(r)
    told = [a for a in r.found.project.air if coat is not None and coat.at_h <= a.at_h <= r.at_h and a.source in
            ("told", "log")]  # fmt: skip
    if told:
        least = min(told, key=lambda a: a.temp_C)
        if least.temp_C < COLD_C:
            yield Cause(code="cold", confidence=VERY, value=least.temp_C, limit=COLD_C, what="C", at_h=least.at_h)
            return
    yield from ask("cold")


def soft_under(r: Record) -> Looked:
    """A hard finish over a soft one."""
    for under, top in itertools.pairwise(r.coats):
        soft, hard = r.material(under).cure.model, r.material(top).cure.model
        if soft in ("oxidation", "never") and hard not in ("oxidation", "never"):
            yield Cause(code="soft-under", confidence=LIKELY, at_h=top.at_h)
            return


def heavy_oil(r: Record) -> Looked:
    """A coat heavier than is wiped on."""
    coat = last_coat(r)
    if coat is not None:
        usual = r.material(coat).coat_dry_um
        yield from over_limit("coat-heavy", coat.dry_um, 1.5 * usual, "um", coat.at_h)


def days_between(r: Record) -> Looked:
    """Coats closer together than the plan asks."""
    yield from close(r)


def cold_coat(r: Record) -> Looked:
    """Air colder than the finish dries in."""
    coat = last_coat(r)
    air = None if coat is None else r.air(coat.at_h)
    if coat is not None and air is not None and r.limits is not None:
        yield from under_limit("cold-coat", air.temp_C, r.limits.low_C, "C", coat.at_h)


def old_can(r: Record) -> Looked:
    """The age of the can: asked where the shelf does not tell it."""
    if r.can_share is None:
        yield from ask("old-can")
    else:
        yield from over_limit("can-aged", r.can_share, 1.0, "share")
