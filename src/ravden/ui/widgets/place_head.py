"""The head of a place about one instrument: its name, what is shown of it, and the way to another."""

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QSizePolicy, QWidget

from ravden.ui.theme.style import fit, px
from ravden.ui.widgets.label import Label
from ravden.ui.widgets.tips import plain_tip

LONGEST_TITLE_PX = 340


class PlaceHead(QWidget):
    """Title, a line about it, and a chooser of instruments."""

    instrument_picked = pyqtSignal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.title, self.about = Label(), Label()
        self.title.setObjectName("title")
        self.title.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Preferred)
        self.about.setObjectName("muted")
        self.about.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self.chooser = QComboBox()
        self.chooser.setAccessibleName("Instrument")
        fit(self.chooser, lambda w: w.setFixedWidth(px(190)))
        self.chooser.activated.connect(lambda i: self.instrument_picked.emit(self.chooser.itemData(i)))
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(self.title)
        row.addSpacing(8)
        row.addWidget(self.about, 1, Qt.AlignmentFlag.AlignBottom)
        row.addWidget(self.chooser)

    def offer(self, instruments: list[tuple[str, str]], selected: str) -> None:
        """The instruments one can turn to: id and name of each."""
        self.chooser.blockSignals(True)
        self.chooser.clear()
        for i, (instrument_id, name) in enumerate(instruments):
            self.chooser.addItem(name, instrument_id)
            if instrument_id == selected:
                self.chooser.setCurrentIndex(i)
        self.chooser.blockSignals(False)

    def tell(self, title: str, about: str) -> None:
        """Name this instrument."""
        metrics = self.title.fontMetrics()
        self.title.setText(metrics.elidedText(title, Qt.TextElideMode.ElideRight, LONGEST_TITLE_PX))
        self.title.setToolTip(plain_tip(title))
        self.about.setText(about)
