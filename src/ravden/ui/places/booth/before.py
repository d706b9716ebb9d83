"""Before a session: which instruments in which order, how much to mix, what to look at first. No Qt."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TYPE_CHECKING

from ravden.app.mixing import lasts, pot_of, ready
from ravden.app.next_act import due_first, ready_text
from ravden.app.session import ShopSession
from ravden.app.stock import will_not_reach
from ravden.catalogue.amounts import coats_had, layer
from ravden.core.session.batch import Layer, Mix, mix
from ravden.core.session.turns import CoatTurn, Turn
from ravden.journal.booth import SessionPart
from ravden.text import words
from ravden.ui.places.booth import beside, turns
from ravden.ui.places.booth.beside import LiveAir
from ravden.ui.places.booth.said import clock_text, coat_name, short

if TYPE_CHECKING:
    from ravden.core.ahead.outlook import Outlook

MOST_NAMED = 3
SOON_H = 12.0  # what is ready within this is proposed for the session


@dataclass(frozen=True, slots=True, kw_only=True)
class Candidate:
    """An instrument a session could be on: what is next on it, whether it is chosen, and whether the plan has it now;
    zones: which, where it is chosen for something that can be for some alone."""

    id: str
    name: str
    text: str
    chosen: bool
    planned: bool = True
    zones: str = ""


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
    """What has been chosen so far for the next session: instruments put in or left out by hand, what is done to some
    though the plan has it not (coat or paper), zones where not all, the order where it was changed, checks ticked."""

    by_hand: dict[str, bool] = field(default_factory=dict)
    off_plan: dict[str, str] = field(default_factory=dict)
    zones: dict[str, tuple[str, ...]] = field(default_factory=dict)
    order: list[str] = field(default_factory=list)
    ticked: set[str] = field(default_factory=set)
    lamp_mW_cm2: float = 0.0

    def forget(self) -> None:
        """Start anew."""
        self.by_hand, self.off_plan, self.zones, self.order, self.ticked = {}, {}, {}, [], set()

    def part(self, instrument: str) -> SessionPart:
        """What the session is to do to an instrument otherwise than the plan has it."""
        return SessionPart(
            instrument=instrument, off_plan=self.off_plan.get(instrument, ""), zones=self.zones.get(instrument, ())
        )

    def turn(self, row: Row, sandable: bool) -> None:
        """Put an instrument in, or leave it out; one the plan has nothing for goes from a coat to paper, where it can
        be sanded, and out again."""
        if row.planned:
            self.by_hand[row.id] = not row.chosen
            return
        ways = ["", "coat", "paper"] if sandable else ["", "coat"]
        at = ways.index(self.off_plan.get(row.id, "")) if row.chosen else 0
        self.off_plan[row.id] = ways[(at + 1) % len(ways)]
        self.by_hand[row.id] = self.off_plan[row.id] != ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Row:
    """An instrument as a session would take it: its turn, whether it is in, whether the plan has anything for it."""

    id: str
    turn: Turn
    chosen: bool
    planned: bool


def chosen(session: ShopSession, outlooks: dict[str, Outlook], choice: Choice) -> tuple[Row, ...]:
    """Every instrument, in the order of the session; those the plan has nothing for now come last."""
    out = []
    mine = outlooks.get(session.selected)
    # Dust and wet film keep apart: with paper in hand, the instrument turned to is proposed alone.
    papered = turns.to_sand(turns.turn_of(session, session.selected, mine), mine)
    for instrument in session.shop.racked:
        found = outlooks.get(instrument)
        here = turns.turn_of(session, instrument, found)
        planned = turns.wants_hands(session, here, found)
        due = turns.due_at(session, instrument, here) or session.now
        left_h = (due - session.now).total_seconds() / 3600.0
        ready = planned and here.kind != "stop" and left_h < SOON_H and here.kind in turns.IN_HAND
        proposed = instrument == session.selected if papered else ready
        is_in = choice.by_hand.get(instrument, proposed)
        if is_in:
            here = turns.turn_of(session, instrument, found, choice.part(instrument))
        row = Row(id=instrument, turn=here, chosen=is_in, planned=planned)
        out.append(((not planned, not proposed, max(left_h, 0.0) if planned else 0.0), row))
    place = {name: i for i, name in enumerate(choice.order)}
    out.sort(key=lambda pair: (place.get(pair[1].id, len(place)), pair[0], pair[1].id))
    return tuple(row for _, row in out)


def show(
    session: ShopSession, outlooks: dict[str, Outlook], choice: Choice, live: LiveAir | None = None
) -> BeforeShown:
    """The page before a session."""
    rows = chosen(session, outlooks, choice)
    taken = [(row.id, row.turn) for row in rows if row.chosen]
    names = [name for name, _ in taken]
    ways = {_way(session, name, here) for name, here in taken if here.kind in ("pass", "coat", "stop")}
    checks = session.catalogue.booth.checks(ways)
    air: list[tuple[str, str]] = []
    cautions: dict[str, None] = {}
    sheet: tuple[str, ...] = ()
    for name, here in taken:
        told = beside.conditions(session, here, live, name)
        material = beside.material_of(session, here, name)[0]
        air.append((told.air, told.air_tone))
        if told.finish:
            air.append((f"{material.label}: {told.finish[:1].lower()}{told.finish[1:]}", told.finish_tone))
        cautions |= dict.fromkeys(material.cautions[:1])
        sheet = material.cautions[-1:]
    lamp = any(here.kind in ("light", "lit") for _, here in taken) or any(
        session.shop.racked[n].project.material.cure.model == "light" for n in names
    )
    return BeforeShown(
        candidates=tuple(_candidate(session, outlooks, row, choice) for row in rows), mixes=_mixes(session, taken),
        checks=tuple((name, label, name in choice.ticked) for name, label in checks),
        air=tuple(dict.fromkeys(line for line in air if line[0])), cautions=(*cautions, *sheet), lamp=lamp,
        begin=f"Space: begin on {_named(session, names)}" if names else "",
        empty="" if any(row.planned for row in rows) else _next_words(session, outlooks),
    )  # fmt: skip


def _named(session: ShopSession, names: list[str]) -> str:
    """Up to three by name, more by number."""
    if len(names) > MOST_NAMED:
        return f"{len(names)} instruments"
    return ", ".join(short(session.shop.racked[n].instrument.name) for n in names)


def _candidate(session: ShopSession, outlooks: dict[str, Outlook], row: Row, choice: Choice) -> Candidate:
    here, zones = row.turn, ""
    if row.chosen and (here.kind == "other" or (here.kind in ("pass", "coat", "stop") and not here.finish)):
        picked = choice.zones.get(row.id, ())
        zones = words.plural(len(picked), "zone") if picked else "all zones"
    return Candidate(
        id=row.id, name=session.shop.racked[row.id].instrument.name, text=next_on(session, outlooks.get(row.id), row),
        chosen=row.chosen, planned=row.planned, zones=zones,
    )  # fmt: skip


def next_on(session: ShopSession, found: Outlook | None, row: Row) -> str:
    """What is next on an instrument, and when."""
    here = row.turn
    due = turns.due_at(session, row.id, here)
    left = 0.0 if due is None else (due - session.now).total_seconds()
    when = "now"
    if left > 0 and due is not None:
        when = (
            f"in {clock_text(left)}" if left < 12 * 3600 else words.day(session.local(due), session.local(session.now))
        )
    if here.off_plan and here.kind == "other":
        return "paper, off the plan"
    if here.off_plan and not row.planned:
        return "a coat off the plan: its wait begins anew"
    if not row.planned:
        return f"{here.label[:1].lower()}{here.label[1:]}: nothing for hands now"
    coat = coat_name(session, here, row.id)
    which = f", pass {here.nth_pass}" if here.kind == "pass" else ""
    coat = f"{coat[:1].lower()}{coat[1:]}{which} {when}"
    if here.kind == "stop":
        return f"enough for today; {coat}"
    if turns.to_sand(here, found):
        return f"paper may go on it ({here.label[:1].lower()}{here.label[1:]})"
    if here.kind in ("light", "lit"):
        return f"{here.label} {when}"
    if here.kind == "care":
        return f"{here.label.lower()} {when}"
    before = here.before if isinstance(here, CoatTurn) else ""
    first = None if found is None else due_first(found)
    if not before and first is not None and first.kind == "scuff":
        before = "a scuff"  # as the Rack and the Film place say
    return f"{coat}; before it {before[:1].lower()}{before[1:]}" if before else coat


def _way(session: ShopSession, name: str, here: Turn) -> str:
    return beside.material_of(session, here, name)[1]


def _next_words(session: ShopSession, outlooks: dict[str, Outlook]) -> str:
    """What is next in the whole shop, where nothing wants the booth now."""
    soon = []
    for name, found in outlooks.items():
        for w in found.windows[:1]:
            if w.likely_h is not None and name in session.shop.racked:
                soon.append((session.shop.racked[name].moment(w.likely_h), name, w))
    if not soon:
        return "Nothing is ready to work on in the booth now."
    _, name, window = min(soon, key=lambda one: one[:2])
    act = {"scuff": "scuff", "level": "level sand", "buff": "rub out", "case": "case"}[window.name]
    whose = session.shop.racked[name].instrument.name
    return f"Nothing is ready to work on in the booth now. Next: {whose}, {act}: {ready_text(session, name, window)}."


def mix_for(session: ShopSession, rows: list[tuple[str, Turn]]) -> dict[tuple[str, str], Mix]:
    """How much of each finish this session takes, by material and way of laying it."""
    layers: dict[tuple[str, str], list[Layer]] = {}
    for name, here in rows:
        if here.kind not in ("pass", "coat", "stop"):
            continue
        material, way = beside.material_of(session, here, name)
        project = session.shop.racked[name].project
        zones = [z for z in project.zones if (z.name in here.zones if here.zones else z.name not in project.bare)]
        um, count = project.dry_um(material, here.by, here.um), _coats_of_session(session, name, here)
        laid = layer(session.catalogue, project, zones, way, um, count, coats_had(project))
        layers.setdefault((material.id, way), []).append(laid)
    return {
        key: mix(session.catalogue.material(key[0]), key[1], session.catalogue.tool(key[1]).transfer, each)
        for key, each in layers.items()
    }


def _coats_of_session(session: ShopSession, name: str, here: Turn) -> int:
    """Coats this session still takes; what is off the plan is reckoned to be one."""
    if here.off_plan:
        return 1
    stage = session.shop.racked[name].method.stage[here.index]
    left = here.coats - here.coat + 1 if stage.kind == "coats" and not here.finish else here.per_session
    return max(min(here.per_session - here.in_session, left), 1)


def _mixes(session: ShopSession, rows: list[tuple[str, Turn]]) -> tuple[str, ...]:
    out = []
    for (material_id, way), need in mix_for(session, rows).items():
        material = session.catalogue.material(material_id)
        parts = {p.what: p.amount for p in ready(material, need.total_ml).parts}
        text = f"{_ml(parts['base'])} of {material.label.lower()}"
        if parts.get("thinner"):
            text += f" and {_ml(parts['thinner'])} of thinner"
        pot = pot_of(session, material_id, way)
        if pot is not None:
            said = lasts(session, pot)
            text += f"; {said[:1].lower()}{said[1:]}: mix it last (M)"
        short = will_not_reach(session, material_id, parts["base"])
        out.append(f"Make ready {text}{f'; {short}' if short else ''}.")
    return tuple(out)


def _ml(ml: float) -> str:
    return f"{ml:.0f} ml"
