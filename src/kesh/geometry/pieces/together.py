"""Whether the pieces of a print go together: nothing twice, nothing missing, no hole too many, a way for each from above."""

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from kesh.geometry.pieces.split import Assembly
from kesh.geometry.solid import solid_of

if TYPE_CHECKING:
    from manifold3d import Manifold

OVERLAP_MM3, MISSING_SHARE = 0.01, 0.001
# a piece is lifted so far, a little at first: what it catches on is small
LIFTS_MM = (0.15, 0.6, 1.5, 3.0, 5.0, 8.0, 13.0, 25.0, 60.0, 140.0)


@dataclass(frozen=True)
class Together:
    """What was found: overlap of any two pieces, mm3; share of the whole that is missing; pieces that are not sound, with
    a tunnel too many, or that cannot come down from above, by number."""

    overlap_mm3: float
    missing_share: float
    unsound: tuple[int, ...]
    tunnels: tuple[int, ...]
    caught: tuple[int, ...]

    @property
    def good(self) -> bool:
        """Whether the files may be handed over."""
        return (
            self.overlap_mm3 <= OVERLAP_MM3 and abs(self.missing_share) <= MISSING_SHARE
            and not (self.unsound or self.tunnels or self.caught)
        )  # fmt: skip

    @property
    def words(self) -> str:
        """What is wrong, as one sentence; empty when nothing is."""
        said = []
        if self.overlap_mm3 > OVERLAP_MM3:
            said.append(f"pieces run {self.overlap_mm3:.2f} mm³ into each other")
        if abs(self.missing_share) > MISSING_SHARE:
            said.append(f"{self.missing_share:.2%} of the pot is in no piece")
        for numbers, what in (
            (self.unsound, "is not one closed body"), (self.tunnels, "has a tunnel where a joint broke through"),
            (self.caught, "cannot be set down from above"),
        ):  # fmt: skip
            said += [f"piece {n} {what}" for n in numbers]
        return "; ".join(said)


def together(made: Assembly) -> Together:
    """Put the pieces together by boolean operations and look."""
    import manifold3d

    solids = [solid_of(p.solid) for p in made.pieces]
    overlap, caught = 0.0, []
    for k, one in enumerate(solids):
        near = [other for other in solids[:k] if _near(one, other)]
        overlap = max([overlap, *((one ^ other).volume() for other in near)])
        under = [other for other in solids[:k] if _near(one, other, up=True)]
        if under and _catches(one, under):
            caught.append(made.pieces[k].number)
    whole = manifold3d.Manifold.batch_boolean(solids, manifold3d.OpType.Add).volume()
    unsound = [p.number for p in made.pieces if not p.solid.is_watertight or p.solid.body_count != 1]
    cells = cells_of(made)
    tunnels = [
        p.number
        for p, one in zip(made.pieces, solids, strict=True)
        if one.genus() != expected_genus(made, cells.get(p.cell, []), one)
    ]
    return Together(float(overlap), float(1 - whole / made.whole.volume), tuple(unsound), tuple(tunnels), tuple(caught))


def cells_of(made: Assembly) -> "dict[tuple[int, int, int], list[Manifold]]":
    """What of the pot lies in each cell of the grid, before any joint, in parts that hang together.

    The pot is split plane by plane, so that each cut is of what is left and not of the whole pot.
    """
    if len(made.pieces) == 1:
        return {}
    low, high = made.whole.bounds
    edges = made.grid.edges(low, high)
    left: list[tuple[tuple[int, ...], Manifold]] = [((), solid_of(made.whole))]
    for axis in range(3):
        normal = [0.0, 0.0, 0.0]
        normal[axis] = 1.0
        found: list[tuple[tuple[int, ...], Manifold]] = []
        for cell, rest in left:
            for n, edge in enumerate(edges[axis][1:-1]):
                rest, below = rest.split_by_plane(normal, float(edge))
                found.append(((*cell, n), below))
            found.append(((*cell, len(edges[axis]) - 2), rest))
        left = found
    return {(c[0], c[1], c[2]): [p for p in one.decompose() if p.volume() > 0] for c, one in left if not one.is_empty()}


def expected_genus(made: Assembly, parts: "list[Manifold]", piece: "Manifold") -> int:
    """Tunnels of the pot that lie in a piece's cell: those of the part that was cut out, before any joint."""
    if len(made.pieces) == 1 or not parts:
        return int(piece.genus())
    if len(parts) == 1:
        return int(parts[0].genus())
    return int(max(parts, key=lambda part: (part ^ piece).volume()).genus())


def _near(one: "Manifold", other: "Manifold", *, up: bool = False) -> bool:
    a, b = np.array(one.bounding_box()), np.array(other.bounding_box())
    apart = (a[:3] > b[3:] + 0.01) | (b[:3] > a[3:] + 0.01)
    return not (apart[:2].any() or (apart[2] and not (up and a[2] < b[5])))


def _catches(one: "Manifold", under: "list[Manifold]") -> bool:
    """Whether a piece meets one that lies already, anywhere on its way up."""
    foot = one.bounding_box()[2]
    return any(
        (one.translate([0.0, 0.0, z]) ^ other).volume() > OVERLAP_MM3
        for z in LIFTS_MM
        for other in under
        # once it hangs over the other nothing holds it
        if foot + z < other.bounding_box()[5]
    )
