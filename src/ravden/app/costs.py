"""What an instrument costs in material: what it took, and what its plan still takes. For the shop alone. No Qt."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec.structs import replace

from ravden.app.prices import per_litre
from ravden.app.stock import draws
from ravden.catalogue.amounts import stage_amounts
from ravden.core.ahead.hands_done import done_h, planned_h
from ravden.core.method.steps import left
from ravden.core.record import Air
from ravden.core.stock.cost import NOTHING, Spent, planned, spent
from ravden.core.stock.lots import THROWN, stocked
from ravden.text import stock_words, words, written

if TYPE_CHECKING:
    from ravden.app.session import ShopSession
    from ravden.core.ahead.outlook import Outlook

WORTH = 0.005  # less is no money
SAME = 0.02  # of it: a plan that came so close needs no telling


def took(session: ShopSession, instrument: str) -> Spent:
    """What its coats took out of cans, at what those cost."""
    stock, all_draws = session.shop.stock, draws(session)
    return spent(stock, stocked(stock, all_draws), all_draws, instrument, per_litre(session.shop))


def to_come(session: ShopSession, found: Outlook) -> Spent:
    """What its plan still takes, at what a litre costs now."""
    if found.project.instrument.id not in session.shop.racked:
        return NOTHING
    wanted: dict[str, float] = {}
    amounts = stage_amounts(session.catalogue, found.project, left(found.method, found.progress))
    for amount in amounts.values():
        wanted[amount.material] = wanted.get(amount.material, 0.0) + amount.mix.supplied_ml
    return planned(wanted, per_litre(session.shop))


def from_the_first(session: ShopSession, found: Outlook) -> Spent:
    """What its whole plan takes, from bare wood on, at what a litre costs now."""
    bare = replace(found.project, acts=tuple(a for a in found.project.acts if isinstance(a, Air)))
    wanted: dict[str, float] = {}
    for amount in stage_amounts(session.catalogue, bare, tuple(enumerate(found.method.stage))).values():
        wanted[amount.material] = wanted.get(amount.material, 0.0) + amount.mix.supplied_ml
    return planned(wanted, per_litre(session.shop))


def thrown(session: ShopSession, instrument: str) -> float:
    """Its share of what was thrown away here: of every product as much for what it took as for what anything took."""
    stock, all_draws = session.shop.stock, draws(session)
    found = stocked(stock, all_draws)
    lost: dict[str, float] = {}
    for left_in in found.lots.values():
        lot = left_in.lot
        if lot.gone == THROWN and lot.price is not None:
            lost[lot.product] = lost.get(lot.product, 0.0) + lot.price * max(left_in.ml, 0.0) / lot.ml
    if not lost:
        return 0.0
    taken: dict[str, float] = {}
    mine: dict[str, float] = {}
    for draw, took in zip(all_draws, found.drawn, strict=True):
        for number, ml in took:
            if number:
                product = stock.lots[number].product
                taken[product] = taken.get(product, 0.0) + ml
                mine[product] = mine.get(product, 0.0) + (ml if draw.of == instrument else 0.0)
    return sum(money * mine.get(p, 0.0) / taken[p] for p, money in lost.items() if taken.get(p, 0.0) > 0)


def lines(session: ShopSession, found: Outlook) -> tuple[str, ...]:
    """Material, its share of what was thrown away, and hands, each against what was planned; what has no price is left
    out."""
    item, rate = found.project.instrument.id, session.shop.per_hour
    gone = item in session.shop.book
    out = []
    if text := line(session, found):
        first = from_the_first(session, found).money
        took_it = took(session, item).money
        against = f"; planned {written.money(first)}" if gone and abs(first - took_it) > SAME * took_it else ""
        out.append(f"Material: {text}{against}")
    if (lost := thrown(session, item)) >= WORTH:
        out.append(f"Its share of what was thrown away: {written.money(lost)}")
    if rate > 0:
        hours, more = done_h(found), 0.0 if gone else found.forward.hands_h
        text = f"{written.number(hours, '.1f')} h of hands{'' if gone else ' so far'}, {written.money(hours * rate)}"
        if more > 0:
            text += f"; {written.number(hours + more, '.1f')} h in all, {written.money((hours + more) * rate)}"
        if gone:
            text += f"; planned {written.number(planned_h(found), '.1f')} h, {written.money(planned_h(found) * rate)}"
        out.append(text)
    return tuple(out)


def line(session: ShopSession, found: Outlook) -> str:
    """Both in one sentence; empty where nothing has a price."""
    so_far, more = took(session, found.project.instrument.id), to_come(session, found)
    both = so_far + more
    if both.money < WORTH:
        return ""
    gone = found.project.instrument.id in session.shop.book
    text = f"{written.money(so_far.money)}{'' if gone else ' so far'}"
    if more.money >= WORTH:
        text += f", {written.money(both.money)} in all as planned"
    unpriced = [
        f"{stock_words.ml(ml)} of {session.catalogue.material(m).label.lower()}"
        for m, ml in sorted(both.unpriced_ml.items()) if ml >= 0.5
    ]  # fmt: skip
    return text + (f"; without a price: {words.listed(unpriced)}" if unpriced else "")
