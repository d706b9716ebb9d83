"""A lane of the Rack in words: what is next and when, as far as there is room, and all of it where the mouse rests."""

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QPainter

from ravden.ui.places.rack.presenter import LaneShown
from ravden.ui.theme.style import current, font

LEFT, BESIDE = 16.0, 34.0  # px before the words of a lane, and beside them in all


def told_of(lane: LaneShown) -> str:
    """A lane in words, and what to do with it."""
    act = f"{lane.next_act} {lane.next_when}".strip()
    how = "Click to choose it, double-click or Enter to see its film, right-click when something is wrong"
    why = (f"It {lane.why}",) if lane.why else ()
    asks = (f"{lane.asks}: it tells how fast this finish dries here",) if lane.asks else ()
    return "\n".join((lane.name, lane.about, act, *why, *asks, *(w.words for w in lane.wounds), how))


def paint(painter: QPainter, lane: LaneShown, y: int, room: int, density: str) -> None:
    """The words of a lane that begins at a height [px]; room: across [px]."""
    p, width = current(), room - BESIDE
    tone = {"open": p.open_ink, "warn": p.warn}.get(lane.tone, p.ink)
    heavy = next((w for w in lane.wounds if w.heavy), None)
    if density == "lines":
        needs = QFontMetricsF(font(14, bold=True)).horizontalAdvance(lane.name)
        whole = min(max(needs, width * 0.42), width * 0.62)
        line(painter, (LEFT, y + 4, whole), lane.name, 14, p.warn if heavy else p.ink, bold=True)
        line(painter, (LEFT + whole + 6, y + 6, width - whole), lane.next_act, 12, tone, bold=True)
        return
    line(painter, (LEFT, y + (6 if density == "roomy" else 3), width), lane.name, 17, p.ink, bold=True)
    if density == "close":
        line(painter, (LEFT, y + 25, width), lane.next_act, 13, tone, bold=True)
        second = lane.next_when if heavy is None else heavy.words.partition(":")[0]
        line(painter, (LEFT, y + 43, width), second, 12, tone if heavy is None else p.warn)
        return
    about = lane.about.split(" · ")
    line(painter, (LEFT, y + 28, width), about[0] if heavy is None else lane.about, 12, p.muted)
    under = (lane.asks, p.ink) if lane.asks else (" · ".join(about[1:]), p.muted)
    if heavy is not None:
        under = heavy.words.partition(":")[0], p.warn
    line(painter, (LEFT, y + 43, width), under[0], 12, under[1], bold=under[1] != p.muted)
    line(painter, (LEFT, y + 64, width), lane.next_act, 14, tone, bold=True)
    painter.setFont(font(12))
    painter.setPen(QColor(tone))
    flags = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap
    painter.drawText(QRectF(LEFT, y + 82, width, 32), flags, lane.next_when)


def line(
    painter: QPainter, at: tuple[float, float, float], text: str, px: int, colour: str, *, bold: bool = False
) -> None:
    """One line, shortened to its room. at: left, top and width [px]; px: height of the type."""
    x, y, width = at
    painter.setFont(font(px, bold=bold))
    painter.setPen(QColor(colour))
    short = painter.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, int(width))
    painter.drawText(QRectF(x, y, width, px * 1.5), Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop, short)
