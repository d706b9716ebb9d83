"""Somebody forgotten, to whom instruments went. No Qt."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ravden.app.changes import Changes
from ravden.core.errors import NO_FILE, InputError
from ravden.journal.forget import forget
from ravden.text import words

if TYPE_CHECKING:
    from ravden.app.session import ShopSession


def forget_person(session: ShopSession, number: int, origin: str = "") -> str:
    """Forget a person by number, for good; returns what is to be said of where the name may still be. Raises
    InputError."""
    if session.journal is None:
        raise InputError("", NO_FILE, remedy="file")
    name = session.people.get(number, "")
    left = forget(session.journal, number)
    session.people = session.journal.people()
    session.tell(Changes(origin=origin, appearance=True))
    # What was typed into a note stays in the record.
    whole = "CASE WHEN json_valid(body) THEN body ELSE json_quote(body) END"
    texts = session.journal.rows(
        f"SELECT count(DISTINCT entry.id) FROM entry, json_tree({whole}) AS said "
        "WHERE said.type = 'text' AND instr(said.value, ?)", (name,),
    )  # fmt: skip
    noted = int(texts[0][0])
    told = "forgotten, in this file and its copies"
    if noted:
        told += f"; {words.plural(noted, 'note')} in the journal still {'say' if noted > 1 else 'says'} the name"
    told += f"; so does {words.listed(left.said)} beside it" if left.said else ""
    for file, why in left.unreached:
        told += f"; {file} could not be reached ({why}) and holds the name still: delete it if nobody needs it"
    return told if left.said or left.unreached else f"{told}; not in what was printed or copied away"
