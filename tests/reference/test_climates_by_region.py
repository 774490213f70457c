"""Typical years by region and zone: whole, plausible, and on the right side of the equator."""

from datetime import date

import pytest

from kesh.model import Day
from kesh.reference.starters import (
    chosen,
    climate_of,
    climates,
    facing,
    hardiness_zone,
    of_zone,
    regions,
    southern,
    with_climate,
)

DAY = Day(date=date(2026, 1, 5), tmin_c=-3, tmax_c=4)
REGIONAL = [c for c in climates().values() if c.region]


@pytest.mark.parametrize(
    ("coldest_c", "zone"), [(-60.0, 1), (-45.6, 1), (-45.5, 2), (-17.8, 6), (-17.7, 7), (-12.3, 7), (-12.2, 8), (-1.2, 9), (-1.1, 10), (4.5, 11), (30.0, 13)]
)  # fmt: skip
def test_zones_are_ten_degrees_fahrenheit_wide(coldest_c: float, zone: int) -> None:
    assert hardiness_zone(coldest_c) == zone


def test_sixty_places_and_more_in_every_part_of_the_world() -> None:
    assert len(REGIONAL) >= 60
    assert len(regions()) >= 15
    assert len({c.words + c.region for c in REGIONAL}) == len(REGIONAL)
    assert {z for z in range(4, 12) if not of_zone(z)} == set()


@pytest.mark.parametrize("one", REGIONAL, ids=lambda c: c.key)
def test_a_year_is_whole_and_its_summer_where_the_place_lies(one: object) -> None:
    c = one
    months = c.site.months  # type: ignore[attr-defined]
    assert len(months) == 12
    assert all(m.tmin_c < m.tmax_c for m in months)
    assert all(0 <= m.sun_h_day <= 14 and 20 <= m.rh_pct <= 95 for m in months)
    means = [(m.tmin_c + m.tmax_c) / 2 for m in months]
    if max(means) - min(means) > 6:
        warmest = 1 + means.index(max(means))
        assert (warmest in (12, 1, 2)) is southern(c.site)  # type: ignore[attr-defined]
    # the coldest night of a year lies below the mean night of its coldest month
    assert c.coldest_night_c < min(m.tmin_c for m in months)  # type: ignore[attr-defined]


def test_a_region_says_itself_where_it_lies_and_one_of_no_place_turns() -> None:
    assert southern(chosen("pampas", south=False))
    assert not southern(chosen("british_east", south=True))
    assert southern(chosen("cool_wet_summers", south=True))
    there = chosen("pampas", south=False)
    north = facing(there, False)
    assert north.latitude_deg == 34.5
    assert north.months == (*there.months[6:], *there.months[:6])
    assert climate_of(north) == "pampas"
    assert facing(north, True).months == there.months


def test_another_climate_leaves_wall_winter_and_days_as_they_are() -> None:
    own = chosen("british_east", south=False).changed(wall="wall", winter_place="frame", daily=(DAY,))
    after = with_climate(own, "pampas")
    assert after.months == chosen("pampas", south=False).months
    assert (after.wall, after.winter_place, after.daily) == (own.wall, own.winter_place, own.daily)
    assert after.name == chosen("pampas", south=False).name
    assert with_climate(own.changed(name="Lanternfield"), "pampas").name == "Lanternfield"
    assert with_climate(None, "pampas") == chosen("pampas", south=False)
    # one of no place lies on the side on which the bench lies
    assert southern(with_climate(after, "cool_wet_summers"))
