"""The trees of the demo's groups, where they stand, the ground under them and the way through."""

from kesh.model import GroupTree, HillMound, Way

# id, x, y, thickness, height, lean, azimuth of the lean
Row = tuple[str, float | None, float | None, float, float, float, float]
NEIGHBOURS: tuple[Row, ...] = (
    ("1", -76, -62, 41, 610, 3, 90), ("2", -176, 8, 34, 545, 5, 90), ("3", 96, -52, 29, 500, 8, 270),
    ("4", -98, 54, 26, 455, 7, 270), ("5", 140, 24, 22, 430, 4, 270), ("6", 196, 66, 19, 375, 6, 270), ("7", -20, 92, 17, 340, 3, 270),
    ("A", None, None, 13, 204, 2, 270), ("B", None, None, 11, 196, 5, 90), ("C", None, None, 10, 180, 0, 0),
    ("D", None, None, 8, 160, 8, 270), ("E", None, None, 7, 138, 5, 90),
)  # fmt: skip


def group_rows(rows: tuple[Row, ...]) -> tuple[GroupTree, ...]:
    """The rows as records."""
    return tuple(
        GroupTree(id=key, x_mm=x, y_mm=y, diameter_mm=d, height_mm=h, lean_deg=lean, azimuth_deg=azimuth)
        for key, x, y, d, h, lean, azimuth in rows
    )


GROUPS: dict[str, tuple[GroupTree, ...]] = {"seven-neighbours": group_rows(NEIGHBOURS)}
HILLS: dict[str, tuple[HillMound, ...]] = {
    "seven-neighbours": (
        HillMound(x_mm=-100, y_mm=-6, height_mm=16, reach_x_mm=150, reach_y_mm=110), HillMound(x_mm=142, y_mm=14, height_mm=11, reach_x_mm=100, reach_y_mm=90),
    ),
}  # fmt: skip
WAYS: dict[str, Way] = {
    "seven-neighbours": Way(points_mm=((12, -165), (16, -90), (32, -10), (36, 60), (50, 165)), width_mm=34)
}
