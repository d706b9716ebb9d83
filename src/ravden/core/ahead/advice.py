"""What is advised of one film: what to measure next, the coats still wanted, and what will show later."""

from dataclasses import dataclass

from ravden.core.film.advice import Choice
from ravden.core.film.coats import CoatsLeft
from ravden.core.film.then import Flag
from ravden.core.record import Act


@dataclass(frozen=True, slots=True, kw_only=True)
class Entry:
    """One entry of the journal and what it did to a zone: film before and after, and its sd [um]."""

    act: Act
    before_um: float
    after_um: float
    sd_before_um: float
    sd_after_um: float
    flag: Flag | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Sink:
    """How far pores levelled flush at a window will sink [um], by how they were filled."""

    window: str
    at_h: float
    by_filling: dict[str, float]


@dataclass(frozen=True, slots=True, kw_only=True)
class Witness:
    """Odds of rubbing through the top layer, its film [um], and what it would have to be for one in ten."""

    odds: float
    layer_um: float
    needed_um: float
    dissolving: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class Counsel:
    """All of it. risk_zone: the zone most likely to end below the floor."""

    risk_zone: str
    measure: tuple[Choice, ...]
    coats: CoatsLeft | None
    sinks: tuple[Sink, ...]
    witness: Witness | None
    entries: tuple[Entry, ...]
