"""What is left of a method with another number or weight of the coats being built, as a slider tries it."""

from msgspec.structs import replace

from ravden.core.ahead.dated import WhatIf
from ravden.core.method.steps import Method, Stage


def stages_left(method: Method, ahead: list[tuple[int, Stage]], change: WhatIf) -> list[tuple[int, Stage]]:
    """What is left with another number or weight of the coats being built, where one is tried; later stages of coats
    stay as they are.

    Where the build is over, more coats take it back to the last stage of coats.
    """
    if change.coats is None and change.coat_um is None:
        return ahead
    at = next((i for i, (_, s) in enumerate(ahead) if is_build(s)), None)
    if at is None:
        if not change.coats:
            return ahead
        last = max(i for i, s in enumerate(method.stage) if is_build(s))
        return [(last, _tried(method.stage[last], change)), *list(enumerate(method.stage))[last + 1 :]]
    changed = [] if change.coats == 0 else [(ahead[at][0], _tried(ahead[at][1], change))]
    return [*ahead[:at], *changed, *ahead[at + 1 :]]


def is_build(stage: Stage) -> bool:
    """Whether it is coats of the instrument's own finish on all of it."""
    return stage.kind == "coats" and not (stage.finish or stage.patch or stage.zones)


def _tried(stage: Stage, change: WhatIf) -> Stage:
    um = stage.um if change.coat_um is None else change.coat_um
    return replace(stage, count=change.coats or stage.count, um=um)
