"""Who gets which pot: the cheapest sharing out of pots among trees in which every pot is free when it is wanted.

Rectangular assignment (Crouse 2016, as SciPy solves it); where the chain of freed pots would ask for one before it is
there, the links at fault are forbidden in turn and the rest is solved again, best first, so that the answer stays the
cheapest one (Land and Doig 1960).
"""

import heapq
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from kesh.base.errors import FieldError
from kesh.geometry.outline import Floats

NEVER = 1e9
MOST_BRANCHES = 4000
# no window known: any day
ANY_FIRST, ANY_LAST = -(10**6), 10**6


@dataclass(frozen=True)
class Shared:
    """`pot_of[i]` is the column of tree i, or -1 where it stays; `days` the earliest day of each move; `total` its cost."""

    pot_of: tuple[int, ...]
    days: tuple[int | None, ...]
    total: float


def share_pots(
    cost: Floats, stay: Floats, holds: Sequence[int], windows: Sequence[tuple[int, int]],
    tick: Callable[[float], None] | None = None,
) -> Shared:  # fmt: skip
    """Share C pots among N trees. `cost` (N, C), infinite for no; `stay` (N,) the cost of staying; `holds[i]` the column of
    the pot that tree i stands in, -1 for none or one that is no column; `windows[i]` first and last day of its work.

    A pot in which a tree stands is only for another that can be worked on the day it is left or later. Pots are used
    once; each tree stays or moves. Raises FieldError where the shapes do not agree.
    """
    from scipy.optimize import linear_sum_assignment

    n = len(cost)
    if len(stay) != n or len(holds) != n or len(windows) != n:
        raise FieldError("cost", "trees, stays and windows must be as many")
    # staying is the column of the own pot, so that nobody else gets it meanwhile; without one it is a column of its own
    homeless = [i for i in range(n) if holds[i] < 0]
    own = np.full((n, len(homeless)), NEVER)
    table = np.where(np.isfinite(cost), cost, NEVER)
    for i in range(n):
        if holds[i] >= 0:
            table[i, holds[i]] = stay[i]
        else:
            own[i, homeless.index(i)] = stay[i]
    table = np.hstack([table, own])
    for i, (first, _) in enumerate(windows):
        if holds[i] < 0:
            continue
        # the one that frees a pot begins before the one that takes it ends
        for j in range(n):
            if j != i and windows[j][1] < first:
                table[j, holds[i]] = NEVER
    owner = {col: i for i, col in enumerate(holds) if col >= 0}
    rows, cols = linear_sum_assignment(table)
    heap: list[tuple[float, int, tuple[tuple[int, int], ...], tuple[int, ...]]] = []
    heapq.heappush(heap, (float(table[rows, cols].sum()), 0, (), tuple(int(x) for x in cols)))
    tried = 0
    while heap:
        _, _, banned, picked = heapq.heappop(heap)
        _, broken = _chain_days(picked, holds, owner, windows)
        if not broken or tried > MOST_BRANCHES:
            return _told(table, _unbroken(table, picked, holds, owner, windows), holds, owner, windows)
        for link in broken:
            tried += 1
            if tick is not None:
                tick(min(tried / MOST_BRANCHES, 1.0))
            trial = table.copy()
            for i, col in (*banned, link):
                trial[i, col] = NEVER
            _, again = linear_sum_assignment(trial)
            value = float(trial[np.arange(n), again].sum())
            heapq.heappush(heap, (value, tried, (*banned, link), tuple(int(x) for x in again)))
    raise AssertionError("staying is always allowed")


def _moves(picked: Sequence[int], holds: Sequence[int], columns: int) -> list[int]:
    """Trees that move to another pot."""
    return [i for i, col in enumerate(picked) if col != holds[i] and col < columns]


def _chain_days(
    picked: Sequence[int], holds: Sequence[int], owner: dict[int, int], windows: Sequence[tuple[int, int]]
) -> tuple[dict[int, int], list[tuple[int, int]]]:
    """(earliest day of each move, the links of the first chain that cannot be kept). A ring of pots is done on one day."""
    gives = {i: owner[col] for i, col in enumerate(picked) if col in owner and owner[col] != i}
    days: dict[int, int] = {}
    for start in range(len(picked)):
        chain, at = [start], start
        while at in gives and gives[at] not in chain:
            at = gives[at]
            chain.append(at)
        if at in gives and gives[at] == start:
            first, last = max(windows[i][0] for i in chain), min(windows[i][1] for i in chain)
            if first > last:
                return {}, [(i, picked[i]) for i in chain]
            days[start] = first
    for start in range(len(picked)):
        if start in days:
            continue
        chain, at = [start], start
        while at in gives and gives[at] not in days and gives[at] not in chain:
            at = gives[at]
            chain.append(at)
        free = days[gives[at]] if at in gives and gives[at] in days else ANY_FIRST
        for i in reversed(chain):
            day = max(windows[i][0], free)
            if day > windows[i][1]:
                # at fault are the links up to the nearest tree whose pot is not free in time
                fault, on = [], i
                while windows[on][0] <= windows[i][1]:
                    fault.append((on, picked[on]))
                    on = gives[on]
                return {}, fault
            days[i] = free = day
    return days, []


def _unbroken(
    table: Floats, picked: Sequence[int], holds: Sequence[int], owner: dict[int, int], windows: Sequence[tuple[int, int]]
) -> tuple[int, ...]:  # fmt: skip
    """What was picked; where the search was cut short, without the chains that cannot be kept."""
    from scipy.optimize import linear_sum_assignment

    now, trial = tuple(picked), table.copy()
    while True:
        _, broken = _chain_days(now, holds, owner, windows)
        if not broken:
            return now
        trial[broken[0]] = NEVER
        now = tuple(int(x) for x in linear_sum_assignment(trial)[1])


def _told(
    table: Floats, picked: Sequence[int], holds: Sequence[int], owner: dict[int, int], windows: Sequence[tuple[int, int]]
) -> Shared:  # fmt: skip
    n = len(picked)
    columns = table.shape[1] - sum(1 for h in holds if h < 0)
    days, _ = _chain_days(picked, holds, owner, windows)
    moved = set(_moves(picked, holds, columns))
    return Shared(
        tuple(picked[i] if i in moved else -1 for i in range(n)),
        tuple((days.get(i) if days.get(i) != ANY_FIRST else None) if i in moved else None for i in range(n)),
        float(table[np.arange(n), list(picked)].sum()),
    )
