"""A method made to fit one instrument: zones in another finish, and a way of colouring put in."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from msgspec.structs import replace

from ravden.core.errors import InputError, need
from ravden.core.method.steps import Method, Stage


@dataclass(frozen=True, slots=True, kw_only=True)
class Module:
    """A way of colouring wood, put into a method before its film: why, against, and its steps.

    after_pores: whether the pores are filled before it; solvent: what its colour is dissolved in, which a wash coat or
    wood conditioner under it has to match.
    """

    id: str
    label: str
    why: str
    against: str
    solvent: str
    stage: tuple[Stage, ...]
    after_pores: bool = False
    basis: str = ""

    def __post_init__(self) -> None:
        need(len(self.stage) > 0, "stage", "a way of colouring needs at least one step")
        for stage in self.stage:
            need(stage.kind in ("prepare", "colour", "mask", "finish"), "kind", f"no {stage.kind} belongs to colouring")


def with_zones(
    method: Method, finishes: Mapping[str, str], ways: Mapping[str, Method], names: Mapping[str, str]
) -> Method:
    """The method with the coats of zones under another finish put beside its own: after its last own coats, since
    that is when the body waits and hands are free.

    finishes: material by zone; ways: a method of each such material, whose coats are taken; names: what zones are
    called. A finish that some stage lays on zones already is left as it stands.
    """
    there = {s.finish for s in method.stage if s.zones}
    groups: dict[str, list[str]] = {}
    for zone, finish in finishes.items():
        if finish not in there and finish in ways:
            groups.setdefault(finish, []).append(zone)
    if not groups:
        return method
    at = max((i for i, s in enumerate(method.stage) if s.kind == "coats" and not s.zones), default=-1) + 1
    put: list[Stage] = []
    for finish, zones in groups.items():
        where = " and ".join(names.get(z, z).lower() for z in zones)
        put += [
            replace(s, finish=finish, zones=tuple(zones), label=f"{s.label}: {where}", id=f"{finish}:{s.key}")
            for s in ways[finish].stage
            if s.kind == "coats" and not s.finish
        ]
    stages = [*method.stage[:at], *put, *method.stage[at:]]
    if method.stage[-1].kind == "wait":
        stages[-1:-1] = [
            Stage(kind="wait", label=f"Cure to case: {' and '.join(names.get(z, z).lower() for z in zones)}",
                  id=f"{finish}:case", window=method.stage[-1].window, zones=tuple(zones), finish=finish)
            for finish, zones in groups.items()
        ]  # fmt: skip
    return replace(method, stage=tuple(stages))


def coloured(method: Method, module: Module) -> Method:
    """The method with this way of colouring in the place of its own, or before its first coat.

    Raises InputError where a film would lie under the colour with no coat meant to bar it.
    """
    brought = {s.label for s in module.stage}  # a step both have, such as raising the grain, is done once
    stages = [s for s in method.stage if s.kind != "colour" and s.label not in brought]
    first = next((i for i, s in enumerate(stages) if s.kind == "coats"), len(stages))
    was = next((i for i, s in enumerate(method.stage) if s.kind == "colour"), None)
    if was is not None and any(s.kind == "coats" for s in method.stage[:was]):
        raise InputError(
            "colour", "this method colours over a film that blocks the wood; a dye would not reach the wood there"
        )
    kinds = [s.kind for s in stages[:first]]
    if module.after_pores and "pores" in kinds:
        at = len(kinds) - kinds[::-1].index("pores")
    else:
        wood = [i for i, s in enumerate(stages[:first]) if s.kind == "prepare"]
        fill = kinds.index("pores") if "pores" in kinds else first
        # The dust is cleaned off before the colour, the masking waits for the film.
        at = min(max(wood, default=-1) + 1, fill)
    return replace(method, stage=(*stages[:at], *module.stage, *stages[at:]))


def edited(stages: Sequence[Stage], at: int, stage: Stage | None = None, *, insert: bool = False) -> tuple[Stage, ...]:
    """The steps with one changed, put in after another, or left out (None)."""
    need(-1 <= at < len(stages), "step", "there is no such step")
    if insert:
        assert stage is not None
        return (*stages[: at + 1], stage, *stages[at + 1 :])
    return (*stages[:at], *(() if stage is None else (stage,)), *stages[at + 1 :])


def moved(stages: Sequence[Stage], at: int, by: int) -> tuple[Stage, ...]:
    """The steps with one of them moved up or down by one."""
    to = at + by
    need(0 <= at < len(stages) and 0 <= to < len(stages), "step", "it cannot go further")
    out = list(stages)
    out[at], out[to] = out[to], out[at]
    return tuple(out)
