"""Beside the ladder: other ways, the wheel, scuffs and bare wood, in words. No Qt."""

from dataclasses import dataclass

from ravden.app.session import ShopSession
from ravden.core.abrasive import buffing
from ravden.core.abrasive.climb import Ladder
from ravden.core.abrasive.prep import prep
from ravden.core.abrasive.scratch import hardness_from_margin_MPa
from ravden.core.abrasive.scuff import ScuffRung, chemistry, scuff
from ravden.core.abrasive.verdict import MEASURE, OK
from ravden.core.ahead.outlook import Outlook
from ravden.core.errors import InputError
from ravden.core.rubout.rub_out import LEAST_SANDING_MARGIN_K, RubOut
from ravden.text import words
from ravden.text.ladders import SCHOOLS
from ravden.text.say import grade_name, say, sentence

WAX = "Wax over it brings 5 to 15 gloss units for a time, until it is washed or worn off."
STARTS = (("saw or plane marks, P80", 201.0), ("P120", 125.0), ("P150", 100.0), ("P180", 82.0))


@dataclass(frozen=True, slots=True, kw_only=True)
class WayShown:
    """Another ladder: its name, its grades, what it costs, why; sequence: grade ids to take it over."""

    name: str
    grades: str
    cost: str
    why: str
    sequence: tuple[str, ...]


def ways(session: ShopSession, rub: RubOut) -> tuple[WayShown, ...]:
    """The equally good ladders, then the two schools."""
    out = []
    mine = rub.ladder.rungs if rub.ladder is not None else ()
    for path in rub.equal:
        ids = tuple(r.abrasive.id for r in path)
        if path == mine:
            continue
        from ravden.core.abrasive.ladder import evaluate

        out.append(_way(session, "Equally good", "", evaluate(rub.job, path), ids))
    for school in rub.others:
        name, why, against = SCHOOLS[school.id]
        if school.ladder is None:
            out.append(WayShown(name=name, grades="", cost="not from this drawer", why=why, sequence=()))
            continue
        ids = tuple(r.abrasive.id for r in school.ladder.rungs)
        out.append(_way(session, name, f"{why} {against}", school.ladder, ids))
    return tuple(out)


def _way(session: ShopSession, name: str, why: str, ladder: Ladder, ids: tuple[str, ...]) -> WayShown:
    film = session.units.film(ladder.film_used_um)
    pays = {OK: "", MEASURE: "; measure first"}.get(ladder.verdict.word, "; this film cannot pay for it")
    return WayShown(
        name=name, grades=_grades(ladder, session), cost=f"about {words.minutes(ladder.minutes)}, {film}{pays}",
        why=why, sequence=ids,
    )  # fmt: skip


def _grades(ladder: Ladder, session: ShopSession) -> str:
    """Papers by name, compounds counted."""
    papers = [grade_name(s.rung.abrasive.name) for s in ladder.steps if s.rung.abrasive.kind != "polish"]
    compounds = [
        s.rung.abrasive.name.removesuffix(" compound") for s in ladder.steps if s.rung.abrasive.kind == "polish"
    ]
    tail = [f"compounds {', '.join(compounds)}"] if compounds else []
    return ", ".join(papers + tail)


def wheel_words(session: ShopSession, found: Outlook, rub: RubOut, wheel: buffing.Wheel) -> tuple[str, str, str]:
    """Tone, heading and detail of what a wheel would do to this film now."""
    zone = max((found.ledger.mean_um(z.name) for z in found.project.zones), default=0.0)
    waxy = found.project.material.cure.model == "never"
    judged = buffing.judge(wheel, zone, rub.film.whole_K, flatted=rub.job.flatted, waxy=waxy)
    tone = {"fine": "open", "slow": "plain", "never": "warn"}[judged.verdict]
    speed = judged.rim_m_s
    rim = f"{speed:.0f} m/s at the rim" if not session.units.us else f"{speed * 196.85:.0f} ft/min at the rim"
    margin = "" if rub.film.whole_K is None else f"; how firm at the softest depth: {words.margin(rub.film.whole_K)}"
    return tone, f"{rim}, heat {judged.heat}", f"{say(judged.said)} Heat is known to a factor of two{margin}."


def scuff_rung(session: ShopSession, rub: RubOut) -> ScuffRung | None:
    """The grade a scuff is best done with here: the finest that suits."""
    try:
        return _scuffs(session, rub)[-1]
    except InputError:
        return None


def _scuffs(session: ShopSession, rub: RubOut) -> tuple[ScuffRung, ...]:
    hardness = hardness_from_margin_MPa(max(rub.margin_K or 0.0, LEAST_SANDING_MARGIN_K))
    habit = session.catalogue.scuffs[chemistry(rub.film.project.material)]
    return scuff(habit, rub.held.rungs("dry", hardness), rub.job.area_cm2)


def scuff_words(session: ShopSession, found: Outlook, rub: RubOut) -> tuple[str, ...]:
    """The scuff before the next coat on this film, line by line."""
    units = session.units
    material = found.project.material
    if material.cure.model == "never":
        return ("Oil and wax are not scuffed: wipe, rest, wipe off.",)
    habit = session.catalogue.scuffs[chemistry(material)]
    lines = [f"{habit.label}: {habit.why} {habit.window}"]
    try:
        rungs = _scuffs(session, rub)
    except InputError as error:
        return (*lines, sentence(error.said, session.units))
    for r in rungs:
        text = (
            f"{r.rung.abrasive.name}: about {r.strokes} strokes a place; wants {units.film(r.beneath_um)} of sound "
            "film beneath"
        )
        if r.next_coat_um is not None:
            text += f"; the next coat hides it from {units.film(r.next_coat_um)} dry on"
        lines.append(text + ".")
    lines += [habit.avoid] if habit.avoid else []
    return tuple(lines)


def wood_words(session: ShopSession, rub: RubOut, next_id: str, start_um: float) -> tuple[tuple[str, str], ...]:
    """Both schools of bare wood for what comes next: heading and ladder of each."""
    habit = session.catalogue.preps[next_id]
    out = []
    area = sum(z.area_cm2 for z in rub.film.project.zones)
    for name, last in (("Stop coarse", habit.coarse_um), ("Go fine", habit.fine_um)):
        try:
            rungs = prep(start_um, last, rub.held.abrasives, area)
        except InputError as error:
            out.append((name, sentence(error.said, session.units)))
            continue
        steps = ", ".join(f"{r.abrasive.name} {r.passes[0]}–{r.passes[1]} passes" for r in rungs)
        total = sum(r.minutes for r in rungs)
        text = f"{steps}; some {words.minutes(total)} by random-orbit sander." if rungs else "Nothing more to do."
        out.append((name, text))
    out.append(("", f"{habit.note} Finish with the grain by hand at the last grade; a block on softwood, not foam."))
    return tuple(out)
