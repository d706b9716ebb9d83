"""``ravden compute KIND``: one JSON object in, one out. The window calls the same functions."""

from typing import Any

import msgspec

from ravden.app.plan_answer import plan
from ravden.app.plan_case import PlanIn
from ravden.app.repair_answer import RepairIn, repair
from ravden.app.stock_answer import StockIn, stock
from ravden.exchange import compute as sciences
from ravden.exchange.compute import MAX_BYTES

__all__ = ["KINDS", "MAX_BYTES", "run", "schema"]

KINDS: sciences.Kinds = {
    **sciences.KINDS,
    "plan": (PlanIn, plan),
    "repair": (RepairIn, repair),
    "stock": (StockIn, stock),
}


def schema(kind: str) -> dict[str, Any]:
    """The JSON Schema of a kind's input."""
    return msgspec.json.schema(KINDS[kind][0])


def run(kind: str, raw: bytes) -> dict[str, Any]:
    """Compute one case. Raises InputError, with the path of the wrong field, for any bad input."""
    return sciences.run(KINDS, kind, raw)
