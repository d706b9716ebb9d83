"""A fault beside its field; takes no room while there is none."""

from PyQt6.QtWidgets import QWidget

from ravden.ui.widgets.label import Label


class FaultLabel(Label):
    """A label that hides itself while it is empty."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__("", parent)
        self.setObjectName("fault")
        self.setWordWrap(True)
        self.hide()

    def setText(self, text: str | None) -> None:
        """Show a sentence, or nothing."""
        super().setText(text)
        self.setVisible(bool(text))
