"""The days ahead on paper: what hands do when, to hang up."""

from __future__ import annotations

from datetime import datetime
from html import escape
from pathlib import Path
from typing import TYPE_CHECKING

from ravden.text import written
from ravden.ui.places.rack import days
from ravden.ui.shell import one_page

if TYPE_CHECKING:
    from ravden.app.shop_days import ShopDays

CAUTION = (
    "Estimated: the film, a test spot and the product's data sheet decide. Mind vapour, dust and ignition; follow "
    "local codes."
)


def html(shop: str, planned: ShopDays, now: datetime, span: str) -> str:
    """The sheet's text: a heading a day, a line a piece of work with a box to tick."""
    shown = days.show(planned, now, span)
    rows = "".join(
        f'<tr><td colspan="5"><b>{escape(row.heading)}</b></td></tr>' if row.heading else
        "<tr>" + "".join(f"<td>{escape(cell)}</td>" for cell in row.cells[:4]) + "<td>&#9744;</td></tr>"
        for row in shown.rows
    )  # fmt: skip
    return f"""<p><span class="title">{escape(shop)}: the days ahead</span> &nbsp; {escape(written.day(now.date()))},
    {escape(written.clock(now))}</p>
    <table width="100%" cellspacing="0" cellpadding="4" border="1" style="border-collapse: collapse">
    <tr><th>from</th><th>on</th><th>what</th><th>hands</th><th>done</th></tr>{rows}</table>
    <p class="small">{escape(CAUTION)}</p>"""


def write(shop: str, planned: ShopDays, now: datetime, span: str, path: Path) -> int:
    """Write the sheet as PDF. Raises InputError where the file cannot be written."""
    return one_page.write(html(shop, planned, now, span), f"{shop}: the days ahead", path)
