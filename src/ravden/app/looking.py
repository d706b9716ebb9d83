"""What becomes of a look at photos: an entry that moves nothing, and small copies beside the shop file."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from ravden.core.errors import InputError
from ravden.exchange.photo import copy_small
from ravden.journal.kinds.look import LookNoted, PhotoNamed

if TYPE_CHECKING:
    from ravden.app.session import ShopSession
    from ravden.exchange.inspecting import Inspected

RULE = "This rule was set on simulated panels, not photographs, and misses spots. Trust your eye."
SAID = {"level": "level", "lows-left": "lows left", "cannot-tell": "cannot tell"}


def photos_folder(shop_file: Path) -> Path:
    """Where small copies of photos lie: beside the shop file, named after it."""
    return shop_file.with_suffix(".photos")


def note(session: ShopSession, zone: str, said: str, grade: str, found: Inspected) -> LookNoted:
    """Keep the look as an observation, with copies of its photos. Raises InputError where it cannot be kept."""
    look = found.look
    used = [s for s in found.shots if s.light is not None and s.sha256]
    body = LookNoted(
        zone=zone, said=said, grade=grade,  # type: ignore[arg-type]
        marked=look.verdict if look is not None else "", lit_share=look.lit_share if look is not None else None,
        spots=len(look.ringed) if look is not None else 0,
        photos=tuple(PhotoNamed(s.sha256, s.shot.path.name[:255]) for s in used),
    )  # fmt: skip
    session.log(body, instrument=session.selected, origin="look")
    assert session.journal is not None
    folder = photos_folder(session.journal.path)
    for seen in used:
        try:
            copy_small(seen.shot.path, folder / f"{seen.sha256[:16]}.jpg")
        except (OSError, InputError):
            continue  # the look is kept; its pictures are a convenience
    return body


def verdict_words(found: Inspected) -> tuple[str, str]:
    """What the rule says, and what it rests on: never that a panel is done."""
    look = found.look
    if look is None:
        return "Look for yourself.", " ".join(f"{w[:1].upper()}{w[1:]}." for w in found.why)
    if look.verdict == "shiny_spots":
        most = "" if look.parts <= len(look.spots) else f", the {len(look.spots)} largest ringed"
        lit = f"{100 * look.lit_share:.0f} % of the panel lights up"
        return "Shiny spots, marked.", f"{look.parts} of them{most}; {lit}. {RULE}"
    first = "Look here first." if look.ringed else "Nothing lights up that could be ringed."
    return "Cannot tell.", f"{first} Under about 4 % shiny it says nothing. {RULE}"
