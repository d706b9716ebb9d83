"""The air an instrument was built in, and the cans it came out of, for its record. No Qt."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ravden.app.stock import draws
from ravden.core.record import Coat, Sanding
from ravden.core.stock.lots import stocked
from ravden.journal.counting import effective
from ravden.journal.kinds.look import LookNoted
from ravden.text import stock_words, words

if TYPE_CHECKING:
    from ravden.app.session import ShopSession
    from ravden.core.record import Project
    from ravden.journal.rack import OnRack

LEAST_ML = 0.5
LOOK = LookNoted.__struct_config__.tag


def air(session: ShopSession, project: Project) -> str:
    """Mean and range of the air from its first coat to the last work on it; empty where nobody told."""
    work = [a.at_h for a in project.acts if isinstance(a, Coat | Sanding)]
    told = [a for a in project.air if a.source in ("told", "log", "cabinet")]
    if not work or not told:
        return ""
    first, last = min(work), max(max(work), min(work) + 1e-3)
    starts = [max(a.at_h, first) for a in told]
    ends = [*starts[1:], last]
    held = [(a, min(b, last) - s) for a, s, b in zip(told, starts, ends, strict=True) if min(b, last) > s]
    if not held:
        return ""
    whole = sum(h for _, h in held)
    temp, rh = (sum(getattr(a, name) * h for a, h in held) / whole for name in ("temp_C", "rh"))
    cold, hot = min(a.temp_C for a, _ in held), max(a.temp_C for a, _ in held)
    dry, damp = min(a.rh for a, _ in held), max(a.rh for a, _ in held)
    units = session.units
    spread = f" ({units.temperature(cold)} to {units.temperature(hot)})" if hot - cold >= 1 else ""
    humid = f" ({100 * dry:.0f} to {100 * damp:.0f} %)" if damp - dry >= 0.02 else ""
    return f"{units.temperature(temp)}{spread}, {100 * rh:.0f} % humidity{humid}"


def cans(session: ShopSession, instrument: str) -> str:
    """Of which products its coats are, out of which cans; empty where none was told of."""
    stock, drawn = session.shop.stock, draws(session)
    took: dict[int, float] = {}
    for draw, (finish, _) in zip(drawn, stocked(stock, drawn).drawn, strict=True):
        if draw.of == instrument and finish[0]:
            took[finish[0]] = took.get(finish[0], 0.0) + finish[1]
    out = []
    for lot, ml in took.items():
        told = stock.lots[lot]
        if ml >= LEAST_ML:
            bought = session.local(told.bought).date().isoformat()
            product = stock.products[told.product]
            of = "pack" if product.kind == "paper" else "can"
            out.append(f"{product.name}, {stock_words.of(product.kind, ml)} of the {of} bought {bought}")
    return "; ".join(out)


def photos(session: ShopSession, instrument: str) -> str:
    """How many photos there are of it; empty without any."""
    if session.journal is None:
        return ""
    looks = effective(
        session.journal.select("instrument = ? AND kind IN (?, 'undone') ORDER BY id", (instrument, LOOK))
    )
    names = {p.sha256 for e in looks if isinstance(e.body, LookNoted) for p in e.body.photos}
    return words.plural(len(names), "photo") + " beside the shop file" if names else ""


def paper_minutes(rack: OnRack) -> float:
    """Minutes that paper was on it, as far as somebody looked."""
    return sum(a.minutes for a in rack.acts if isinstance(a, Sanding))
