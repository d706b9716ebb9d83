"""Three shops: what they make, how many at a time, who is there, and when."""

from dataclasses import dataclass

WORKDAYS = ("mon", "tue", "wed", "thu", "fri")
DAYS = dict.fromkeys(WORKDAYS, ((8.0, 12.0), (13.0, 17.0)))
EVENINGS = {**dict.fromkeys(WORKDAYS, ((18.0, 21.5),)), "sat": ((9.0, 13.0), (14.0, 17.0))}


@dataclass(frozen=True, kw_only=True)
class Acted:
    """racked: instruments at a time; a_year: begun in a year at most; people: name and week; methods and kinds in
    turn."""

    racked: int
    a_year: int
    people: tuple[tuple[str, dict[str, tuple[tuple[float, float], ...]]], ...]
    week: dict[str, tuple[tuple[float, float], ...]]
    methods: tuple[str, ...]
    kinds: tuple[str, ...] = ("solid-slab", "parlour-guitar", "mandola", "tenor-ukulele")


SHOPS = {
    "hobby": Acted(racked=2, a_year=10, people=(), week=EVENINGS, methods=("lacquer-fine-start",)),
    "one": Acted(
        racked=6, a_year=40, people=(), week=DAYS,
        methods=("lacquer-fine-start", "lacquer-flow-coat", "waterborne-sprayed"),
    ),
    "four": Acted(
        racked=16, a_year=150, week=DAYS, people=(("Ida", DAYS), ("Odd", DAYS), ("Una", DAYS), ("Per", DAYS)),
        methods=("lacquer-fine-start", "waterborne-sprayed", "lacquer-flow-coat", "shellac-pad-rounds"),
    ),
}  # fmt: skip
