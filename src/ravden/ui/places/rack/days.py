"""The days ahead as rows, as plain data. No Qt."""

from __future__ import annotations

from datetime import datetime, time, timedelta
from typing import TYPE_CHECKING

from msgspec import Struct

from ravden.app import move_words
from ravden.text import plan_words, words, written
from ravden.text.units import Units

if TYPE_CHECKING:
    from ravden.app.looks_asked import Look
    from ravden.app.plan_moves import Move
    from ravden.app.shop_days import Doing, Promise, ShopDays, Stay
    from ravden.app.shop_plan import NoDay

SPANS = {"today": 1, "tomorrow": 2, "week": 7}  # days from today's midnight on
NOTE = (
    "One plan for all instruments, in the shop's hours; lanes and Film are dated by it. Waits are planned to be enough "
    "seven times in ten: the film, a test spot and the data sheet decide."
)
OF_ODDS = "Odds are as this plan stands, from spreads that are assumed until this shop's own waits have taught them."
WORKING, NONE = "Working out the days …", "Nothing on the rack wants hands in these days."
FOLLOWS = "It follows along by itself."
UNPROVED = "Without OR-Tools, which is not there, better plans are searched for, and none is proved best."
LOOK = "Nail? Does it dent the film? It tells how fast this finish dries here (R)"
KEPT = "This plan is kept: nothing in it moves unasked."


class DayRow(Struct, frozen=True, kw_only=True):
    """A line: a day's heading alone, or a piece of work; where: what it turns to, empty for none; doing: the work
    itself, None for a heading or a promise; tone: plain, warn for what cannot stand."""

    heading: str = ""
    cells: tuple[str, str, str, str, str] = ("", "", "", "", "")
    instrument: str = ""
    where: str = ""
    doing: Doing | None = None
    tone: str = "plain"


class DaysShown(Struct, frozen=True, kw_only=True):
    """Some days. told: what there is to say of them; named: whether it matters whose hands; kept: a plan is kept;
    broken: how many steps of it cannot stand; tells: whether odds, offers and keeping are of use here."""

    rows: tuple[DayRow, ...]
    told: str
    named: bool = False
    kept: bool = False
    broken: int = 0
    tells: bool = False


def show(
    planned: ShopDays | None, now: datetime, span: str = "week", units: Units | None = None,
    moves: tuple[Move, ...] = (),
) -> DaysShown:  # fmt: skip
    """The days from the shop's plan; None: it is being worked out. now: on the shop's wall; span: of SPANS; units: to
    say in them what air would do; moves: of late."""
    if planned is None:
        return DaysShown(rows=(), told=WORKING)
    named = len({d.who for d in planned.doings}) > 1 or _crew(planned) > 1
    rows: list[DayRow] = []
    for day, doings in planned.by_day(SPANS[span], now.date()):
        if span == "tomorrow" and day == now.date():
            continue
        at = words.day(datetime.combine(day, time(12), now.tzinfo), now)
        date = written.day(day)
        said = date if at == date else f"{at[:1].upper()}{at[1:]}, {date}"
        if not doings:
            rows.append(DayRow(heading=said))
        for who in _in_turn(planned, {d.who for d in doings}) if named else [""] * bool(doings):
            mine = [d for d in doings if not named or d.who == who]
            hands = words.wait(sum(d.minutes for d in mine) / 60)
            rows.append(DayRow(heading=f"{said}{f', {who}' if who else ''}: {hands} of hands"))
            rows += [_row(d, mine) for d in mine]
        rows += [
            DayRow(cells=(written.clock(s.at), s.name, _stay(s), "", ""), instrument=s.instrument, where="film")
            for s in planned.stays if s.at.date() == day
        ]  # fmt: skip
        rows += [_look(look) for look in planned.looks if look.at.date() == day]
    told = [NOTE] if rows else [NONE]
    if moves:
        rows += [DayRow(heading="Moved"), *(_moved(move, now) for move in moves)]
    if planned.unplanned:
        rows += [DayRow(heading="No day found"), *(_no_day(n, planned, units or Units()) for n in planned.unplanned)]
    if planned.promises:
        rows += [DayRow(heading="Promised"), *(_promise(p, now) for p in planned.promises)]
        told.append(OF_ODDS)
    told += _left_out(planned)
    made = planned.made
    kept = made is not None and made.asked.kept
    tells = named or bool(planned.promises) or kept or (made is not None and any(made.asked.pins.values()))
    if tells:
        told.append(KEPT if kept else FOLLOWS)
        told += [] if planned.proves else [UNPROVED]
    broken = 0 if made is None else len(made.broken)
    return DaysShown(rows=tuple(rows), told=" ".join(told), named=named, kept=kept, broken=broken, tells=tells)


def _in_turn(planned: ShopDays, who: set[str]) -> list[str]:
    """Whose hands, in the order the shop names them."""
    named = [] if planned.made is None else [h.name for h in planned.made.asked.crew.hands]
    return sorted(who, key=lambda name: (named.index(name) if name in named else len(named), name))


def _crew(planned: ShopDays) -> int:
    return 0 if planned.made is None else len(planned.made.asked.crew.hands)


def _left_out(planned: ShopDays) -> list[str]:
    told = []
    if planned.beyond:
        told.append(f"Not in it: {planned.beyond} more, those promised last or not at all.")
    if planned.made is not None and planned.made.loose_pins:
        names = {i: f.project.instrument.name for i, f in planned.made.asked.outlooks.items()}
        pinned = ", ".join(sorted({names[i] for i, _ in planned.made.loose_pins}))
        told.append(
            f"A pin on {pinned} cannot stand, and does not count: no hands there then, or the film is not ready."
        )
    return told


def _no_day(found: NoDay, planned: ShopDays, units: Units) -> DayRow:
    """An instrument that fits nowhere, with why and what would help."""
    outlook = None if planned.made is None else planned.made.asked.outlooks.get(found.instrument)
    if found.film:
        said = plan_words.DRIES_NOWHERE if outlook is None else plan_words.stuck(units, outlook)
    else:
        who = "nobody is here so long who may do" if _crew(planned) else "no day of the shop is long enough for"
        said = f"{who[:1].upper()}{who[1:]} one of its steps. Longer hours on one day would do: Shop, People and booth."
    return DayRow(
        cells=("", found.name, said, "", ""), instrument=found.instrument, tone="warn",
        where="film" if outlook is None or outlook.forward.refused is None else "rubout",
    )  # fmt: skip


def _moved(move: Move, now: datetime) -> DayRow:
    cells = ("", move.name, move_words.moved(move, now), "", "")
    return DayRow(cells=cells, instrument=move.instrument, where="film")


def _row(doing: Doing, day: list[Doing]) -> DayRow:
    between = _while(doing, day)
    pin = " · its pin cannot stand" if doing.loose else " · pinned" if doing.pinned else ""
    first = f" · measure {doing.measure} first" if doing.measure else ""
    what = f"{doing.what}{first}{pin}{' · cannot stand' if doing.broken else ''}{between}"
    return DayRow(
        cells=(written.clock(doing.at), doing.name, what, took(doing.minutes), doing.who),
        instrument=doing.instrument, where=doing.where, doing=doing, tone="warn" if doing.broken else "plain",
    )  # fmt: skip


def _look(look: Look) -> DayRow:
    cells = (written.clock(look.at), look.name, LOOK, "", "")
    return DayRow(cells=cells, instrument=look.instrument, where="film")


def _stay(stay: Stay) -> str:
    return f"Into the warm cabinet, for {words.wait((stay.until - stay.at).total_seconds() / 3600)}"


def _while(doing: Doing, day: list[Doing]) -> str:
    """Work by hand that is fitted in between two coats of one session."""
    if doing.kind in ("coats", "gun", "case"):
        return ""
    coats = [d for d in day if d.kind == "coats" and d.instrument != doing.instrument]
    before = [d for d in coats if d.ends <= doing.at + timedelta(minutes=1)]
    after = [d for d in coats if d.at >= doing.ends - timedelta(minutes=1)]
    same = {(d.instrument, d.step) for d in before} & {(d.instrument, d.step) for d in after}
    name = next((d.name for d in reversed(before) if (d.instrument, d.step) in same), "")
    return f", while {name} flashes" if name else ""


def _promise(promise: Promise, now: datetime) -> DayRow:
    cells = (promise.word.capitalize(), promise.name, said_of(promise, now), tens(promise.odds), "")
    return DayRow(cells=cells, instrument=promise.instrument, where="film")


def said_of(promise: Promise, now: datetime) -> str:
    """A promise against its plan, and what makes it loose."""
    loose = f"; loosest: {promise.loose[:1].lower()}{promise.loose[1:]}" if promise.loose else ""
    how = "with the fewest changes" if promise.repaired else "planned for"
    firm = " firmly" if promise.firm else ""
    return f"promised{firm} {words.day(promise.promised, now)}, {how} {words.day(promise.ends, now)}{loose}"


def tens(odds: float) -> str:
    """Odds in whole tens, as one says them: 8 in 10."""
    of_ten = round(odds * 10)
    if of_ten == 0:
        return "hardly"
    return "nearly sure" if of_ten == 10 else f"{of_ten} in 10"


def took(minutes: int) -> str:
    """Minutes of hands: 25 min, 2 h 05 min."""
    if minutes < 120:
        return f"{minutes} min" if minutes else ""
    hours, rest = divmod(minutes, 60)
    return f"{hours} h {rest:02d} min" if rest else f"{hours} h"
