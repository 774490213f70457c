"""After one watering: the hourly course, the tilt, water by depth, and what readings say of the pot."""

from dataclasses import replace
from datetime import date, datetime, timedelta

import numpy as np
import pytest

from kesh.advice.case import Case, case_for
from kesh.advice.figures import Figures, figures_for
from kesh.advice.roots.old_soil import QUESTIONS, old_soil
from kesh.advice.water.readings import forecast_rain, read_all, share_left, used_between_l
from kesh.advice.water.watering import (
    DAYS,
    START_H,
    check_words,
    drying_curve,
    grain_size_words,
    use_of_hour,
    usual_weather,
    water_by_depth,
)
from kesh.advice.water.year import YearAsked, pot_water_of
from kesh.base.errors import FieldError
from kesh.demo.lanternfield import demo_collection
from kesh.model import Day, Reading
from kesh.science.water.drainage import tilt_grid, tilted

DEMO = demo_collection()
JULY = date(2026, 7, 10)


def figures(tree: str = "tollgate", case: Case | None = None) -> Figures:
    planting = DEMO.planting_of(tree)
    assert planting is not None
    return figures_for(case or case_for(DEMO, tree, pot_id=planting.pot, today=JULY), [DEMO.pots[planting.pot]])


def test_a_day_s_use_is_used_in_a_day_and_nothing_by_night() -> None:
    assert sum(use_of_hour(h + 0.5) for h in range(24)) == pytest.approx(1.0, abs=0.01)
    assert use_of_hour(2.0) == use_of_hour(26.0) == 0


def test_the_course_begins_full_and_is_filled_when_it_asks() -> None:
    f = figures("old-ferryman")
    curve = drying_curve(f, JULY, YearAsked())
    assert len(curve.share) == DAYS * 24 + 1
    assert curve.share[0] == pytest.approx(curve.drained_share)
    assert curve.asks_h == curve.watered_h[0]
    before = curve.share[: curve.watered_h[0]]
    assert np.all(np.diff(before) <= 1e-12)
    assert curve.share[curve.watered_h[0]] == pytest.approx(curve.drained_share)
    # where it asks it has come to the line
    assert before[-1] <= curve.dry_line + 0.02
    # it lasts about as long as the bucket of days says, begun in the morning
    pot = pot_water_of(f)
    day = float(usual_weather(f).et0_mm[0, JULY.timetuple().tm_yday - 1])
    about = (
        pot.mad * pot.available_l / (day * pot.crown_coefficient * pot.crown_area_m2 + day * pot.ke * pot.soil_area_m2)
    )
    assert curve.asks_h / 24 == pytest.approx(about, rel=0.4)


def test_less_water_after_a_tilt_asks_sooner() -> None:
    f = figures("old-ferryman")
    flat, tipped = (drying_curve(f, JULY, YearAsked(), drained_off_l=x) for x in (0.0, 0.2))
    assert tipped.asks_h < flat.asks_h
    assert tipped.share[0] < flat.share[0]


def test_a_coarse_raster_tilts_as_a_fine_one() -> None:
    f = figures("seven-neighbours")
    assert f.case.blend is not None
    depth = float(f.soil_depth_mm[0])
    fine = tilted(f.pots, f.case.blend, depth, 7.0, 0.0)
    coarse = tilt_grid(f.pots, depth, across=72, layers=36).tilted(f.case.blend, 7.0, 0.0)
    assert coarse.drained_l == pytest.approx(fine.drained_l, rel=0.03)
    assert coarse.wet_share == pytest.approx(fine.wet_share, abs=0.01)
    grid = tilt_grid(f.pots, depth)
    left = [grid.tilted(f.case.blend, t, 0.0).water_left_l for t in (0.0, 3.0, 6.0, 10.0)]
    assert left == sorted(left, reverse=True)


def test_water_by_depth_closes_and_agrees_with_the_bucket_within_reason() -> None:
    for tree in ("tollgate", "seven-neighbours"):
        f = figures(tree)
        found = water_by_depth(f, JULY, YearAsked())
        assert found.drying.converged
        assert f.water is not None
        # an hour after soaking it holds about what the static model says it holds drained
        volumes = float(f.water.soil_l[0])
        hour = float(found.drying.water[1].mean()) * volumes
        assert hour == pytest.approx(float(f.water.held_l[0]), rel=0.12)
        assert np.all(np.diff(found.air_mean) >= -1e-3)
        assert found.air_after_h is not None
        assert found.air_after_h < 48


def test_what_is_missing_is_named() -> None:
    planting = DEMO.planting_of("tollgate")
    assert planting is not None
    case = case_for(DEMO, "tollgate", pot_id=planting.pot, today=JULY)
    with pytest.raises(FieldError, match="climate"):
        drying_curve(figures(case=replace(case, site=None)), JULY, YearAsked())
    with pytest.raises(FieldError, match="mix"):
        water_by_depth(figures(case=replace(case, mix=None)), JULY, YearAsked())


def test_what_to_look_at_hangs_on_the_depth() -> None:
    assert "Shallow" in check_words(figures("seven-neighbours"))
    assert "stick 60 mm" in check_words(figures("old-ferryman"))
    assert "1–3 mm" in grain_size_words(figures("seven-neighbours"))
    assert "3–6 mm" in grain_size_words(figures("old-ferryman"))


def test_old_soil_is_judged_by_its_worst() -> None:
    assert old_soil(()).high == 0.5
    assert old_soil(["fines"]).high == 0.25
    assert old_soil(["salts", "fines"]).high == 0.1
    assert old_soil(list(QUESTIONS)).high == 0
    assert "Throw it away" in old_soil(["disease"]).words


def reading(
    n: int, at: datetime, kind: str, value: float | str, unit: str = "", full: datetime | None = None
) -> Reading:
    return Reading.made(id=f"r{n}", tree="old-ferryman", at=at, kind=kind, value=value, unit=unit, full_at=full)


def test_readings_that_find_it_drier_say_it_dries_faster() -> None:
    f, asked = figures("old-ferryman"), YearAsked()
    pot, weather = pot_water_of(f), usual_weather(f)
    full = datetime(2026, 7, 1, 8)
    # as dry as it would be if it dried half again as fast
    rows, factor = [], 1.5
    for n, hours in enumerate((24, 34, 48)):
        at = full + timedelta(hours=hours)
        used = factor * used_between_l(f, pot, weather, full, at) / pot.available_l
        held, soil = float(f.water.held_l[0]), float(f.water.soil_l[0])  # type: ignore[union-attr]
        rows.append(reading(n, at, "probe", (held - used * pot.available_l) / soil, "share", full))
    found = read_all(f, rows, asked, full + timedelta(days=2))
    assert all(r.factor == pytest.approx(factor, rel=1e-6) for r in found.read)
    assert 1.2 < found.factor.factor < factor
    assert found.factor.count == 3
    # faster, so it asks before the computed pot would
    slow = read_all(f, [rows[0].changed(full_at=None)], asked, full + timedelta(days=2))
    assert found.next_look is not None
    assert slow.next_look is not None
    assert found.next_look <= slow.next_look


def test_stick_probe_and_weight_are_read_as_what_they_are() -> None:
    f = figures("old-ferryman")
    assert f.water is not None and f.stand is not None  # noqa: PT018
    at = datetime(2026, 7, 2, 9)
    held, available, soil = (float(getattr(f.water, n)[0]) for n in ("held_l", "available_l", "soil_l"))
    assert share_left(reading(1, at, "stick", "hardly"), f) == 0.35
    assert share_left(reading(2, at, "probe", 100 * (held - available / 2) / soil, "%"), f) == pytest.approx(0.5)
    half = float(f.stand.mass_wet_kg[0]) - available / 2
    assert share_left(reading(3, at, "weight", half, "kg"), f) == pytest.approx(0.5)
    assert share_left(reading(4, at, "weight", half * 1000, "g"), f) == pytest.approx(0.5)
    # a lighter pot than a dry one cannot be less than empty
    assert share_left(reading(5, at, "weight", 0.1, "kg"), f) == 0


@pytest.mark.parametrize(
    ("kind", "value", "unit"),
    [("stick", 0.3, ""), ("probe", "wet", "%"), ("probe", 140.0, "%"), ("weight", 4.0, ""), ("weight", -1.0, "kg")],
)
def test_a_reading_that_cannot_be_is_refused(kind: str, value: float | str, unit: str) -> None:
    with pytest.raises(FieldError):
        reading(1, datetime(2026, 7, 2, 9), kind, value, unit)


def test_rain_to_come_puts_the_next_look_off() -> None:
    f = figures("old-ferryman")
    now = datetime(2026, 7, 2, 9)
    dry = read_all(f, [reading(1, now, "stick", "moist")], YearAsked(), now)
    site = f.case.site
    assert site is not None
    rains = tuple(
        Day(date=date(2026, 7, 2) + timedelta(n), tmin_c=10, tmax_c=20, rain_mm=25, forecast=True) for n in range(4)
    )
    assert len(forecast_rain(site.changed(daily=rains))) == 4
    wet = read_all(
        figures("old-ferryman", replace(f.case, site=site.changed(daily=rains))),
        [reading(1, now, "stick", "moist")],
        YearAsked(),
        now,
    )
    assert dry.next_look is not None
    assert wet.next_look is None or wet.next_look > dry.next_look
    assert dry.left_now == pytest.approx(0.7)
    assert START_H == 8
