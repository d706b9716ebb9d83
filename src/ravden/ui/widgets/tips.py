"""What shows where the mouse rests, as it was written: a name with angle brackets in it is no markup."""

from html import escape


def plain_tip(text: str) -> str:
    """Text for a tip that may hold what somebody typed."""
    return f"<span>{escape(text)}</span>" if "<" in text else text
