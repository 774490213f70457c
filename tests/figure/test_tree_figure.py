"""Drawn trees keep to their measures, to themselves, and to what wood can do."""

import hashlib
import subprocess
import sys
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kesh.figure.grove import sitter
from kesh.figure.line import Chance, normals, relaxed, smooth_line
from kesh.figure.silhouette import tree_regions
from kesh.figure.tree_figure import figure_of, grow
from kesh.model import Tree
from kesh.model.tree import STYLES, Measure
from kesh.reference.tables import tables
from tests.builders import tree
from tests.kept import examples

SPECIES = tables().species
KINDS = [
    "japanese_white_pine",
    "japanese_larch",
    "trident_maple",
    "satsuki_azalea",
    "ginkgo",
    "wisteria",
    "chinese_juniper",
]
DRAWN = [s for s in STYLES if s not in ("accent", "landscape_tray")]
EASY = ["formal_upright", "informal_upright", "slanting", "literati", "broom", "twin_trunk", "clump", "forest"]


def kind(key: str) -> str:
    return key if key in SPECIES else next(k for k in SPECIES if key.split("_")[-1] in k)


def figure(style: str, species: str = "trident_maple", **m):  # type: ignore[no-untyped-def]
    seed = m.pop("seed", 5)
    hang = {"drop_mm": 260} if style == "cascade" else {"drop_mm": 90} if style == "semi_cascade" else {}
    found = figure_of(tree(style=style, flow="right", seed=seed, m=hang | m), SPECIES[kind(species)])
    assert found is not None
    return found


@pytest.mark.parametrize("style", EASY)
@pytest.mark.parametrize("species", ["japanese_white_pine", "trident_maple"])
def test_ink_reaches_the_measures(style: str, species: str) -> None:
    left, right, _, top = figure(style, species).bounds
    assert top == pytest.approx(500, abs=1)
    assert -left == pytest.approx(200, abs=1)
    assert right == pytest.approx(220, abs=1)


@pytest.mark.parametrize("style", ["informal_upright", "formal_upright", "slanting"])
def test_trunk_has_its_diameter_where_it_was_taken_and_at_the_soil(style: str) -> None:
    f = figure(style, "japanese_white_pine")
    trunk = next(w for w in f.wood if w.kind == "trunk")
    at = int(np.argmin(np.abs(trunk.line[: len(trunk.line) // 2, 1] - 0.10 * 500)))
    assert 2 * trunk.radius[at] == pytest.approx(70, abs=2)
    assert 2 * trunk.radius[0] == pytest.approx(105, abs=1)


@pytest.mark.parametrize("style", EASY)
def test_the_crown_begins_where_it_was_measured(style: str) -> None:
    assert figure(style).crown[2] == pytest.approx(140, abs=2)


@pytest.mark.parametrize("style", ["cascade", "semi_cascade"])
def test_a_hanging_tree_hangs_as_far_as_measured(style: str) -> None:
    f = figure(style)
    assert f.bounds[2] == pytest.approx(-(260 if style == "cascade" else 90), abs=1)
    assert f.bounds[3] == pytest.approx(500, abs=1)


@pytest.mark.parametrize("style", DRAWN)
@pytest.mark.parametrize("species", KINDS)
def test_every_style_of_every_leaf_can_be_drawn(style: str, species: str) -> None:
    f = figure(style, species)
    t = f.tufts
    assert len(t.x) > 50
    for values in (t.x, t.y, t.z, t.angle, t.size, t.lit):
        assert np.all(np.isfinite(values))
    assert np.all((t.lit >= 0) & (t.lit <= 1))
    for piece in f.wood:
        assert np.all(np.isfinite(piece.ring))
        assert np.all(piece.radius > 0)


@settings(max_examples=examples(40))
@given(
    st.sampled_from(DRAWN), st.sampled_from(KINDS), st.floats(80, 1500), st.floats(0.04, 0.33), st.floats(0.02, 1.0), st.floats(0.02, 1.0),
    st.floats(0.05, 0.8), st.floats(-0.6, 0.6), st.floats(0.05, 1.5),
)  # fmt: skip
def test_extreme_measures_draw_without_a_fault(style, species, height, trunk, left, right, base, apex, drop) -> None:  # type: ignore[no-untyped-def]
    m = {
        "height_mm": height, "trunk_diameter_mm": trunk * height, "flare_width_mm": 1.4 * trunk * height, "canopy_left_mm": left * height,
        "canopy_right_mm": right * height, "crown_base_mm": base * height, "apex_offset_mm": apex * height, "drop_mm": drop * height,
    }  # fmt: skip
    f = figure_of(tree(style=style, m=m), SPECIES[kind(species)])
    assert f is not None
    assert np.all(np.isfinite(f.tufts.x))
    assert np.all(np.isfinite(np.array(f.bounds)))


@given(
    st.sampled_from(DRAWN), st.floats(1e-3, 6000), st.floats(1e-3, 3000), st.floats(1e-3, 3000), st.floats(1e-3, 3000), st.floats(-3000, 3000),
    st.floats(1e-3, 3000),
)  # fmt: skip
def test_measures_with_a_slip_of_the_unit_draw_without_a_fault(style, height, trunk, flare, reach, apex, drop) -> None:  # type: ignore[no-untyped-def]
    m = {
        "height_mm": height, "trunk_diameter_mm": trunk, "flare_width_mm": flare, "canopy_left_mm": reach, "canopy_right_mm": reach / 3,
        "apex_offset_mm": apex, "drop_mm": drop, "crown_base_mm": reach,
    }  # fmt: skip
    f = figure_of(tree(style=style, m=m), SPECIES["trident_maple"])
    assert (f is None) == (not 10 <= height <= 20_000)
    if f is not None:
        assert np.all(np.isfinite(np.array(f.bounds)))
        assert np.ptp(np.array(f.bounds)) < 60 * height


def test_the_same_measures_draw_the_same_tree_and_another_seed_another() -> None:
    s = sitter(tree(seed=9), SPECIES["trident_maple"])
    assert s is not None
    again = grow.__wrapped__(s)
    assert again.digest == grow(s).digest
    assert figure("informal_upright", seed=9).digest != figure("informal_upright", seed=10).digest


def test_another_process_draws_the_same_tree() -> None:
    code = (
        "from kesh.figure.tree_figure import figure_of; from kesh.reference.tables import tables; from tests.builders import tree\n"
        "print(figure_of(tree(seed=9), tables().species['trident_maple']).digest)"
    )
    root = Path(__file__).parents[2]
    out = subprocess.run(
        [sys.executable, "-c", code],
        capture_output=True,
        text=True,
        cwd=root,
        check=True,
        env={"PYTHONHASHSEED": "77", "PATH": ""},
    )
    f = figure_of(tree(seed=9), SPECIES["trident_maple"])
    assert f is not None
    assert out.stdout.strip() == f.digest
    assert len(f.digest) == len(hashlib.sha256().hexdigest())


@pytest.mark.parametrize("species", ["japanese_white_pine", "trident_maple"])
def test_limbs_start_in_the_trunk_and_are_thinner(species: str) -> None:
    f = figure("informal_upright", species)
    trunk = next(w for w in f.wood if w.kind == "trunk")
    for limb in (w for w in f.wood if w.kind == "limb"):
        away = np.linalg.norm(trunk.line[:, :2] - limb.line[0, :2], axis=1)
        i = int(np.argmin(away))
        assert away[i] <= trunk.radius[i] * 1.6 + 3
        assert limb.radius[4:].max() <= trunk.radius[i] + 1e-6


def test_the_trunk_thins_upward() -> None:
    trunk = next(w for w in figure("informal_upright").wood if w.kind == "trunk")
    assert np.all(np.diff(trunk.radius) < 0.5)
    assert trunk.radius[-1] < 0.3 * trunk.radius[0]


def test_flow_mirrors_the_lean() -> None:
    def lean(flow: str) -> float:
        f = figure_of(tree(style="slanting", flow=flow, m={"apex_offset_mm": None}), SPECIES["trident_maple"])
        assert f is not None
        return float(next(w for w in f.wood if w.kind == "trunk").line[-1, 0])

    assert lean("right") > 20
    assert lean("left") < -20


def test_missing_measures_are_flagged_as_assumed() -> None:
    s = sitter(
        tree(m={"trunk_diameter_mm": None, "trunk_at_soil_mm": None, "trunk_mid_mm": None, "canopy_left_mm": None}),
        None,
    )
    assert s is not None
    assert {"trunk_diameter_mm", "canopy_left_mm"} <= set(s.assumed)
    assert sitter(tree(m={"height_mm": None}), None) is None


def test_regions_carry_area_and_lean_to_the_longer_side() -> None:
    regions = tree_regions(tree(m={"canopy_left_mm": 100, "canopy_right_mm": 320}), SPECIES["trident_maple"])
    leaves = next(r for r in regions if r.kind != "wood")
    assert leaves.centre_x_mm > 30
    assert 0.2 * 420 * 360 < leaves.area_mm2 < 420 * 500
    assert tree_regions(tree(m={"height_mm": None}), None) == ()


def test_measured_opacity_weighs_the_leaves() -> None:
    thin, thick = (tree_regions(tree(m={"canopy_opacity": o}), SPECIES["trident_maple"]) for o in (0.3, 0.9))
    assert thin[0].weight < thick[0].weight
    assert thin[1].weight == thick[1].weight


@pytest.mark.parametrize(("species", "ribs"), [("bald_cypress", True), ("desert_rose", False)])
def test_a_heavy_foot_stands_upright_and_wide_and_keeps_the_measures(species: str, ribs: bool) -> None:
    given = tree(species=species, m={"flare_width_mm": 130, "trunk_diameter_mm": 70})
    heavy = figure_of(given, SPECIES[species])
    plain = figure_of(given, SPECIES[species].model_copy(update={"foot": ""}))
    assert heavy is not None
    assert plain is not None
    stem, other = (next(w for w in f.wood if w.kind == "trunk") for f in (heavy, plain))
    foot = stem.line[:, 1] < 0.06 * 500
    # it stays wide longer than a plain flare, and does not lean where it leaves the soil
    assert stem.radius[foot].mean() > 1.03 * other.radius[other.line[:, 1] < 0.06 * 500].mean()
    assert abs(stem.line[foot][-1, 0]) < abs(other.line[other.line[:, 1] < 0.06 * 500][-1, 0]) + 1
    assert 2 * stem.radius[0] == pytest.approx(130, abs=3)
    high = max(float(w.line[:, 1].max()) for w in heavy.wood if w.kind == "root")
    assert (high > 0.7 * 70) is ribs


def test_species_are_told_apart() -> None:
    shapes = {s: figure("informal_upright", s) for s in ("japanese_white_pine", "japanese_larch", "trident_maple")}
    counts = {len(f.masses) for f in shapes.values()} | {len(f.tufts.x) for f in shapes.values()}
    assert len(counts) >= 4


def test_chance_is_even_and_its_own() -> None:
    a, b = Chance(1, "limb", 7), Chance(1, "limb", 8)
    x = a.many(4000)
    assert 0.47 < x.mean() < 0.53
    assert Chance(1, "limb", 7).many(4000).tolist() == x.tolist()
    assert b.many(4000).tolist() != x.tolist()


def test_lines_are_smooth_and_evenly_spaced() -> None:
    line = smooth_line(np.array([[0, 0, 0], [30, 100, 0], [-20, 220, 0], [0, 300, 0]], dtype=float), 90)
    steps = np.linalg.norm(np.diff(line[:, :2], axis=0), axis=1)
    assert steps.std() < 0.02 * steps.mean()
    assert np.allclose(np.linalg.norm(normals(line), axis=1), 1)
    sharp = np.column_stack(
        [np.r_[np.linspace(0, 60, 40), np.linspace(60, 0, 40)], np.linspace(0, 60, 80), np.zeros(80)]
    )
    eased = relaxed(sharp, np.full(80, 20.0))

    def bend(p: np.ndarray) -> float:
        turn = np.diff(np.unwrap(np.arctan2(*np.diff(p[:, :2], axis=0).T[::-1])))
        return float(np.abs(turn).max())

    assert bend(eased) < bend(sharp)


@pytest.mark.parametrize(
    ("species", "spread"), [("yucca", 520), ("dragon_tree", 420), ("ponytail_palm", 380), ("sago_cycad", 460)]
)
def test_long_leaved_plants_have_heads_and_no_twigs(species: str, spread: float) -> None:
    measure = Measure(
        height_mm=600, trunk_diameter_mm=90, canopy_left_mm=spread / 2, canopy_right_mm=spread / 2, crown_base_mm=260
    )
    figure = figure_of(Tree(id="t", name="t", species=species, measures=(measure,)), tables().species[species])
    assert figure is not None
    assert 1 <= len(figure.masses) <= 3
    assert sum(w.kind == "limb" for w in figure.wood) == len(figure.masses) - 1
    rings = np.vstack([m.ring for m in figure.masses])
    # the heads reach as far as the crown was measured, and the stem ends inside its head
    assert np.ptp(rings[:, 0]) == pytest.approx(spread, rel=0.12)
    assert rings[:, 1].max() == pytest.approx(600, rel=0.06)
    stem = next(w for w in figure.wood if w.kind == "trunk")
    assert stem.line[-1][1] < rings[:, 1].max()
    # every leaf springs from the middle of its head
    for i, mass in enumerate(figure.masses):
        own = figure.tufts.mass == i
        assert np.ptp(figure.tufts.x[own]) < 1e-6
        assert own.sum() >= 20
        assert abs(float(figure.tufts.x[own][0]) - float(mass.ring[:, 0].mean())) < 0.05 * spread
