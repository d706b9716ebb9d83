"""What the Rack shows, as plain data. No Qt."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import TYPE_CHECKING

from ravden.app.next_act import next_act, when_text
from ravden.app.session import ShopSession
from ravden.core.record import Coat, Reading, Sanding
from ravden.text import words
from ravden.text.told import Told

if TYPE_CHECKING:
    from ravden.core.ahead.outlook import Outlook
    from ravden.core.ahead.timeline import FilmTimeline

PAST_DAYS, AHEAD_DAYS = 14.0, 35.0
LEAST_AHEAD_DAYS = 10.0
MOST_TOLD = 4


@dataclass(frozen=True, slots=True, kw_only=True)
class WindowMark:
    """A window to come: when likely, and between when and when; None: not within sight."""

    label: str
    early: datetime | None
    likely: datetime | None
    late: datetime | None


@dataclass(frozen=True, slots=True, kw_only=True)
class LaneShown:
    """One instrument's lane. tone: open (hands may work), plain (wait), warn."""

    id: str
    name: str
    about: str
    next_act: str
    next_when: str
    tone: str
    zero: datetime
    coats: tuple[datetime, ...]
    planned_coats: tuple[datetime, ...]
    sandings: tuple[datetime, ...]
    readings: tuple[datetime, ...]
    windows: tuple[WindowMark, ...]
    timeline: FilmTimeline | None
    now_h: float
    promised: datetime | None


@dataclass(frozen=True, slots=True, kw_only=True)
class RackShown:
    """The whole Rack."""

    shop: str
    told: tuple[Told, ...]
    lanes: tuple[LaneShown, ...]
    start: datetime
    end: datetime
    now: datetime


def _lane(session: ShopSession, instrument_id: str, found: Outlook | None) -> LaneShown:
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
    what, when, tone = "working out the cure …", "", "plain"
    if found is not None:
        act = next_act(session, found, instrument_id)
        what, when = act.what, when_text(act, now)
        tone = "open" if act.open else "plain"
        planned = tuple(at(c.at_h) for c in found.forward.coats if c.zones is None)
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
        tone=tone,
        zero=session.local(rack.zero),
        coats=tuple(at(a.at_h) for a in acts if isinstance(a, Coat)),
        planned_coats=planned,
        sandings=tuple(at(a.at_h) for a in acts if isinstance(a, Sanding)),
        readings=tuple(at(a.at_h) for a in acts if isinstance(a, Reading)),
        windows=windows,
        timeline=found.timeline if found else None,
        now_h=rack.hours(session.now),
        promised=None if item.promised_h is None else at(item.promised_h),
    )


def show(session: ShopSession, found: Mapping[str, Outlook]) -> RackShown:
    """The Rack from the shop and the outlooks computed so far."""
    now = session.local(session.now)
    lanes = tuple(_lane(session, i, found.get(i)) for i in session.shop.racked)
    events = [m for lane in lanes for m in (*lane.coats, *lane.sandings)]
    start = max(min([*events, now - timedelta(days=2)]), now - timedelta(days=PAST_DAYS)) - timedelta(hours=12)
    marks = [w.likely for lane in lanes for w in lane.windows if w.likely is not None]
    end = min(max([*marks, now + timedelta(days=LEAST_AHEAD_DAYS)]), now + timedelta(days=AHEAD_DAYS))
    return RackShown(
        shop=session.shop.name,
        told=_told(session, found, now),
        lanes=lanes,
        start=start,
        end=end + timedelta(days=2),
        now=now,
    )


def _told(session: ShopSession, found: Mapping[str, Outlook], now: datetime) -> tuple[Told, ...]:
    ready, later, risk = [], [], []
    for i, outlook in found.items():
        if i not in session.shop.racked:
            continue
        name = outlook.project.instrument.name
        act = next_act(session, outlook, i)
        if act.open:
            ready.append(f"{name}: {act.what[:1].lower()}{act.what[1:]}, {when_text(act, now)}")
        elif act.at is not None:
            later.append((act.at, f"{name}: {act.what[:1].lower()}{act.what[1:]}, {when_text(act, now)}"))
        promised = outlook.project.instrument.promised_h
        finished = outlook.forward.finished_h
        if promised is not None and (finished is None or finished > promised):
            rack = session.shop.on_rack(i)
            due = words.day(session.local(rack.moment(promised)), now)
            likely = "not within sight" if finished is None else words.day(session.local(rack.moment(finished)), now)
            risk.append(f"{name}: promised {due}, ready for the case {likely}")
    out = []
    if ready:
        more = [f"and {len(ready) - MOST_TOLD} more, in the lanes"] if len(ready) > MOST_TOLD else []
        out.append(Told(tone="open", heading="Ready for hands", detail="\n".join((*ready[:MOST_TOLD], *more))))
    elif found:
        out.append(Told(tone="plain", heading="Ready for hands", detail="Nothing just now: let it dry."))
    if later:
        out.append(Told(tone="plain", heading="Opens next", detail="\n".join(t for _, t in sorted(later)[:3])))
    if risk:
        out.append(Told(tone="warn", heading="Promise at risk", detail="\n".join(risk[:3])))
    return tuple(out)
