"""The parts of a box, a tub or a pipe as bodies in their place, to be looked at and turned; mm, the pot's frame."""

from typing import TYPE_CHECKING

import numpy as np
import shapely

from kesh.advice.routes.job import BuiltPart
from kesh.geometry.outline import Floats
from kesh.geometry.solid import mesh_of, prism
from kesh.science.making.boards import BoxPlan, Joint, Piece

if TYPE_CHECKING:
    from manifold3d import Manifold

WOOD, WOOD_ENDS, BAND, MESH = "#B98F5C", "#A67C4B", "#8D9296", "#9AA0A3"
HOOP_TALL_MM, HOOP_MM = 20.0, 1.5
# shares of the height at which hoops lie, and of the half width at which battens end
HOOPS_AT, BATTEN_AT = (0.2, 0.8), 0.7
MESH_EVERY_MM, MESH_BAR_MM, GUY_ROD_MM = 14.0, 2.0, 1.6


def part(name: str, body: "Manifold", colour: str) -> BuiltPart:
    """One part."""
    return BuiltPart(name, mesh_of(body), colour)


def _block(x0: float, y0: float, x1: float, y1: float, low: float, high: float) -> "Manifold":
    return prism(shapely.box(min(x0, x1), min(y0, y1), max(x0, x1), max(y0, y1)), low, high)


def box_parts(
    size: tuple[float, float, float], plan: BoxPlan, board: float, bw: float, joint: Joint, over: float, inside: bool
) -> tuple[BuiltPart, ...]:
    """Every board of a training box where it is screwed: battens, slats, courses, hand grips."""
    length, width, height = size
    listed = {piece.name: piece for piece in plan.pieces}
    t, foot, along, grip = (
        board,
        listed["foot batten"].width_mm,
        listed["foot batten"].length_mm,
        listed["hand grip"].length_mm,
    )
    feet, base = 1.5 * t, 2.5 * t
    reach = width / 2 if inside else width / 2 + t
    made = [
        part(
            "foot batten",
            _block(-along / 2, s * 0.32 * width - foot / 2, along / 2, s * 0.32 * width + foot / 2, 0, feet),
            WOOD_ENDS,
        )
        for s in (-1, 1)
    ]
    x = -along / 2
    for wide in plan.slat_mm:
        made.append(part("floor slat", _block(x, -reach, x + wide, reach, feet, base), WOOD))
        x += wide + plan.gap_mm
    z = feet if inside else base
    top = base + height
    for n in range(plan.courses):
        high = top if n == plan.courses - 1 else base + (n + 1) * bw
        for name, body in _course(length, width, t, joint, over, z, high, n):
            made.append(part(name, body, WOOD if name == "long side" else WOOD_ENDS))
        z = high
    out = length / 2 + t + (over if joint in ("butt_short", "lapped") else 0.0)
    for side in (-1, 1):
        x0, x1 = side * (length / 2 + t), side * (out + 0.8 * t)
        made.append(part("hand grip", _block(x0, -grip / 2, x1, grip / 2, top - foot - 8, top - 8), WOOD_ENDS))
    return tuple(made)


def _course(
    length: float, width: float, t: float, joint: Joint, o: float, low: float, high: float, number: int
) -> "list[tuple[str, Manifold]]":
    """The four boards of one course."""
    a, b = length / 2, width / 2
    found: list[tuple[str, Manifold]] = []
    for s in (-1, 1):
        if joint == "mitre":
            long = shapely.Polygon([(-a - t, s * (b + t)), (a + t, s * (b + t)), (a, s * b), (-a, s * b)])
            short = shapely.Polygon([(s * (a + t), -b - t), (s * (a + t), b + t), (s * a, b), (s * a, -b)])
            found += [("long side", prism(long, low, high)), ("short side", prism(short, low, high))]
        elif joint == "pinwheel":
            x0, x1 = (-a - t, a) if s < 0 else (-a, a + t)
            y0, y1 = (-b, b + t) if s < 0 else (-b - t, b)
            found += [
                ("long side", _block(x0, s * b, x1, s * (b + t), low, high)),
                ("short side", _block(s * a, y0, s * (a + t), y1, low, high)),
            ]
        elif joint == "lapped":
            # each is notched half its height where they cross, the other way round in the next course
            half = (low + high) / 2
            long = _block(-a - t - o, s * b, a + t + o, s * (b + t), low, high)
            short = _block(s * a, -b - t - o, s * (a + t), b + t + o, low, high)
            upper, lower = (half, high), (low, half)
            out_of_long, out_of_short = (upper, lower) if number % 2 == 0 else (lower, upper)
            for corner in (-1, 1):
                long -= _block(corner * a, s * b, corner * (a + t), s * (b + t), *out_of_long)
                short -= _block(s * a, corner * b, s * (a + t), corner * (b + t), *out_of_short)
            found += [("long side", long), ("short side", short)]
        else:
            covers = joint == "butt_long"
            xr = a + t + o if covers else a
            yr = b if covers else b + t + o
            found += [
                ("long side", _block(-xr, s * b, xr, s * (b + t), low, high)),
                ("short side", _block(s * a, -yr, s * (a + t), yr, low, high)),
            ]
    return found


def tub_parts(
    outer: Floats,
    inner: Floats,
    height: float,
    board: float,
    floor: tuple[tuple[float, float, float, float], ...],
    batten: Piece,
) -> tuple[BuiltPart, ...]:
    """Staves, hoops, slats cut to the tub and battens."""
    whole = shapely.Polygon(outer)
    feet, base = 1.5 * board, 2.5 * board
    half, wide, reach = float(outer[:, 0].max()), batten.width_mm / 2, batten.length_mm / 2
    made = [
        part(
            "foot batten",
            _block(s * (BATTEN_AT * half - wide) - wide, -reach, s * (BATTEN_AT * half - wide) + wide, reach, 0, feet),
            WOOD_ENDS,
        )
        for s in (-1, 1)
    ]
    for x0, y0, x1, y1 in floor:
        cut = whole.intersection(shapely.box(x0, y0, x1, y1))
        if cut.geom_type == "Polygon" and cut.area > 1:
            made.append(part("floor slat", prism(cut, feet, base), WOOD_ENDS))
    n = len(outer)
    for k in range(n):
        stave = shapely.Polygon([outer[k], outer[(k + 1) % n], inner[(k + 1) % n], inner[k]])
        made.append(part("stave", prism(stave, base, base + height), WOOD if k % 2 else WOOD_ENDS))
    hoop = whole.buffer(HOOP_MM, join_style="mitre").difference(whole)
    for share in HOOPS_AT:
        z = base + share * height
        made.append(part("hoop", prism(hoop, z - HOOP_TALL_MM / 2, z + HOOP_TALL_MM / 2), BAND))
    return tuple(made)


def pipe_parts(
    outside: float, wall: float, height: float, rings: int, floor_mm: float, mesh: bool, guys: int, guy_mm: float, below_rim: float, colour: str
) -> tuple[BuiltPart, ...]:  # fmt: skip
    """The pipe with its guy holes, ring upon ring, its floor of mesh or disc, and the guys."""
    import manifold3d

    r = outside / 2
    disc = shapely.Point(0, 0).buffer(r, quad_segs=24)
    hollow = shapely.Point(0, 0).buffer(r - wall, quad_segs=24)
    ring_plan = disc.difference(hollow)
    ring = height / rings
    turns = np.radians(45 + 360 * np.arange(guys) / guys)
    bores = []
    for turn in turns:
        bore = manifold3d.Manifold.cylinder(4 * wall + 8, guy_mm / 2, circular_segments=20, center=True).rotate(
            [0, 90, float(np.degrees(turn))]
        )
        bores.append(
            bore.translate(
                [float(np.cos(turn)) * (r - wall / 2), float(np.sin(turn)) * (r - wall / 2), height - below_rim]
            )
        )
    made = []
    for n in range(rings):
        body = prism(ring_plan, n * ring, (n + 1) * ring)
        if n == rings - 1:
            body = manifold3d.Manifold.batch_boolean([body, *bores], manifold3d.OpType.Subtract)
        made.append(part("pipe" if rings == 1 else f"ring {n + 1}", body, colour))
    made.append(
        part(
            "floor",
            prism(_lattice(r - wall) if mesh else _drilled_disc(r - wall), 0.0, floor_mm),
            MESH if mesh else "#C9BFA8",
        )
    )
    made += [part("guy", _rod(r, height - below_rim, float(turn)), "#5B5F63") for turn in turns]
    return tuple(made)


def _lattice(radius: float) -> shapely.Polygon:
    """A mesh of bars in a rim."""
    disc = shapely.Point(0, 0).buffer(radius, quad_segs=24)
    at = np.arange(-radius + MESH_EVERY_MM / 2, radius, MESH_EVERY_MM)
    bars = [shapely.box(x - MESH_BAR_MM / 2, -radius, x + MESH_BAR_MM / 2, radius) for x in at]
    bars += [shapely.box(-radius, y - MESH_BAR_MM / 2, radius, y + MESH_BAR_MM / 2) for y in at]
    rim = disc.difference(disc.buffer(-2 * MESH_BAR_MM))
    return shapely.union_all([rim, *(b.intersection(disc) for b in bars)])


def _drilled_disc(radius: float) -> shapely.Polygon:
    """A disc with drain holes a hand's width apart."""
    disc = shapely.Point(0, 0).buffer(radius, quad_segs=24)
    spots = (
        [(0.0, 0.0)]
        if radius < 50
        else [(0.55 * radius * np.cos(a), 0.55 * radius * np.sin(a)) for a in np.radians([45, 135, 225, 315])]
    )
    return disc.difference(shapely.union_all([shapely.Point(*p).buffer(5.0) for p in spots]))


def _rod(radius: float, high: float, turn: float) -> "Manifold":
    """A guy from its hole outward down to the bench."""
    import manifold3d

    reach = 0.55 * high
    long = float(np.hypot(reach, high))
    rod = manifold3d.Manifold.cylinder(long, GUY_ROD_MM, circular_segments=10)
    lean = float(np.degrees(np.arctan2(reach, high)))
    return rod.rotate([0, -lean, 0]).translate([radius + reach, 0, 0]).rotate([0, 0, float(np.degrees(turn))])
