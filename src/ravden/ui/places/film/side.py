"""The panel beside the timeline: zones, the next coat, the waits, the plan, the log; one at a time."""

from PyQt6.QtWidgets import QWidget

from ravden.ui.places.film.coat_panel import CoatPanel
from ravden.ui.places.film.log_panel import LogPanel
from ravden.ui.places.film.plan_panel import PlanPanel
from ravden.ui.places.film.waits_panel import WaitsPanel
from ravden.ui.places.film.witness_panel import WitnessPanel
from ravden.ui.places.film.zones_panel import ZonesPanel
from ravden.ui.widgets.turning import Turning

SIDE_W = 320
PAGES = (("zones", "Zones"), ("coat", "Next coat"), ("waits", "Waits"), ("plan", "Plan"), ("log", "Log"))


class Side(Turning):
    """Five panels, and the witness card behind the waits."""

    def __init__(self, parent: QWidget | None = None) -> None:
        self.zones, self.coat, self.plan, self.log = ZonesPanel(), CoatPanel(), PlanPanel(), LogPanel()
        self.waits, self.witness = WaitsPanel(), WitnessPanel()
        pages: dict[str, QWidget] = {
            "zones": self.zones, "coat": self.coat, "waits": self.waits, "plan": self.plan, "log": self.log,
            "witness": self.witness,
        }  # fmt: skip
        super().__init__(
            PAGES, pages, width=SIDE_W, scrolled=("waits", "plan", "witness"), reached_from={"witness": "waits"},
            parent=parent,
        )  # fmt: skip
        self.waits.card.clicked.connect(lambda: self.turn_to("witness"))
        self.witness.left.connect(lambda: self.turn_to("waits"))
