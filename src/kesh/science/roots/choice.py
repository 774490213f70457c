"""The exact choice of what is done to each root: most points, then least loss, fewest cuts, lowest azimuth."""

import contextlib
import ctypes
import os
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from threading import Lock
from typing import Literal

import numpy as np

NEAR = 1e-9
# so many branches take a quarter of a second; roots that are all alike ask for more, and an integer program is quicker
MOST_BRANCHES = 100_000
# the later wishes weigh so little that they only decide between what is else alike: a loss, a cut, an azimuth
BY_LOSS, BY_CUT, BY_AZIMUTH, ALIKE = 1e-7, 1e-9, 1e-12, 1e-13


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
    `most_gap_deg`. Exact, for at most 30 roots: branch and bound with the bound of the fractional knapsack; a branch ends
    where the roots that are off already leave too large a gap, for each further one only widens it. Where the branches are
    too many, an integer program.
    """
    search = _Search(azimuths_deg, live, offers, spare, most_gap_deg)
    try:
        return search.best()
    except _TooManyError:
        return _by_program(azimuths_deg, live, offers, spare, most_gap_deg) or search.found


class _TooManyError(Exception):
    """More branches than are worth following."""


_one_at_a_time = Lock()


@contextlib.contextmanager
def _silent() -> Iterator[None]:
    """The solver's library now and then writes a line of its own, which a report as JSON would not survive."""
    with _one_at_a_time, contextlib.ExitStack() as ends:
        try:
            kept = os.dup(1)
        except OSError:
            # there is no output that could be spoilt
            yield
            return
        ends.callback(os.close, kept)
        away = os.open(os.devnull, os.O_WRONLY)
        ends.callback(os.close, away)
        flush = ctypes.CDLL(None).fflush
        flush(None)
        os.dup2(away, 1)
        try:
            yield
        finally:
            flush(None)
            os.dup2(kept, 1)


def _by_program(
    azimuths_deg: Sequence[float], live: Sequence[bool], offers: Sequence[Sequence[Offer]], spare: float, most_gap_deg: float
) -> list[int | None] | None:  # fmt: skip
    """The same by an integer program; None if it fails."""
    from scipy.optimize import Bounds, LinearConstraint, milp

    columns = [(i, k) for i, several in enumerate(offers) for k in range(len(several))]
    told = [offers[i][k] for i, k in columns]
    azimuth = np.array([azimuths_deg[i] for i, _ in columns])
    loss = np.array([o.loss for o in told])
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
    with _silent():
        found = milp(-worth, constraints=held, integrality=np.ones(len(columns), int), bounds=Bounds(0, 1),
                     options={"mip_rel_gap": 0.0, "time_limit": 5.0})  # fmt: skip
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
        self._worth = [
            [o.points - BY_LOSS * o.loss - BY_CUT - BY_AZIMUTH * a / 360 for o in several]
            for a, several in zip(azimuths_deg, offers, strict=True)
        ]
        # those that bring most for what they cost first, so that a good plan is found early
        self._turn = sorted(
            (i for i, o in enumerate(offers) if o),
            key=lambda i: -max(w / max(o.loss, 1e-6) for w, o in zip(self._worth[i], offers[i], strict=True)),
        )
        self._rest = [self._steps(self._turn[n:]) for n in range(len(self._turn) + 1)]
        self._taken: list[int | None] = [None] * len(offers)
        self._most_worth, self._branches = -1.0, 0
        self.found: list[int | None] = [None] * len(offers)

    def best(self) -> list[int | None]:
        """The best choice; keeping all is always one. Raises _TooManyError."""
        self._go(0, 0.0, 0.0)
        return self.found

    def _steps(self, roots: Sequence[int]) -> list[tuple[float, float]]:
        """(worth, loss) of the upper hull of each root's offers, best value first: what a fractional knapsack takes."""
        steps = []
        for i in roots:
            worth = loss = 0.0
            rest = sorted(
                zip(self._worth[i], [o.loss for o in self._offers[i]], strict=True), key=lambda o: (o[1], -o[0])
            )
            while rest:
                best = max(rest, key=lambda o: (o[0] - worth) / max(o[1] - loss, NEAR))
                if best[0] <= worth + ALIKE:
                    break
                steps.append((best[0] - worth, max(best[1] - loss, 0.0)))
                worth, loss = best
                rest = [o for o in rest if o[1] > loss + NEAR and o[0] > worth]
        return sorted(steps, key=lambda s: -s[0] / max(s[1], NEAR))

    def _most(self, nth: int, spare: float) -> float:
        """More than this cannot be had from the roots that are left."""
        found = 0.0
        for worth, loss in self._rest[nth]:
            if loss <= spare:
                found, spare = found + worth, spare - loss
            else:
                return found + (worth * spare / loss if loss > 0 else 0.0)
        return found

    def _go(self, nth: int, worth: float, loss: float) -> None:
        self._branches += 1
        if self._branches > MOST_BRANCHES:
            raise _TooManyError
        if worth + self._most(nth, self._spare - loss) <= self._most_worth + ALIKE:
            return
        if nth == len(self._turn):
            self._most_worth, self.found = worth, list(self._taken)
            return
        i = self._turn[nth]
        for k in sorted(range(len(self._offers[i])), key=lambda n: -self._worth[i][n]):
            offer = self._offers[i][k]
            if loss + offer.loss > self._spare:
                continue
            self._taken[i] = k
            if offer.leaves or not self._live[i] or self._holds():
                self._go(nth + 1, worth + self._worth[i][k], loss + offer.loss)
            self._taken[i] = None
        self._go(nth + 1, worth, loss)

    def _holds(self) -> bool:
        """Whether each live root that stays has another that stays within the gap, clockwise."""
        stay = [
            a for i, a in enumerate(self._azimuths)
            if self._live[i] and (self._taken[i] is None or self._offers[i][self._taken[i] or 0].leaves)
        ]  # fmt: skip
        if len(stay) < 2:
            # where all went there would be no gap to speak of, and no tree
            return bool(stay) and self._gap >= 360
        stay.sort()
        return max(b - a for a, b in zip(stay, [*stay[1:], stay[0] + 360], strict=True)) <= self._gap
