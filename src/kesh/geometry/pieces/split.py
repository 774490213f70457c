"""A pot's solid cut to the bed of a printer, joints added, pieces numbered in the order in which they go together."""

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from kesh.base.errors import FieldError
from kesh.geometry.outline import Floats
from kesh.geometry.pieces.cuts import MARGIN_MM, Grid, Three, counts, grid, land_mm, nudged, rooms
from kesh.geometry.pieces.joints import ROOT_MM, Cell, Joint, joints, sum_odd
from kesh.geometry.solid import mesh_of, prism, solid_of
from kesh.model.pot import Pot

if TYPE_CHECKING:
    from manifold3d import Manifold
    from trimesh import Trimesh

__all__ = ["MARGIN_MM", "Assembly", "Piece", "counts", "split"]

# less is a crumb: it stays with its neighbour
CRUMB_MM3 = 400.0
# less clay on either side of a cut holds no joint
LEAST_HOLD_MM3 = 0.4
MOST_GAP_SHARE = 0.0009
NO_CUTS = Grid(((), (), ()))
TRIES = 5


@dataclass(frozen=True, eq=False)
class Piece:
    """One piece in the pot's place. Numbers follow the order in which the pieces are set down, each from above."""

    number: int
    column: int
    row: int
    tier: int
    solid: "Trimesh"

    @property
    def name(self) -> str:
        """As it is called in files; names sort as the numbers do."""
        return f"piece-{self.number:02d}"

    @property
    def cell(self) -> Cell:
        """Column, row and tier from the lower left front."""
        return self.column, self.row, self.tier


@dataclass(frozen=True, eq=False)
class Assembly:
    """A pot as pieces with the joints between them; `plain` are pairs of piece numbers that are only butted and glued."""

    whole: "Trimesh"
    pieces: tuple[Piece, ...]
    joints: tuple[tuple[Joint, int, int], ...] = ()
    plain: tuple[tuple[int, int], ...] = ()
    grid: Grid = NO_CUTS
    land_mm: float = 0.0
    gap_mm: float = 0.0

    def __len__(self) -> int:
        return len(self.pieces)


def split(pot: Pot, whole: "Trimesh", bed_mm: Three, gap_mm: float = 0.25) -> Assembly:
    """Pieces of a pot's solid that fit the bed; sockets are wider than what goes into them by the gap.

    One piece when it fits whole. Raises FieldError for a bed that leaves too little room or a gap that cannot be.
    """
    if not 0 <= gap_mm <= 1.0:
        raise FieldError("clearance", f"a gap of {gap_mm:g} mm in the joints is outside 0 to 1 mm")
    size = tuple(float(v) for v in whole.extents)
    n, most = rooms((size[0], size[1], size[2]), bed_mm)
    if n == (1, 1, 1):
        return Assembly(whole, (Piece(1, 0, 0, 0, whole),), land_mm=land_mm(pot), gap_mm=gap_mm)
    low, high = whole.bounds
    more = np.zeros(3, int)
    for _ in range(TRIES):
        # never turned anew while it is retried: only the piece that came out too long becomes more
        count = (n[0] + int(more[0]), n[1] + int(more[1]), n[2] + int(more[2]))
        cut = grid(pot, low, high, count, most)
        if cut is None:
            more[_stuck(pot, low, high, count, most)] += 1
            continue
        made = _cut(pot, whole, nudged(cut, np.asarray(whole.vertices)), low, high, gap_mm)
        off = [p.solid.extents for p in made.pieces if not _fits(tuple(p.solid.extents), bed_mm)]
        if not off:
            return made
        room = np.array(most) + 2 * MARGIN_MM
        more[int(np.argmax(np.max([e / room for e in off], axis=0)))] += 1
    raise FieldError("bed", "the pieces do not come out small enough for this bed; take a larger one or move the holes")


def _stuck(pot: Pot, low: Floats, high: Floats, count: tuple[int, int, int], most: Three) -> int:
    """The axis along which no place for a cut was found."""
    for axis in range(3):
        one = [1, 1, 1]
        one[axis] = count[axis]
        if grid(pot, low, high, (one[0], one[1], one[2]), most) is None:
            return axis
    return 0


def _fits(size: tuple[float, ...], bed_mm: Three) -> bool:
    across = zip(sorted(size[:2]), sorted(bed_mm[:2]), strict=True)
    return all(a <= b for a, b in across) and size[2] <= bed_mm[2]


def _cut(pot: Pot, whole: "Trimesh", cut: Grid, low: Floats, high: Floats, gap_mm: float) -> Assembly:
    body = solid_of(whole)
    parts, mended = _parts(body, cut.edges(low, high))
    budget = MOST_GAP_SHARE * body.volume()
    held = _held(body, parts, joints(pot, cut, low, high, gap_mm), gap_mm)
    if sum(h.gap_mm3 for h in held) > budget:
        held = _within(_held(body, parts, joints(pot, cut, low, high, gap_mm, small=True), gap_mm), budget, len(parts))
    made = _joined(body, cut.edges(low, high), parts, held, mended)
    order = sorted(range(len(made)), key=lambda k: (made[k][0][2], sum_odd(made[k][0]), made[k][0][1], made[k][0][0]))
    number = {k: n for n, k in enumerate(order, start=1)}
    pieces = tuple(Piece(number[k], *made[k][0], mesh_of(made[k][1])) for k in order)
    named = tuple((h.joint, number[h.of], number[h.into]) for h in held)
    return Assembly(whole, pieces, named, _plain(cut, parts, number, named), cut, land_mm(pot), gap_mm)


Part = tuple[Cell, "Manifold"]


def _parts(body: "Manifold", edges: tuple[tuple[float, ...], ...]) -> tuple[list[Part], frozenset[int]]:
    """What the cuts leave, each sound part on its own; crumbs stay with the neighbour they touch. And which parts took one."""
    found: list[Part] = []
    crumbs: list[Part] = []
    mended = set()
    for i in range(len(edges[0]) - 1):
        for j in range(len(edges[1]) - 1):
            for k in range(len(edges[2]) - 1):
                for part in (body ^ _cell_box(edges, (i, j, k))).decompose():
                    (found if part.volume() > CRUMB_MM3 else crumbs).append(((i, j, k), part))
    for cell, crumb in crumbs:
        beside = [
            n for n, (other, _) in enumerate(found) if sum(abs(a - b) for a, b in zip(cell, other, strict=True)) == 1
        ]
        for n in beside:
            both = found[n][1] + crumb
            if len(both.decompose()) == 1:
                found[n] = found[n][0], both
                mended.add(n)
                break
    return found, frozenset(mended)


@dataclass(frozen=True, eq=False)
class _Held:
    """A joint with its shapes: what is added to the cell of part `of`, what is taken from that of `into`, and its gap."""

    joint: Joint
    of: int
    into: int
    add: "Manifold"
    take: "Manifold"
    gap_mm3: float


def _held(body: "Manifold", parts: list[Part], wanted: tuple[Joint, ...], gap_mm: float) -> list[_Held]:
    """The joints that find a part on either side."""
    found = []
    for joint in wanted:
        add, take = _shapes(joint, gap_mm)
        clay = body ^ add
        of = next((n for n, (c, m) in enumerate(parts) if c == joint.of and (m ^ clay).volume() > LEAST_HOLD_MM3), None)
        into = next(
            (n for n, (c, m) in enumerate(parts) if c == joint.into and (m ^ clay).volume() > LEAST_HOLD_MM3), None
        )
        if of is not None and into is not None:
            gap = (parts[into][1] ^ take).volume() - (parts[into][1] ^ add).volume()
            found.append(_Held(joint, of, into, add, take, float(gap)))
    return found


def _within(held: list[_Held], budget_mm3: float, count: int) -> list[_Held]:
    """Joints whose gaps together stay within a budget: first those that hold all parts together, then those that cost least."""
    group = list(range(count))

    def root(n: int) -> int:
        while group[n] != n:
            n = group[n]
        return n

    chosen: list[_Held] = []
    spare: list[_Held] = []
    for one in sorted(held, key=lambda h: h.gap_mm3):
        a, b = root(one.of), root(one.into)
        (chosen if a != b else spare).append(one)
        group[a] = b
    spent = sum(h.gap_mm3 for h in chosen)
    for one in spare:
        if spent + one.gap_mm3 <= budget_mm3:
            chosen.append(one)
            spent += one.gap_mm3
    return chosen


def _joined(
    body: "Manifold", edges: tuple[tuple[float, ...], ...], parts: list[Part], held: list[_Held], mended: frozenset[int]
) -> list[Part]:
    """Parts with their joints. The cell is shaped first and then met with the pot once: its own faces stay as they are."""
    import manifold3d

    made: list[Part] = []
    for n, (cell, part) in enumerate(parts):
        take, add = [h.take for h in held if h.into == n], [h.add for h in held if h.of == n]
        if not take and not add:
            made.append((cell, part))
            continue
        room = manifold3d.Manifold.batch_boolean([_cell_box(edges, cell), *take], manifold3d.OpType.Subtract)
        room = manifold3d.Manifold.batch_boolean([room, *add], manifold3d.OpType.Add)
        loose = (body ^ room).decompose()
        shaped = loose[0] if len(loose) == 1 else max(loose, key=lambda one: (one ^ part).volume())
        if n in mended:
            # a crumb that was left with this part lies outside its cell
            extra = part - _cell_box(edges, cell)
            shaped = shaped + extra if extra.volume() > 1.0 else shaped
        made.append((cell, shaped))
    return made


def _cell_box(edges: tuple[tuple[float, ...], ...], cell: Cell) -> "Manifold":
    import manifold3d

    low = [edges[a][cell[a]] for a in range(3)]
    return manifold3d.Manifold.cube([edges[a][cell[a] + 1] - low[a] for a in range(3)]).translate(low)


def _shapes(joint: Joint, gap_mm: float) -> tuple["Manifold", "Manifold"]:
    """(what stands out of the one with the root by which it hangs on it, the socket in the other)."""
    plan, low, high = joint.plan, joint.low_mm, joint.high_mm
    top = high + (1.0 if joint.above else 0.0)
    between_tiers = joint.of[2] != joint.into[2]
    add = prism(plan, low - (ROOT_MM if between_tiers else 1.0 if joint.below else 0.0), top)
    wide = plan.buffer(gap_mm, join_style="mitre") if gap_mm else plan
    under = 1.0 if joint.below or not joint.above else gap_mm
    return add, prism(wide, low - under, high + (1.0 if joint.above else gap_mm))


def _plain(
    cut: Grid, parts: list[Part], number: dict[int, int], named: tuple[tuple[Joint, int, int], ...]
) -> tuple[tuple[int, int], ...]:
    """Neighbours that touch with no joint between them."""
    joined = {frozenset(pair) for _, *pair in named}
    found = []
    for a, (one, first) in enumerate(parts):
        for b in range(a):
            other, second = parts[b]
            steps = [abs(p - q) for p, q in zip(one, other, strict=True)]
            if sum(steps) != 1 or frozenset((number[a], number[b])) in joined:
                continue
            axis = steps.index(1)
            plane = cut.planes[axis][min(one[axis], other[axis])]
            if _touch(first, second, axis, plane):
                found.append((min(number[a], number[b]), max(number[a], number[b])))
    return tuple(sorted(found))


def _touch(one: "Manifold", other: "Manifold", axis: int, plane: float) -> bool:
    """Whether two parts share a face on a plane: moved into each other a little, they overlap."""
    step = [0.0, 0.0, 0.0]
    towards = 1.0 if one.bounding_box()[axis] < plane - 1e-6 else -1.0
    step[axis] = 0.2 * towards
    return bool((one.translate(step) ^ other).volume() > 1.0)
