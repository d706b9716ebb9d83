"""Public holidays by country, as a start for the days a shop is closed. No Qt."""

from __future__ import annotations

from datetime import date

from ravden.journal.hours import Closed


def countries() -> tuple[str, ...]:
    """ISO codes of the countries whose holidays are known."""
    from holidays.registry import EntityLoader

    return tuple(sorted(EntityLoader.get_country_codes(include_aliases=False)))


def parts(country: str) -> tuple[str, ...]:
    """Codes of the parts of a country that keep holidays of their own; none for a country not known."""
    import holidays

    # One country is asked: the package's list of all parts would load the calendars of 250.
    found = getattr(holidays, country, None) if country in countries() else None
    return () if found is None else tuple(found.subdivisions)


def of(country: str, part: str, first: date, years: int) -> tuple[Closed, ...]:
    """The holidays from a day on, through so many calendar years, by date."""
    import holidays

    found = holidays.country_holidays(
        country, subdiv=part or None, years=range(first.year, first.year + years), language="en_US"
    )
    return tuple(Closed(first=day.isoformat(), name=found[day]) for day in sorted(found) if day >= first)
