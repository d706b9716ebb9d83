"""Who works here, and with what, as typed and as it is written into the fields again. No Qt."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date
from typing import TYPE_CHECKING

from ravden.app import hours_form
from ravden.core.errors import InputError, need
from ravden.journal.crew import CLEAN_MIN, SETUP_MIN, Gun, Off
from ravden.journal.hours import DAYS, Closed, Spans
from ravden.journal.kinds.crew import BoothRule, DayOff, DaysStruck, OfCrew, PersonSet, StationsSet
from ravden.text import written
from ravden.text.units import Units

if TYPE_CHECKING:
    from ravden.journal.crew import Crew, Stations

QUARTERS = 96  # of a day
COMPANY = ((0, "no"), (2, "up to 2 days"), (7, "a week"))
GUN = ("setup_min", "clean_min", "coldest_C", "dampest")


def cells(week: Sequence[Spans], usual: Spans) -> tuple[tuple[bool, ...], ...]:
    """A week by quarter hours, Monday first; an empty week: the usual day every day."""
    days = week or (usual,) * len(DAYS)
    return tuple(tuple(any(a <= q / 4 < b for a, b in day) for q in range(QUARTERS)) for day in days)


def spans_of(day: Sequence[bool]) -> Spans:
    """The stretches of a day that was painted in quarter hours."""
    out: list[tuple[float, float]] = []
    for q, on in enumerate(day):
        if on and (not out or out[-1][1] < q / 4):
            out.append((q / 4, q / 4 + 0.25))
        elif on:
            out[-1] = (out[-1][0], q / 4 + 0.25)
    return tuple(out)


def week_said(week: Sequence[Sequence[bool]]) -> str:
    """A painted week in words, for who cannot see it."""
    parts = [
        f"{label} {hours_form.spelt(spans_of(day)) or 'free'}"
        for label, day in zip(hours_form.LABELS, week, strict=True)
    ]
    return "; ".join(parts)


def person(
    crew: Crew, was: str, name: str, week: Sequence[Sequence[bool]] | None, sprays: bool, buffs: bool, away: str
) -> list[OfCrew]:  # fmt: skip
    """The entries the filled form of a person stands for. was: whom it was opened on, empty for somebody new; week:
    None for the shop's own hours; away: days, a line each. Raises InputError at the field."""
    name = name.strip()
    need(bool(name), "name", "give a name, or a letter")
    need(was == name or crew.named(name) is None, "name", f"{name} works here already")
    told: dict[str, Spans] = {}
    if week is not None:
        told = {d: spans for d, day in zip(DAYS, week, strict=True) if (spans := spans_of(day))}
        need(bool(told), "week", "paint at least one stretch of hours")
    days = hours_form.closed(away) if away.strip() else ()
    before = {(o.first, o.last) for o in crew.off if o.person == was and not o.hours}
    now = {c.span() for c in days}
    out: list[OfCrew] = []
    if was and was != name:
        out.append(PersonSet(name=was, gone=True))
        before = set()
    out.append(PersonSet(name=name, week=told, sprays=sprays, buffs=buffs))
    out += [DayOff(first=a.isoformat(), last=b.isoformat(), person=name) for a, b in sorted(now - before)]
    out += [
        DayOff(first=a.isoformat(), last=b.isoformat(), person=name, cleared=True) for a, b in sorted(before - now)
    ]  # fmt: skip
    return out


def away_lines(off: Sequence[Off], name: str) -> str:
    """The days somebody is away, a line each, as they are typed."""
    mine = [o for o in off if o.person == name and not o.hours]
    days = tuple(Closed(first=o.first.isoformat(), last=o.last.isoformat() if o.last != o.first else "") for o in mine)
    return hours_form.closed_lines(days)


def stations(typed: Mapping[str, str], units: Units, before: Stations) -> StationsSet:
    """The entry the filled form of stations stands for, in these units; before: what stands, kept to the digit where it
    was not touched. Raises InputError at the field."""
    warm = _real(typed["cabinet_C"], "cabinet_C")
    same = typed["cabinet_C"] == station_fields(before, units)["cabinet_C"]
    places = typed["drying_places"].strip()
    return StationsSet(
        arbors=_whole(typed["arbors"], "arbors"), cabinet_places=_whole(typed["cabinet_places"], "cabinet_places"),
        drying_places=_whole(places, "drying_places") if places else None,
        cabinet_C=before.cabinet_C if same or warm is None else units.temperature_to_C(warm),
    )  # fmt: skip


def station_fields(there: Stations, units: Units) -> dict[str, str]:
    """Stations as they are typed."""
    return {
        "arbors": str(there.arbors), "cabinet_places": str(there.cabinet_places),
        "cabinet_C": written.number(round(units.temperature_value(there.cabinet_C), 1), "g"),
        "drying_places": "" if there.drying_places is None else str(there.drying_places),
    }  # fmt: skip


def booth_rule(
    company: int, guns: Mapping[str, Mapping[str, str]], units: Units, before: Mapping[str, Gun]
) -> BoothRule:  # fmt: skip
    """The entry for how the booth is worked; guns: what was typed of each material, in these units; those as usual are
    left out; before: what stands, kept to the digit where it was not touched. Raises InputError at the material's
    field."""
    out: dict[str, Gun] = {}
    for material, typed in guns.items():
        setup, clean = (
            _whole(typed[f], f"{material}.{f}") if typed[f].strip() else usual
            for f, usual in (("setup_min", SETUP_MIN), ("clean_min", CLEAN_MIN))
        )
        cold, damp = (_real(typed[f], f"{material}.{f}") for f in ("coldest_C", "dampest"))
        gun = Gun(
            setup_min=setup, clean_min=clean, coldest_C=None if cold is None else units.temperature_to_C(cold),
            dampest=None if damp is None else damp / 100,
        )  # fmt: skip
        was = before.get(material, Gun())
        if gun_fields(was, units) == dict(typed):
            gun = was
        if gun != Gun():
            out[material] = gun
    return BoothRule(company_days=company, guns=out)


def gun_fields(gun: Gun, units: Units) -> dict[str, str]:
    """A gun as it is typed."""
    coldest = "" if gun.coldest_C is None else written.number(round(units.temperature_value(gun.coldest_C), 1), "g")
    return {
        "setup_min": str(gun.setup_min), "clean_min": str(gun.clean_min),
        "coldest_C": coldest,
        "dampest": "" if gun.dampest is None else written.number(100 * gun.dampest, "g"),
    }  # fmt: skip


def struck(text: str) -> DaysStruck:
    """The days nothing is sprayed on, a line each; stretches are spread out. Raises InputError."""
    days: list[str] = []
    for closed in hours_form.closed(text) if text.strip() else ():
        first, last = closed.span()
        days += [date.fromordinal(n).isoformat() for n in range(first.toordinal(), last.toordinal() + 1)]
    return DaysStruck(days=tuple(dict.fromkeys(days)))


def struck_lines(days: frozenset[date]) -> str:
    """The same as typed."""
    return hours_form.closed_lines(tuple(Closed(first=d.isoformat()) for d in sorted(days)))


def _whole(text: str, field: str) -> int:
    try:
        return int(text.strip() or "0")
    except ValueError:
        raise InputError(field, f"{text.strip()} is no whole number") from None


def _real(text: str, field: str) -> float | None:
    if not text.strip():
        return None
    try:
        return float(text.strip().replace(",", "."))
    except ValueError:
        raise InputError(field, f"{text.strip()} is no number") from None
