"""The time zone of this machine, by its IANA name."""

from ravden.journal.hours import zone_of


def of_this_machine() -> str:
    """Such as Europe/Rome; empty where it cannot be told."""
    import tzlocal

    try:
        name = tzlocal.get_localzone_name()
    except Exception:  # a machine whose clock is set up in no way it knows
        return ""
    return name if zone_of(name) is not None else ""
