"""One invented tree for each kind of special planting, with its pot and how it is planted. No real tree, person or place."""

from datetime import date
from typing import Any

from kesh.demo.groups import group_rows
from kesh.model import (
    Aerial,
    Brief,
    Companion,
    Cutting,
    Desert,
    Graft,
    Hole,
    Keeping,
    Layer,
    Measure,
    Outline,
    Planting,
    Pot,
    Profile,
    Purpose,
    Rock,
    RockLoop,
    RockRoot,
    RootMass,
    Slab,
    Thing,
    Tree,
    Tub,
    Tube,
)

# id, name, species, style, stage, flow, year, origin
WHO: tuple[tuple[Any, ...], ...] = (
    ("twice-told", "Twice Told", "european_hornbeam", "twin_trunk", "refining", "none", 2013, "two seedlings set together"),
    ("saddlestone", "Saddlestone", "trident_maple", "root_over_rock", "developing", "right", 2020, "seedling on a rock"),
    ("stilt-house", "Stilt House", "privet", "exposed_root", "developing", "right", 2023, "seedling in a tube"),
    ("new-leaf", "New Leaf", "japanese_maple", "informal_upright", "developing", "left", 2026, "layer from a garden tree"),
    ("cellar-door", "Cellar Door", "medlar", "container_fruit_tree", "growing_on", "none", 2021, "grafted whip"),
    ("dry-well", "Dry Well", "desert_rose", "informal_upright", "growing_on", "none", 2019, "seed"),
    ("walking-stick", "Walking Stick", "willow", "formal_upright", "growing_on", "none", 2026, "cutting of a pollard"),
    ("driftline", "Driftline", "japanese_larch", "raft", "developing", "right", 2016, "fallen trunk laid down"),
)  # fmt: skip
# height, trunk above flare, at soil, mid, flare, left, right, front, back, crown base, apex, graft, opacity
SIZES: dict[str, tuple[float | None, ...]] = {
    "twice-told": (460, 48, 70, 34, 84, 170, 200, 150, 140, 130, 10, None, 0.70),
    "saddlestone": (218, 27, 40, 18, 62, 92, 128, 80, 78, 66, 14, None, 0.74),
    "stilt-house": (190, 16, 24, 11, 34, 70, 88, 64, 60, 70, 10, None, 0.66),
    "new-leaf": (310, 34, 42, 22, 44, 150, 130, 110, 100, 110, -14, None, 0.62),
    "cellar-door": (1180, 42, 58, 30, 66, 380, 400, 340, 330, 520, 0, 70, 0.58),
    "dry-well": (260, 96, 128, 40, 132, 110, 120, 96, 92, 130, 0, None, 0.42),
    "walking-stick": (330, 52, 56, 46, 58, 70, 74, 60, 60, 190, 0, None, 0.35),
    "driftline": (330, 22, 30, 15, 60, 230, 260, 120, 110, 90, 20, None, 0.52),
}
NAMES = (
    "height_mm", "trunk_diameter_mm", "trunk_at_soil_mm", "trunk_mid_mm", "flare_width_mm", "canopy_left_mm", "canopy_right_mm", "canopy_front_mm",
    "canopy_back_mm", "crown_base_mm", "apex_offset_mm", "graft_height_mm", "canopy_opacity",
)  # fmt: skip
# outline, length, width, depth, feeders
ROOTS: dict[str, tuple[Any, ...]] = {
    "twice-told": ("oval", 250, 180, 48, "even"), "saddlestone": ("oval", 190, 150, 60, "outside_bottom"), "stilt-house": ("round", 60, 60, 200, "outside_bottom"),
    "new-leaf": ("round", 96, 96, 48, "even"), "cellar-door": ("round", 300, 300, 250, "outside_bottom"), "dry-well": ("round", 150, 150, 70, "near_trunk"),
    "driftline": ("oval", 300, 120, 34, "even"),
}  # fmt: skip
# id, name, outline, profile, base inset, length, width, height, wall, floor, feet, material, finish, colour
POTS: tuple[tuple[Any, ...], ...] = (
    ("told-oval", "Told oval", "oval", "straight", 12, 330, 236, 62, 8, 9, 8, "stoneware_glazed", "muted_glaze", "#8FA58A"),
    ("saddle-tray", "Saddle tray", "oval", "straight", 10, 360, 250, 52, 8, 9, 8, "stoneware_unglazed", "unglazed", "#6F4E3B"),
    ("stilt-pipe", "Stilt pipe", "round", "tube", 0, 96, 96, 300, 4, 6, 6, "pvc_pipe", "as_made", "#57534E"),
    ("leaf-first", "First pot", "round", "straight", 12, 200, 200, 92, 7, 8, 7, "terracotta_frost_rated", "unglazed", "#B0714F"),
    ("cellar-tub", "Cellar tub", "round", "straight", 40, 470, 470, 420, 16, 18, 12, "timber_larch", "as_made", "#A58C69"),
    ("well-bowl", "Well bowl", "round", "straight", 20, 220, 220, 84, 8, 9, 7, "terracotta_frost_rated", "unglazed", "#B98A3C"),
    ("stick-crock", "Stick crock", "round", "straight", 10, 190, 190, 170, 8, 9, 7, "terracotta_frost_rated", "unglazed", "#8A4B36"),
    ("drift-slab", "Drift slab", "oval", "slab", 0, 480, 250, 26, 10, 10, 0, "stone_slab_slate", "as_made", "#5C6166"),
)  # fmt: skip

ROCK_POINTS = ((-92, 0), (92, 0), (86, 46), (54, 104), (24, 128), (-22, 126), (-58, 92), (-88, 38))
ROCK = Rock(
    points_mm=ROCK_POINTS, depth_mm=150, sunk_mm=24, x_mm=-14, y_mm=6, held="free",
    roots=(
        RockRoot(id="1", points_mm=((-16, 126), (-44, 104), (-70, 62), (-82, 24)), length_mm=190), RockRoot(id="2", points_mm=((-8, 127), (-26, 96), (-40, 56), (-46, 24)), length_mm=168),
        RockRoot(id="3", points_mm=((0, 128), (-6, 90), (-8, 54), (-6, 24)), length_mm=103), RockRoot(id="4", points_mm=((8, 128), (20, 92), (28, 54), (30, 24)), length_mm=160),
        RockRoot(id="5", points_mm=((16, 128), (40, 98), (56, 60), (62, 24)), length_mm=176), RockRoot(id="6", points_mm=((22, 127), (54, 104), (76, 62), (84, 24)), length_mm=140),
    ),
    loops=(RockLoop(z_mm=96, turns=3), RockLoop(z_mm=66, turns=3), RockLoop(z_mm=38, turns=2)),
)  # fmt: skip
THINGS = (
    Thing(id="stone", name="stone", x_mm=150, y_mm=-30, size_mm=46, kind="stone"), Thing(id="heron", name="heron", x_mm=-150, y_mm=-46, size_mm=40, kind="figure"),
    Thing(id="sedge", name="sedge", x_mm=96, y_mm=40, size_mm=36, kind="plant"),
)  # fmt: skip
# tree, pot, mix, date, offset x, y, raise, mound, what is special
PLANTED: tuple[tuple[str, str, str, date, float, float, float, float, dict[str, Any]], ...] = (
    ("twice-told", "told-oval", "house-leaf", date(2024, 3, 16), -20, 4, 2, 4, {"kind": "pair"}),
    ("saddlestone", "saddle-tray", "house-leaf", date(2026, 3, 24), -14, 6, 92, 0, {"kind": "rock", "rock": ROCK}),
    ("stilt-house", "stilt-pipe", "open-tray", date(2026, 4, 4), 0, 0, 0, 0, {
        "kind": "exposed_root", "anchors": "guys",
        "tube": Tube(**{"from": date(2027, 4, 1), "lower_mm_year": 40, "inside_mm": 88, "length_mm": 280, "top_mm": 46, "foot_mm": 34, "root_mm": 3.2, "root_length_mm": 310, "wire_mm": 6, "floor": "mesh"}),
    }),
    ("new-leaf", "leaf-first", "open-tray", date(2026, 6, 20), 0, 0, -6, 0, {
        "kind": "layer", "anchors": "guys", "layer": Layer(root_class="some", roots_at_mm=0, cut_mm=-14, spread_mm=104, depth_mm=46, ringed=date(2026, 4, 28), severed=date(2026, 6, 20)),
    }),
    ("cellar-door", "cellar-tub", "house-leaf", date(2025, 3, 14), 0, 0, -40, 0, {
        "kind": "fruit_tub", "headspace_mm": 40, "dressing_mm": 20, "dressing_mm_year": 15, "tub": Tub(stem_mm=480, stake_mm=210, mulch_mm_year=15),
    }),
    ("dry-well", "well-bowl", "open-tray", date(2026, 5, 16), 0, 0, 6, 0, {
        "kind": "desert", "anchors": "none", "desert": Desert(highest_root_mm=0, soil_mm=-2, dry_days=10, crown_roofed=True, winter="dry_warm"),
    }),
    ("walking-stick", "stick-crock", "open-tray", date(2026, 3, 8), 0, 0, 0, 0, {
        "kind": "cutting", "anchors": "none", "cutting": Cutting(set_on=date(2026, 3, 8), callus_days=8, grip_mm=118, support="stones", planted=9, alive=7, rooted=6, paste=True),
    }),
    ("driftline", "drift-slab", "open-tray", date(2025, 3, 29), 0, 4, 20, 0, {
        "kind": "slab", "slab": Slab(mound_mm=44, ring="clay_mud", ring_wide_mm=20, ring_high_mm=22, things=THINGS),
    }),
)  # fmt: skip
# how each came to stand as it does
EVENTS: tuple[tuple[str, date, str, str, str], ...] = (
    ("twice-told", date(2024, 3, 16), "repotted", "Both trunks from one block; 20 % of feeders.", "told-oval"),
    ("saddlestone", date(2026, 3, 24), "note", "Six roots bound to the rock, moss over them.", "saddle-tray"),
    ("stilt-house", date(2026, 4, 4), "note", "Into the tube, roots washed and hung straight.", "stilt-pipe"),
    ("new-leaf", date(2026, 6, 20), "note", "Severed eight weeks after the ring; roots all round.", "leaf-first"),
    ("cellar-door", date(2025, 3, 14), "note", "Potted on into the tub, roots teased out.", "cellar-tub"),
    ("dry-well", date(2026, 5, 16), "note", "Cuts dried ten days before the first water.", "well-bowl"),
    ("walking-stick", date(2026, 3, 8), "note", "Set as a cutting, a third of it in the soil.", "stick-crock"),
    ("driftline", date(2025, 3, 29), "note", "Raft laid on the slab behind a ring of clay mud.", "drift-slab"),
)
BRIEFS = (
    Brief(id="twice-told", season="best", purpose=Purpose.REFINE, school="classical", mix="house-leaf"),
    Brief(id="saddlestone", season="best", purpose=Purpose.ROCK, school="penjing", mix="house-leaf"),
    Brief(id="stilt-house", season="best", purpose=Purpose.TUBE, school="naturalist", mix="open-tray"),
    Brief(id="new-leaf", season="best", purpose=Purpose.TRAIN_ROOTS, school="classical", mix="open-tray"),
    Brief(id="cellar-door", season="best", purpose=Purpose.CROP, school="classical", mix="house-leaf"),
    Brief(id="dry-well", season="best", purpose=Purpose.DESERT, school="contemporary", mix="open-tray", keeping=Keeping(indoors_below_c=12.0)),
    Brief(id="walking-stick", season="best", purpose=Purpose.CUTTING, school="classical", mix="open-tray"),
    Brief(id="driftline", season="best", purpose=Purpose.REFINE, school="naturalist", mix="open-tray"),
)  # fmt: skip
PAIR = group_rows((("1", -24, -6, 48, 460, 4, 90), ("2", 40, 28, 31, 335, 7, 270)))
RAFT = group_rows(
    (
        ("1", -34, 0, 22, 330, 3, 90),
        ("2", -112, 12, 17, 262, 6, 90),
        ("3", 44, -8, 19, 290, 3, 270),
        ("4", 100, 16, 14, 214, 6, 270),
        ("5", 150, -4, 11, 168, 8, 270),
    )
)
# what stands in pots that were there before
ROWAN = Companion(
    name="rowan seedling", species="rowan", from_deg=232, to_deg=292, reach_share=0.55, height_mm=118, trunk_mm=4
)
LED_DOWN = Aerial(from_mm=86, out_mm=14, length_mm=64, diameter_mm=3, guide="straw", since=date(2026, 5, 10))
GRAFTED = Graft(azimuth_deg=64, half_deg=26, height_mm=74, set_on=date(2026, 4, 2), scion_mm=4.5)
ADDED: dict[str, dict[str, Any]] = {
    "wicket": {"companion": ROWAN},
    "tidewater": {"aerial": LED_DOWN},
    "tollgate": {"graft": GRAFTED},
}


def special_trees() -> list[Tree]:
    """One for each kind, with their measures of last autumn."""
    found = []
    for i, (key, name, species, style, stage, flow, year, origin) in enumerate(WHO):
        sizes = {n: v for n, v in zip(NAMES, SIZES[key], strict=True) if v is not None}
        roots: tuple[RootMass, ...] = ()
        if key in ROOTS:
            kind, long, wide, deep, feeders = ROOTS[key]
            roots = (
                RootMass(
                    seen=date(2026, 3, 3),
                    outline=Outline(kind=kind),
                    length_mm=long,
                    width_mm=wide,
                    depth_mm=deep,
                    taper=0.05,
                    feeders=feeders,
                    health="normal",
                ),
            )
        found.append(
            Tree(
                id=key, name=name, species=species, style=style, stage=stage, flow=flow, origin=origin, acquired=date(year, 4, 12), seed=47 + i,
                measures=(Measure(taken=date(2026, 9, 20), **sizes),), root_masses=roots, group={"twice-told": PAIR, "driftline": RAFT}.get(key, ()),
            )
        )  # fmt: skip
    return found


def special_pots() -> list[Pot]:
    """Their pots."""
    found = []
    for key, name, kind, profile, inset, length, width, height, wall, floor, feet, material, finish, colour in POTS:
        hole = round(max(10.0, 0.09 * min(length, width)))
        spots = ((0.0, 0.0),) if length < 260 else ((-0.22 * length, 0.0), (0.22 * length, 0.0))
        holes = () if profile == "slab" else tuple(Hole(x_mm=round(x), y_mm=y, diameter_mm=hole) for x, y in spots)
        found.append(
            Pot(
                id=key, name=name, outline=Outline(kind=kind), profile=Profile(kind=profile, base_inset_mm=inset), length_mm=length, width_mm=width, height_mm=height,
                wall_mm=wall, floor_mm=floor, feet_mm=feet, feet_style="none" if feet == 0 else "block", material=material, finish=finish, colour=colour, state="in_use", holes=holes,
            )
        )  # fmt: skip
    return found


def special_plantings() -> tuple[Planting, ...]:
    """How they are planted."""
    return tuple(
        Planting(id=f"{tree}-{day.year}", tree=tree, pot=pot, mix=mix, date=day, offset_x_mm=x, offset_y_mm=y, raise_mm=up, mound_mm=mound, **special)
        for tree, pot, mix, day, x, y, up, mound, special in PLANTED
    )  # fmt: skip
