"""The bench card: one page to lay beside the work, as PDF."""

from html import escape
from pathlib import Path

from ravden.core.errors import InputError
from ravden.ui.places.rubout.presenter import RubShown, RungShown
from ravden.ui.shell import one_page


def html(shown: RubShown) -> str:
    """The card's text: the ladder with a box to tick a zone, what to look for, the zones, the cautions."""
    unit, zones_ = shown.ladder.unit, shown.zones
    rungs = "".join(_rung(i, r, shown) for i, r in enumerate(shown.ladder.rungs, start=1))
    zones = "".join(
        f"<tr><td>{escape(z.label)}</td><td>{z.before}</td><td>{z.after}</td><td>{escape(z.odds)}</td></tr>"
        for z in shown.zones.zones
    )
    done = "".join(f"<p>&#10003; {escape(text)}</p>" for text in shown.ladder.done)
    return f"""<p><span class="title">{escape(shown.title)}</span> &nbsp; {escape(shown.about)}</p>
    <p><b>{escape(shown.told.heading)}</b> {escape(shown.told.detail)}</p>
    {done}<table width="100%" cellspacing="0" cellpadding="5" border="1" style="border-collapse: collapse">
    <tr><th>grit</th><th>film off, {unit}</th><th>film left, {unit}</th><th>time</th>
    <th>sheen at 60° / 20°</th><th>before moving on</th><th>done</th></tr>{rungs}</table>
    <p><b>{escape(shown.zones.edges)}</b></p><p>{escape(shown.zones.totals)}</p>
    <table cellspacing="0" cellpadding="4" border="1" style="border-collapse: collapse">
    <tr><th>zone</th><th>film, {unit}</th><th>after, {unit}</th><th>odds below the least wanted</th></tr>
    {zones}</table>
    <p class="small">{escape(" ".join(c for c in zones_.cautions if c))} Film and scratch are good to about a third; the
    eye at each rung decides. Follow the data sheets of finish and abrasive, and local codes.</p>"""


def _rung(number: int, rung: RungShown, shown: RubShown) -> str:
    bare = [text.removesuffix(f" {shown.ladder.unit}") for text in (rung.off, rung.left)]
    return (
        f"<tr><td><span class='grade'>{number}. {escape(rung.grade)}</span><br/><span class='small'>"
        f"{escape(rung.grain)}<br/>{escape(rung.backing)}</span></td><td>{bare[0]}</td><td>{bare[1]}</td>"
        f"<td>{escape(rung.time)}<br/>{escape(rung.paper)}</td><td>{escape(rung.sheen)}<br/><span class='small'>"
        f"{escape(rung.band)}</span></td><td>{escape(rung.look_for)}</td><td>&nbsp;&nbsp;&nbsp;&nbsp;&nbsp;</td></tr>"
    )


def write(shown: RubShown, path: Path) -> int:
    """Write the card and return its number of pages, which is one. Raises InputError where there is nothing to print,
    or the file cannot be written."""
    if not shown.ladder.rungs:
        raise InputError("", "there is no ladder to print yet")
    return one_page.write(html(shown), f"Bench card: {shown.title}", path)
