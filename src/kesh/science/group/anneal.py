"""Lay a group out anew: simulated annealing on many seeded plans at once (docs/methods.md, "groups").

Forty random placings that obey "fits" are improved together; the field is halved twice; the best of distinct layouts are
polished with all parts exact. Fixed trees are never moved. The total is a check, so three proposals are made, not one.
"""

from dataclasses import dataclass

import numpy as np

from kesh.base.errors import FieldError
from kesh.base.progress import Progress
from kesh.geometry.outline import Floats
from kesh.science.group.layout import Open, Trunks, can_stand, crowding_mm, fits, layout_parts, total
from kesh.science.group.tray import Tray

STARTS = 40
DISTINCT_MM = 15.0
COARSE_SHARE = 0.05
MISFIT_COST, PATH_COST = 30.0, 0.5
# points a millimetre costs by which trunks themselves reach into each other or over the edge
CROWD_COST = 2.0


@dataclass(frozen=True, eq=False)
class Path:
    """A path that is kept free: its middle line (k, 2) and half its width, mm."""

    line: Floats
    half_mm: float

    def lack_mm(self, x: Floats, y: Floats, trunks: Trunks) -> Floats:
        """How far all trunks of plans (..., n) stand in it together, mm."""
        a, b = self.line[:-1], self.line[1:]
        along = b - a
        to_x, to_y = x[..., None] - a[:, 0], y[..., None] - a[:, 1]
        t = np.clip((to_x * along[:, 0] + to_y * along[:, 1]) / np.maximum((along**2).sum(axis=1), 1e-12), 0, 1)
        away = np.sqrt(((to_x - t * along[:, 0]) ** 2 + (to_y - t * along[:, 1]) ** 2).min(axis=-1))
        return np.asarray(
            np.maximum(0.0, self.half_mm + trunks.diameter_mm / 2 - away)[..., ~trunks.fixed].sum(axis=-1)
        )


@dataclass(frozen=True, eq=False)
class Layout:
    """One proposal: x, y (n,) mm from the tray's middle, and its exact layout check."""

    x_mm: Floats
    y_mm: Floats
    score: float
    fits: bool


def seeded_plans(
    trunks: Trunks, tray: Tray, x: Floats, y: Floats, count: int, chance: np.random.Generator
) -> tuple[Floats, Floats]:
    """Random placings (count, n): thick trees first, each where it meets no other and no edge as far as 60 tries find it."""
    disc, n = trunks.disc_mm, len(trunks.ids)
    x0, x1, y0, y1 = tray.box
    px, py = np.tile(x, (count, 1)), np.tile(y, (count, 1))
    placed = [t for t in range(n) if trunks.fixed[t]]
    for t in sorted((t for t in range(n) if not trunks.fixed[t]), key=lambda t: -disc[t]):
        cx, cy = chance.uniform(x0, x1, (count, 60)), chance.uniform(y0, y1, (count, 60))
        lack = np.maximum(0.0, disc[t] - tray.rough.inside_mm(cx, cy))
        for other in placed:
            away = np.hypot(cx - px[:, other, None], cy - py[:, other, None])
            lack = lack + np.maximum(0.0, disc[t] + disc[other] - away)
        best = lack.argmin(axis=1)
        rows = np.arange(count)
        px[:, t], py[:, t] = cx[rows, best], cy[rows, best]
        placed.append(t)
    return px, py


def _steps(n: int) -> int:
    """Rounds of the search: enough for the check to settle, and still under the time wanted for n trees."""
    return int(np.clip(1050 - 9 * n, 800, 1000))


def lay_out(
    trunks: Trunks,
    tray: Tray,
    x_mm: Floats,
    y_mm: Floats,
    *,
    count: int = 3,
    seed: int = 0,
    progress: Progress | None = None,
    path: Path | None = None,
) -> list[Layout]:
    """Up to `count` distinct layouts, best first; the same seed gives the same. x_mm, y_mm (n,) say where fixed trees stand.

    Trees that are not fixed keep out of `path`. Raises FieldError when every tree is fixed and when the trunks find no room in
    the tray, StoppedError when `progress` was asked to end.
    """
    free = np.flatnonzero(~trunks.fixed)
    if not len(free):
        raise FieldError("fixed", "every tree is fixed; let at least one go to lay the group out anew")
    chance = np.random.default_rng(seed)
    coarse, exact, rough = Open.of(tray, COARSE_SHARE).single(), Open.of(tray), tray.rough
    x0, x1, y0, y1 = tray.box
    x, y = seeded_plans(trunks, tray, x_mm, y_mm, max(STARTS, 2 * count), chance)

    def value(px: Floats, py: Floats) -> Floats:
        # the check alone may buy a little overlap with a better line: a proposal has to fit
        parts = layout_parts(px, py, trunks, rough, coarse)
        lack = 0.0 if path is None else PATH_COST * path.lack_mm(px, py, trunks)
        found = np.asarray(total(parts) - MISFIT_COST * (1 - parts["fit"]) - lack)
        # roots reach farther than trunks: where they have room trunks have
        tight = np.flatnonzero(parts["fit"] < 1)
        if len(tight):
            found[tight] -= CROWD_COST * crowding_mm(px[tight], py[tight], trunks, rough)
        return found

    now = value(x, y)
    steps, size = _steps(len(trunks.ids)), 0.25 * np.array([x1 - x0, y1 - y0])
    for step in range(steps):
        done = step / steps
        if progress is not None and step % 20 == 0:
            progress.at(0.9 * done)
        if step in (steps // 3, 2 * steps // 3):
            keep = np.argsort(-now, kind="stable")[: max(len(now) // 2, count)]
            x, y, now = x[keep], y[keep], now[keep]
        rows, many = np.arange(len(now)), len(now)
        heat, wide = 4.0 * (1 - done) ** 2 + 0.02, (1 - done) ** 1.5 + 0.03
        which = free[chance.integers(len(free), size=many)]
        px, py = x.copy(), y.copy()
        move = chance.normal(0.0, 1.0, (many, 2)) * size * wide
        px[rows, which] = np.clip(px[rows, which] + move[:, 0], x0, x1)
        py[rows, which] = np.clip(py[rows, which] + move[:, 1], y0, y1)
        other = free[chance.integers(len(free), size=many)]
        swap = np.flatnonzero(chance.random(many) < 0.15)
        for board, old in ((px, x), (py, y)):
            board[swap] = old[swap]
            board[swap, which[swap]], board[swap, other[swap]] = old[swap, other[swap]], old[swap, which[swap]]
        then = value(px, py)
        take = chance.random(many) < np.exp(np.clip((then - now) / heat, -50, 0))
        x[take], y[take], now[take] = px[take], py[take], then[take]
    found = _polished(trunks, tray, exact, x, y, count, chance, progress, path)
    standing = [one for one in found if can_stand(one.x_mm, one.y_mm, trunks, tray)]
    if not standing:
        raise FieldError(
            "group", f"{len(trunks.ids)} trunks do not find room in this tray; take a longer one, or put some beside it"
        )
    return standing


def _polished(
    trunks: Trunks,
    tray: Tray,
    exact: Open,
    x: Floats,
    y: Floats,
    count: int,
    chance: np.random.Generator,
    progress: Progress | None,
    path: Path | None,
) -> list[Layout]:
    """The best of distinct layouts with small moves that never lower the exact check."""
    scores = total(layout_parts(x, y, trunks, tray, exact)) - 100.0 * ~fits(x, y, trunks, tray)
    scores = scores - CROWD_COST * crowding_mm(x, y, trunks, tray)
    if path is not None:
        scores = scores - PATH_COST * path.lack_mm(x, y, trunks)
    chosen: list[int] = []
    for row in np.argsort(-scores, kind="stable"):
        if all(np.hypot(x[row] - x[c], y[row] - y[c]).mean() > DISTINCT_MM for c in chosen):
            chosen.append(int(row))
        if len(chosen) == count:
            break
    free = np.flatnonzero(~trunks.fixed)
    found: list[Layout] = []
    for k, row in enumerate(chosen):
        px, py = x[row].copy(), y[row].copy()
        best = float(total(layout_parts(px, py, trunks, tray, exact)))
        fit = bool(fits(px, py, trunks, tray))
        for turn in range(24):
            if progress is not None:
                progress.at(0.9 + 0.1 * (k + turn / 24) / len(chosen))
            # sixteen small moves are judged together, the best of them is kept
            tx, ty = np.tile(px, (16, 1)), np.tile(py, (16, 1))
            which, reach = free[chance.integers(len(free), size=16)], 8.0 * (1 - turn / 30)
            tx[np.arange(16), which] += chance.normal(0, reach, 16)
            ty[np.arange(16), which] += chance.normal(0, reach, 16)
            marks = total(layout_parts(tx, ty, trunks, tray, exact))
            ok = fits(tx, ty, trunks, tray)
            marks = np.where(ok | (not fit), marks + 100.0 * (ok & (not fit)), -1.0)
            apart = [np.hypot(tx - f.x_mm, ty - f.y_mm).mean(axis=1) > DISTINCT_MM for f in found]
            marks = np.where(np.all(apart, axis=0) if apart else True, marks, -1.0)
            if not fit:
                crowd = crowding_mm(tx, ty, trunks, tray)
                marks = np.where(crowd > crowding_mm(px, py, trunks, tray) + 1e-9, -1.0, marks)
            if path is not None:
                marks = np.where(path.lack_mm(tx, ty, trunks) > path.lack_mm(px, py, trunks) + 1e-9, -1.0, marks)
            top = int(marks.argmax())
            if marks[top] > best:
                px, py, fit = tx[top], ty[top], bool(ok[top])
                best = float(total(layout_parts(px, py, trunks, tray, exact)))
        found.append(Layout(px, py, best, fit))
    return sorted(found, key=lambda one: (not one.fits, -one.score))
