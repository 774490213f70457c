"""Windows for work on trees found on temperatures, so that both hemispheres and the tropics need no calendar.

Monthly normals become daily ones by straight lines between month centres; days are counted from the coldest day of the
year (docs/methods.md, "the season from the climate"). Warmth sums, spreads and lengths are judgement.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from functools import lru_cache
from math import erfc, sqrt

import numpy as np

from kesh.geometry.outline import Floats
from kesh.reference.season_wants import SeasonWants
from kesh.reference.windows import spans_with
from kesh.science.climate.climate import extraterrestrial_mj

YEAR, PLAIN = 365, 2025
SMOOTH_DAYS, BASE_C, SPREAD_K, NIGHT_SD_K, FROST_CHANCE = 15, 5.0, 4.0, 3.5, 0.10
# windows that lie between two warmth sums from the coldest day, K d; the sums stand in the table of windows
SPRING = ("bud_swell", "early_spring", "mid_spring", "after_flowering")
LEAST_DAYS, EDGE_DAYS, BEFORE_SWELL_DAYS = 21, 14, 35
MOST_CHILL, CHILL_EACH, ROUGH_ABOVE_C = 160.0, 12.0, 12.0
SHORT_DAYS, UNDER_GLASS_DAYS = 28, 60
AFTER_WARMEST, LATE_DAYS = 25, (15, 45)
# K that shelter adds to nights and days, and below which it does not let them fall: a glass house without heat, a room [J]
# a room in the cold time: so much over the outside mean, never under and never over these; nights on end that bring a tree in [J]
ROOM_OVER_K, ROOM_LEAST_C, ROOM_MOST_C, NIGHTS_ON_END = 5.0, 8.0, 26.0, 3
SHELTERS = {"glass": (3.0, 5.0, 1.0, -50.0), "indoors": (0.0, 0.0, 16.0, 20.0)}
# hours of day before which a window does not open, away from the tropics; how long one stays open that light or night held
# back, or until the mean of the day passes this [J]
LEAST_LIGHT_H = {"bud_swell": 9.8, "early_spring": 10.3, "mid_spring": 11.8, "summer_active": 12.9}
TROPICS_DEG, HELD_BACK_DAYS, TOO_HOT_C = 25.0, 45, 26.0
# after flowers: how long, and the day length before which it does not begin where the coldest month is over 9 degrees [J]
AFTER_FLOWERS_DAYS, MILD_C, MILD_LIGHT_H = 35, 9.0, 13.0
# where the coldest month is over this there is no winter; above the other even the tropical tree is not worked [J]
NO_WINTER_C, STOPS_C, REST_DAYS, SHORTEST_DAYS = 18.0, 30.0, 14, 30
EVER_GROWING = frozenset({"tropical", "succulent", "palmlike"})
# windows that hang on the first warmth and move with the signs of spring
MOVED_BY_SWELL = ("late_winter", *SPRING)


@dataclass(frozen=True)
class Window:
    """One window: first and last day counted from the coldest day, and what is to be said of it."""

    first: int
    last: int
    note: str = ""
    under_glass: bool = False
    # at its best it is only the edge of a season
    edge: bool = False


@dataclass(frozen=True)
class Year:
    """A year by its normals: the windows, the frosts, and the day means; day numbers count from the coldest day."""

    coldest: int
    warmest: int
    windows: dict[str, Window]
    last_frost: int | None
    first_frost: int | None
    swell: int | None
    mean_c: tuple[float, ...]
    rough: bool
    night_c: tuple[float, ...] = ()
    # hours of day, and the warmth sum from the coldest day; the mean of the coldest month; latitude where it is known
    light_h: tuple[float, ...] = ()
    warmth_kd: tuple[float, ...] = ()
    coldest_month_c: float = 0.0
    latitude_deg: float | None = None

    @property
    def no_winter(self) -> bool:
        """Whether no month brings rest."""
        return self.coldest_month_c > NO_WINTER_C

    def day(self, when: date) -> int:
        """The day number of a date."""
        return (_day_of_year(when) - self.coldest) % YEAR

    def mean_on(self, when: date) -> float:
        """The day's usual mean, degrees C."""
        return self.mean_c[self.day(when)]

    def date_in(self, number: int, year: int) -> date:
        """The date of a day number that falls in a calendar year."""
        return self.in_cycle(number % YEAR, year - (number % YEAR + self.coldest) // YEAR)

    def in_cycle(self, number: int, cycle: int) -> date:
        """The date of a day number, of the round of seasons whose coldest day falls in a calendar year; a leap day moves nothing."""
        return _date_of(number + self.coldest, cycle)


@lru_cache(maxsize=4096)
def _date_of(number: int, year: int) -> date:
    """The date of a day counted from the first of January of a year of 365 days."""
    years, at = divmod(number, YEAR)
    return (date(PLAIN, 1, 1) + timedelta(days=at)).replace(year=min(max(year + years, date.min.year), date.max.year))


def _day_of_year(when: date) -> int:
    """0 for 1 January; the 29 February counts as the 1 March."""
    plain = when.replace(year=PLAIN) if (when.month, when.day) != (2, 29) else date(PLAIN, 3, 1)
    return plain.timetuple().tm_yday - 1


def daily(monthly: Sequence[float]) -> Floats:
    """Twelve normals as 365 daily ones by straight lines between month centres, day 15, 45, 76 and so on."""
    centre = np.array([int(30.4 * (n + 1) - 15) for n in range(12)], float)
    day, value = np.arange(1.0, YEAR + 1), np.asarray(monthly, float)
    return np.asarray(
        np.interp(day, np.r_[centre[-1] - YEAR, centre, centre[0] + YEAR], np.r_[value[-1], value, value[0]])
    )


def _below(z: Floats) -> Floats:
    """The share of a normal spread that lies below each of some places in it."""
    # the library that has it for arrays costs a window's start more than a year of days costs here
    return np.array([0.5 * erfc(-one / sqrt(2.0)) for one in z.tolist()])


@lru_cache(maxsize=64)
def year_of(
    tmin_c: tuple[float, ...], tmax_c: tuple[float, ...], own: tuple[tuple[str, float, float], ...] = (),
    latitude_deg: float | None = None, indoors_below_c: float | None = None,
) -> Year:  # fmt: skip
    """The windows of a place from twelve normals of daily minimum and maximum, degrees C.

    `own` are the user's own spans (key, low, high) over those of the table of windows. With `indoors_below_c` the tree
    stands in a room while nights are usually colder than that.
    """
    spans = spans_with(own)
    low, high = daily(tmin_c), daily(tmax_c)
    if indoors_below_c is not None:
        inside = indoor_days(low[None], indoors_below_c)[0]
        room = room_c((low + high) / 2)
        low, high = np.where(inside, room, low), np.where(inside, room, high)
    mean = (low + high) / 2
    half = SMOOTH_DAYS // 2
    smooth = np.convolve(np.r_[mean[-half:], mean, mean[:half]], np.ones(SMOOTH_DAYS) / SMOOTH_DAYS, "valid")
    coldest = int(smooth.argmin())
    warmest = (int(smooth.argmax()) - coldest) % YEAR
    t, nights = np.roll(mean, -coldest), np.roll(low, -coldest)
    z = (t - BASE_C) / SPREAD_K
    warmth = np.cumsum(SPREAD_K * np.exp(-0.5 * z**2) / np.sqrt(2 * np.pi) + (t - BASE_C) * _below(z))
    extra = min(MOST_CHILL, CHILL_EACH * max(0.0, float(t[0]) - 1.0))
    frost = _below(-nights / NIGHT_SD_K) > FROST_CHANCE
    before, after = np.flatnonzero(frost[:warmest]), np.flatnonzero(frost[warmest:])
    rough = float(t[0]) > ROUGH_ABOVE_C
    found: dict[str, Window] = {}
    for key in SPRING:
        window = _by_warmth(warmth, spans[key][0] + extra, spans[key][1] + extra)
        if window is not None:
            found[key] = window
    swell = _first(warmth >= spans["bud_swell"][0] + extra)
    if swell is not None:
        found["late_winter"] = Window(swell - BEFORE_SWELL_DAYS, swell - 1)
    found |= _by_heat(t, warmest, *spans["summer_active"]) | _falling(t, warmest, spans)
    light = (
        ()
        if latitude_deg is None
        else tuple(np.roll(extraterrestrial_mj(latitude_deg, np.arange(1.0, YEAR + 1))[1], -coldest).tolist())
    )
    return Year(
        coldest, warmest, found, int(before[-1]) if len(before) else None, warmest + int(after[0]) if len(after) else None,
        swell, tuple(t.tolist()), rough, tuple(nights.tolist()), light, tuple(warmth.tolist()),
        min((a + b) / 2 for a, b in zip(tmin_c, tmax_c, strict=True)) if indoors_below_c is None else float(t.min()), latitude_deg,
    )  # fmt: skip


HELD = " from then on"


def opened(year: Year, key: str, wants: SeasonWants, group: str = "") -> Window | None:
    """A window as it opens for a species: on the latest of its warmth, its day length and its night; None where this place has none."""
    if year.no_winter and group:
        return _without_winter(year, group)
    window = _after_flowers(year, wants) if key == "after_flowering" else year.windows.get(key)
    if window is None:
        return None
    start = _held_until(year, key, wants, window.first)
    if start == window.first:
        return window
    if start is None:
        half = UNDER_GLASS_DAYS // 2
        return Window(year.warmest - half, year.warmest + half, "only under glass or in a warm room", under_glass=True)
    hot = _first(np.array(year.mean_c) > TOO_HOT_C, start)
    last = start + HELD_BACK_DAYS
    if hot is not None:
        # what waits for warm nights is worked until it is too hot, what waits for light not longer than the usual weeks
        last = max(last, hot) if wants.night_c is not None else min(last, max(hot, start + LEAST_DAYS))
    why = ("nights are warm enough" if wants.night_c is not None else "the day is long enough") + HELD
    return replace(window, first=start, last=max(window.last, last), note=window.note or why)


def _held_until(year: Year, key: str, wants: SeasonWants, first: int) -> int | None:
    """The first day on which light and night let a window open; None where no day does."""
    able = np.ones(YEAR, bool)
    least = LEAST_LIGHT_H.get(key)
    if least is not None and year.light_h and abs(year.latitude_deg or 0.0) > TROPICS_DEG:
        able &= np.array(year.light_h) >= least
    if wants.night_c is not None:
        able &= np.array(year.night_c) >= wants.night_c
    if wants.day_c is not None:
        able &= np.array(year.mean_c) >= wants.day_c
    if first < 0:
        return first
    return _first(able, min(first, YEAR - 1))


def _after_flowers(year: Year, wants: SeasonWants) -> Window | None:
    """The weeks after the last flower: by the species' own warmth to it, or by the month in which it flowers."""
    if wants.flower_month is not None:
        south = (year.latitude_deg or 0.0) < 0
        begins = date(PLAIN, (wants.flower_month + (5 if south else -1)) % 12 + 1, 1)
        thaws = _first(np.array(year.mean_c) >= BASE_C, year.day(begins))
        first = year.day(begins) if thaws is None else thaws
        return Window(first, first + AFTER_FLOWERS_DAYS, "by the month in which it flowers")
    if wants.flower_sum_kd is None:
        return year.windows.get("after_flowering")
    at = _first(np.array(year.warmth_kd) >= wants.flower_sum_kd)
    if at is None:
        return None
    if year.coldest_month_c > MILD_C and year.light_h:
        long_days = _first(np.array(year.light_h) >= MILD_LIGHT_H)
        at = at if long_days is None else max(at, long_days)
    return Window(at, at + AFTER_FLOWERS_DAYS)


def _without_winter(year: Year, group: str) -> Window | None:
    """Where no month brings rest: what always grows is in season while it is not too hot; the rest is worked in the shortest days."""
    if group in EVER_GROWING:
        cool = np.array(year.mean_c) < STOPS_C
        if cool.all():
            return Window(0, YEAR - 1, "it grows the whole year here; have water at hand")
        if not cool.any():
            return None
        # days are counted from the coldest, so what is cool lies on both sides of their first
        hot = np.flatnonzero(~cool)
        return Window(int(hot[-1]) + 1 - YEAR, int(hot[0]) - 1, "while it is under 30 °C; have water at hand")
    shortest = int(np.argmin(year.light_h)) if year.light_h else 0
    return Window(
        shortest - SHORTEST_DAYS // 2, shortest + SHORTEST_DAYS // 2, "no winter here: in the shortest days, after two weeks of rest", edge=True
    )  # fmt: skip


def room_c(outside_mean_c: Floats) -> Floats:
    """How warm a tree stands indoors in the cold time: a little over the outside mean, never cold."""
    return np.clip(outside_mean_c + ROOM_OVER_K, ROOM_LEAST_C, ROOM_MOST_C)


def indoor_days(tmin_c: Floats, below_c: float) -> np.ndarray:
    """Days (Y, 365) on which a tree stands indoors that comes in when three nights on end fall below a temperature.

    From the first of them after midsummer to the last before the next; where no three nights do it stays out.
    """
    cold = tmin_c < below_c
    run = cold.copy()
    for back in range(1, NIGHTS_ON_END):
        run &= np.roll(cold, back, axis=1)
    # the year turned so that the warmest day stands first and the cold time is one piece
    warmest = int(np.convolve(np.tile(tmin_c.mean(axis=0), 3), np.ones(15) / 15, "same")[YEAR : 2 * YEAR].argmax())
    found = np.zeros_like(run)
    for year, row in enumerate(np.roll(run, -warmest, axis=1)):
        days = np.flatnonzero(row)
        if len(days):
            found[year, max(int(days[0]) - NIGHTS_ON_END + 1, 0) : int(days[-1]) + 1] = True
    return np.roll(found, warmest, axis=1)


def sheltered(tmin_c: Sequence[float], tmax_c: Sequence[float], shelter: str) -> tuple[list[float], list[float]]:
    """Normals as a tree under glass or indoors feels them; the same outdoors."""
    if shelter not in SHELTERS:
        return list(tmin_c), list(tmax_c)
    night, day, least_night, least_day = SHELTERS[shelter]
    low = [max(t + night, least_night) for t in tmin_c]
    return low, [max(t + day, least_day, n) for t, n in zip(tmax_c, low, strict=True)]


def _first(where: Floats | np.ndarray, start: int = 0) -> int | None:
    """The first day from a start on which something holds."""
    found = np.flatnonzero(where[start:])
    return start + int(found[0]) if len(found) else None


def _by_warmth(warmth: Floats, low: float, high: float) -> Window | None:
    first = _first(warmth >= low)
    if first is None:
        return None
    last = _first(warmth >= high)
    # where the sum is never reached the window stays open to the year's end
    return Window(first, max(YEAR - 1 if last is None else last, first + LEAST_DAYS))


def _by_heat(t: Floats, warmest: int, fades_c: float, grows_c: float) -> dict[str, Window]:
    """Growth in full heat, and the weeks after it."""
    fades = _first(t < fades_c, warmest)
    ends = YEAR - 1 if fades is None else fades
    found = {}
    grows = _first(t >= grows_c)
    if grows is not None and fades is None:
        # it never cools: growth goes on
        found["summer_active"] = Window(grows, YEAR - 1)
    elif grows is None:
        half = UNDER_GLASS_DAYS // 2
        found["summer_active"] = Window(warmest - half, warmest + half, "only under glass", under_glass=True)
    elif ends - 45 - grows < SHORT_DAYS:
        found["summer_active"] = Window(grows, grows + SHORT_DAYS, "a short summer", under_glass=True)
    else:
        found["summer_active"] = Window(grows, ends - 45)
    begins = warmest + AFTER_WARMEST
    found["late_summer"] = Window(begins, int(np.clip(ends, begins + LATE_DAYS[0], begins + LATE_DAYS[1])))
    return found


def _falling(t: Floats, warmest: int, spans: Mapping[str, tuple[float, float]]) -> dict[str, Window]:
    """Between two temperatures on the way down."""
    found = {}
    for key in ("autumn_ok", "leaf_fall"):
        cold, warm = spans[key]
        if t[warmest] <= cold:
            continue
        # where it is never warmer than the upper one the fall begins at the warmest day
        first = _first((t < warm) if key == "autumn_ok" else (t <= warm), warmest)
        last = _first(t < cold, warmest)
        if first is not None and (last is not None or key == "autumn_ok"):
            found[key] = Window(
                first, max(YEAR - 1 if last is None else last, first + (LEAST_DAYS if last is None else 0))
            )
    return found
