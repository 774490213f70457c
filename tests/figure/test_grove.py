"""A group drawn from its very plan: heights, thicknesses and places are those of its trees; nothing is grown anew that only moved."""

import numpy as np
import pytest

from kesh.demo.lanternfield import demo_collection
from kesh.figure.grove import ground_at, height_of, lean_across, sitter, standing, stems_of, whole_of
from kesh.figure.tree_figure import figure_of, grow
from kesh.model import GroupTree, HillMound, Tree
from kesh.reference.tables import tables

SPECIES = tables((), ()).species["european_beech"]


@pytest.fixture(scope="module")
def grove() -> Tree:
    return demo_collection().trees["seven-neighbours"]


def test_each_tree_has_its_height_thickness_and_place(grove: Tree) -> None:
    figure = figure_of(grove, SPECIES)
    assert figure is not None
    rows = {g.id: g for g in standing(grove)}
    made = {s.id: n for n, s in enumerate(stems_of(whole_of(grove, SPECIES), grove))}  # type: ignore[arg-type]
    for key, group in made.items():
        row = rows[key]
        trunk = next(w for w in figure.wood if w.kind == "trunk" and w.group == group)
        assert trunk.line[0, 0] == pytest.approx(row.x_mm, abs=1.5)
        rise = ground_at(grove, row.x_mm or 0, row.y_mm or 0)
        tufts = figure.tufts.mass
        own = [i for i, m in enumerate(figure.masses) if m.group == group]
        mine = np.isin(tufts, own)
        top = float((figure.tufts.y + figure.tufts.over_y)[mine].max())
        assert top - rise == pytest.approx(row.height_mm, abs=1.0)
        # two radii a tenth of the way up are the thickness
        at = int(np.argmin(np.abs(trunk.line[:55, 1] - rise - 0.10 * (row.height_mm or 0))))
        assert 2 * float(trunk.radius[at]) == pytest.approx(row.diameter_mm, rel=0.06)


def test_the_farthest_are_drawn_first_and_their_depth_is_kept(grove: Tree) -> None:
    found = stems_of(whole_of(grove, SPECIES), grove)  # type: ignore[arg-type]
    assert [s.y for s in found] == sorted((s.y for s in found), reverse=True)
    assert min(s.behind for s in found) == 0
    one = sitter(grove, SPECIES)
    assert one is not None
    depth = [w.line[0, 2] for w in grow(one).wood if w.kind == "trunk"]
    assert depth[0] < depth[-1]


def test_a_tree_that_moves_in_the_middle_is_not_grown_anew(grove: Tree) -> None:
    before = {s.id: s.sitter for s in stems_of(whole_of(grove, SPECIES), grove)}  # type: ignore[arg-type]
    moved = grove.changed(group=tuple(g.changed(x_mm=(g.x_mm or 0) + 6) if g.id == "1" else g for g in grove.group))
    after = {s.id: s.sitter for s in stems_of(whole_of(moved, SPECIES), moved)}  # type: ignore[arg-type]
    assert after["1"] == before["1"]


def test_from_the_right_what_stood_behind_comes_to_the_right(grove: Tree) -> None:
    front = {s.id: s.x for s in stems_of(whole_of(grove, SPECIES), grove)}  # type: ignore[arg-type]
    right = {s.id: s.x for s in stems_of(whole_of(grove, SPECIES), grove, 90.0)}  # type: ignore[arg-type]
    rows = {g.id: g for g in grove.group}
    for key in front:
        assert right[key] == pytest.approx(rows[key].y_mm)


def test_leans_by_azimuth() -> None:
    assert lean_across(GroupTree(id="a", lean_deg=45, azimuth_deg=270)) == pytest.approx(1.0)
    assert lean_across(GroupTree(id="a", lean_deg=45, azimuth_deg=90)) == pytest.approx(-1.0)
    assert lean_across(GroupTree(id="a", lean_deg=45, azimuth_deg=0)) == pytest.approx(0.0, abs=1e-9)
    assert lean_across(GroupTree(id="a", lean_deg=45, azimuth_deg=180), 90.0) == pytest.approx(1.0)


def test_heights_nobody_took_come_from_the_thickness_and_a_group_without_measures_is_drawn() -> None:
    assert height_of(GroupTree(id="a", diameter_mm=20)) == 300
    assert height_of(GroupTree(id="a")) is None
    bare = Tree(
        id="t",
        name="T",
        style="forest",
        group=(
            GroupTree(id="a", x_mm=0, y_mm=0, diameter_mm=20),
            GroupTree(id="b", x_mm=60, y_mm=30, diameter_mm=12, height_mm=150),
        ),
    )
    figure = figure_of(bare, None)
    assert figure is not None
    assert figure.sitter.height == 300
    assert sum(w.kind == "trunk" for w in figure.wood) == 2
    assert figure_of(bare.changed(group=()), None) is None
    raised = bare.changed(hill=(HillMound(x_mm=0, y_mm=0, height_mm=25, reach_x_mm=50, reach_y_mm=50),))
    assert ground_at(raised, 0, 0) == 25
    assert ground_at(raised, 60, 30) == 0
