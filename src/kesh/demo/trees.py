"""The invented trees of the Lanternfield bench. No real tree, person or place."""

from datetime import date
from typing import Any

from kesh.demo.groups import GROUPS, HILLS, WAYS
from kesh.model import Feature, FeatureKind, MapRoot, Measure, Outline, Pocket, RootMass, Sign, Trait, TraitKind, Tree
from kesh.model.root_map import RootKind
from kesh.model.signs import SignKind

# id, name, species, style, stage, flow, acquired year, origin
WHO = (
    ("old-ferryman", "Old Ferryman", "japanese_white_pine", "informal_upright", "refining", "right", 2009, "nursery stock"),
    ("tollgate", "Tollgate", "trident_maple", "twin_trunk", "refining", "left", 2012, "air layer"),
    ("grey-heron", "Grey Heron", "japanese_larch", "literati", "refining", "right", 2015, "seedling from a hedge"),
    ("mossback", "Mossback", "european_hornbeam", "broom", "on_show", "none", 2004, "seed"),
    ("evening-bell", "Evening Bell", "satsuki_azalea", "informal_upright", "refining", "left", 2016, "nursery stock"),
    ("wicket", "Wicket", "hawthorn", "slanting", "developing", "right", 2018, "dug from a garden"),
    ("honeyjar", "Honeyjar", "chinese_quince", "clump", "developing", "none", 2014, "cuttings joined"),
    ("cartographer", "Cartographer", "cork_oak", "informal_upright", "on_show", "left", 2006, "seed"),
    ("paper-lantern", "Paper Lantern", "ginkgo", "formal_upright", "growing_on", "none", 2019, "cutting"),
    ("tidewater", "Tidewater", "tamarisk", "windswept", "developing", "right", 2017, "cutting"),
    ("rope-ladder", "Rope Ladder", "cotoneaster", "cascade", "refining", "left", 2011, "nursery stock"),
    ("long-rain", "Long Rain", "wisteria", "semi_cascade", "developing", "right", 2013, "grafted whip"),
    ("seven-neighbours", "Seven Neighbours", "european_beech", "forest", "refining", "none", 2010, "seedlings set together"),
)  # fmt: skip

# height, trunk above flare, at soil, mid, flare, left, right, front, back, crown base, apex, drop, graft, opacity, mass
SIZES: dict[str, tuple[float | None, ...]] = {
    "old-ferryman": (560, 78, 117, 42, 117, 174, 246, 150, 140, 152, 15, None, 34, 0.78, None),
    "tollgate": (470, 64, 104, 40, 112, 235, 190, 170, 160, 128, -20, None, None, 0.82, None),
    "grey-heron": (690, 34, 46, 24, 52, 75, 205, 110, 95, 430, 78, None, None, 0.55, None),
    "mossback": (430, 58, 92, 50, 98, 228, 236, 205, 200, 140, 0, None, None, 0.70, 2.9),
    "evening-bell": (360, 52, 80, 33, 84, 210, 158, 140, 135, 92, -18, None, None, 0.85, None),
    "wicket": (410, 47, 66, 30, 70, 120, 265, 130, 120, 130, 112, None, None, 0.72, None),
    "honeyjar": (520, 44, 72, 30, 150, 190, 205, 160, 150, 150, 5, None, None, 0.68, None),
    "cartographer": (545, 96, 150, 58, 156, 250, 205, 180, 175, 170, -22, None, None, 0.74, None),
    "paper-lantern": (620, 40, 58, 29, 60, 125, 130, 115, 110, 155, 0, None, None, 0.60, None),
    "tidewater": (400, 50, 72, 30, 76, 46, 330, 125, 110, 130, 135, None, None, 0.48, None),
    "rope-ladder": (245, 42, 60, 26, 64, 265, 110, 110, 90, 60, -60, 205, None, 0.66, None),
    "long-rain": (400, 62, 88, 36, 92, 150, 340, 150, 130, 120, 80, 95, 48, 0.58, None),
    "seven-neighbours": (610, 41, 60, 30, 64, 330, 360, 190, 170, 170, 25, None, None, 0.62, None),
}
NAMES = (
    "height_mm", "trunk_diameter_mm", "trunk_at_soil_mm", "trunk_mid_mm", "flare_width_mm", "canopy_left_mm",
    "canopy_right_mm", "canopy_front_mm", "canopy_back_mm", "crown_base_mm", "apex_offset_mm", "drop_mm",
    "graft_height_mm", "canopy_opacity", "mass_kg",
)  # fmt: skip

# what was marked on a trunk: kind, height above the soil, note
FEATURES: dict[str, tuple[tuple[FeatureKind, float, str], ...]] = {
    "honeyjar": (("top_roots", 14, "two thin ones at the back"), ("wound", -9, "old saw cut at the soil")),
    "tidewater": (("aerial_root", 34, ""),),
    "cartographer": (("reverse_taper", 56, "an old graft of cork"),),
    "paper-lantern": (("tap_root", -150, ""),),
}
TRAITS: dict[str, tuple[tuple[TraitKind, int], ...]] = {
    "old-ferryman": (("rough_bark", 2), ("moving_trunk", 1)),
    "cartographer": (("rough_bark", 3), ("powerful", 2)),
    "evening-bell": (("blooms", 3),),
    "grey-heron": (("delicate", 2),),
}
# outline kind, length, width, depth, taper, offset x, y, feeders, health; Tidewater's roots were never seen
ROOTS: dict[str, tuple[Any, ...]] = {
    "old-ferryman": ("oval", 316, 216, 66, 0.10, 34, -12, "even", "normal"),
    "tollgate": ("oval", 276, 178, 46, 0.05, 6, 0, "outside_bottom", "strong"),
    "grey-heron": ("round", 152, 152, 44, 0.10, 0, 0, "even", "strong"),
    "mossback": ("oval", 262, 196, 42, 0.05, 0, 0, "near_trunk", "normal"),
    "evening-bell": ("oval", 222, 150, 46, 0.08, 4, 0, "near_trunk", "normal"),
    "wicket": ("oval", 240, 165, 66, 0.15, -14, 0, "even", "normal"),
    "honeyjar": ("round", 238, 238, 74, 0.05, 0, 0, "even", "strong"),
    "cartographer": ("rectangle", 315, 225, 84, 0.05, 4, 0, "outside_bottom", "normal"),
    "paper-lantern": ("round", 205, 205, 96, 0.12, 0, 0, "even", "strong"),
    "rope-ladder": ("round", 150, 150, 118, 0.10, 0, 0, "even", "weak"),
    "long-rain": ("round", 192, 192, 104, 0.05, 0, 0, "outside_bottom", "normal"),
    "seven-neighbours": ("oval", 455, 265, 36, 0.0, -10, 0, "even", "normal"),
}

# the roots of two trees round the clock: azimuth, thickness, reach, kind, first side root at, why it is kept
ROOT_MAPS: dict[str, tuple[tuple[float, float, float, RootKind, float | None, str], ...]] = {
    "mossback": (
        (24, 9, 62, "radial", None, ""), (66, 12, 84, "radial", 38, ""), (104, 16, 96, "circling", 44, ""),
        (142, 10, 78, "radial", None, ""), (186, 13, 66, "radial", None, "anchor"), (222, 8, 70, "crossing", 30, ""),
        (262, 14, 88, "radial", 40, ""), (300, 7, 60, "dead", None, ""), (338, 11, 70, "radial", 34, ""),
    ),
    "old-ferryman": (
        (8, 19, 78, "radial", 40, ""), (58, 12, 84, "radial", None, ""), (96, 22, 92, "radial", 46, "anchor"),
        (150, 11, 70, "radial", None, ""), (196, 14, 66, "rising", 36, ""), (238, 16, 96, "radial", None, ""),
        (292, 24, 120, "circling", 52, ""),
    ),
}  # fmt: skip
# what lies in a root mass: kind, azimuths, shares of the reach, depths
POCKETS: dict[str, tuple[Pocket, ...]] = {
    "old-ferryman": (
        Pocket(kind="clay", from_deg=118, to_deg=214, from_share=0.34, to_share=0.66, depth_from_mm=24, depth_to_mm=58),
    ),
    "wicket": (Pocket(kind="field_soil", from_deg=0, to_deg=360, to_share=0.42, depth_from_mm=14, depth_to_mm=44),),
}  # fmt: skip
# what was seen of a tree lately
SIGNS: dict[str, tuple[tuple[SignKind, str], ...]] = {
    "long-rain": (("buds", "opening"), ("white_tips", "many"), ("wobble", "firm"))
}


def _root_map(key: str) -> tuple[MapRoot, ...]:
    return tuple(
        MapRoot(id=f"r{n + 1}", azimuth_deg=a, diameter_mm=d, reach_mm=r, kind=kind, side_root_at_mm=side, keep=keep)
        for n, (a, d, r, kind, side, keep) in enumerate(ROOT_MAPS.get(key, ()))
    )


def _measure(key: str, taken: date, factor: float = 1.0) -> Measure:
    sizes = {
        name: (round(value * factor, 1) if name.endswith("_mm") else value)
        for name, value in zip(NAMES, SIZES[key], strict=True)
        if value is not None
    }
    return Measure(taken=taken, **sizes)


def demo_trees() -> list[Tree]:
    """All trees with two dated measures each, the latest last."""
    found = []
    for i, (key, name, species, style, stage, flow, year, origin) in enumerate(WHO):
        roots: tuple[RootMass, ...] = ()
        if key in ROOTS:
            kind, long, wide, deep, taper, x, y, feeders, health = ROOTS[key]
            outline = Outline(kind=kind, corner_mm=30 if kind == "rectangle" else 0)
            roots = (
                RootMass(
                    seen=date(2026, 3, 3), outline=outline, length_mm=long, width_mm=wide, depth_mm=deep, taper=taper,
                    offset_x_mm=x, offset_y_mm=y, feeders=feeders, health=health, pockets=POCKETS.get(key, ()),
                ),
            )  # fmt: skip
        found.append(
            Tree(
                id=key, name=name, species=species, style=style, stage=stage, flow=flow, origin=origin,
                acquired=date(year, 4, 12), seed=11 + i, root_masses=roots, root_map=_root_map(key),
                signs=tuple(Sign(sign=sign, value=value) for sign, value in SIGNS.get(key, ())),
                measures=(_measure(key, date(2023, 9, 17), 0.94), _measure(key, date(2025, 9, 14))),
                features=tuple(Feature(kind=k, height_mm=h, note=n) for k, h, n in FEATURES.get(key, ())),
                traits=tuple(Trait(kind=k, strength=n) for k, n in TRAITS.get(key, ())),
                group=GROUPS.get(key, ()), hill=HILLS.get(key, ()), way=WAYS.get(key),
            )
        )  # fmt: skip
    return found
