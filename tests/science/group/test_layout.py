"""The layout check against a second writing of it, its known plans, and what must not change it."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kesh.base.errors import FieldError
from kesh.geometry.outline import outline_points
from kesh.model import Outline, Pot
from kesh.science.group.layout import WEIGHTS, Open, Trunks, fits, layout_parts, total
from kesh.science.group.mend import check_layout
from kesh.science.group.tray import RoughTray, Tray, tray_of
from tests.kept import examples
from tests.science.group.plain_score import parts_of, score_of

OVAL = Tray(outline_points(Outline(kind="oval"), 560, 350, 10, 120))
SHAPES = {
    "oval": OVAL,
    "rectangle": Tray(outline_points(Outline(kind="rectangle", corner_mm=20), 520, 300, 12, 120)),
    "lobed": Tray(outline_points(Outline(kind="lobed", lobes=4, lobe_depth=0.2), 600, 420, 9, 160)),
    "hexagon": Tray(outline_points(Outline(kind="polygon", sides=6), 500, 500, 10, 120)),
}


def trunks(d: list[float], h: list[float] | None = None, fixed: tuple[int, ...] = ()) -> Trunks:
    n = len(d)
    held = np.array([k in fixed for k in range(n)])
    return Trunks(tuple(str(k + 1) for k in range(n)), np.array(d), np.array(h or [500.0] * n), held)


def score(spots: list[tuple[float, float]], d: list[float], tray: Tray = OVAL) -> float:
    x, y = np.array(spots, float).T
    return check_layout(x, y, trunks(d), tray).score


@pytest.mark.parametrize("shape", SHAPES)
@pytest.mark.parametrize("seed", range(6))
def test_it_is_the_score_that_the_text_gives(shape: str, seed: int) -> None:
    chance = np.random.default_rng(seed)
    n = int(chance.integers(3, 12))
    tray = SHAPES[shape]
    x0, x1, y0, y1 = tray.box
    # some stand outside, some on one spot, some are equally thick
    spots = [
        (round(float(a), 1), round(float(b), 1))
        for a, b in zip(chance.uniform(x0, x1, n), chance.uniform(y0, y1, n), strict=True)
    ]
    if seed == 3:
        spots[1] = spots[0]
    d = [float(v) for v in chance.integers(8, 40, n)]
    h = [float(v) for v in chance.integers(200, 600, n)]
    x, y = np.array(spots).T
    ours = check_layout(x, y, trunks(d, h), tray)
    plain = parts_of(spots, d, h, [(float(a), float(b)) for a, b in tray.ring])
    assert ours.parts == pytest.approx(plain, abs=2e-3)
    assert ours.score == pytest.approx(score_of(plain), abs=0.1)


def test_rows_grids_and_crowds_are_found() -> None:
    row = [(float(x), 0.0) for x in range(-160, 161, 80)]
    grid = [(float(x), float(y)) for x in (-80, 0, 80) for y in (-80, 0, 80)]
    crowd = [(float(k), float(k * k % 7)) for k in range(7)]
    assert score(row, [20.0] * 5) < 30
    assert score(grid, [20.0] * 9) < 35
    assert score(crowd, [20.0] * 7) < 40


def test_weights_sum_to_one() -> None:
    assert sum(WEIGHTS.values()) == pytest.approx(1.0)


@settings(max_examples=examples(40), deadline=None)
@given(st.integers(0, 10_000), st.integers(3, 11))
def test_mirrored_left_to_right_the_score_stays(seed: int, n: int) -> None:
    chance = np.random.default_rng(seed)
    x, y = chance.uniform(-250, 250, n), chance.uniform(-150, 150, n)
    t = trunks([float(v) for v in chance.uniform(8, 40, n)])
    # a rim that is its own mirror image
    half = OVAL.ring[OVAL.ring[:, 0] > 1e-6]
    tray = Tray(np.concatenate([half[np.argsort(half[:, 1])], (half * [-1, 1])[np.argsort(-half[:, 1])]]))
    ground = Open.of(tray)
    one, other = (total(layout_parts(side * x, y, t, tray, ground)) for side in (1, -1))
    assert float(one) == pytest.approx(float(other), abs=1e-6)


def test_forward_and_back_change_only_depth_void_and_fit() -> None:
    x, y = np.array([-120.0, -10, 60, 150]), np.array([-40.0, 30, -60, 20])
    t = trunks([30.0, 22, 18, 15])
    here, back = (check_layout(x, y + dy, t, OVAL).parts for dy in (0.0, 25.0))
    assert {k for k in here if abs(here[k] - back[k]) > 1e-9} <= {"depth", "void", "fit"}


def test_many_plans_at_once_are_each_as_alone() -> None:
    chance = np.random.default_rng(5)
    x, y = chance.uniform(-200, 200, (7, 6)), chance.uniform(-120, 120, (7, 6))
    t, ground = trunks([30.0, 26, 22, 19, 15, 12]), Open.of(OVAL)
    whole = total(layout_parts(x, y, t, OVAL, ground))
    alone = [float(total(layout_parts(x[k], y[k], t, OVAL, ground))) for k in range(7)]
    assert whole == pytest.approx(alone)


def test_the_main_tree_is_the_thickest_then_the_taller_then_the_first() -> None:
    assert trunks([20.0, 30, 30], [400.0, 500, 510]).main == 2
    assert trunks([30.0, 30, 30], [400.0, 400, 400]).main == 0
    assert trunks([30.0, 30, 20], [float("nan"), 400.0, 600]).main == 1


def test_fewer_than_three_and_no_thickness_are_refused() -> None:
    with pytest.raises(FieldError, match="at least three"):
        trunks([20.0, 10])
    with pytest.raises(FieldError, match="thickness"):
        trunks([20.0, 10, 0.0])


def test_a_tree_outside_scores_and_does_not_fit() -> None:
    t = trunks([20.0, 18, 15])
    found = check_layout(np.array([0.0, 80, 400]), np.array([0.0, 60, 0]), t, OVAL)
    assert not found.fits
    assert found.score > 0
    assert found.outside_mm[0][0] == 2
    x, y = np.array([[0.0, 90, -90]]), np.array([[0.0, 60, 40]])
    assert bool(fits(x, y, t, OVAL)[0]) is check_layout(x[0], y[0], t, OVAL).fits is True


def test_flat_triples_come_by_name_with_their_height_over_the_longest_side() -> None:
    x, y = np.array([-100.0, 0, 100, 20]), np.array([0.0, 8, 0, 90])
    found = check_layout(x, y, trunks([20.0, 18, 15, 12]), OVAL).in_line
    assert [t.ids for t in found] == [("1", "2", "3")]
    assert found[0].middle == "2"
    assert found[0].off_mm == pytest.approx(8.0)
    assert found[0].asked_mm == pytest.approx(10.0)


def test_the_tray_of_a_pot_is_its_inside_and_a_slab_has_no_walls() -> None:
    pot = Pot.made(
        id="a", name="A", outline=Outline(kind="rectangle"), length_mm=400, width_mm=300, height_mm=60, wall_mm=10
    )
    assert tray_of(pot).area_mm2 == pytest.approx(380 * 280)
    assert tray_of(pot).box == pytest.approx((-190, 190, -140, 140))
    slab = pot.changed(profile=pot.profile.changed(kind="slab"))
    assert tray_of(slab).area_mm2 == pytest.approx(400 * 300)


@pytest.mark.parametrize("shape", SHAPES)
def test_the_table_of_distances_is_within_a_millimetre(shape: str) -> None:
    tray = SHAPES[shape]
    x0, x1, y0, y1 = tray.box
    chance = np.random.default_rng(1)
    x, y = chance.uniform(x0, x1, 2000), chance.uniform(y0, y1, 2000)
    assert np.abs(RoughTray(tray).inside_mm(x, y) - tray.inside_mm(x, y)).max() < 1.0


def test_a_ring_that_encloses_nothing_is_refused() -> None:
    with pytest.raises(FieldError, match="no area"):
        Tray(np.array([[0.0, 0], [10, 0], [20, 0]]))
