"""The bench card: one page to lay beside the work, as PDF."""

from html import escape
from pathlib import Path

from PyQt6.QtCore import QMarginsF, QSizeF
from PyQt6.QtGui import QPageLayout, QPageSize, QPdfWriter, QTextDocument

from ravden.core.errors import InputError
from ravden.ui.rubout.presenter import RubShown, RungShown
from ravden.ui.theme.style import FONT_FAMILY

STYLE = f"""
body {{ font-family: '{FONT_FAMILY}'; font-size: 10.5pt; color: #000; }}
p {{ margin: 3pt 0; }}
td, th {{ text-align: left; vertical-align: top; }} th {{ font-size: 8pt; }}
.grade {{ font-size: 12pt; font-weight: bold; }} .small {{ font-size: 8pt; }}
.title {{ font-size: 18pt; font-weight: bold; }}
"""
MARGIN_MM = 12.0
BASE_POINTS = 10.5
LEAST_POINTS = 5.5  # smaller cannot be read at the bench


def html(shown: RubShown) -> str:
    """The card's text: the ladder with a box to tick a zone, what to look for, the zones, the cautions."""
    rungs = "".join(_rung(i, r, shown) for i, r in enumerate(shown.rungs, start=1))
    zones = "".join(
        f"<tr><td>{escape(z.label)}</td><td>{z.before}</td><td>{z.after}</td><td>{escape(z.odds)}</td></tr>"
        for z in shown.zones
    )
    done = "".join(f"<p>&#10003; {escape(text)}</p>" for text in shown.done)
    return f"""<html><head><style>{STYLE}</style></head><body>
    <p><span class="title">{escape(shown.title)}</span> &nbsp; {escape(shown.about)}</p>
    <p><b>{escape(shown.heading)}</b> {escape(shown.detail)}</p>
    {done}<table width="100%" cellspacing="0" cellpadding="5" border="1" style="border-collapse: collapse">
    <tr><th>grit</th><th>film off, {shown.unit}</th><th>film left, {shown.unit}</th><th>time</th>
    <th>sheen at 60° / 20°</th><th>before moving on</th><th>done</th></tr>{rungs}</table>
    <p><b>{escape(shown.edges)}</b></p><p>{escape(shown.totals)}</p>
    <table cellspacing="0" cellpadding="4" border="1" style="border-collapse: collapse">
    <tr><th>zone</th><th>film, {shown.unit}</th><th>after, {shown.unit}</th><th>odds below the least wanted</th></tr>
    {zones}</table>
    <p class="small">{escape(" ".join(c for c in shown.cautions if c))} Film and scratch are good to about a third; the
    eye at each rung decides. Follow the data sheets of finish and abrasive, and local codes.</p></body></html>"""


def _rung(number: int, rung: RungShown, shown: RubShown) -> str:
    bare = [text.removesuffix(f" {shown.unit}") for text in (rung.off, rung.left)]
    return (
        f"<tr><td><span class='grade'>{number}. {escape(rung.grade)}</span><br/><span class='small'>"
        f"{escape(rung.grain)}<br/>{escape(rung.backing)}</span></td><td>{bare[0]}</td><td>{bare[1]}</td>"
        f"<td>{escape(rung.time)}<br/>{escape(rung.paper)}</td><td>{escape(rung.sheen)}<br/><span class='small'>"
        f"{escape(rung.band)}</span></td><td>{escape(rung.look_for)}</td><td>&nbsp;&nbsp;&nbsp;&nbsp;&nbsp;</td></tr>"
    )


def write(shown: RubShown, path: Path) -> int:
    """Write the card and return its number of pages, which is one. Raises InputError where there is nothing to print,
    or the file cannot be written."""
    if not shown.rungs:
        raise InputError("", "there is no ladder to print yet")
    try:
        path.write_bytes(b"")
    except OSError as error:
        raise InputError(str(path), f"cannot be written: {error.strerror}") from None
    writer = QPdfWriter(str(path))
    writer.setTitle(f"Bench card: {shown.title}")
    writer.setCreator("Ravden")
    writer.setPageLayout(
        QPageLayout(
            QPageSize(QPageSize.PageSizeId.A4), QPageLayout.Orientation.Portrait,
            QMarginsF(MARGIN_MM, MARGIN_MM, MARGIN_MM, MARGIN_MM), QPageLayout.Unit.Millimeter,
        )
    )  # fmt: skip
    document = QTextDocument()
    layout = document.documentLayout()
    assert layout is not None
    layout.setPaintDevice(writer)
    room = writer.pageLayout().paintRectPixels(writer.resolution())
    points, text = BASE_POINTS, html(shown)
    while True:
        document.setHtml(text)
        document.setPageSize(QSizeF(room.width(), room.height()))
        if document.pageCount() == 1 or points <= LEAST_POINTS:
            break
        points -= 0.5
        text = html(shown).replace(f"{BASE_POINTS}pt", f"{points}pt")
    document.print(writer)
    return document.pageCount()
