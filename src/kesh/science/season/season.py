"""Which part of the year it is for root work: windows by the climate of the place, or by months where none is entered."""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from datetime import date, timedelta
from typing import Literal

from kesh.base.words import counted
from kesh.model.signs import Sign
from kesh.model.site import Site
from kesh.reference.season_wants import SeasonWants, season_wants
from kesh.reference.tables import Species
from kesh.science.season.days import later
from kesh.science.season.windows import (
    EDGE_DAYS,
    HELD,
    MOVED_BY_SWELL,
    SHELTERS,
    YEAR,
    Window,
    Year,
    opened,
    sheltered,
    year_of,
)

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
# so many trees the usual day counts for against others of the species; days from the last flower until roots are worked, and while
KIN_PRIOR, AFTER_LAST_DAYS, AFTER_FLOWERS_DAYS, FLOWERED_WITHIN_DAYS = 2, 7, 28, 120
# a window that runs over New Year needs a year beyond
FIRST_YEAR, LAST_YEAR = date.min.year, date.max.year - 1


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


@dataclass(frozen=True)
class Own:
    """What is known of one tree's seasons beyond the climate.

    `kin` are days by which buds of other trees of the species came later than usual, by the year of their spring;
    `flowered` days on which the last flower fell. `late`: the view that works later, with growth begun. `shelter`: glass
    or indoors.
    """

    signs: tuple[Sign, ...] = ()
    kin: tuple[tuple[int, float], ...] = ()
    flowered: tuple[date, ...] = ()
    late: bool = False
    shelter: str = ""
    # it stands indoors while nights are usually colder than this
    indoors_below_c: float | None = None

    @property
    def housed(self) -> tuple[str, float | None]:
        """How it is housed, as a year is asked for."""
        return self.shelter, self.indoors_below_c


@dataclass(frozen=True)
class _Kind:
    """What opens windows for a species."""

    wants: SeasonWants = field(default_factory=SeasonWants)
    group: str = ""


def _kind(species: Species) -> _Kind:
    return _Kind(season_wants(species), species.group)


def year_at(site: Site | None, shelter: str = "", indoors_below_c: float | None = None) -> Year | None:
    """The year of a place, None where its normals are not entered."""
    if site is None or not site.months:
        return None
    low, high = sheltered([m.tmin_c for m in site.months], [m.tmax_c for m in site.months], shelter)
    own_spans = tuple((w.key, w.low, w.high) for w in site.windows)
    return year_of(tuple(low), tuple(high), own_spans, site.latitude_deg, indoors_below_c if not shelter else None)


def window_keys(species: Species, own: Own) -> tuple[str, str]:
    """(the window that is worked in, the second one) of a species; the late view takes the second one, or growth begun."""
    first, second = species.repot_window, species.second_window
    if not own.late or first in ("summer_active", "after_flowering"):
        return first, second
    return (second if second in WINDOWS else "mid_spring"), first


def season_at(
    species: Species | None, day: date, site: Site | None, signs: Sequence[Sign] = (), own: Own | None = None
) -> Season | None:
    """How a day lies for root work on a species; None when its window is not known.

    A sign seen on the tree, buds that swell on a date, moves this year's windows of spring.
    """
    own = own or Own(signs=tuple(signs))
    if species is None or species.repot_window not in WINDOWS:
        return None
    key, other = window_keys(species, own)
    year = year_at(site, *own.housed)
    if year is None:
        return _by_months(key, other, day, site.latitude_deg if site else None)
    kind = _kind(species)
    found = _lying(year, key, day, own, kind)
    if found is None:
        return Season("wrong", key, None, None, 0, "this climate has no such window; judge by the signs on the tree")
    second = _lying(year, other, day, own, kind)
    if found.status == "wrong" and second is not None and second.status == "best":
        return replace(second, status="edge", why=f"its second season; {second.why}")
    return found


def dated(
    year: Year, key: str, day: date, own: Own | None = None, species: Species | None = None
) -> tuple[date, date] | None:
    """First and last date of a window: of the one that a day lies in, else of the one that begins in the day's year."""
    return _dated(year, key, day, own or Own(), _Kind() if species is None else _kind(species))


def _dated(year: Year, key: str, day: date, own: Own, kind: _Kind) -> tuple[date, date] | None:
    found = _dates(year, key, day, own, kind)
    inside = next((w for w in found if w[0] <= day <= w[1]), None)
    return inside or next((w for w in found if w[0].year == day.year), found[0] if found else None)


def coming(
    year: Year, key: str, day: date, own: Own | None = None, species: Species | None = None
) -> tuple[date, date] | None:
    """First and last date of the window that a day lies in, else of the next one."""
    kind = _Kind() if species is None else _kind(species)
    return next((w for w in _dates(year, key, day, own or Own(), kind) if w[1] >= day), None)


def coming_season(species: Species | None, day: date, site: Site | None, own: Own | None = None) -> Season | None:
    """The best window of a species that holds now or comes next, with its dates; by months where no climate is entered."""
    own = own or Own()
    year = year_at(site, *own.housed)
    if species is None or species.repot_window not in WINDOWS:
        return None
    key, _ = window_keys(species, own)
    if year is None:
        months = [m if (site is None or (site.latitude_deg or 0) >= 0) else (m + 5) % 12 + 1 for m in WINDOWS[key]]
        spans = [(date(y, months[0], 1), _month_end(y + (months[-1] < months[0]), months[-1])) for y in (day.year - 1, day.year, day.year + 1) if FIRST_YEAR <= y <= LAST_YEAR]  # fmt: skip
        found = next((s for s in spans if s[1] >= day), None)
        if found is None:
            return None
        dates = found
    else:
        at = coming(year, key, day, own, species)
        if at is None:
            return None
        dates = at
    status: Status = (
        "best" if dates[0] <= day <= dates[1] else "edge" if (dates[0] - day).days <= EDGE_DAYS else "wrong"
    )
    held = season_at(species, dates[0], site, own=own)
    return Season(status, key, *dates, max((dates[1] - day).days, 0), held.why if held is not None else "")


def _month_end(year: int, month: int) -> date:
    return date(year + month // 12, month % 12 + 1, 1) - timedelta(days=1)


def _window(year: Year, key: str, kind: _Kind) -> Window | None:
    return opened(year, key, kind.wants, kind.group)


def _dates(year: Year, key: str, day: date, own: Own, kind: _Kind) -> list[tuple[date, date]]:
    """The window's dates in the rounds of seasons about a day, in order."""
    window = _window(year, key, kind)
    if window is None:
        return []
    found = []
    for cycle in (day.year - 2, day.year - 1, day.year, day.year + 1):
        first, last = year.in_cycle(window.first, cycle), year.in_cycle(window.last, cycle)
        by = moved_by(year, cycle, day, own)[0] if key in MOVED_BY_SWELL else 0
        first, last = later(first, by), later(last, by)
        if key == "after_flowering":
            over = [d for d in own.flowered if d <= day and abs((d - first).days) <= FLOWERED_WITHIN_DAYS]
            if over:
                first = later(max(over), AFTER_LAST_DAYS)
                last = later(first, AFTER_FLOWERS_DAYS)
        found.append((first, last))
    return found


def _lying(year: Year, key: str, day: date, own: Own, kind: _Kind) -> Season | None:
    dates, window = _dated(year, key, day, own, kind), _window(year, key, kind)
    if dates is None or window is None:
        return None
    first, last = dates
    inside = first <= day <= last
    # a window at the year's turn is near from either side
    near = [abs((edge - day).days) for pair in _dates(year, key, day, own, kind) for edge in pair]
    status: Status = "best" if inside else "edge" if min(near) <= EDGE_DAYS else "wrong"
    if (window.under_glass or window.edge) and status == "best":
        status = "edge"
    told = [f"mean of day {year.mean_on(first):.1f} °C on {first.day} {MONTHS[first.month - 1]}"]
    if key == "after_flowering" and any(later(d, AFTER_LAST_DAYS) == first for d in own.flowered):
        fell = later(first, -AFTER_LAST_DAYS)
        told = [f"the last flower fell on {fell.day} {MONTHS[fell.month - 1]}"]
    elif key in MOVED_BY_SWELL:
        by, whose = _moved_here(year, first, day, own)
        if by:
            told.append(f"moved {abs(by)} days {'later' if by > 0 else 'earlier'} by the buds {whose}")
    if own.shelter in SHELTERS:
        told.append("under glass, without heat" if own.shelter == "glass" else "indoors")
    if window.note:
        told.append(window.note)
    if year.rough and not year.no_winter:
        told.append("rough, winters here are too warm for rest: go by the signs")
    return Season(status, key, first, last, (last - day).days if inside else 0, "; ".join(told))


def _moved_here(year: Year, first: date, day: date, own: Own) -> tuple[int, str]:
    """By how much the spring of a window was moved, and by whose buds."""
    for cycle in (first.year - 1, first.year, first.year + 1):
        swell = year.in_cycle(year.swell or 0, cycle)
        if abs((swell - first).days) < YEAR // 2:
            return moved_by(year, cycle, day, own)
    return 0, ""


def moved_by(year: Year, cycle: int, day: date, own: Own) -> tuple[int, str]:
    """(days later than usual, whose buds told) of the spring of one round of seasons, as known on a day.

    The tree's own buds win; else those of other trees of its species speak, as (n x mean)/(2 + n): a few tell little.
    """
    if year.swell is None or not (own.signs or own.kin):
        return 0, ""
    usual = year.in_cycle(year.swell, cycle)
    seen = swelling(usual, day, own.signs)
    if seen is not None:
        return seen, "you saw"
    kin = [by for when, by in own.kin if when == usual.year]
    by = round(sum(kin) / (KIN_PRIOR + len(kin)))
    return by, f"of {counted(len(kin), 'other')} of its kind"


def swelling(usual: date, day: date, signs: Sequence[Sign]) -> int | None:
    """How many days later than usual the buds were seen to swell, by a day; None where nobody saw them that spring."""
    seen = [
        s.date for s in signs if s.sign == "buds" and s.value == "swelling" and s.date is not None and s.date <= day
    ]
    near = [d for d in seen if abs((d - usual).days) <= SIGN_WITHIN_DAYS]
    return (max(near) - usual).days if near else None


def local_month(day: date, latitude_deg: float | None) -> int:
    """The month as a northern grower would count it."""
    return day.month if (latitude_deg or 0) >= 0 else (day.month + 5) % 12 + 1


def _by_months(key: str, other: str, day: date, latitude_deg: float | None) -> Season:
    """The same by a table of months, where no climate is entered."""
    month, best = local_month(day, latitude_deg), WINDOWS[key]
    why = "by the usual months; no climate entered"
    if month in best:
        return Season("best", key, None, None, 0, why)
    second = WINDOWS.get(other, ())
    before, past = month == (min(best) - 2) % 12 + 1 and day.day > 15, month == max(best) % 12 + 1 and day.day <= 15
    status: Status = "edge" if month in second or before or past else "wrong"
    return Season(status, key, None, None, 0, why)


def window_words(species: Species, site: Site | None, day: date, own: Own | None = None) -> str:
    """The best window with its dates, or its months where no climate is entered, for people."""
    if species.repot_window not in WINDOWS:
        return "not known"
    own = own or Own()
    key, _ = window_keys(species, own)
    name, year = key.replace("_", " "), year_at(site, *own.housed)
    if year is not None:
        dates = _dated(year, key, day, own, _kind(species))
        if dates is None:
            return f"{name}, which this climate does not have"
        kind, span = _kind(species), f"about {day_words(dates[0])} to {day_words(dates[1])}"
        window = opened(year, key, kind.wants, kind.group)
        held = "" if window is None else window.note
        if (dates[1] - dates[0]).days >= YEAR - 1:
            return "all year"
        if window is not None and (window.under_glass or year.no_winter):
            return f"{held.split(';')[0]}, {span}"
        # a window that waits for nights or light opens in another season than its name says
        return f"{span}, when {held.removesuffix(HELD)}" if held.endswith(HELD) else f"{name}, {span}"
    shift = 0 if site is None or (site.latitude_deg or 0) >= 0 else 6
    months = "/".join(MONTHS[(m - 1 + shift) % 12] for m in WINDOWS[key])
    return f"{name}, about {months}"


def day_words(day: date) -> str:
    """A day of any year."""
    return f"{day.day} {MONTHS[day.month - 1]}"
