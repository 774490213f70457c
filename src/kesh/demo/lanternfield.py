"""The Lanternfield bench: an invented collection at an invented site, built from tables."""

from datetime import date

from kesh.demo.lives import with_lives
from kesh.demo.pots import demo_pots
from kesh.demo.specials import ADDED, special_plantings, special_pots, special_trees
from kesh.demo.specials import BRIEFS as SPECIAL_BRIEFS
from kesh.demo.specials import EVENTS as SPECIAL_EVENTS
from kesh.demo.trees import demo_trees
from kesh.model import (
    Brief,
    Collection,
    DrainageLayer,
    Event,
    Limits,
    Lineup,
    Mix,
    Month,
    Override,
    Part,
    Planting,
    Purpose,
    Rejection,
    Site,
    Stock,
    Trial,
)  # fmt: skip
from kesh.reference.tables import traditions
from kesh.science.stand.placement import stand_at_mm

# tmin, tmax (degC), rain (mm), wind (m/s), humidity (%), sun (h a day); cool temperate, 48 N, 420 m
MONTHS = (
    (-3.1, 2.2, 48, 2.4, 84, 2.0), (-2.6, 4.3, 44, 2.4, 79, 3.1), (0.4, 9.1, 52, 2.6, 72, 4.3), (3.6, 13.7, 58, 2.5, 68, 5.7),
    (7.9, 18.6, 82, 2.2, 69, 6.8), (11.1, 21.9, 90, 2.0, 70, 7.4), (12.9, 24.4, 86, 2.0, 69, 7.9), (12.6, 24.0, 80, 1.9, 71, 7.2),
    (9.2, 19.3, 62, 2.0, 77, 5.4), (5.2, 13.2, 56, 2.1, 83, 3.6), (0.9, 6.6, 58, 2.2, 86, 2.2), (-2.0, 3.0, 54, 2.4, 86, 1.6),
)  # fmt: skip

MIXES = (
    Mix(id="house-pine", name="House mix for pines", parts=(
        Part(substrate="akadama_hard_3_6", parts=2), Part(substrate="hard_pumice_6_12", parts=2), Part(substrate="lava_6_12", parts=1))),
    Mix(id="house-leaf", name="House mix for leaf trees", parts=(
        Part(substrate="akadama_hard_3_6", parts=3), Part(substrate="hard_pumice_3_6", parts=1), Part(substrate="lava_3_6", parts=1))),
    Mix(id="kanuma", name="Kanuma for azaleas", parts=(Part(substrate="kanuma_5_10", parts=4), Part(substrate="hard_pumice_6_12", parts=1))),
    Mix(id="lime-brick", name="Brick and zeolite", parts=(
        Part(substrate="crushed_brick_3_8", parts=2), Part(substrate="zeolite_2_5", parts=2), Part(substrate="compost_0_8", parts=1))),
    Mix(id="open-tray", name="Open mix for trays", parts=(
        Part(substrate="akadama_soft_6_12", parts=1), Part(substrate="hard_pumice_6_12", parts=2), Part(substrate="lava_6_12", parts=1))),
    Mix(id="old-peat", name="Old peat mix", parts=(
        Part(substrate="peat_0_5", parts=2), Part(substrate="coarse_sand_1_3", parts=1), Part(substrate="garden_loam", parts=1))),
    Mix(id="layered", name="Leaf mix over lava", parts=(
        Part(substrate="akadama_hard_3_6", parts=2), Part(substrate="fine_pumice_1_3", parts=1)),
        drainage_layer=DrainageLayer(substrate="lava_6_12", thickness_mm=14)),
)  # fmt: skip

# tree, pot, mix, date, offset x, y, raise, mound, headspace; several are wrong on purpose
PLANTED = (
    ("old-ferryman", "training-box", "house-pine", date(2022, 3, 28), -30, 10, 0, 0, None),
    ("tollgate", "gate-oval", "house-leaf", date(2024, 3, 14), 18, 8, 4, 0, None),
    ("grey-heron", "heron-dish", "house-pine", date(2024, 3, 20), 0, 0, 6, 8, None),
    ("mossback", "broom-oval", "house-leaf", date(2023, 3, 18), 0, 4, 6, 6, None),
    ("evening-bell", "bell-oval", "lime-brick", date(2023, 6, 24), 14, 4, 0, 0, None),  # lime under an azalea
    ("wicket", "slip-tray", "old-peat", date(2023, 3, 25), -40, 6, 0, 0, None),  # shallow and wet
    ("honeyjar", "honey-crock", "house-leaf", date(2022, 3, 19), 0, 0, 0, 0, None),  # the lip traps the root mass
    ("cartographer", "map-chest", "house-leaf", date(2021, 4, 24), 16, 8, 0, 0, None),  # too deep for show
    ("paper-lantern", "lantern-hex", "house-leaf", date(2024, 3, 30), 0, 0, 0, 0, None),  # not frost-proof
    ("tidewater", "tide-oval", "house-leaf", date(2022, 4, 2), -52, 0, 0, 0, None),  # roots never seen
    ("rope-ladder", "rope-tower", "old-peat", date(2021, 3, 27), 22, 0, 4, 0, None),  # tips over
    ("long-rain", "rain-jar", "layered", date(2022, 4, 9), -12, 0, -60, 20, 6),  # graft buried
    ("seven-neighbours", "neighbours-tray", "house-leaf", date(2023, 3, 12), -14, 10, 4, 14, None),
)  # fmt: skip

BRIEFS = (
    Brief(id="old-ferryman", season="best", purpose=Purpose.REFINE, horizon_years=5, school="classical", mix="house-pine",
          limits=Limits(bench_length_mm=500, doorway_mm=720, lift_kg=18, budget=260)),
    Brief(id="mossback", season="best", purpose=Purpose.SHOW, school="classical", mix="open-tray",
          stand_mm=55, limits=Limits(show_height_mm=520)),
    Brief(id="cartographer", season="best", purpose=Purpose.SHOW, school="naturalist", mix="house-pine", stand_mm=70,
          limits=Limits(lift_kg=20, show_height_mm=900, car_height_mm=700)),
    Brief(id="wicket", season="best", purpose=Purpose.TRAIN_ROOTS, school="naturalist", mix="house-leaf"),
    Brief(id="paper-lantern", season="best", purpose=Purpose.GROW_ON, school="classical", mix="house-leaf"),
    Brief(id="evening-bell", season="best", purpose=Purpose.REFINE, school="classical", mix="kanuma"),
    Brief(id="rope-ladder", season="best", purpose=Purpose.HOLD, school="classical", mix="house-leaf"),
    Brief(id="seven-neighbours", season="best", purpose=Purpose.REFINE, school="penjing", mix="open-tray"),
)  # fmt: skip

EVENTS = (
    (
        "old-ferryman",
        date(2018, 3, 30),
        "repotted",
        "Out of the field box; one third of old soil kept.",
        "training-box",
    ),
    ("old-ferryman", date(2022, 3, 28), "repotted", "Combed one half, 22 % of feeders.", "training-box"),
    ("old-ferryman", date(2026, 3, 3), "measured", "Probed along the wall: 68 mm of root.", None),
    ("tollgate", date(2024, 3, 14), "repotted", "Sawn flat, 46 % of feeders off.", "gate-oval"),
    ("wicket", date(2025, 7, 2), "note", "Water stands on the soil after rain.", None),
    ("cartographer", date(2021, 4, 24), "repotted", "Into the Map chest while the crown was rebuilt.", "map-chest"),
    ("honeyjar", date(2026, 3, 21), "root_work", "Would not lift out; cut free along the lip.", "honey-crock"),
    ("rope-ladder", date(2025, 10, 30), "note", "Blown over in the night; one root torn.", None),
)


# what lies in the shed: enough for most repottings, not for all
STOCK = (
    ("wire-aluminium-1.5", "Aluminium wire 1.5 mm", "m", 6.0), ("wire-aluminium-2", "Aluminium wire 2 mm", "m", 9.0), ("wire-aluminium-3", "Aluminium wire 3 mm", "m", 4.0),
    ("mesh-1.5", "Mesh 1.5 mm", "cm²", 900.0), ("akadama_hard_3_6", "Akadama, hard grade, 3–6 mm", "l", 12.0), ("hard_pumice_6_12", "Pumice, hard, 6–12 mm", "l", 1.0),
    ("lava_6_12", "Lava rock, 6–12 mm", "l", 5.0), ("scoop", "One scoop of yours holds", "l", 0.28),
)  # fmt: skip


def _lineup(keys: tuple[str, ...]) -> Lineup:
    """Four pots held under Old Ferryman, the trunk where the classical school would stand it."""
    pots = {pot.id: pot for pot in demo_pots()}
    row = traditions()["informal_upright", "classical"]
    trials = []
    for key in keys:
        x, y = stand_at_mm(row, "right", pots[key].length_mm, pots[key].width_mm)
        trials.append(Trial(pot=key, offset_x_mm=x, offset_y_mm=y))
    return Lineup(id="old-ferryman", pots=keys, trials=tuple(trials))


def demo_collection() -> Collection:
    """The whole collection, the same every time."""
    plantings = tuple(
        Planting(
            id=f"{tree}-{day.year}", tree=tree, pot=pot, mix=mix, date=day, offset_x_mm=x, offset_y_mm=y, raise_mm=up,
            mound_mm=mound, headspace_mm=head, **ADDED.get(tree, {}),
        )
        for tree, pot, mix, day, x, y, up, mound, head in PLANTED
    ) + special_plantings()  # fmt: skip
    events = tuple(
        Event(id=f"e{i}", tree=tree, date=day, kind=kind, text=text, pot=pot)
        for i, (tree, day, kind, text, pot) in enumerate((*EVENTS, *SPECIAL_EVENTS))
    )
    names = ("tmin_c", "tmax_c", "rain_mm", "wind_m_s", "rh_pct", "sun_h_day")
    plain = Collection(
        name="Lanternfield bench",
        site=Site(
            name="Lanternfield", latitude_deg=48.0, elevation_m=420, gust_m_s=14,
            months=tuple(Month(**dict(zip(names, row, strict=True))) for row in MONTHS),
        ),
        trees={tree.id: tree for tree in (*demo_trees(), *special_trees())},
        pots={pot.id: pot for pot in (*demo_pots(), *special_pots())},
        mixes={mix.id: mix for mix in MIXES},
        plantings=plantings,
        briefs={brief.id: brief for brief in (*BRIEFS, *SPECIAL_BRIEFS)},
        events=events,
        rejections=(
            Rejection(id="old-ferryman/barge", tree="old-ferryman", pot="barge", reason="Swallows the trunk.", date=date(2026, 2, 20)),
            Rejection(id="mossback/thrush-low", tree="mossback", pot="thrush-low", reason="Too white under a grey trunk.", date=date(2025, 11, 2)),
        ),
        overrides=(
            Override(id="seven-neighbours/width_band", tree="seven-neighbours", code="width_band", reason="I like the deep stage.", date=date(2023, 3, 12)),
        ),
        stock={key: Stock(id=key, item=item, unit=unit, have=have) for key, item, unit, have in STOCK},
        lineups={"old-ferryman": _lineup(("riverstone-oval", "iron-rectangle", "celandine-round", "ferry-tray"))},
    )  # fmt: skip
    return with_lives(plain)
