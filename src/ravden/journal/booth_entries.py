"""What a session in the booth writes in the journal."""

import msgspec


class PassLogged(
    msgspec.Struct, frozen=True, forbid_unknown_fields=True, tag_field="kind", tag="pass", omit_defaults=True
):
    """One pass of a coat under way; its last pass is the coat itself."""


class CareLogged(
    msgspec.Struct, frozen=True, forbid_unknown_fields=True, tag_field="kind", tag="care", omit_defaults=True
):
    """A resting film turned, or wiped over again."""

    what: str


class LightOnLogged(
    msgspec.Struct, frozen=True, forbid_unknown_fields=True, tag_field="kind", tag="light-on", omit_defaults=True
):
    """Curing light turned on zones; the light it gave is an entry of its own once it is off."""

    zones: tuple[str, ...]
    mW_cm2: float


class SessionPart(msgspec.Struct, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """What a session does to one of its instruments, where that is not just what the plan has next. off_plan: coat or
    paper, though the plan has neither now; zones: only these, in this order; none named: all."""

    instrument: str
    off_plan: str = ""
    zones: tuple[str, ...] = ()


class SessionBegun(
    msgspec.Struct, frozen=True, forbid_unknown_fields=True, tag_field="kind", tag="session", omit_defaults=True
):
    """A session in the booth, on these instruments in this order. unchecked: what was not ticked on the list before
    it; lamp_mW_cm2: of the curing lamp at the work, 0 where nobody said; parts: what is done otherwise than planned."""

    instruments: tuple[str, ...]
    unchecked: tuple[str, ...] = ()
    lamp_mW_cm2: float = 0.0
    parts: tuple[SessionPart, ...] = ()


class SessionPaused(
    msgspec.Struct, frozen=True, forbid_unknown_fields=True, tag_field="kind", tag="pause", omit_defaults=True
):
    """The session was left, or gone on with; the film goes on drying either way."""

    on: bool = True


class SessionEnded(
    msgspec.Struct, frozen=True, forbid_unknown_fields=True, tag_field="kind", tag="session-end", omit_defaults=True
):
    """The session in the booth is over."""


class MixMade(msgspec.Struct, frozen=True, forbid_unknown_fields=True, tag_field="kind", tag="mix", omit_defaults=True):
    """Material made ready for the session, in ml; its pot life runs from then on."""

    material: str
    ml: float


OFF_PLAN = ("", "coat", "paper")
BOOTH_KINDS = (MixMade, SessionBegun, SessionEnded, SessionPaused)  # of the session, not of one instrument
