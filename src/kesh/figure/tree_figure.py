"""A tree grown from its measures as plain data in mm: x right, y up from the soil, z toward the viewer."""

import hashlib
from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from kesh.figure.foliage import Mass, Tufts, crown_limbs, crown_masses, joined, limb_line, pad_masses, scatter
from kesh.figure.grove import sitter
from kesh.figure.habit import TRUNK_STATION, LimbPlan, Sitter, limb_plans, trunk_controls
from kesh.figure.line import GENERATOR_VERSION, Chance, relaxed, smooth_line
from kesh.figure.rosette import ROSETTES, leaves, rosettes
from kesh.figure.wood import Wood
from kesh.geometry.outline import Floats
from kesh.model.tree import Tree
from kesh.reference.tables import Species

MULTI = {"twin_trunk": 2, "clump": 5, "forest": 7, "raft": 5, "multi_trunk": 3}


@dataclass(frozen=True)
class TreeFigure:
    """What is drawn, without paint."""

    sitter: Sitter
    wood: tuple[Wood, ...]
    masses: tuple[Mass, ...]
    tufts: Tufts
    digest: str

    @property
    def bounds(self) -> tuple[float, float, float, float]:
        """Left, right, bottom, top of what is inked, mm."""
        t = self.tufts
        edges = [w.ring for w in self.wood]
        xs = np.concatenate([t.x - t.over_x, t.x + t.over_x, *(e[:, 0] for e in edges)])
        ys = np.concatenate([t.y - t.over_y, t.y + t.over_y, *(e[:, 1] for e in edges)])
        return float(xs.min()), float(xs.max()), float(min(ys.min(), 0.0)), float(ys.max())

    @property
    def rings(self) -> tuple[Floats, ...]:
        """Outlines of all leaf masses and wood, counter-clockwise: rings of both turns would cancel where they overlap."""
        found = [m.ring for m in self.masses] + [w.ring for w in self.wood]
        return tuple(ring if _signed_area(ring) >= 0 else ring[::-1] for ring in found)

    @property
    def crown(self) -> tuple[float, float, float, float]:
        """Left, right, bottom, top of the inked leaves, mm."""
        t = self.tufts
        return (
            float((t.x - t.over_x).min()), float((t.x + t.over_x).max()),
            float((t.y - t.over_y).min()), float((t.y + t.over_y).max()),
        )  # fmt: skip


def _signed_area(ring: Floats) -> float:
    x, y = ring[:, 0], ring[:, 1]
    return float(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1))) / 2


def trunk_radius(s: Sitter, line: Floats) -> Floats:
    """Radii along the trunk; 2 r = trunk diameter at its place and base width at the soil (two linear equations)."""
    along = np.concatenate([[0], np.cumsum(np.linalg.norm(np.diff(line[:, :2], axis=0), axis=1))])
    share = along / along[-1]
    p, q = {"broom": (0.55, 0.35), "literati": (0.75, 0.12)}.get(s.style, (1.0 if s.pads else 1.12, 0.07))
    if s.hanging:
        p, q = 1.35, 0.09
    law = (1 - q) * (1 - share) ** p + q
    flare = _flare(s, share)
    at = int(np.argmin(np.abs(line[: len(line) // 2, 1] - TRUNK_STATION * s.height)))
    # body + foot = base / 2 at the soil, law (body + foot flare) = trunk / 2 at its place
    away = 1.0 - float(flare[at])
    foot = (s.base / 2 - s.trunk / 2 / float(law[at])) / away if away > 1e-6 else 0.0
    body = s.base / 2 - foot
    if body <= 0:
        body, foot = s.base / 2, 0.0
    return np.asarray(law * (body + foot * flare))


def _flare(s: Sitter, share: Floats) -> Floats:
    """How the foot widens over the trunk's length, 1 at the soil: a short plain flare, a long fluted one, or a bottle."""
    if s.hanging:
        return np.asarray(np.exp(-share / 0.03))
    if s.foot == "swollen":
        return np.asarray(np.exp(-((share / 0.075) ** 2)))
    return np.asarray(np.exp(-share / (0.07 if s.foot == "fluted" else 0.045)))


def _trunk(s: Sitter, name: str = "trunk", index: int = 0) -> Wood:
    chance = Chance(s.seed, name, index)
    line = smooth_line(trunk_controls(s, chance), 110)
    for _ in range(3):
        line = relaxed(line, trunk_radius(s, line))
    return Wood("trunk", line, trunk_radius(s, line))


def _surface_roots(s: Sitter) -> list[Wood]:
    chance = Chance(s.seed, "surface roots")
    roots = []
    for i in range(9):
        turn = 2 * np.pi * (i + chance.uniform(-0.22, 0.22)) / 9
        across, toward = np.cos(turn), -np.sin(turn)
        if toward < -0.45:
            continue
        out = s.base / 2 * chance.uniform(1.10, 1.45)
        t = np.linspace(0, 1, 14)
        start = 0.10 * s.base
        x = across * (start + (out - start) * t)
        rise, shape = chance.uniform(0.24, 0.42), 0.085 * (1 - t) ** 0.8
        if s.foot == "fluted":
            # buttresses: ribs that swell out of the trunk, far up, before they are roots
            rise = rise * 3.4
            shape = 0.115 * np.sin(np.pi * (0.04 + 0.92 * t)) ** 0.9 - 0.02 * (1 - t)
        elif s.foot == "swollen":
            rise = rise * 0.6
        y = s.trunk * rise * (1 - t) ** 1.7 - 0.04 * s.trunk * t
        x = x + chance.uniform(-0.03, 0.03) * s.base * np.sin(np.pi * t)
        z = toward * out * t
        radius = shape * s.trunk + 0.022 * s.trunk
        roots.append(Wood("root", np.column_stack([x, y, z]), radius))
    return sorted(roots, key=lambda r: r.depth)


def _limb(s: Sitter, trunk: Wood, plan: LimbPlan, index: int) -> Wood:
    chance = Chance(s.seed, "limb", index)
    i = int(plan.at * (len(trunk.line) - 1))
    foot, thick = trunk.line[i], float(trunk.radius[i])
    line = limb_line(foot, plan, s.height, thick, chance, rising=not s.pads)
    t = np.linspace(0, 1, len(line))
    start = min(0.5 * thick, (0.40 if s.pads else 0.48) * thick * (0.7 + 0.5 * plan.reach / max(s.left, s.right)))
    start = max(start, 0.004 * s.height)
    radius = start * ((1 - t) ** 0.8 * 0.85 + 0.15)
    radius[:4] *= np.array([1.75, 1.45, 1.22, 1.08])
    return Wood("limb", line, np.minimum(radius, 0.95 * thick), index)


def _single(s: Sitter, trunk_index: int = 0) -> tuple[list[Wood], list[Mass]]:
    trunk = _trunk(s, index=trunk_index)
    if s.foliage in ROSETTES:
        arms, stem, heads = rosettes(s, trunk)
        return [*arms, stem, *_surface_roots(s)], heads
    if s.pads or s.hanging or s.style in ("literati", "windswept"):
        plans = limb_plans(s, trunk.line, Chance(s.seed, "plan", trunk_index))
        limbs = [_limb(s, trunk, plan, i) for i, plan in enumerate(plans)]
        masses = pad_masses(s, trunk, limbs, plans)
    else:
        masses = crown_masses(s, trunk)
        limbs = []
        for i, (line, thick, _) in enumerate(crown_limbs(s, trunk, masses)):
            t = np.linspace(0, 1, len(line))
            radius = max(thick, 0.003 * s.height) * ((1 - t) ** 0.9 * 0.88 + 0.12)
            limbs.append(Wood("limb", line, radius, i))
    wood = [*limbs, trunk]
    if s.style != "forest":
        wood += _surface_roots(s)
    return wood, masses


def _many(s: Sitter, count: int) -> tuple[list[Wood], list[Mass]]:
    """Several trunks under one crown: the first keeps the measures, the others stand beside it, thinner and lower."""
    chance = Chance(s.seed, "grove")
    spread = s.left + s.right
    close = s.style in ("clump", "twin_trunk", "multi_trunk")
    wood: list[Wood] = []
    masses: list[Mass] = []
    lone = replace(s, style="informal_upright" if s.style in ("twin_trunk", "multi_trunk") else "formal_upright")
    slots = sorted(np.linspace(-0.5, 0.5, count), key=lambda v: abs(v + 0.14))
    middle = (s.right - s.left) / 2 * (0.0 if close else 1.0)
    for i, slot in enumerate(slots):
        first = i == 0
        away = float(slot + (0.0 if first else chance.uniform(-0.05, 0.05)))
        x = (
            0.0
            if first and close
            else middle + (away if not close else away - slots[0]) * spread * (0.22 if close else 0.62)
        )
        if s.style == "twin_trunk" and not first:
            x = 0.72 * s.base * -s.flow
        size = 1.0 if first else float(np.clip(1 - 0.62 * abs(away - slots[0]) - chance.uniform(0.04, 0.14), 0.5, 0.92))
        if s.style == "twin_trunk" and not first:
            size = 0.66
        if close:
            left, right = (s.left + x) * (1.0 if first else 0.75), (s.right - x) * (1.0 if first else 0.75)
        else:
            left, right = (
                (min(s.left + x, 0.24 * spread), min(s.right - x, 0.24 * spread))
                if first
                else (min(s.left + x, 0.15 * spread), min(s.right - x, 0.15 * spread))
            )
        lean = 0.0 if first else (0.55 if close else 0.12) * x + chance.uniform(-0.02, 0.02) * s.height
        part = replace(
            lone, height=s.height * size, trunk=s.trunk * size,
            base=max(s.base * size * (0.75 if count > 3 else 1.0), 1.05 * s.trunk * size), left=max(left, 0.06 * s.height), right=max(right, 0.06 * s.height),
            crown_base=min(s.crown_base * (1.0 if first else chance.uniform(0.95, 1.25)), 0.55 * s.height * size), apex=s.apex * (1 if first else 0.0) + lean,
            seed=s.seed * 31 + i, flow=1 if x >= 0 else -1,
        )  # fmt: skip
        w, m = _single(part, i)
        if abs(part.apex) > 1 and part.style == "formal_upright":
            w = [
                replace(
                    p,
                    line=p.line
                    + np.column_stack(
                        [part.apex * np.clip(p.line[:, 1] / part.height, 0, 1) ** 1.2, np.zeros((len(p.line), 2))]
                    ),
                )
                for p in w
            ]
            m = [
                replace(
                    q,
                    ring=q.ring
                    + np.column_stack(
                        [part.apex * np.clip(q.ring[:, 1] / part.height, 0, 1) ** 1.2, np.zeros(len(q.ring))]
                    ),
                )
                for q in m
            ]
        z = 0.0 if first else chance.uniform(-0.24, 0.10) * s.height
        shift = np.array([x, 0.0, z])
        wood += [
            replace(piece, line=piece.line + shift, limb=piece.limb + 1000 * i if piece.limb >= 0 else -1, group=i)
            for piece in w
        ]
        masses += [replace(mass.moved(shift), group=i) for mass in m]
    return wood, masses


def _maps(s: Sitter, wood: list[Wood], masses: list[Mass], tufts: Tufts) -> tuple[list[Wood], list[Mass], Tufts]:
    """Move everything so that what is inked meets the measures: apex, heights, then reaches on each side."""
    trunk = next(piece for piece in wood if piece.kind == "trunk")
    if not len(tufts.x):
        return wood, masses, tufts
    if not s.hanging:
        top = int(np.argmax(tufts.y + tufts.over_y))
        miss = s.apex - (trunk.line[-1, 0] if s.style not in MULTI else tufts.x[top])
        if s.style in MULTI or s.style in ("broom", "clump"):
            miss = 0.0

        def shear(x: Floats, y: Floats) -> Floats:
            u = np.clip(y / s.height, 0, 1)
            return np.asarray(x + miss * u * u * (3 - 2 * u))

        wood, masses, tufts = _apply(wood, masses, tufts, lambda x, y: (shear(x, y), y))
    for _ in range(3):
        high = tufts.y + tufts.over_y
        low = tufts.y - tufts.over_y
        i, j = int(np.argmax(high)), int(np.argmin(low))
        want_high, want_low = s.height - tufts.over_y[i], (-s.drop if s.hanging else s.crown_base) + tufts.over_y[j]
        have_high, have_low = tufts.y[i], tufts.y[j]
        if s.hanging:
            knots = np.array([have_low, 0.0, max(have_high, 1.0)]), np.array([want_low, 0.0, want_high])
        else:
            knots = (
                np.array([-1e4, 0.0, max(have_low, 1.0), max(have_high, have_low + 2.0)]),
                np.array([-1e4, 0.0, max(want_low, 1.0), max(want_high, want_low + 2.0)]),
            )

        def lift(x: Floats, y: Floats, knots: tuple[Floats, Floats] = knots) -> tuple[Floats, Floats]:
            return x, np.interp(y, *knots) + np.maximum(y - knots[0][-1], 0)

        wood, masses, tufts = _apply(wood, masses, tufts, lift)
        trunk = next(piece for piece in wood if piece.kind == "trunk")
        for side, want in ((1, s.right), (-1, s.left)):
            if s.style == "windswept" and side != s.flow:
                continue
            stem = _stem(s, trunk)
            out = side * (tufts.x - stem(tufts.y))
            k = _stretch(out, side * stem(tufts.y) + tufts.over_x, want)

            def widen(
                x: Floats, y: Floats, side: int = side, k: float = k, stem: Callable[[Floats], Floats] = stem
            ) -> tuple[Floats, Floats]:
                away = side * (x - stem(y))
                near = max(0.5 * s.trunk, 1e-9)
                blend = np.clip((away - near) / near, 0, 1)
                return np.where(away > 0, x + side * away * (k - 1) * blend, x), y

            wood, masses, tufts = _apply(wood, masses, tufts, widen)
    return wood, masses, tufts


def _stem(s: Sitter, trunk: Wood) -> Callable[[Floats], Floats]:
    """The trunk's x at a height; hanging and many-trunked trees stretch about the foot."""
    if s.hanging or s.style in MULTI:
        return np.zeros_like
    order = np.argsort(trunk.line[:, 1])
    return lambda y: np.interp(y, trunk.line[order, 1], trunk.line[order, 0])


def _stretch(out: Floats, over: Floats, want: float) -> float:
    low, high = 0.05, 6.0
    if not np.any(out > 0):
        return 1.0
    for _ in range(40):
        k = (low + high) / 2
        low, high = (k, high) if float(np.max(k * out + over)) < want else (low, k)
    # more than this would smear the leaves; the wood then carries the rest of the reach
    return float(np.clip((low + high) / 2, 0.45, 1.9))


Moved = tuple[list[Wood], list[Mass], Tufts]


def _apply(
    wood: list[Wood], masses: list[Mass], tufts: Tufts, move: Callable[[Floats, Floats], tuple[Floats, Floats]]
) -> Moved:
    """Everything moved in the picture in one go; surface roots stay."""
    free = [i for i, piece in enumerate(wood) if piece.kind != "root"]
    lines, rings = [wood[i].line for i in free], [mass.ring for mass in masses]
    parts = [line[:, :2] for line in lines] + rings + [np.column_stack([tufts.x, tufts.y])]
    every = np.concatenate(parts)
    x, y = move(every[:, 0], every[:, 1])
    moved = np.split(np.column_stack([x, y]), np.cumsum([len(p) for p in parts])[:-1])
    pieces = list(wood)
    for i, points, line in zip(free, moved, lines, strict=False):
        pieces[i] = replace(wood[i], line=np.column_stack([points, line[:, 2]]))
    shaped = [replace(mass, ring=ring) for mass, ring in zip(masses, moved[len(lines) : -1], strict=True)]
    return pieces, shaped, replace(tufts, x=moved[-1][:, 0], y=moved[-1][:, 1])


@lru_cache(maxsize=256)
def grow(s: Sitter) -> TreeFigure:
    """Grow a drawing from measures. The same sitter gives the same figure, in every process."""
    if s.stems:
        return _grove(s)
    count = MULTI.get(s.style, 1)
    wood, masses = _many(s, count) if count > 1 else _single(s)
    masses.sort(key=lambda m: m.z)
    if s.foliage in ROSETTES and count == 1:
        # heads are made to the measures: nothing is stretched to them
        return _finished(s, wood, masses, leaves(s, masses))
    tufts = leaves(s, masses) if s.foliage in ROSETTES else scatter(s, masses)
    wood, masses, tufts = _maps(s, wood, masses, tufts)
    if count == 1:
        wood = [replace(w, radius=trunk_radius(s, w.line)) if w.kind == "trunk" else w for w in wood]
    return _finished(s, wood, masses, tufts)


def _finished(s: Sitter, wood: list[Wood], masses: list[Mass], tufts: Tufts) -> TreeFigure:
    parts = [np.round(w.line, 2) for w in wood] + [np.round(np.column_stack([tufts.x, tufts.y]), 2)]
    digest = hashlib.sha256(
        b"".join(np.ascontiguousarray(p).tobytes() for p in parts) + bytes([GENERATOR_VERSION])
    ).hexdigest()
    return TreeFigure(s, tuple(wood), tuple(masses), tufts, digest)


def _grove(s: Sitter) -> TreeFigure:
    """The trees of a group where they stand, each grown by itself; z says how far behind the foremost it is."""
    wood: list[Wood] = []
    masses: list[Mass] = []
    tufts: list[Tufts] = []
    for group, (x, behind, rise, own) in enumerate(s.stems):
        figure, shift = grow(own), np.array([x, rise, -behind])
        first = len(masses)
        wood += [
            replace(
                piece, line=piece.line + shift, limb=piece.limb + 1000 * group if piece.limb >= 0 else -1, group=group
            )
            for piece in figure.wood
        ]
        masses += [
            replace(m.moved(shift), group=group, limb=m.limb + 1000 * group if m.limb >= 0 else -1)
            for m in figure.masses
        ]
        tufts.append(figure.tufts.moved(x, rise, first))
    return _finished(s, wood, masses, joined(tufts))


def figure_of(tree: Tree, species: Species | None) -> TreeFigure | None:
    """The drawn tree, or None when its height is not known."""
    found = sitter(tree, species)
    return grow(found) if found else None
