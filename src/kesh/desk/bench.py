"""The bench without a window: what can be dragged and what each drag changes. No Qt here."""

from dataclasses import dataclass
from typing import Any

from kesh.advice.case import HEADSPACE_MM, lifted_mm
from kesh.base.errors import FieldError
from kesh.model import Outline, Planting, Pot, RootMass, Tree
from kesh.science.roots.fit import Seat


@dataclass(frozen=True)
class Grip:
    """Something in the drawing that can be taken in hand: its place (mm, y up from the bench) and what it moves.

    The axis is x or y; x2 and y2 move both ends at once, so the value grows twice as fast as the hand.
    """

    key: str
    label: str
    x: float
    y: float
    axis: str
    value: float
    sign: float = 1.0


@dataclass(frozen=True)
class Stand:
    """The tree in its pot on the bench, in one coordinate system: the pot's middle on the bench is the origin."""

    tree: Tree
    pot: Pot | None
    planting: Planting | None
    stand_mm: float = 0.0

    @property
    def low_mm(self) -> float:
        """Lowest point: the foot of the stand, or hanging growth where it hangs lower; never above the bench."""
        return min(0.0, -self.stand_mm, self.root_top_mm - (self.tree.measure.drop_mm or 0.0))

    @property
    def trunk_x_mm(self) -> float:
        """The trunk's centre from the pot's middle."""
        return self.planting.offset_x_mm if self.planting else 0.0

    @property
    def root_top_mm(self) -> float:
        """Top of the root mass above the bench; where the drawn tree stands."""
        if self.pot is None:
            return 0.0
        return self.pot.height_mm + (self.planting.raise_mm if self.planting else 0.0)

    @property
    def top_mm(self) -> float:
        """Highest point above the bench."""
        return self.root_top_mm + (self.tree.measure.height_mm or 300.0)

    def reach(self) -> tuple[float, float]:
        """Left and right end of tree and pot, mm."""
        m, half = self.tree.measure, (self.pot.length_mm / 2 if self.pot else 100.0)
        left = self.trunk_x_mm - (m.canopy_left_mm or 0.4 * (m.height_mm or 300.0))
        right = self.trunk_x_mm + (m.canopy_right_mm or 0.4 * (m.height_mm or 300.0))
        return min(left, -half), max(right, half)

    def grips(self) -> list[Grip]:
        """Every handle of the front view, in the order Tab walks them."""
        m, x, base = self.tree.measure, self.trunk_x_mm, self.root_top_mm
        found = []
        crown = base + (m.crown_base_mm or 0.0)
        if m.height_mm is not None:
            found.append(
                Grip("height_mm", "Height", x + (m.apex_offset_mm or 0.0), base + m.height_mm, "y", m.height_mm)
            )
        if m.canopy_left_mm is not None:
            found.append(
                Grip(
                    "canopy_left_mm",
                    "Reach left",
                    x - m.canopy_left_mm,
                    base + (m.height_mm or 0) * 0.42,
                    "x",
                    m.canopy_left_mm,
                    -1,
                )
            )
        if m.canopy_right_mm is not None:
            found.append(
                Grip(
                    "canopy_right_mm",
                    "Reach right",
                    x + m.canopy_right_mm,
                    base + (m.height_mm or 0) * 0.42,
                    "x",
                    m.canopy_right_mm,
                )
            )
        if m.crown_base_mm is not None:
            found.append(
                Grip("crown_base_mm", "Crown base", x + 0.55 * (m.canopy_right_mm or 80), crown, "y", m.crown_base_mm)
            )
        if m.trunk_diameter_mm is not None:
            up = base + 0.10 * (m.height_mm or 400)
            found.append(
                Grip(
                    "trunk_diameter_mm",
                    "Trunk above the flare",
                    x + m.trunk_diameter_mm / 2,
                    up,
                    "x2",
                    m.trunk_diameter_mm,
                )
            )
        if self.pot is not None:
            p = self.pot
            found.append(Grip("pot_height", "Pot height", p.length_mm / 2, p.height_mm, "y", p.height_mm))
            found.append(Grip("pot_length", "Pot length", p.length_mm / 2, p.height_mm * 0.5, "x2", p.length_mm))
        if self.planting is not None:
            found.append(Grip("offset_x_mm", "Trunk, left and right", x, base + 4, "x", self.planting.offset_x_mm))
        return found


def root_grips(stand: Stand, section_y_mm: float, plan_y_mm: float) -> list[Grip]:
    """Handles on the root mass of a section and a plan on one sheet.

    `section_y_mm` is the bench of the section, `plan_y_mm` the pot's centre in the plan, mm up on the sheet. A root
    mass that is turned in its pot keeps only its depth: the other measures do not lie along the sheet then.
    """
    roots, planting = stand.tree.roots, stand.planting
    if roots is None:
        return []
    x, y = stand.trunk_x_mm + roots.offset_x_mm, (planting.offset_y_mm if planting else 0.0) + roots.offset_y_mm
    top = section_y_mm + stand.root_top_mm
    found = [Grip("root_depth", "Root mass depth", x, top - roots.depth_mm, "y", roots.depth_mm, -1)]
    if planting is None or planting.turn_deg % 360 == 0:
        side, front = x + roots.length_mm / 2, plan_y_mm + y - roots.width_mm / 2
        found += [
            Grip("root_length", "Root mass length", side, top - 0.12 * roots.depth_mm, "x2", roots.length_mm),
            Grip("root_width", "Root mass width", x, front, "y2", roots.width_mm, -1),
            Grip("root_offset_x", "Roots right of the trunk", x, top - 0.55 * roots.depth_mm, "x", roots.offset_x_mm),
            Grip("root_offset_y", "Roots behind the trunk", x, plan_y_mm + y, "y", roots.offset_y_mm),
        ]
    return found


def planting_grips(stand: Stand, seat: Seat, section_y_mm: float) -> list[Grip]:
    """Handles on how the tree is planted, in a section whose bench lies `section_y_mm` up on the sheet."""
    pot, planting, roots = stand.pot, stand.planting, stand.tree.roots
    if pot is None or planting is None or roots is None:
        return []
    x, left = stand.trunk_x_mm, -pot.length_mm / 2 + pot.wall_mm
    floor, rim = section_y_mm + pot.feet_mm + pot.floor_mm, section_y_mm + pot.height_mm
    headspace = HEADSPACE_MM if planting.headspace_mm is None else planting.headspace_mm
    return [
        Grip("raise_mm", "Top of the roots above the rim", x - 0.36 * roots.length_mm, rim + planting.raise_mm, "y", planting.raise_mm),
        Grip("base_layer_mm", "Mix under the roots", left + 22, floor + seat.base_mm, "y", seat.base_mm),
        Grip("mound_mm", "Mound", x + 0.30 * roots.length_mm, rim - headspace + planting.mound_mm, "y", planting.mound_mm),
        Grip("clearance_mm", "Fresh mix all round", -left - seat.clearance_mm, rim - 0.45 * pot.inner_depth_mm, "x", seat.clearance_mm, -1),
    ]  # fmt: skip


def moved_by(grip: Grip, dx_mm: float, dy_mm: float) -> float:
    """The new value of a grip after a drag, mm."""
    both = 2.0 if grip.axis.endswith("2") else 1.0
    return grip.value + (dy_mm if grip.axis.startswith("y") else dx_mm) * grip.sign * both


def nudged(grip: Grip, dx: int, dy: int, step_mm: float) -> float:
    """The new value after an arrow key: along the grip's axis as seen, across it up and right make it larger."""
    if grip.axis.startswith("y"):
        return grip.value + (dy * grip.sign if dy else dx) * step_mm
    return grip.value + (dx * grip.sign if dx else dy) * step_mm


def change_for(stand: Stand, key: str, value: float) -> list[tuple[str, str, Any]]:
    """The records that a grip's new value changes. Raises FieldError when the value cannot be."""
    value = round(value, 1)
    if key == "pot_height":
        return [("pot", _pot(stand).id, _pot(stand).changed(height_mm=value))]
    if key == "pot_length":
        pot = _pot(stand)
        both = {"length_mm": value, "width_mm": value} if pot.outline.kind == "round" else {"length_mm": value}
        if pot.outline.kind != "round" and pot.outline.kind != "free":
            both["width_mm"] = round(pot.width_mm * value / pot.length_mm, 1)
        return [("pot", pot.id, pot.changed(**both))]
    if key == "pot_width":
        return [("pot", _pot(stand).id, _pot(stand).changed(width_mm=value))]
    if key in ("offset_x_mm", "offset_y_mm", "raise_mm", "mound_mm", "base_layer_mm", "clearance_mm"):
        planting = stand.planting
        if planting is None:
            raise FieldError(key, "the tree stands in no pot yet; choose one in the line-up")
        # a layer or a mound pulled below nothing is none
        value = value if key in ("offset_x_mm", "offset_y_mm", "raise_mm") else max(value, 0.0)
        if key == "mound_mm" and planting.raise_mm == lifted_mm(planting, planting.mound_mm):
            # the tree goes up and down with its mound
            return [("planting", planting.id, planting.changed(mound_mm=value, raise_mm=lifted_mm(planting, value)))]
        return [("planting", planting.id, planting.changed(**{key: value}))]
    if key.startswith("root_"):
        return [("tree", stand.tree.id, with_roots(stand.tree, **{f"{key.removeprefix('root_')}_mm": value}))]
    measure = stand.tree.measure.with_figures(**{key: value})
    return [("tree", stand.tree.id, stand.tree.changed(measures=(*stand.tree.measures[:-1], measure)))]


def _pot(stand: Stand) -> Pot:
    if stand.pot is None:
        raise FieldError("pot", "the tree stands in no pot yet; choose one in the line-up")
    return stand.pot


# a root mass of which one size is known: length, width and depth as they usually go together [J]
USUAL_ROOTS = {"length_mm": 200.0, "width_mm": 160.0, "depth_mm": 60.0}


def with_roots(tree: Tree, **fields: object) -> Tree:
    """The tree with its latest root mass changed, or a first one: sizes that nobody gave are taken in proportion, and marked.

    Raises FieldError.
    """
    sizes = {
        name: float(value) for name, value in fields.items() if name in USUAL_ROOTS and isinstance(value, int | float)
    }
    base = tree.roots
    if base is None:
        scale = next((value / USUAL_ROOTS[name] for name, value in sizes.items()), 1.0)
        assumed = tuple(name for name in USUAL_ROOTS if name not in sizes)
        start = {name: round(size * scale, 1) for name, size in USUAL_ROOTS.items()}
        base = RootMass.made(**start, assumed=assumed, estimated=True)
    left = tuple(name for name in base.assumed if name not in sizes)
    if sizes:
        fields |= {"assumed": left, "estimated": bool(left)}
    return tree.changed(root_masses=(*tree.root_masses[:-1], base.changed(**fields)))


def estimated_roots(pot: Pot, planting: Planting | None) -> RootMass:
    """The root mass a tree is likely to have filled in its present pot, to be corrected once it is lifted.

    The inside less a hand's breadth of nothing: a tree that has stood for years has rooted to the wall and the floor.
    Raises FieldError for a pot without an inside.
    """
    if pot.inner_depth_mm <= 20:
        raise FieldError("root mass", "this pot has no inside to judge by; probe the roots instead")
    inset = 2 * pot.wall_mm + max(pot.profile.base_inset_mm, 0.0)
    headspace = 6.0 if planting is None or planting.headspace_mm is None else planting.headspace_mm
    raised = planting.raise_mm if planting else 0.0
    return RootMass(
        outline=pot.outline.changed(corner_mm=0.0) if pot.outline.kind != "free" else Outline(kind="oval"),
        length_mm=round(pot.length_mm - inset - 6),
        width_mm=round(pot.width_mm - inset - 6),
        depth_mm=round(max(10.0, pot.inner_depth_mm - headspace - 4 + max(raised, 0.0))),
        offset_x_mm=-(planting.offset_x_mm if planting else 0.0),
        offset_y_mm=-(planting.offset_y_mm if planting else 0.0),
        estimated=True,
    )
