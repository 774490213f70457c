"""Laying out anew: better than chance, fixed trees stay, three proposals that differ, stopped when asked."""

import numpy as np
import pytest

from kesh.base.errors import FieldError
from kesh.base.progress import Progress, StoppedError
from kesh.science.group.anneal import DISTINCT_MM, lay_out, seeded_plans
from kesh.science.group.layout import Open, Trunks, fits, layout_parts, total
from kesh.science.group.mend import check_layout, mend
from tests.science.group.test_layout import OVAL, SHAPES, trunks


def thick(n: int, seed: int) -> list[float]:
    return [float(v) for v in np.random.default_rng(seed).uniform(10, 30, n)]


def best_of_chance(t: Trunks, count: int = 2000) -> float:
    n = len(t.ids)
    x, y = seeded_plans(t, OVAL, np.zeros(n), np.zeros(n), count, np.random.default_rng(99))
    return float(total(layout_parts(x, y, t, OVAL, Open.of(OVAL)))[fits(x, y, t, OVAL)].max(initial=0.0))


@pytest.mark.parametrize("n", [5, 9, 15])
def test_it_beats_the_best_of_two_thousand_random_plans(n: int) -> None:
    t = trunks(thick(n, n))
    found = lay_out(t, OVAL, np.zeros(n), np.zeros(n), seed=1)
    assert len(found) == 3
    assert all(one.fits for one in found)
    assert found[0].score > best_of_chance(t)
    assert [one.score for one in found] == sorted((one.score for one in found), reverse=True)
    for a in range(3):
        check = check_layout(found[a].x_mm, found[a].y_mm, t, OVAL)
        assert check.score == pytest.approx(found[a].score, abs=1e-6)
        for b in range(a):
            assert np.hypot(found[a].x_mm - found[b].x_mm, found[a].y_mm - found[b].y_mm).mean() > DISTINCT_MM


def test_fixed_trees_are_never_moved_and_the_seed_decides() -> None:
    t = trunks(thick(7, 2), fixed=(0, 3))
    x, y = np.array([-70.0, 0, 0, 120, 0, 0, 0]), np.array([-40.0, 0, 0, 30, 0, 0, 0])
    one, again, other = (lay_out(t, OVAL, x, y, count=2, seed=seed) for seed in (4, 4, 5))
    for found in (*one, *other):
        assert (found.x_mm[0], found.y_mm[0], found.x_mm[3], found.y_mm[3]) == (-70.0, -40.0, 120.0, 30.0)
    assert np.array_equal(one[0].x_mm, again[0].x_mm)
    assert not np.array_equal(one[0].x_mm, other[0].x_mm)


def test_all_fixed_is_refused_and_a_stop_is_heard() -> None:
    with pytest.raises(FieldError, match="fixed"):
        lay_out(trunks([20.0, 15, 10], fixed=(0, 1, 2)), OVAL, np.zeros(3), np.zeros(3))
    halt = Progress()
    halt.stop()
    with pytest.raises(StoppedError):
        lay_out(trunks([20.0, 15, 10]), OVAL, np.zeros(3), np.zeros(3), progress=halt)


def test_too_many_for_the_tray_is_told_by_fits() -> None:
    t = trunks([60.0] * 9)
    found = lay_out(t, SHAPES["rectangle"], np.zeros(9), np.zeros(9), count=1)
    assert not found[0].fits


def test_trunks_that_cannot_stand_there_are_not_proposed() -> None:
    with pytest.raises(FieldError, match="do not find room"):
        lay_out(trunks([150.0] * 9), SHAPES["rectangle"], np.zeros(9), np.zeros(9), count=2)
    for one in lay_out(trunks([70.0] * 8), SHAPES["rectangle"], np.zeros(8), np.zeros(8), count=3):
        edge = SHAPES["rectangle"].inside_mm(one.x_mm, one.y_mm)
        away = np.hypot(one.x_mm[:, None] - one.x_mm, one.y_mm[:, None] - one.y_mm) + 1e9 * np.eye(8)
        assert edge.min() >= 35 - 1e-6
        assert away.min() >= 70 - 1e-6


@pytest.mark.parametrize("seed", range(4))
def test_no_single_move_gains_clearly_more_than_the_mend(seed: int) -> None:
    t = trunks(thick(6, seed), fixed=(2,))
    chance = np.random.default_rng(seed)
    x, y = (v[0] for v in seeded_plans(t, OVAL, np.zeros(6), np.zeros(6), 1, chance))
    found = mend(x, y, t, OVAL)
    assert found is not None
    assert max(abs(found.dx_mm), abs(found.dy_mm)) <= 40
    assert found.id != "3"
    at = t.ids.index(found.id)
    px, py = x.copy(), y.copy()
    px[at], py[at] = px[at] + found.dx_mm, py[at] + found.dy_mm
    assert check_layout(px, py, t, OVAL).score == pytest.approx(found.score, abs=1e-6)
    # a second way: every free tree on a grid of 5 mm, all parts exact
    ground, best = Open.of(OVAL), 0.0
    steps = np.arange(-40.0, 41.0, 10.0)
    dx, dy = (g.ravel() for g in np.meshgrid(steps, steps))
    for k in (0, 1, 3, 4, 5):
        tx, ty = np.tile(x, (len(dx), 1)), np.tile(y, (len(dx), 1))
        tx[:, k] += dx
        ty[:, k] += dy
        best = max(best, float(total(layout_parts(tx, ty, t, OVAL, ground)).max()))
    assert found.score > best - 0.3


def test_nothing_to_mend_is_none() -> None:
    t = trunks([20.0, 15, 10], fixed=(0, 1, 2))
    assert mend(np.array([0.0, 90, -90]), np.array([0.0, 60, 50]), t, OVAL) is None
