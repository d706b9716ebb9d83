"""Choosing files: the shop's own, a logger's, a method's, and where the bench card goes."""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QFileDialog

from ravden.app import settings
from ravden.core.errors import NO_FILE, NO_INSTRUMENT, InputError
from ravden.journal.kinds.shop_name import ShopNamed
from ravden.journal.store import SUFFIX

if TYPE_CHECKING:
    from ravden.ui.shell.air_reading import AirReading
    from ravden.ui.shell.anywhere import Anywhere
    from ravden.ui.shell.shell import Shell

SHOPS = f"Shop files (*{SUFFIX})"


class FileDialogs:
    """Asks for a file and hands it on; what came of it is told by the window."""

    def __init__(self, window: Shell, anywhere: Anywhere) -> None:
        self._window, self._anywhere = window, anywhere

    @cached_property
    def air(self) -> AirReading:
        """Reads loggers' files."""
        from ravden.ui.shell.air_reading import AirReading

        return AirReading(self._window)

    def stop(self) -> None:
        """The window closes."""
        if "air" in self.__dict__:
            self.air.stop()

    def new_shop(self) -> None:
        """Make a shop file and open it."""
        name = self._to_write("New shop file", f"shop{SUFFIX}", SHOPS)
        if name:
            path = Path(name)
            self.make_shop(path if path.suffix == SUFFIX else path.with_name(path.name + SUFFIX))

    def make_shop(self, path: Path) -> None:
        """Make a shop file at path, named after it."""
        session = self._window.session
        session.open(path, create=True)
        stem = path.stem.encode(errors="replace").decode()  # a name of the disk's need not be UTF-8
        session.log(ShopNamed(name=stem.replace("-", " ").replace("_", " ").title()), origin="file")

    def open_shop(self) -> None:
        """Choose a shop file and open it."""
        name = self._to_read("Open a shop file", SHOPS, str(settings.data_folder()))
        if name:
            self._window.session.open(Path(name))

    def read_air(self, source: str) -> None:
        """Choose a logger's file, or a forecast's, and log what can be read of it."""
        if self._window.session.journal is None:
            raise InputError("", NO_FILE, remedy="file")
        name = self._to_read("Air from a file", "Tables (*.csv *.txt *.tsv)")
        if name:
            self.air.read(Path(name), source)

    def bench_card(self) -> None:
        """Choose where the bench card goes, and write it."""
        self._anywhere.no_form_open()
        rack = self._window.session.rack
        if rack is None:
            raise InputError("", NO_INSTRUMENT, remedy="instrument")
        name = self._to_write("Bench card", f"{rack.instrument.id}-rub-out.pdf", "PDF (*.pdf)")
        if name:
            self._window.tell(self._window.places.rubout.write_card(Path(name)), undo=False)

    def save_record(self, instrument: str, write: Callable[[Path], None]) -> None:
        """Choose where the record of an instrument in the Book goes, and write it."""
        name = self._to_write("Finish record", f"{instrument}-record.pdf", "PDF (*.pdf)")
        if name:
            write(Path(name))
            self._window.tell(f"Written to {Path(name).name}.", undo=False)

    def save_days(self, write: Callable[[Path], object]) -> None:
        """Choose where the days ahead go as a sheet, and write it."""
        name = self._to_write("The days ahead", "days-ahead.pdf", "PDF (*.pdf)")
        if name:
            write(Path(name))
            self._window.tell(f"Written to {Path(name).name}.", undo=False)

    def save_method(self, method_id: str) -> None:
        """Choose where a method goes, and write it."""
        name = self._to_write("Save a method", f"{method_id}.toml", "Methods (*.toml)")
        if name:
            self._window.tell(self._window.places.methods.write(method_id, Path(name)), undo=False)

    def read_method(self) -> None:
        """Choose a method file, check it, and keep it in the shop."""
        name = self._to_read("Read a method", "Methods (*.toml)")
        if name:
            self._window.places.methods.read(Path(name))

    def read_table(self, title: str, kinds: str, read: Callable[[Path], str]) -> None:
        """Choose a table and tell what came of reading it."""
        name = self._to_read(title, kinds)
        if name:
            self._window.tell(read(Path(name)), undo=True)

    def write_table(self, title: str, start: str, kinds: str, write: Callable[[Path], None]) -> None:
        """Choose where a table goes, and write it."""
        name = self._to_write(title, start, kinds)
        if name:
            write(Path(name))
            self._window.tell(f"Written to {Path(name).name}.", undo=False)

    def _to_write(self, title: str, start: str, kinds: str) -> str:
        return QFileDialog.getSaveFileName(self._window, title, str(settings.data_folder() / start), kinds)[0]

    def _to_read(self, title: str, kinds: str, start: str = "") -> str:
        return QFileDialog.getOpenFileName(self._window, title, start, f"{kinds};;All files (*)")[0]
