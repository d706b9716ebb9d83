"""The shelf at work: shown, asked about, and kept."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from ravden.app import forms, stock, stock_files, stock_forms
from ravden.app.session import ShopSession
from ravden.core.errors import NO_FILE, need
from ravden.core.stock.product import Product
from ravden.journal.kinds.kind import Kind
from ravden.journal.kinds.stock import LotOpened, LotTaken, ProductTold
from ravden.ui.places.shop import stock_presenter
from ravden.ui.places.shop.stock_page import StockPage

if TYPE_CHECKING:
    from ravden.app.stock import Shelved
    from ravden.core.ahead.outlook import Outlook
    from ravden.ui.shell.around import Around

TABLES = "Tables (*.csv)"
Put = Callable[[dict[str, str]], None]


class StockControl(QObject):
    """Keeps the shelf's page showing the truth."""

    told = pyqtSignal(str)

    def __init__(self, session: ShopSession, page: StockPage, around: Around) -> None:
        super().__init__(page)
        self._session, self._page, self._around = session, page, around
        self._found: Shelved | None = None
        self.on_scale: Callable[[], float | None] = lambda: None  # what lies on the scale now [g]
        page.picked.connect(lambda _: self._show_detail())
        page.asked.connect(lambda what: around.shell.guarded(lambda: self.do(what)))

    def show(self) -> None:
        """The shelf as it is now."""
        outlooks: Mapping[str, Outlook] = dict(self._around.outlooks())
        self._found = stock.shelved(self._session, stock.wanted(self._session, outlooks))
        self._page.show_stock(stock_presenter.show(self._session, self._found))
        self._show_detail()

    def _show_detail(self) -> None:
        if self._found is not None:
            self._page.show_detail(stock_presenter.detail(self._session, self._found, self._page.at))

    def do(self, what: str) -> None:
        """What a button of the page asks for. Raises InputError."""
        need(self._session.journal is not None, "", NO_FILE)
        found, lot = self._found, self._page.lot
        products = self._session.shop.stock.products
        told = products.get(self._page.at)
        if what == "product":
            self._form("A product", stock_forms.product_fields(self._session.catalogue, None, self._session.units),
                       lambda typed: self._product(typed, None))  # fmt: skip
        elif what == "edit" and told is not None:
            fields = stock_forms.product_fields(self._session.catalogue, told, self._session.units)
            self._form(f"Change {told.name}", fields,
                       lambda typed: self._product(typed, told))  # fmt: skip
        elif what == "bought" and told is not None:
            self._form(f"A can of {told.name}", stock_forms.bought_fields(told),
                       lambda typed: self._log(stock_forms.bought(told, typed), typed))  # fmt: skip
        elif what == "dropped" and told is not None:
            self._session.log(ProductTold(product=told, gone=True), origin="stock")
        elif what == "opened" and lot:
            self._session.log(LotOpened(lot=lot), origin="stock")
        elif what == "taken" and lot:
            self._session.log(LotTaken(lot=lot), origin="stock")
        elif what == "weighed" and lot and found is not None and told is not None:
            fields = stock_forms.weigh_fields(
                found.stocked.lots[lot], told.figures.density_g_ml, told.kind, self.on_scale()
            )
            self._form(f"What is left of {told.name}", fields, lambda typed: self._weigh(lot, told, typed))
        elif what == "gone" and lot and told is not None:
            self._form(f"A can of {told.name} is off the shelf", stock_forms.gone_fields(),
                       lambda typed: self._log(stock_forms.gone(lot, typed), typed))  # fmt: skip
        elif what == "hour":
            self._form("What an hour of hands costs", stock_forms.hour_fields(self._session.shop.per_hour),
                       lambda typed: self._hour(typed))  # fmt: skip
        elif what in ("read", "write", "list"):
            self._file(what)

    def _form(self, heading: str, fields: tuple[forms.Field, ...], put: Put) -> None:
        self._around.anywhere.ask_for(heading, fields, put)

    def _product(self, typed: Mapping[str, str], before: Product | None) -> None:
        body = stock_forms.product(self._session.shop.stock, typed, before, self._session.units)
        self._page.at = body.product.id
        self._session.log(body, origin="stock")

    def _hour(self, typed: Mapping[str, str]) -> None:
        self._session.log(stock_forms.hour(typed), origin="stock")

    def _log(self, body: Kind, typed: Mapping[str, str]) -> None:
        at = forms.moment(typed["at"], self._session.local(self._session.now), self._session.shop.hours)
        self._session.log(body, at=at, origin="stock")

    def _weigh(self, lot: int, product: Product, typed: Mapping[str, str]) -> None:
        body = stock_forms.weighed(lot, typed)
        session = self._session
        at = forms.moment(typed["at"], session.local(session.now), session.shop.hours)
        new = typed.get("density", "").strip() and product.figures.density_g_ml is None
        with session.one_act():
            learnt = stock.weigh(session, body, at, "stock")
            if new and not typed["left_ml"].strip():
                # Told once is told for good: the next can of it is weighed without asking.
                session.log(stock_forms.with_density(product, typed["density"]), origin="stock")
        if learnt:
            self.told.emit(learnt)

    def _file(self, what: str) -> None:
        files, found = self._around.files, self._found
        if what == "read":
            files.read_table("Products and cans from a table", TABLES, self.read)
        elif found is not None and what == "write":
            files.write_table("Products and cans as a table", "stock.csv", TABLES,
                              lambda p: stock_files.write_stock(self._session, found, p))  # fmt: skip
        elif found is not None:
            lines = stock_presenter.to_buy(self._session, found)
            files.write_table("What to buy", "to-buy.txt", "Text (*.txt);;Tables (*.csv)",
                              lambda p: stock_files.write_list(lines, p))  # fmt: skip

    def read(self, path: Path) -> str:
        """Read a table of products and cans; returns what came of it. Raises InputError."""
        return stock_files.import_stock(self._session, path)
