"""The Shop among the places."""

from typing import Protocol

from ravden.app.session import ShopSession
from ravden.text.tables import Table
from ravden.ui.places.shop import presenter
from ravden.ui.places.shop.book_control import BookControl
from ravden.ui.places.shop.hours_control import HoursControl
from ravden.ui.places.shop.knows_control import KnowsControl
from ravden.ui.places.shop.listening import Listening
from ravden.ui.places.shop.mixing_control import MixingControl
from ravden.ui.places.shop.people_control import PeopleControl
from ravden.ui.places.shop.right_control import RightControl
from ravden.ui.places.shop.stock_control import StockControl
from ravden.ui.places.shop.view import ShopView
from ravden.ui.shell.around import Around
from ravden.ui.widgets.place import Place


class Page(Protocol):
    """One of its pages, at work."""

    def show(self) -> None: ...


class ShopPlace(Place):
    """Air, guns and rates of the shop."""

    def __init__(self, session: ShopSession, view: ShopView, around: Around) -> None:
        super().__init__(session, view, view.buttons["air"])
        self._outlooks = around.outlooks
        self.listening = Listening(session, view)
        self.listening.failed.connect(around.shell.say)
        self.book = BookControl(session, view.book, around.pool)
        self.book.failed.connect(self.failed)
        self.hours = HoursControl(session, view.hours)
        self.hours.told.connect(around.shell.say)
        self.stock = StockControl(session, view.stock, around)
        self.mixing = MixingControl(session, view.mixing, around)
        self.stock.told.connect(around.shell.say)
        self.stock.on_scale = lambda: self.listening.grams
        self.knows = KnowsControl(session, view.knows, around)
        self.right = RightControl(session, view.right, around)
        for slow in (self.knows, self.right):
            slow.failed.connect(self.failed)
            slow.settled.connect(self.settled)
        self.people = PeopleControl(session, view.people)
        self.people.told.connect(around.shell.say)
        self.book.settled.connect(self.settled)
        view.pages.turned.connect(lambda _: self.show())
        view.year_turned.connect(lambda _: self.show())

    @property
    def busy(self) -> bool:
        return self.book.busy or self.knows.busy or self.right.busy

    def stop(self) -> None:
        self.listening.stop()
        super().stop()

    def tables(self) -> tuple[Table, ...]:
        from ravden.ui.places.shop.tables import tables

        if self.view.pages.page == "right":
            return (self.right.table(),)
        if self.view.pages.page == "knows":
            return (self.knows.table(),)
        shown = presenter.show(self.session, dict(self._outlooks()), year=self.view.year.isChecked())
        return tables(shown, self.session.units)

    def came(self) -> None:
        """What the shelf is wanted for, and what is mixed next, go by every instrument's plan."""
        if not self.view.isHidden():
            if self.view.pages.page == "stock":
                self.stock.show()
            elif self.view.pages.page == "mixing":
                self.mixing.show()

    def show(self) -> None:
        if not self.view.isHidden():
            shown = presenter.show(self.session, dict(self._outlooks()), year=self.view.year.isChecked())
            self.view.show_shop(shown, self.session.units)
            pages: dict[str, Page] = {
                "book": self.book, "hours": self.hours, "stock": self.stock, "mixing": self.mixing,
                "people": self.people, "knows": self.knows, "right": self.right,
            }  # fmt: skip
            if (page := pages.get(self.view.pages.page)) is not None:
                page.show()


def build(around: Around) -> ShopPlace:
    """The Shop, and what listens to its sensors."""
    view = ShopView()
    shell, files = around.shell, around.files
    view.asked.connect(shell.shop_asked)
    made = ShopPlace(around.session, view, around)
    view.book.back_asked.connect(lambda i: shell.guarded(lambda: made.book.bring_back(i)))
    view.book.record_asked.connect(lambda i: shell.guarded(lambda: files.save_record(i, made.book.write_record)))
    view.book.card_asked.connect(
        lambda i: shell.guarded(
            lambda: files.write_table("Care card", f"{i}-care.pdf", "PDF (*.pdf)", lambda p: made.book.write_card(i, p))
        )
    )
    view.book.again_asked.connect(
        lambda i: shell.guarded(lambda: around.anywhere.as_last_time(around.session.read_booked(i)))
    )
    view.book.forget_asked.connect(lambda i: shell.guarded(lambda: _forget(i)))
    view.book.wrong_asked.connect(lambda i: shell.guarded(lambda: _came_back(i)))

    view.book.look_asked.connect(lambda i: shell.guarded(lambda: _look(i)))
    view.book.looks_asked.connect(
        lambda: shell.guarded(
            lambda: files.write_table("Looks to come", "looks-to-come.ics", "Calendars (*.ics)", made.book.write_looks)
        )
    )

    def _look(instrument: str) -> None:
        around.anywhere.ask_for(*made.book.look_form(instrument), lambda typed: made.book.looked(instrument, typed))

    def _forget(instrument: str) -> None:
        around.anywhere.ask_for(*made.book.forget_form(instrument), lambda typed: _forgotten(instrument, typed))

    def _forgotten(instrument: str, typed: dict[str, str]) -> None:
        told = made.book.forget(instrument, typed)
        shell.say(told)

    def _came_back(instrument: str) -> None:
        made.book.bring_back(instrument)
        shell.something_wrong()

    made.book.back.connect(lambda _: shell.turn_to("film"))
    return made
