"""The guide, the words of the trade and the licences that come with the program."""

from __future__ import annotations

import csv
import functools

from msgspec import Struct

from ravden.catalogue.shipped_files import DATA

GUIDE = DATA / "guide"


class Page(Struct, frozen=True, kw_only=True):
    """A page of the guide; place: where F1 opens it, empty for none."""

    id: str
    title: str
    place: str
    text: str


@functools.cache
def pages() -> dict[str, Page]:
    """Every page, in the order they are listed."""
    out = {}
    for row in csv.DictReader((GUIDE / "index.csv").read_text(encoding="utf-8").splitlines()):
        text = (GUIDE / f"{row['page']}.md").read_text(encoding="utf-8")
        out[row["page"]] = Page(id=row["page"], title=row["title"], place=row["place"], text=text)
    return out


def page_of(place: str) -> str:
    """The page that F1 opens in a place."""
    found = (p.id for p in pages().values() if p.place == place)
    return next(found, next(iter(pages())))


@functools.cache
def glossary() -> dict[str, str]:
    """Words of the trade, and what they mean."""
    text = (DATA / "glossary.csv").read_text(encoding="utf-8")
    return {row["term"]: row["meaning"] for row in csv.DictReader(text.splitlines())}


@functools.cache
def puzzling() -> tuple[str, ...]:
    """Words of it that are no everyday ones, and are explained where they stand."""
    text = (DATA / "glossary.csv").read_text(encoding="utf-8")
    return tuple(row["term"] for row in csv.DictReader(text.splitlines()) if not row["everyday"])


@functools.cache
def licences() -> tuple[tuple[str, str, str], ...]:
    """Everything shipped: its name, its licence, what it is for."""
    text = (DATA / "licences.csv").read_text(encoding="utf-8")
    return tuple((row["part"], row["licence"], row["what"]) for row in csv.DictReader(text.splitlines()))


def search(typed: str) -> list[str]:
    """Pages that have every word typed, those that have them in their title first."""
    wanted = typed.lower().split()
    found = [p for p in pages().values() if all(w in f"{p.title} {p.text}".lower() for w in wanted)]
    return [p.id for p in sorted(found, key=lambda p: not all(w in p.title.lower() for w in wanted))]
