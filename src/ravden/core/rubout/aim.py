"""What the next ladder is for: a key that coats follow, or the sheen of the finished instrument."""

from dataclasses import dataclass

from ravden.core.abrasive.job import BURIED_FILM_UM, BURIED_KEY_UM, KEY, KEY_UM, PADDED_COAT_UM, PADDED_KEY_UM
from ravden.core.method.steps import Method, Stage
from ravden.core.record import Project

KEY_FLOOR = 0.25  # [A] of the least film: what a level that coats follow must leave
CUT_BELOW_UM = 3.0  # [A] film below the cut that must bear the paper too
SANDED = ("level", "rub-out")


@dataclass(frozen=True, slots=True, kw_only=True)
class Aim:
    """target: key, or empty for the sheen of the instrument; key_um: grain that leaves the key; before: what kind of
    coats it is for (satin, padded or plain); left: whether anything is still to be sanded; ever: whether the method
    sands at all."""

    target: str = ""
    key_um: tuple[float, float] = KEY_UM
    before: str = ""
    left: bool = True
    ever: bool = True

    @property
    def key(self) -> bool:
        return self.target == KEY


SHEEN = Aim()


def aim_of(project: Project, method: Method, index: int) -> Aim:
    """The aim of the first sanding of a method from stage ``index`` on."""
    at = next_sanding(method, index)
    if at is None:
        return Aim(left=False, ever=next_sanding(method, 0) is not None)
    return aim_at(project, method, at)


def next_sanding(method: Method, index: int) -> int | None:
    """The first sanding of the whole from stage ``index`` on; None: nothing more is sanded."""
    own = (i for i, s in enumerate(method.stage) if s.kind in SANDED and not s.patch)
    return next((i for i in own if i >= index), None)


def aim_at(project: Project, method: Method, at: int) -> Aim:
    """The aim of the sanding that is stage ``at`` of a method."""
    coats = coats_after(method, at)
    if coats is None:
        return SHEEN
    material = project.layers.get(coats.finish, project.material) if coats.finish else project.material
    thin = project.dry_um(material, coats.by, coats.um) <= PADDED_COAT_UM
    before = "satin" if material.flatted else "padded" if thin else "plain"
    buried = not thin and _to_come_um(project, method, at) >= BURIED_FILM_UM
    return Aim(target=KEY, key_um=PADDED_KEY_UM if thin else BURIED_KEY_UM if buried else KEY_UM, before=before)


def _to_come_um(project: Project, method: Method, at: int) -> float:
    """Dry film of the body's coats after a stage [um]."""
    coats = (s for s in method.stage[at + 1 :] if s.kind == "coats" and not (s.zones or s.patch))
    return sum(s.count * project.dry_um(project.layers.get(s.finish, project.material), s.by, s.um) for s in coats)


def coats_after(method: Method, at: int) -> Stage | None:
    """The first coats of the body that follow a sanding."""
    return next((s for s in method.stage[at + 1 :] if s.kind == "coats" and not (s.zones or s.patch)), None)
