"""Root fit against a raster that follows the method word by word, and against its closed forms."""

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from kesh.base.errors import FieldError
from kesh.geometry.columns import columns
from kesh.geometry.outline import offset_polygon, outline_points
from kesh.model import Pot, RootMass
from kesh.science.roots.fit import Seat, ball_ring, fit, limit_share, min_clearance_mm, stages
from tests.builders import ball, pot

HALF_PERCENT = 0.006


def inset(p: Pot, u: float) -> float:
    b, kind = p.profile.base_inset_mm, p.profile.kind
    if kind == "tube":
        return 0.0
    if kind == "lip":
        g, at = p.profile.lip_offset_mm, p.profile.lip_height_share
        return b + (g - b) * u / at if u <= at else g * (1 - ((u - at) / (1 - at)) ** 2)
    return b * (1 - u) - (4 * p.profile.belly_mm * u * (1 - u) if kind == "bowed" else 0.0)


def raster(roots: RootMass, p: Pot, seat: Seat) -> tuple[float, float, float]:
    """(kept depth, volume share, feeder share) by cells and slices, with the feeder densities of the method."""
    depth, inner = roots.depth_mm, p.inner_depth_mm
    kept = min(depth, inner + seat.raise_mm - seat.floor_layer_mm)
    rim = outline_points(p.outline, p.length_mm, p.width_mm, 0.0, 1440)
    worst = max(
        inset(p, (min(max(inner + seat.raise_mm - s, 0), inner) + p.floor_mm) / p.body_height_mm)
        for s in np.linspace(0, kept, 200)
    )
    top = max(
        inset(p, u) for u in np.linspace((max(inner + seat.raise_mm - kept, 0) + p.floor_mm) / p.body_height_mm, 1, 300)
    )
    allowed = shapely.Polygon(offset_polygon(rim, max(worst, top) + p.wall_mm + seat.clearance_mm))
    allowed = shapely.affinity.translate(allowed, -seat.x_mm, -seat.y_mm)
    outline = outline_points(roots.outline, roots.length_mm, roots.width_mm, 0.0, 1440)
    centre = np.array([roots.offset_x_mm, roots.offset_y_mm])
    n = 420
    xs = np.linspace(-roots.length_mm / 2, roots.length_mm / 2, n) + centre[0]
    ys = np.linspace(-roots.width_mm / 2, roots.width_mm / 2, n) + centre[1]
    x, y = (g.ravel() for g in np.meshgrid(xs, ys))
    angle, far = np.arctan2(y, x), np.hypot(x, y)
    free = shapely.contains_xy(allowed, x, y)
    slices = 36
    full_v = full_f = kept_v = kept_f = 0.0
    for k in range(slices):
        zd = (k + 0.5) / slices
        ring = centre + (1 - roots.taper * zd) * outline
        order = np.argsort(np.arctan2(ring[:, 1], ring[:, 0]))
        radius = np.interp(
            angle, np.arctan2(ring[:, 1], ring[:, 0])[order], np.hypot(ring[:, 0], ring[:, 1])[order], period=2 * np.pi
        )
        rr = far / radius
        inside = rr <= 1
        f = {
            "even": np.ones_like(rr),
            "near_trunk": 2 * (1 - rr**2) * (1.5 - zd),
            "outside_bottom": 2 * rr**2 * (0.5 + zd),
        }[roots.feeders]
        part = min(max((kept - k / slices * depth) / (depth / slices), 0.0), 1.0)
        full_v += inside.sum()
        full_f += f[inside].sum()
        kept_v += (inside & free).sum() * part
        kept_f += f[inside & free].sum() * part
    return kept, 1 - kept_v / full_v, 1 - kept_f / full_f


CASES = [
    (ball(), pot(), Seat()),
    (ball(depth_mm=110, feeders="near_trunk"), pot(), Seat()),
    (ball(length_mm=390, width_mm=285, feeders="outside_bottom"), pot(profile={"kind": "straight", "base_inset_mm": 22}), Seat()),
    (ball(length_mm=360, width_mm=270, taper=0.25, offset_x_mm=20), pot(outline={"kind": "oval"}), Seat(offset_x_mm=-35, offset_y_mm=12)),
    (ball(length_mm=350, width_mm=260, outline={"kind": "rectangle", "corner_mm": 30}, feeders="near_trunk"), pot(outline={"kind": "oval"}), Seat()),
    (ball(length_mm=330, width_mm=250), pot(outline={"kind": "lobed", "lobe_depth": 0.2}), Seat(raise_mm=15)),
    (ball(length_mm=330, width_mm=250, taper=0.4, feeders="outside_bottom", depth_mm=95), pot(profile={"kind": "lip", "base_inset_mm": -6, "lip_offset_mm": -14}), Seat(offset_x_mm=25)),
    (ball(length_mm=330, width_mm=330, outline={"kind": "round"}), pot(outline={"kind": "polygon", "sides": 6}, length_mm=340, width_mm=295), Seat(clearance_mm=10)),
]  # fmt: skip


@pytest.mark.parametrize(("roots", "p", "seat"), CASES)
def test_shares_agree_with_a_raster(roots: RootMass, p: Pot, seat: Seat) -> None:
    kept, volume, feeders = raster(roots, p, seat)
    found = fit(roots, columns([p]), seat)
    assert float(found.kept_depth_mm[0]) == pytest.approx(kept, abs=1e-6)
    assert float(found.removed_volume_share[0]) == pytest.approx(volume, abs=HALF_PERCENT)
    assert float(found.removed_feeder_share[0]) == pytest.approx(feeders, abs=HALF_PERCENT)


@pytest.mark.parametrize(("roots", "p", "seat"), CASES)
def test_a_long_list_says_the_same_as_one_pot(roots: RootMass, p: Pot, seat: Seat) -> None:
    alone = fit(roots, columns([p]), seat)
    crowd = fit(roots, columns([p.changed(id=f"p{i}") for i in range(60)]), seat)
    assert float(crowd.removed_feeder_share[7]) == pytest.approx(float(alone.removed_feeder_share[0]), abs=0.015)
    assert float(crowd.off_left_mm[7]) == pytest.approx(float(alone.off_left_mm[0]), abs=2.5)


@pytest.mark.parametrize("feeders", ["near_trunk", "even", "outside_bottom"])
@given(share=st.floats(0.05, 0.9))
def test_a_bottom_cut_follows_the_closed_form(feeders: str, share: float) -> None:
    roots = ball(length_mm=200, width_mm=150, depth_mm=100, feeders=feeders)
    room = 100 * (1 - share)
    p = pot(height_mm=room + 12 + 10, profile={"kind": "tube"})
    found = fit(roots, columns([p]), Seat())
    b = share
    expected = {"near_trunk": 0.5 * b + b * b / 2, "even": b, "outside_bottom": 1.5 * b - b * b / 2}[feeders]
    assert float(found.off_bottom_mm[0]) == pytest.approx(100 * b)
    assert float(found.removed_feeder_share[0]) == pytest.approx(expected, abs=1e-4)
    assert float(found.removed_volume_share[0]) == pytest.approx(b, abs=1e-4)


@pytest.mark.parametrize(("feeders", "power"), [("even", 2), ("outside_bottom", 4)])
@given(k=st.floats(0.4, 0.95))
def test_an_outline_scaled_about_the_trunk_follows_the_closed_form(feeders: str, power: int, k: float) -> None:
    size = 300 * k + 2 * (8 + 15)
    p = pot(outline={"kind": "round"}, length_mm=size, width_mm=size, height_mm=200, profile={"kind": "tube"})
    roots = ball(outline={"kind": "round"}, length_mm=300, width_mm=300, feeders=feeders)
    found = fit(roots, columns([p]), Seat())
    assert float(found.removed_feeder_share[0]) == pytest.approx(1 - k**power, abs=2e-3)
    assert float(found.off_left_mm[0]) == pytest.approx(150 * (1 - k), abs=0.05)


@given(st.floats(150, 420), st.floats(1, 60), st.floats(40, 140), st.floats(1, 60))
def test_a_larger_root_mass_never_needs_less_cut(length: float, longer: float, depth: float, deeper: float) -> None:
    p = columns([pot(outline={"kind": "oval"})])
    small = fit(ball(length_mm=length, width_mm=200, depth_mm=depth), p, Seat())
    large = fit(ball(length_mm=length + longer, width_mm=200, depth_mm=depth + deeper), p, Seat())
    assert large.off_bottom_mm[0] >= small.off_bottom_mm[0]
    assert large.off_left_mm[0] >= small.off_left_mm[0] - 1e-9
    assert large.removed_feeder_share[0] >= small.removed_feeder_share[0] - 1e-3


def test_raising_the_tree_spares_its_roots() -> None:
    roots, p = ball(depth_mm=100), columns([pot()])
    cuts = [float(fit(roots, p, Seat(raise_mm=e)).off_bottom_mm[0]) for e in (-10, 0, 10, 22)]
    assert cuts == [32.0, 22.0, 12.0, 0.0]


def test_spare_depth_is_what_mix_must_fill() -> None:
    assert float(fit(ball(depth_mm=50), columns([pot()]), Seat()).spare_depth_mm[0]) == pytest.approx(90 - 12 - 50)


def test_moving_the_trunk_moves_the_cut_to_the_other_side() -> None:
    roots, p = ball(length_mm=340), columns([pot()])
    left = fit(roots, p, Seat(offset_x_mm=-30))
    assert float(left.off_left_mm[0]) == pytest.approx(340 / 2 - (200 - 23 - 30), abs=1e-6)
    assert float(left.off_right_mm[0]) == 0.0


def test_each_pot_may_have_its_own_place_for_the_trunk() -> None:
    pots = columns([pot(id="a"), pot(id="b")])
    together = fit(ball(length_mm=340), pots, Seat(offset_x_mm=np.array([-30.0, 30.0]), offset_y_mm=0.0))
    assert float(together.off_left_mm[0]) == pytest.approx(float(together.off_right_mm[1]))
    assert float(together.off_left_mm[1]) == 0.0


def test_no_room_takes_everything() -> None:
    found = fit(ball(), columns([pot(height_mm=22)]), Seat())
    assert float(found.removed_feeder_share[0]) == 1.0
    far = fit(ball(), columns([pot()]), Seat(offset_x_mm=195))
    assert float(far.removed_feeder_share[0]) == 1.0


def test_turning_a_round_root_mass_changes_nothing_and_a_long_one_much() -> None:
    p = columns([pot()])
    for roots, same in (
        (ball(outline={"kind": "round"}, length_mm=240, width_mm=240), True),
        (ball(length_mm=360, width_mm=160), False),
    ):
        flat, turned = fit(roots, p, Seat()), fit(roots, p, Seat(turn_deg=90))
        assert (float(flat.off_front_mm[0]) == pytest.approx(float(turned.off_front_mm[0]), abs=0.2)) is same


def test_a_trunk_outside_its_roots_is_refused() -> None:
    with pytest.raises(FieldError, match="outside the root mass"):
        ball_ring(ball(offset_x_mm=200))


@pytest.mark.parametrize(("roots", "p", "seat"), CASES)
def test_clearance_is_kept_all_round(roots: RootMass, p: Pot, seat: Seat) -> None:
    cols = columns([p])
    found = fit(roots, cols, seat)
    gap = min_clearance_mm(roots, cols, seat, found)
    assert gap is not None
    assert gap >= seat.clearance_mm - 0.5


def test_limits_multiply() -> None:
    assert limit_share(0.4, "edge", "weak") == pytest.approx(0.4 * 0.7 * 0.5)
    assert limit_share(0.4, "best", "sick") == 0


@given(st.floats(0.01, 0.95), st.floats(0.05, 0.6))
def test_stages_together_take_the_whole_share_and_none_is_above_the_limit(share: float, limit: float) -> None:
    plan = stages(share, limit, 3)
    left = np.prod([1 - s.removed_feeder_share for s in plan])
    assert 1 - left == pytest.approx(share)
    assert all(s.removed_feeder_share <= limit + 1e-9 for s in plan)
    assert [s.year for s in plan] == [3 * i for i in range(len(plan))]
    if len(plan) > 1:
        assert (1 - limit) ** (len(plan) - 1) > 1 - share - 1e-9


def test_nothing_to_stage() -> None:
    assert stages(0.0, 0.3, 2) == ()
    assert stages(0.3, 0.0, 2) == ()
