"""What an instrument costs in material: what it took, and what its plan still takes. For the shop alone. No Qt."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ravden.app.prices import per_litre
from ravden.app.stock import draws
from ravden.catalogue.amounts import stage_amounts
from ravden.core.method.steps import left
from ravden.core.stock.cost import NOTHING, Spent, planned, spent
from ravden.core.stock.lots import stocked
from ravden.text import stock_words, words, written

if TYPE_CHECKING:
    from ravden.app.session import ShopSession
    from ravden.core.ahead.outlook import Outlook

WORTH = 0.005  # less is no money


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


def line(session: ShopSession, found: Outlook) -> str:
    """Both in one sentence; empty where nothing has a price."""
    so_far, more = took(session, found.project.instrument.id), to_come(session, found)
    both = so_far + more
    if both.money < WORTH:
        return ""
    gone = found.project.instrument.id in session.shop.book
    text = f"{written.number(so_far.money, '.2f')}{'' if gone else ' so far'}"
    if more.money >= WORTH:
        text += f", {written.number(both.money, '.2f')} in all as planned"
    unpriced = [
        f"{stock_words.ml(ml)} of {session.catalogue.material(m).label.lower()}"
        for m, ml in sorted(both.unpriced_ml.items()) if ml >= 0.5
    ]  # fmt: skip
    return text + (f"; without a price: {words.listed(unpriced)}" if unpriced else "")
