"""Sense that holds everywhere, over random trees, pots and places (docs/methods.md, "sense")."""

from dataclasses import replace

import numpy as np
import pytest

from kesh.advice.answers import answer_arrays, question_of, verdict_of
from kesh.advice.case import Case, case_for
from kesh.advice.checks import RULES
from kesh.advice.figures import figures_for
from kesh.advice.report.year import ranked_in_years
from kesh.advice.rules.year import hot_status
from kesh.advice.water.cold import pot_cold
from kesh.advice.water.heat import pot_hot
from kesh.advice.water.year import YearAsked, pot_water_of, shelf_years, with_grains
from kesh.base.status import FITS, GRAVEST_FIRST, NO, STATUS, WATCH, gravity
from kesh.demo.lanternfield import demo_collection
from kesh.model import Hole, Pot, Site
from kesh.science.climate.weather import many_years, usual_year, with_indoors
from kesh.science.stand.stability import crown_area_m2

DEMO = demo_collection()
TREES = ("old-ferryman", "tollgate", "mossback", "evening-bell", "paper-lantern", "twice-told")
SEEDS = range(12)


def drawn(seed: int) -> tuple[Case, Pot, np.random.Generator]:
    """A tree of the demo in a random place, with a random plain pot."""
    r = np.random.default_rng(seed)
    assert DEMO.site is not None
    shift = float(r.uniform(-6, 8))
    months = tuple(m.changed(tmin_c=m.tmin_c + shift, tmax_c=m.tmax_c + shift) for m in DEMO.site.months)
    site = DEMO.site.changed(months=months, daily=())
    case = replace(case_for(DEMO, TREES[seed % len(TREES)], season="best"), site=site)
    base = DEMO.pots["ochre-rectangle"]
    long = round(float(r.uniform(240, 460)))
    pot = base.changed(
        length_mm=long, width_mm=round(long * float(r.uniform(0.6, 0.85))), height_mm=round(float(r.uniform(60, 130))),
        measured_volume_l=None, measured_mass_kg=None,
        holes=tuple(Hole(x_mm=x * long, y_mm=0, diameter_mm=18) for x in (-0.22, 0.22)),
    )  # fmt: skip
    return case, pot, r


def colder(site: Site, by_k: float) -> Site:
    """The same place with every night and day colder."""
    return site.changed(months=tuple(m.changed(tmin_c=m.tmin_c - by_k, tmax_c=m.tmax_c - by_k) for m in site.months))


@pytest.mark.parametrize("seed", SEEDS)
def test_more_floor_lasts_longer_and_coarser_grains_are_drier(seed: int) -> None:
    case, pot, _ = drawn(seed)
    # while the crown covers the soil; bare soil beyond it dries by itself
    area = crown_area_m2(case.tree.measure)
    assert area is not None
    long = min(pot.length_mm, 1000 * (area / 0.7 / 1.3**2) ** 0.5)
    small = pot.changed(length_mm=long, width_mm=0.7 * long)
    wide = small.changed(length_mm=1.3 * long, width_mm=0.7 * 1.3 * long)
    days = [float(figures_for(case, [p]).use.days_between[0]) for p in (small, wide)]  # type: ignore[union-attr]
    assert days[1] >= days[0] - 1e-9
    fine, coarse = figures_for(case, [pot]), figures_for(with_grains(case, 1.6), [pot])
    assert fine.water is not None
    assert coarse.water is not None
    assert coarse.water.air_mean[0] >= fine.water.air_mean[0] - 1e-9
    assert coarse.water.air_upper_half[0] >= coarse.water.air_bottom_third[0] - 1e-9
    assert coarse.wet_foot_h is not None
    assert fine.wet_foot_h is not None
    assert coarse.wet_foot_h[0] <= fine.wet_foot_h[0] + 1e-9
    asked = YearAsked("daily", years=8)
    years = [shelf_years(f, asked)[0] for f in (fine, coarse)]
    wet = [(float(np.median(y.many.rest_wet_days)), float(np.median(y.many.rest_drowned_days))) for y in years if not isinstance(y, str)]  # fmt: skip
    assert wet[1][0] <= wet[0][0]
    assert wet[1][1] <= wet[0][1]
    # the upper half is never short of air for longer than the lowest third is asked half as much
    assert all(np.isfinite(w).all() for w in wet)


@pytest.mark.parametrize("seed", SEEDS)
def test_colder_never_fewer_nights_and_indoors_never_more(seed: int) -> None:
    case, pot, r = drawn(seed)
    f, site = figures_for(case, [pot]), case.site
    assert site is not None
    by = float(r.uniform(1, 6))
    nights = [
        pot_cold(figures_for(replace(case, site=s), [pot]), many_years(s, 10, 1)).nights_a_year
        for s in (site, colder(site, by))
    ]
    assert nights[1] >= nights[0] - 1e-9
    weather = many_years(site, 10, 1)
    inside = with_indoors(weather, 10.0)
    assert (inside.tmin_c >= weather.tmin_c - 1e-9).all()
    assert inside.rain_mm.sum() <= weather.rain_mm.sum() + 1e-9
    assert pot_cold(f, inside).nights_a_year <= pot_cold(f, weather).nights_a_year + 1e-9


@pytest.mark.parametrize("seed", SEEDS)
def test_more_shade_is_never_hotter_or_thirstier(seed: int) -> None:
    case, pot, _ = drawn(seed)
    f = figures_for(case, [pot])
    assert case.site is not None
    plain = usual_year(case.site)
    open_, half, shade = (pot_hot(f, plain, place) for place in ("none", "half", "shade"))
    assert shade.peak_c <= half.peak_c <= open_.peak_c + 1e-9
    assert shade.share_40 <= half.share_40 <= open_.share_40
    assert gravity(hot_status(shade)) >= gravity(hot_status(open_))
    # a dark wall is never cooler than a pale one
    dark, pale = (pot_hot(figures_for(case, [pot.changed(colour=c)]), plain, "none") for c in ("#1C1C1C", "#E8E2D4"))
    assert dark.share_40 >= pale.share_40
    thirst = [pot_water_of(f, exposure=e).exposure for e in (1.0, 0.8, 0.6)]
    assert thirst == sorted(thirst, reverse=True)


@pytest.mark.parametrize("seed", SEEDS)
def test_heavier_stands_firmer_and_more_holes_never_drain_worse(seed: int) -> None:
    case, pot, r = drawn(seed)
    heavy = pot.changed(measured_mass_kg=6.0)
    light = pot.changed(measured_mass_kg=2.0)
    tips = [figures_for(case, [p]).stand.tip_angle_deg[0] for p in (light, heavy)]  # type: ignore[union-attr]
    assert tips[1] >= tips[0] - 1e-9
    more = pot.changed(holes=(*pot.holes, Hole(x_mm=0.0, y_mm=float(r.uniform(-15, 15)), diameter_mm=20)))
    rule = next(rule for rule in RULES if rule.code == "drain_holes")
    results = [rule.check(figures_for(case, [p])) for p in (pot.changed(holes=()), pot, more)]
    grave = [gravity(STATUS[int(result.status[0])]) for result in results if result is not None]
    assert grave == sorted(grave)


@pytest.mark.parametrize("seed", SEEDS)
def test_a_stronger_tree_never_bears_less(seed: int) -> None:
    case, _, _ = drawn(seed)
    limits = [case.limit_in(health) for health in ("sick", "weak", "normal", "strong")]
    known = [one for one in limits if one is not None]
    assert known == sorted(known)


def test_looks_alone_never_refuse_and_the_verdict_is_the_gravest_of_life_and_work() -> None:
    grid = np.array(np.meshgrid(*(range(4),) * 3)).reshape(3, -1).astype(np.int8)
    verdict = verdict_of(grid)
    for (lives, work, looks), found in zip(grid.T.tolist(), verdict.tolist(), strict=True):
        if NO in (lives, work):
            assert found == NO
        else:
            assert found != NO
        assert (found == FITS) == ((lives, work, looks) == (FITS, FITS, FITS))
        if looks == NO and {lives, work} <= {FITS, WATCH}:
            assert found == WATCH


def test_every_rule_belongs_to_one_question_and_the_ranking_says_what_the_report_says() -> None:
    assert {question_of(rule.code) for rule in RULES} <= {"lives", "work", "looks", "record"}
    case = case_for(DEMO, "twice-told", season="best")
    pots = tuple(DEMO.pots.values())[:14]
    ranking = ranked_in_years(case, pots)
    arrays = answer_arrays(ranking.checks, len(pots))
    for i in range(len(pots)):
        entry = ranking.entry_of(i)
        assert [STATUS[int(s)] for s in arrays[:, i]] == [answer.status for _, answer in entry.answers.each()]
        assert entry.answers.verdict == entry.verdict
        assert all(entry.told)
    order = [gravity_of_pot(ranking.entry(place).verdict) for place in range(len(pots))]
    assert order == sorted(order)


def gravity_of_pot(verdict: str) -> int:
    """Where a verdict stands among pots from best to worst."""
    return ("fits", "watch", "unknown", "no").index(verdict)


def test_a_part_at_nought_cannot_win() -> None:
    case = case_for(DEMO, "old-ferryman", season="best")
    ranking = ranked_in_years(case, tuple(DEMO.pots.values()))
    parts = np.array(list(ranking.parts.values()))
    best = int(np.argmax(ranking.score))
    assert parts[:, best].min() > 0.02
    assert len(GRAVEST_FIRST) == 4
