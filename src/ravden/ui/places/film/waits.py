"""The waits in words: every window with its range, why the film is as it is, and what would help. No Qt."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import TYPE_CHECKING

from ravden.app.lessons import learnt_before
from ravden.app.mixing import pot_of
from ravden.app.next_act import WITHIN_H
from ravden.core.ahead import waits as core
from ravden.core.ahead.steps import grown_old
from ravden.core.cure.layered import pot_life_h
from ravden.core.cure.models import Crosslink, LightCure, NeverHard, Oxidation
from ravden.core.cure.windows import (
    BUFF_MARGIN_K,
    BUFF_SHRINK,
    CASE_MARGIN_K,
    LEVEL_MARGIN_K,
    NEXT_COAT_MARGIN_K,
    SCUFF_MARGIN_K,
)
from ravden.core.state.history import air_at
from ravden.text import plan_words, wait_words, words, written

if TYPE_CHECKING:
    from datetime import datetime

    from ravden.app.session import ShopSession
    from ravden.core.ahead.outlook import Outlook
    from ravden.core.ahead.waits import Rushed, Wait, Waits

ALIKE_H = 12.0  # between a window of the film as it is and as it will be, of which nothing is said
SLOWER_LN = 0.05  # of ln of the drying rate: less is not worth a line
LABELS = {"next_coat": "Next coat", "scuff": "Scuff", "level": "Level sand", "buff": "Buff", "case": "Case"}
LEVERS = {
    "warmer": f"{core.WARMER_K:.0f} K warmer from now on", "fan": "a fan over it from the start",
    "thinner": f"{100 - 100 * core.THINNER:.0f} % thinner coats", "spread": "one coat a day",
}  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class WaitRow:
    """A window: what, when, between when and when; tone open where hands may now."""

    label: str
    when: str
    range: str
    tone: str
    more: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class WaitsShown:
    """The Waits panel. comparable: an earlier Ravden can have told other waits here, by what this shop taught it."""

    rows: tuple[WaitRow, ...]
    lines: tuple[tuple[str, str], ...]
    note: str
    comparable: bool = False


def show(session: ShopSession, found: Outlook, waits: Waits | None) -> WaitsShown:
    """The panel; waits None: bare wood."""
    if waits is None:
        return WaitsShown(rows=(), lines=(("plain", "Bare wood: nothing to wait for yet."),), note="")
    rack = session.shop.on_rack(found.project.instrument.id)
    now = session.local(session.now)

    def at(hours: float) -> datetime:
        return session.local(rack.moment(hours))

    session_row = _session(found, waits, at, now)
    rows = tuple(_row(w, found, waits, at, now) for w in waits.waits if not (w.likely_h is None and _never(found)))
    rows = (*session_row, *rows)
    lines = [
        *_air(session, found, waits),
        *_wet(waits),
        *_nature(session, found, waits),
        *_through(session, found, waits),
        *_recoat(found, waits, at, now),
        *_why(session, waits, at, now),
    ]
    if waits.levers:
        gains = ", ".join(f"{words.wait(x.gained_h)} with {LEVERS[x.what]}" for x in waits.levers[:3])
        lines.append(("plain", f"{LABELS[waits.levers[0].window]} would come sooner: {gains}."))
    if waits.underlit:
        lines.append(
            ("warn", f"Not cured to the wood yet: {', '.join(waits.underlit).lower()}. Turn them to the light.")
        )
    if waits.rushed is not None:
        lines.append(("warn", _rushed(waits.rushed)))
    if waits.unknown_h > 1:
        gone = words.wait(waits.unknown_h)
        lines.append(("warn", f"Nobody knows the air of {gone} since the first coat: these dates are less sure."))
    if (slower := rack.old_can_ln[0]) < -SLOWER_LN:
        by = f"{100 * (1 - math.exp(slower)):.0f} %"
        text = f"The last coat came from an old can: it is reckoned to dry {by} slower, and these dates are less sure."
        lines.append(("warn", text))
    how = f"from {waits.draws} samples" if waits.draws else "a first estimate"
    zone = found.project.zone(waits.zone).label.lower()
    ahead = [n for n, some in (("coats", found.forward.coats), ("sanding", found.forward.sandings)) if some]
    without = f", without the {' and '.join(ahead)} planned" if ahead else ""
    return WaitsShown(
        rows=rows, lines=tuple(lines), note=f"The {zone}, as the film is now{without}; {how}.",
        comparable=learnt_before(session.entries),
    )  # fmt: skip


def _before(name: str, waits: Waits, at: object, now: datetime) -> str:
    """When a window was told to open before, where that was asked."""
    if waits.before is None:
        return ""
    hour = waits.before.get(name)
    return f"\nbefore: {'not within sight' if hour is None else words.moment(at(hour), now)}"  # type: ignore[operator]


def _rushed(rushed: Rushed) -> str:
    wanted = "" if rushed.wanted_h is None else f"; it wanted {words.wait(rushed.wanted_h)}"
    return (
        f"Coat {rushed.coat} went on {words.wait(rushed.after_h)} after the last{wanted}. It takes about twice as "
        "long, and may wrinkle."
    )


def _air(session: ShopSession, found: Outlook, waits: Waits) -> list[tuple[str, str]]:
    """That it does not dry here, where a window is still to open."""
    ahead = [w for w in waits.waits if w.likely_h is None or w.likely_h > found.now_h]
    if waits.hindered is None or not ahead:
        return []
    return [("warn", plan_words.hindered(session.units, found, waits.hindered))]


def _session(found: Outlook, waits: Waits, at: object, now: datetime) -> tuple[WaitRow, ...]:
    """When the next pass, and the next coat of the plan, may go on; habit beside it."""
    low, high = waits.flash_range_s
    flash = f"{low:.0f}–{high:.0f} s" if high < 120 else f"{low / 60:.0f}–{high / 60:.0f} min"
    out = [WaitRow(label="Next pass", when=f"{flash} after the last", range="", tone="plain")]
    if waits.session_h is not None and waits.session_h > found.now_h:
        moment = at(waits.session_h)  # type: ignore[operator]
        stage = found.method.stage[found.progress.index]
        usual = f"by habit {words.plural(stage.per_session, 'coat')} a session, {words.wait(stage.between_h)} apart"
        step = next((s for s in found.forward.steps if s.index == found.progress.index and s.hands), None)
        if (
            step is not None
            and step.free_h is not None
            and not waits.full
            and (waits.session_h > max(step.free_h, found.now_h) + WITHIN_H)
        ):
            usual = "hands are on other work until then"
        said = f"this session is full; {usual}" if waits.full else usual
        out.append(WaitRow(label="As planned", when=words.moment(moment, now), range=said, tone="plain"))
    return tuple(out)


def _nature(session: ShopSession, found: Outlook, waits: Waits) -> list[tuple[str, str]]:
    """What this way of hardening asks of hands."""
    model = found.project.finish(found.zone).cure
    out: list[tuple[str, str]] = []
    if isinstance(model, NeverHard):
        wipe, months = f"{model.wipe_min:.0f} min", f"{model.reoil_h / 24 / 30:.0f} months"
        text = f"It never hardens: wipe off what is left after {wipe}, oil again in about {months}."
        out.append(("plain", f"{text} There is no levelling and no buffing."))
    if isinstance(model, LightCure) and waits.unlit:
        last = max(found.project.coats, key=lambda c: c.at_h)
        rest = words.minutes(60.0 * model.rest_h(last.dry_um))
        text = f"Wet until light reaches it: let it level and lose vapour for {rest}"
        out.append(("plain", f"{text}, then a short flash, a pause, and the full dose on each face."))
    if isinstance(model, Crosslink):
        temp_C = max(air_at(found.project, found.now_h).temp_C, 0.0)
        told = pot_of(session, found.project.finish(found.zone).id)  # as the Booth and the mixing desk have it
        pot = words.wait(pot_life_h(model, temp_C) if told is None else told.at(temp_C) / 60.0)
        out.append(("plain", f"In a shallow cup the mix lasts about {pot}; a deep one warms and is quicker."))
    if waits.slower > 1.1:
        times = f"{written.number(waits.slower, '.1f')} times as long as the first"
        out.append(("plain", f"The last coat takes {times}: the wood absorbs no more of it."))
    return out


def _never(found: Outlook) -> bool:
    return found.project.finish(found.zone).cure.model == "never"


def _reason(name: str, found: Outlook, waits: Waits) -> tuple[str, str]:
    """How far the film is from what a window asks, and the same in its own numbers."""
    now = waits.now
    if now is None:
        return "", ""
    if _never(found):
        return {"next_coat": "what the wood left is wiped off", "case": "dry to the hand"}.get(name, ""), ""
    if name == "next_coat":
        model = found.project.finish(found.zone).cure
        if isinstance(model, Crosslink | Oxidation):
            ready = model.tack_share if isinstance(model, Crosslink) else model.buried_share
            return f"top {100 * now.cured:.0f} % cured, {100 * ready:.0f} % wanted", ""
        return f"top {words.at_depth(now.top_K)}", words.softens(now.top_K, NEXT_COAT_MARGIN_K)
    if name == "level" and found.rub_out.film.aim.key:
        return "to the depth of the cut: the coats to come count what lies deeper", ""
    scuff_K = getattr(found.project.finish(found.zone).cure, "scuff_K", SCUFF_MARGIN_K)
    asked = {"scuff": scuff_K, "level": LEVEL_MARGIN_K, "buff": BUFF_MARGIN_K, "case": CASE_MARGIN_K}[name]
    margin = {"scuff": now.top_K, "buff": now.warmed_K}.get(name, now.least_K)
    where = {"scuff": "top", "buff": "what a wheel warms"}.get(name, "softest depth")
    text = f"{where} {words.at_depth(margin)}"
    if name == "buff" and now.shrink > BUFF_SHRINK:
        text += f"; shrink {100 * now.shrink:.0f} %, {100 * BUFF_SHRINK:.0f} % allowed"
    return text, words.softens(margin, asked)


def _row(wait: Wait, found: Outlook, waits: Waits, at: object, now: datetime) -> WaitRow:
    now_h, (why, more), told = found.now_h, _reason(wait.name, found, waits), _before(wait.name, waits, at, now)
    if wait.likely_h is None:
        when = "does not dry here" if waits.hindered is not None else "not within sight"
        when = "once it is lit" if waits.unlit else when
        return WaitRow(label=LABELS[wait.name], when=when, range=why + told, tone="plain", more=more)
    moment = at(wait.likely_h)  # type: ignore[operator]
    if wait.likely_h <= now_h:
        return WaitRow(label=LABELS[wait.name], when="now", range=f"since {words.day(moment, now)}: {why}{told}",
                       tone="open", more=more)  # fmt: skip
    late = None if wait.late_h is None else at(wait.late_h)  # type: ignore[operator]
    lines = [_habit(wait.name, found), _with_plan(wait, found, at, now), f"{why}{told}"]
    when = f"likely ready {words.moment(moment, now)} ({wait_words.by(moment, late, now)})"
    return WaitRow(
        label=LABELS[wait.name], when=when, range="\n".join(line for line in lines if line), tone="plain", more=more
    )


def _with_plan(wait: Wait, found: Outlook, at: object, now: datetime) -> str:
    """When the same window is ready once the coats and the sanding planned before it are done, where that differs."""
    planned = next((w for w in found.windows if w.name == wait.name), None)
    if planned is None or planned.likely_h is None or wait.likely_h is None:
        return ""
    if abs(planned.likely_h - wait.likely_h) < ALIKE_H:
        return ""
    late = None if planned.late_h is None else at(planned.late_h)  # type: ignore[operator]
    return f"after what is planned: {wait_words.ready(at(planned.likely_h), late, now)}"  # type: ignore[operator]


def _habit(name: str, found: Outlook) -> str:
    """What habit adds to a window the plan waits for."""
    waited = (s for s in found.method.stage[found.progress.index :] if s.kind == "wait" and s.window == name)
    stage = next(waited, None)
    return "" if stage is None else plan_words.habit(stage)


def _wet(waits: Waits) -> list[tuple[str, str]]:
    if not waits.still_wet:
        return []
    return [("warn", f"The water of {words.plural(waits.still_wet, 'coat')} has not left yet: no window until it has.")]


def _recoat(found: Outlook, waits: Waits, at: object, now: datetime) -> list[tuple[str, str]]:
    if grown_old(found.progress.last_coat_h, found.now_h):
        return [("warn", "The last coat is over a year old: clean it and scuff it before the next one.")]
    if found.project.finish(found.zone).dissolving:
        return [("plain", "The next coat needs no scuff at any time: coats melt into one.")]
    until = waits.recoat_until_h
    if until is None:
        return []
    moment = at(until)  # type: ignore[operator]
    if until > found.now_h:
        span = ""
        if waits.recoat_range_h is not None:
            low, high = (at(h) for h in waits.recoat_range_h)  # type: ignore[operator]
            span = f" ({words.moment(low, now)} – {words.moment(high, now)})"
        return [("open", f"A coat holds without a scuff until {words.moment(moment, now)}{span}.")]
    if isinstance(found.project.finish(found.zone).cure, Oxidation):
        return [("warn", f"Scuff before the next coat: the last one has dried since {words.moment(moment, now)}.")]
    return [("warn", f"A coat needs a scuff first: since {words.moment(moment, now)} it no longer bonds by itself.")]


def _through(session: ShopSession, found: Outlook, waits: Waits) -> list[tuple[str, str]]:
    """An oil has a fast skin and a slow tail: dry to the hand is not through."""
    by = {w.name: w.likely_h for w in waits.waits}
    dry, through = by.get("next_coat"), by.get("case")
    if not isinstance(found.project.finish(found.zone).cure, Oxidation) or dry is None or through is None:
        return []
    if dry > found.now_h or through <= found.now_h + 24.0:
        return []
    rack, now = session.shop.on_rack(found.project.instrument.id), session.local(session.now)
    since = words.day(session.local(rack.moment(dry)), now)
    left = words.wait(through - found.now_h)
    return [("plain", f"Dry to the hand since {since}; through in about {left}: a rag under a weight still tells.")]


def _why(session: ShopSession, waits: Waits, at: object, now: datetime) -> list[tuple[str, str]]:
    why = waits.why
    if why is None or why.margin_K > 25 or session.catalogue.material(_finish(session)).cure.model == "never":
        return []
    units = session.units
    share = f"{100 * why.share:.0f} %" if why.share >= 0.095 else f"{written.number(100 * why.share, '.1f')} %"
    begun = words.day(at(why.session_at_h), now)  # type: ignore[operator]
    took = f" in {words.wait(why.session_h)}" if why.session_h > 0.1 else ""
    where = f"{units.film(why.depth_um)} down in {units.film(why.film_um)}"
    left = "solvent" if session.catalogue.material(_finish(session)).cure.model == "evaporative" else "uncured"
    return [
        ("plain", f"Softest {where}: {share} {left} there, {words.at_depth(why.margin_K)}. The heaviest "
         f"session, {begun}, put on {units.film(why.session_um)}{took}.")
    ]  # fmt: skip


def _finish(session: ShopSession) -> str:
    return session.shop.on_rack(session.selected).instrument.material
