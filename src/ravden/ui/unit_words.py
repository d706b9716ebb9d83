"""Sentences of the core in the user's own units. No Qt."""

from ravden.ui.session import ShopSession


def session_words(text: str, session: ShopSession) -> str:
    """Core sentences speak of um; the screen of the user's unit."""
    if not session.units.us:
        return text.replace(" um", " µm")
    parts = text.split(" ")
    for i, part in enumerate(parts):
        if part.strip(",.") == "um" and i:
            bare = parts[i - 1].lstrip("±")
            try:
                value = float(bare)
            except ValueError:
                continue
            sign = "±" if parts[i - 1].startswith("±") else ""
            parts[i - 1] = sign + session.units.film_number(value)
            parts[i] = part.replace("um", "mil")
    return " ".join(parts)
