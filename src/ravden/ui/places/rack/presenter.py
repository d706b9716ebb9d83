"""What the Rack shows, as plain data. No Qt."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime, timedelta
from operator import itemgetter
from typing import TYPE_CHECKING

from msgspec import Struct
from msgspec.structs import replace

from ravden.app import defect_words, move_words
from ravden.app.defects import Defect, open_defects
from ravden.app.next_act import next_act, when_text, why_later
from ravden.app.session import ShopSession
from ravden.core.record import Coat, Reading, Sanding
from ravden.text import words
from ravden.text.told import Told
from ravden.ui.places.rack import said

if TYPE_CHECKING:
    from ravden.app.better_plan import Offer
    from ravden.app.shop_days import Promise, ShopDays
    from ravden.app.troubles import Trouble
    from ravden.core.ahead.outlook import Outlook
    from ravden.core.ahead.timeline import FilmTimeline
    from ravden.journal.rack import OnRack

PAST_DAYS, AHEAD_DAYS = 14.0, 35.0
LEAST_AHEAD_DAYS = 10.0
MOST_TOLD, MOST_AT_RISK, MOST_CARDS = 4, 3, 3
# By the kind of act; else as the act is called.
SORTS = {"coat": "A coat", "done": "Finished", "dry": "Drying", "refused": "More film first"}


class WindowMark(Struct, frozen=True, kw_only=True):
    """A window to come: when likely, and between when and when; None: not within sight."""

    label: str
    early: datetime | None
    likely: datetime | None
    late: datetime | None


class Block(Struct, frozen=True, kw_only=True):
    """Hands on an instrument in the shop's plan. kind: hands, session or cabinet; coats: when each of a session is
    laid; pinned: held by hand; state: planned, overdue or broken; what: in words; step: its id, empty where it cannot
    be held."""

    at: datetime
    until: datetime
    kind: str
    what: str
    coats: tuple[datetime, ...] = ()
    step: str = ""
    pinned: bool = False
    state: str = "planned"


class Wound(Struct, frozen=True, kw_only=True):
    """A defect that is open: when it was noticed, what it is and how it stands; heavy: the next paper will not do."""

    at: datetime
    words: str
    heavy: bool


class LaneShown(Struct, frozen=True, kw_only=True):
    """One instrument's lane. tone: open (hands may work), plain (wait), warn; sort: the kind of work that is next; due:
    when it may be done, None: nobody can say; why: what it waits for beyond that, empty: nothing; blocks: hands on it
    in the shop's plan, none while there is none; wounds: its open defects, the heavier first; asks: a look that would
    tell how fast its finish dries, empty: none."""

    id: str
    name: str
    about: str
    next_act: str
    next_when: str
    why: str
    tone: str
    sort: str
    due: datetime | None
    zero: datetime
    coats: tuple[datetime, ...]
    planned_coats: tuple[datetime, ...]
    sandings: tuple[datetime, ...]
    readings: tuple[datetime, ...]
    windows: tuple[WindowMark, ...]
    timeline: FilmTimeline | None
    now_h: float
    promised: datetime | None
    blocks: tuple[Block, ...] = ()
    wounds: tuple[Wound, ...] = ()
    asks: str = ""


class RackShown(Struct, frozen=True, kw_only=True):
    """The whole Rack. groups: the lanes under their headings, one without a heading where they are not grouped; many:
    how many instruments there are, found or not; days: the midnights on its axis, each with whether the shop is shut
    that day; broken: that a plan which is kept cannot stand, empty where it can; better: what a plan that is offered
    would gain, empty for none."""

    shop: str
    told: tuple[Told, ...]
    lanes: tuple[LaneShown, ...]
    groups: tuple[tuple[str, tuple[LaneShown, ...]], ...]
    many: int
    start: datetime
    end: datetime
    now: datetime
    days: tuple[tuple[datetime, bool], ...]
    broken: str = ""
    better: str = ""


def _lane(
    session: ShopSession, instrument_id: str, found: Outlook | None, days: ShopDays | None, trouble: Trouble | None
) -> LaneShown:
    rack = session.shop.on_rack(instrument_id)
    item = rack.instrument
    now = session.local(session.now)

    def at(hours: float) -> datetime:
        return session.local(rack.moment(hours))

    catalogue = session.catalogue
    about = f"{catalogue.kind(item.kind).label} · {catalogue.material(item.material).label.lower()} · {item.sheen}"
    acts = rack.acts
    windows: tuple[WindowMark, ...] = ()
    planned: tuple[datetime, ...] = ()
    what, when, tone, sort, why, asks = "working out the cure …", "", "plain", "Being worked out", "", ""
    due: datetime | None = None
    if trouble is not None:
        since = "" if trouble.at is None else f"since {words.moment(session.local(trouble.at), now)}: "
        what, when, tone, sort = "cannot be worked out", f"{since}see its Log", "warn", "Record to look at"
    elif found is not None:
        act = next_act(session, found, instrument_id)
        what, when = act.what, when_text(act, now)
        why = why_later(act, "" if days is None else days.hands_on(instrument_id), now)
        tone = "open" if act.open else "plain"
        sort, due = SORTS.get(act.kind, act.what), act.at
        planned = tuple(at(c.at_h) for c in found.forward.coats if c.zones is None)
        if days is not None and any(n.instrument == instrument_id for n in days.unplanned):
            when = when if act.kind == "refused" else f"{when}; no day found: see the days ahead".removeprefix("; ")
            tone = "warn"
        look = None if days is None else next((one for one in days.looks if one.instrument == instrument_id), None)
        if look is not None and not act.open:
            asks = f"Try a nail {words.day(look.at, now)}"
        windows = tuple(
            WindowMark(
                label=words.ACTS[w.name],
                early=None if w.early_h is None else at(w.early_h),
                likely=None if w.likely_h is None else at(w.likely_h),
                late=None if w.late_h is None else at(w.late_h),
            )
            for w in found.windows
        )
    return LaneShown(
        id=instrument_id,
        name=item.name,
        about=about,
        next_act=what,
        next_when=when,
        why=why,
        tone=tone,
        sort=sort,
        due=due,
        zero=session.local(rack.zero),
        coats=tuple(at(h) for a in acts if isinstance(a, Coat) for h in a.hours),
        planned_coats=planned,
        sandings=tuple(at(a.at_h) for a in acts if isinstance(a, Sanding)),
        readings=tuple(at(a.at_h) for a in acts if isinstance(a, Reading)),
        windows=windows,
        timeline=found.timeline if found else None,
        now_h=rack.hours(session.now),
        promised=None if item.promised_h is None else at(item.promised_h),
        blocks=() if days is None else _blocks(days, instrument_id, now),
        wounds=tuple(_wound(session, rack, d) for d in open_defects(rack, session.now)),
        asks=asks,
    )


def _wound(session: ShopSession, rack: OnRack, found: Defect) -> Wound:
    said = f"{defect_words.label(session, rack, found)}: {defect_words.state(session, rack, found)}"
    return Wound(at=session.local(rack.moment(found.mishap.at_h)), words=said, heavy=not found.light)


def _blocks(days: ShopDays, instrument: str, now: datetime) -> tuple[Block, ...]:
    """The plan's work on one instrument: coats of a session together."""
    out: list[Block] = []
    last = ""
    for doing in days.by_instrument.get(instrument, ()):
        if doing.kind == "case":
            continue
        state = "broken" if doing.broken else "overdue" if doing.ends < now else "planned"
        if doing.kind == "coats" and last == doing.step and out:
            out[-1] = replace(
                out[-1], until=doing.ends, coats=(*out[-1].coats, doing.at), what=f"{out[-1].what}, {doing.what}",
            )  # fmt: skip
            continue
        sprayed = doing.kind == "coats"
        last = doing.step if sprayed else ""
        out.append(
            Block(
                at=doing.at, until=doing.ends, kind="session" if sprayed else "hands", what=doing.what,
                coats=(doing.at,) if sprayed else (), step=doing.step, pinned=doing.pinned,
                state=state,
            )
        )  # fmt: skip
    out += [
        Block(at=s.at, until=s.until, kind="cabinet", what="In the warm cabinet")
        for s in days.stays if s.instrument == instrument
    ]  # fmt: skip
    return tuple(sorted(out, key=lambda b: b.at))


def show(
    session: ShopSession, found: Mapping[str, Outlook], *, grouped: bool = False, typed: str = "",
    planned: ShopDays | None = None, troubles: Mapping[str, Trouble] | None = None, offer: Offer | None = None,
) -> RackShown:  # fmt: skip
    """The Rack from the shop and the outlooks computed so far. grouped: by what is next; typed: only lanes in which
    every word of it is found; planned: the plan of the shop, None while there is none; troubles: instruments whose
    record cannot be worked out; offer: a better plan than the one that stands."""
    now = session.local(session.now)
    wrong = troubles or {}
    every = tuple(_lane(session, i, found.get(i), planned, wrong.get(i)) for i in session.shop.racked)
    promises = None if planned is None else planned.promises
    broken = planned is not None and any(d.broken for d in planned.doings)
    lanes = tuple(lane for lane in every if _is_found(lane, typed.casefold().split()))
    groups = _grouped(lanes) if grouped else (("", lanes),)
    lanes = tuple(lane for _, some in groups for lane in some)
    events = [m for lane in every for m in (*lane.coats, *lane.sandings)]
    start = max(min([*events, now - timedelta(days=2)]), now - timedelta(days=PAST_DAYS)) - timedelta(hours=12)
    marks = [w.likely for lane in every for w in lane.windows if w.likely is not None]
    end = min(max([*marks, now + timedelta(days=LEAST_AHEAD_DAYS)]), now + timedelta(days=AHEAD_DAYS))
    end += timedelta(days=2)
    hours = session.shop.hours
    return RackShown(
        shop=session.shop.name,
        told=(*_wrong(session, wrong), *_told(session, found, now, promises))[:MOST_CARDS],
        lanes=lanes,
        groups=groups,
        many=len(every),
        start=start,
        end=end,
        now=now,
        broken=_broken(planned, now) if broken else "",
        better="" if offer is None else f"{said.BETTER} is at hand. {move_words.offered(offer)}.",
        days=tuple((at, hours.is_shut(at.date())) for at in hours.midnights(start, end)),
    )


def _broken(planned: ShopDays | None, now: datetime) -> str:
    """That a kept plan cannot stand, and the first of it."""
    doings = [] if planned is None else [d for d in planned.doings if d.broken]
    steps = len({(d.instrument, d.step) for d in doings})
    first = doings[0]
    which = f"{first.name}, {first.what[:1].lower()}{first.what[1:]}, {said.at_clock(first.at, now)}"
    return f"{said.cannot_stand(steps)}{': ' if steps == 1 else ', first '}{which}."


def _is_found(lane: LaneShown, parts: list[str]) -> bool:
    told = f"{lane.name} {lane.about} {lane.next_act} {lane.sort}".casefold()
    return all(part in told for part in parts)


def _grouped(lanes: tuple[LaneShown, ...]) -> tuple[tuple[str, tuple[LaneShown, ...]], ...]:
    """Lanes by the work that is next; first what hands may take up now, then what opens soonest."""

    def urgency(lane: LaneShown) -> tuple[bool, bool, datetime]:
        return lane.tone != "open", lane.due is None, lane.due or lane.zero

    groups: dict[str, list[LaneShown]] = {}
    for lane in sorted(lanes, key=urgency):
        groups.setdefault(lane.sort, []).append(lane)
    return tuple((f"{sort}: {len(some)}", tuple(some)) for sort, some in groups.items())


def _told(
    session: ShopSession, found: Mapping[str, Outlook], now: datetime, promises: tuple[Promise, ...] | None
) -> tuple[Told, ...]:
    ready, later, risk = [], [], []
    for i, outlook in found.items():
        if i not in session.shop.racked:
            continue
        name = outlook.project.instrument.name
        act = next_act(session, outlook, i)
        ready += [(now, text) for text in defect_words.for_hands(session, session.shop.racked[i])]
        if act.open:
            # By the plan where there is one: that it has been open since then stands in its lane.
            when = when_text(act, now) if act.planned is None else words.moment(act.planned, now)
            ready.append((act.planned or now, f"{name}: {act.what[:1].lower()}{act.what[1:]}, {when}"))
        elif act.at is not None:
            later.append((act.at, f"{name}: {act.what[:1].lower()}{act.what[1:]}, {when_text(act, now)}"))
        promised = outlook.project.instrument.promised_h
        finished = outlook.forward.finished_h
        planned = promises is not None and any(p.instrument == i for p in promises)
        if promised is not None and not planned and (finished is None or finished > promised):
            rack = session.shop.on_rack(i)
            due = words.day(session.local(rack.moment(promised)), now)
            likely = "not within sight" if finished is None else words.day(session.local(rack.moment(finished)), now)
            said = "not with this film" if act.kind == "refused" else f"ready for the case {likely}"
            risk.append(f"{name}: promised {due}, {said}")
    risk += [_loose(p, now) for p in promises or () if p.word != "safe" and p.instrument in session.shop.racked]
    out = []
    if ready:
        more = [f"and {len(ready) - MOST_TOLD} more, in the lanes"] if len(ready) > MOST_TOLD else []
        lines = [text for _, text in sorted(ready, key=itemgetter(0))[:MOST_TOLD]]
        out.append(Told(tone="open", heading="Ready for hands", detail="\n".join((*lines, *more))))
    elif found:
        out.append(Told(tone="plain", heading="Ready for hands", detail="Nothing just now: let it dry."))
    if later:
        out.append(Told(tone="plain", heading="Opens next", detail="\n".join(t for _, t in sorted(later)[:3])))
    if risk:
        more = [f"and {len(risk) - MOST_AT_RISK} more: the days ahead"] if len(risk) > MOST_AT_RISK else []
        detail = "\n".join((*risk[:MOST_AT_RISK], *more))
        out.append(Told(tone="warn", heading="Promise at risk", detail=detail))
    return tuple(out)


def _wrong(session: ShopSession, wrong: Mapping[str, Trouble]) -> tuple[Told, ...]:
    """Instruments whose record cannot be worked out, before everything else."""
    if not wrong:
        return ()
    from ravden.app.troubles import sentence, what_it_says

    some = list(wrong.values())
    more = [f"and {len(some) - MOST_AT_RISK} more, in the lanes"] if len(some) > MOST_AT_RISK else []
    detail = "\n".join((*(f"{sentence(session, t)}: see its Log (Film)." for t in some[:MOST_AT_RISK]), *more))
    tip = "\n".join(f"{t.name}: {what_it_says(session, t)}" for t in some)
    return (Told(tone="warn", heading="Record to look at", detail=detail, more=tip),)


def _loose(promise: Promise, now: datetime) -> str:
    return f"{promise.name} by {words.day(promise.promised, now)}: {promise.word}"
