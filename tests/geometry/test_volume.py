"""Volumes against closed forms, published check values and an integration by thin slices."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.geometry.columns import columns
from kesh.geometry.outline import offset_polygon, outline_points, ring_area_mm2
from kesh.geometry.profile import inset_mm, undercut_mm
from kesh.geometry.volume import body, inner_volume_l
from kesh.model import Hole, Pot
from tests.builders import pot

TENTH_PERCENT = 1e-3
PROFILES = [
    {"kind": "straight", "base_inset_mm": 20}, {"kind": "tube"}, {"kind": "bowed", "base_inset_mm": 14, "belly_mm": 6},
    {"kind": "bowed", "base_inset_mm": 26, "belly_mm": -4}, {"kind": "lip", "base_inset_mm": 12, "lip_offset_mm": 7},
    {"kind": "lip", "base_inset_mm": -8, "lip_offset_mm": -14, "lip_height_share": 0.7},
    {"kind": "table", "table": [(0, 22), (0.3, 6), (0.75, 11), (1, 0)]},
]  # fmt: skip


def full_l(p: Pot) -> float:
    cols = columns([p])
    return float(inner_volume_l(cols, cols.inner_depth)[0])


def sliced_l(p: Pot, count: int = 1200) -> float:
    """Thin slices of true parallel offsets; shares nothing with the code but the wall's formula written out again."""
    prof, height = p.profile, p.height_mm - p.feet_mm

    def inset(u: float) -> float:
        b = prof.base_inset_mm
        if prof.kind == "tube":
            return 0.0
        if prof.kind == "table":
            return float(np.interp(u, *np.array(prof.table).T))
        if prof.kind == "lip":
            if u <= prof.lip_height_share:
                return b + (prof.lip_offset_mm - b) * u / prof.lip_height_share
            s = (u - prof.lip_height_share) / (1 - prof.lip_height_share)
            return prof.lip_offset_mm * (1 - s * s)
        return b * (1 - u) - (4 * prof.belly_mm * u * (1 - u) if prof.kind == "bowed" else 0.0)

    ring = outline_points(p.outline, p.length_mm, p.width_mm, 0.0, 1440)
    total, step = 0.0, p.inner_depth_mm / count
    for i in range(count):
        u = ((i + 0.5) * step + p.floor_mm) / height
        total += abs(ring_area_mm2(offset_polygon(ring, inset(u) + p.wall_mm))) * step
    return total / 1e6


def test_published_check_values() -> None:
    drum = pot(
        outline={"kind": "round"},
        length_mm=300,
        width_mm=300,
        height_mm=120,
        profile={"kind": "straight", "base_inset_mm": 30},
    )
    assert full_l(drum) == pytest.approx(5.706, abs=5e-4)
    box = pot(profile={"kind": "straight", "base_inset_mm": 20})
    assert full_l(box) == pytest.approx(8.772, abs=5e-4)


def test_a_cone_frustum_is_exact() -> None:
    p = pot(
        outline={"kind": "round"},
        length_mm=300,
        width_mm=300,
        height_mm=120,
        profile={"kind": "straight", "base_inset_mm": 30},
    )
    low, high = 150 - 8 - 30 * (1 - 10 / 120), 150 - 8
    assert full_l(p) == pytest.approx(np.pi * 110 / 3 * (high**2 + high * low + low**2) / 1e6, rel=1e-9)


@pytest.mark.parametrize("profile", PROFILES, ids=lambda p: f"{p['kind']}")
@pytest.mark.parametrize("kind", ["rectangle", "oval", "lobed", "polygon"])
def test_every_wall_on_every_outline_agrees_with_thin_slices(profile: dict, kind: str) -> None:
    outline = {"kind": kind, "corner_mm": 18 if kind == "rectangle" else 0, "exponent": 2.6 if kind == "oval" else 2}
    p = pot(outline=outline, profile=profile, feet_mm=8)
    assert full_l(p) == pytest.approx(sliced_l(p, 150), rel=TENTH_PERCENT)


def test_partial_fill_of_straight_walls_follows_the_prismatoid_rule() -> None:
    p = pot(profile={"kind": "straight", "base_inset_mm": 25}, outline={"kind": "rectangle", "corner_mm": 40})
    cols = columns([p])

    def area(z: float) -> float:
        q = 25 * (1 - (z + 10) / 100) + 8
        return (400 - 2 * q) * (300 - 2 * q) - (4 - np.pi) * max(40 - q, 0) ** 2

    for z in (5.0, 40.0, 77.0):
        expected = z / 6 * (area(0) + 4 * area(z / 2) + area(z)) / 1e6
        assert float(inner_volume_l(cols, np.array([z]))[0]) == pytest.approx(expected, rel=1e-9)


@given(st.floats(0, 40), st.floats(0.5, 40))
def test_more_taper_never_holds_more(base: float, more: float) -> None:
    less = pot(profile={"kind": "straight", "base_inset_mm": base})
    tapered = pot(profile={"kind": "straight", "base_inset_mm": base + more})
    assert full_l(tapered) < full_l(less)


@given(st.floats(60, 200), st.floats(1, 80), st.sampled_from(["rectangle", "oval", "lobed"]))
def test_a_deeper_pot_holds_more(height: float, more: float, kind: str) -> None:
    assert full_l(pot(height_mm=height + more, outline={"kind": kind})) > full_l(
        pot(height_mm=height, outline={"kind": kind})
    )


def test_one_kernel_serves_a_whole_shelf(demo) -> None:  # type: ignore[no-untyped-def]
    pots = list(demo.pots.values())
    together = body(columns(pots))
    for i, p in enumerate(pots):
        alone = body(columns([p]))
        assert together.computed_volume_l[i] == pytest.approx(float(alone.computed_volume_l[0]), rel=1e-12)
        assert together.computed_mass_kg[i] == pytest.approx(float(alone.computed_mass_kg[0]), rel=1e-12)


def test_body_is_hull_less_inside_less_holes() -> None:
    p = pot(profile={"kind": "tube"}, holes=(Hole(diameter_mm=30),), feet_mm=10, feet_style="block")
    found = body(columns([p]))
    hull, inside = 400 * 300 * 90, 384 * 284 * 80
    # four blocks at the corners, as they are drawn: 3 % of the half width inside the foot of the wall
    half = 300 / 2
    wide, deep = 0.34 * half, 0.34 * half
    long = max(0.32 * (400 - 2 * 0.03 * half) / 2, wide)
    across = max(0.36 * (300 - 2 * 0.03 * half) / 2, deep)
    expected = (hull - inside - np.pi * 15**2 * 10 + 4 * long * across * 10) / 1000
    assert float(body(columns([p.changed(foot_count=4, foot_area_mm2=1.0)])).body_volume_cm3[0]) == pytest.approx(
        expected
    )
    assert float(found.body_volume_cm3[0]) == pytest.approx(expected, rel=1e-9)
    assert float(found.computed_mass_kg[0]) == pytest.approx(expected / 1000 * 2.30, rel=1e-9)


def test_measured_figures_override_the_computed_ones() -> None:
    found = body(columns([pot(measured_volume_l=7.5, measured_mass_kg=3.3)]))
    assert float(found.inner_volume_l[0]) == 7.5
    assert float(found.mass_kg[0]) == 3.3
    assert float(found.computed_volume_l[0]) == pytest.approx(384 * 284 * 90 / 1e6)


def test_a_slab_has_no_inside() -> None:
    p = pot(profile={"kind": "slab"}, height_mm=30, holes=())
    found = body(columns([p]))
    assert float(found.inner_volume_l[0]) == 0
    assert float(found.body_volume_cm3[0]) == pytest.approx(400 * 300 * 30 / 1000)


@pytest.mark.parametrize(
    ("profile", "under"),
    [
        ({"kind": "straight", "base_inset_mm": 20}, 0.0),
        ({"kind": "tube"}, 0.0),
        ({"kind": "straight", "base_inset_mm": -12}, 12 * 0.9),
        ({"kind": "lip", "base_inset_mm": 0, "lip_offset_mm": -9}, 9.0),
    ],
    ids=["taper", "tube", "narrow mouth", "in-curved lip"],
)
def test_undercut_by_hand(profile: dict, under: float) -> None:
    assert float(undercut_mm(columns([pot(profile=profile)]))[0][0]) == pytest.approx(under, abs=0.02)


@given(st.floats(-20, 40), st.floats(-20, 20))
def test_undercut_is_the_largest_step_inward_on_the_way_up(base: float, belly: float) -> None:
    cols = columns([pot(profile={"kind": "bowed", "base_inset_mm": base, "belly_mm": belly})])
    u = np.linspace(0.1, 1, 3000)
    d = inset_mm(cols, u[None, :])[0]
    slow = max(0.0, float((np.maximum.accumulate(d[::-1])[::-1] - d).max()))
    assert float(undercut_mm(cols)[0][0]) == pytest.approx(slow, abs=0.02)
