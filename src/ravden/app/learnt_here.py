"""What this shop knows: every figure it has learnt, from what is usual to what was found, and on what that rests. No
Qt."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from msgspec import Struct

from ravden.core.errors import InputError, need
from ravden.core.record import RATE_LN_SD
from ravden.core.record.word import GUN, RATE, ZONE, Rule, key_of
from ravden.journal.kinds.learning import BACK, FREEZE, GO_ON, LearningRuled
from ravden.journal.kinds.rate import RateAccepted
from ravden.text import learnt_words as said
from ravden.text import words

if TYPE_CHECKING:
    from collections.abc import Mapping

    from ravden.app.applicators import Applicator
    from ravden.app.session import ShopSession
    from ravden.core.record.word import Word
    from ravden.core.state.beliefs import Beliefs

MOST_EVIDENCE = 40
LEARNT_SD = 0.23  # an applicator less sure than that has not been measured: it stands where it began


class Figure(Struct, frozen=True, kw_only=True):
    """One figure. ln, sd: of its factor, as believed; readings: it rests on; what: readings, or instruments; since: the
    first of them; evidence: the newest first; frozen, set_back: what the user has said."""

    key: str
    group: str
    name: str
    usual: str
    here: str
    ln: float
    sd: float
    readings: int
    rests_on: str
    sure: str
    since: str
    evidence: tuple[str, ...] = ()
    frozen: bool = False
    set_back: str = ""


def figures(
    session: ShopSession, learnt: Beliefs, guns: Mapping[str, Applicator]
) -> tuple[Figure, ...]:  # fmt: skip
    """Everything learnt by now: coats first, then drying, sanding and time. guns: by finish."""
    out = [_gun(session, material, found) for material, found in guns.items() if found.ln_sd < LEARNT_SD]
    out += [_rate(session, material) for material in session.shop.rates]
    zones: dict[tuple[str, str], Mapping[str, tuple[float, float, int]]] = {}
    for key in learnt.names():
        what = key.partition("/")[0]
        if what == GUN:
            continue
        if what == ZONE:
            family, way, zone = key.removeprefix(f"{ZONE}/").rsplit("/", 2)
            if (family, way) not in zones:
                found = learnt.factors(family, way)
                zones[family, way] = {z: (f.ln, f.sd, f.instruments) for z, f in found.items()}
            told = zones[family, way].get(zone)
            if told is not None:
                out.append(_figure(session, key, told[0], told[1], learnt.said(key), told[2], "instrument"))
            continue
        belief, evidence = learnt.of(key), learnt.said(key)
        if evidence or session.shop.learning.get(key, Rule()).frozen is not None:
            out.append(_figure(session, key, belief.ln_mean, belief.ln_sd, evidence, belief.readings, "reading"))
    rank = {what: n for n, what in enumerate(said.ORDER)}
    return tuple(sorted(out, key=lambda f: (rank[f.key.partition("/")[0]], f.name)))


def _figure(
    session: ShopSession, key: str, ln: float, sd: float, evidence: tuple[Word, ...], count: int, one: str
) -> Figure:  # fmt: skip
    now = session.local(session.now)
    rule = session.shop.learning.get(key, Rule())
    lines = []
    for word in reversed(evidence[-MOST_EVIDENCE:]):
        on = _called(session, word.of)
        about = said.here(session.catalogue, key, word.ln, word.sd, session.units)
        lines.append(f"{words.day(session.local(word.at), now)}{f', {on}' if on else ''}: {about}")
    first = "" if not evidence else session.local(evidence[0].at).date().isoformat()
    return Figure(
        key=key, group=said.GROUPS[key.partition("/")[0]], name=said.name(session.catalogue, key),
        usual=said.usual(session.catalogue, key, session.units),
        here=said.here(session.catalogue, key, ln, sd, session.units), ln=ln, sd=sd, readings=count,
        rests_on=words.plural(count, one), sure=said.sure(sd), since=first, evidence=tuple(lines),
        frozen=rule.frozen is not None,
        set_back="" if rule.since is None else words.day(session.local(rule.since), now),
    )  # fmt: skip


def _called(session: ShopSession, instrument: str) -> str:
    if instrument in session.shop.racked:
        return session.shop.racked[instrument].instrument.name
    return session.shop.book[instrument].name if instrument in session.shop.book else ""


def _gun(session: ShopSession, material: str, found: Applicator) -> Figure:
    key = key_of(GUN, material)
    made = _figure(session, key, found.ln_mean, found.ln_sd, (), found.instruments, "instrument")
    since = "" if found.since is None else session.local(found.since).date().isoformat()
    return Figure(**{f: getattr(made, f) for f in made.__struct_fields__} | {"since": since})


def _rate(session: ShopSession, material: str) -> Figure:
    mean, sd = session.shop.rates[material]
    key = key_of(RATE, material)
    give = f"{100 * (math.exp(sd) - 1):.0f} %"
    return Figure(
        key=key, group=said.GROUPS[RATE], name=said.name(session.catalogue, key),
        usual=said.usual(session.catalogue, key, session.units), here=f"{words.rate(mean)} (±{give})", ln=mean, sd=sd,
        readings=1, rests_on="taken over", sure=said.sure(sd), since="",
    )  # fmt: skip


def about(figure: Figure) -> tuple[str, ...]:
    """What a figure rests on and is used for."""
    what = figure.key.partition("/")[0]
    out = [f"Learnt from {said.FROM[what]}.", f"Used for {said.USED[what]}."]
    if figure.frozen:
        out.append("Frozen: it stays as it is, whatever is logged.")
    if figure.set_back:
        out.append(f"Set back {figure.set_back}: what was logged before that does not count.")
    return tuple(out)


def freeze(session: ShopSession, figure: Figure) -> None:
    """Keep a figure as it is, or let one that was kept go on. Raises InputError."""
    if figure.key.partition("/")[0] == RATE:
        raise InputError("", "a drying rate moves only when you take a new one over: it is frozen as it is")
    if figure.frozen:
        session.log(LearningRuled(key=figure.key, what=GO_ON), origin="knows")
    else:
        body = LearningRuled(key=figure.key, what=FREEZE, ln_mean=figure.ln, ln_sd=figure.sd)
        session.log(body, origin="knows")


def set_back(session: ShopSession, figure: Figure) -> None:
    """Begin anew from what is usual. Raises InputError."""
    what, _, of = figure.key.partition("/")
    if what == RATE:
        need(session.shop.rates[of] != (0.0, RATE_LN_SD), "", "it is as assumed already")
        session.log(RateAccepted(material=of, ln_mean=0.0, ln_sd=RATE_LN_SD, how="set back"), origin="knows")
    else:
        session.log(LearningRuled(key=figure.key, what=BACK), origin="knows")
