"""What the years say: statuses at their limits, remedies that were reckoned, places and climates of all kinds, and the report's keys."""

from dataclasses import replace
from datetime import date
from typing import Any

import numpy as np
import pytest

from kesh.advice.case import Case, case_for
from kesh.advice.figures import figures_for
from kesh.advice.report.whole import report
from kesh.advice.report.year import THERMAL, in_years, with_year
from kesh.advice.rules.year import YEAR_CODES, graded, year_checks, year_findings
from kesh.advice.water.cold import PLACES, killing_spell, pot_cold
from kesh.advice.water.heat import absorptance_of, pot_heat
from kesh.advice.water.short import often_words, pots_years, short_of
from kesh.advice.water.year import PotYear, YearAsked, what_helps, with_grains, years_of
from kesh.base.errors import FieldError
from kesh.base.status import STATUS
from kesh.demo.lanternfield import demo_collection
from kesh.model import Month, Pot, Site
from kesh.science.climate.weather import many_years

DEMO = demo_collection()
DAY, FEW = date(2026, 3, 10), 16


def stood(tree: str, site: Site | None = None, pot: str | None = None, **fields: Any) -> tuple[Case, Pot]:
    planting = DEMO.planting_of(tree)
    assert planting is not None
    key = pot or planting.pot
    held = replace(DEMO, site=site or DEMO.site, pots={**DEMO.pots, key: DEMO.pots[key].changed(**fields)})
    return case_for(held, tree, pot_id=key, today=DAY), held.pots[key]


def year(stand: tuple[Case, Pot], **asked: Any) -> tuple[PotYear, dict[str, Any]]:
    told = YearAsked(**{"habit": "daily", "years": FEW, "helps": True} | asked)
    found = years_of((stand,), told)[0]
    assert isinstance(found, PotYear)
    return found, {f.code: f for f in year_findings(found, told)}


def test_the_limits_are_where_they_say() -> None:
    assert [graded(v, 5, 10) for v in (0, 5, 5.1, 10, 10.1)] == ["fits", "fits", "watch", "watch", "no"]


def test_a_tray_in_the_rain_is_wet_in_winter_and_a_roof_helps_as_told() -> None:
    case, pot = stood("tollgate")
    # finer grains in a low pot: what a tray in the rain can come to
    case = with_grains(case, 0.5)
    found, told = year((case, pot))
    assert set(told) == set(YEAR_CODES)
    wet = told["wet_winter"]
    assert wet.status in ("watch", "no")
    roof = next(h for h in found.helps if h.key == "roof")
    assert wet.value is not None
    assert roof.rest_wet_days < wet.value
    assert f"Under a roof: {roof.rest_wet_days:.0f} days" in wet.remedy
    # the same, reckoned as its own year
    again = years_of(((case, pot),), YearAsked("daily", roofed=True, years=FEW))[0]
    assert isinstance(again, PotYear)
    assert float(np.median(again.many.rest_wet_days)) == roof.rest_wet_days


def test_days_away_hurt_only_the_time_away() -> None:
    away = (date(2026, 7, 3), date(2026, 7, 20))
    home, _ = year(stood("old-ferryman"))
    gone, told = year(stood("old-ferryman"), away=away)
    assert gone.many.away_distress.sum() > 0
    assert told["dry_summer"].value == pytest.approx(home.many.home_distress.mean())
    by_key = {h.key: h for h in gone.helps}
    # each thing that helps, at least as good as nothing
    assert by_key["sand"].away_years <= by_key["as_is"].away_years
    assert by_key["both"].away_years <= by_key["sand"].away_years
    assert by_key["half"].away_years <= by_key["as_is"].away_years


def test_a_place_before_a_wall_uses_more_and_says_so() -> None:
    site = DEMO.site
    assert site is not None
    open_, walled = (year(stood("old-ferryman", site.changed(wall=w)))[0] for w in ("none", "wall"))
    assert walled.water.exposure == 1.3
    assert walled.usual.transpiration_l > open_.usual.transpiration_l
    assert walled.many.gap_days.mean() < open_.many.gap_days.mean()
    shaded = year(stood("old-ferryman"), place="shade")[0]
    assert shaded.water.exposure == 0.6


def test_frost_by_place_and_the_spell_that_kills() -> None:
    case, pot = stood("tollgate")
    f = figures_for(case, [pot])
    site = case.site
    assert site is not None
    weather = many_years(site, FEW, 1)
    found = {key: pot_cold(f, weather, place=key) for key in PLACES}
    # what is warmer or covered bears a colder night, so fewer come
    assert found["frame"].night_c < found["wall"].night_c <= found["bench"].night_c
    assert found["mulch"].night_c <= found["ground"].night_c <= found["bench"].night_c + 0.3
    assert found["frame"].nights_a_year <= found["bench"].nights_a_year
    assert sum(found["bench"].by_month) == pytest.approx(found["bench"].nights_a_year)
    run = killing_spell(f, found["bench"])
    hours = run.hours_until(found["bench"].limit_c)
    assert hours is not None
    assert 20 < hours < 72
    assert run.mean_c.min() <= run.outer_c.max()


def test_a_dark_wall_is_hotter_and_what_helps_is_cooler() -> None:
    stands = [stood("cartographer", colour=c) for c in ("#20201E", "#E8E2D4")]
    dark, light = (year(s)[0].heat for s in stands)
    assert dark is not None and light is not None  # noqa: PT018
    assert dark.absorptance > light.absorptance
    assert dark.year.hours_35 > light.year.hours_35
    assert all(h.hours_35 < dark.year.hours_35 for h in dark.helps)
    # a black pot in a hot place; at home it is at ease
    assert year(stands[0])[1]["hot_wall"].status == "fits"
    site = stands[0][0].site
    assert site is not None
    hot = site.changed(months=tuple(m.changed(tmin_c=m.tmin_c + 9, tmax_c=m.tmax_c + 12) for m in site.months))
    stands[0] = (replace(stands[0][0], site=hot), stands[0][1])
    told = year(stands[0])[1]["hot_wall"]
    assert told.status in ("watch", "no")
    found = year(stands[0])[0]
    assert f"{found.coolers[0][1].share_40:.0%}" in told.remedy
    # each thing that helps leaves less of the roots too hot, in the order told
    assert found.hot is not None
    left = [one.share_40 for _, one in found.coolers]
    assert left == sorted(left)
    assert all(share < found.hot.share_40 for share in left)
    with pytest.raises(FieldError, match="not in the table"):
        absorptance_of(stands[0][1].changed(material="moon dust"))
    f = figures_for(*(stands[0][0], [stands[0][1]]))
    assert stands[0][0].site is not None
    shade = pot_heat(f, many_years(stands[0][0].site, FEW, 1), "shade")
    assert shade.year.hours_35 <= dark.year.hours_35


TROPICS = Site(
    latitude_deg=4, months=(Month(tmin_c=23, tmax_c=31, rain_mm=190, wind_m_s=1.5, rh_pct=80, sun_h_day=6),) * 12
)
POLAR = Site(
    latitude_deg=72,
    months=tuple(
        Month(tmin_c=a, tmax_c=a + 7, rain_mm=20) for a in (-28, -28, -24, -16, -6, 2, 5, 4, -1, -10, -19, -25)
    ),
)
SOUTH = Site(
    latitude_deg=-35,
    months=tuple(
        Month(tmin_c=a, tmax_c=b, rain_mm=50)
        for a, b in zip(
            (14, 14, 13, 10, 7, 5, 4, 4, 6, 8, 10, 13), (27, 27, 25, 21, 17, 14, 14, 15, 18, 21, 23, 25), strict=True
        )
    ),
)
DRY = Site(latitude_deg=25, months=(Month(tmin_c=12, tmax_c=30, rain_mm=0, sun_h_day=10),) * 12)


@pytest.mark.parametrize("site", [TROPICS, POLAR, SOUTH, DRY], ids=["tropics", "polar", "south", "dry"])
def test_every_climate_gives_right_figures_or_a_sentence(site: Site) -> None:
    found, told = year(stood("mossback", site))
    assert found.many.balance_error_l < 1e-6
    assert all(f.status in ("fits", "watch", "no", "unknown") for f in told.values())
    if site is TROPICS:
        assert (
            told["wet_winter"].short in ("no winter rest", "bears the winter") or told["wet_winter"].status != "unknown"
        )
        assert told["night_at_risk"].value == 0
    if site is POLAR:
        assert told["night_at_risk"].status == "no"
        assert told["hot_wall"].status == "fits"
    if site is SOUTH:
        assert int(np.median(found.many.gap_days, axis=0).argmin()) in (0, 1, 11)
    if site is DRY:
        assert sum(found.rain_mm) == 0
        assert told["wet_winter"].status == "fits"


def test_a_colder_site_never_has_fewer_nights_at_risk_and_rain_never_more_waterings() -> None:
    site = DEMO.site
    assert site is not None
    colder = site.changed(months=tuple(m.changed(tmin_c=m.tmin_c - 3, tmax_c=m.tmax_c - 3) for m in site.months))
    warm, cold = (year(stood("tollgate", s))[0].cold for s in (site, colder))
    assert warm is not None and cold is not None  # noqa: PT018
    assert cold.nights_a_year >= warm.nights_a_year
    dry = site.changed(months=tuple(m.changed(rain_mm=0) for m in site.months))
    wet, parched = (year(stood("tollgate", s), habit="asked")[0] for s in (site, dry))
    assert wet.usual.waterings.sum() <= parched.usual.waterings.sum()


def test_coarser_grains_are_coarser_and_a_layer_stays() -> None:
    case, pot = stood("tollgate")
    assert case.blend is not None
    other = with_grains(case, 1.5).blend
    assert other is not None
    assert other.mean_size_mm == pytest.approx(1.5 * case.blend.mean_size_mm, rel=1e-6)
    assert other.phi_t == pytest.approx(case.blend.phi_t, rel=1e-3)
    keys = [h.key for h in what_helps(figures_for(case, [pot]), YearAsked("daily", years=4))]
    assert keys[0] == "as_is"
    assert "oftener" in keys
    assert "oftener" not in [h.key for h in what_helps(figures_for(case, [pot]), YearAsked("twice", years=4))]


def test_the_report_holds_the_thermal_keys_and_the_four_findings() -> None:
    case, pot = stood("tollgate")
    a, told_year = in_years(case, pot)
    found = with_year(report(a), a, told_year)
    assert tuple(found["thermal"]) == THERMAL
    assert all(isinstance(found["thermal"][key], float) for key in THERMAL)
    codes = [f["code"] for f in found["findings"]]
    assert set(YEAR_CODES) <= set(codes)
    order = [("no", "watch", "unknown", "fits").index(f["status"]) for f in found["findings"]]
    assert order == sorted(order)
    # where nothing is known of the climate, four sentences and no figure
    bare, none = in_years(replace(case, site=None), pot)
    assert none is None
    found = with_year(report(bare), bare, none)
    assert set(found["thermal"].values()) == {None}
    told = [f for f in found["findings"] if f["code"] in YEAR_CODES]
    assert {f["status"] for f in told} == {"unknown"}
    assert all("climate" in f["remedy"] for f in told)


def test_many_pots_in_a_few_words_are_as_each_alone() -> None:
    case = case_for(DEMO, "old-ferryman", today=DAY)
    pots = tuple(DEMO.pots.values())[:10]
    asked = YearAsked("daily", years=6)
    found = pots_years(case, pots, asked)
    assert set(found) == {p.id for p in pots}
    for pot in pots[:3]:
        alone, together = pots_years(case, (pot,), asked)[pot.id], found[pot.id]
        if isinstance(alone, str) or isinstance(together, str):
            assert alone == together
            continue
        assert short_of(alone) == short_of(together)
        whole = years_of(((case, pot),), asked)[0]
        assert isinstance(whole, PotYear)
        assert short_of(alone).distress_years == int(whole.many.home_distress.sum())
        # the words of the ranking are those of the pot's own year
        told = {f.code: f.status for f in year_findings(whole, asked)}
        rows = year_checks([alone], asked)
        assert {rule.code: STATUS[int(result.status[0])] for rule, result in rows} == told
    assert [often_words(d) for d in (0.2, 0.5, 1.0, 3.2, 60)] == [
        "5 times a day",
        "twice a day",
        "every day",
        "every 3 days",
        "hardly ever",
    ]


@pytest.mark.parametrize("year", [2026, 2028])
def test_days_away_fall_on_their_days_in_leap_years_too(year: int) -> None:
    days = YearAsked("daily", False, (date(year, 7, 10), date(year, 7, 12))).away_days()
    assert days is not None
    assert list(np.flatnonzero(days)) == [190, 191, 192]
    over = YearAsked("daily", False, (date(year, 12, 30), date(year + 1, 1, 2))).away_days()
    assert over is not None
    assert sorted(np.flatnonzero(over)) == [0, 1, 363, 364]
