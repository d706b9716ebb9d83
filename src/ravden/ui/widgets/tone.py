"""Gives a widget a tone that the style sheet colours: open, plain or warn."""

from PyQt6.QtWidgets import QWidget


def set_tone(widget: QWidget, tone: str) -> None:
    """Restyle only when the tone changes: polishing is slow."""
    if widget.property("tone") != tone:
        widget.setProperty("tone", tone)
        style = widget.style()
        if style is not None:
            style.unpolish(widget)
            style.polish(widget)
