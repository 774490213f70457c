"""Pots as solids: closed, one body, as many holes through as were drilled, the volume of the integral;."""

import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st

from kesh.base.errors import FieldError
from kesh.demo.lanternfield import demo_collection
from kesh.geometry.columns import columns
from kesh.geometry.feet import foot_plans, with_feet
from kesh.geometry.solid import check_shape, solid
from kesh.geometry.volume import body
from kesh.model import Hole, Outline, Pot, Profile

POTS = list(demo_collection().pots.values())


def close(pot: Pot) -> trimesh.Trimesh:
    """The solid after every check that the method asks for."""
    made = solid(pot)
    assert made.is_watertight
    assert made.is_winding_consistent
    assert made.body_count == 1
    assert made.euler_number == 2 - 2 * len(pot.holes)
    integral = float(body(columns([pot])).body_volume_cm3[0])
    assert made.volume / 1e3 == pytest.approx(integral, rel=0.005)
    return made


@pytest.mark.parametrize("pot", POTS, ids=[p.id for p in POTS])
def test_every_pot_of_the_bench_closes_with_the_volume_of_the_integral(pot: Pot) -> None:
    made = close(with_feet(pot))
    assert made.extents[2] == pytest.approx(pot.height_mm, abs=0.01)
    if pot.outline.kind in ("rectangle", "oval", "round"):
        rim = made.vertices[made.vertices[:, 2] > pot.height_mm - 0.01]
        assert np.ptp(rim[:, :2], axis=0) == pytest.approx((pot.length_mm, pot.width_mm), abs=0.1)


outlines = st.one_of(
    st.builds(Outline, kind=st.just("rectangle"), corner_mm=st.floats(0, 40)),
    st.builds(Outline, kind=st.just("oval"), exponent=st.sampled_from([1.6, 2.0, 2.6, 4.0])),
    st.builds(Outline, kind=st.just("polygon"), sides=st.integers(5, 10)),
    st.builds(
        Outline,
        kind=st.just("lobed"),
        lobes=st.integers(3, 8),
        lobe_depth=st.floats(0.02, 0.12),
        lobe_style=st.sampled_from(["cusp", "smooth"]),
    ),
)
profiles = st.one_of(
    st.builds(Profile, kind=st.just("straight"), base_inset_mm=st.floats(-10, 25)),
    st.builds(Profile, kind=st.just("bowed"), base_inset_mm=st.floats(0, 20), belly_mm=st.floats(-6, 12)),
    st.builds(
        Profile,
        kind=st.just("lip"),
        base_inset_mm=st.floats(0, 18),
        lip_offset_mm=st.floats(-8, 8),
        lip_height_share=st.floats(0.6, 0.9),
    ),
)


@settings(max_examples=12)
@given(
    outlines,
    profiles,
    st.floats(220, 420),
    st.floats(0.7, 1.0),
    st.floats(60, 160),
    st.sampled_from(["cloud", "block", "ring", "columns"]),
)
def test_any_shape_that_is_allowed_closes(
    outline: Outline, profile: Profile, length: float, share: float, height: float, feet: str
) -> None:
    pot = Pot(
        id="p", name="p", outline=outline, profile=profile, length_mm=length, width_mm=length * share, height_mm=height, wall_mm=7, floor_mm=9,
        feet_mm=9, feet_style=feet, holes=(Hole(x_mm=30, y_mm=0, diameter_mm=18), Hole(x_mm=-30, y_mm=10, diameter_mm=5)),
    )  # fmt: skip
    close(with_feet(pot))


def test_closed_forms_of_the_method() -> None:
    drum = Pot(
        id="a",
        name="a",
        outline=Outline(kind="round"),
        profile=Profile(base_inset_mm=30),
        length_mm=300,
        width_mm=300,
        height_mm=120,
        wall_mm=8,
        floor_mm=10,
    )
    hull = np.pi * 120 / 3 * (150**2 + 150 * 120 + 120**2)
    assert solid(drum).volume == pytest.approx(hull - 5.706e6, rel=0.001)
    box = Pot(
        id="b",
        name="b",
        profile=Profile(base_inset_mm=20),
        length_mm=400,
        width_mm=300,
        height_mm=100,
        wall_mm=8,
        floor_mm=10,
    )
    areas = [(400 - 2 * d) * (300 - 2 * d) for d in (20, 10, 0)]
    assert solid(box).volume == pytest.approx(100 / 6 * (areas[0] + 4 * areas[1] + areas[2]) - 8.772e6, rel=0.001)


def test_an_outline_that_is_not_star_shaped_is_stacked() -> None:
    ell = ((-150, -100), (150, -100), (150, 0), (0, 0), (0, 100), (-150, 100))
    pot = Pot(
        id="l",
        name="l",
        outline=Outline(kind="free", points_mm=ell),
        length_mm=300,
        width_mm=200,
        height_mm=80,
        wall_mm=8,
        floor_mm=9,
        holes=(Hole(x_mm=-75, y_mm=-50, diameter_mm=20),),
    )
    close(pot)


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"holes": (Hole(x_mm=180, y_mm=0, diameter_mm=20),)}, "holes"),
        ({"holes": (Hole(x_mm=0, y_mm=0, diameter_mm=20), Hole(x_mm=15, y_mm=0, diameter_mm=20))}, "holes"),
        ({"profile": Profile(base_inset_mm=120)}, "wall_mm"),
        ({"outline": Outline(kind="free", points_mm=((0, 0), (100, 100), (100, 0), (0, 100)))}, "points_mm"),
    ],
)
def test_what_cannot_be_made_names_its_field(changes: dict, field: str) -> None:
    pot = Pot(id="p", name="p", length_mm=300, width_mm=220, height_mm=80, wall_mm=8, floor_mm=9).changed(**changes)
    with pytest.raises(FieldError) as err:
        solid(pot)
    assert field in str(err.value)
    with pytest.raises(FieldError):
        check_shape(pot)


@given(
    st.sampled_from(["rectangle", "oval", "round"]),
    st.sampled_from(["cloud", "block", "ring", "columns"]),
    st.floats(200, 500),
)
def test_feet_stand_inside_the_base_and_apart(kind: str, style: str, length: float) -> None:
    width = length if kind == "round" else 0.72 * length
    pot = Pot(
        id="p",
        name="p",
        outline=Outline(kind=kind),
        length_mm=length,
        width_mm=width,
        height_mm=90,
        feet_mm=10,
        feet_style=style,
    )
    plans = foot_plans(pot)
    assert len(plans) in (3, 4)
    for k, one in enumerate(plans):
        x0, y0, x1, y1 = one.bounds
        assert max(abs(x0), abs(x1)) < length / 2
        assert max(abs(y0), abs(y1)) < width / 2
        assert all(one.distance(other) > 5 for other in plans[:k])
    made = with_feet(pot)
    assert made.foot_count == len(plans)
    assert 0 < (made.foot_area_mm2 or 0) <= sum(p.area for p in plans) / len(plans) * 1.001
