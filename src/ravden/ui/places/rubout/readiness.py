"""What stands over the ladder: whether the film may be sanded, what to measure first, a stray scratch to mend."""

from ravden.app import defect_words
from ravden.app.defects import open_defects
from ravden.app.session import ShopSession
from ravden.core.abrasive.job import KEY
from ravden.core.abrasive.reasons import to_measure
from ravden.core.abrasive.stray import step_back
from ravden.core.abrasive.verdict import MEASURE, REFUSED
from ravden.core.ahead.outlook import Outlook
from ravden.core.record import Mishap
from ravden.core.rubout.patch import patch
from ravden.core.rubout.rub_out import LEAST_SANDING_MARGIN_K, RubOut
from ravden.core.state.colour import colour_of
from ravden.core.state.damage import depth_of, height_of
from ravden.text import words
from ravden.text.say import say, sentence

MOST_RUNGS, MOST_PATCHES = 3, 2


def stray_words(session: ShopSession, found: Outlook, rub: RubOut) -> str:
    """What to do about a stray scratch noted since the last rung; empty where there is none."""
    project = found.project
    cuts = [(s.at_h, s.id) for s in project.sandings if s.at_h <= found.now_h]
    noted = [a for a in project.acts if isinstance(a, Mishap) and a.at_h <= found.now_h]
    stray = [a for a in noted if a.what == "stray-scratch"]
    if not stray or (cuts and (stray[-1].at_h, stray[-1].id) < max(cuts)):
        return ""
    last = stray[-1]
    done = [r for d in rub.film.done for r in rub.drawer if d.grade in (r.abrasive.id, r.abrasive.name)]
    rungs = tuple(dict.fromkeys(done)) or (rub.ladder.rungs if rub.ladder is not None else ())
    at = next((i for i, r in enumerate(rungs) if last.grade in (r.abrasive.id, r.abrasive.name)), len(rungs) - 1)
    if at < 0:
        return ""
    back = step_back(rub.job, rungs, at)
    zone = next((z for z in rub.job.zones if z.name == project.zone(last.zone).label), None)
    names = " then ".join(r.abrasive.name for r in back.rungs)
    left = f", leaving about {session.units.film(max(zone.film_um - back.film_um, 0))} there" if zone else ""
    return (
        f"Stray scratch, {project.zone(last.zone).label}: {names} on a palm-size patch, soft at its rim; about "
        f"{session.units.film(back.film_um)} and {back.minutes:.0f} min{left}. Wipe paper and work first."
    )


def patch_words(session: ShopSession, found: Outlook, rub: RubOut) -> str:
    """Open defects as the ladder sees them: one that stands or goes in is a patch with a ladder of its own."""
    rack = session.shop.on_rack(found.project.instrument.id)
    out = []
    for defect in open_defects(rack, session.now):
        mishap = defect.mishap
        name = defect_words.label(session, rack, defect)
        if defect.light or mishap.zone in found.project.masked:
            continue
        depth = depth_of(mishap)
        texture = max(height_of(mishap), depth or 0.0)
        if depth is None or texture <= 0 or rub.idle:
            out.append(f"{name}: keep off it, and see to it first (G).")
            continue
        there = patch(rub, mishap.zone, texture)
        if there.ladder is None:
            out.append(f"{name}: the film does not carry a ladder there; see what puts it right (G).")
            continue
        rungs = " then ".join(s.rung.abrasive.name for s in there.ladder.steps[:MOST_RUNGS])
        how = f"shave it off ({session.units.film(texture)}), then " if there.shaved else ""
        out.append(f"{name}, a patch of its own: {how}{rungs} there alone, feathered (G).")
    return " ".join(out[:MOST_PATCHES])


def colour_words(session: ShopSession, rub: RubOut) -> str:
    """What clear film lies over the colour, where it is thinnest, and what the ladder takes; empty: no coat has any."""
    project, ledger, units = rub.film.with_coats, rub.film.ledger, session.units
    over = [(c.over_um, z.label) for z in project.zones if (c := colour_of(project, ledger, z)) is not None]
    over = [(um, label) for um, label in over if any(z.name == label and z.kind != "edge" for z in rub.job.zones)]
    if not over:
        return ""
    um, label = min(over)
    takes = "" if rub.ladder is None else f"; this ladder takes {units.film(rub.ladder.film_used_um)}"
    return f"Clear over the colour: about {units.film(um)} on the {label.lower()}{takes}."


def told(session: ShopSession, found: Outlook, rub: RubOut) -> tuple[str, str, str]:
    """The tone, the heading and the sentences under it."""
    tone, heading, detail = _readiness(session, found, rub)
    colour = colour_words(session, rub)
    stray = f"{colour} {stray_words(session, found, rub)} {patch_words(session, found, rub)}".strip()
    if rub.own and rub.remarks and rub.ladder is not None and rub.ladder.verdict.word != REFUSED:
        units = session.units
        grave = [sentence(r.said, units) for r in rub.remarks if r.grave]
        if grave:
            return "warn", "This ladder will not work as it stands.", " ".join(grave)
        said = " ".join(sentence(r.said, units) for r in rub.remarks[:2])
        first = measure_words(session, found, rub)
        return "plain", "Your ladder works; some remarks.", f"{said} {first} {stray}".strip()
    tone = tone if stray == colour else "warn"
    return (tone, heading, f"{stray} {detail}".strip()) if stray else (tone, heading, detail)


def _readiness(session: ShopSession, found: Outlook, rub: RubOut) -> tuple[str, str, str]:
    rack = session.shop.on_rack(found.project.instrument.id)
    now = session.local(session.now)
    level = next((w for w in found.windows if w.name in ("level", "buff")), None)
    when = ""
    if level is not None and level.likely_h is not None and level.likely_h > found.now_h:
        when = words.day(session.local(rack.moment(level.likely_h)), now)
    if rub.ladder is None:
        words_ = sentence(rub.refusal, session.units)
        if rub.refusal is not None and rub.refusal.code.startswith("reached"):
            return "open", "The ladder is climbed.", words_
        if rub.idle:
            return "plain", "Nothing is to be sanded.", words_
        heading = "This film is not rubbed out." if rub.job.flatted else "No ladder from this drawer."
        return "warn", heading, words_
    least_K = rub.film.least_K if rub.target == KEY else LEAST_SANDING_MARGIN_K
    if rub.margin_K is None:
        heading, tone, detail = "There is no film yet.", "plain", "This is the ladder for the film that is planned."
    elif when:
        tone = "plain"
        heading = f"Not yet: the film is too soft; levelling opens about {when}."
        detail = "This is the ladder for that day."
        if rub.margin_K >= least_K:
            detail = "The top would bear the paper, but the whole film beneath is not there yet. " + detail
    elif rub.at_cured:
        heading, tone = "The level window is open; the top layers are still a little soft.", "plain"
        detail = (
            f"Where the paper will cut it is {words.margin(rub.margin_K)}, and paper loads. "
            "Change paper twice as often, or give it a few more days."
        )
    else:
        heading, tone = "Hard enough to sand now.", "open"
        detail = f"How firm where the paper will cut: {words.margin(rub.margin_K)}."
        if rub.target == KEY and rub.margin_K < LEAST_SANDING_MARGIN_K:
            detail += " Paper loads sooner at this stage: the coats to come close the scratch again."
    if rub.ladder.verdict.word == REFUSED:
        reason = say(rub.ladder.reason, session.units)
        return "warn", "This film does not carry the ladder for sure.", f"{reason} {heading}"
    if rub.ladder.verdict.word == MEASURE:
        first, _, rest = measure_words(session, found, rub).partition(": ")
        return "plain", f"{first}.", f"{rest[:1].upper()}{rest[1:]} {heading}"
    return tone, heading, detail


def measure_words(session: ShopSession, found: Outlook, rub: RubOut) -> str:
    """Where to measure first, with what there is to measure by; empty: nowhere."""
    if rub.ladder is None:
        return ""
    tools = session.tools
    if not any(c.zones is None for c in found.forward.coats):
        tools = tuple(t for t in tools if t != "comb")  # there is no coat to come that a comb could read
    return say(to_measure(rub.job, rub.ladder, tools), session.units)
