"""The invented pots of the Lanternfield bench."""

from typing import Any

from kesh.model import Hole, Outline, Pot, Profile

IRON, UMBER, RED, GREY, SAND = "#5A4334", "#6F4E3B", "#8A4B36", "#6B655D", "#A58C69"
INDIGO, CELADON, CREAM, OCHRE, MOSS, SMOKE = "#3E5F8A", "#8FA58A", "#D9CDB2", "#B98A3C", "#66744C", "#57534E"

# id, name, outline, corner or exponent or sides, profile, base inset, belly or lip offset, length, width, height, wall,
# floor, feet, material, finish, colour, price, state
ROWS: tuple[tuple[Any, ...], ...] = (
    ("riverstone-oval", "Riverstone oval", "oval", 2, "straight", 14, 0, 385, 290, 78, 8, 9, 9, "stoneware_unglazed", "unglazed", RED, 140, "shelf"),
    ("iron-rectangle", "Iron rectangle", "rectangle", 12, "lip", 16, 7, 360, 255, 96, 8, 9, 10, "stoneware_unglazed", "unglazed", IRON, 180, "shelf"),
    ("training-box", "Training box", "rectangle", 4, "tube", 0, 0, 350, 260, 135, 14, 16, 12, "timber_larch", "as_made", SAND, 30, "in_use"),
    ("celandine-round", "Celandine round", "round", 0, "bowed", 26, -4, 300, 300, 98, 8, 9, 9, "stoneware_glazed", "bright_glaze", INDIGO, 210, "wish"),
    ("grey-drum", "Grey drum", "round", 0, "bowed", 8, 9, 270, 270, 82, 8, 9, 8, "stoneware_unglazed", "unglazed", GREY, 120, "shelf"),
    ("barge", "Barge", "rectangle", 8, "straight", 12, 0, 470, 310, 76, 9, 10, 10, "stoneware_unglazed", "unglazed", UMBER, 260, "shelf"),
    ("chalk-oval", "Chalk oval", "oval", 2, "straight", 16, 0, 330, 235, 66, 7, 8, 8, "stoneware_glazed", "muted_glaze", CREAM, 110, "in_use"),
    ("ochre-rectangle", "Ochre rectangle", "rectangle", 14, "lip", 12, 6, 310, 225, 76, 7, 8, 9, "stoneware_glazed", "muted_glaze", OCHRE, 130, "shelf"),
    ("slip-tray", "Slip tray", "oval", 2, "straight", 10, 0, 360, 260, 44, 7, 8, 6, "stoneware_unglazed", "unglazed", MOSS, 90, "in_use"),
    ("ferry-tray", "Ferry tray", "rectangle", 26, "straight", 10, 0, 384, 286, 91, 7, 8, 7, "stoneware_unglazed", "unglazed", "#B8A083", 240, "design"),
    ("heron-dish", "Heron dish", "round", 0, "bowed", 24, -3, 205, 205, 68, 7, 8, 7, "stoneware_unglazed", "unglazed", SMOKE, 75, "in_use"),
    ("nanban-round", "Rough round", "round", 0, "bowed", 20, 4, 228, 228, 78, 9, 9, 6, "raku_smoke_fired", "unglazed", SMOKE, 95, "shelf"),
    ("broom-oval", "Thrush oval", "oval", 2, "straight", 12, 0, 312, 244, 58, 7, 8, 8, "stoneware_glazed", "muted_glaze", CELADON, 160, "in_use"),
    ("thrush-low", "Thrush low", "oval", 2.4, "straight", 9, 0, 338, 250, 52, 7, 8, 8, "stoneware_glazed", "muted_glaze", CREAM, 150, "shelf"),
    ("bell-oval", "Bell oval", "oval", 2, "bowed", 20, -3, 275, 210, 84, 7, 8, 8, "stoneware_glazed", "bright_glaze", INDIGO, 145, "in_use"),
    ("bell-rect", "Bell rectangle", "rectangle", 16, "straight", 12, 0, 272, 206, 74, 7, 8, 8, "stoneware_glazed", "muted_glaze", CELADON, 120, "shelf"),
    ("gate-oval", "Gate oval", "oval", 2, "lip", 12, 6, 322, 236, 74, 8, 9, 9, "stoneware_glazed", "muted_glaze", SMOKE, 155, "in_use"),
    ("gate-tray", "Gate tray", "oval", 2, "straight", 8, 0, 352, 262, 60, 8, 9, 8, "stoneware_unglazed", "unglazed", RED, 170, "shelf"),
    ("honey-crock", "Honey crock", "round", 0, "lip", -14, -22, 262, 262, 128, 9, 10, 8, "stoneware_glazed", "bright_glaze", OCHRE, 130, "in_use"),
    ("honey-lobed", "Quince flower", "lobed", 0.10, "straight", 14, 0, 340, 270, 84, 8, 9, 9, "stoneware_glazed", "bright_glaze", "#7F9FA8", 230, "shelf"),
    ("map-chest", "Map chest", "rectangle", 6, "straight", 10, 0, 395, 285, 165, 10, 11, 12, "stoneware_unglazed", "unglazed", IRON, 280, "in_use"),
    ("map-case", "Map case", "rectangle", 10, "straight", 14, 0, 392, 284, 112, 9, 10, 10, "stoneware_unglazed", "unglazed", UMBER, 250, "shelf"),
    ("lantern-hex", "Lantern hexagon", "polygon", 6, "straight", 16, 0, 260, 225, 128, 8, 9, 8, "earthenware_glazed", "bright_glaze", INDIGO, 85, "in_use"),
    ("lantern-oct", "Lantern octagon", "polygon", 8, "straight", 14, 0, 300, 300, 104, 8, 9, 9, "stoneware_glazed", "muted_glaze", CREAM, 190, "wish"),
    ("tide-oval", "Tide oval", "oval", 2, "bowed", 18, -3, 335, 225, 72, 8, 9, 8, "stoneware_unglazed", "unglazed", GREY, 130, "in_use"),
    ("tide-slab", "Tide slab", "free", 0, "slab", 0, 0, 420, 260, 28, 10, 10, 0, "stone_slab_slate", "as_made", "#5C6166", 160, "shelf"),
    ("rope-tower", "Rope tower", "rectangle", 10, "straight", 20, 0, 188, 188, 235, 9, 10, 10, "stoneware_unglazed", "unglazed", RED, 170, "in_use"),
    ("rope-tall", "Rope cylinder", "round", 0, "straight", 12, 0, 214, 214, 205, 9, 10, 8, "stoneware_glazed", "muted_glaze", MOSS, 165, "shelf"),
    ("rain-jar", "Rain jar", "round", 0, "straight", 18, 0, 240, 240, 172, 8, 9, 9, "stoneware_glazed", "bright_glaze", "#47688C", 190, "in_use"),
    ("rain-square", "Rain square", "rectangle", 12, "straight", 16, 0, 252, 252, 160, 8, 9, 9, "stoneware_glazed", "muted_glaze", CELADON, 175, "shelf"),
    ("neighbours-tray", "Neighbours' tray", "oval", 2, "straight", 10, 0, 560, 350, 58, 9, 10, 8, "stoneware_unglazed", "unglazed", GREY, 320, "in_use"),
    ("long-meadow", "Long meadow", "oval", 2, "straight", 8, 0, 640, 400, 52, 10, 11, 8, "stoneware_glazed", "muted_glaze", CELADON, 380, "wish"),
    ("short-square", "Short square", "rectangle", 8, "straight", 8, 0, 180, 180, 88, 7, 8, 8, "stoneware_unglazed", "unglazed", SAND, 60, "shelf"),
    ("small-oval", "Wren oval", "oval", 2, "straight", 8, 0, 212, 158, 50, 6, 7, 6, "stoneware_glazed", "muted_glaze", MOSS, 55, "shelf"),
    ("porcelain-oval", "White oval", "oval", 2, "straight", 12, 0, 296, 218, 70, 6, 6, 8, "porcelain", "bright_glaze", "#E6E2D6", 220, "wish"),
    ("terracotta-tub", "Terracotta tub", "round", 0, "straight", 28, 0, 330, 330, 190, 12, 13, 0, "earthenware_low_fired", "unglazed", "#B5694A", 18, "shelf"),
    ("mesh-crate", "Pond crate", "rectangle", 20, "straight", 10, 0, 380, 300, 150, 2, 2, 4, "polypropylene", "as_made", "#3C3A38", 6, "shelf"),
    ("uncut-oval", "Undrilled oval", "oval", 2, "straight", 13, 0, 370, 270, 84, 8, 9, 8, "stoneware_glazed", "muted_glaze", SMOKE, 45, "shelf"),
    ("cloud-rect", "Cloud rectangle", "rectangle", 10, "lip", 15, 6, 412, 290, 104, 9, 10, 11, "stoneware_unglazed", "unglazed", RED, 290, "ordered"),
    ("waist-oval", "Otter oval", "oval", 2, "bowed", 10, 5, 340, 250, 84, 8, 9, 9, "stoneware_unglazed", "unglazed", UMBER, 135, "shelf"),
)  # fmt: skip

SLAB_POINTS = (
    (-205, -40),
    (-150, -115),
    (-20, -128),
    (110, -120),
    (205, -60),
    (198, 40),
    (120, 118),
    (-40, 128),
    (-160, 96),
)
NO_HOLES = frozenset({"uncut-oval"})
UNSEEN_HOLES = frozenset({"lantern-oct"})
MEASURED = {"riverstone-oval": (4.6, 3.2), "chalk-oval": (2.35, None), "map-case": (None, 6.9)}
DEFECTS = {"grey-drum": "chip on the rear foot", "ochre-rectangle": "hairline under the lip"}


def _holes(key: str, length: float, width: float, inset: float) -> tuple[Hole, ...]:
    if key in NO_HOLES or key in UNSEEN_HOLES:
        return ()
    lf, wf = length - 2 * inset, width - 2 * inset
    big = max(14.0, round(0.125 * (lf + wf) / 2))
    spots = [(0.0, 0.0)] if lf < 220 else [(-0.26 * lf, 0.0), (0.26 * lf, 0.0)]
    if lf > 420:
        spots = [(-0.32 * lf, 0.0), (0.0, 0.0), (0.32 * lf, 0.0)]
    drains = tuple(Hole(x_mm=round(x), y_mm=y, diameter_mm=big) for x, y in spots)
    ties = tuple(
        Hole(x_mm=round(sx * 0.30 * lf), y_mm=round(sy * 0.22 * wf), diameter_mm=5) for sy in (-1, 1) for sx in (-1, 1)
    )
    return drains + (ties if lf > 200 else ())


# designs that were drawn for a tree
MADE_FOR = {"ferry-tray": "old-ferryman", "cloud-rect": "cartographer"}


def demo_pots() -> list[Pot]:
    """Forty pots: own, in use, wished for, ordered and designed."""
    found = []
    for row in ROWS:
        (
            key,
            name,
            kind,
            shape,
            profile,
            base,
            extra,
            length,
            width,
            height,
            wall,
            floor,
            feet,
            material,
            finish,
            colour,
            price,
            state,
        ) = row
        outline = {
            "rectangle": lambda s: Outline(kind="rectangle", corner_mm=s),
            "oval": lambda s: Outline(kind="oval", exponent=s),
            "round": lambda s: Outline(kind="round"),
            "polygon": lambda s: Outline(kind="polygon", sides=s, corner_mm=6),
            "lobed": lambda s: Outline(kind="lobed", lobes=6, lobe_depth=s, lobe_style="cusp"),
            "free": lambda s: Outline(kind="free", points_mm=SLAB_POINTS),
        }[kind](shape)
        wall_line = {"bowed": {"belly_mm": extra}, "lip": {"lip_offset_mm": extra, "lip_height_share": 0.82}}.get(
            profile, {}
        )
        volume, mass = MEASURED.get(key, (None, None))
        style = (
            "none"
            if profile == "slab" or feet == 0
            else "cloud"
            if finish != "unglazed" and kind != "round"
            else "ring"
            if kind == "round"
            else "block"
        )
        found.append(
            Pot(
                id=key, name=name, outline=outline, profile=Profile(kind=profile, base_inset_mm=base, **wall_line),
                length_mm=length, width_mm=width, height_mm=height, wall_mm=wall, floor_mm=floor, feet_mm=feet,
                feet_style=style, material=material, finish=finish, colour=colour, price=price, state=state,
                holes=() if profile == "slab" else _holes(key, length, width, max(base, 0) + wall),
                holes_known=key not in UNSEEN_HOLES, measured_volume_l=volume, measured_mass_kg=mass,
                defects=DEFECTS.get(key, ""), made_for=MADE_FOR.get(key),
            )
        )  # fmt: skip
    return found
