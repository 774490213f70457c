"""What is wrong with a plan, by name, and the one move that mends most (docs/methods.md, "groups")."""

from dataclasses import dataclass
from itertools import combinations

import numpy as np

from kesh.geometry.outline import Floats
from kesh.science.group.layout import FLAT, Open, Trunks, flatness, layout_parts, linked, total, worst_part
from kesh.science.group.tray import Tray

MOST_MM = 40.0
SCAN_MM = 4.0
COARSE_SHARE = 0.04
LEAST_GAIN = 0.05


@dataclass(frozen=True)
class FlatTriple:
    """Three trees that stand nearly in one line: the middle one, how far it stands off the line of the others, and what is asked."""

    ids: tuple[str, str, str]
    rows: tuple[int, int, int]
    middle: str
    off_mm: float
    asked_mm: float


@dataclass(frozen=True)
class Mend:
    """The single move that raises the check most."""

    id: str
    dx_mm: float
    dy_mm: float
    score: float


@dataclass(frozen=True, eq=False)
class LayoutCheck:
    """The layout check of one plan with all that it names."""

    score: float
    parts: dict[str, float]
    fits: bool
    worst: str
    in_line: tuple[FlatTriple, ...]
    hidden: tuple[tuple[int, int], ...]
    void_mm: tuple[float, float, float]
    groups: tuple[tuple[int, ...], ...]
    overlaps_mm: tuple[tuple[int, int, float], ...]
    outside_mm: tuple[tuple[int, float], ...]
    nearest_mm: Floats
    main_share: float


def flat_triples(x: Floats, y: Floats, ids: tuple[str, ...]) -> tuple[FlatTriple, ...]:
    """Every triple flatter than a twentieth of its length, the flattest first."""
    shares = flatness(x, y)
    found = []
    for share, rows in zip(shares, combinations(range(len(ids)), 3), strict=True):
        if share >= FLAT:
            continue
        sides = {
            c: float(np.hypot(x[a] - x[b], y[a] - y[b])) for a, b, c in (rows, rows[1:] + rows[:1], rows[2:] + rows[:2])
        }
        middle = max(sides, key=lambda c: sides[c])
        length = sides[middle]
        names = (ids[rows[0]], ids[rows[1]], ids[rows[2]])
        found.append((share, FlatTriple(names, rows, ids[middle], float(share) * length, FLAT * length)))
    return tuple(one for _, one in sorted(found, key=lambda pair: (pair[0], pair[1].rows)))


def check_layout(x: Floats, y: Floats, trunks: Trunks, tray: Tray, open_ground: Open | None = None) -> LayoutCheck:
    """The check of one plan x, y (n,) in mm from the tray's middle."""
    ground = open_ground or Open.of(tray)
    parts = {key: float(value) for key, value in layout_parts(x, y, trunks, tray, ground).items()}
    disc, d, n = trunks.disc_mm, trunks.diameter_mm, len(x)
    apart = np.hypot(x[:, None] - x, y[:, None] - y)
    nearest = np.where(np.eye(n, dtype=bool), np.inf, apart).min(axis=1)
    pairs = list(combinations(range(n), 2))
    overlaps = [(a, b, float(disc[a] + disc[b] - apart[a, b])) for a, b in pairs]
    out = disc - tray.inside_mm(x, y)
    radius, spot = ground.largest(x, y, disc)
    void = (float(ground.x_mm[spot]), float(ground.y_mm[spot]), float(radius)) if len(ground.x_mm) else (0.0, 0.0, 0.0)
    reach = linked(apart, nearest)
    groups = tuple(tuple(int(r) for r in np.flatnonzero(reach[k])) for k in range(n) if reach[k].argmax() == k)
    x0, x1, _, _ = tray.box
    return LayoutCheck(
        score=float(total({k: np.asarray(v) for k, v in parts.items()})), parts=parts,
        fits=not any(o > 1e-9 for *_, o in overlaps) and not bool(np.any(out > 1e-9)),
        worst=worst_part(parts), in_line=flat_triples(x, y, trunks.ids),
        hidden=tuple((a, b) for a, b in pairs if abs(x[a] - x[b]) < (d[a] + d[b]) / 2),
        void_mm=void, groups=groups, overlaps_mm=tuple(o for o in overlaps if o[2] > 1e-9),
        outside_mm=tuple((int(t), float(out[t])) for t in np.flatnonzero(out > 1e-9)),
        nearest_mm=nearest, main_share=float((x[trunks.main] - x0) / (x1 - x0)),
    )  # fmt: skip


def mend(x: Floats, y: Floats, trunks: Trunks, tray: Tray) -> Mend | None:
    """The single move (at most 40 mm along each axis) with the largest gain of the total; None where no move gains.

    Every free tree is tried on a grid of 4 mm with open ground looked for coarsely; the best three are looked at again,
    millimetre by millimetre, with all parts exact.
    """
    exact, coarse, rough = Open.of(tray), Open.of(tray, COARSE_SHARE).single(), tray.rough
    steps = np.arange(-MOST_MM, MOST_MM + SCAN_MM / 2, SCAN_MM)
    dx, dy = (g.ravel() for g in np.meshgrid(steps, steps))
    tries: list[tuple[float, int, float, float]] = []
    for t in np.flatnonzero(~trunks.fixed).tolist():
        px, py = _moved(x, y, t, dx, dy)
        marks = total(layout_parts(px, py, trunks, rough, coarse))
        for row in np.argsort(-marks, kind="stable")[:2]:
            tries.append((float(marks[row]), t, float(dx[row]), float(dy[row])))
    start = float(total(layout_parts(x, y, trunks, tray, exact)))
    found: Mend | None = None
    near = np.arange(-3.0, 4.0)
    fx, fy = (g.ravel() for g in np.meshgrid(near, near))
    for _, t, cx, cy in sorted(tries, key=lambda one: -one[0])[:4]:
        ax, ay = np.clip(cx + fx, -MOST_MM, MOST_MM), np.clip(cy + fy, -MOST_MM, MOST_MM)
        px, py = _moved(x, y, t, ax, ay)
        marks = total(layout_parts(px, py, trunks, tray, exact))
        best = int(np.lexsort((ax**2 + ay**2, -np.round(marks, 6)))[0])
        if marks[best] > (found.score if found else start + LEAST_GAIN):
            found = Mend(trunks.ids[t], float(ax[best]), float(ay[best]), float(marks[best]))
    return found


def _moved(x: Floats, y: Floats, t: int, dx: Floats, dy: Floats) -> tuple[Floats, Floats]:
    px, py = np.tile(x, (len(dx), 1)), np.tile(y, (len(dx), 1))
    px[:, t] += dx
    py[:, t] += dy
    return px, py
