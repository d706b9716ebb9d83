"""A card for the player: how to care for the finish, in large plain words, without a number of film. No Qt."""

from __future__ import annotations

from html import escape
from typing import TYPE_CHECKING

from ravden.core.method.refinish import class_of
from ravden.text import words

if TYPE_CHECKING:
    from ravden.app.session import ShopSession
    from ravden.core.record import Material, Project

SIZE_PT = 20
GOES_ON = {
    "evaporative": "It gets harder for some months yet: till then leave no strap, stand or cloth on it for long.",
    "oxidation": "It gets harder for some weeks yet. Until then leave nothing lying on it.",
    "crosslink": "It is as hard as it gets after a month. Until then leave nothing lying on it.",
    "light": "It is as hard as it will get.", "never": "It stays in the wood: oil it again when it looks dry.",
}  # fmt: skip


def html(session: ShopSession, project: Project, name: str) -> str:
    """The card of an instrument, every finish on it by itself."""
    shop = session.shop.name
    parts = [f"<p class='title'>{escape(name)}</p><p>finished at {escape(shop)}</p>"]
    own = [z.label.lower() for z in project.zones if z.name not in project.finishes]
    by_finish: dict[str, tuple[Material, list[str]]] = {project.material.id: (project.material, own)}
    for zone in project.zones:
        if zone.name in project.finishes:
            material = project.finishes[zone.name]
            by_finish.setdefault(material.id, (material, []))[1].append(zone.label.lower())
    for material, zones in by_finish.values():
        row = session.catalogue.cares[class_of(material)]
        where = f" ({words.listed(zones)})" if len(by_finish) > 1 else ""
        parts.append(f"<p><b>{escape(material.label)}{escape(where)}</b></p>")
        parts += [f"<p style='font-size: {SIZE_PT}pt'>{escape(text)}</p>" for text in
                  (row["care"], f"Keep away from it: {row['avoid'][:1].lower()}{row['avoid'][1:]}",
                   GOES_ON[material.cure.model])]  # fmt: skip
    parts.append(
        f"<p style='font-size: {SIZE_PT}pt'>Something wrong with it, or a year gone by? Bring it in, and let us look "
        "at it.</p>"
    )
    return "".join(parts)
