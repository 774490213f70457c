"""One group in one tray, thought through: layout check, moves, sight lines, ground, root room. Screen and command line read it here."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from kesh.base.errors import FieldError
from kesh.base.once import once
from kesh.geometry.outline import Floats
from kesh.model import GroupTree, Pot, Tree
from kesh.science.group.anneal import Path
from kesh.science.group.hill import Mound, hill_volume_l, mounds_of, rise_mm, steepest_deg
from kesh.science.group.layout import Open, Trunks
from kesh.science.group.mend import LayoutCheck, Mend, check_layout, mend
from kesh.science.group.sight import FROM_DEG, Hidden, hidden_pairs
from kesh.science.group.stand import (
    Chance,
    Pair,
    advised_count,
    disc_share,
    discs_of,
    expected_heights_mm,
    future_main,
    meet_in_years,
    pair,
    root_room_l,
    survival_chance,
)
from kesh.science.group.tray import Tray, tray_of

GROUP_STYLES = frozenset({"forest", "raft", "clump", "twin_trunk", "multi_trunk"})
HEADSPACE_MM = 6.0
PARTS_WORDS = {
    "spacing": "Spacing", "collinear": "Lines", "front": "From the front", "main": "Main tree", "depth": "Depth",
    "groups": "Groups", "void": "Open ground", "fit": "Fit",
}  # fmt: skip


def is_group(tree: Tree) -> bool:
    """Whether a tree is a group: by its style, or because its trees are entered."""
    return bool(tree.group) or tree.style in GROUP_STYLES


def placed_trees(tree: Tree) -> tuple[GroupTree, ...]:
    """Those that stand in the tray, live and have a thickness."""
    return tuple(g for g in tree.group if g.placed and g.diameter_mm is not None)


def spare_trees(tree: Tree) -> tuple[GroupTree, ...]:
    """Those that live and wait beside the tray."""
    return tuple(g for g in tree.group if g.alive and not g.placed)


def trunks_of(rows: Sequence[GroupTree]) -> tuple[Trunks, Floats, Floats]:
    """(trunks, x, y) of placed trees. Raises FieldError for fewer than three."""
    nan = float("nan")
    trunks = Trunks(
        tuple(g.id for g in rows), np.array([g.diameter_mm or nan for g in rows]),
        np.array([nan if g.height_mm is None else g.height_mm for g in rows]), np.array([g.fixed for g in rows], dtype=bool),
    )  # fmt: skip
    return trunks, _spots(rows)[0], _spots(rows)[1]


def _spots(rows: Sequence[GroupTree]) -> tuple[Floats, Floats]:
    return np.array([g.x_mm or 0.0 for g in rows]), np.array([g.y_mm or 0.0 for g in rows])


@dataclass(frozen=True, eq=False)
class GroupPlan:
    """All of one group in one tray; each part is worked out when it is first asked for.

    `headspace_mm` is what stays free under the rim. Of fewer than three trees there is no layout check; a pair has its own.
    """

    tree: Tree
    pot: Pot
    headspace_mm: float = HEADSPACE_MM

    @once
    def tray(self) -> Tray:
        """The inside of the tray. Raises FieldError where the walls leave nothing."""
        return tray_of(self.pot)

    @once
    def ground(self) -> Open:
        """Where open ground is looked for."""
        return Open.of(self.tray)

    @once
    def rows(self) -> tuple[GroupTree, ...]:
        """The trees that stand."""
        return placed_trees(self.tree)

    @once
    def spares(self) -> tuple[GroupTree, ...]:
        """The trees that wait."""
        return spare_trees(self.tree)

    @once
    def unmeasured(self) -> tuple[GroupTree, ...]:
        """Trees that stand and have no thickness: nothing can be said of them."""
        return tuple(g for g in self.tree.group if g.placed and g.diameter_mm is None)

    @once
    def x(self) -> Floats:
        """mm to the right of the tray's middle."""
        return _spots(self.rows)[0]

    @once
    def y(self) -> Floats:
        """mm to the back of the tray's middle."""
        return _spots(self.rows)[1]

    @once
    def d(self) -> Floats:
        """Thickness, mm."""
        return np.array([g.diameter_mm or 0.0 for g in self.rows])

    @once
    def h(self) -> Floats:
        """Height, mm; not a number where it was not measured."""
        return np.array([float("nan") if g.height_mm is None else g.height_mm for g in self.rows])

    @once
    def disc(self) -> Floats:
        """Root disc radii, mm."""
        return discs_of(self.d)

    @once
    def trunks(self) -> Trunks | None:
        """For the layout check; None below three trees."""
        return trunks_of(self.rows)[0] if len(self.rows) >= 3 else None

    @once
    def check(self) -> LayoutCheck | None:
        """The layout check; None below three trees."""
        t = self.trunks
        return None if t is None else check_layout(self.x, self.y, t, self.tray, self.ground)

    @once
    def mend(self) -> Mend | None:
        """The one move that mends most."""
        t = self.trunks
        return None if t is None else mend(self.x, self.y, t, self.tray)

    @once
    def mended(self) -> LayoutCheck | None:
        """The check after that move."""
        t, m = self.trunks, self.mend
        if t is None or m is None:
            return None
        x, y, at = self.x.copy(), self.y.copy(), t.ids.index(m.id)
        x[at], y[at] = x[at] + m.dx_mm, y[at] + m.dy_mm
        return check_layout(x, y, t, self.tray, self.ground)

    @once
    def hidden(self) -> tuple[Hidden, ...]:
        """Trunks that hide more than half of another, from the front and from 30 degrees on either side."""
        return tuple(one for angle in FROM_DEG for one in hidden_pairs(self.x, self.y, self.d, angle))

    @once
    def pair(self) -> Pair | None:
        """How the two trunks of a pair stand to each other."""
        return pair(self.x, self.y, self.d, self.h) if len(self.rows) == 2 else None

    @once
    def mounds(self) -> tuple[Mound, ...]:
        """The ground's mounds."""
        return mounds_of(self.tree.hill)

    @once
    def path(self) -> Path | None:
        """The path that is kept free."""
        way = self.tree.way
        return None if way is None else Path(np.array(way.points_mm, dtype=float), way.width_mm / 2)

    @once
    def soil_mm(self) -> float:
        """Soil under the level ground: inner depth less headspace; a slab carries its mounds alone."""
        return 0.0 if self.pot.profile.kind == "slab" else max(self.pot.inner_depth_mm - self.headspace_mm, 0.0)

    @once
    def seat_mm(self) -> Floats:
        """How high the ground is at each tree over the level, mm."""
        return rise_mm(self.mounds, self.x, self.y)

    @once
    def hill_l(self) -> float:
        """Volume of the mounds within the tray, litres."""
        return hill_volume_l(self.mounds, self.tray)

    @once
    def slope_deg(self) -> float:
        """The steepest slope."""
        return steepest_deg(self.mounds, self.tray)

    @once
    def room_l(self) -> Floats:
        """Soil nearest to each tree, litres."""
        if not len(self.rows):
            return np.zeros(0)
        return root_room_l(self.x, self.y, self.disc, self.tray, self.soil_mm, self.mounds)

    @once
    def advised(self) -> int | None:
        """How many trees of this size the tray bears."""
        return advised_count(self.disc, self.tray) if len(self.rows) else None

    @once
    def disc_share(self) -> float:
        """Area of the root discs by the tray's."""
        return disc_share(self.disc, self.tray) if len(self.rows) else 0.0

    @once
    def expected_mm(self) -> Floats | None:
        """Heights the depth picture asks for; None while the main tree has none."""
        t = self.trunks
        if t is None or np.isnan(t.height_mm[t.main]):
            return None
        return expected_heights_mm(t, self.y, self.tray)

    @once
    def meet(self) -> tuple[float | None, tuple[int, int] | None]:
        """(years until the first root discs meet, which two)."""
        return meet_in_years(self.x, self.y, self.d, self.tree.stage) if len(self.rows) > 1 else (None, None)

    @once
    def future_main(self) -> int | None:
        """Which tree is thickest in ten years when each grows with its root room."""
        return future_main(self.d, self.room_l, self.tree.stage, 10.0) if len(self.rows) else None

    @once
    def survival(self) -> tuple[int, int, Chance | None]:
        """(living, set, chance of the next)."""
        living, of = sum(g.alive for g in self.tree.group), len(self.tree.group)
        return living, of, survival_chance(living, of) if of else None

    def moved(self, key: str, x_mm: float, y_mm: float) -> "GroupPlan":
        """The plan with one tree elsewhere. Raises FieldError for a tree that is not there."""
        return replace(self, tree=with_spot(self.tree, key, x_mm, y_mm))


def with_spot(tree: Tree, key: str, x_mm: float | None, y_mm: float | None) -> Tree:
    """The tree with one of its group elsewhere; None puts it beside the tray. Raises FieldError."""
    return with_row(
        tree, key, x_mm=None if x_mm is None else round(x_mm, 1), y_mm=None if y_mm is None else round(y_mm, 1)
    )


def with_row(tree: Tree, key: str, **fields: object) -> Tree:
    """The tree with one of its group changed. Raises FieldError for a tree that is not there or a value that is none."""
    if all(g.id != key for g in tree.group):
        raise FieldError("group", f"there is no tree {key} in {tree.name}")
    return tree.changed(group=tuple(g.changed(**fields) if g.id == key else g for g in tree.group))
