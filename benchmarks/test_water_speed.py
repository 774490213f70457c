"""What Kesh promises of one watering: a frame of a slider within 16 ms, three days by Richards within a second, a shelf's years within five."""

from collections.abc import Callable
from datetime import date
from typing import Any

import numpy as np
import pytest

from kesh.advice.case import case_for
from kesh.advice.figures import figures_for
from kesh.advice.water.short import pots_years
from kesh.advice.water.watering import water_by_depth
from kesh.advice.water.year import YearAsked
from kesh.demo.lanternfield import demo_collection
from kesh.demo.opening import open_demo
from kesh.reference.tables import tables
from kesh.science.climate.cold import critical_night_c
from kesh.science.water.richards import Column, MixHydraulics, Weathering, dry
from kesh.science.water.substrate import blend
from kesh.ui import app
from kesh.ui.settings import Settings

Bench = Callable[..., Any]
DAY = date(2026, 7, 10)


def test_a_frame_of_a_mix_s_slider(benchmark: Bench) -> None:
    """Promised: 16 ms, three pots, figures, drawing and panel."""
    from PyQt6.QtGui import QPixmap

    app.application(without_display=True)
    window = app.build(open_demo(), Settings(), at_once=True)
    window.resize(1280, 800)
    window.show()
    window.session.choose_tree("old-ferryman")
    app.go_to(window, "water")
    window.settle()
    face = window.face("water")
    count = [0]

    def frame() -> None:
        count[0] += 1
        row = face.mixing.rows[0]  # type: ignore[attr-defined]
        row.written.emit(row.part.changed(parts=0.25 + (count[0] % 24) / 4), True)
        face.one.render(QPixmap(face.one.size()))  # type: ignore[attr-defined]

    benchmark.pedantic(frame, rounds=40, warmup_rounds=25)  # type: ignore[attr-defined]


def test_three_days_of_water_by_depth(benchmark: Bench) -> None:
    """Promised: under a second."""
    held = demo_collection()
    planting = held.planting_of("seven-neighbours")
    assert planting is not None
    f = figures_for(case_for(held, "seven-neighbours", pot_id=planting.pot, today=DAY), [held.pots[planting.pot]])
    benchmark.pedantic(lambda: water_by_depth(f, DAY, YearAsked()), rounds=5)  # type: ignore[attr-defined]


def test_a_year_by_richards(benchmark: Bench) -> None:
    """Wanted: a year under a second; under a roof, soaked every third day, steps up to three hours."""
    rows = tables()
    mix = blend(
        [
            (rows.substrate("akadama_hard_3_6"), 2),
            (rows.substrate("hard_pumice_3_6"), 1),
            (rows.substrate("lava_3_6"), 1),
        ]
    )
    column, works = Column.straight(80.0, 4e4), Weathering(uptake_l_h=lambda h: 0.006)

    def year() -> None:
        for _ in range(122):
            found = dry(MixHydraulics(mix), column, np.arange(24.0, 73.0, 24.0), works, longest_h=3.0)
            assert found.converged

    benchmark.pedantic(year, rounds=1)  # type: ignore[attr-defined]


def test_the_night_that_kills(benchmark: Bench) -> None:
    """One pot in one place."""
    from kesh.advice.water.cold import soil_body_of

    held = demo_collection()
    f = figures_for(case_for(held, "mossback", pot_id="broom-oval", today=DAY), [held.pots["broom-oval"]])
    body = soil_body_of(f)

    def night() -> None:
        critical_night_c.cache_clear()
        critical_night_c(body, -9.0)

    benchmark.pedantic(night, rounds=5)  # type: ignore[attr-defined]


@pytest.mark.parametrize("count", [6, 40])
def test_the_years_of_a_line_up_and_of_a_shelf_in_words(benchmark: Bench, count: int) -> None:
    """Years and nights at risk of each pot, nothing kept from before."""
    held = demo_collection()
    case = case_for(held, "old-ferryman", today=DAY)
    stands = tuple((case, p) for p in list(held.pots.values())[:count])

    def shelf() -> None:
        critical_night_c.cache_clear()
        pots_years(stands[0][0], tuple(pot for _, pot in stands), YearAsked("daily"))

    benchmark.pedantic(shelf, rounds=1)  # type: ignore[attr-defined]
