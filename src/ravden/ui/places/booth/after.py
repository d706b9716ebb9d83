"""After a session: done against planned, what it changed, what to measure, what to clean. No Qt.

The outlook of before the session is worked out again from the entries there were then, so that it can be told after a
restart too.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING

from ravden.app.session import ShopSession
from ravden.journal.booth import LASTS, BoothSession
from ravden.text import words, written
from ravden.text.measure_words import measure_next, owned
from ravden.ui.places.booth import before, turns

if TYPE_CHECKING:
    from ravden.core.ahead.advice import Counsel
    from ravden.core.ahead.outlook import Outlook
    from ravden.core.session.aftermath import Aftermath


@dataclass(frozen=True, slots=True, kw_only=True)
class Worked:
    """One instrument after the session: what it did, the outlook now, and advice on it."""

    instrument: str
    done: Aftermath
    found: Outlook
    advice: Counsel


@dataclass(frozen=True, slots=True, kw_only=True)
class AfterShown:
    """blocks: the instrument's name and its lines, each with a tone; clean: cautions; title: when it was, how long."""

    title: str
    blocks: tuple[tuple[str, tuple[tuple[str, str], ...]], ...]
    clean: tuple[str, ...]
    measure: str


def work(session: ShopSession, over: BoothSession) -> Callable[[], tuple[Worked, ...]]:
    """A snapshot of what there is to be worked out, to be run anywhere."""
    ended = over.ended or over.last
    names = [i for i in over.instruments if i in session.shop.racked]
    pairs = [(n, session.request_then(over.entry, over.begun, n), session.request(n)) for n in names]
    racked = session.shop.racked
    spans = {n: (racked[n].hours(over.begun), racked[n].hours(ended)) for n in names}

    def run() -> tuple[Worked, ...]:
        from ravden.core.ahead.counsel import counsel
        from ravden.core.session.aftermath import aftermath

        out = []
        for name, then, now in pairs:
            found = now.run()
            before = None if then is None else then.run()
            begun_h, ended_h = spans[name]
            done = aftermath(before, found, begun_h, ended_h, LASTS.total_seconds() / 3600)
            out.append(Worked(instrument=name, done=done, found=found, advice=counsel(found)))
        return tuple(out)

    return run


def show(session: ShopSession, over: BoothSession, worked: tuple[Worked, ...]) -> AfterShown:
    """The page after a session."""
    begun, ended = session.local(over.begun), session.local(over.ended or over.last)
    lasted = words.wait(max((ended - begun).total_seconds() / 3600, 1 / 12))
    blocks, best = [], ("", 1.0)
    clean: dict[str, None] = {}
    for w in worked:
        if w.instrument not in session.shop.racked:
            continue
        rack = session.shop.racked[w.instrument]
        blocks.append((rack.instrument.name, tuple(_lines(session, w))))
        laid = {c.finish or rack.instrument.material for c in rack.project.coats if c.at_h >= rack.hours(over.begun)}
        laid |= {rack.instrument.material} if w.done.begun else set()
        for material in laid:
            family = session.catalogue.material(material).family
            clean |= dict.fromkeys([session.catalogue.booth.cleanups.get(family, "")])
        if w.done.zones_sanded:
            clean |= dict.fromkeys([session.catalogue.booth.cleanups["paper"]])
        for choice in owned(w.advice.measure, session.tools)[:1]:
            if choice.share < best[1]:
                name = rack.instrument.name
                best = (f"{name}. {measure_next(session, w.found, w.advice)}", choice.share)
    return AfterShown(
        title=f"Session of {words.day(begun, session.local(session.now))}, {written.clock(begun)}, {lasted}",
        blocks=tuple(blocks), clean=tuple(c for c in clean if c), measure=best[0],
    )  # fmt: skip


def _lines(session: ShopSession, w: Worked) -> list[tuple[str, str]]:
    out = []
    done, found = w.done, w.found
    rack = session.shop.racked[w.instrument]
    now = session.local(session.now)
    if done.done or done.planned:
        same = done.done == done.planned
        text = f"{words.plural(done.done, 'coat')} laid, {'as planned' if same else f'{done.planned} planned'}."
        out.append((text, "plain" if same else "warn"))
    if done.begun:
        out.append((f"{words.plural(done.begun, 'pass', 'passes')} of a coat that was not finished.", "warn"))
    if done.zones_sanded:
        out.append((f"{words.plural(done.zones_sanded, 'zone')} sanded.", "plain"))
    labels = {z.name: z.label.lower() for z in found.project.zones}
    for what, zone in done.mishaps:
        label = session.catalogue.defects[what][0]
        out.append((f"{label}, {labels.get(zone, zone)}: {session.catalogue.defects[what][1]}", "warn"))

    def on(at_h: float | None) -> str:
        return "not within sight" if at_h is None else words.day(session.local(rack.moment(at_h)), now)

    for move in done.moved[:2]:
        act = words.ACTS[move.name]
        act = act[:1].upper() + act[1:]
        if move.after_h is not None and move.after_h <= found.now_h:
            out.append((f"{act} window: open since {on(move.after_h)}.", "plain"))
        elif move.before_h is not None and on(move.before_h) != on(move.after_h):
            out.append((f"{act} window moves from {on(move.before_h)} to {on(move.after_h)}.", "warn"))
        else:
            out.append(
                (f"{act} window: {on(move.after_h)}{', as before' if move.before_h is not None else ''}.", "plain")
            )
    if found.project.coats:
        first = found.zones[0]
        span = session.units.film_range(first.film.p05_um, first.film.p95_um)
        out.append((f"{first.label}: {session.units.film(first.film.mean_um)} ({span}).", "plain"))
    here = turns.turn_of(session, w.instrument, found)
    wanted = turns.wants_hands(session, here, found)
    row = before.Row(id=w.instrument, turn=here, chosen=False, planned=wanted)
    out.append((f"Next: {before.next_on(session, found, row)}.", "open" if wanted and here.kind != "stop" else "plain"))
    return out
