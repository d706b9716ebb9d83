"""Every place, page, card and paper in the user's units: nothing is left in another, and no unit is an abbreviation of
the program's own."""

import dataclasses
import re
import unittest
from datetime import UTC, datetime

from PyQt6.QtWidgets import QAbstractButton, QAbstractItemView, QComboBox, QLabel, QLineEdit, QListView, QWidget

from ravden.app import finish_record
from ravden.app.news import state
from ravden.journal.kinds import every_kind
from ravden.ui.places.rack import presenter as rack
from ravden.ui.places.rubout import bench_card
from ravden.ui.places.rubout import presenter as rubout
from ravden.ui.places.shop import presenter as shop
from ravden.ui.shell.registry import PLACES
from ravden.ui.shots import settle
from tests.ui.support import WindowTest

PAGES = {
    "film": ("zones", "waits", "witness", "coat", "plan", "log"),
    "rubout": ("zones", "ways", "drawer", "wheel", "paper"),
    "methods": ("beside", "plan", "quarrels", "old"),
}
FORMS = ("coat", "sanding", "reading", "zones", "air", "usual")
# The size of a grain is told in micrometres wherever abrasives are sold.
GRAIN = re.compile(r"[\d.,–]+( to [\d.,]+)? µm( (film|grain|paper|foam|cushion\w*|polish\w*))?")
OTHERS = {"us": r"°C|µm|\bmm\b|cm²|\bm²|\bm/s", "metric": r"°F|\bmil\b|in²|ft²|\bft/min"}


def shown_in(widget):
    """Everything a widget and what is in it say."""
    for w in (widget, *widget.findChildren(QWidget)):
        yield w.toolTip()
        if isinstance(w, QLabel | QAbstractButton):
            yield w.text()
        if isinstance(w, QLineEdit):
            yield w.placeholderText()
        if isinstance(w, QComboBox):
            yield from (w.itemText(i) for i in range(w.count()))
        if isinstance(w, QAbstractItemView) and w.model() is not None:
            model = w.model()
            columns = range(1 if isinstance(w, QListView) else model.columnCount())
            for row in range(model.rowCount()):
                yield from (str(model.index(row, c).data() or "") for c in columns)


def said_in(record):
    """Every text in a record that is drawn by hand; grains are left out by their own name."""
    if isinstance(record, str):
        yield record
    elif isinstance(record, tuple | list):
        for part in record:
            yield from said_in(part)
    elif dataclasses.is_dataclass(record) and type(record).__module__.startswith("ravden.ui"):
        for field in dataclasses.fields(record):
            if field.name != "grain":
                yield from said_in(getattr(record, field.name))


class EveryPlace(WindowTest):
    maxDiff = None

    def all_texts(self):
        window = self.window
        for name in self.session.shop.racked:
            self.session.select(name, "test")
            settle(window)
            for key, _ in PLACES:
                window.turn_to(key)
                settle(window)
                view = getattr(window, key)
                turning = getattr(view, "side", None) or getattr(view, "pages", None)
                for page in PAGES.get(key, ("",)):
                    if page:
                        turning.turn_to(page)
                        settle(window)
                    yield from ((f"{name}, {key} {page}", text) for text in shown_in(view))
            found = window.places.film.found
            asked = rubout.show(self.session, found, window.places.rubout.rub)
            known = window.places.found
            drawn = (window.places.film.shown, asked, rack.show(self.session, known), shop.show(self.session, known))
            yield from ((f"{name}, drawn", text) for record in drawn for text in said_in(record))
            yield f"{name}, record", finish_record.html(finish_record.record(self.session, found))
            yield f"{name}, card", bench_card.html(asked)
            yield f"{name}, notice", str(state(self.session, name, found, None))
        for entry in self.session.entries:
            yield "entry", self.session.describe(entry)
        for form in FORMS:
            window.turn_to("film")
            window.anywhere.ask(form)
            yield from ((f"form {form}", text) for text in shown_in(window.card))
            window.card.hide()

    def check(self, system):
        self.session.set_units(system)
        settle(self.window)
        count, wrong = 0, set()
        for where, text in self.all_texts():
            count += bool(text)
            plain = text
            for fine in ("Grain in µm", "mW/cm²", "mJ/cm²") if system == "us" else ():
                plain = plain.replace(fine, "")
            plain = GRAIN.sub("", plain) if system == "us" else plain
            for bad in re.findall(rf"\bum\b|{OTHERS[system]}", plain):
                wrong.add(f"{where}: {bad} in {text[:160]}")
        self.assertGreater(count, 3000)
        self.assertEqual("\n".join(sorted(wrong)), "")

    def test_in_metric(self):
        self.check("metric")

    def test_in_us(self):
        self.check("us")


class EveryFact(unittest.TestCase):
    def test_has_words_and_every_sentence_a_fact(self):
        from pathlib import Path

        import ravden
        from ravden.text.say import templates

        folder = Path(ravden.__file__).parent
        code = "\n".join(p.read_text(encoding="utf-8") for p in folder.rglob("*.py") if p.parent.name != "text")
        told = set(re.findall(r'"([a-z][a-z-]*-other|[A-Za-z][A-Za-z_-]+)"', code))
        said = set(re.findall(r'fact\(\s*f?"([A-Za-z_-]+)"', code)) - {"plain"}
        self.assertEqual({c for c in said if not c.endswith("-")} - set(templates()), set())
        stems = tuple(c for c in re.findall(r'fact\(f"([a-z-]+-)\{', code))
        unused = {c for c in templates() if c not in told and not c.startswith(stems) and not c.endswith("-other")}
        self.assertEqual(unused, set())

    def test_kinds_are_known_by_their_files(self):
        self.assertGreaterEqual(len(every_kind()), 26)
        self.assertEqual(len({k.__struct_config__.tag for k in every_kind()}), len(every_kind()))
        self.assertTrue(all(datetime(2026, 5, 4, tzinfo=UTC) and k.__doc__ for k in every_kind()))
