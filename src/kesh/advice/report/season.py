"""The part of the report on the season."""

from typing import Any

from kesh.advice.assess import Assessment
from kesh.science.season.season import dated, year_at


def season_part(a: Assessment, *, on_day: bool = False) -> dict[str, Any]:
    """How the day lies to the window of the species, and the windows and frosts of its year by the climate."""
    case = a.case
    found, year, day = case.window, year_at(case.site, *case.own.housed), case.day
    dates = {} if year is None else {key: dated(year, key, day, case.own, case.species) for key in year.windows}
    frosts = (None, None) if year is None else (year.last_frost, year.first_frost)
    return {
        "today": day.isoformat(),
        "window": found.window if found else None,
        "first": found.first.isoformat() if found and found.first else None,
        "last": found.last.isoformat() if found and found.last else None,
        # of the day that is asked about; what may be cut follows the season the work is planned for
        "status": (case.window.status if case.window is not None else case.season) if on_day else case.season,
        "days_left": found.days_left if found else None,
        "last_frost": None if year is None or frosts[0] is None else year.date_in(frosts[0], day.year).isoformat(),
        "first_frost": None if year is None or frosts[1] is None else year.date_in(frosts[1], day.year).isoformat(),
        "windows": {key: [d[0].isoformat(), d[1].isoformat()] for key, d in dates.items() if d is not None},
    }
