"""Plans of special plantings: what is found, cut, done and cared for, from figures that are known."""

import math
import sys
from datetime import date
from pathlib import Path
from typing import Any

import pytest

from kesh.advice.assess import assess
from kesh.advice.case import case_for
from kesh.advice.kinds.kinds import kind_of, kind_rows
from kesh.advice.kinds.plan import Setting, SpecialPlan
from kesh.advice.kinds.registry import kinds, special_plan
from kesh.advice.kinds.rock_hand import seated_mm
from kesh.advice.planting.plan import PlantingPlan
from kesh.base.errors import FieldError
from kesh.base.units import Units
from kesh.demo.lanternfield import demo_collection
from kesh.desk.special import record_of, rows_of, with_field, with_kind
from kesh.model import (
    Brief,
    Collection,
    Companion,
    Cutting,
    Desert,
    Graft,
    Layer,
    Planting,
    Purpose,
    Rock,
    RockLoop,
    RockRoot,
    Slab,
    Tub,
    Tube,
)
from kesh.reference.schools import schools, special_purposes
from tests.builders import MIX, SITE, pot, tree

DAY = date(2026, 3, 20)
BLOCK = Rock(
    points_mm=((-60, 0), (60, 0), (60, 100), (-60, 100)), depth_mm=120, sunk_mm=20, roots=(RockRoot(id="1", points_mm=((0, 100), (-60, 100), (-60, 20)), length_mm=180),),
    loops=(RockLoop(z_mm=50, turns=3),),
)  # fmt: skip


def setting(
    special: dict[str, Any],
    *,
    t: dict[str, Any] | None = None,
    p: dict[str, Any] | None = None,
    today: date = DAY,
    purpose: Purpose = Purpose.REFINE,
) -> Setting:
    made = tree(**(t or {}))
    planted = Planting(id="p", tree="maple", pot="tray", mix="house", date=DAY, **special)
    c = Collection(
        site=SITE,
        trees={"maple": made},
        pots={"tray": pot(**(p or {}))},
        mixes={"house": MIX},
        plantings=(planted,),
        briefs={"maple": Brief(id="maple", purpose=purpose)},
    )
    a = assess(case_for(c, "maple", pot_id="tray", on=DAY), c.pots["tray"])
    return Setting(a, planted, Units(), today)


def plan(special: dict[str, Any], **more: Any) -> SpecialPlan:
    found = special_plan(setting(special, **more))
    assert found is not None
    return found


def status(p: SpecialPlan, code: str) -> str:
    return next(f.status for f in p.findings if f.code == code)


def value(p: SpecialPlan, code: str) -> float | None:
    return next(f.value for f in p.findings if f.code == code)


def test_a_rock_s_ways_bindings_and_pins() -> None:
    p = plan({"rock": BLOCK, "raise_mm": 74})
    # 60 across the top, 80 down, 40 in the soil
    assert status(p, "rock_root") == "fits"
    loop = next(c for c in p.cuts if c.name == "A")
    assert loop.total_mm == pytest.approx(3 * math.pi * 120 + 60, abs=1)
    short = plan({"rock": BLOCK.changed(roots=(BLOCK.roots[0].changed(length_mm=125),))})
    assert value(short, "rock_root") == pytest.approx(55)
    assert next(c for c in short.cuts if c.name == "pins").count == 2
    unknown = plan(
        {"rock": BLOCK.changed(roots=(BLOCK.roots[0].changed(length_mm=None),), loops=(RockLoop(z_mm=400),))}
    )
    assert status(unknown, "rock_root_length") == "unknown"
    assert status(unknown, "rock_loop") == "no"
    assert status(plan({"rock": BLOCK.changed(x_mm=180)}), "rock_room") == "no"
    assert status(plan({"rock": BLOCK.changed(density_kg_l=0.2)}), "rock_tied") == "watch"
    assert status(plan({"rock": BLOCK.changed(density_kg_l=0.2, held="wires")}), "rock_tied") == "fits"
    assert [s.title for s in p.stages] == ["Covered", "First look", "Moss down a third", "Two thirds", "Bare"]


def test_the_rock_is_carried_and_tips_with_the_pot() -> None:
    bare, laden = setting({}).a.figures.stand, setting({"rock": BLOCK}).a.figures.stand
    assert bare is not None
    assert laden is not None
    rock_kg = math.pi / 4 * 120 * 120 * 100 / 1e6 * 2.6
    assert float(laden.mass_dry_kg[0] - bare.mass_dry_kg[0]) == pytest.approx(rock_kg, rel=1e-4)
    stone = setting({"counterweight_kg": 3.0}).a.figures.stand
    assert stone is not None
    assert float(stone.mass_dry_kg[0] - bare.mass_dry_kg[0]) == pytest.approx(3.0)
    assert float(stone.cog_height_mm[0]) < float(bare.cog_height_mm[0])


def test_a_tube_by_its_bundle_and_its_years() -> None:
    tube = Tube.model_validate(
        {
            "from": "2026-04-01",
            "lower_mm_year": 40,
            "top_mm": 46,
            "foot_mm": 34,
            "root_length_mm": 230,
            "root_mm": 2,
            "inside_mm": 90,
            "length_mm": 200,
            "turns": 5,
            "pitch_mm": 40,
        }
    )
    p = plan({"tube": tube})
    assert status(p, "tube_inside") == "fits"
    assert status(p, "tube_length") == "fits"
    assert next(c for c in p.cuts if c.name == "cage").total_mm == pytest.approx(
        sum(math.hypot(math.pi * (46 - 12 * (k + 0.5) / 5), 40) for k in range(5)) + 100
    )
    assert [s.day for s in p.stages] == [date(2026 + n, 4, 1) for n in range(5)]
    tight = plan({"tube": tube.changed(inside_mm=60, root_length_mm=150, wire_mm=2, root_mm=9)})
    assert (
        status(tight, "tube_inside"),
        status(tight, "tube_length"),
        status(tight, "tube_gauge"),
        status(tight, "tube_bend"),
    ) == ("no", "watch", "watch", "watch")
    tape = plan({"tube": tube.changed(floor="tape")})
    assert status(tape, "tube_floor") == "watch"
    bare = plan({"tube": Tube(), "kind": "exposed_root"})
    assert {status(bare, "tube_inside"), status(bare, "tube_length")} == {"unknown"}


def test_a_cascade_wants_air_and_weight() -> None:
    hanging = {"style": "cascade", "flow": "left", "m": {"drop_mm": 90.0, "canopy_left_mm": 320}}
    p = plan({}, t=hanging)
    assert value(p, "tail_air") == pytest.approx(10)
    assert status(p, "tail_air") == "watch"
    assert status(plan({}, t={**hanging, "m": {"drop_mm": 160.0}}), "tail_air") == "no"
    assert status(plan({}, t={**hanging, "m": {"drop_mm": None}}), "tail_air") == "unknown"
    tall = plan(
        {},
        t={**hanging, "m": {"drop_mm": 90.0, "canopy_left_mm": 500, "mass_kg": 20.0}},
        p={"length_mm": 150, "width_mm": 150, "height_mm": 300},
    )
    assert status(tall, "tail_tips") in ("watch", "no")
    need = next(f for f in tall.figures if f.label == "Counterweight")
    assert float(need.text.split()[0]) > 0


def test_a_layer_s_leaf_cut_and_first_pot() -> None:
    p = plan(
        {"layer": Layer(root_class="few", cut_mm=-6, spread_mm=160, depth_mm=60)}, p={"length_mm": 240, "width_mm": 240}
    )
    assert status(p, "layer_cut") == "watch"
    assert value(p, "layer_leaf") == 0.3
    # 160 and 30 all round fit into 224, 72 of soil into 78 less 6
    assert status(p, "layer_pot") == "fits"
    assert (
        status(plan({"layer": Layer(spread_mm=200, depth_mm=60)}, p={"length_mm": 240, "width_mm": 240}), "layer_pot")
        == "no"
    )
    assert status(plan({"layer": Layer(severed=date(2024, 6, 1))}), "layer_combing") == "fits"


def test_a_cutting_s_grip_and_count() -> None:
    low = {"m": {"height_mm": 500, "trunk_at_soil_mm": 60}}
    p = plan({"cutting": Cutting(planted=4, rooted=3)}, t=low)
    # the pot gives 84 mm, 125 are asked
    assert (status(p, "grip"), value(p, "grip")) == ("no", pytest.approx(84))
    assert status(plan({"cutting": Cutting(support="rods")}, t=low), "grip") == "watch"
    assert status(plan({"cutting": Cutting(grip_mm=130)}, t=low), "grip") == "fits"
    assert "3 of 4" in next(f.text for f in p.findings if f.code == "cutting_count")
    assert status(plan({"cutting": Cutting(planted=2, alive=3)}), "cutting_count") == "no"
    assert status(plan({"cutting": Cutting(callus_days=30)}), "callus") == "watch"
    assert [c.start_day for c in p.care] == [14, 28, 56]
    assert plan({"cutting": Cutting(support="rods")}, t=low).cuts[0].count == 2


def test_a_tub_s_stake_taper_and_mulch() -> None:
    p = plan(
        {"tub": Tub(stem_mm=480, stake_mm=300, mulch_mm_year=10)},
        p={"profile": {"base_inset_mm": 60}, "height_mm": 120},
    )
    assert status(p, "tub_stake") == "watch"
    assert status(p, "tub_taper") == "watch"
    assert status(plan({"tub": Tub(stem_mm=480, stake_mm=200)}), "tub_stake") == "fits"
    assert status(plan({"tub": Tub()}), "tub_stake") == "unknown"
    assert not any(f.code == "tub_stake" for f in plan({"tub": Tub(stem_mm=480, staked=False)}).findings)
    assert status(plan({"tub": Tub(stem_mm=1)}, p={"profile": {"kind": "bowed", "belly_mm": 20}}), "tub_mouth") == "no"
    stake = next(c for c in plan({"tub": Tub(stem_mm=480)}).cuts if c.name == "stake")
    assert stake.total_mm == pytest.approx(200 + 84)


def test_a_desert_plant_s_soil_frost_and_wait() -> None:
    dry = {"species": "desert_rose"}
    p = plan({"desert": Desert(highest_root_mm=0, soil_mm=9, winter="out")}, t=dry)
    assert (status(p, "desert_soil"), status(p, "desert_frost"), status(p, "desert_crown")) == ("no", "no", "watch")
    good = plan({"desert": Desert(soil_mm=5, crown_roofed=True)}, t=dry)
    assert (status(good, "desert_soil"), status(good, "desert_frost"), status(good, "desert_crown")) == (
        "fits",
        "fits",
        "fits",
    )
    assert status(plan({"desert": Desert(dry_days=2)}, t=dry), "desert_dry") == "watch"
    assert status(plan({"desert": Desert()}, t={"species": None}), "desert_frost") == "unknown"


def test_shares_and_sectors() -> None:
    p = plan({"companion": Companion(name="rowan", from_deg=0, to_deg=90, height_mm=100, trunk_mm=4)})
    share = value(p, "companion_share")
    assert share == pytest.approx(0.25, abs=0.01)
    assert status(plan({"companion": Companion(from_deg=0, to_deg=200)}), "companion_share") == "watch"
    assert status(plan({"companion": Companion()}, t={"roots": None}), "companion_share") == "unknown"
    g = plan({"graft": Graft(azimuth_deg=10, half_deg=20, set_on=date(2024, 3, 1), grows_alone=True)})
    assert status(g, "graft_fused") == "fits"
    assert status(plan({"graft": Graft(set_on=date(2024, 3, 1))}), "graft_fused") == "watch"


def test_a_slab_s_mound_and_ring() -> None:
    flat = {"profile": {"kind": "slab"}, "length_mm": 480, "width_mm": 260, "height_mm": 26}
    p = plan({"slab": Slab(mound_mm=40, reach_x_mm=200, reach_y_mm=100)}, p=flat)
    assert status(p, "slab_slope") == "fits"
    assert f"{math.pi * 200 * 100 * 40 / 2 / 1e6:.2f}" in p.title
    assert (
        status(plan({"slab": Slab(mound_mm=90, reach_x_mm=200, reach_y_mm=60, ring="none")}, p=flat), "slab_slope")
        == "no"
    )
    assert status(plan({"slab": Slab(reach_x_mm=300)}, p=flat), "slab_edge") == "no"


@pytest.mark.parametrize("kind", [k for k in kind_rows() if k not in ("plain", "group", "pair")])
def test_a_kind_of_which_nothing_is_known_says_what_would_settle_it(kind: str) -> None:
    p = special_plan(
        setting(
            {"kind": kind},
            t={
                "species": None,
                "m": {"height_mm": None, "trunk_diameter_mm": None, "trunk_at_soil_mm": None},
                "roots": None,
            },
        )
    )
    assert p is not None
    assert p.title
    assert all(f.remedy for f in p.findings if f.status == "unknown")
    assert any(f.status == "unknown" for f in p.findings) or kind in ("graft", "slab", "aerial")


@pytest.mark.parametrize("kind", [k for k in kind_rows() if k not in ("plain", "group", "pair")])
@pytest.mark.parametrize("shape", ["tray", "slab", "drum", "tiny"])
def test_every_kind_is_reckoned_in_every_pot(kind: str, shape: str) -> None:
    shapes: dict[str, dict[str, Any]] = {
        "tray": {}, "slab": {"profile": {"kind": "slab"}, "height_mm": 25}, "drum": {"width_mm": 400, "outline": {"kind": "round"}, "profile": {"kind": "bowed", "belly_mm": 12}}, "tiny": {"length_mm": 40, "width_mm": 30, "height_mm": 24, "wall_mm": 3, "floor_mm": 4},
    }  # fmt: skip
    base = setting({}, p=shapes[shape])
    planted = with_kind(base.planting, kind, base.a.case.tree, base.a.pot)
    s = setting(
        {
            n: getattr(planted, n)
            for n in (
                "kind",
                "rock",
                "tube",
                "layer",
                "tub",
                "desert",
                "cutting",
                "companion",
                "slab",
                "aerial",
                "graft",
                "raise_mm",
            )
        },
        p=shapes[shape],
    )
    p = special_plan(s)
    assert p is not None
    assert p.kind == kind
    whole = PlantingPlan(s.a, Units(), DAY)
    own, keys = kinds()[kind], [step.key for step in whole.steps]
    assert keys == [key for key in own.order if key in keys]
    assert {step.key for step in own.steps(s)} & set(own.order) <= set(keys)
    assert {row.step for row in p.care} <= {row.step for row in whole.aftercare()}
    assert len({row.step for row in whole.aftercare()}) <= len(whole.aftercare())


def test_a_kind_has_its_own_order_of_work() -> None:
    s = setting({"rock": BLOCK, "kind": "rock"})
    keys = [step.key for step in PlantingPlan(s.a, Units(), DAY).steps]
    assert keys.index("wash") < keys.index("arrange") < keys.index("bind") < keys.index("moss") < keys.index("set")
    assert not {"comb", "tie", "screens"} & set(keys), "roots on a rock are not combed, and its wires are its own"


def test_rules_of_display_are_off_where_they_do_not_belong_and_said_so() -> None:
    codes = {f.code for f in setting({}).a.findings}
    assert {"depth_band", "length_band"} <= codes
    assert "switched_off" not in codes
    for off, a in (
        ({"depth_band", "length_band", "width_band"}, setting({"kind": "exposed_root"}).a), ({"depth_band", "length_band", "width_band"}, setting({}, purpose=Purpose.CROP).a),
        ({"depth_band"}, setting({}, purpose=Purpose.DESERT).a),
    ):  # fmt: skip
        found = {f.code: f for f in a.findings}
        assert not off & set(found)
        assert "not asked" in found["switched_off"].text
    # a style alone switches nothing off: that is chosen
    assert "depth_band" in {f.code for f in setting({}, t={"style": "cascade", "m": {"drop_mm": 100.0}}).a.findings}


def test_every_school_knows_every_purpose() -> None:
    for school in schools().values():
        assert set(school.purposes) >= {p.value for p in Purpose}
    assert set(special_purposes()) == {"cutting", "forest", "cascade", "tube", "rock", "crop", "desert"}


def test_the_kind_comes_from_the_choice_the_record_or_the_style() -> None:
    planted = Planting(id="p", tree="maple", pot="tray")
    assert kind_of(planted, tree()) == "plain"
    assert kind_of(planted, tree(style="cascade")) == "cascade"
    assert kind_of(planted.changed(slab=Slab()), tree(style="cascade")) == "slab"
    assert kind_of(planted.changed(slab=Slab(), kind="plain"), tree()) == "plain"
    assert kind_of(None, tree(style="root_over_rock")) == "rock"


def test_fields_change_what_they_name_and_a_rock_keeps_its_tree_on_top() -> None:
    s = setting({})
    rocky = with_kind(s.planting, "rock", s.a.case.tree, s.a.pot)
    assert rocky.raise_mm == seated_mm(rocky, s.a.pot) > 50
    deeper = with_field(rocky, "rock", "sunk_mm", 60.0, s.a.case.tree, s.a.pot)
    assert deeper.raise_mm < rocky.raise_mm
    with pytest.raises(FieldError, match="sunk_mm"):
        with_field(rocky, "rock", "sunk_mm", -5.0, s.a.case.tree, s.a.pot)
    with pytest.raises(FieldError, match="no kind"):
        with_kind(s.planting, "hedge", s.a.case.tree, s.a.pot)
    for kind in kind_rows():
        for one in rows_of(kind):
            record = record_of(with_kind(s.planting, kind, s.a.case.tree, s.a.pot), kind)
            assert hasattr(record, one.name), (kind, one.name)


def test_the_demo_has_one_of_each_and_its_report_tells_of_it() -> None:
    from kesh.line.verbs.report import run_report

    c = demo_collection()
    kinds = {kind_of(p, c.trees[p.tree]) for p in c.plantings if p.ended is None}
    assert kinds >= set(kind_rows()) - {"plain"}
    found = run_report(c, "saddlestone", "saddle-tray", None, None, None, None, date(2026, 11, 28))
    assert found["special"]["kind"] == "rock"
    assert [cut["name"] for cut in found["special"]["cuts"]] == ["A", "B", "C", "pins"]
    assert any(f["code"] == "rock_root" for f in found["findings"])
    assert run_report(c, "mossback", "broom-oval", None, None, None, None, DAY)["special"] is None


def test_a_kind_is_a_file(monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    import kesh.advice.kinds as folder
    from kesh.advice.kinds.kinds import files_of_kinds
    from kesh.advice.kinds.registry import kinds

    (tmp_path / "moss_ball.py").write_text(
        '"""A tree in a ball of moss."""\n'
        "from kesh.advice.kinds.kind import FieldRow, Kind\n"
        "from kesh.advice.kinds.kinds import KindRow\n"
        "from kesh.advice.kinds.plan import SpecialPlan\n"
        'KIND = Kind(KindRow("moss_ball", 20, "Moss ball", "It hangs in a ball of moss."), fields=(FieldRow("raise_mm", "Hangs", "mm"),),\n'
        '    make=lambda s: SpecialPlan("moss_ball", "A ball of moss"))\n'
    )
    caches = (files_of_kinds, kind_rows, kinds)
    monkeypatch.setattr(folder, "__path__", [*folder.__path__, str(tmp_path)])
    try:
        for held in caches:
            held.cache_clear()
        assert list(kinds())[-1] == "moss_ball"
        assert kind_rows()["moss_ball"].words == "Moss ball"
        assert [f.label for f in rows_of("moss_ball")] == ["Hangs"]
    finally:
        monkeypatch.undo()
        sys.modules.pop("kesh.advice.kinds.moss_ball", None)
        for held in caches:
            held.cache_clear()
    assert "moss_ball" not in kinds()
