"""Pieces of a print: they fit the bed, go together from above, overlap nowhere, leave nothing out, and keep their distances."""

import io

import numpy as np
import pytest
import shapely
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st
from manifold3d import Manifold

from kesh.advice.design.space import with_planned_holes
from kesh.advice.routes.printer import for_print
from kesh.base.errors import FieldError, KeshError
from kesh.demo.lanternfield import demo_collection
from kesh.formats.mesh import stl, threemf
from kesh.geometry.feet import foot_plans, with_feet
from kesh.geometry.holes import floor_ring
from kesh.geometry.pieces.cuts import MARGIN_MM, counts
from kesh.geometry.pieces.joints import spread
from kesh.geometry.pieces.split import Assembly, Piece, split
from kesh.geometry.pieces.together import Together, together
from kesh.geometry.relief import band_spans
from kesh.geometry.solid import solid, solid_of
from kesh.model import Band, Hole, Outline, Pot, Profile
from tests.builders import ELL, SEE, TRIANGLE
from tests.kept import examples

DEMO = {k: with_feet(p) for k, p in demo_collection().pots.items()}
BED = (220.0, 220.0, 250.0)


def read(piece: Piece) -> trimesh.Trimesh:
    """A piece as the printer's program has it: out of its STL, with seven figures."""
    return trimesh.load_mesh(io.BytesIO(stl(piece.solid)), file_type="stl")  # type: ignore[return-value]


def meets(one: Manifold, other: Manifold) -> float:
    """What two solids share, mm3."""
    a, b = np.array(one.bounding_box()), np.array(other.bounding_box())
    if (a[:3] > b[3:] + 0.01).any() or (b[:3] > a[3:] + 0.01).any():
        return 0.0
    return float((one ^ other).volume())


def go_together(pot: Pot, made: Assembly) -> None:
    """Everything that is asked of pieces, from their files alone and by another library's measures."""
    solids = [read(p) for p in made.pieces]
    for one in solids:
        assert one.is_watertight
        assert one.body_count == 1
    whole = sum(one.volume for one in solids)
    assert whole == pytest.approx(made.whole.volume, rel=1e-3)
    assert whole < made.whole.volume * 1.00001
    bodies = [solid_of(one) for one in solids]
    for k, body in enumerate(bodies):
        for under in bodies[:k]:
            assert meets(body, under) < 0.05
            # lifted straight up it meets nothing that was set down before it
            for lift in (0.4, 2.0, 7.0, 40.0):
                assert meets(body.translate([0.0, 0.0, lift]), under) < 0.05
    keep_their_land(pot, made)


def keep_their_land(pot: Pot, made: Assembly) -> None:
    """Tongues keep one and a half walls from walls, holes, feet and each other; nothing touches a band."""
    land = 1.5 * pot.wall_mm - 0.02
    tongues = [joint.plan for joint, _, _ in made.joints if joint.kind == "tongue"]
    floor = floor_ring(pot) if pot.profile.kind != "slab" else None
    for k, plan in enumerate(tongues):
        assert floor is None or plan.distance(floor.exterior) >= land
        assert floor is None or floor.contains(plan)
        for hole in pot.holes:
            assert plan.distance(shapely.Point(hole.x_mm, hole.y_mm)) - hole.diameter_mm / 2 >= land
        for foot in foot_plans(pot):
            assert plan.distance(foot) >= land
        assert all(plan.distance(other) >= land for other in tongues[:k])
    for joint, _, _ in made.joints:
        for low, high, _ in band_spans(pot):
            inside = joint.high_mm < pot.feet_mm + low - land or joint.low_mm > pot.feet_mm + high + land
            assert joint.kind == "tongue" or inside
    for axis in (0, 1):
        for at in made.grid.planes[axis]:
            for hole in pot.holes:
                assert abs((hole.x_mm, hole.y_mm)[axis] - at) - hole.diameter_mm / 2 >= land - 0.05


@pytest.mark.parametrize(
    "key",
    [
        "ferry-tray",
        "celandine-round",
        "barge",
        "honey-lobed",
        "lantern-hex",
        "tide-slab",
        "gate-oval",
        "mesh-crate",
        "rain-jar",
        "bell-rect",
    ],
)
def test_every_kind_of_pot_of_the_bench_goes_together_on_the_usual_bed(key: str) -> None:
    pot = for_print(DEMO[key])
    made = split(pot, solid(pot), BED)
    assert len(made) > 1
    go_together(pot, made)
    assert made.plain == ()
    assert together(made).good
    for piece in made.pieces:
        flat = sorted(piece.solid.extents[:2])
        assert flat[0] <= min(BED[:2])
        assert flat[1] <= max(BED[:2])
        assert piece.solid.extents[2] <= BED[2]
    assert [p.number for p in made.pieces] == list(range(1, len(made) + 1))
    assert [p.name for p in made.pieces] == sorted(p.name for p in made.pieces)


@pytest.mark.parametrize(
    ("key", "bed"),
    [
        ("ferry-tray", (150.0, 150.0, 60.0)),
        ("celandine-round", (180.0, 180.0, 70.0)),
        ("rope-tower", (200.0, 200.0, 90.0)),
        ("honey-lobed", (200.0, 150.0, 60.0)),
        ("rain-jar", (150.0, 150.0, 60.0)),
        ("porcelain-oval", (150.0, 150.0, 60.0)),
    ],
)
def test_small_beds_make_tiers_and_the_tiers_go_together_too(key: str, bed: tuple[float, float, float]) -> None:
    pot = for_print(DEMO[key])
    made = split(pot, solid(pot), bed)
    assert max(p.tier for p in made.pieces) >= 1
    seen = together(made)
    assert seen.good, seen.words
    assert sum(read(p).volume for p in made.pieces) == pytest.approx(made.whole.volume, rel=1e-3)
    assert all(read(p).is_watertight for p in made.pieces)
    keep_their_land(pot, made)
    # whoever is set down later never lies in a lower tier
    assert [p.tier for p in made.pieces] == sorted(p.tier for p in made.pieces)
    # every piece hangs on another one
    joined = {n for _, a, b in made.joints for n in (a, b)}
    assert joined == {p.number for p in made.pieces}


def made_of(outline: Outline, profile: Profile, feet: str, bands: tuple[Band, ...], plastic: bool) -> Pot | None:
    """A pot of some shape with the holes of the rule; None where such a pot cannot be."""
    length, width = 300.0, 300.0 if outline.kind == "round" else 220.0
    if outline.kind == "free":
        length, width = (float(v) for v in np.ptp(np.array(outline.points_mm), axis=0))
    stands = 0.0 if feet == "none" else 36.0 if feet == "columns" else 9.0
    slab = profile.kind == "slab"
    try:
        pot = Pot.made(
            id="p", name="p", outline=outline, profile=profile, length_mm=length, width_mm=width, height_mm=(30 if slab else 90) + stands,
            wall_mm=8, floor_mm=9, feet_mm=stands, feet_style=feet, bands=() if slab else bands, material="print_petg",
        )  # fmt: skip
        pot = with_feet(pot if slab else with_planned_holes(pot))
        pot = for_print(pot) if plastic else pot
        solid(pot)
    except KeshError:
        return None
    return pot


outlines = st.sampled_from([
    Outline(corner_mm=20), Outline(), Outline(kind="oval"), Outline(kind="oval", exponent=4), Outline(kind="round"),
    Outline(kind="polygon", sides=6), Outline(kind="polygon", sides=3), Outline(kind="lobed", lobes=6, lobe_depth=0.15),
    Outline(kind="lobed", lobes=4, lobe_depth=0.2, lobe_style="smooth"), Outline(kind="free", points_mm=ELL),
    Outline(kind="free", points_mm=SEE), Outline(kind="free", points_mm=TRIANGLE),
])  # fmt: skip
profiles = st.sampled_from([
    Profile(), Profile(base_inset_mm=25), Profile(kind="bowed", base_inset_mm=10, belly_mm=8),
    Profile(kind="lip", base_inset_mm=14, lip_offset_mm=-8, lip_height_share=0.8), Profile(kind="slab", base_inset_mm=3),
])  # fmt: skip
bands = st.sampled_from([
    (), (Band(at_share=1, tall_mm=8, proud_mm=4),),
    (Band(at_share=0.5, tall_mm=6, proud_mm=3, form="flat"), Band(at_share=1, tall_mm=8, proud_mm=4)),
])  # fmt: skip


@settings(max_examples=examples(14))
@given(outlines, profiles, st.sampled_from(["cloud", "block", "ring", "columns", "none"]), bands, st.booleans())
def test_any_outline_wall_foot_and_band_goes_together(
    outline: Outline, profile: Profile, feet: str, band: tuple[Band, ...], plastic: bool
) -> None:
    pot = made_of(outline, profile, feet, band, plastic)
    if pot is None:
        return
    made = split(pot, solid(pot), (200.0, 180.0, 150.0))
    seen = together(made)
    assert seen.good, seen.words
    assert all(read(p).is_watertight for p in made.pieces)
    keep_their_land(pot, made)


def test_a_piece_can_be_taken_out_while_all_others_lie() -> None:
    """Of one tier each piece goes up or down: none is locked in."""
    pot = for_print(DEMO["barge"])
    made = split(pot, solid(pot), BED)
    solids = [solid_of(p.solid) for p in made.pieces]
    for k, one in enumerate(solids):
        ways = [
            all(meets(one.translate([0.0, 0.0, sign * z]), o) < 0.05 for n, o in enumerate(solids) if n != k for z in (0.5, 4.0, 30.0))
            for sign in (1, -1)
        ]  # fmt: skip
        assert any(ways), made.pieces[k].name


def test_the_gap_is_what_is_missing() -> None:
    pot = for_print(DEMO["ferry-tray"])
    whole = solid(pot)
    lost = [
        1 - sum(p.solid.volume for p in split(pot, whole, BED, gap).pieces) / whole.volume for gap in (0.0, 0.1, 0.2)
    ]
    assert lost[0] == pytest.approx(0, abs=2e-6)
    assert lost[2] == pytest.approx(2 * lost[1], rel=0.1)
    for gap in (-0.1, 1.5, float("nan")):
        with pytest.raises(FieldError, match="clearance"):
            split(pot, whole, BED, gap)


def test_what_does_not_go_together_is_seen() -> None:
    pot = for_print(DEMO["ferry-tray"])
    made = split(pot, solid(pot), BED)
    first, *rest = made.pieces
    shifted = first.solid.copy()
    shifted.apply_translation([2.0, 0, 0])
    wrong = Assembly(
        made.whole,
        (Piece(1, *first.cell, shifted), *rest),
        made.joints,
        made.plain,
        made.grid,
        made.land_mm,
        made.gap_mm,
    )
    assert together(wrong).overlap_mm3 > 1
    assert "into each other" in together(wrong).words
    missing = Assembly(made.whole, tuple(rest), made.joints, made.plain, made.grid)
    assert together(missing).missing_share > 0.1
    assert "in no piece" in together(missing).words
    drilled = trimesh.boolean.difference(
        [
            first.solid,
            trimesh.creation.cylinder(2.0, 400.0).apply_translation([*first.solid.bounds.mean(axis=0)[:2], 0.0]),
        ],
        engine="manifold",
    )
    tunnel = Assembly(made.whole, (Piece(1, *first.cell, drilled), *rest), made.joints, made.plain, made.grid)
    assert together(tunnel).tunnels == (1,)
    # set down last although another one lies over it
    turned = tuple(Piece(len(made) - k, *p.cell, p.solid) for k, p in enumerate(reversed(made.pieces)))
    assert together(Assembly(made.whole, turned, made.joints, made.plain, made.grid)).caught
    assert Together(0.0, 0.0, (), (), ()).good
    assert Together(0.0, 0.0, (3,), (), ()).words == "piece 3 is not one closed body"


def test_a_hole_is_never_cut_and_a_floor_full_of_holes_is_refused() -> None:
    pot = for_print(DEMO["ferry-tray"]).changed(
        holes=tuple(Hole(x_mm=x, y_mm=0, diameter_mm=20) for x in (-40.0, 0.0, 40.0))
    )
    made = split(pot, solid(pot), BED)
    keep_their_land(pot, made)
    rows = tuple(Hole(x_mm=float(x), y_mm=float(y), diameter_mm=14) for x in range(-160, 161, 20) for y in (-60, 60))
    full = pot.changed(holes=rows)
    with pytest.raises(FieldError, match="bed"):
        split(full, solid(full), BED)


def test_a_3mf_of_the_pieces_holds_each_of_them_closed() -> None:
    pot = for_print(DEMO["chalk-oval"])
    made = split(pot, solid(pot), BED)
    scene = trimesh.load(io.BytesIO(threemf([(p.name, p.solid) for p in made.pieces])), file_type="3mf")
    assert set(scene.geometry) == {p.name for p in made.pieces}  # type: ignore[attr-defined]
    assert all(one.is_watertight for one in scene.geometry.values())  # type: ignore[attr-defined]


def test_a_pot_that_fits_is_one_piece_and_a_bed_of_nothing_is_refused() -> None:
    pot = DEMO["small-oval"]
    assert len(split(pot, solid(pot), (300, 300, 300))) == 1
    for bed in ((10.0, 10.0, 10.0), (float("nan"), 200.0, 200.0), (float("inf"), 200.0, 200.0)):
        with pytest.raises(FieldError, match="leaves no room"):
            counts((100, 100, 100), bed)
    with pytest.raises(FieldError, match="pieces"):
        counts((2000, 2000, 900), (120, 120, 120))


@given(st.floats(50, 700), st.floats(50, 700), st.floats(20, 300), st.floats(220, 400))
def test_counts_are_enough(length: float, width: float, height: float, bed: float) -> None:
    n = counts((length, width, height), (bed, bed, bed))
    room = bed - 2 * MARGIN_MM
    for size, count in zip((length, width, height), n, strict=True):
        assert size / count <= room + 1e-6
        assert count == 1 or size / (count - 1) > room - 1e-6


@given(st.lists(st.floats(0, 300), min_size=1, max_size=60), st.floats(5, 30), st.integers(1, 4))
def test_joints_are_spread_and_never_too_near(places: list[float], apart: float, most: int) -> None:
    found = spread(np.sort(np.array(places)), apart, most)
    assert 1 <= len(found) <= most
    assert set(found) <= set(places)
    assert all(abs(a - b) >= apart for k, a in enumerate(found) for b in found[:k])
