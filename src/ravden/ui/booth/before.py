"""Before a session: which instruments in which order, how much to mix, what to look at first. No Qt."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TYPE_CHECKING

from ravden.core.plan.batch import Layer, Mix, mix
from ravden.core.plan.booth import Turn
from ravden.ui import words
from ravden.ui.booth import beside, turns
from ravden.ui.booth.beside import LiveAir
from ravden.ui.booth.said import clock_text, short
from ravden.ui.session import ShopSession

if TYPE_CHECKING:
    from ravden.core.plan.outlook import Outlook

MOST_NAMED = 3
SOON_H = 12.0  # what is ready within this is proposed for the session


@dataclass(frozen=True, slots=True, kw_only=True)
class Candidate:
    """An instrument a session could be on: what is next on it, and whether it is chosen."""

    id: str
    name: str
    text: str
    chosen: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class BeforeShown:
    """checks: id, words, ticked; mixes: one line a material; lamp: whether a curing lamp is used; begin: what the large
    key says, empty where there is nothing to begin."""

    candidates: tuple[Candidate, ...]
    mixes: tuple[str, ...]
    checks: tuple[tuple[str, str, bool], ...]
    air: tuple[tuple[str, str], ...]
    cautions: tuple[str, ...]
    lamp: bool
    begin: str
    empty: str


@dataclass(slots=True)
class Choice:
    """What has been chosen so far for the next session: instruments put in or left out by hand, their order where it
    was changed, and the checks ticked."""

    by_hand: dict[str, bool] = field(default_factory=dict)
    order: list[str] = field(default_factory=list)
    ticked: set[str] = field(default_factory=set)
    lamp_mW_cm2: float = 0.0

    def forget(self) -> None:
        """Start anew."""
        self.by_hand, self.order, self.ticked = {}, [], set()


def chosen(session: ShopSession, outlooks: dict[str, Outlook], choice: Choice) -> tuple[tuple[str, Turn, bool], ...]:
    """Every instrument that wants hands, in the order of the session: id, turn, and whether it is in."""
    out = []
    mine = outlooks.get(session.selected)
    # Dust and wet film keep apart: with paper in hand, the instrument turned to is proposed alone.
    papered = turns.to_sand(turns.turn_of(session, session.selected, mine), mine)
    for instrument in session.shop.racked:
        found = outlooks.get(instrument)
        here = turns.turn_of(session, instrument, found)
        if not turns.wants_hands(session, here, found):
            continue
        due = turns.due_at(session, instrument, here) or session.now
        left_h = (due - session.now).total_seconds() / 3600.0
        ready = here.kind != "stop" and left_h < SOON_H and here.kind in turns.IN_HAND
        proposed = instrument == session.selected if papered else ready
        out.append(((not proposed, max(left_h, 0.0)), instrument, here, choice.by_hand.get(instrument, proposed)))
    place = {name: i for i, name in enumerate(choice.order)}
    out.sort(key=lambda row: (place.get(row[1], len(place)), row[0], row[1]))
    return tuple((name, here, is_in) for _, name, here, is_in in out)


def show(
    session: ShopSession, outlooks: dict[str, Outlook], choice: Choice, live: LiveAir | None = None
) -> BeforeShown:
    """The page before a session."""
    rows = chosen(session, outlooks, choice)
    names = [name for name, _, is_in in rows if is_in]
    ways = {_way(session, name, here) for name, here, is_in in rows if is_in and here.kind in ("pass", "coat", "stop")}
    checks = session.catalogue.booth.checks(ways)
    air: list[tuple[str, str]] = []
    cautions: dict[str, None] = {}
    for name, here, is_in in rows:
        if not is_in:
            continue
        told = beside.conditions(session, here, live, name)
        material = beside.material_of(session, here, name)[0]
        air.append((told.air, told.air_tone))
        if told.finish:
            air.append((f"{material.label}: {told.finish[:1].lower()}{told.finish[1:]}", told.finish_tone))
        cautions |= dict.fromkeys(material.cautions[:1])
    lamp = any(here.kind in ("light", "lit") for _, here, is_in in rows if is_in) or any(
        session.shop.racked[n].project.material.cure.model == "light" for n in names
    )
    return BeforeShown(
        candidates=tuple(_candidate(session, outlooks, *row) for row in rows),
        mixes=_mixes(session, [(n, h) for n, h, is_in in rows if is_in]),
        checks=tuple((name, label, name in choice.ticked) for name, label in checks),
        air=tuple(dict.fromkeys(line for line in air if line[0])), cautions=tuple(cautions), lamp=lamp,
        begin=f"Space: begin on {_named(session, names)}" if names else "",
        empty="" if rows else _next_words(session, outlooks),
    )  # fmt: skip


def _named(session: ShopSession, names: list[str]) -> str:
    """Up to three by name, more by number."""
    if len(names) > MOST_NAMED:
        return f"{len(names)} instruments"
    return ", ".join(short(session.shop.racked[n].instrument.name) for n in names)


def _candidate(session: ShopSession, outlooks: dict[str, Outlook], name: str, here: Turn, is_in: bool) -> Candidate:
    due = turns.due_at(session, name, here)
    left = 0.0 if due is None else (due - session.now).total_seconds()
    sanded = turns.to_sand(here, outlooks.get(name))
    when = "now"
    if left > 0 and due is not None:
        when = (
            f"in {clock_text(left)}" if left < 12 * 3600 else words.day(session.local(due), session.local(session.now))
        )
    if here.kind == "stop":
        text = f"enough for today; coat {here.coat} of {here.coats} {when}"
    elif sanded:
        text = f"{here.label}: paper may go on it"
    elif here.kind in ("light", "lit"):
        text = f"{here.label} {when}"
    elif here.kind == "care":
        text = f"{here.label.lower()} {when}"
    else:
        text = f"coat {here.coat} of {here.coats} {when}"
        if here.before:
            text += f"; before it {here.before[:1].lower()}{here.before[1:]}"
    return Candidate(id=name, name=session.shop.racked[name].instrument.name, text=text, chosen=is_in)


def _way(session: ShopSession, name: str, here: Turn) -> str:
    return beside.material_of(session, here, name)[1]


def _next_words(session: ShopSession, outlooks: dict[str, Outlook]) -> str:
    """What is next in the whole shop, where nothing wants the booth now."""
    soon = []
    for name, found in outlooks.items():
        for w in found.windows[:1]:
            if w.likely_h is not None and name in session.shop.racked:
                soon.append((session.shop.racked[name].moment(w.likely_h), name, w.name))
    if not soon:
        return "Nothing wants hands in the booth now."
    at, name, window = min(soon)
    day = words.day(session.local(at), session.local(session.now))
    act = {"scuff": "scuff", "level": "level sand", "buff": "rub out", "case": "case"}[window]
    return (
        f"Nothing wants hands in the booth now. Next: {session.shop.racked[name].instrument.name}, {act}, about {day}."
    )


def mix_for(session: ShopSession, rows: list[tuple[str, Turn]]) -> dict[tuple[str, str], Mix]:
    """How much of each finish this session takes, by material and way of laying it."""
    layers: dict[tuple[str, str], list[Layer]] = {}
    for name, here in rows:
        if here.kind not in ("pass", "coat", "stop"):
            continue
        material, way = beside.material_of(session, here, name)
        project = session.shop.racked[name].project
        zones = [z for z in project.zones if (z.name in here.zones if here.zones else z.name not in project.bare)]
        area = sum(z.area_cm2 * z.k_mean for z in zones)
        stage = session.shop.racked[name].method.stage[here.index]
        left = here.coats - here.coat + 1 if stage.kind == "coats" and not here.finish else here.per_session
        count = max(min(here.per_session - here.in_session, left), 1)
        layers.setdefault((material.id, way), []).append(Layer(coats=count, dry_um=material.coat_dry_um, area_cm2=area))
    return {
        key: mix(session.catalogue.material(key[0]), key[1], session.catalogue.tool(key[1]).transfer, laid)
        for key, laid in layers.items()
    }


def _mixes(session: ShopSession, rows: list[tuple[str, Turn]]) -> tuple[str, ...]:
    out = []
    for (material_id, way), need in mix_for(session, rows).items():
        material = session.catalogue.material(material_id)
        text = f"{_ml(need.total_ml)} of {material.label.lower()}"
        if need.thinner_ml > 0:
            text = f"{_ml(need.supplied_ml)} of {material.label.lower()} and {_ml(need.thinner_ml)} of thinner"
        pot = session.catalogue.booth.habit(material_id, way).pot
        if pot is not None:
            text += f"; once mixed it can be used for about {words.minutes(pot.pot_min)} at 20 °C: mix it last (M)"
        out.append(f"Make ready {text}.")
    return tuple(out)


def _ml(ml: float) -> str:
    return f"{max(5 * round(ml / 5), 5)} ml" if ml < 100 else f"{round(ml, -1):.0f} ml"
