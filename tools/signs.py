"""Draws the arrows and ticks that the shipped type lacks, as a small typeface of this project's own: run it again, with
fontTools installed, to change them. Units: 1000 to the em; the height of a capital is about 668."""

from pathlib import Path

from fontTools.fontBuilder import FontBuilder
from fontTools.pens.ttGlyphPen import TTGlyphPen

TARGET = Path(__file__).parents[1] / "src" / "ravden" / "data" / "fonts" / "RavdenSigns.ttf"
MIDDLE = 330
Points = list[tuple[int, int]]

RIGHT: Points = [(120, 60), (120, 600), (600, 330)]
SMALL_RIGHT: Points = [(110, 130), (110, 530), (440, 330)]
ARROW: Points = [
    (70, 290),
    (70, 370),
    (630, 370),
    (490, 520),
    (560, 570),
    (790, 330),
    (560, 90),
    (490, 140),
    (630, 290),
]
TICK: Points = [(80, 330), (150, 400), (300, 240), (640, 660), (720, 600), (310, 90)]


def turned(points: Points, quarters: int) -> Points:
    """Turned to the left about the middle of the sign, a quarter at a time."""
    width = max(x for x, _ in points) + min(x for x, _ in points)
    for _ in range(quarters):
        points = [(width // 2 - (y - MIDDLE), MIDDLE + (x - width // 2)) for x, y in points]
    least = min(x for x, _ in points)
    return [(x - least + 80, y) for x, y in points]


SIGNS = {
    "→": ARROW, "↑": turned(ARROW, 1), "←": turned(ARROW, 2), "↓": turned(ARROW, 3),
    "▶": RIGHT, "▲": turned(RIGHT, 1), "◀": turned(RIGHT, 2), "▼": turned(RIGHT, 3),
    "▸": SMALL_RIGHT, "▾": turned(SMALL_RIGHT, 3), "✓": TICK,
}  # fmt: skip


def main() -> None:
    """Write the file."""
    names = {sign: f"uni{ord(sign):04X}" for sign in SIGNS}
    glyphs, metrics = {".notdef": TTGlyphPen(None).glyph()}, {".notdef": (500, 0)}
    for sign, points in SIGNS.items():
        pen = TTGlyphPen(None)
        clockwise = (
            sum((b[0] - a[0]) * (b[1] + a[1]) for a, b in zip(points, [*points[1:], points[0]], strict=True)) > 0
        )
        ordered = points if clockwise else points[::-1]
        pen.moveTo(ordered[0])
        for point in ordered[1:]:
            pen.lineTo(point)
        pen.closePath()
        glyphs[names[sign]] = pen.glyph()
        metrics[names[sign]] = (max(x for x, _ in points) + 80, min(x for x, _ in points))
    font = FontBuilder(1000, isTTF=True)
    font.setupGlyphOrder(list(glyphs))
    font.setupCharacterMap({ord(sign): name for sign, name in names.items()})
    font.setupGlyf(glyphs)
    font.setupHorizontalMetrics(metrics)
    font.setupHorizontalHeader(ascent=950, descent=-250)
    font.setupOS2(sTypoAscender=950, sTypoDescender=-250, usWinAscent=950, usWinDescent=250)
    font.setupNameTable({"familyName": "Ravden Signs", "styleName": "Regular", "licenseDescription": "MIT"})
    font.setupPost()
    font.save(TARGET)


if __name__ == "__main__":
    main()
