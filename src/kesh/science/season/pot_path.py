"""Pots over the years for one tree: which to stand in each year, exactly, by dynamic programming (Bellman 1957)."""

from dataclasses import dataclass

import numpy as np

from kesh.base.errors import FieldError
from kesh.geometry.outline import Floats

MOVE_COST = 15.0
MOST_YEARS = 15
_State = tuple[int, int, frozenset[int]]
_Told = tuple[float, int, tuple[int, ...]]


@dataclass(frozen=True)
class PotPath:
    """`pots[y]` is the pot of year y, `moves` the years of a move, `total` the whole cost, `misfit`, `moving`, `price` its parts."""

    pots: tuple[int, ...]
    moves: tuple[int, ...]
    total: float
    misfit: float
    moving: float
    price: float


def pot_path(
    misfit: Floats, price: Floats, start: int, since_years: int, least_years: int, move_cost: float = MOVE_COST, price_weight: float = 1.0
) -> PotPath:  # fmt: skip
    """The cheapest run of pots. `misfit` (Y, P) per year, infinite where a pot does not do; `price` (P,) paid once, when first moved into.

    `start` is the pot stood in now, -1 for none (the first year then always moves); `since_years` how long ago it was
    last repotted. A move needs `least_years` since the one before. Where nothing at all is allowed in a year, staying
    is, at the cost of 100. Ties go to fewer moves, then to the pot that comes first. Raises FieldError.
    """
    years, pots = misfit.shape
    if not 1 <= years <= MOST_YEARS + 1:
        raise FieldError("years", f"{years} is outside 1 to {MOST_YEARS + 1}")
    if not -1 <= start < pots or (start < 0 and pots == 0):
        raise FieldError("start", f"there is no pot {start}")
    least = max(int(least_years), 1)
    bad = np.where(np.isfinite(misfit), misfit, 100.0)
    # state: the pot, years since the last move (capped at the least), and what was bought, which is not paid twice
    age = least if start < 0 else min(max(int(since_years), 0), least)
    best: dict[_State, _Told] = {(start, age, frozenset()): (0.0, 0, ())}
    for y in range(years):
        fresh: dict[_State, _Told] = {}
        for (pot, age, bought), (cost, count, path) in best.items():
            if pot >= 0:
                _keep(fresh, (pot, min(age + 1, least), bought), (cost + float(bad[y, pot]), count, (*path, pot)))
            if age < least and pot >= 0:
                continue
            for to in range(pots):
                if to == pot or not np.isfinite(misfit[y, to]):
                    continue
                paid = 0.0 if to == start or to in bought else price_weight * float(price[to])
                # the first pot of a tree that has none is no choice, so it costs nothing beyond its price
                value = cost + float(bad[y, to]) + (move_cost if pot >= 0 else 0.0) + paid
                _keep(fresh, (to, 1, bought | {to} if paid else bought), (value, count + 1, (*path, to)))
        if not fresh:
            raise FieldError("pots", "no pot does in the first year")
        best = fresh
    total, _, pots_by_year = min(best.values())
    changes = tuple(y for y in range(years) if pots_by_year[y] != (pots_by_year[y - 1] if y else start))
    new = {pots_by_year[y] for y in changes} - {start}
    worth = price_weight * sum(float(price[p]) for p in sorted(new))
    moving = move_cost * (len(changes) - (start < 0))
    return PotPath(
        pots_by_year, changes, total, float(sum(bad[y, p] for y, p in enumerate(pots_by_year))), moving, worth
    )


def _keep(found: dict[_State, _Told], key: _State, told: _Told) -> None:
    if key not in found or told < found[key]:
        found[key] = told
