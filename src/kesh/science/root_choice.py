"""The exact choice of what is done to each root: most points, then least loss, fewest cuts, lowest azimuth."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from scipy.optimize import Bounds, LinearConstraint, milp

NEAR = 1e-9
# up to so many roots with faults branch and bound is quick
MOST_BY_HAND = 11


@dataclass(frozen=True)
class Offer:
    """One thing that may be done to a root: its points, its loss of feeders, and whether the root still holds there."""

    action: Literal["shorten", "remove"]
    points: float
    loss: float
    leaves: bool


def choose(
    azimuths_deg: Sequence[float], live: Sequence[bool], offers: Sequence[Sequence[Offer]], spare: float, most_gap_deg: float
) -> list[int | None]:  # fmt: skip
    """Which offer is taken for each root, None for keeping it. Roots come in order of azimuth.

    The losses together stay within `spare`, and from each live root that stays another is found clockwise within
    `most_gap_deg`. Exact, for at most 30 roots: branch and bound with the bound of the fractional knapsack, or an integer
    program where there are many faults.
    """
    if sum(bool(o) for o in offers) > MOST_BY_HAND:
        found = _by_program(azimuths_deg, live, offers, spare, most_gap_deg)
        if found is not None:
            return found
    return _Search(azimuths_deg, live, offers, spare, most_gap_deg).best()


def _by_program(
    azimuths_deg: Sequence[float], live: Sequence[bool], offers: Sequence[Sequence[Offer]], spare: float, most_gap_deg: float
) -> list[int | None] | None:  # fmt: skip
    """The same by an integer program, for maps with so many faults that branches would be too many; None if it fails."""
    columns = [(i, k) for i, several in enumerate(offers) for k in range(len(several))]
    told = [offers[i][k] for i, k in columns]
    azimuth = np.array([azimuths_deg[i] for i, _ in columns])
    loss = np.array([o.loss for o in told])
    # the later wishes weigh so little that they only decide between what is else alike
    worth = np.array([o.points for o in told]) - 1e-4 * loss - 1e-6 - 1e-9 * azimuth / 360
    once = np.array([[float(i == n) for i, _ in columns] for n in range(len(offers))])
    gone = np.array(
        [[float(i == n and not o.leaves) for (i, _), o in zip(columns, told, strict=True)] for n in range(len(offers))]
    )
    rows = []
    for n, a in enumerate(azimuths_deg):
        if live[n] and most_gap_deg < 360:
            near = [m for m, b in enumerate(azimuths_deg) if live[m] and 0 < (b - a) % 360 <= most_gap_deg + 1e-6]
            # a root that stays has one near it that stays
            rows.append((gone[near].sum(axis=0) - gone[n], len(near) - 1.0))
    if rows:
        # where all went there would be no gap to speak of, and no tree
        rows.append((gone[[n for n, lives in enumerate(live) if lives]].sum(axis=0), sum(live) - 1.0))
    held = [LinearConstraint(once, -np.inf, 1), LinearConstraint(loss[None], -np.inf, spare + NEAR)]
    if rows:
        held.append(LinearConstraint(np.array([r for r, _ in rows]), -np.inf, np.array([most for _, most in rows])))
    # presolving now and then writes a line of its own to the output, which a report as JSON would not survive
    found = milp(-worth, constraints=held, integrality=np.ones(len(columns), int), bounds=Bounds(0, 1),
                 options={"mip_rel_gap": 0.0, "time_limit": 5.0, "presolve": False})  # fmt: skip
    if found.x is None:
        return None
    chosen: list[int | None] = [None] * len(offers)
    for (i, k), value in zip(columns, found.x, strict=True):
        if value > 0.5:
            chosen[i] = k
    return chosen


class _Search:
    def __init__(
        self, azimuths_deg: Sequence[float], live: Sequence[bool], offers: Sequence[Sequence[Offer]], spare: float,
        most_gap_deg: float,
    ) -> None:  # fmt: skip
        self._azimuths, self._live, self._offers = azimuths_deg, live, offers
        self._spare, self._gap = spare + NEAR, most_gap_deg + 1e-6
        # those with most to win first, so that a good plan is found early
        self._turn = sorted((i for i, o in enumerate(offers) if o), key=lambda i: -max(o.points for o in offers[i]))
        self._rest = [self._steps(self._turn[n:]) for n in range(len(self._turn) + 1)]
        self._taken: list[int | None] = [None] * len(offers)
        self._key: tuple[float, float, float, float] | None = None
        self._found: list[int | None] = [None] * len(offers)

    def best(self) -> list[int | None]:
        """The best choice; keeping all is always one."""
        self._go(0, 0.0, 0.0)
        return self._found

    def _steps(self, roots: Sequence[int]) -> list[tuple[float, float]]:
        """(points, loss) of the upper hull of each root's offers, best value first: what a fractional knapsack takes."""
        steps = []
        for i in roots:
            points = loss = 0.0
            rest = sorted(self._offers[i], key=lambda o: (o.loss, -o.points))
            while rest:
                best = max(rest, key=lambda o: (o.points - points) / max(o.loss - loss, NEAR))
                if best.points <= points + NEAR:
                    break
                steps.append((best.points - points, max(best.loss - loss, 0.0)))
                points, loss = best.points, best.loss
                rest = [o for o in rest if o.loss > loss + NEAR and o.points > points + NEAR]
        return sorted(steps, key=lambda s: -s[0] / max(s[1], NEAR))

    def _most(self, nth: int, spare: float) -> float:
        """More points than this cannot be had from the roots that are left."""
        found = 0.0
        for points, loss in self._rest[nth]:
            if loss <= spare:
                found, spare = found + points, spare - loss
            else:
                return found + (points * spare / loss if loss > 0 else 0.0)
        return found

    def _go(self, nth: int, points: float, loss: float) -> None:
        if self._key is not None and points + self._most(nth, self._spare - loss) < self._key[0] - NEAR:
            return
        if nth == len(self._turn):
            self._keep(points, loss)
            return
        i = self._turn[nth]
        for k, offer in sorted(enumerate(self._offers[i]), key=lambda o: -o[1].points):
            if loss + offer.loss <= self._spare:
                self._taken[i] = k
                self._go(nth + 1, points + offer.points, loss + offer.loss)
                self._taken[i] = None
        self._go(nth + 1, points, loss)

    def _keep(self, points: float, loss: float) -> None:
        cuts = [i for i, k in enumerate(self._taken) if k is not None]
        key = (points, -loss, -float(len(cuts)), -sum(self._azimuths[i] for i in cuts))
        if self._key is not None and not _larger(key, self._key):
            return
        if self._holds():
            self._key, self._found = key, list(self._taken)

    def _holds(self) -> bool:
        """Whether each live root that stays has another that stays within the gap, clockwise."""
        stay = [
            a for i, a in enumerate(self._azimuths)
            if self._live[i] and (self._taken[i] is None or self._offers[i][self._taken[i] or 0].leaves)
        ]  # fmt: skip
        if not any(self._live):
            return True
        if len(stay) < 2:
            return self._gap >= 360
        stay.sort()
        return max(b - a for a, b in zip(stay, [*stay[1:], stay[0] + 360], strict=True)) <= self._gap


def _larger(one: tuple[float, ...], other: tuple[float, ...]) -> bool:
    """Whether a key comes before another, what is nearly equal taken as equal."""
    for a, b in zip(one, other, strict=True):
        if abs(a - b) > NEAR:
            return a > b
    return False
