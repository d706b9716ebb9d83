"""How close the lanes of the Rack are."""

from msgspec import Struct


class Density(Struct, frozen=True, kw_only=True):
    """How much room a lane takes [px]: at least, at most where there are few of them, and under its wood line."""

    least: int
    most: int
    under: int


DENSITIES = {
    "roomy": Density(least=118, most=172, under=48),
    "close": Density(least=68, most=68, under=30),
    "lines": Density(least=32, most=32, under=7),
}  # fmt: skip
