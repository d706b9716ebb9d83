"""The mixing desk at work: asked for, worked out as one types, and put on a label."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject

from ravden.app import mixing, stock
from ravden.app.mixing import Mixed
from ravden.app.session import ShopSession
from ravden.core.errors import InputError
from ravden.journal.kinds.session import MixMade
from ravden.text.say import fault
from ravden.ui.places.shop.mixing_page import MixingPage

if TYPE_CHECKING:
    from ravden.ui.shell.around import Around


class MixingControl(QObject):
    """Keeps what to pour in step with the fields."""

    def __init__(self, session: ShopSession, page: MixingPage, around: Around) -> None:
        super().__init__(page)
        self._session, self._page, self._around = session, page, around
        self._made: Mixed | None = None
        self._of: object = None
        page.way_turned.connect(lambda _: self._ask())
        page.finish_turned.connect(self._ask)
        page.typed_on.connect(self._work)
        page.asked.connect(lambda what: around.shell.guarded(lambda: self.do(what)))

    def show(self) -> None:
        """The desk; what was typed stays as long as the shop file does."""
        if self._of is not self._session.journal or not self._page.inputs:
            self._of = self._session.journal
            self._ask()
        else:
            self._work()

    def _ask(self, finish: str = "") -> None:
        """The fields of the way turned to; finish: the one chosen by hand."""
        session = self._session
        wants = stock.wanted(session, dict(self._around.outlooks())) if session.journal is not None else None
        self._page.ask(mixing.fields(session, self._page.way, wants, finish))
        self._work()

    def _work(self) -> None:
        session = self._session
        try:
            self._made = mixing.mixed(session, self._page.way, self._page.typed())
            self._page.show_mixed(self._made)
        except InputError as error:
            self._made = None
            self._page.show_mixed(None, (error.path, fault(error, session.units)))

    def do(self, what: str) -> None:
        """What a button asks for. Raises InputError."""
        made = self._made
        if made is None:
            return
        if what == "mixed":
            self._session.log(
                MixMade(material=made.material, ml=made.ml, supplied_ml=made.supplied_ml, thinner_ml=made.thinner_ml),
                origin="mixing",
            )
        else:
            self._around.files.write_table("A label for the jar", "label.pdf", "PDF (*.pdf)", self.write_label)

    def write_label(self, path: Path) -> None:
        """The label as PDF. Raises InputError where it cannot be written."""
        from ravden.ui.shell import one_page

        if self._made is not None:
            one_page.write(mixing.label(self._session, self._made), self._made.title, path)
