"""What every computed case has in common."""

import msgspec


class Case(msgspec.Struct, forbid_unknown_fields=True, kw_only=True):
    """A part of a case: unknown keys are an error."""
