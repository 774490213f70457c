"""The night that kills a tree's outer roots in its pot: what moves it, and what is missing in a sentence."""

from dataclasses import replace

import pytest

from kesh.advice.case import case_for
from kesh.advice.figures import Figures, figures_for
from kesh.advice.water.cold import pot_cold, soil_body_of
from kesh.base.errors import FieldError
from kesh.demo.lanternfield import demo_collection
from kesh.science.climate.weather import many_years


def figures(pot: str = "broom-oval", tree: str = "mossback", **fields: object) -> Figures:
    held = demo_collection()
    one = held.trees[tree].changed(**fields)
    held = replace(held, trees={**held.trees, tree: one})
    return figures_for(case_for(held, tree, pot_id=pot), [held.pots[pot]])


def test_hardier_roots_bear_a_colder_night_and_a_colder_place_has_more_of_them() -> None:
    site = demo_collection().site
    assert site is not None
    years = many_years(site, 20, 3)
    tray = pot_cold(figures(), years)
    larch = pot_cold(figures(species="japanese_larch"), years)
    assert larch.limit_c < tray.limit_c
    assert larch.night_c < tray.night_c
    # a place three kelvin colder has at least as many such nights
    colder = replace(years, tmin_c=years.tmin_c - 3)
    assert pot_cold(figures(), colder).nights_a_year >= tray.nights_a_year


def test_the_body_is_that_of_the_pot() -> None:
    f = figures()
    body = soil_body_of(f)
    assert f.water is not None
    assert body.volume_m3 == pytest.approx(float(f.water.soil_l[0]) / 1000)
    assert body.depth_m == pytest.approx(float(f.soil_depth_mm[0]) / 1000)
    assert 0 < body.water <= body.porosity


def test_what_is_missing_is_named() -> None:
    site = demo_collection().site
    assert site is not None
    with pytest.raises(FieldError, match="species"):
        pot_cold(figures(species=None), many_years(site, 3, 1))
    with pytest.raises(FieldError, match="mix"):
        soil_body_of(figures("tide-slab", "tidewater"))
