"""What the shelf's page shows. No Qt."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct
from msgspec.structs import replace

from ravden.app.session import ShopSession
from ravden.app.stock import OnShelf, Shelved
from ravden.core.stock.age import FINE, NOT, TEST, Aged
from ravden.core.stock.product import RUBBED
from ravden.text import learnt_words, words, written
from ravden.text import stock_words as said

if TYPE_CHECKING:
    from ravden.core.record import Material

WORST = ("not", "test", "soon", "fine")


class ProductRow(Struct, frozen=True):
    """A line of the list; bad: which of its cells tell of something to be done."""

    id: str
    name: str
    left: str
    age: str
    reach: str
    bad: tuple[int, ...] = ()


class CanShown(Struct, frozen=True):
    """A can of the product turned to."""

    lot: int
    text: str
    sealed: bool


class DetailShown(Struct, frozen=True):
    """The product turned to. facts: lines about it; sheet: its data sheet's figures beside the usual ones; choose:
    open cans of which nobody said which is used."""

    id: str
    name: str
    facts: tuple[str, ...]
    cans: tuple[CanShown, ...]
    choose: tuple[int, ...]


class StockShown(Struct, frozen=True):
    """told: what needs somebody; to_buy: lines of the list."""

    rows: tuple[ProductRow, ...]
    told: tuple[str, ...]
    to_buy: tuple[str, ...]


def show(session: ShopSession, found: Shelved) -> StockShown:
    """The whole shelf."""
    rows = tuple(_row(session, p) for p in found.products)
    told = []
    for left in found.stocked.short():
        short = session.shop.stock.products[left.lot.product]
        more = said.of(short.kind, -left.ml)
        if short.kind == "paper":
            told.append(f"{short.name}: {more} more used than there were: count them, or say the pack is empty.")
        else:
            told.append(f"{short.name}: {more} more was drawn than was in the can: weigh it, or say it is empty.")
    for material, lots in found.stocked.unsure.items():
        label = session.catalogue.material(material).label.lower()
        told.append(f"{words.plural(len(lots), 'can')} of {label} are open: say which one is used.")
    for product in found.products:
        worst = _worst(product)
        if worst is not None and product.shelf is not None and worst.word == TEST:
            told.append(f"{product.product.name}: {said.AGES[TEST]}. {product.shelf.test} {product.shelf.read}")
        elif worst is not None and product.shelf is not None and worst.word == NOT:
            told.append(f"{product.product.name}: {said.AGES[NOT]}; with age {product.shelf.what}.")
    return StockShown(rows=rows, told=tuple(told), to_buy=to_buy(session, found))


def _worst(product: OnShelf) -> Aged | None:
    known = [a for a in product.ages if a is not None]
    return min(known, key=lambda a: WORST.index(a.word), default=None)


def _row(session: ShopSession, shelf: OnShelf) -> ProductRow:
    worst = _worst(shelf)
    keeps = shelf.product.kind == "paper"  # for longer than anybody asks
    age = "" if not shelf.cans or keeps else said.AGES[worst.word] if worst is not None else "not known"
    bad = [i for i, wrong in ((2, worst is not None and worst.word != FINE), (3, shelf.reach.short_ml > 0)) if wrong]
    left = said.roughly(shelf.ml, shelf.sd_ml, shelf.product.kind) if shelf.cans else "none"
    return ProductRow(
        id=shelf.product.id, name=shelf.product.name, left=left, age=age,
        reach=_reach(session, shelf), bad=tuple(bad),
    )  # fmt: skip


def _reach(session: ShopSession, shelf: OnShelf) -> str:
    at = shelf.reach.at
    local = shelf.reach if at is None else replace(shelf.reach, at=session.local(at))
    return said.reaches(local, session.local(session.now), shelf.product.kind)


def to_buy(session: ShopSession, found: Shelved) -> tuple[str, ...]:
    """What is short, by when, and what to buy."""
    out = []
    for shelf in found.products:
        if shelf.reach.short_ml <= 0:
            continue
        line = f"{shelf.product.name}: {_reach(session, shelf)}"
        if shelf.buy is not None:
            line += f". Buy {said.buys(shelf.product, shelf.buy)}"
        out.append(line + ".")
    for material, reach in found.missing if found.products else ():
        label = session.catalogue.material(material).label
        out.append(f"{label}: {said.ml(reach.wanted_ml)} wanted by the plan, and none is on the shelf.")
    for grade, reach in found.brings:
        when = "" if reach.at is None else f" from {words.day(session.local(reach.at), session.local(session.now))}"
        name = learnt_words.grade(session.catalogue, grade)
        out.append(
            f"{name[:1].upper()}{name[1:]}: {reach.of} is rubbed out with it{when}, and it is not in your drawer."
        )
    return tuple(out)


def detail(session: ShopSession, found: Shelved, product: str) -> DetailShown | None:
    """One product; None: it is not there any more."""
    shelf = next((p for p in found.products if p.product.id == product), None)
    if shelf is None:
        return None
    told, facts = shelf.product, []
    material = session.catalogue.materials.get(told.material)
    kind = said.KINDS[told.kind].lower()
    of = learnt_words.grade(session.catalogue, told.material) if told.kind in RUBBED and told.material else ""
    of = material.label.lower() if material is not None else of
    facts.append(f"{kind[:1].upper()}{kind[1:]}" + (f": {of}." if of else "."))
    for name, label, value in said.sheet(told, session.units):
        used = _used(session, name, material)
        facts.append(f"{label[:1].upper()}{label[1:]}: {value} by its data sheet{f'; {used}' if used else ''}.")
    if shelf.shelf is not None:
        facts.append(f"With age {shelf.shelf.what}.")
    if shelf.a_month_ml > 0.5:
        facts.append(f"About {said.of(told.kind, shelf.a_month_ml)} a month goes out of it.")
    if shelf.then is not None and shelf.cans and shelf.reach.wanted_ml > 0 and shelf.then.word != FINE:
        facts.append(f"When it is last needed it will be {said.age(shelf.then)}.")
    if told.cans:
        from ravden.app.stock_forms import sizes

        facts.append(f"Sold in: {sizes(told.cans, told.kind)}.")
    cans = tuple(
        CanShown(lot=c.lot.id, text=said.can(c, a, _money(c.lot.price), told.kind), sealed=c.opened is None)
        for c, a in zip(shelf.cans, shelf.ages, strict=True)
    )
    mine = {c.lot.id for c in shelf.cans}
    choose = next((lots for lots in found.stocked.unsure.values() if mine & set(lots)), ())
    return DetailShown(id=product, name=told.name, facts=tuple(facts), cans=cans, choose=tuple(choose))


def _used(session: ShopSession, name: str, material: Material | None) -> str:
    """What plans go by beside a figure of a data sheet; empty where the sheet's own is used, or nothing is."""
    if material is None:
        return ""
    booth, units = session.catalogue.booth, session.units
    if name == "volume_solids":
        return f"plans reckon with {100 * material.volume_solids:.0f} %"
    if name == "coat_wet_um":
        solids = material.volume_solids / (1 + material.thinner_ratio)
        return f"plans lay {units.film(material.coat_dry_um / solids)}, which leaves {units.film(material.coat_dry_um)}"
    if name == "least_C" and material.family in booth.limits:
        return f"Ravden warns below {units.temperature(booth.limits[material.family].low_C)}"
    return "plans go by how the film dries here" if name in ("recoat_h", "cure_days") else ""


def _money(price: float | None) -> str:
    return "" if price is None else f"cost {written.money(price)}"
