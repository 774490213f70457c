"""Which part of the year it is for root work: windows by the climate of the place, or by months where none is entered."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from typing import Literal

from kesh.model.signs import Sign
from kesh.model.site import Site
from kesh.reference.tables import Species
from kesh.science.season_windows import EDGE_DAYS, MOVED_BY_SWELL, YEAR, Year, year_of

Status = Literal["best", "edge", "wrong"]
# Month numbers in a temperate northern climate; a rough guide, the sign on the tree comes first.
WINDOWS: dict[str, tuple[int, ...]] = {
    "late_winter": (2, 3),
    "bud_swell": (3, 4),
    "early_spring": (3, 4),
    "mid_spring": (4, 5),
    "after_flowering": (5, 6),
    "summer_active": (6, 7),
    "late_summer": (8, 9),
    "autumn_ok": (9, 10),
    "leaf_fall": (11,),
}
MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")
# a sign farther than this from its usual day was not meant for this spring
SIGN_WITHIN_DAYS = 75


@dataclass(frozen=True)
class Season:
    """How a day lies to the window of a species: the window's name and dates, the days left in it, and why."""

    status: Status
    window: str
    first: date | None
    last: date | None
    days_left: int
    why: str

    @property
    def name(self) -> str:
        """The window's name for people."""
        return self.window.replace("_", " ")


def year_at(site: Site | None) -> Year | None:
    """The year of a place, None where its normals are not entered."""
    if site is None or not site.months:
        return None
    return year_of(tuple(m.tmin_c for m in site.months), tuple(m.tmax_c for m in site.months))


def season_at(species: Species | None, day: date, site: Site | None, signs: Sequence[Sign] = ()) -> Season | None:
    """How a day lies for root work on a species; None when its window is not known.

    A sign seen on the tree, buds that swell on a date, moves this year's windows of spring.
    """
    if species is None or species.repot_window not in WINDOWS:
        return None
    year = year_at(site)
    if year is None:
        return _by_months(species, day, site.latitude_deg if site else None)
    moved = _moved_by(year, day, signs)
    found = _lying(year, species.repot_window, day, moved)
    if found is None:
        return Season(
            "wrong",
            species.repot_window,
            None,
            None,
            0,
            "this climate has no such window; judge by the signs on the tree",
        )
    second = _lying(year, species.second_window, day, moved)
    if found.status == "wrong" and second is not None and second.status == "best":
        return replace(second, status="edge", why=f"its second season; {second.why}")
    return found


def dated(year: Year, key: str, day: date, moved: int = 0) -> tuple[date, date] | None:
    """First and last date of a window: of the one that a day lies in, else of the one that begins in the day's year."""
    window = year.windows.get(key)
    if window is None:
        return None
    by = moved if key in MOVED_BY_SWELL else 0
    firsts = [year.date_in(window.first, y) + timedelta(days=by) for y in (day.year - 1, day.year, day.year + 1)]
    span = timedelta(days=window.last - window.first)
    first = next(
        (f for f in firsts if f <= day <= f + span), next((f for f in firsts if f.year == day.year), firsts[1])
    )
    return first, first + span


def _lying(year: Year, key: str, day: date, moved: int) -> Season | None:
    dates = dated(year, key, day, moved)
    if dates is None:
        return None
    window, (first, last) = year.windows[key], dates
    inside = first <= day <= last
    # a window at the year's turn is near from either side
    off = min(abs((first - day).days) % YEAR, abs((day - last).days) % YEAR)
    off = min(off, YEAR - off)
    status: Status = "best" if inside else "edge" if off <= EDGE_DAYS else "wrong"
    if window.under_glass and status == "best":
        status = "edge"
    told = [f"mean of day {year.mean_on(first):.1f} °C on {first.day} {MONTHS[first.month - 1]}"]
    if moved and key in MOVED_BY_SWELL:
        told.append(f"moved {abs(moved)} days {'later' if moved > 0 else 'earlier'} by the buds you saw")
    if window.note:
        told.append(window.note)
    if year.rough:
        told.append("rough, winters here are too warm for rest: go by the signs")
    return Season(status, key, first, last, (last - day).days if inside else 0, "; ".join(told))


def _moved_by(year: Year, day: date, signs: Sequence[Sign]) -> int:
    """How many days later than usual the buds were seen to swell this spring."""
    if year.swell is None:
        return 0
    seen = [
        s.date for s in signs if s.sign == "buds" and s.value == "swelling" and s.date is not None and s.date <= day
    ]
    for when in sorted(seen, reverse=True):
        off = (when - year.date_in(year.swell, when.year)).days
        off = (off + YEAR // 2) % YEAR - YEAR // 2
        if abs((day - when).days) < YEAR // 2 and abs(off) <= SIGN_WITHIN_DAYS:
            return off
    return 0


def local_month(day: date, latitude_deg: float | None) -> int:
    """The month as a northern grower would count it."""
    return day.month if (latitude_deg or 0) >= 0 else (day.month + 5) % 12 + 1


def _by_months(species: Species, day: date, latitude_deg: float | None) -> Season:
    """The same by a table of months, where no climate is entered."""
    month, best = local_month(day, latitude_deg), WINDOWS[species.repot_window]
    why = "by the usual months; no climate entered"
    if month in best:
        return Season("best", species.repot_window, None, None, 0, why)
    second = WINDOWS.get(species.second_window, ())
    before, past = month == (min(best) - 2) % 12 + 1 and day.day > 15, month == max(best) % 12 + 1 and day.day <= 15
    status: Status = "edge" if month in second or before or past else "wrong"
    return Season(status, species.repot_window, None, None, 0, why)


def window_words(species: Species, site: Site | None, day: date) -> str:
    """The best window with its dates, or its months where no climate is entered, for people."""
    if species.repot_window not in WINDOWS:
        return "not known"
    name, year = species.repot_window.replace("_", " "), year_at(site)
    if year is not None:
        dates = dated(year, species.repot_window, day)
        if dates is None:
            return f"{name}, which this climate does not have"
        return f"{name}, about {day_words(dates[0])} to {day_words(dates[1])}"
    shift = 0 if site is None or (site.latitude_deg or 0) >= 0 else 6
    months = "/".join(MONTHS[(m - 1 + shift) % 12] for m in WINDOWS[species.repot_window])
    return f"{name}, about {months}"


def day_words(day: date) -> str:
    """A day of any year."""
    return f"{day.day} {MONTHS[day.month - 1]}"
