"""Room all round against shapes cut with shapely, and tilts against closed forms."""

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from kesh.geometry.columns import columns
from kesh.geometry.outline import outline_points
from kesh.model import Outline, Pot, Profile, RootMass
from kesh.science.roots.fit import Seat, fit
from kesh.science.roots.side_room import directions_deg, side_room_mm, tilted_tree, toward


def pot_of(outline: Outline, **fields: object) -> Pot:
    return Pot(
        id="p",
        name="p",
        outline=outline,
        **({"length_mm": 360, "width_mm": 300, "height_mm": 90, "wall_mm": 8} | fields),
    )


def by_shapely(roots: RootMass, pot: Pot, seat: Seat, kept_mm: float) -> np.ndarray:
    """Kept outline and inner wall as polygons, each ray cut with both; straight walls only."""

    def part(offset: float) -> shapely.Polygon:
        ring = shapely.Polygon(outline_points(pot.outline, pot.length_mm, pot.width_mm, 0.0, 2400))
        inner = ring.buffer(-offset, quad_segs=64)
        return shapely.affinity.translate(inner, -seat.x_mm, -seat.y_mm)

    ball = shapely.Polygon(outline_points(roots.outline, roots.length_mm, roots.width_mm, 0.0, 2400))
    ball = shapely.affinity.translate(ball, roots.offset_x_mm, roots.offset_y_mm)
    ball = shapely.affinity.rotate(ball, seat.turn_deg, origin=(0, 0))
    kept = ball.intersection(part(pot.wall_mm + seat.clearance_mm))
    rooms = []
    for way in toward(directions_deg()):
        ray = shapely.LineString([(0, 0), tuple(way * 2000)])
        rooms.append(part(pot.wall_mm).intersection(ray).length - kept.intersection(ray).length)
    return np.array(rooms)


OUTLINES = [
    Outline(kind="oval"), Outline(kind="rectangle", corner_mm=20), Outline(kind="round"),
    Outline(kind="polygon", sides=6, corner_mm=25), Outline(kind="lobed", lobes=5, lobe_depth=0.12),
]  # fmt: skip


@pytest.mark.parametrize("outline", OUTLINES, ids=lambda o: o.kind)
@pytest.mark.parametrize(("x", "y", "turn"), [(0, 0, 0), (25, -12, 0), (-18, 10, 35)])
def test_room_all_round_is_that_of_the_shapes(outline: Outline, x: float, y: float, turn: float) -> None:
    wide = 360.0 if outline.kind == "round" else 300.0
    pot = pot_of(outline, width_mm=wide, profile=Profile(kind="straight"))
    roots = RootMass(
        outline=Outline(kind="oval"), length_mm=280, width_mm=230, depth_mm=60, offset_x_mm=12, offset_y_mm=-6
    )
    seat = Seat(offset_x_mm=x, offset_y_mm=y, turn_deg=turn, clearance_mm=15)
    pots = columns([pot])
    found = fit(roots, pots, seat)
    room = side_room_mm(roots, pots, seat, found)
    assert room is not None
    assert room.shape == (36,)
    assert np.abs(room - by_shapely(roots, pot, seat, 60)).max() < 1.0
    assert room.min() >= 14.0


def test_a_wall_that_leans_inward_takes_its_room_at_the_depth_where_it_is_least() -> None:
    roots = RootMass(outline=Outline(kind="round"), length_mm=200, width_mm=200, depth_mm=60)
    leaning = pot_of(
        Outline(kind="round"), length_mm=320, width_mm=320, profile=Profile(kind="straight", base_inset_mm=30)
    )
    upright = pot_of(Outline(kind="round"), length_mm=320, width_mm=320)
    one, two = (side_room_mm(roots, columns([p]), Seat(), fit(roots, columns([p]), Seat())) for p in (leaning, upright))
    assert one is not None
    assert two is not None
    assert np.allclose(two, 320 / 2 - 8 - 100, atol=0.2)
    assert (one < two - 5).all()


def test_no_room_where_no_roots_stay() -> None:
    roots = RootMass(length_mm=200, width_mm=200, depth_mm=60)
    pot = pot_of(Outline(kind="oval"), height_mm=14)
    found = fit(roots, columns([pot]), Seat())
    assert side_room_mm(roots, columns([pot]), Seat(), found) is None


@given(st.floats(0, 40), st.integers(0, 359), st.floats(50, 400), st.floats(50, 400))
def test_the_wedge_of_an_oval_base_is_its_area_times_half_its_width(
    tilt: float, toward_deg: int, a: float, b: float
) -> None:
    roots = RootMass(outline=Outline(kind="oval"), length_mm=a, width_mm=b, depth_mm=50)
    found = tilted_tree(500.0, roots, tilt, float(toward_deg))
    t, g = np.radians(tilt), np.radians(toward_deg)
    half = np.hypot(a / 2 * np.sin(g), b / 2 * np.cos(g))
    assert found.wedge_l == pytest.approx(np.tan(t) * np.pi * a * b / 4 * half / 1e6, rel=0.01, abs=1e-9)
    assert found.apex_shift_mm == pytest.approx(500 * np.sin(t))
    assert found.apex_drop_mm == pytest.approx(500 * (1 - np.cos(t)), abs=1e-9)
    assert found.lift_mm == pytest.approx(2 * half * np.sin(t), rel=0.01, abs=1e-9)


def test_tilting_the_other_way_raises_the_other_side() -> None:
    roots = RootMass(outline=Outline(kind="oval"), length_mm=300, width_mm=200, depth_mm=50, offset_x_mm=60)
    right, left = tilted_tree(400.0, roots, 10, 270.0), tilted_tree(400.0, roots, -10, 270.0)
    # the outline is the same one, the trunk stands off its middle and does not count
    assert right.wedge_l == pytest.approx(left.wedge_l, rel=0.01)
    assert tilted_tree(None, None, 10, 0.0).wedge_l is None
    assert tilted_tree(400.0, None, 0, 0.0).apex_shift_mm == 0


def test_the_wedge_as_a_cut_takes_its_share_of_an_even_mass() -> None:
    """Of even feeders a wedge takes its volume's share: as long as it is no deeper than the mass."""
    mass = RootMass(outline=Outline(kind="oval"), length_mm=280, width_mm=200, depth_mm=70)
    found = tilted_tree(None, mass, 8.0, 270.0)
    assert found.wedge_l is not None
    whole_l = np.pi * 140 * 100 * 70 / 1e6
    assert found.cut_share == pytest.approx(found.wedge_l / whole_l, rel=0.02)
    outer = tilted_tree(None, mass.changed(feeders="outside_bottom"), 8.0, 270.0)
    near = tilted_tree(None, mass.changed(feeders="near_trunk"), 8.0, 270.0)
    assert outer.cut_share is not None
    assert near.cut_share is not None
    assert outer.cut_share > found.cut_share > near.cut_share


def test_a_mass_that_tapers_has_a_smaller_base_and_wedge() -> None:
    plain = RootMass(outline=Outline(kind="oval"), length_mm=280, width_mm=200, depth_mm=60, offset_x_mm=15)
    whole, small = (tilted_tree(None, plain.changed(taper=t), 9.0, 270.0) for t in (0.0, 0.3))
    assert whole.wedge_l is not None
    assert small.wedge_l == pytest.approx(0.7**3 * whole.wedge_l, rel=1e-9)


def test_directions_run_with_the_clock_from_the_front() -> None:
    assert np.allclose(toward(0), [0, -1])
    assert np.allclose(toward(90), [-1, 0])
    assert np.allclose(toward(180), [0, 1])
    assert np.allclose(toward(270), [1, 0])
