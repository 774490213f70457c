"""Windows and frosts of six climates, found a second way: plain loops over days, no arrays, no shared code."""

import math
from datetime import date, timedelta

import pytest

from kesh.science.season.windows import Year, year_of

CLIMATES: dict[str, tuple[tuple[float, ...], tuple[float, ...]]] = {
    "cool inland, 48 N": ((-4, -3, 0, 4, 8, 11, 13, 13, 9, 5, 1, -2), (2, 4, 9, 14, 19, 22, 25, 24, 19, 13, 6, 3)),
    "mild coast, 35 S": ((14, 14, 13, 10, 7, 5, 4, 4, 6, 8, 10, 13), (27, 27, 25, 21, 17, 14, 14, 15, 18, 21, 23, 25)),
    "cold plain, 54 N": ((-16, -14, -8, 0, 6, 11, 13, 11, 6, 0, -7, -13), (-8, -5, 2, 11, 19, 24, 25, 23, 16, 8, -1, -6)),
    "warm coast, 33 N": ((7, 7, 9, 12, 15, 18, 20, 21, 19, 16, 11, 8), (17, 18, 19, 22, 25, 28, 31, 31, 29, 26, 21, 18)),
    "high south, 42 S": ((12, 12, 10, 7, 4, 2, 1, 2, 4, 6, 8, 10), (23, 23, 21, 17, 14, 11, 10, 12, 14, 16, 19, 21)),
    "near the equator": ((22, 22, 22, 23, 23, 22, 22, 22, 22, 22, 22, 22), (31, 31, 32, 32, 31, 30, 30, 30, 31, 31, 31, 31)),
}  # fmt: skip


def phi(z: float) -> float:
    return math.exp(-z * z / 2) / math.sqrt(2 * math.pi)


def cdf(z: float) -> float:
    return 0.5 * (1 + math.erf(z / math.sqrt(2)))


def by_days(monthly: tuple[float, ...]) -> list[float]:
    centres = [int(30.4 * (n + 1) - 15) for n in range(12)]
    found = []
    for day in range(1, 366):
        before = max((c for c in centres if c <= day), default=centres[-1] - 365)
        at = centres.index(before) if before > 0 else 11
        after = centres[(at + 1) % 12] + (365 if at == 11 and before > 0 else 0)
        share = (day - before) / (after - before)
        found.append(monthly[at] + share * (monthly[(at + 1) % 12] - monthly[at]))
    return found


class Second:
    """The year by plain loops; days count from the coldest one."""

    def __init__(self, tmin: tuple[float, ...], tmax: tuple[float, ...]) -> None:
        low, high = by_days(tmin), by_days(tmax)
        mean = [(a + b) / 2 for a, b in zip(low, high, strict=True)]
        smooth = [sum(mean[(d + k) % 365] for k in range(-7, 8)) / 15 for d in range(365)]
        self.cold = min(range(365), key=lambda d: (round(smooth[d], 9), d))
        self.warm = (max(range(365), key=lambda d: (round(smooth[d], 9), -d)) - self.cold) % 365
        self.t = [mean[(d + self.cold) % 365] for d in range(365)]
        night = [low[(d + self.cold) % 365] for d in range(365)]
        frost = [cdf(-n / 3.5) > 0.10 for n in night]
        self.last_frost = max((d for d in range(self.warm) if frost[d]), default=None)
        self.first_frost = min((d for d in range(self.warm, 365) if frost[d]), default=None)
        extra = min(160.0, 12 * max(0.0, self.t[0] - 1))
        total, self.warmth = 0.0, []
        for t in self.t:
            z = (t - 5) / 4
            total += 4 * phi(z) + (t - 5) * cdf(z)
            self.warmth.append(total - extra)

    def when(self, sum_kd: float) -> int | None:
        return next((d for d in range(365) if self.warmth[d] >= sum_kd), None)

    def windows(self) -> dict[str, tuple[int, int]]:
        found: dict[str, tuple[int, int]] = {}
        for key, low, high in (
            ("bud_swell", 20, 70),
            ("early_spring", 30, 110),
            ("mid_spring", 100, 260),
            ("after_flowering", 350, 600),
        ):
            first, last = self.when(low), self.when(high)
            if first is not None:
                found[key] = first, max(364 if last is None else last, first + 21)
        if "bud_swell" in found:
            found["late_winter"] = found["bud_swell"][0] - 35, found["bud_swell"][0] - 1
        grows = next((d for d in range(365) if self.t[d] >= 17), None)
        fades = next((d for d in range(self.warm, 365) if self.t[d] < 15), None)
        if grows is None:
            found["summer_active"] = self.warm - 30, self.warm + 30
        elif fades is None:
            found["summer_active"] = grows, 364
        else:
            found["summer_active"] = grows, max(fades - 45, grows + 28)
        begins = self.warm + 25
        ends = 364 if fades is None else fades
        found["late_summer"] = begins, min(max(ends, begins + 15), begins + 45)
        cooler = next((d for d in range(self.warm, 365) if self.t[d] < 15), None)
        if cooler is not None:
            cold = next((d for d in range(self.warm, 365) if self.t[d] < 10), None)
            found["autumn_ok"] = cooler, 364 if cold is None else cold
        leaf = next((d for d in range(self.warm, 365) if self.t[d] <= 8), None)
        bare = next((d for d in range(self.warm, 365) if self.t[d] < 5), None)
        if leaf is not None and bare is not None and self.t[self.warm] > 5:
            found["leaf_fall"] = leaf, bare
        return found


def apart(a: int, b: int) -> int:
    return abs((a - b + 182) % 365 - 182)


@pytest.mark.parametrize("place", CLIMATES)
def test_windows_lie_within_a_day(place: str) -> None:
    tmin, tmax = (tuple(map(float, row)) for row in CLIMATES[place])
    ours, second = year_of(tmin, tmax), Second(tmin, tmax)
    assert apart(ours.coldest, second.cold) <= 1
    for mine, theirs in ((ours.last_frost, second.last_frost), (ours.first_frost, second.first_frost)):
        assert (mine is None) == (theirs is None)
        assert mine is None or theirs is None or apart(mine + ours.coldest, theirs + second.cold) <= 1
    told = second.windows()
    assert set(ours.windows) == set(told)
    for key, (first, last) in told.items():
        window = ours.windows[key]
        assert apart(window.first + ours.coldest, first + second.cold) <= 1, key
        assert abs((window.last - window.first) - (last - first)) <= 2, key


def test_a_leap_year_moves_no_window() -> None:
    year: Year = year_of(*(tuple(map(float, row)) for row in CLIMATES["cool inland, 48 N"]))
    for key in ("bud_swell", "autumn_ok"):
        days = [year.date_in(year.windows[key].first, y) for y in (2027, 2028, 2029)]
        assert {d.replace(year=2027) for d in days} == {days[0]}
    south = year_of(*(tuple(map(float, row)) for row in CLIMATES["mild coast, 35 S"]))
    window = south.windows["summer_active"]
    spans = [south.in_cycle(window.last, y) - south.in_cycle(window.first, y) for y in (2026, 2027)]
    # the summer over the turn to 2028 has a 29 February in it and is a day longer, on the same dates
    assert spans[1] - spans[0] == timedelta(days=1)
    assert south.in_cycle(window.first, 2027) == date(2027, 11, 21)
