"""What each rung of a ladder, a texture and a defect should look like, and the same in words. No Qt.

Pictures are worked out when they are asked for and kept: the same question gives the same picture.
"""

from __future__ import annotations

import functools
import zlib
from typing import TYPE_CHECKING

import msgspec

from ravden.core.abrasive.gloss import rq_um
from ravden.core.abrasive.grades import find
from ravden.core.abrasive.scratch import REFERENCE_H_MPA, Rung
from ravden.core.surface import defects_seen, rake
from ravden.core.surface.contact import SOFT_KPA, Levelling, Rubbing, backs_of, rubbing_of
from ravden.core.surface.lamp import lamp, radiance
from ravden.core.surface.panel import PEEL_MM, peel
from ravden.core.surface.shade import lit, pixels, wood
from ravden.text.say import grade_name

if TYPE_CHECKING:
    from collections.abc import Callable, Iterable

    from ravden.catalogue.tables import Catalogue
    from ravden.core.abrasive.climb import Ladder
    from ravden.core.record import Project
    from ravden.core.surface.shade import Colour, Pixels

BESIDE = (60, 20)  # of a glance along the top, and of one straight down
GRAZING = 82
ANGLES = BESIDE
WIDE, HIGH = 180, 120
FIELD_MM = 36.0
LOUPE_UM = (9.0, 40.0)  # grain of papers whose scratches a loupe shows: about P400 to P2000
SHARES = (0.75, 0.90, 0.99)
RUN_CELLS, RUN_MM = 256, 51.2
LOAD_KPA, STROKE_M, MOST_STROKES, SOFT_STROKE = 2.0, 0.1, 1500, 0.25
KEPT = 64  # pictures
# What is seen, from how well the tubes are told apart on.
SEEN = (
    (0.85, "three sharp tubes"), (0.6, "three tubes with soft edges"), (0.2, "three tubes that run together"),
    (0.05, "a glow with a hint of tubes"), (0.0, "one dull glow, no tubes"),
)  # fmt: skip
SPOTS = {0.75: "shiny spots all over", 0.90: "single shiny spots", 0.99: "hardly a shiny spot left"}


class Sight(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """A picture (high, wide, 3) under its caption, and the same in words."""

    caption: str
    words: str
    pixels: Pixels


class RungSeen(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """A rung: its name, what is seen of the lamp in words, and its pictures."""

    grade: str
    words: str
    sights: tuple[Sight, ...]


class Wanted(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """A picture that is asked for: its caption, what it shows in words, and how it is made."""

    key: str
    caption: str
    words: str
    make: Callable[[], Pixels]


# What to look out for in a step, by its kind [A].
STEP_LOOKS = {
    "coats": ("orange-peel", "run", "dry-spray"), "scuff": ("nib", "sand-through", "witness"),
    "level": ("sand-through", "stray-scratch", "grooves"), "rub-out": ("stray-scratch", "swirl", "pigtails"),
    "wait": ("sink-back", "print", "wrinkling"), "pores": ("sink-back", "pinholes", "fish-eye"),
}  # fmt: skip
COAT_LOOKS = {"brush": ("brush-marks", "run", "nib"), "pad": ("nib", "print", "witness"), "wipe": ("nib", "wrinkling")}
NOTE = {"drawn": " (drawn)", "honest": ""}
WARNS = {"honest": "", "drawn": " The place is right; how wide and how bright it is drawn is not to scale."}


def looks_of_step(catalogue: Catalogue, project: Project, kind: str, by: str) -> tuple[Wanted, ...]:
    """What goes wrong in a step of a kind, coats by the way they are laid, over this instrument's wood."""
    way = by or project.own_way.get(project.material.id, "spray")
    kinds = COAT_LOOKS.get(way, STEP_LOOKS["coats"]) if kind == "coats" else STEP_LOOKS.get(kind, ())
    return looks_of(catalogue, kinds, colour_of(catalogue, project))


def looks_of(catalogue: Catalogue, kinds: Iterable[str], base: Colour) -> tuple[Wanted, ...]:
    """What can go wrong, as pictures to be made; what can only be told in words is left out."""
    looks = [catalogue.looks[k] for k in kinds if k in catalogue.looks and catalogue.looks[k].shown != "words"]
    return tuple(
        Wanted(
            key=f"{look.id} {base}", caption=f"{look.label}{NOTE[look.shown]}",
            words=f"{look.words}{WARNS[look.shown]}", make=functools.partial(defect, look.id, base),
        )
        for look in looks
    )  # fmt: skip


def colour_of(catalogue: Catalogue, project: Project) -> Colour:
    """The film of an instrument over its wood: pale where its grain is close, brown elsewhere (A)."""
    tone = "pale" if project.instrument.ground == "close-grain" else "brown"
    return film_colour(catalogue, project.material.family, tone)


def film_colour(catalogue: Catalogue, family: str = "", tone: str = "brown") -> Colour:
    """A film of a family over a wood; a clear one where nothing is known of it."""
    return catalogue.film_colours.get((family, tone)) or catalogue.film_colours["dissolving lacquer", tone]


def seen_of(ladder: Ladder, texture_um: float, base: Colour) -> tuple[RungSeen, ...]:
    """Every rung of a ladder, on a film of this colour; texture_um: what the first one levels, 0 where nothing."""
    out = []
    for i, step in enumerate(ladder.steps):
        rough = rough_of(step.rung)
        each = [words_of(rough, angle) for angle in BESIDE]
        said = "; ".join(f"at {angle}° {seen}" for angle, seen in zip(BESIDE, each, strict=True))
        if len(set(each)) == 1:
            said = f"along and from above {each[0]}"
        sights = [
            Sight(caption=f"{angle}°", words=f"At {angle}°: {seen}.", pixels=picture(rough, angle, base))
            for angle, seen in zip(BESIDE, each, strict=True)
        ]
        if step.rung.abrasive.coated:
            sights += _close_by(step.rung, rough, base)
        if i == 0 and texture_um > 0:
            sights += levelling_seen(step.rung, texture_um, base)
        out.append(
            RungSeen(
                grade=grade_name(step.rung.abrasive.name), words=f"{said[:1].upper()}{said[1:]}.", sights=tuple(sights)
            )
        )
    return tuple(out)


def rough_of(rung: Rung) -> float:
    """Roughness that a rung leaves, as pictures take it [um]."""
    return round(min(rq_um(rung.rz_um), 20.0), 4)


def _close_by(rung: Rung, rough_um: float, base: Colour) -> list[Sight]:
    """Along the top, which flatters; and under a loupe."""
    seen = words_of(rough_um, GRAZING)
    out = [
        Sight(
            caption=f"{GRAZING}°, along the top", pixels=picture(rough_um, GRAZING, base),
            words=f"At {GRAZING}°, along the top: {seen}. Looking along it flatters.",
        )
    ]  # fmt: skip
    grain = rung.abrasive.grain_um
    if LOUPE_UM[0] <= grain <= LOUPE_UM[1]:
        words = "Under a loupe: scratches that cross at small angles, all of one width."
        out.append(Sight(caption="loupe, 2.4 mm", words=words, pixels=loupe(round(grain, 1), base)))
    return out


def levelling_seen(rung: Rung, texture_um: float, base: Colour) -> list[Sight]:
    """A texture in raking light at 75, 90 and 99 % touched; nothing where it is not known how the block bends."""
    if backs_of(rung.backing) is None or rung.abrasive.kind != "paper":
        return []
    seen = levelled(rubbing_of(rung), round(texture_um, 1), base)
    return [
        Sight(
            caption=f"{100 * share:.0f} % dull", pixels=shown,
            words=f"In raking light with {100 * share:.0f} % of it dull: {SPOTS[share]}.",
        )
        for share, shown in zip(SHARES, seen, strict=False)
        if shown is not None
    ]  # fmt: skip


def words_of(rough_um: float, angle_deg: int) -> str:
    """What is seen of the lamp in a film of this roughness.

    >>> words_of(0.31, 20), words_of(0.02, 60)
    ('one dull glow, no tubes', 'three sharp tubes')
    """
    contrast = lamp(rough_um, angle_deg).contrast
    return next(said for least, said in SEEN if contrast >= least)


def _kept(pixels: Pixels) -> Pixels:
    pixels.setflags(write=False)
    return pixels


def _seed(*of: object) -> int:
    return zlib.crc32(repr(of).encode())


@functools.lru_cache(maxsize=KEPT)
def picture(rough_um: float, angle_deg: int, base: Colour) -> Pixels:
    """The lamp mirrored in a film: the film's own colour in even light, and the lamp over it."""
    light = radiance(rough_um, angle_deg, WIDE, HIGH)
    return _kept(pixels(lit(wood(base, HIGH, WIDE, FIELD_MM / WIDE), light)))


@functools.lru_cache(maxsize=KEPT)
def loupe(grain_um: float, base: Colour) -> Pixels:
    """Scratches of a paper, close by."""
    return _kept(pixels(defects_seen.loupe_seen(grain_um, base, WIDE, HIGH, _seed("loupe"))))


@functools.lru_cache(maxsize=KEPT)
def defect(kind: str, base: Colour) -> Pixels:
    """Something that went wrong. Raises InputError where there is no picture of it."""
    return _kept(pixels(defects_seen.defect_seen(kind, base, WIDE, HIGH, _seed(kind))))


@functools.lru_cache(maxsize=8)
def levelled(rubbing: Rubbing, texture_um: float, base: Colour) -> tuple[Pixels | None, ...]:
    """A texture under this paper in raking light, at each of SHARES, None where it does not come so far; and then
    polished, with the lamp mirrored in it."""
    dx, soft = RUN_MM / RUN_CELLS, rubbing.backs.E_kPa < SOFT_KPA
    height = peel(RUN_CELLS, dx, texture_um, PEEL_MM, _seed("peel")).astype("float32")
    work = Levelling(height, height * 0 + 1000, dx)
    lines = rake.scratches((HIGH, WIDE), dx, 15.0, _seed("lines"))
    under, out = wood(base, HIGH, WIDE, dx), []
    strokes = 0
    for share in SHARES:
        while strokes < MOST_STROKES and float((work.gone_um >= rubbing.touched_um).mean()) < share:
            work.rub(rubbing, LOAD_KPA, STROKE_M * (SOFT_STROKE if soft else 1))
            strokes += 1
        dull = rake.dullness(work.gone_um[:HIGH, :WIDE], rubbing.touched_um)
        shown = pixels(rake.raked(work.height_um[:HIGH, :WIDE], dull, under, dx, lines))
        out.append(_kept(shown) if strokes < MOST_STROKES else None)
    polished = defects_seen.film_seen(work.height_um[:HIGH, :WIDE], dx, defects_seen.SMOOTH_UM, 20, base)
    return (*out, _kept(pixels(polished)))


# The sheet of all there is to see: after these, from coarse to fine, and what each is held on.
LEFT_BY = (
    ("FEPA-P:P400", "firm"), ("FEPA-P:P800", "firm"), ("FEPA-P:P1200", "firm"), ("FEPA-P:P2000", "firm"),
    ("FOAM-CLASS:3000", "foam"), ("COMPOUND:coarse (Ra 0.07)", "cloth"), ("COMPOUND:fine (Ra 0.02)", "cloth"),
    ("COMPOUND:ultrafine (Ra 0.008)", "cloth"),
)  # fmt: skip
PEELS_UM = (3, 8, 18, 35)
LEVELS_WITH, LEVELS_UM = "FEPA-P:P800", 18.0
TONES = (("brown", "Brown wood"), ("pale", "Pale wood"), ("black", "Black"))


def sheet(catalogue: Catalogue, tone: str) -> tuple[tuple[str, tuple[Wanted, ...]], ...]:
    """Everything there is to see, by heading, over one wood."""
    base = film_colour(catalogue, tone=tone)

    def want(key: str, caption: str, words: str, make: Callable[[], Pixels]) -> Wanted:
        return Wanted(key=f"{key} {tone}", caption=caption, words=words, make=make)

    def rung(grade: str, backing: str) -> Rung:
        return Rung(
            abrasive=find(catalogue.abrasives, grade), backing=catalogue.backings[backing], mode="wet",
            hardness_MPa=REFERENCE_H_MPA,
        )  # fmt: skip

    rungs = [rung(grade, backing) for grade, backing in LEFT_BY]
    papers = tuple(
        want(f"{r.abrasive.id} {angle}", f"{grade_name(r.abrasive.name)}, {angle}°", words_of(rough_of(r), angle),
             functools.partial(picture, rough_of(r), angle, base))
        for angle in (20, 60, GRAZING) for r in rungs
    )  # fmt: skip
    level = []
    for name, backing in (("Firm block", "firm"), ("Soft pad", "foam")):
        held = rubbing_of(rung(LEVELS_WITH, backing))
        for i, share in enumerate(SHARES):
            make = functools.partial(_level_at, held, base, i)
            dull = f"{100 * share:.0f} % dull"
            level.append(want(f"{backing} {share}", f"{name}, {dull}", f"In raking light: {SPOTS[share]}.", make))
        after = "straight tubes" if backing == "firm" else "the tubes still break up: the pad followed the waves"
        make = functools.partial(_level_at, held, base, len(SHARES))
        level.append(
            want(f"{backing} polished", f"{name}, then polished", f"Dull all over, then polished: {after}.", make)
        )
    peels = tuple(
        want(f"peel {pv}", f"Orange peel {pv} µm", f"A texture of {pv} µm: tubes bent, then broken, the higher it is.",
             functools.partial(textured, float(pv), base)) for pv in PEELS_UM
    )  # fmt: skip
    return (
        ("After each paper and compound: a lamp of three tubes, from above, along the top and grazing", papers),
        ("On the way to level: orange peel of 18 µm under P800, in raking light", tuple(level)),
        ("Textures", peels),
        ("What goes wrong", looks_of(catalogue, catalogue.looks, base)),
    )


def _level_at(rubbing: Rubbing, base: Colour, i: int) -> Pixels:
    found = levelled(rubbing, LEVELS_UM, base)[i]
    if found is None:
        raise ValueError("it does not come so far")
    return found


@functools.lru_cache(maxsize=KEPT)
def textured(texture_um: float, base: Colour) -> Pixels:
    """Orange peel as it was sprayed."""
    return _kept(pixels(defects_seen.peel_seen(texture_um, base, WIDE, HIGH, _seed("peel"))))
