"""What the counsel says, in words: what to measure, how many coats, what shows later, what each entry did. No Qt."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from ravden.catalogue.amounts import own_coats_left
from ravden.core.ahead.counsel import flush_from_h
from ravden.core.film import pores
from ravden.core.record import Coat, Exposure, Mishap, Reading, Sanding, StepDone
from ravden.core.session.batch import SPARE
from ravden.journal.counting import effective
from ravden.text import plan_words, words
from ravden.text.say import say
from ravden.text.told import Told

if TYPE_CHECKING:
    from ravden.app.session import ShopSession
    from ravden.app.troubles import Trouble
    from ravden.core.ahead.advice import Counsel, Entry
    from ravden.core.ahead.outlook import Outlook
    from ravden.journal.rack import OnRack


@dataclass(frozen=True, slots=True, kw_only=True)
class PlanShown:
    """The Plan panel: sentences (tone, text), and a table of what pores will sink, a row a window."""

    lines: tuple[tuple[str, str], ...]
    columns: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    note: str
    steps: tuple[tuple[str, str], ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class EntryRow:
    """One entry of the journal: what it was, what it did to the film of the zone looked at, and a doubt about it."""

    id: int
    what: str
    did: str
    doubt: str


@dataclass(frozen=True, slots=True, kw_only=True)
class TroubleShown:
    """An instrument whose record cannot be worked out. rows: its entries, newest first; entry: the one it began with, 0
    while that is looked for."""

    title: str
    told: Told
    rows: tuple[EntryRow, ...]
    entry: int


def trouble(session: ShopSession, rack: OnRack, found: Trouble) -> TroubleShown:
    """What can be shown all the same: what was logged, and what of it is to blame."""
    from ravden.app.troubles import sentence, what_it_says

    mine = [e for e in effective(session.entries) if e.instrument == rack.instrument.id]
    blamed = "Nothing can be worked out from here on: correct it or take it back"
    rows = tuple(
        EntryRow(id=e.id, what=session.describe(e), did="", doubt=blamed if e.id == found.entry else "")
        for e in reversed(mine)
    )
    told = Told(tone="warn", heading=f"{sentence(session, found)}.", detail=what_it_says(session, found))
    return TroubleShown(title=rack.instrument.name, told=told, rows=rows, entry=found.entry)


def plan(session: ShopSession, found: Outlook, advice: Counsel) -> PlanShown:
    """How many coats hold the floor, whether that is too much, and what will show later."""
    units, project = session.units, found.project
    material, floor = project.material, project.instrument.min_film_um
    lines: list[tuple[str, str]] = []
    coats = advice.coats
    if coats is not None:
        planned, asked = coats.planned, f"{100 * coats.asked:.0f} %"
        zone = project.zone(coats.zone).label.lower()
        held = f"{100 * min(coats.odds_planned, 0.99):.0f} %"
        if coats.coats is None:
            lines.append(("warn", f"No number of coats gives {asked} odds of {units.film(floor)} on the {zone}."))
        elif coats.coats > planned:
            more = words.plural(coats.coats, "more coat")
            lines.append(
                ("warn", f"{more} for {asked} odds of {units.film(floor)} everywhere when all is sanded; "
                 f"{planned} planned, which gives {held}. The thinnest is the {zone}.")
            )  # fmt: skip
        else:
            lines.append(
                ("open", f"{words.plural(planned, 'coat')} planned, {coats.coats} would do: {held} odds of "
                 f"{units.film(floor)} everywhere when all is sanded.")
            )  # fmt: skip
        if coats.thickest_um > material.max_film_um:
            most = units.film(material.max_film_um)
            lines.append(
                ("warn", f"That is too much: about {units.film(coats.thickest_um)} where {most} is the most that is "
                 "usual; thick films craze and damp the tone.")
            )  # fmt: skip
    lines += _material_needed(session, found)
    witness = advice.witness
    if witness is not None and witness.dissolving:
        lines.append(
            ("plain", f"Witness lines: coats melt into one, odds {_odds(witness.odds)} through a top layer of "
             f"{units.film(witness.layer_um)}.")
        )  # fmt: skip
    elif witness is not None:
        lines.append(
            ("warn" if witness.odds > 0.1 else "open", f"Witness lines: odds {_odds(witness.odds)}; the top layer is "
             f"{units.film(witness.layer_um)}, {units.film(witness.needed_um)} would keep them to 1 in 10.")
        )  # fmt: skip
    rows = []
    line = found.timeline
    if line is not None and found.ledger.mean_um(found.zone) > 0:
        left = float(line.phi_mean[line.index_at(found.now_h)])
        sunk = units.film(pores.sink_um(pores.PORE_UM, min(max(left, 0.0), 0.9)))
        text = f"Levelled now, an unfilled pore would sink by {sunk} in the months to come"
        lines.append(("plain", f"{text}; {_flush(session, found)}."))
    now = session.local(session.now)
    rack = session.shop.on_rack(project.instrument.id)
    for sink in advice.sinks:
        at = words.day(session.local(rack.moment(sink.at_h)), now)
        cells = (units.film_number(sink.by_filling[name]) for name in pores.LEFT_BY_FILLER)
        rows.append((f"{sink.window}, {at}", *cells))
    ground = session.catalogue.grounds[project.instrument.ground]
    note = (
        f"How far a {units.film(pores.PORE_UM)} pore sinks if it is flush on that day, in {units.film_unit}; over "
        f"{units.film(pores.SEEN_UM)} shows under gloss. This wood: {ground.pores} pores."
    )
    return PlanShown(
        lines=tuple(lines),
        columns=("", *pores.LEFT_BY_FILLER),
        rows=tuple(rows),
        note=note,
        steps=_steps(session, found),
    )  # fmt: skip


def _flush(session: ShopSession, found: Outlook) -> str:
    """From which day on a pore levelled flush no longer sinks enough to be seen."""
    at_h = flush_from_h(found)
    if at_h is None:
        return "levelled on any day within sight, it still shows"
    rack = session.shop.on_rack(found.project.instrument.id)
    at = words.day(session.local(rack.moment(at_h)), session.local(session.now))
    return f"levelled from {at} on, too little to be seen"


def _steps(session: ShopSession, found: Outlook) -> tuple[tuple[str, str], ...]:
    """Every step of the method still to come, and its day."""
    now = session.local(session.now)
    rack = session.shop.on_rack(found.project.instrument.id)
    stages, ahead = found.method.stage, found.forward
    steps = sorted([*ahead.steps, *ahead.between], key=lambda s: (s.from_h, s.to_h))
    return tuple(
        (plan_words.between(found, s)[0] if s.kind else stages[s.index].label,
         words.day(session.local(rack.moment(s.from_h)), now))
        for s in steps
    )  # fmt: skip


def _material_needed(session: ShopSession, found: Outlook) -> list[tuple[str, str]]:
    material, mixes = found.project.material, own_coats_left(session.catalogue, found)
    if not mixes:
        return []
    total, thinner = (sum(getattr(m, part) for m in mixes.values()) for part in ("total_ml", "thinner_ml"))
    what = f"{_round(total)} ml"
    if material.thinner_ratio > 0:
        what = f"{_round(total - thinner)} ml of {material.label.lower()} and {_round(thinner)} ml of thinner"
    stays = " and ".join(f"{100 * session.catalogue.tool(way).transfer:.0f} %" for way in mixes)
    return [
        ("plain", f"The coats planned take about {what} ({stays} stays on the work, {100 * SPARE:.0f} % to spare).")
    ]


def _round(ml: float) -> str:
    return f"{ml:.0f}" if ml < 100 else f"{round(ml, -1):.0f}"


def _odds(odds: float) -> str:
    return "under 1 %" if odds < 0.01 else f"{100 * odds:.0f} %"


def entries(session: ShopSession, found: Outlook, advice: Counsel) -> tuple[EntryRow, ...]:
    """Every entry that counts, the newest first, with what it did to the zone looked at."""
    now = session.local(session.now)
    rack = session.shop.on_rack(found.project.instrument.id)
    number = 0.0
    out = []
    for entry in advice.entries:
        act = entry.act
        at = words.moment(session.local(rack.moment(act.at_h)), now)
        if isinstance(act, Coat):
            first, number = number + 1, number + (0.0 if act.finish else act.likely_count)
            what = _coat(session, act, first, number)
        elif isinstance(act, Sanding):
            what = f"{act.purpose} {act.grade}".strip()
        elif isinstance(act, StepDone):
            what = f"{act.step}{', skipped' if act.skipped else ''}"
        elif isinstance(act, Mishap):
            label = session.catalogue.defects[act.what][0]
            what = f"{label[:1].lower()}{label[1:]}" + (f" after {act.grade}" if act.grade else "")
        elif isinstance(act, Exposure):
            what = f"light, {act.dose_mJ_cm2:.0f} mJ/cm²"
        else:
            assert isinstance(act, Reading)
            what = words.reading(act, session.units)
        text = f"{at[:1].upper()}{at[1:]} · {what}"
        doubt = ""
        if entry.flag is not None and entry.flag.why:
            doubt = f"left out, {say(entry.flag.why, session.units)}"
        elif entry.flag is not None:
            read, rest = session.units.film(entry.flag.read_um), session.units.film(entry.flag.expected_um)
            doubt = f"cured it is {read}, the rest says about {rest}"
        out.append(EntryRow(id=act.id, what=text, did=_did(session, entry), doubt=doubt))
    return tuple(reversed(out))


def _coat(session: ShopSession, act: Coat, first: float, last: float) -> str:
    if act.finish:
        name = f"coat of {session.catalogue.material(act.finish).label.lower()}"
    elif act.count_odds:
        name = " or ".join(str(n) for n, _ in act.count_odds) + " coats"
    else:
        name = f"coat {last:.0f}" if act.count == 1 else f"coats {first:.0f}–{last:.0f}"
    return f"{name}, {act.how}" if act.how else name


def _did(session: ShopSession, entry: Entry) -> str:
    units = session.units
    change = entry.after_um - entry.before_um
    sign = "+" if change >= 0 else "−"
    film = f"{sign}{units.film_number(abs(change))}"
    spread = f"±{units.film_number(entry.sd_before_um)} → ±{units.film(entry.sd_after_um)}"
    return f"{film}, now {units.film_number(entry.after_um)} ({spread})"
