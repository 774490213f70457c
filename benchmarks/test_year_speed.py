"""What Kesh promises of the year in a pot: sixty years for six pots within a second, for forty within five."""

from collections.abc import Callable
from typing import Any

from kesh.advice.case import case_for
from kesh.advice.figures import figures_for
from kesh.advice.water.year import YearAsked, pot_years
from kesh.demo.lanternfield import demo_collection
from kesh.science.climate.weather import many_years

Bench = Callable[..., Any]


def year_of(count: int) -> Callable[[], object]:
    held = demo_collection()
    pots = [p for p in held.pots.values() if p.profile.kind != "slab" and p.drain_holes][:1] * count
    f = figures_for(case_for(held, "mossback"), pots)
    many_years.cache_clear()
    return lambda: pot_years(f, tuple(range(count)), YearAsked())


def test_sixty_years_of_six_pots(benchmark: Bench) -> None:
    """Promised: under a second."""
    benchmark.pedantic(year_of(6), rounds=3)  # type: ignore[attr-defined]


def test_sixty_years_of_forty_pots(benchmark: Bench) -> None:
    """Promised: under five seconds."""
    benchmark.pedantic(year_of(40), rounds=3)  # type: ignore[attr-defined]
