"""What stands in large type for one turn: now, the count, what it means, what is next. No Qt."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import TYPE_CHECKING

from ravden.app.next_act import ready_text
from ravden.app.session import ShopSession
from ravden.core.errors import InputError
from ravden.core.session.turns import CareTurn, CoatTurn, LightTurn, MendTurn, Turn
from ravden.text import words, written
from ravden.text.say import say as in_words
from ravden.text.say import sentence
from ravden.ui.places.booth import turns

if TYPE_CHECKING:
    from ravden.core.ahead.one_more import OneMore
    from ravden.core.ahead.outlook import Outlook
    from ravden.core.session.bench import BenchTurn

LONGEST_OVERRUN_S = 3600.0
LONGEST_NAME = 16


@dataclass(frozen=True, slots=True, kw_only=True)
class Said:
    """now: in a few words; count: minutes and seconds, with a plus once overrun; tone: open when hands may go on, plain
    while it flashes off, warn to stop; how: the line under it; space: what the large key logs, empty: nothing; beside:
    a warning to stand with the conditions; step: which of how many; paper: wet, dry or machine where it is sanded, and
    zones: each with done, now or nothing; zone: the one in hand, by name."""

    now: str
    count: str = ""
    under: str = ""
    tone: str = "plain"
    next: str = ""
    how: str = ""
    space: str = ""
    beside: str = ""
    step: str = ""
    paper: str = ""
    zones: tuple[tuple[str, str], ...] = ()
    zone: str = ""


def clock_text(seconds: float) -> str:
    """Minutes and seconds; from an hour on, hours and minutes."""
    whole = int(abs(seconds))
    if whole >= 3600:
        return f"{whole // 3600} h {whole % 3600 // 60:02d}"
    return f"{whole // 60}:{whole % 60:02d}"


def short(name: str, most: int = LONGEST_NAME) -> str:
    """A name that leaves room for what is said of it."""
    return name if len(name) <= most else f"{name[: most - 1].rstrip(' -')}…"


def say(session: ShopSession, here: Turn, found: Outlook | None, more: OneMore | None = None) -> Said:
    """A turn of the instrument turned to. more: what one more coat would cost, where it has been worked out."""
    due = turns.due_at(session, session.selected, here)
    if here.kind == "done":
        return Said(now="All steps are done", next="Nothing more is planned.")
    if here.kind == "other":
        return _other(session, here, found)
    if here.kind == "stop":
        return _stop(session, here, due, more)
    if isinstance(here, LightTurn):
        return _lamp(session, here, due)
    if isinstance(here, CareTurn):
        count, under, tone = _counted(session, here, due, ("until it is wanted", "over: wanted now", "wanted now"))
        after = f"{here.nth_pass} of {here.passes} times after this coat." if here.passes > 1 else ""
        done = "turned" if here.what == "turn" else "wiped"
        return Said(now=here.label, count=count, under=under, tone=tone, next=after, how=here.how,
                    space=f"Space: it is {done}")  # fmt: skip
    if isinstance(here, MendTurn):
        return Said(now=here.label, under="a step of the repair", tone="open",
                    how=here.how, space="Space: it is done")  # fmt: skip
    assert isinstance(here, CoatTurn)
    count, under, tone = _counted(
        session, here, due, ("until the film is ready", "over: ready for hands", "ready for hands")
    )
    if here.clock_back:
        count, under, tone = "?", "the clock was set back: go by touch, not by the count", "warn"
    name = coat_name(session, here)
    what = f"{name}, pass {here.nth_pass} of {here.passes}" if here.passes > 1 else name
    how = here.how
    if here.what and not how.lower().startswith(here.what):
        how = f"{here.what[:1].upper()}{here.what[1:]}. {how}"
    space = "Space: the coat is on" if here.ends_coat else "Space: the pass is on"
    return Said(now=what, count=count, under=under, tone=tone, next=_after(session, here), how=how, space=space)


def coat_name(session: ShopSession, here: Turn, instrument: str = "") -> str:
    """Which coat it is, of the instrument turned to where none is named; one off the plan is counted from the session's
    beginning."""
    name = f"Coat {here.coat} of {here.coats}"
    if here.mends:
        return f"{here.label.partition(',')[0]}: {here.coat} of {here.coats}"
    if here.off_plan:
        name = f"{'Coat' if here.zones else 'Extra coat'} {here.coat}"
    if here.zones:
        project = session.shop.on_rack(instrument or session.selected).project
        return f"{name} on the {words.listed([project.zone(z).label.lower() for z in here.zones])}"
    return name


def _counted(
    session: ShopSession, here: Turn, due: datetime | None, meaning: tuple[str, str, str]
) -> tuple[str, str, str]:
    """The count, what it counts, and its tone. meaning: before it is due, overrun, and due for longer than is
    counted."""
    left = (due - session.now).total_seconds() if due is not None else 0.0
    if due is not None and left > 0:
        if left > 12 * 3600:
            day = words.day(session.local(due), session.local(session.now))
            return (
                day,
                "is when the plan has it" if here.kind == "coat" and not here.in_session else meaning[0],
                "plain",
            )
        return clock_text(left), meaning[0], "plain"
    # A flash-off overrun is counted; what has been ready for longer than an hour is simply ready.
    # The first coat of a session is due when the plan says, which is no count.
    counted = due is not None and -left < LONGEST_OVERRUN_S and (here.kind != "coat" or here.in_session > 0)
    return (f"+{clock_text(left)}", meaning[1], "open") if counted else ("now", meaning[2], "open")


def _lamp(session: ShopSession, here: LightTurn, due: datetime | None) -> Said:
    face, _, what = here.label.partition(": ")
    step, how = f"Face {here.nth_pass} of {here.passes}", f"{what[:1].upper()}{what[1:]}. {here.how}"
    lamp = written.number(here.mW_cm2, "g")
    strength = f"{here.seconds:.0f} s at {lamp} mW/cm² by the working curve; the data sheet says yours."
    if here.on:
        count, under, tone = _counted(session, here, due, ("until the lamp goes off", "over: lamp off", "lamp off"))
        tone = "warn" if tone == "open" else "plain"
        return Said(now=f"Lamp on, {face.lower()}", count=count, under=under, tone=tone, how=how, next=strength,
                    space="Space: the lamp is off", step=step)  # fmt: skip
    count, under, tone = _counted(
        session, here, due, ("until it may be lit", "over: ready for the lamp", "ready for the lamp")
    )
    return Said(now=f"Light on the {face.lower()}", count=count, under=under, tone=tone, how=how, next=strength,
                space="Space: the lamp is on", step=step)  # fmt: skip


def _stop(session: ShopSession, here: Turn, due: datetime | None, more: OneMore | None) -> Said:
    name = coat_name(session, here)
    now = session.local(session.now)
    told = f"{here.in_session} of {here.per_session} coats of a session are on: another would keep the bottom soft."
    if more is not None and more.as_is_h is not None and more.with_it_h is not None:
        rack = session.shop.on_rack(session.selected)
        first, then = (words.day(session.local(rack.moment(h)), now) for h in (more.as_is_h, more.with_it_h))
        later = more.with_it_h - more.as_is_h
        told = (
            f"{here.in_session} of {here.per_session} coats of a session are on. One more now and the bottom is hard "
            f"{words.wait(later)} later: {then}, not {first}."
        )
    after = "" if due is None else f"{name} from {words.moment(session.local(due), now)}."
    return Said(now="Stop here today", under=told, tone="warn", next=after, how="Clean the gun, the brush or the pad.",
                space="Space: one more all the same")  # fmt: skip


def _other(session: ShopSession, here: Turn, found: Outlook | None) -> Said:
    try:
        bench = turns.bench_of(session, here, found)
    except InputError as error:
        why = sentence(error.said, session.units)
        return Said(now=here.label, under="nothing to sand now", tone="warn", next=why)
    if bench is not None:
        return _bench(session, bench)
    after = "The Film place says when, the plan says how."
    if found is not None and found.windows and found.windows[0].likely_h is not None:
        first = found.windows[0]
        what = words.ACTS[first.name]
        after = f"{what[:1].upper()}{what[1:]}: {ready_text(session, session.selected, first)}."
    return Said(now=here.label, under="no coat is next", next=after)


def _bench(session: ShopSession, bench: BenchTurn) -> Said:
    """Paper on one zone: how long, how long at most, how it goes over it, and what to see before the next."""
    grade, zone = bench.rung.abrasive.name, bench.zone.label.lower()
    bears = bench.most / bench.strokes * bench.minutes  # what the odds allow, in the same minutes
    worked = turns.worked_min(session)
    usual, place = words.minutes(bench.minutes), f"zone {bench.nth} of {bench.zones}"
    tone, left = "open", min(bench.minutes, bears) - worked
    count = clock_text(60 * left) if left > 0 else f"+{clock_text(60 * left)}"
    if bench.measure and not bench.done and not bench.after:
        tone, count, under = "plain", "measure", f"first, then the paper: R logs a reading; {place}"
    elif bench.most <= 0:
        tone, count, under = "warn", "measure", "too little is known about this film to sand here: measure first"
    elif bears < bench.minutes:
        tone = "warn"
        under = f"{'left of' if left > 0 else 'over'} all this film bears on the odds; {usual} are wanted, {place}"
    elif worked > bears:
        tone, under = "warn", f"stop: over {words.minutes(bears)} the odds of thin film are too high, {place}"
    else:
        most = f"; never more than {words.minutes(bears)}" if bears < 4 * bench.minutes else ""
        under = f"{'left of' if left > 0 else 'over'} about {usual}, {place}{most}"
    pattern = session.catalogue.booth.patterns[(bench.zone.kind, bench.mode)]
    fresh = ""
    if bench.faces > 1:
        fresh = f" Fresh paper about every {words.minutes(bench.minutes / bench.faces)}."
    off = f" Off the {words.listed([z.lower() for z in bench.kept_off])}." if bench.kept_off else ""
    return Said(
        now=f"{grade} on the {zone}", count=count, under=under, tone=tone, how=f"{pattern}{fresh}{off}",
        next=in_words(bench.look_for, session.units), beside=in_words(bench.warning or bench.measure, session.units),
        space=f"Space: the {zone} is done", step=f"Grade {bench.nth_rung} of {bench.rungs}", paper=bench.mode,
        zone=bench.zone.name,
        zones=tuple(
            (z.label, "done" if z.name in bench.done else "now" if z is bench.zone else "") for z in bench.every
        ),
    )  # fmt: skip


def _after(session: ShopSession, here: CoatTurn) -> str:
    if here.before:
        return f"Before it the plan has: {here.before[:1].lower()}{here.before[1:]}."
    if not here.ends_coat:
        finish = here.finish or session.shop.on_rack(session.selected).instrument.material
        then = session.catalogue.booth.habit(finish, here.by).nth(here.nth_pass + 1)
        if then is not None and then.wait_s <= 0:
            return f"Next: {then.label}, at once."
        return f"Next: flash off, then pass {here.nth_pass + 1}."
    if here.in_session + 1 >= here.per_session:
        return "Next: that is the last coat of this session."
    return f"Next: flash off, then coat {here.coat + 1}."
