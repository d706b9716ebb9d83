"""What shows where the mouse rests, as it was written: a name with angle brackets in it is no markup."""


def plain_tip(text: str) -> str:
    """Text for a tip that may hold what somebody typed."""
    if "<" not in text:
        return text
    from html import escape

    return f"<span>{escape(text)}</span>"
