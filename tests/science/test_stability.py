"""Masses, tipping, wind and lifting by hand."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.base.errors import FieldError
from kesh.geometry.columns import columns
from kesh.geometry.volume import body
from kesh.science.stand.stability import base_support, crown_area_m2, edge_distance_mm, standing, tree_body
from kesh.science.water.drainage import drained
from tests.builders import measure, pot, tree
from tests.science.test_drainage import OPEN


def stand(p=None, t=None, **more):  # type: ignore[no-untyped-def]
    cols = columns([p or pot()])
    depth = cols.inner_depth - 6
    return standing(tree_body(t or tree()), cols, body(cols), drained(cols, OPEN, depth), OPEN, depth, **more)


def test_masses_add_up() -> None:
    cols = columns([pot()])
    water, clay = drained(cols, OPEN, cols.inner_depth - 6), body(cols)
    s = stand(t=tree(m={"mass_kg": 3.0}))
    wet = float(clay.mass_kg[0] + water.soil_l[0] * OPEN.dry_density_kg_l + water.held_l[0]) + 3.0
    assert float(s.mass_wet_kg[0]) == pytest.approx(wet)
    assert float(s.mass_wet_kg[0] - s.mass_dry_kg[0]) == pytest.approx(float(water.available_l[0]))


def test_tipping_is_edge_over_height() -> None:
    s = stand(t=tree(m={"mass_kg": 3.0, "canopy_left_mm": 200, "canopy_right_mm": 200}))
    assert float(s.edge_mm[0]) == pytest.approx(150)
    assert float(s.tip_angle_deg[0]) <= np.degrees(np.arctan(150 / float(s.cog_height_mm[0]))) + 1e-9


def test_tipping_wind_balances_the_moments() -> None:
    t = tree(m={"mass_kg": 3.0, "canopy_left_mm": 200, "canopy_right_mm": 200, "canopy_opacity": 0.6})
    s, b = stand(t=t), tree_body(t)
    v = float(s.tip_wind_m_s[0])
    canopy = b.canopy_area_m2 * 0.9 * (1 - 0.4**2) * (100 + b.canopy_height_mm) / 1000
    clay = float(body(columns([pot()])).elevation_area_mm2[0]) / 1e6 * 0.05
    assert 0.5 * 1.2 * v**2 * (canopy + clay) == pytest.approx(float(s.mass_dry_kg[0]) * 9.81 * 0.150, rel=1e-6)


@given(st.floats(0, 190))
def test_moving_the_tree_off_the_middle_never_helps(x: float) -> None:
    t = tree(m={"mass_kg": 6.0, "canopy_left_mm": 200, "canopy_right_mm": 200})
    assert float(stand(t=t, offset_x_mm=x).tip_angle_deg[0]) <= float(stand(t=t).tip_angle_deg[0]) + 1e-9


def test_a_top_heavy_tree_over_the_edge_falls() -> None:
    heavy = tree(m={"mass_kg": 60.0, "canopy_left_mm": 0, "canopy_right_mm": 900})
    assert float(stand(pot(length_mm=160, width_mm=160), heavy, offset_x_mm=60).tip_angle_deg[0]) < 0


def test_lifting_limits_shrink_with_the_width() -> None:
    for width, share in ((100, 1.0), (500, 1.0), (625, 0.8), (1000, 0.5)):
        s = stand(pot(length_mm=max(width, 400), width_mm=width))
        for kg, most in ((s.one_person_kg, 20.0), (s.two_person_kg, 45.0), (s.two_person_most_kg, 60.0)):
            assert float(kg[0]) == pytest.approx(most * share)


@pytest.mark.parametrize(
    ("outline", "size", "x", "y", "expected"),
    [
        ({"kind": "rectangle"}, (400, 300), 30, 0, 150), ({"kind": "rectangle"}, (400, 300), 120, 0, 80),
        ({"kind": "rectangle", "corner_mm": 150}, (300, 300), 60, 80, 50), ({"kind": "round"}, (300, 300), 60, 80, 50),
        ({"kind": "polygon", "sides": 6}, (300, 259.81), 0, 0, 129.9), ({"kind": "polygon", "sides": 8}, (300, 300), 0, 0, 150),
        ({"kind": "oval"}, (400, 300), 0, 150, 0), ({"kind": "round"}, (300, 300), 200, 0, -50),
    ],
)  # fmt: skip
def test_distance_to_the_edge_of_the_base(
    outline: dict, size: tuple[float, float], x: float, y: float, expected: float
) -> None:
    cols = columns([pot(outline=outline, length_mm=size[0], width_mm=size[1], profile={"kind": "tube"})])
    assert float(edge_distance_mm(cols, np.array([float(x)]), np.array([float(y)]))[0]) == pytest.approx(
        expected, abs=0.2
    )


def test_taper_narrows_the_base() -> None:
    cols = columns([pot(profile={"kind": "straight", "base_inset_mm": 25}, outline={"kind": "oval"})])
    assert float(base_support(cols, 360)[0, 0]) == pytest.approx(175)
    assert float(base_support(cols, 360)[0, 90]) == pytest.approx(125)


def test_a_long_list_stands_like_one_pot(demo) -> None:  # type: ignore[no-untyped-def]
    pots = [p.changed(id=f"{p.id}{k}") for k in range(2) for p in demo.pots.values()]
    x, y = np.full(len(pots), 22.0), np.full(len(pots), -9.0)
    together = edge_distance_mm(columns(pots), x, y)
    for i, p in enumerate(pots):
        alone = float(edge_distance_mm(columns([p]), x[:1], y[:1])[0])
        assert float(together[i]) == pytest.approx(alone, abs=2.5), p.id


def test_an_unweighed_tree_says_so() -> None:
    assert "mass_kg" in tree_body(tree()).assumed
    assert "mass_kg" not in tree_body(tree(m={"mass_kg": 2.0})).assumed
    with pytest.raises(FieldError, match="needed"):
        tree_body(tree(m={"height_mm": None}))


def test_crown_area_is_an_ellipse_and_needs_a_spread() -> None:
    assert crown_area_m2(measure()) == pytest.approx(np.pi / 4 * 0.420 * 0.310)
    assert crown_area_m2(measure(canopy_front_mm=None)) == pytest.approx(np.pi / 4 * 0.420**2)
    assert crown_area_m2(measure(canopy_left_mm=None)) is None
