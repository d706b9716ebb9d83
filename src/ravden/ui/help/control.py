"""Help: the guide where one is, the keys of the place, its pictures as tables, About, and the report of a fault."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QWidget

from ravden import __version__
from ravden.app import report, settings
from ravden.catalogue.guide import licences, page_of
from ravden.core.errors import InputError
from ravden.ui.help.guide_page import GuidePage
from ravden.ui.help.keys_over import KeysOver
from ravden.ui.help.said_page import SaidPage
from ravden.ui.help.table_page import TablePage
from ravden.ui.shell.registry import PLACES

if TYPE_CHECKING:
    from ravden.ui.help.looks_page import LooksPage
    from ravden.ui.shell.shell import Shell

ESTIMATES = (
    "Ravden estimates. The product's own data sheet, local codes and licensed practice come first; it never says "
    "that an exposure is safe."
)
SEND = (
    "Copy this and send it to whoever looks after Ravden for you. Names of instruments, people and files are left out. "
    "What you logged is safe in the shop file."
)


class Help:
    """Each page is made when it is first asked for."""

    def __init__(self, window: Shell) -> None:
        self._window = window
        self.guide: GuidePage | None = None
        self.looks: LooksPage | None = None
        self.keys: KeysOver | None = None
        self.table: TablePage | None = None
        self.said: SaidPage | None = None

    def open_guide(self, page: str = "") -> None:
        """The guide, at a page or at that of the place one is in."""
        if self.guide is None:
            self.guide = GuidePage()
            self._add(self.guide)
        window = self._window
        here = "settings" if window.in_settings else "repair" if window.in_repairs else window.place
        self.guide.open_at(page or page_of(here))
        self._window.stack.setCurrentWidget(self.guide)
        self.guide.list.setFocus()

    def show_looks(self) -> None:
        """Every picture of what a film should look like, and should not."""
        if self.looks is None:
            from ravden.ui.help.looks_page import LooksPage

            self.looks = LooksPage(self._window.session.catalogue)
            self._add(self.looks)
        self._window.stack.setCurrentWidget(self.looks)
        self.looks.open()

    def show_keys(self) -> None:
        """The keys of the place, laid over it."""
        window = self._window
        ground = window.centralWidget()
        assert ground is not None
        if self.keys is None:
            self.keys = KeysOver(ground)
        self.keys.show_keys(window.place, dict(PLACES)[window.place], window.focusWidget())

    def show_tables(self) -> None:
        """The numbers behind the pictures of the place."""
        window = self._window
        if window.in_repairs:
            tables = window.repairs.tables()
        else:
            window.anywhere.no_form_open()
            tables = window.places.at(window.place).tables() if window.session.journal is not None else ()
        if not tables:
            raise InputError("", "there is no picture here to be read as a table")
        if self.table is None:
            self.table = TablePage()
            self.table.told.connect(window.say)
            self._add(self.table)
        window.stack.setCurrentWidget(self.table)
        self.table.show_tables(tables)

    def about(self) -> None:
        """What this is, where its files are, and under which licences everything in it stands."""
        parts = "\n".join(f"{part}: {licence}. {what}." for part, licence, what in licences())
        journal = self._window.session.journal
        where = [
            f"Shop file: {journal.path if journal is not None else 'none is open'}",
            f"Shop files, unless put elsewhere: {settings.data_folder()}",
            f"Settings: {self._window.settings_file}",
        ]
        text = "\n".join([f"Ravden {__version__}", "", *where, "", "Everything in it, and its licence:", parts])
        self._say("About Ravden", ESTIMATES, text)

    def went_wrong(self) -> None:
        """A report to copy."""
        session = self._window.session
        shop = session.shop
        names = (
            shop.name,
            *(r.instrument.name for r in shop.racked.values()),
            *shop.racked,
            *(b.name for b in shop.book.values()),
            *shop.book,
            *session.people.values(),
        )
        path = None if session.journal is None else session.journal.path
        text = report.report(file=path, entries=len(session.entries), instruments=len(shop.racked), names=names)
        self._say("Something went wrong", SEND, text)

    def _say(self, title: str, about: str, text: str) -> None:
        if self.said is None:
            self.said = SaidPage()
            self.said.told.connect(self._window.say)
            self._add(self.said)
        self._window.stack.setCurrentWidget(self.said)
        self.said.tell(title, about, text)

    def _add(self, page: QWidget) -> None:
        page.left.connect(self._window.turn_back)  # type: ignore[attr-defined]
        self._window.stack.addWidget(page)
