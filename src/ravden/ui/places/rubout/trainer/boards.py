"""What is practised on: a stock board, or the film of the instrument turned to with its own drawer."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QComboBox

from ravden.app import practising
from ravden.app.session import ShopSession
from ravden.core.errors import InputError
from ravden.text.say import fault

if TYPE_CHECKING:
    from ravden.core.rubout.rub_out import RubOut

STOCK, MINE = "stock", "mine"


class Boards:
    """Keeps which one is on: board."""

    def __init__(self, session: ShopSession, box: QComboBox, rub: Callable[[], RubOut | None]) -> None:
        self._session, self._box, self._rub = session, box, rub
        self._on = STOCK
        self.board = self.stock()

    def stock(self) -> practising.Board:
        """A board that is like no instrument in the shop."""
        return practising.stock_board(self._session.catalogue)

    @property
    def is_mine(self) -> bool:
        """Whether it is the instrument's own film."""
        return self._on == MINE

    def offer(self) -> None:
        """Those there are, the one that is on chosen."""
        rub = self._rub()
        self._box.clear()
        self._box.addItem("On a stock board", STOCK)
        if rub is not None:
            self._box.addItem(f"On {rub.film.project.instrument.name}", MINE)
        elif self._on == MINE:
            self._on, self.board = STOCK, self.stock()
        self._show()

    def choose(self, which: str) -> str:
        """Practise on this; one that cannot be is told, and the stock board is taken. Returns why, empty: it can."""
        said, rub = "", self._rub()
        try:
            if which == MINE and rub is None:
                raise InputError("", "there is no instrument to practise on: this is a stock board")
            mine = which == MINE and rub is not None
            self.board = practising.board_of(self._session.catalogue, rub) if mine and rub is not None else self.stock()
            self._on = which
        except InputError as error:
            said, self._on, self.board = fault(error, self._session.units), STOCK, self.stock()
        self._show()
        return said

    def _show(self) -> None:
        self._box.setCurrentIndex(max(self._box.findData(self._on), 0))
