"""The line at the foot of the window: the air the instrument turned to stands in. No Qt."""

from ravden.app.session import ShopSession
from ravden.core.state.history import air_at

AIR_FROM = {
    "told": "", "log": ", from the logger", "forecast": ", as forecast", "usual": ", usual for the month",
    "own": ", as in the last 14 days", "cabinet": "", "assumed": ", assumed",
}  # fmt: skip


def air_line(session: ShopSession) -> str:
    """Where it stands, how warm and damp it is, and how anyone knows."""
    rack, units = session.rack, session.units
    project = None if rack is None else rack.project_at(session.now)
    if rack is None or project is None or not project.air:
        return f"No shop air logged; assuming {units.temperature(20)}"
    air = air_at(project, rack.hours(session.now))
    where = "Warm cabinet" if air.source == "cabinet" else "Shop air"
    return f"{where} {units.temperature(air.temp_C)}, {100 * air.rh:.0f} % humidity{AIR_FROM[air.source]} (A)"
