"""Outlines against their closed forms."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.base.errors import FieldError
from kesh.figure.pot_figure import plan_rings, pot_figure
from kesh.geometry.columns import columns
from kesh.geometry.outline import LEAST_MM, offset_polygon, outline_points, rim_area_mm2, ring_area_mm2
from kesh.geometry.overall import overall_mm
from kesh.geometry.solid import check_shape
from kesh.geometry.sound import check_outline, fault_of, faulty
from kesh.geometry.volume import area_at_offset_mm2
from kesh.model import Outline, Pot
from tests.builders import pot

EXACT = 1e-3
SHAPES = [
    Outline(kind="rectangle"), Outline(kind="rectangle", corner_mm=30), Outline(kind="oval"), Outline(kind="oval", exponent=3.2),
    Outline(kind="oval", exponent=1.4), Outline(kind="polygon", sides=6), Outline(kind="polygon", sides=8, corner_mm=12),
    Outline(kind="polygon", sides=5), Outline(kind="lobed", lobes=4, lobe_depth=0.12), Outline(kind="lobed", lobes=6, lobe_depth=0.2, lobe_style="smooth"),
]  # fmt: skip


@pytest.mark.parametrize("outline", SHAPES, ids=lambda o: f"{o.kind}-{o.exponent:g}-{o.sides}-{o.lobe_style}")
def test_points_enclose_the_exact_rim_area(outline: Outline) -> None:
    ring = outline_points(outline, 400, 300, 0.0, 1440)
    assert ring_area_mm2(ring) == pytest.approx(rim_area_mm2(outline, 400, 300), rel=EXACT)


@pytest.mark.parametrize("outline", SHAPES, ids=lambda o: f"{o.kind}-{o.exponent:g}-{o.sides}-{o.lobe_style}")
def test_points_reach_length_and_width(outline: Outline) -> None:
    ring = outline_points(outline, 400, 300, 0.0, 1440)
    assert np.ptp(ring[:, 0]) == pytest.approx(400, rel=0.03)
    if outline.kind != "polygon" or outline.corner_mm == 0:
        assert np.ptp(ring[:, 0]) == pytest.approx(400, rel=2e-3)


def test_rim_areas_by_hand() -> None:
    assert rim_area_mm2(Outline(kind="rectangle", corner_mm=20), 400, 300) == pytest.approx(
        400 * 300 - (4 - np.pi) * 400
    )
    assert rim_area_mm2(Outline(kind="round"), 300, 300) == pytest.approx(np.pi * 150**2)
    hexagon = 6 * (300 * np.cos(np.pi / 6) / 2) ** 2 * np.tan(np.pi / 6)
    assert rim_area_mm2(Outline(kind="polygon", sides=6), 300, 300) == pytest.approx(hexagon)
    octagon = 8 * 150**2 * np.tan(np.pi / 8)
    assert rim_area_mm2(Outline(kind="polygon", sides=8), 300, 300) == pytest.approx(octagon)
    e = 0.12
    cusp = np.pi * 200 * 150 * ((1 - e) ** 2 + 4 / np.pi * e * (1 - e) + e**2 / 2)
    assert rim_area_mm2(Outline(kind="lobed", lobe_depth=e), 400, 300) == pytest.approx(cusp)


@given(st.floats(0.5, 60))
def test_offset_areas_of_a_rounded_rectangle(q: float) -> None:
    p = pot(outline={"kind": "rectangle", "corner_mm": 25})
    expected = (400 - 2 * q) * (300 - 2 * q) - (4 - np.pi) * max(25 - q, 0) ** 2
    assert area_at_offset_mm2(columns([p]), np.array([[q]]))[0, 0] == pytest.approx(expected, rel=1e-12)


@given(st.floats(0.5, 80))
def test_offset_areas_of_an_ellipse_follow_steiner(q: float) -> None:
    p = pot(outline={"kind": "oval"})
    found = area_at_offset_mm2(columns([p]), np.array([[q]]))[0, 0]
    ring = outline_points(p.outline, 400, 300, q, 2880)
    assert found == pytest.approx(ring_area_mm2(ring), rel=EXACT)


@pytest.mark.parametrize("outline", SHAPES, ids=lambda o: f"{o.kind}-{o.exponent:g}-{o.sides}-{o.lobe_style}")
@pytest.mark.parametrize("q", [4.0, 11.0, 27.0])
def test_area_at_offset_agrees_with_the_offset_polygon(outline: Outline, q: float) -> None:
    p = pot(outline=outline, width_mm=400 if outline.kind == "polygon" and outline.sides == 8 else 300)
    by_form = area_at_offset_mm2(columns([p]), np.array([[q]]))[0, 0]
    dense = outline_points(outline, p.length_mm, p.width_mm, 0.0, 4000)
    assert by_form == pytest.approx(ring_area_mm2(offset_polygon(dense, q)), rel=EXACT)


def test_outward_offset_of_a_square_is_mitred() -> None:
    square = np.array([[0, 0], [100, 0], [100, 100], [0, 100]], dtype=float)
    assert ring_area_mm2(offset_polygon(square, -10)) == pytest.approx(120 * 120)


def test_a_crossing_outline_is_refused_where_a_pot_is_made_and_drawn_plainly_elsewhere() -> None:
    crossing = Outline(kind="free", points_mm=((0, 0), (100, 100), (100, 0), (0, 100)))
    with pytest.raises(FieldError, match="crosses itself"):
        check_outline(crossing, 100, 100)
    with pytest.raises(FieldError, match="crosses itself"):
        check_shape(pot(outline=crossing, length_mm=100, width_mm=100, holes=()))
    ring = outline_points(crossing, 100, 80)
    assert np.ptp(ring, axis=0) == pytest.approx([100, 80], rel=1e-3)


@pytest.mark.parametrize(
    ("one", "why"),
    [
        (pot(outline=Outline(kind="free", points_mm=((0, 0), (100, 100), (100, 0), (0, 100)))), "crosses itself"),
        (pot(outline=Outline(kind="free", points_mm=((0, 0), (50, 0), (100, 0)))), "no area"),
        (pot(outline=Outline(kind="free", points_mm=((0, 0), (0, 0), (100, 0)))), "three different points"),
        (pot(outline=Outline(kind="polygon", sides=6, corner_mm=400), length_mm=260, width_mm=225), "corners of 400"),
        (pot(profile={"kind": "straight", "base_inset_mm": 200}), "walls meet"),
        (pot(), ""),
    ],
)
def test_what_cannot_be_reckoned_says_why_and_is_drawn_all_the_same(one: Pot, why: str) -> None:
    assert why in fault_of(one)
    assert bool(fault_of(one)) == bool(why) == bool(faulty(columns([one]))[0])
    assert all(v > 0 for v in overall_mm(one))
    assert np.isfinite(plan_rings(one)[1]).all()
    assert np.isfinite(pot_figure(one).elevation).all()


def test_walls_that_meet_or_split_are_refused() -> None:
    with pytest.raises(FieldError, match="walls meet"):
        outline_points(Outline(kind="rectangle"), 100, 60, 31)
    bone = (
        (-100, -40),
        (-30, -40),
        (-30, -5),
        (30, -5),
        (30, -40),
        (100, -40),
        (100, 40),
        (30, 40),
        (30, 5),
        (-30, 5),
        (-30, 40),
        (-100, 40),
    )
    with pytest.raises(FieldError, match="two"):
        outline_points(Outline(kind="free", points_mm=bone), 200, 80, 8)


def test_a_clockwise_free_outline_is_turned_round() -> None:
    ring = outline_points(Outline(kind="free", points_mm=((0, 0), (0, 50), (80, 50), (80, 0))), 80, 50)
    assert ring_area_mm2(ring) == pytest.approx(4000)


@pytest.mark.parametrize("length_mm", [5e-324, 1e-200, 0.01, 1e4])
def test_an_outline_of_any_size_is_drawn_or_refused(length_mm: float) -> None:
    one = Outline(kind="oval", exponent=19.0)
    if length_mm < LEAST_MM:
        with pytest.raises(FieldError, match="too small"):
            outline_points(one, length_mm, 300.0)
    else:
        assert np.isfinite(outline_points(one, length_mm, 300.0)).all()
