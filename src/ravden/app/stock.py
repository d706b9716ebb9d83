"""The shelf as it is known: what is left, how old it is, how far it goes, what to buy. No Qt."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime, timedelta
from typing import TYPE_CHECKING

from msgspec import Struct
from msgspec.structs import replace

from ravden.app.coat_forms import on_work
from ravden.app.drawn import all_draws
from ravden.catalogue.amounts import stage_amounts
from ravden.catalogue.draws import rubbed
from ravden.catalogue.shelf import age_of, keeps
from ravden.core.errors import InputError
from ravden.core.film.deposit import volume_dry_um
from ravden.core.method.steps import left
from ravden.core.session.batch import SPARE
from ravden.core.stock.age import MONTH, NOT, TEST, Aged, Shelf
from ravden.core.stock.buying import Need, Purchase, Reach, cheapest, reach
from ravden.core.stock.lots import Draw, Left, Stock, Stocked, stocked
from ravden.core.stock.product import RUBBED, Product
from ravden.journal.kinds.reading import ReadingLogged
from ravden.journal.kinds.stock import CanWeighed
from ravden.text import stock_words, words

if TYPE_CHECKING:
    from ravden.app.session import ShopSession
    from ravden.catalogue.tables import Catalogue
    from ravden.core.ahead.outlook import Outlook
    from ravden.journal.rack import OnRack

YEAR = timedelta(days=365)
STRANGE_SD, STRANGE_ML = 3.0, 15.0  # that a weighing is off what was reckoned before it is asked about
BROUGHT = "brought"  # the kind of what a method is done with and nobody owns
Wanted = Mapping[tuple[str, str], tuple[Need, ...]]


class OnShelf(Struct, frozen=True, kw_only=True):
    """A product with what is left of it. cans: those on the shelf, the open ones first; ages: of each; reach: how far
    those that are not too old go, all together; then, needed: how old the open one will be when it is last needed, and
    when that is; buy: what
    to buy, where it is short; a_month_ml: what the shop uses; shelf: how it keeps."""

    product: Product
    cans: tuple[Left, ...]
    ages: tuple[Aged | None, ...]
    reach: Reach
    then: Aged | None
    buy: Purchase | None
    a_month_ml: float
    shelf: Shelf | None
    dropped: bool = False
    needed: datetime | None = None

    @property
    def ml(self) -> float:
        """What is left of it, all cans together."""
        return sum(max(c.ml, 0.0) for c in self.cans)

    @property
    def sd_ml(self) -> float:
        """Its spread; cans are off each by itself."""
        return float(sum(c.sd_ml**2 for c in self.cans) ** 0.5)


class Shelved(Struct, frozen=True, kw_only=True):
    """products: in the order of their names; stocked: can by can; missing: wanted by the plan, and the shop has told of
    no such product: material and what is wanted of it; brings: the same of grades a method is
    done with and nobody owns."""

    products: tuple[OnShelf, ...]
    stocked: Stocked
    missing: tuple[tuple[str, Reach], ...] = ()
    brings: tuple[tuple[str, Reach], ...] = ()


def draws(session: ShopSession) -> tuple[Draw, ...]:
    """All that coats and mixes took, in the order of time."""
    return all_draws(session.kept.drawn(), session.mixes(), session.catalogue)


def wanted(session: ShopSession, outlooks: Mapping[str, Outlook]) -> dict[tuple[str, str], tuple[Need, ...]]:
    """What the plans still take, by kind of product and finish, in the order of time: a step's coats share it evenly
    among the times there are hands on it."""
    out: dict[tuple[str, str], list[Need]] = {}
    for name, found in outlooks.items():
        rack = session.shop.racked.get(name)
        if rack is None:
            continue
        _rubbed(session, rack, found, out)
        _brought(session, rack, found, out)
        times = {s.index: s.hands for s in found.forward.steps}
        amounts = stage_amounts(session.catalogue, found.project, left(found.method, found.progress))
        for place, amount in amounts.items():
            stints = times.get(place, ())
            for begin, _ in stints:
                at = max(rack.moment(begin), session.now)
                for kind, ml in (("finish", amount.mix.supplied_ml), ("thinner", amount.mix.thinner_ml)):
                    if ml > 0:
                        need = Need(at=at, ml=ml / len(stints), of=rack.instrument.name)
                        out.setdefault((kind, amount.material), []).append(need)
    return {key: tuple(sorted(some, key=lambda n: n.at)) for key, some in out.items()}


def _rubbed(session: ShopSession, rack: OnRack, found: Outlook, out: dict[tuple[str, str], list[Need]]) -> None:
    """Papers and compounds that the ladders of a plan take, where the shop keeps count of any."""
    if not any(p.kind in RUBBED for p in session.shop.stock.products.values()):
        return
    project = found.project
    area = sum(z.area_cm2 for z in project.zones if z.kind != "edge" and z.name not in project.bare)
    cuts = [s.at_h for s in found.forward.sandings if s.purpose != "scuff"]
    if not cuts:
        return
    ladders = [x for x in (found.sands.key, found.sands.sheen) if x is not None]
    for ladder, at_h in zip(ladders, (cuts[0], cuts[-1]) if len(ladders) > 1 else cuts[-1:], strict=True):
        at = max(rack.moment(at_h), session.now)
        for step in ladder.steps:
            took = rubbed(session.catalogue, step.rung.abrasive.id, step.remove_um, area, step.rung.mode)
            if took is not None:
                kind, grade, amount = took
                out.setdefault((kind, grade), []).append(Need(at=at, ml=amount, of=rack.instrument.name))


def _brought(session: ShopSession, rack: OnRack, found: Outlook, out: dict[tuple[str, str], list[Need]]) -> None:
    """Grades in the ladders still to come that the method is done with and nobody owns."""
    cuts = [s.at_h for s in found.forward.sandings if s.purpose != "scuff"]
    ladders = [x for x in (found.sands.key, found.sands.sheen) if x is not None]
    used = {s.rung.abrasive.id for ladder in ladders for s in ladder.steps}
    for grade in sorted(used & found.rub_out.held.brought) if cuts else ():
        at = max(rack.moment(cuts[-1]), session.now)
        out.setdefault((BROUGHT, grade), []).append(Need(at=at, ml=1.0, of=rack.instrument.name))


def shelved(session: ShopSession, wants: Wanted) -> Shelved:
    """Every product there is, with what is known of it now. wants: of the plans."""
    return known(session.catalogue, session.shop.stock, draws(session), wants, session.now)


def known(
    catalogue: Catalogue, stock: Stock, all_draws: tuple[Draw, ...], wants: Wanted, now: datetime
) -> Shelved:  # fmt: skip
    """The same of any shelf at any moment. all_draws: in the order of time."""
    found = stocked(stock, all_draws)
    products = sorted(stock.products.values(), key=lambda p: (p.id in stock.dropped, p.name.lower()))
    served: set[tuple[str, str]] = set()
    out = []
    for product in products:
        cans = [c for c in found.lots.values() if c.lot.product == product.id and not c.lot.gone]
        if not cans and product.id in stock.dropped:
            continue
        cans.sort(key=lambda c: (c.opened is None, c.lot.bought, c.lot.id))
        mine = _needs_of(product, stock.products, found, wants, served)
        month = _a_month(product, found, all_draws, stock.lots, now)
        out.append(_on_shelf(catalogue, stock, product, tuple(cans), mine, month, now))
    missing = tuple(
        (material, reach(0.0, 0.0, needs)) for (kind, material), needs in sorted(wants.items())
        if kind == "finish" and not any(p.serves("finish", material) for p in stock.products.values())
    )  # fmt: skip
    brings = tuple(
        (grade, reach(0.0, 0.0, needs)) for (kind, grade), needs in sorted(wants.items())
        if kind == BROUGHT and not any(p.kind in RUBBED and p.material == grade for p in stock.products.values())
    )  # fmt: skip
    return Shelved(products=tuple(out), stocked=found, missing=missing, brings=brings)


def _needs_of(
    product: Product, products: Mapping[str, Product], found: Stocked, wants: Wanted, served: set[tuple[str, str]]
) -> tuple[Need, ...]:
    """What the plans want of a product. Where several serve, the one that is open, or else the first by name, is
    reckoned with; what one serves no other does."""
    mine: list[Need] = []
    for (kind, material), needs in wants.items():
        if (kind, material) in served or not product.serves(kind, material):
            continue
        rivals = [p.id for p in products.values() if p.serves(kind, material)]
        there = [c.lot.product for c in found.lots.values() if c.lot.product in rivals and not c.lot.gone]
        opened = [c.lot.product for c in found.lots.values() if c.lot.product in there and c.state == "open"]
        if product.id in opened or (not opened and (product.id in there or not there)):
            served.add((kind, material))
            mine += needs
    return tuple(sorted(mine, key=lambda n: n.at))


def _a_month(
    product: Product, found: Stocked, all_draws: tuple[Draw, ...], lots: Mapping[int, object], now: datetime
) -> float:
    """What the shop took of a product in a month, over the last year, or since its first can came [ml]."""
    mine = {n for n in lots if n in found.lots and found.lots[n].lot.product == product.id}
    taken = 0.0
    for draw, took in zip(all_draws, found.drawn, strict=True):
        if now - draw.at < YEAR:
            taken += sum(ml for number, ml in took if number in mine)
    first = min((found.lots[n].lot.bought for n in mine), default=now)
    return taken / min(max((now - first) / MONTH, 1.0), 12.0)


def _on_shelf(
    catalogue: Catalogue, stock: Stock, product: Product, cans: tuple[Left, ...], needs: tuple[Need, ...], month: float,
    now: datetime,
) -> OnShelf:  # fmt: skip
    ages = tuple(age_of(catalogue, stock, c, now) for c in cans)
    good = [c for c, a in zip(cans, ages, strict=True) if a is None or a.word != NOT]
    goes = reach(sum(max(c.ml, 0.0) for c in good), float(sum(c.sd_ml**2 for c in good) ** 0.5), needs)
    shelf = keeps(catalogue, product)
    months = product.figures.open_months or (shelf.open_months if shelf is not None else 12.0)
    uses = max(month, sum(n.ml for n in needs if n.at - now < YEAR) / 12.0)
    last = needs[-1].at if needs else None
    then = age_of(catalogue, stock, good[0], last) if good and last is not None else None
    return OnShelf(
        product=product, cans=cans, ages=ages, reach=goes,
        then=then, buy=cheapest(goes.short_ml, product.cans, uses, months), a_month_ml=month, shelf=shelf,
        dropped=product.id in stock.dropped, needed=last,
    )  # fmt: skip


def weigh(session: ShopSession, body: CanWeighed, at: datetime, origin: str = "") -> str:
    """Log what was found in a can. Where it was weighed before, and one coat alone came out of it in between, that is
    a reading of this coat too: by the volume it took. Returns what was learnt of it, or what is strange about it; empty
    for nothing."""
    before = stocked(session.shop.stock, draws(session))
    with session.one_act():
        session.log(body, at=at, origin=origin)
        read = _read_by_coat(session, before, body, at, origin)
    reckoned = before.lots.get(body.lot)
    return read or ("" if reckoned is None else _strange(session, reckoned, body))


def _read_by_coat(session: ShopSession, before: Stocked, body: CanWeighed, at: datetime, origin: str) -> str:
    """The reading of a coat that a weighing after it is; empty where it is none."""
    earlier = [w for w in session.shop.stock.weighed if w.lot == body.lot and w.at < at]
    if not earlier or body.lot not in before.lots:
        return ""
    last = max(earlier, key=lambda w: w.at)
    taken = [
        draw for draw, took in zip(draws(session), before.drawn, strict=True)
        if draw.kind == "finish" and took[0][0] == body.lot and last.at <= draw.at <= at
    ]  # fmt: skip
    used = last.left_ml - body.left_ml
    if len(taken) != 1 or not taken[0].of or used <= 0:
        return ""
    return _read_volume(session, taken[0], used, at, origin)


def _strange(session: ShopSession, reckoned: Left, body: CanWeighed) -> str:
    """What does not fit a weighing: more than there can be, or far from what was reckoned; empty where it does."""
    apart = body.left_ml - max(reckoned.ml, 0.0)
    if abs(apart) <= max(STRANGE_SD * (reckoned.sd_ml**2 + body.sd_ml**2) ** 0.5, STRANGE_ML):
        return ""
    kind = session.shop.stock.products[reckoned.lot.product].kind
    found, was = stock_words.of(kind, body.left_ml), stock_words.of(kind, max(reckoned.ml, 0.0))
    if apart > 0:
        return f"It has {found}, and {was} was reckoned: was it topped up, or does the scale drift?"
    return f"It has {found}, and {was} was reckoned: was something poured that nobody logged, or does the scale drift?"


def _read_volume(session: ShopSession, draw: Draw, used_ml: float, at: datetime, origin: str) -> str:
    """The dry film a coat left, from what it took out of the can, logged as a reading."""
    rack = session.shop.racked.get(draw.of)
    if rack is None:
        return ""
    coat = next((c for c in reversed(rack.project.coats) if rack.moment(c.at_h) == draw.at), None)
    if coat is None:
        return ""
    material = session.catalogue.material(draw.material)
    area = sum(z.area_cm2 * z.k_mean for z in rack.project.zones if coat.covers(z.name))
    way = rack.project.own_way.get(material.id) or session.catalogue.applied[material.id]
    um = volume_dry_um(
        used_ml / (1.0 + SPARE), area, material.volume_solids, session.catalogue.tool(way).transfer,
        on_work(session.catalogue, material),
    )  # fmt: skip
    reading = ReadingLogged(what="volume", um=um, how=f"can weighed before and after: {used_ml:.0f} ml")
    try:
        session.log(reading, instrument=draw.of, at=at, origin=origin)
    except InputError:
        return ""
    return f"{used_ml:.0f} ml went into the coat on {rack.instrument.name}: its film is known by that too"


def will_not_reach(session: ShopSession, material: str, ml: float) -> str:
    """Whether the open can of a finish has less than is to be made ready now, and what else there is; empty: it has
    enough, or none of it is on the shelf."""
    stock = session.shop.stock
    mine = [p.id for p in stock.products.values() if p.serves("finish", material)]
    lots = [c for c in stocked(stock, draws(session)).lots.values() if c.lot.product in mine and not c.lot.gone]
    opened = [c for c in lots if c.state == "open"]
    there = sum(max(c.ml, 0.0) for c in opened)
    if not lots or there >= ml:
        return ""
    sealed = [c for c in lots if c.state == "sealed"]
    more = "open another" if sealed else "there is no other"
    return f"the open can has {stock_words.ml(there)}: {more}" if opened else "no can of it is open"


def on_plan(session: ShopSession, outlooks: Mapping[str, Outlook], instrument: str) -> tuple[str, ...]:
    """What the shelf says to the plan of an instrument: what runs short on it, and what will be too old by then."""
    rack = session.shop.racked.get(instrument)
    if rack is None or not session.shop.stock.products or instrument not in outlooks:
        return ()
    wants = wanted(session, outlooks)
    mine = set(wanted(session, {instrument: outlooks[instrument]}))
    now, out = session.local(session.now), []
    for shelf in shelved(session, wants).products:
        if not any(shelf.product.serves(*key) for key in mine):
            continue
        name, kind = shelf.product.name, shelf.product.kind
        if shelf.reach.short_ml > 0 and shelf.reach.of == rack.instrument.name:
            at = shelf.reach.at
            local = shelf.reach if at is None else replace(shelf.reach, at=session.local(at))
            out.append(f"{name}: {stock_words.reaches(local, now, kind)}")
        if shelf.cans and shelf.then is not None and shelf.then.word in (TEST, NOT):
            day = "" if shelf.needed is None else f" on {words.day(session.local(shelf.needed), now)}"
            out.append(f"{name}, when it is needed{day}: {stock_words.age(shelf.then)}")
    return tuple(out)
