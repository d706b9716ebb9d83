"""Logging a rung in two keys, and a stray scratch: what becomes of them in the journal. No Qt."""

from ravden.app.session import ShopSession
from ravden.core.ahead.outlook import Outlook
from ravden.core.errors import InputError
from ravden.core.record import Zone
from ravden.core.rubout.rub_out import RubOut
from ravden.core.session.bench import ends_stage, worked_zones, zone_um
from ravden.journal.kinds.mishap import MishapLogged
from ravden.journal.kinds.sanding import SandingLogged
from ravden.text.words import listed


def zone_keys(found: Outlook, rub: RubOut | None = None, index: int = 0) -> tuple[tuple[str, str, str], ...]:
    """Key, zone and label of every zone a rung can be logged on; 0 is all that bear it, edges left out."""
    zones = [z for z in found.project.zones if z.name not in found.project.bare]
    off = [z.label.lower() for z in _left_out(found, rub, index)]
    every = f"all but the {listed(['edges', *off])}"
    return (("0", "", every), *((str(i), z.name, z.label) for i, z in enumerate(zones[:9], start=1)))


def _left_out(found: Outlook, rub: RubOut | None, index: int) -> list[Zone]:
    """Zones of the body that wait for a finer rung than this, or are left alone."""
    if rub is None or rub.ladder is None:
        return []
    joins = rub.ladder.verdict.joins
    at = {z.name: joins.get(z.label, 0) for z in worked_zones(found)}
    return [z for z in worked_zones(found) if (k := at[z.name]) is None or k > index]


def rung_question(found: Outlook, rub: RubOut, index: int) -> str:
    """What is asked after the first key."""
    if rub.ladder is None or index >= len(rub.ladder.steps):
        raise InputError("", "there is no such rung in the ladder")
    name = rub.ladder.steps[index].rung.abrasive.name
    return (
        f"{name}, done on: "
        + "  ".join(f"{key} {label}" for key, _, label in zone_keys(found, rub, index))
        + "   Esc leaves"
    )


def rung_entry(session: ShopSession, found: Outlook, rub: RubOut, index: int, key: str) -> SandingLogged:
    """The entry for a rung done on a zone: the film it was to take, and whether the stage is done with it."""
    assert rub.ladder is not None
    zone = next((z for k, z, _ in zone_keys(found) if k == key), None)
    if zone is None:
        raise InputError("", f"no zone has the key {key}")
    step = rub.ladder.steps[index]
    project = found.project
    labels = {z.name: z for z in project.zones}
    off = {z.name for z in _left_out(found, rub, index)}
    body = tuple(z.name for z in project.zones if z.kind != "edge" and z.name not in project.bare)
    on = (zone,) if zone else tuple(z for z in body if z not in off) or body
    um = zone_um(step.rung, step.remove_um, labels[zone]) if zone else step.remove_um
    steps = rub.ladder.steps
    polish = step.rung.abrasive.kind == "polish"
    last = ends_stage(step.rung, steps[index + 1 :])
    before = {z for d in rub.film.done if d.grade == step.rung.abrasive.name for z in d.zones}
    every = {z.name for z in worked_zones(found)} - off
    whole = every <= before | set(on)
    return SandingLogged(
        um=round(um, 2), grade=step.rung.abrasive.name, purpose="rub-out" if polish else "level", zones=on,
        part=not (last and whole), mode=rub.mode, texture_um=_texture(rub, index),
    )  # fmt: skip


def _texture(rub: RubOut, index: int) -> float:
    """What the first rung levels, where somebody measured it [um]; else 0."""
    first = index == 0 and rub.job.after is None
    return rub.ask.texture_um or 0.0 if first else 0.0


def stray_entry(found: Outlook, rub: RubOut, zone: str, place: tuple[float, float] | None) -> MishapLogged:
    """A stray scratch on a zone, noticed after the rung done last."""
    done = rub.film.done
    grade = done[-1].grade if done else (rub.ladder.steps[0].rung.abrasive.name if rub.ladder is not None else "")
    return MishapLogged(what="stray-scratch", zone=zone or found.project.zones[0].name, grade=grade, place=place)
