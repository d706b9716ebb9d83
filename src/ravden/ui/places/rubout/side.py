"""Beside the ladder: zones, other ways, the drawer, the wheel, and paper before and between coats."""

from PyQt6.QtWidgets import QWidget

from ravden.ui.places.rubout.drawer_panel import DrawerPanel
from ravden.ui.places.rubout.panels import PaperPanel, WaysPanel, WheelPanel
from ravden.ui.places.rubout.see_panel import SeePanel
from ravden.ui.places.rubout.zones_panel import RubZonesPanel
from ravden.ui.widgets.turning import Turning

SIDE_W = 340
PAGES = (
    ("zones", "Zones"),
    ("ways", "Ways"),
    ("drawer", "Drawer"),
    ("wheel", "Wheel"),
    ("paper", "Paper"),
    ("see", "See"),
)


class RubSide(Turning):
    """Six panels; the drawer scrolls its own list."""

    def __init__(self, parent: QWidget | None = None) -> None:
        self.zones, self.ways, self.drawer = RubZonesPanel(), WaysPanel(), DrawerPanel()
        self.wheel, self.paper, self.see = WheelPanel(), PaperPanel(), SeePanel()
        pages: dict[str, QWidget] = {
            "zones": self.zones, "ways": self.ways, "drawer": self.drawer, "wheel": self.wheel, "paper": self.paper,
            "see": self.see,
        }  # fmt: skip
        super().__init__(PAGES, pages, width=SIDE_W, scrolled=("zones", "ways", "wheel", "paper", "see"), parent=parent)
