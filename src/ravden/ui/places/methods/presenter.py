"""What the Methods place shows, as plain data. No Qt."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, TypeAlias

import numpy as np
from msgspec.structs import replace

from ravden.app.prices import per_litre
from ravden.app.session import ShopSession
from ravden.catalogue import assemble
from ravden.core.abrasive.sandthrough import odds_class
from ravden.core.method.steps import WORK_KINDS, Method, Stage
from ravden.core.record import Air
from ravden.text import wait_words, words, written
from ravden.text.say import say

if TYPE_CHECKING:
    from ravden.core.ahead.compare import Offer
    from ravden.core.record import Project

SKILL = {1: "a first time", 2: "some practice", 3: "a practised hand"}
KIND = {
    "prepare": "Prepare", "colour": "Colour", "pores": "Pores", "mask": "Mask", "coats": "Coats", "wait": "Wait",
    "scuff": "Scuff", "level": "Level", "rub-out": "Rub out", "finish": "Finish", "mend": "Mend",
}  # fmt: skip


Candidate: TypeAlias = "tuple[Project, Method, float]"


@dataclass(frozen=True, slots=True, kw_only=True)
class MethodRow:
    """A method in the list: id, name, a word on it, whether it is the one in use and whether it suits the body."""

    id: str
    label: str
    about: str
    used: bool
    suits: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class StepShown:
    """A step of a method, as its page says it."""

    label: str
    when: str
    how: str
    inspect: str
    wrong: str


@dataclass(frozen=True, slots=True, kw_only=True)
class MethodShown:
    """The page of a method."""

    id: str
    label: str
    lines: tuple[str, ...]
    steps: tuple[StepShown, ...]
    cautions: str
    usable: str
    price: str = ""


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class OfferShown:
    """A method in the picture: days from today on, film [um], range of the ready day, and what is said beside it."""

    id: str
    label: str
    days: np.ndarray
    film_um: np.ndarray
    floor_um: float
    ready: tuple[float | None, float | None, float | None]
    marks: tuple[tuple[str, float, float], ...]
    ready_words: str
    numbers: str
    risk: str
    tone: str


def rows(session: ShopSession) -> tuple[MethodRow, ...]:
    """Every method, the one in use first, those that do not suit this body last."""
    from ravden.core.ahead.compare import suits

    rack = session.rack
    used = rack.instrument.method if rack is not None else ""
    family = rack.instrument.measures.family if rack is not None else ""
    out = [
        MethodRow(
            id=m.id, label=m.label, used=m.id == used, suits=suits(m, family) if family else True,
            about=SKILL[m.skill][:1].upper() + SKILL[m.skill][1:],
        )
        for m in session.catalogue.methods.values()
    ]  # fmt: skip
    return tuple(sorted(out, key=lambda r: (not r.used, not r.suits, r.label)))


def usual_choice(session: ShopSession) -> tuple[str, ...]:
    """What is compared to begin with: the method in use and two others of the same finish or sheen."""
    listed = rows(session)
    used = next((r for r in listed if r.used), None)
    if used is None:
        return tuple(r.id for r in listed[:3])
    mine = session.catalogue.method(used.id)
    like = [r.id for r in listed if not r.used and session.catalogue.method(r.id).material == mine.material]
    other = [r.id for r in listed if not r.used and r.suits and r.id not in like]
    return (used.id, *like[:1], *other[:1])


def candidates(session: ShopSession, chosen: tuple[str, ...]) -> list[Candidate]:
    """Each method on this instrument with nothing on it: project, method, hour of now."""
    rack = session.rack
    if rack is None:
        return []
    now = session.now
    here = rack.project_at(now)
    now_h = rack.hours(now)
    air = tuple(a for a in here.acts if isinstance(a, Air))
    out = []
    for method_id in chosen:
        method = session.catalogue.method(method_id)
        material = session.catalogue.material(method.material)
        item = replace(here.instrument, method=method.id, material=material.id, min_film_um=method.least_um(material))
        made = assemble.project(session.catalogue, item, air, here.masked, {})
        out.append((made, method, now_h))
    return out


def offer_shown(session: ShopSession, offer: Offer, now_h: float) -> OfferShown:
    """One method of the picture."""
    rack = session.shop.on_rack(session.selected)
    now = session.local(session.now)
    units = session.units
    ready = tuple(None if h is None else (h - now_h) / 24.0 for h in offer.ready_h)
    _, likely, late = (None if h is None else session.local(rack.moment(h)) for h in offer.ready_h)
    when = "not ready within sight" if likely is None else wait_words.ready(likely, late, now)
    mean, sd = offer.film_um
    low, high = max(mean - 1.645 * sd, 0.0), mean + 1.645 * sd
    zone, odds = offer.odds
    numbers = (
        f"{offer.hands_h:.0f} h of hands · "
        f"{words.plural(offer.method.coats, 'coat')} on {words.plural(offer.sessions, 'day')} · "
        f"{units.film(mean)} left ({units.film_range(low, high)}) · {_material(session, offer)} · "
        f"{SKILL[offer.method.skill]}"
    )
    if zone and odds >= 0.05:
        numbers += f" · {zone} {odds_class(odds)} to go below its floor"
    line = offer.line
    days = (line.hours - now_h) / 24.0 if line is not None else np.zeros(0)
    film = np.asarray(line.film_um) if line is not None else np.zeros(0)
    return OfferShown(
        id=offer.method.id,
        label=offer.method.label,
        days=days,
        film_um=film,
        floor_um=offer.floor_um,
        ready=(ready[0], ready[1], ready[2]),
        marks=tuple((k, (a - now_h) / 24.0, (b - now_h) / 24.0) for k, a, b in offer.steps if k in WORK_KINDS),
        ready_words=when,
        numbers=numbers,
        risk=say(offer.risks[0], session.units) if offer.risks else "",
        tone="warn" if likely is None or (zone and odds >= 0.20) else "plain",
    )


def _material(session: ShopSession, offer: Offer) -> str:
    """How much of its finishes it takes as laid, and what that costs, where the shop has said what each litre does; and
    its hours, where an hour has a price."""
    from ravden.catalogue.amounts import stage_amounts

    amounts = stage_amounts(session.catalogue, offer.project, enumerate(offer.method.stage)).values()
    ml = sum(a.mix.total_ml for a in amounts)
    prices = per_litre(session.shop)
    cost, rate = "", session.shop.per_hour
    if all(a.material in prices for a in amounts):
        cost = f", costing {written.money(sum(prices[a.material] * a.mix.supplied_ml for a in amounts) / 1000)}"
    if rate > 0:
        cost += f"{' and' if cost else ', costing'} {written.money(offer.hands_h * rate)} for hands"
    return (f"{ml:.0f} ml" if ml < 100 else f"{round(ml, -1):.0f} ml") + cost


def page(session: ShopSession, method_id: str) -> MethodShown:
    """A method, step by step."""
    method = session.catalogue.method(method_id)
    material = session.catalogue.material(method.material)
    rack = session.rack
    lines = (
        method.why,
        f"Against it: {method.against}" if method.against else "",
        f"It looks and feels: {method.looks[:1].lower()}{method.looks[1:]}" if method.looks else "",
        f"{words.plural(method.coats, 'coat')}{_laid(session, method)}; wants {SKILL[method.skill]}.",
        _takes(method),
    )
    usable = ""
    if rack is not None and rack.instrument.method == method.id:
        usable = "in use"
    elif rack is not None and rack.project.coats:
        usable = "coats laid"
    return MethodShown(
        id=method.id, label=method.label, lines=tuple(x for x in lines if x),
        steps=tuple(_step(session, s) for s in method.stage), cautions=" ".join(material.cautions), usable=usable,
        price="" if (price := per_litre(session.shop).get(material.id)) is None else written.number(price, "g"),
    )  # fmt: skip


def _laid(session: ShopSession, method: Method) -> str:
    """What its own coats come to, and what is usual to be left of them."""
    material, rack = session.catalogue.material(method.material), session.rack
    own = [s for s in method.stage if s.kind == "coats" and not s.finish]
    if rack is None:
        return ""
    total = sum(s.count * rack.project.dry_um(material, s.by, s.um) for s in own)
    laid = f", about {session.units.film(total)} of film as laid"
    if method.min_film_um is not None or material.min_film_um <= 0:
        return laid
    return f"{laid} and usually {session.units.film_range(*material.usual_film_um)} when it is done"


def _takes(method: Method) -> str:
    """How long it usually takes."""
    if method.ready_days is None:
        return ""
    low, high = method.ready_days
    span = (
        f"{written.number(low, 'g')} to {written.number(high, 'g')} days"
        if high <= 14
        else f"{low / 7:.0f} to {high / 7:.0f} weeks"
    )
    return f"Usually {span} from bare wood to the case, in a warm dry shop."


def _step(session: ShopSession, stage: Stage) -> StepShown:
    when = {
        "coats": f"{words.plural(stage.count, 'coat')}, {stage.per_session} a session, "
        f"{words.wait(stage.between_h)} between",
        "wait": "as long as the film needs: the cure engine tells",
    }.get(stage.kind, f"{written.number(stage.hours, 'g')} h of hands" if stage.hours else "")  # fmt: skip
    if stage.rest_h:
        when += f", then {words.wait(stage.rest_h)} of rest"
    if stage.finish:
        when += f", in {session.catalogue.material(stage.finish).label.lower()}"
    if stage.next:
        habit = session.catalogue.preps[stage.next]
        um = habit.fine_um if stage.school == "fine" else habit.coarse_um
        papers = [a for a in session.catalogue.abrasives if a.system == "FEPA-P"]
        last = min(papers, key=lambda a: abs(a.d50_um - um))
        when += f", ending about {last.name} ({'fine' if stage.school == 'fine' else 'coarse'} school)"
    return StepShown(label=f"{KIND[stage.kind]}: {stage.label}", when=when, how=stage.how, inspect=stage.inspect,
                     wrong=stage.wrong)  # fmt: skip
