"""Sharing pots out and pots over the years, against programs that try everything or are not ours."""

from itertools import permutations, product

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import Bounds, LinearConstraint, milp

from kesh.base.errors import FieldError
from kesh.science.season.assign import Shared, share_pots
from kesh.science.season.pot_path import pot_path
from tests.kept import examples


def kept_in_time(picked: tuple[int, ...], holds: list[int], windows: list[tuple[int, int]]) -> bool:
    """Whether days can be found: by pushing each day up until nothing moves; a ring needs one day for all in it."""
    owner = {col: i for i, col in enumerate(holds) if col >= 0}
    gives = {i: owner[c] for i, c in enumerate(picked) if c in owner and owner[c] != i and picked[owner[c]] != c}
    ring: dict[int, set[int]] = {}
    for i in gives:
        seen, at = [i], i
        while at in gives and gives[at] not in seen:
            at = gives[at]
            seen.append(at)
        if at in gives and gives[at] == i:
            ring[i] = set(seen)
    day = {i: windows[i][0] for i in range(len(picked))}
    for _ in range(len(picked) + 1):
        for i, frees in gives.items():
            day[i] = max(day[i], day[frees])
    for members in ring.values():
        if max(windows[i][0] for i in members) > min(windows[i][1] for i in members):
            return False
    return all(day[i] <= windows[i][1] for i in gives)


def by_trying(cost: np.ndarray, stay: np.ndarray, holds: list[int], windows: list[tuple[int, int]]) -> float:
    """The cheapest sharing by trying every one."""
    n, c = cost.shape
    best = np.inf
    for picked in product(range(-1, c), repeat=n):
        used = [p for p in picked if p >= 0]
        if len(set(used)) < len(used):
            continue
        total, legal = 0.0, True
        for i, p in enumerate(picked):
            if p >= 0 and (p == holds[i] or not np.isfinite(cost[i, p])):
                legal = False
                break
            total += stay[i] if p < 0 else cost[i, p]
        kept = {holds[i] for i, p in enumerate(picked) if p < 0 and holds[i] >= 0}
        full = tuple(holds[i] if p < 0 else p for i, p in enumerate(picked))
        if legal and total < best and not kept & set(used) and kept_in_time(full, holds, windows):
            best = total
    return best


def check(found: Shared, cost: np.ndarray, stay: np.ndarray, holds: list[int], windows: list[tuple[int, int]]) -> None:
    picked = found.pot_of
    moved = [p for p in picked if p >= 0]
    assert len(set(moved)) == len(moved)
    assert not {holds[i] for i, p in enumerate(picked) if p < 0} & set(moved)
    full = tuple(holds[i] if p < 0 else p for i, p in enumerate(picked))
    assert kept_in_time(full, holds, windows)
    assert found.total == pytest.approx(sum(stay[i] if p < 0 else cost[i, p] for i, p in enumerate(picked)))


@settings(max_examples=examples(150), deadline=None)
@given(st.integers(1, 4), st.integers(0, 5), st.integers(0, 2**32 - 1))
def test_no_sharing_is_cheaper_and_the_chain_is_kept(n: int, c: int, seed: int) -> None:
    r = np.random.default_rng(seed)
    cost = r.uniform(0, 100, (n, c)).round(1)
    cost[r.uniform(size=(n, c)) < 0.2] = np.inf
    stay = r.uniform(20, 100, n).round(1)
    holds = [int(h) for h in r.permutation([*range(c), *[-1] * n])[:n]]
    firsts = r.integers(0, 60, n)
    windows = [(int(f), int(f + r.integers(1, 40))) for f in firsts]
    found = share_pots(cost, stay, holds, windows)
    check(found, cost, stay, holds, windows)
    assert found.total == pytest.approx(by_trying(cost, stay, holds, windows))
    again = share_pots(cost, stay, holds, windows)
    assert again == found


def test_many_trees_cost_what_another_solver_finds() -> None:
    """With windows that all meet only the sharing itself is asked, which a mixed integer programme answers too."""
    r = np.random.default_rng(7)
    n, c = 30, 45
    cost, stay = r.uniform(0, 100, (n, c)), r.uniform(30, 90, n)
    holds = [int(x) for x in r.permutation(c)[:n]]
    found = share_pots(cost, stay, holds, [(0, 10)] * n)
    table = cost.copy()
    table[np.arange(n), holds] = stay
    rows = np.kron(np.eye(n), np.ones(c))
    cols = np.kron(np.ones(n), np.eye(c))
    told = milp(
        table.ravel(), integrality=np.ones(n * c), bounds=Bounds(0, 1),
        constraints=[LinearConstraint(rows, 1, 1), LinearConstraint(cols, 0, 1)],
    )  # fmt: skip
    assert found.total == pytest.approx(told.fun)


def test_a_pot_that_comes_free_too_late_is_not_given_and_a_long_chain_is_told_day_by_day() -> None:
    inf = np.inf
    # tree 0 wants the pot of 1, 1 that of 2, 2 a free one
    cost = np.array([[inf, 0, inf, inf], [inf, inf, 0, inf], [inf, inf, inf, 0]], float)
    stay, holds = np.array([50.0, 50, 50]), [0, 1, 2]
    easy = share_pots(cost, stay, holds, [(20, 40), (10, 30), (15, 25)])
    assert easy.pot_of == (1, 2, 3)
    assert easy.days == (20, 15, 15)
    # each pair of windows meets, but not all three in a row: one link has to go
    hard = share_pots(cost, stay, holds, [(0, 9), (0, 30), (20, 40)])
    assert hard.total == 50
    assert hard.pot_of == (-1, 2, 3)


def test_rings_need_one_day_for_all() -> None:
    cost = np.array([[np.inf, 0.0], [0.0, np.inf]])
    stay = np.array([10.0, 10.0])
    assert share_pots(cost, stay, [0, 1], [(0, 10), (8, 20)]).days == (8, 8)
    assert share_pots(cost, stay, [0, 1], [(0, 10), (11, 20)]).total == 20


def cheapest(misfit: np.ndarray, price: np.ndarray, start: int, since: int, least: int) -> float:
    years, pots = misfit.shape
    best = np.inf
    for path in product(range(pots), repeat=years):
        at, age, total, owned, legal = start, since if start >= 0 else 10**6, 0.0, {start}, True
        for y, pot in enumerate(path):
            if pot != at:
                if age < least or not np.isfinite(misfit[y, pot]):
                    legal = False
                    break
                total += (15.0 if at >= 0 else 0.0) + (0.0 if pot in owned else price[pot])
                owned.add(pot)
                at, age = pot, 1
            else:
                age += 1
            total += misfit[y, pot] if np.isfinite(misfit[y, pot]) else 100.0
        if legal:
            best = min(best, total)
    return best


@settings(max_examples=examples(120), deadline=None)
@given(st.integers(1, 5), st.integers(1, 4), st.integers(1, 3), st.integers(0, 2**32 - 1))
def test_no_run_of_pots_is_cheaper(years: int, pots: int, least: int, seed: int) -> None:
    r = np.random.default_rng(seed)
    misfit = r.uniform(0, 90, (years, pots)).round(1)
    misfit[r.uniform(size=misfit.shape) < 0.15] = np.inf
    price = np.where(r.uniform(size=pots) < 0.5, 0.0, r.uniform(1, 40, pots).round(1))
    start, since = int(r.integers(-1, pots)), int(r.integers(0, 4))
    want = cheapest(misfit, price, start, since, least)
    if not np.isfinite(want):
        with pytest.raises(FieldError):
            pot_path(misfit, price, start, since, least)
        return
    found = pot_path(misfit, price, start, since, least)
    assert found.total == pytest.approx(want)
    assert found.total == pytest.approx(found.misfit + found.moving + found.price)
    assert all(b - a >= least for a, b in zip(found.moves, found.moves[1:], strict=False))


def test_order_of_trees_and_pots_changes_nothing_in_the_total() -> None:
    r = np.random.default_rng(3)
    cost, stay = r.uniform(0, 100, (3, 4)), r.uniform(30, 90, 3)
    windows, holds = [(0, 9), (5, 20), (12, 30)], [0, 1, 2]
    plain = share_pots(cost, stay, holds, windows).total
    for order in permutations(range(3)):
        rows = list(order)
        turned = share_pots(cost[rows], stay[rows], [holds[i] for i in rows], [windows[i] for i in rows])
        assert turned.total == pytest.approx(plain)
