"""Another front: everything of a tree that counts from it is told from the new one, and stands where it stood. No Qt here."""

import numpy as np

from kesh.model import Collection, MapRoot, Planting, RootMass, Tree

# places are kept to a tenth of a millimetre, as they are typed
DIGITS = 1


def turned_place(x_mm: float, y_mm: float, by_deg: float) -> tuple[float, float]:
    """A place, mm right of the trunk and behind it, as seen from a front so many degrees further on with the clock."""
    a = np.radians(by_deg)
    x, y = x_mm * np.cos(a) - y_mm * np.sin(a), x_mm * np.sin(a) + y_mm * np.cos(a)
    return round(float(x), DIGITS), round(float(y), DIGITS)


def turned_azimuth(azimuth_deg: float, by_deg: float) -> float:
    """An azimuth, clockwise from the front, as it counts from the new one."""
    return round((azimuth_deg - by_deg) % 360, 3) % 360


def _turned_end(azimuth_deg: float, by_deg: float, whole: bool) -> float:
    found = turned_azimuth(azimuth_deg, by_deg)
    return 360.0 if whole and found == 0 else found


def turned_tree(tree: Tree, by_deg: float) -> Tree:
    """The tree told from a front so many degrees further on: root map, pockets, sides left alone, group, ground, way, marker.

    Figures of the old front, heights and reaches, stay and are to be taken again. Raises FieldError.
    """
    fields: dict[str, object] = {"marker_deg": turned_azimuth(tree.marker_deg or 0.0, by_deg)}
    fields["root_map"] = tuple(_root(r, by_deg) for r in tree.root_map)
    if tree.roots is not None:
        fields["root_masses"] = (*tree.root_masses[:-1], _mass(tree.roots, by_deg))
    group = []
    for one in tree.group:
        x, y = (None, None) if one.x_mm is None or one.y_mm is None else turned_place(one.x_mm, one.y_mm, by_deg)
        group.append(one.changed(x_mm=x, y_mm=y, azimuth_deg=turned_azimuth(one.azimuth_deg, by_deg)))
    fields["group"] = tuple(group)
    hill = []
    for mound in tree.hill:
        x, y = turned_place(mound.x_mm, mound.y_mm, by_deg)
        # its reach along and across changes places with a quarter turn; in between it keeps its measure
        quarter = round(by_deg / 90) % 2 == 1
        reach = (mound.reach_y_mm, mound.reach_x_mm) if quarter else (mound.reach_x_mm, mound.reach_y_mm)
        hill.append(mound.changed(x_mm=x, y_mm=y, reach_x_mm=reach[0], reach_y_mm=reach[1]))
    fields["hill"] = tuple(hill)
    if tree.way is not None:
        fields["way"] = tree.way.changed(points_mm=tuple(turned_place(x, y, by_deg) for x, y in tree.way.points_mm))
    return tree.changed(**fields)


def _root(root: MapRoot, by_deg: float) -> MapRoot:
    return root.changed(
        azimuth_deg=turned_azimuth(root.azimuth_deg, by_deg),
        moved_to_deg=None if root.moved_to_deg is None else turned_azimuth(root.moved_to_deg, by_deg),
        course=tuple(turned_place(x, y, by_deg) for x, y in root.course),
    )


def _mass(roots: RootMass, by_deg: float) -> RootMass:
    x, y = turned_place(roots.offset_x_mm, roots.offset_y_mm, by_deg)
    spans = {
        name: tuple(
            one
            if one.span_deg == 360
            else one.changed(
                from_deg=turned_azimuth(one.from_deg, by_deg),
                to_deg=_turned_end(one.to_deg, by_deg, one.to_deg != one.from_deg),
            )
            for one in getattr(roots, name)
        )
        for name in ("pockets", "untouched")
    }
    quarter = round(by_deg / 90) % 2 == 1
    length, width = (roots.width_mm, roots.length_mm) if quarter else (roots.length_mm, roots.width_mm)
    return roots.changed(offset_x_mm=x, offset_y_mm=y, length_mm=length, width_mm=width, **spans)


def turned_planting(planting: Planting, by_deg: float) -> Planting:
    """A planting whose second plant and graft are told from the new front. Raises FieldError."""
    fields: dict[str, object] = {}
    if planting.companion is not None:
        one = planting.companion
        fields["companion"] = one.changed(
            from_deg=turned_azimuth(one.from_deg, by_deg), to_deg=_turned_end(one.to_deg, by_deg, True)
        )
    if planting.graft is not None:
        fields["graft"] = planting.graft.changed(azimuth_deg=turned_azimuth(planting.graft.azimuth_deg, by_deg))
    return planting.changed(**fields) if fields else planting


def turned_edits(collection: Collection, tree: str, by_deg: float) -> list[tuple[str, str, Tree | Planting]]:
    """The edits that tell a tree and its plantings from another front; none where nothing turns. Raises FieldError."""
    if by_deg % 360 == 0:
        return []
    found: list[tuple[str, str, Tree | Planting]] = [("tree", tree, turned_tree(collection.trees[tree], by_deg))]
    for planting in collection.plantings:
        if planting.tree == tree and planting.ended is None:
            changed = turned_planting(planting, by_deg)
            if changed is not planting:
                found.append(("planting", planting.id, changed))
    return found
