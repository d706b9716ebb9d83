"""Curing a film by lamp, face by face: how long each face wants, and which is next."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ravden.core.cure.light import full_dose
from ravden.core.cure.models import LightCure
from ravden.core.method.habit import LightHabit
from ravden.core.record import Coat, Exposure, LightOn, Project
from ravden.core.session.wet_edge import Place

SKIN_DOSES = 5.0  # [A] doses that gel, given to set the skin
GIVEN_UP_H = 12.0  # a film left in the dark longer than this is lit by the plan, not by the session


@dataclass(frozen=True, slots=True, kw_only=True)
class LampTurn:
    """One face in one round: since when, and when it may begin or, once the lamp is on, should end [h]; nth, of: faces
    of the round."""

    on: bool
    due_h: float
    since_h: float
    label: str
    how: str
    zones: tuple[str, ...]
    seconds: float
    mW_cm2: float
    nth: int
    of: int


def faces(project: Project, places: Mapping[str, Place]) -> tuple[tuple[str, tuple[str, ...]], ...]:
    """The instrument's zones in its own finish by the face they are lit from: label and zones of each."""
    out: dict[str, list[str]] = {}
    for zone in project.zones:
        if zone.name not in project.bare:
            place = places.get(zone.name)
            out.setdefault(place.face_label if place else zone.label, []).append(zone.name)
    return tuple((label, tuple(zones)) for label, zones in out.items())


def lamp_minutes(project: Project, dose_mJ_cm2: float) -> float | None:
    """How long a face wants under the shop's lamp for a dose [min]; None: nobody said how strong it is."""
    return None if project.lamp_mW_cm2 <= 0 else dose_mJ_cm2 / project.lamp_mW_cm2 / 60.0


def lamp_turn(
    project: Project, rounds: Sequence[LightHabit], now_h: float, mW_cm2: float, places: Mapping[str, Place]
) -> LampTurn | None:
    """What the lamp does next for the film laid last; None: nothing, or not by a lamp of this session."""
    model = project.material.cure
    coats = [c for c in project.coats if c.at_h <= now_h and not c.finish]
    if not isinstance(model, LightCure) or not coats or not rounds:
        return None
    laid = max(c.at_h for c in coats)
    given = sorted((a for a in project.acts if isinstance(a, Exposure) and a.at_h >= laid), key=lambda a: a.at_h)
    on = [a for a in project.acts if isinstance(a, LightOn) and a.at_h >= laid and a.at_h > _last(given, laid - 1)]
    newest = max([a.at_h for a in given] + [a.at_h for a in on], default=laid)
    if now_h - newest > GIVEN_UP_H or any(g.zones is None for g in given):
        return None
    sides = faces(project, places)
    order = [(habit, label, zones, i) for habit in rounds for i, (label, zones) in enumerate(sides)]
    if len(given) >= len(order):
        return None
    habit, label, zones, i = order[len(given)]
    film = max(_film(project, z, coats) for z in zones)
    dose = full_dose(model, max(film, 1.0)) if habit.full else SKIN_DOSES * model.gel_mJ_cm2
    strength = on[-1].mW_cm2 if on else mW_cm2
    since = on[-1].at_h if on else _last(given, laid)
    rest_h = habit.after_min / 60.0 if i == 0 else 0.0
    seconds = dose / strength
    return LampTurn(
        on=bool(on), since_h=since, due_h=since + (seconds / 3600.0 if on else rest_h), label=f"{label}: {habit.label}",
        how=habit.how, zones=on[-1].zones if on else zones, seconds=seconds, mW_cm2=strength, nth=i + 1, of=len(sides),
    )  # fmt: skip


def _last(given: Sequence[Exposure], otherwise: float) -> float:
    return given[-1].at_h if given else otherwise


def _film(project: Project, zone: str, coats: Sequence[Coat]) -> float:
    """Nominal film on a zone [um]."""
    place = project.zone(zone)
    return sum(c.share(place) for c in coats) - sum(s.share(place) for s in project.sandings)
