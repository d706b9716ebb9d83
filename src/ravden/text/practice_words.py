"""What the trainer says: the state of paper and film while one rubs, and what came of it."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ravden.core.surface.score import FILM_PART, Score, Worked
from ravden.text import written

if TYPE_CHECKING:
    from ravden.core.surface.trial import Told
    from ravden.text.units import Units

DRAGS = ((0.4, "slides"), (1.0, "bites"), (2.2, "grabs"), (1e9, "sticks"))  # kPa felt [A]
CUTS = ((1.2, "cuts fresh"), (0.7, "cuts well"), (0.4, "cuts slowly"), (0.0, "hardly cuts"))
PART = {
    "level": "waves gone", "film": "film saved", "kept": "floor kept", "strays": "no strays", "time": "time",
    "paper": "paper",
}  # fmt: skip
INDICATIVE = " (indicative)"  # nothing has been measured yet of how this hand cuts
MAY_CLAIM = (
    "It knows the order of backings, that dull is not level, load times sliding, the volume of a texture, pressure over "
    "an edge. Not your minutes, sheets and micrometres, heat, gumming, water, feel."
)


def drag(kPa: float) -> str:
    """How the paper feels, in a word."""
    return next(word for most, word in DRAGS if kPa < most)


def paper(told: Told) -> str:
    """How the paper does: its cut, and whether it is loaded or worn."""
    cut = next(word for least, word in CUTS if told.cut >= least)
    if told.loaded > 1.6:
        return f"{cut}; clogged, it pills"
    if told.loaded > 0.8:
        return f"{cut}; loaded, wipe it"
    return f"{cut}; worn, take a new piece" if told.worn > 0.9 else cut


def share(part: float) -> str:
    """A share, in whole per cent: all of it only where nothing is left."""
    return f"{min(100 * part, 99) if part < 0.9995 else 100:.0f} %"


def minutes(told: Told) -> str:
    """How long it took."""
    return f"{written.number(told.minutes, '.1f')} min"


def numbers(told: Told, units: Units, *, by_eye: bool, learnt: bool) -> str:
    """Where it stands. by_eye: how much is dull is for the eye to say; learnt: minutes are those of this hand."""
    pieces = f"{told.pieces} {'piece' if told.pieces == 1 else 'pieces'}"
    clock = f"{minutes(told)}{'' if learnt else INDICATIVE}, {told.strokes:.0f} strokes, {pieces}"
    if by_eye:
        return f"{clock}\nHow much is dull: by eye. It is told at the end."
    lines = (
        f"{share(told.touched)} dull", f"waves {units.film(told.rms_um)}", f"{units.film(told.used_um)} used in the worst place",
        f"{units.film(max(told.least_um, 0.0))} left at the least", clock,
    )  # fmt: skip
    return "\n".join(lines)


def verdict(worked: Worked, found: Score, told: Told, par: Told, units: Units) -> tuple[str, ...]:
    """At most two sentences, of what cost most."""
    if told.mean_um <= 0:
        return ("Nothing was rubbed: the panel is as it was.",)
    if found.through:
        bare = written.number(told.bare_mm2, ".0f")
        return (f"Through: look at the ring. {bare} mm² of wood are bare, and no polish brings that back.",)
    said = []
    waves = f"{units.film(worked.rms_um)} of {units.film(worked.rms0_um)}"
    if told.touched > 0.95 and worked.rms_um > 0.4 * worked.rms0_um:
        said.append(f"All dull, but the waves are still there: {waves}. A soft backing follows them.")
    elif told.touched < 0.97:
        said.append(f"{share(1 - told.touched)} is still shiny: those are lows, and polish will show them.")
    lost = sorted(((most - earned, name) for name, earned, most in found.parts()), reverse=True)
    for cost, name in lost:
        if len(said) == 2 or cost < 1.5:
            break
        sentence = _cost(name, worked, told, par, units)
        if sentence and (not said or name != "level"):
            said.append(sentence)
    return tuple(said[:2]) or ("Level, with film to spare: nothing to add.",)


def _cost(name: str, worked: Worked, told: Told, par: Told, units: Units) -> str:
    if name == FILM_PART and worked.used_um > worked.par_um:
        why = (
            "you went on after the last shiny spot"
            if told.touched > 0.985
            else "one place was rubbed more than the rest"
        )
        return f"You took {units.film(worked.used_um)} where {units.film(worked.par_um)} would do: {why}."
    if name == "kept" and worked.least_um < worked.floor_um:
        return f"{units.film(worked.least_um)} are left in the thinnest place, where {units.film(worked.floor_um)} are wanted."
    if name == "strays" and worked.strays:
        one = "One stray scratch is" if worked.strays == 1 else f"{worked.strays} stray scratches are"
        return f"{one} in it: a clogged paper pills, and pills scratch."
    if name == "time" and worked.minutes > worked.par_minutes:
        return f"{minutes(told)} where {minutes(par)} would do."
    if name == "paper" and worked.pieces > worked.par_pieces:
        return f"{worked.pieces} pieces of paper where {worked.par_pieces} would do."
    if name == "level" and worked.rms_um > 0.3:
        return f"Waves of {units.film(worked.rms_um)} are left, of {units.film(worked.rms0_um)}."
    return ""
