"""A page of text as PDF: as large as fits on one sheet."""

from pathlib import Path

from PyQt6.QtCore import QBuffer, QIODevice, QMarginsF, QSizeF
from PyQt6.QtGui import QPageLayout, QPageSize, QPdfWriter, QTextDocument

from ravden.system.files import put
from ravden.ui.theme.style import FONT_FAMILY

BASE_POINTS = 10.5
LEAST_POINTS = 5.5  # smaller cannot be read at the bench
MARGIN_MM = 12.0
STYLE = f"""
body {{ font-family: '{FONT_FAMILY}'; font-size: {BASE_POINTS}pt; color: #000; }}
p {{ margin: 3pt 0; }}
td, th {{ text-align: left; vertical-align: top; }} th {{ font-size: 8pt; }}
.grade {{ font-size: 12pt; font-weight: bold; }} .small {{ font-size: 8pt; }}
.title {{ font-size: 18pt; font-weight: bold; }}
"""


def write(body: str, title: str, path: Path) -> int:
    """Write the page; returns how many sheets it took. Raises InputError where the file cannot be written."""
    page = QBuffer()
    page.open(QIODevice.OpenModeFlag.WriteOnly)
    writer = QPdfWriter(page)
    writer.setTitle(title)
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
    whole = f"<html><head><style>{STYLE}</style></head><body>{body}</body></html>"
    points, text = BASE_POINTS, whole
    while True:
        document.setHtml(text)
        document.setPageSize(QSizeF(room.width(), room.height()))
        if document.pageCount() == 1 or points <= LEAST_POINTS:
            break
        points -= 0.5
        text = whole.replace(f"{BASE_POINTS}pt", f"{points}pt")
    document.print(writer)
    page.close()
    put(path, page.data().data())
    return document.pageCount()
