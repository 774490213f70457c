"""Windows of the year from the climate: two places worked out by hand, and what must hold of any place."""

import json
from datetime import date, timedelta

import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from kesh.formats.bundle import bundle_of, read_bundle
from kesh.model import Collection, OwnWindow, Sign, Site
from kesh.model.site import Month
from kesh.reference.tables import tables
from kesh.science.season.season import dated, season_at, window_words, year_at
from kesh.science.season.windows import Year, year_of
from tests.kept import examples

NORTH = ((-4, -3, 0, 4, 8, 11, 13, 13, 9, 5, 1, -2), (2, 4, 9, 14, 19, 22, 25, 24, 19, 13, 6, 3))
SOUTH = ((14, 14, 13, 10, 7, 5, 4, 4, 6, 8, 10, 13), (27, 27, 25, 21, 17, 14, 14, 15, 18, 21, 23, 25))
BY_HAND = {
    "north": (NORTH, "04-19", "10-20", {
        "bud_swell": ("03-11", "04-06"), "early_spring": ("03-19", "04-16"), "mid_spring": ("04-14", "05-11"),
        "after_flowering": ("05-22", "06-15"), "summer_active": ("06-22", "07-26"), "late_summer": ("08-15", "09-09"),
        "autumn_ok": ("09-09", "10-10"), "leaf_fall": ("10-22", "11-07"),
    }),
    "south": (SOUTH, "08-23", "07-02", {
        "bud_swell": ("08-10", "08-31"), "mid_spring": ("08-26", "09-20"), "summer_active": ("11-21", "03-07"),
    }),
}  # fmt: skip
MAPLE = tables().species["trident_maple"]


def place(normals: tuple[tuple[float, ...], tuple[float, ...]], latitude: float = 48.0) -> Site:
    return Site(
        latitude_deg=latitude, months=tuple(Month(tmin_c=a, tmax_c=b) for a, b in zip(*normals, strict=True))
    )  # fmt: skip


def at(year: Year, number: int | None) -> str:
    return "" if number is None else year.date_in(number, 2026).isoformat()[5:]


@pytest.mark.parametrize("name", BY_HAND)
def test_windows_and_frosts_of_two_places(name: str) -> None:
    normals, last_frost, first_frost, windows = BY_HAND[name]
    year = year_of(*(tuple(map(float, n)) for n in normals))
    assert (at(year, year.last_frost), at(year, year.first_frost)) == (last_frost, first_frost)
    assert {k: (at(year, year.windows[k].first), at(year, year.windows[k].last)) for k in windows} == windows


def test_where_it_never_cools_there_is_no_leaf_fall_and_the_spring_is_rough() -> None:
    year = year_of((22.0,) * 12, (31.0,) * 12)
    assert year.rough
    assert year.last_frost is None
    assert "leaf_fall" not in year.windows
    assert year.windows["summer_active"].last - year.windows["summer_active"].first >= 350
    found = season_at(MAPLE, date(2026, 3, 20), place(((22,) * 12, (31,) * 12)))
    assert found is not None
    # a tree that needs a winter has none here: at best the edge, in the shortest days
    assert found.status != "best"
    assert "no winter here" in found.why


def test_where_it_never_thaws_growth_is_only_under_glass() -> None:
    year = year_of((-30.0,) * 12, (-20.0,) * 12)
    assert year.windows["summer_active"].under_glass
    assert "bud_swell" not in year.windows
    found = season_at(MAPLE, date(2026, 3, 20), place(((-30,) * 12, (-20,) * 12)))
    assert found is not None
    assert found.status == "wrong"
    assert "no such window" in found.why


@settings(max_examples=examples(60), deadline=None)
@given(st.integers(0, 11), st.floats(-8, 18), st.floats(2, 14), st.integers(1, 365))
def test_half_a_year_later_is_the_same_half_a_year_later(shift: int, mean: float, swing: float, day: int) -> None:
    """Any place: windows keep their order, and a climate turned round by months turns its windows with it."""
    import numpy as np

    # beyond the tree line, a warmest month of some 10 degrees, a window is there or not by a hair
    assume(mean + 0.5 + swing > 8)
    month = np.arange(12)
    low = mean - 4 - swing * np.cos(2 * np.pi * month / 12)
    year, turned = (year_of(tuple(np.roll(low, n).tolist()), tuple(np.roll(low + 9, n).tolist())) for n in (0, shift))
    spring = [
        year.windows[k] for k in ("bud_swell", "early_spring", "mid_spring", "after_flowering") if k in year.windows
    ]
    assert [w.first for w in spring] == sorted(w.first for w in spring)
    assert all(w.last - w.first >= 21 for w in spring)
    assert set(turned.windows) == set(year.windows)
    when = date(2026, 1, 1) + timedelta(days=day - 1)
    for key in year.windows:
        first, last = dated(year, key, when) or (when, when)
        assert first <= last
        # month centres do not lie evenly, so a turned year is not the same to the day
        assert abs(turned.windows[key].first - year.windows[key].first) <= 6


def test_days_about_a_window() -> None:
    site = place(NORTH)
    said = {d: season_at(MAPLE, d, site) for d in (date(2026, 3, 20), date(2026, 3, 1), date(2026, 7, 20))}
    status = {d: s.status for d, s in said.items() if s is not None}
    assert status == {date(2026, 3, 20): "best", date(2026, 3, 1): "edge", date(2026, 7, 20): "wrong"}
    best = said[date(2026, 3, 20)]
    assert best is not None
    assert best.days_left == (date(2026, 4, 6) - date(2026, 3, 20)).days
    assert best.last == date(2026, 4, 6)
    assert season_at(None, date(2026, 3, 20), site) is None
    assert "11 Mar to 6 Apr" in window_words(MAPLE, site, date(2026, 3, 20))


def test_buds_seen_to_swell_move_the_spring() -> None:
    site, early = place(NORTH), date(2026, 2, 24)
    plain = season_at(MAPLE, early, site)
    seen = (Sign(date=early, sign="buds", value="swelling"),)
    moved = season_at(MAPLE, early, site, seen)
    assert plain is not None
    assert moved is not None
    assert (plain.status, moved.status) != ("best", "best")
    assert moved.status == "best"
    assert moved.first == early
    assert "by the buds you saw" in moved.why
    # a sign of another spring moves nothing
    old = (Sign(date=date(2025, 2, 24), sign="buds", value="swelling"),)
    assert season_at(MAPLE, early, site, old) == plain


def test_a_window_over_the_turn_of_the_year_holds_on_both_sides() -> None:
    site = place(SOUTH, -35)
    fig = next(s for s in tables().species.values() if s.repot_window == "summer_active")
    for day in (date(2026, 12, 30), date(2027, 1, 2)):
        found = season_at(fig, day, site)
        assert found is not None
        assert found.status == "best"
        assert (found.first, found.last) == (date(2026, 12, 15), date(2027, 3, 7))


def test_without_a_climate_months_speak_and_turn_round_in_the_south() -> None:
    def status(day: date, latitude: float) -> str:
        found = season_at(MAPLE, day, Site(latitude_deg=latitude))
        assert found is not None
        assert "no climate" in found.why
        return found.status

    assert status(date(2026, 3, 20), 48) == "best"
    assert status(date(2026, 9, 20), -48) == "best"
    assert status(date(2026, 7, 20), 48) == "wrong"
    assert [status(d, 48) for d in (date(2026, 2, 20), date(2026, 5, 10), date(2026, 5, 20))] == [
        "edge",
        "edge",
        "wrong",
    ]
    assert "Mar" in window_words(MAPLE, Site(latitude_deg=48), date(2026, 3, 20))
    assert "Sep" in window_words(MAPLE, Site(latitude_deg=-48), date(2026, 3, 20))


def test_the_table_of_windows_can_be_ones_own() -> None:
    plain = place(NORTH)
    site = plain.changed(
        windows=(OwnWindow(key="bud_swell", low=40, high=90), OwnWindow(key="unheard_of", low=1, high=2))
    )
    day = date(2026, 3, 20)
    usual, own = season_at(MAPLE, day, plain), season_at(MAPLE, day, site)
    assert usual is not None
    assert own is not None
    assert usual.first is not None
    assert own.first is not None
    assert own.first > usual.first
    # a summer that begins at twenty degrees of the mean is later, or only under glass
    warm = plain.changed(windows=(OwnWindow(key="summer_active", low=15, high=18.5),))
    a, b = year_at(plain), year_at(warm)
    assert a is not None
    assert b is not None
    assert b.windows["summer_active"].first > a.windows["summer_active"].first
    with pytest.raises(ValueError, match="not above"):
        OwnWindow(key="bud_swell", low=40, high=40)
    again = read_bundle(json.loads(json.dumps(bundle_of(Collection(site=site)))))
    assert again.site == site


def test_a_window_that_waits_for_warm_nights_is_not_called_by_the_season_it_would_have_been() -> None:
    rose, day = tables().species["desert_rose"], date(2026, 3, 20)
    mild = ((6, 7, 8, 10, 13, 16, 19, 20, 17, 13, 9, 7), (13, 14, 16, 19, 23, 27, 30, 30, 27, 22, 17, 14))
    assert window_words(rose, place(mild, 40.0), day).endswith(", when nights are warm enough")
    assert window_words(rose, place(NORTH), day).startswith("only under glass or in a warm room, about")
    assert window_words(MAPLE, place(mild, 40.0), day).startswith("bud swell, about")
    tropics = place(((21,) * 12, (31,) * 12), 5.0)
    assert window_words(rose, tropics, day) == "all year"
    assert "bud swell" not in window_words(MAPLE, tropics, day)


def test_where_it_is_too_hot_for_months_the_cool_ones_on_both_sides_of_the_coldest_are_worked() -> None:
    rose = tables().species["desert_rose"]
    hot = place(
        ((19, 20, 22, 25, 26, 25, 24, 24, 24, 24, 22, 20), (29, 31, 35, 39, 40, 38, 35, 34, 34, 33, 30, 29)), 15.0
    )
    for day, status in ((date(2026, 1, 15), "best"), (date(2026, 11, 20), "best"), (date(2026, 5, 15), "wrong")):
        assert season_at(rose, day, hot).status == status  # type: ignore[union-attr]
    ever = place(((26,) * 12, (38,) * 12), 5.0)
    assert season_at(rose, date(2026, 3, 1), ever).status == "wrong"  # type: ignore[union-attr]
    assert "this climate does not have" in window_words(rose, ever, date(2026, 3, 1))
