"""The shelf to a table and from one; what was left out is told by row. No Qt."""

from __future__ import annotations

from datetime import date, datetime
from pathlib import Path
from typing import TYPE_CHECKING

from ravden.app.stock_forms import cans, new_id, sizes
from ravden.core.errors import InputError
from ravden.core.stock.product import RUBBED, Product
from ravden.exchange import stock_csv
from ravden.exchange.stock_csv import StockRow
from ravden.journal.kinds.stock import LotBought, LotOpened, ProductTold
from ravden.system.files import put_text, take_text
from ravden.text import words
from ravden.text.say import whole_fault

if TYPE_CHECKING:
    from ravden.app.session import ShopSession
    from ravden.app.stock import Shelved

MOST_BYTES, MOST_ROWS_TOLD = 5_000_000, 3


def import_stock(session: ShopSession, path: Path) -> str:
    """Log the products and cans of a table; returns what was read and left out. Raises InputError naming the file, with
    nothing logged, where it is no such table."""
    found = stock_csv.read(take_text(path, MOST_BYTES, "is too large to be a table of cans"), path.name)
    bad, read = list(found.bad), 0
    for row in found.rows:
        try:
            _log(session, row)
            read += 1
        except InputError as error:
            bad.append((row.number, whole_fault(error, session.units)))
    told = f"{path.name}: {words.plural(read, 'row')} read"
    if bad:
        bad.sort()
        some = "; ".join(f"row {n}: {why}" for n, why in bad[:MOST_ROWS_TOLD])
        more = f"; and {len(bad) - MOST_ROWS_TOLD} more" if len(bad) > MOST_ROWS_TOLD else ""
        told += f", {len(bad)} left out ({some}{more})"
    return f"{told}."


def _log(session: ShopSession, row: StockRow) -> None:
    """One row: its product, told anew only where something of it is otherwise, and its can."""
    from ravden.journal.fold import check

    stock, now = session.shop.stock, session.now
    old = next((p for p in stock.products.values() if p.name.lower() == row.product.lower()), None)
    finish = _grade(session, row.finish) if row.what in RUBBED else _finish(session, row.finish)
    made = Product(
        id=old.id if old is not None else new_id(stock, row.product), name=old.name if old is not None else row.product,
        kind=row.what, material=finish or (old.material if old is not None else ""),
        cans=cans(row.sizes) or (old.cans if old is not None else ()), **({"figures": old.figures} if old else {}),
    )  # fmt: skip
    at = _moment(session, row.bought) or now
    opened = _moment(session, row.opened)
    lot = None
    if row.content_ml is not None:
        lot = LotBought(
            product=made.id, ml=row.content_ml, price=row.price, place=row.place,
            use_by="" if row.use_by is None else row.use_by.isoformat(),
        )  # fmt: skip
        told = ProductTold(product=made)
        check(told.onto(session.shop, "", now, 0), lot, "", at, now)
        if opened is not None and opened < at:
            raise InputError("opened", "it was opened before it was bought")
    with session.one_act():
        if made != old:
            session.log(ProductTold(product=made), at=min(at, now), origin="file")
        if lot is not None:
            number = session.log(lot, at=at, origin="file").id
            if opened is not None:
                session.log(LotOpened(lot=number), at=opened, origin="file")


def _grade(session: ShopSession, name: str) -> str:
    """A grade by its id or as it is called."""
    from ravden.core.abrasive.grades import find

    return find(session.catalogue.abrasives, name).id if name else ""


def _finish(session: ShopSession, name: str) -> str:
    """A finish by its id or its label."""
    if not name:
        return ""
    found = next(
        (m.id for m in session.catalogue.materials.values() if name.lower() in (m.id, m.label.lower())), None
    )  # fmt: skip
    if found is None:
        raise InputError("finish", f"no finish is called {name}")
    return found


def _moment(session: ShopSession, day: date | None) -> datetime | None:
    """Noon of a day on the shop's wall, or now where that is to come."""
    if day is None:
        return None
    now = session.local(session.now)
    at = session.shop.hours.on_the_wall(datetime(day.year, day.month, day.day, 12), now)
    return min(at, session.now) if at.date() <= now.date() else at


def write_stock(session: ShopSession, found: Shelved, path: Path) -> None:
    """Write the shelf as a table."""
    rows = []
    for shelf in found.products:
        told = shelf.product
        base = {
            "product": told.name, "what": told.kind, "finish": told.material, "sizes": sizes(told.cans, told.kind),
        }  # fmt: skip
        if not shelf.cans:
            rows.append(base)
        for can in shelf.cans:
            lot = can.lot
            rows.append(
                base | {
                    "content_ml": f"{lot.ml:g}", "price": "" if lot.price is None else f"{lot.price:g}",
                    "bought": f"{session.local(lot.bought):%Y-%m-%d}",
                    "opened": "" if can.opened is None else f"{session.local(can.opened):%Y-%m-%d}",
                    "use_by": "" if lot.use_by is None else lot.use_by.isoformat(), "place": lot.place,
                }
            )  # fmt: skip
    put_text(path, stock_csv.write(rows))


def write_list(lines: tuple[str, ...], path: Path) -> None:
    """What to buy as a table of one column, or as text."""
    if path.suffix.lower() == ".csv":
        put_text(path, stock_csv.one_column("to buy", lines))
    else:
        put_text(path, "\n".join(f"[ ] {line}" for line in lines) + "\n")
