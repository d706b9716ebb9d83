"""What instruments taught, kept in the shop file beside the journal, so that those in the Book need not be read."""

from __future__ import annotations

from datetime import UTC
from typing import TYPE_CHECKING

import msgspec

from ravden.journal.kinds.rate import RateAccepted

if TYPE_CHECKING:
    from collections.abc import Sequence
    from datetime import datetime

    from ravden.core.record.word import Word
    from ravden.core.state.learnt import Lesson
    from ravden.core.stock.lots import Draw
    from ravden.journal.entry import Entry
    from ravden.journal.store import Journal

Pairs = tuple[tuple[float, float], ...]


class Kept(msgspec.Struct, frozen=True, omit_defaults=True):
    """As it is written: ln and variance of the applicator, no variance where it taught nothing. coated: whether it had
    a coat at all; said: of the shop's own figures, which, when, ln and sd; cut, scratch: of the hands alone, as earlier
    versions kept them; drawn: when, of which finish, and how much of it and of thinner its coats took [ml]; rubbed:
    when, paper or compound, of which grade, and how much of it; foretold: what was foretold of it and came
    (foretold_kept.py), empty where that has not been worked out since."""

    coated: bool = False
    ln: float = 0.0
    var: float | None = None
    cut: Pairs = ()
    scratch: Pairs = ()
    said: tuple[tuple[str, str, float, float], ...] = ()
    drawn: tuple[tuple[str, str, float, float], ...] = ()
    rubbed: tuple[tuple[str, str, str, float], ...] = ()
    foretold: str = ""


def learnt_before(entries: Sequence[Entry]) -> bool:
    """Whether a shop has taken over a drying rate of its own, which multiplies built-in figures."""
    return any(isinstance(e.body, RateAccepted) for e in entries)


def keep(journal: Journal, instrument: str, upto: int, lesson: Lesson, drawn: Sequence[Draw] = ()) -> None:
    """Write what an instrument taught, as of an entry, and what its coats took out of cans."""
    gun = lesson.gun
    said = gun is not None and gun.var < float("inf")
    body = Kept(
        coated=gun is not None, ln=gun.ln if gun is not None and said else 0.0,
        var=gun.var if gun is not None and said else None,
        # To the digit: it stands for what is worked out again where the record was changed since.
        said=tuple(_pair(w) for w in lesson.words),
        drawn=tuple((_exact(d.at), d.material, d.ml, d.thinner_ml) for d in drawn if d.kind == "finish"),
        rubbed=tuple((_exact(d.at), d.kind, d.material, d.ml) for d in drawn if d.kind != "finish"),
    )  # fmt: skip
    journal.keep_lesson(instrument, upto, msgspec.json.encode(body).decode())


def keep_more(journal: Journal, instrument: str, upto: int, before: str, word: Word) -> None:
    """Keep one word more beside what an instrument taught. before: as it was kept."""
    found = msgspec.json.decode(before, type=Kept)
    said = (*found.said, _pair(word))
    journal.keep_lesson(instrument, upto, _with(found, said))


def _pair(word: Word) -> tuple[str, str, float, float]:
    return word.key, _exact(word.at), word.ln, word.sd


def _exact(at: datetime) -> str:
    return at.astimezone(UTC).isoformat()


def _with(found: Kept, said: tuple[tuple[str, str, float, float], ...]) -> str:
    return msgspec.json.encode(msgspec.structs.replace(found, said=said, foretold="")).decode()


def lessons_of(journal: Journal) -> dict[str, Lesson]:
    """What is kept, by instrument. What cannot be read is left out: it is worked out anew."""
    kept = journal.lessons()
    if not kept:
        return {}
    from ravden.core.film.carry import Evidence
    from ravden.core.state.learnt import Lesson

    out, handed = {}, journal.last_written()
    for instrument, text in kept.items():
        try:
            found = msgspec.json.decode(text, type=Kept)
            words = _words(found, instrument, handed.get(instrument))
        except (msgspec.DecodeError, msgspec.ValidationError, ValueError):
            continue
        var = float("inf") if found.var is None else found.var
        gun = Evidence(ln=found.ln, var=var) if found.coated else None
        out[instrument] = Lesson(gun=gun, words=words)
    return out


def _words(found: Kept, instrument: str, handed: datetime | None) -> tuple[Word, ...]:
    from datetime import datetime

    from ravden.core.record.word import CUT, SCRATCH, Word

    told = [(key, datetime.fromisoformat(at), ln, sd) for key, at, ln, sd in found.said]
    if handed is not None:  # as it was kept before there were more figures than these
        told += [(key, handed, *pair) for key, of in ((CUT, found.cut), (SCRATCH, found.scratch)) for pair in of]
    return tuple(Word(key=key, ln=ln, sd=sd, at=at, of=instrument) for key, at, ln, sd in told)


def drawn_of(journal: Journal) -> dict[str, tuple[Draw, ...]]:
    """What the coats of instruments took out of cans, by instrument, where that was kept."""
    from datetime import datetime

    from ravden.core.stock.lots import Draw

    out = {}
    for instrument, text in journal.lessons().items():
        try:
            found = msgspec.json.decode(text, type=Kept)
            out[instrument] = tuple(
                Draw(at=datetime.fromisoformat(at), material=material, ml=ml, thinner_ml=thinner, of=instrument)
                for at, material, ml, thinner in found.drawn
            ) + tuple(
                Draw(at=datetime.fromisoformat(at), material=grade, ml=amount, of=instrument, kind=kind)
                for at, kind, grade, amount in found.rubbed
            )
        except (msgspec.DecodeError, msgspec.ValidationError, ValueError):
            continue
    return out
