"""What is done by the plan, and to it: its next step, other steps, another method. No Qt."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import structs

from ravden.app.changes import Changes
from ravden.app.next_coat import next_mend
from ravden.app.session import ShopSession
from ravden.core.errors import NO_INSTRUMENT, InputError
from ravden.journal.kinds.coat import CoatLogged
from ravden.journal.kinds.instrument import InstrumentAdded
from ravden.journal.kinds.plan import PlanSet
from ravden.journal.kinds.step import StepLogged

if TYPE_CHECKING:
    from datetime import datetime

    from ravden.core.method.steps import Stage
    from ravden.journal.entry import Entry
    from ravden.journal.rack import OnRack


def log_next_step(
    session: ShopSession, origin: str = "", *, skipped: bool = False, at: datetime | None = None
) -> Entry:
    """The next step of the method done, or skipped, where it is work by hand; at: when, None: now. Raises InputError
    where it is not."""
    from ravden.core.method.steps import WORK_KINDS, progress

    rack = _rack(session)
    method = rack.method
    next_up = progress(method, rack.acts, rack.hours(session.now), rack.project.body).index
    if next_up >= len(method.stage):
        raise InputError("", "all steps are done")
    stage = method.stage[next_up]
    own = None if skipped else next_mend(rack, session.now)
    if own is not None and not isinstance(own, CoatLogged):
        return session.log(own, instrument=session.selected, at=at, origin=origin)
    if stage.kind not in (*WORK_KINDS, "scuff") or (stage.kind == "scuff" and not skipped):
        how = {"coats": "log the coat (C)", "wait": "it waits for the film"}.get(stage.kind, "log the sanding (S)")
        raise InputError("", f"next is {stage.label}: {how}")
    body = StepLogged(step=stage.key, skipped=skipped)
    entry = session.log(body, instrument=session.selected, at=at, origin=origin)
    if skipped and stage.wrong:
        session.tell(Changes(origin=origin, message=f"Skipped: {stage.label}. {stage.wrong}"))
    return entry


def edit_plan(session: ShopSession, stages: tuple[Stage, ...], what: str, origin: str = "") -> Entry:
    """Other steps for the instrument turned to; none at all: its method's own again."""
    body = PlanSet(method=_rack(session).instrument.method, stage=stages, what=what)
    return session.log(body, instrument=session.selected, origin=origin)


def choose_method(
    session: ShopSession, instrument_id: str, method_id: str, origin: str = "", plan: tuple[Stage, ...] = ()
) -> Entry:  # fmt: skip
    """Another method, and its finish, for an instrument that has no coat yet; plan: its steps with other numbers of
    coats."""
    if session.shop.on_rack(instrument_id).project.coats:
        raise InputError("", "coats were laid already; another method is chosen before the first one")
    method = session.catalogue.method(method_id)
    material = session.catalogue.material(method.material)
    entry = session.added(instrument_id)
    assert entry is not None and isinstance(entry.body, InstrumentAdded)
    least_um = method.least_um(material)
    body = structs.replace(entry.body, method=method.id, material=material.id, min_film_um=least_um, plan=plan)
    return session.correct(entry.id, body, origin=origin)


def _rack(session: ShopSession) -> OnRack:
    if session.rack is None:
        raise InputError("", NO_INSTRUMENT, remedy="instrument")
    return session.rack
