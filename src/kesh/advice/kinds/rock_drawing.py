"""The drawing of roots over a rock: its outline with ways, moss and bindings from the front, its cuts from above."""

import numpy as np

from kesh.advice.kinds.plan import Setting
from kesh.figure.overlay import Area, Note, Point, Shape, Size, Stroke
from kesh.model import Rock, RockRoot
from kesh.science.special.rock import Reach, depth_at_mm, half_widths_mm, loop_mm, reach, way_mm


def reaches(rock: Rock) -> tuple[tuple[RockRoot, Reach | None], ...]:
    """Every root with whether it reaches the soil; None where its length is not known."""
    return tuple((r, None if r.length_mm is None else reach(r.points_mm, r.length_mm)) for r in rock.roots)


def base_mm(s: Setting, rock: Rock) -> float:
    """The rock's foot over the bench, mm."""
    return s.soil_mm - rock.sunk_mm


def placed(s: Setting, rock: Rock, points: tuple[Point, ...]) -> tuple[Point, ...]:
    """Points of the rock as they stand over the bench, mm."""
    low = base_mm(s, rock)
    return tuple((x + rock.x_mm, z + low) for x, z in points)


def rock_front(
    s: Setting, rock: Rock, ways: tuple[tuple[RockRoot, Reach | None], ...], moss: float, *, dims: bool
) -> tuple[Shape, ...]:
    """Rock, roots on it, moss from the foot up to a share of its height, bindings while there is moss, sizes."""
    low, top = base_mm(s, rock), max(z for _, z in rock.points_mm)
    shapes: list[Shape] = [Area(placed(s, rock, rock.points_mm), "rock")]
    thick = max((s.a.case.tree.measure.trunk_diameter_mm or 30.0) * 0.16, 3.0)
    for r, _ in ways:
        if not r.behind:
            shapes.append(Stroke(placed(s, rock, r.points_mm), "root", thick))
    if moss > 0:
        high = rock.sunk_mm + moss * 0.78 * (top - rock.sunk_mm)
        if not dims:
            shapes.append(Area(_band(s, rock, rock.sunk_mm, high), "moss"))
        for n, loop in enumerate(rock.loops):
            left, right = (float(v) for v in half_widths_mm(rock.points_mm, loop.z_mm))
            if right != right:
                continue
            for turn in range(loop.turns):
                z = low + loop.z_mm + (turn - (loop.turns - 1) / 2) * max(2.4 * rock.wire_mm, 3.0)
                sag = 0.05 * (right - left)
                curve = tuple(
                    (rock.x_mm + left + (right - left) * k / 12, z - sag * float(np.sin(np.pi * k / 12)))
                    for k in range(13)
                )
                shapes.append(Stroke(curve, "wire", rock.wire_mm))
            if dims:
                total = (loop_mm(rock.points_mm, rock.depth_mm, loop.z_mm, loop.turns) - 60) / loop.turns
                shapes.append(
                    Note(
                        (rock.x_mm + right + 14, low + loop.z_mm - 3),
                        f"{chr(65 + n)}  {loop.turns} × {s.u.figure(total)}",
                        to=(rock.x_mm + right, low + loop.z_mm),
                    )
                )
    if dims:
        for r, one in ways:
            x, z = placed(s, rock, r.points_mm)[max(len(r.points_mm) - 3, 0)]
            shapes.append(
                Note(
                    (x, z),
                    r.id,
                    "watch" if one is not None and not one.covered else "unknown" if one is None else "fits",
                    "center",
                    flag="round",
                )
            )
            if one is not None and not one.covered:
                bridge = max(min(one.short_mm, way_mm(r.points_mm)), 4.0)
                shapes.append(Stroke(_tail(placed(s, rock, r.points_mm), bridge), "moss", 3.2 * thick))
                shapes.append(Stroke(_tail(placed(s, rock, r.points_mm), bridge), "root", 0.0, dashed=True))
        left = min(x for x, _ in rock.points_mm) + rock.x_mm
        shapes.append(Size((left, s.soil_mm), (left, low + top), s.u.figure(top - rock.sunk_mm), -22.0, level=False))
    return tuple(shapes)


def _tail(points: tuple[Point, ...], length: float) -> tuple[Point, ...]:
    """The last so many millimetres of a line."""
    found, left = [points[-1]], length
    for a, b in zip(points[-2::-1], points[:0:-1], strict=False):
        step = float(np.hypot(b[0] - a[0], b[1] - a[1]))
        if step >= left:
            t = left / max(step, 1e-9)
            found.append((b[0] + (a[0] - b[0]) * t, b[1] + (a[1] - b[1]) * t))
            break
        found.append(a)
        left -= step
    return tuple(found[::-1])


def _band(s: Setting, rock: Rock, low_mm: float, high_mm: float) -> tuple[Point, ...]:
    """The rock between two heights over its foot, a little fuller than it is."""
    levels = np.linspace(low_mm, max(high_mm, low_mm + 1), 14)
    edges = [(z, *(float(v) for v in half_widths_mm(rock.points_mm, float(z)))) for z in levels]
    edges = [(z, a, b) for z, a, b in edges if b == b]
    base = base_mm(s, rock)
    left = [(rock.x_mm + a - 3, base + float(z)) for z, a, _ in edges]
    right = [(rock.x_mm + b + 3, base + float(z)) for z, _, b in reversed(edges)]
    return (*left, *right)


def rock_above(s: Setting, rock: Rock, ways: tuple[tuple[RockRoot, Reach | None], ...]) -> tuple[Shape, ...]:
    """The rock's cuts at its foot and half way up, the roots over it, room to the wall."""
    shapes: list[Shape] = []
    top = max(z for _, z in rock.points_mm)
    for z in (rock.sunk_mm, 0.55 * top, 0.85 * top):
        left, right = (float(v) for v in half_widths_mm(rock.points_mm, z))
        if right == right:
            a, b = (right - left) / 2, float(depth_at_mm(rock.points_mm, rock.depth_mm, z)) / 2
            ring = tuple(
                (rock.x_mm + (left + right) / 2 + a * float(np.cos(v)), rock.y_mm + b * float(np.sin(v)))
                for v in np.linspace(0, 2 * np.pi, 48, endpoint=False)
            )
            shapes.append(Area(ring, "rock"))
    thick = max((s.a.case.tree.measure.trunk_diameter_mm or 30.0) * 0.16, 3.0)
    for r, one in ways:
        # seen from above a way in front lies before the middle, one behind it behind
        x0 = r.points_mm[0][0] + rock.x_mm
        end = r.points_mm[-1]
        side = 1.0 if r.behind else -1.0
        left, right = (float(v) for v in half_widths_mm(rock.points_mm, max(rock.sunk_mm, 1.0)))
        half = (right - left) / 2 if right == right else 50.0
        u = float(np.clip(end[0] / max(half, 1e-6), -1, 1))
        y1 = rock.y_mm + side * rock.depth_mm / 2 * float(np.sqrt(max(1 - u * u, 0.0)))
        shapes.append(
            Stroke(
                (
                    (x0, rock.y_mm),
                    ((x0 + end[0] + rock.x_mm) / 2, rock.y_mm + 0.6 * (y1 - rock.y_mm)),
                    (end[0] + rock.x_mm, y1),
                ),
                "root",
                thick,
                dashed=one is not None and not one.covered,
            )
        )
    return tuple(shapes)
