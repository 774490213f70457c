"""Random bundles through the report and through the second implementation; and through the command line once."""

import json
import math
import random
from pathlib import Path
from typing import Any

import pytest

from kesh.advice.assess import assess
from kesh.advice.case import case_for
from kesh.advice.report.whole import report
from kesh.formats.bundle import read_bundle
from kesh.line.main import main
from tests.advice.test_report_contract import bundle
from tests.independent import reference as ref

SUBSTRATES = [
    "akadama_hard_3_6", "hard_pumice_3_6", "lava_3_6", "kiryu_2_5", "kanuma_2_5", "peat_0_5", "coarse_sand_1_3", "fine_pumice_1_3",
    "lava_6_12", "zeolite_2_5",
]  # fmt: skip


def case(seed: int) -> dict[str, Any]:
    """A bundle nobody has seen, always the same for one seed."""
    r = random.Random(seed)
    kind = r.choice(["rectangle", "oval"])
    length = r.uniform(220, 520)
    width = length * r.uniform(0.6, 0.95)
    height = r.uniform(55, 200)
    base = r.uniform(0, 18)
    profile = r.choice(
        [
            {"kind": "straight", "base_inset_mm": base}, {"kind": "tube"}, {"kind": "bowed", "base_inset_mm": base, "belly_mm": r.uniform(-4, 6)},
            {"kind": "lip", "base_inset_mm": base, "lip_offset_mm": r.uniform(-8, 8), "lip_height_share": r.uniform(0.6, 0.9)},
        ]
    )  # fmt: skip
    document = bundle()
    document["pots"][0] |= {
        "outline": {"kind": kind, "corner_mm": r.choice([0, 8, 22])} if kind == "rectangle" else {"kind": kind, "exponent": 2},
        "profile": profile, "length_mm": length, "width_mm": width, "height_mm": height, "wall_mm": r.uniform(5, 11),
        "floor_mm": r.uniform(6, 12), "feet_mm": r.uniform(0, 10),
    }  # fmt: skip
    document["trees"][0]["roots"] = {
        "outline": {"kind": r.choice(["oval", "rectangle"]), "corner_mm": 0, "exponent": 2}, "length_mm": length * r.uniform(0.6, 1.02),
        "width_mm": width * r.uniform(0.6, 1.02), "depth_mm": height * r.uniform(0.5, 1.3), "taper": r.choice([0, 0, r.uniform(0.05, 0.3)]),
        "offset_x_mm": r.uniform(-20, 20), "offset_y_mm": r.uniform(-12, 12), "feeders": r.choice(["near_trunk", "even", "outside_bottom"]),
        "health": r.choice(["strong", "normal", "weak", "sick"]),
    }  # fmt: skip
    layer = (
        {"substrate": r.choice(["lava_6_12", "hard_pumice_6_12"]), "thickness_mm": r.uniform(8, 20)}
        if r.random() < 0.4
        else None
    )
    parts = [{"substrate": key, "parts": round(r.uniform(0.5, 4), 2)} for key in r.sample(SUBSTRATES, r.randint(1, 4))]
    document["mixes"][0] |= {"parts": parts, "drainage_layer": layer}
    document["substrates"] = (
        [{"key": "lava_3_6", "size_low_mm": 2.5, "size_high_mm": 7, "dry_bulk_density_g_per_l": 810}]
        if r.random() < 0.5
        else []
    )
    document["plantings"][0] |= {
        "offset_x_mm": r.uniform(-30, 30), "offset_y_mm": r.uniform(-15, 15), "raise_mm": r.uniform(-8, 15), "mound_mm": r.choice([0, 0, 18.0]),
        "headspace_mm": r.choice([None, 4.0, 10.0]), "base_layer_mm": r.choice([None, 20.0]), "clearance_mm": r.choice([None, 10.0, 22.0]),
    }  # fmt: skip
    return document


def expected(document: dict[str, Any]) -> dict[str, Any]:
    pot, plant, recipe = document["pots"][0], document["plantings"][0], document["mixes"][0]
    own = document["substrates"]
    mix = ref.mixed([(ref.row_of("substrates", p["substrate"], own), p["parts"]) for p in recipe["parts"]])
    layer = None
    if recipe["drainage_layer"]:
        given = recipe["drainage_layer"]
        layer = (ref.mixed([(ref.row_of("substrates", given["substrate"], own), 1.0)]), given["thickness_mm"])
    headspace = 6.0 if plant["headspace_mm"] is None else plant["headspace_mm"]
    depth = ref.inner_depth(pot) - headspace
    inside = pot["height_mm"] - pot["feet_mm"] - pot["floor_mm"]
    base = max(
        min(max(0.12 * inside, 3.0), 12.0) if plant["base_layer_mm"] is None else plant["base_layer_mm"],
        layer[1] if layer else 0.0,
    )
    seat = {
        "x": plant["offset_x_mm"], "y": plant["offset_y_mm"], "raise_mm": plant["raise_mm"], "base": base,
        "clearance": 15.0 if plant["clearance_mm"] is None else plant["clearance_mm"],
    }  # fmt: skip
    return {
        "inner": ref.volume_l(pot, ref.inner_depth(pot)), "fill": ref.volume_l(pot, depth), "mix": mix,
        "water": ref.water(pot, mix, depth, plant["mound_mm"], layer), "roots": ref.roots(pot, document["trees"][0]["roots"], seat),
    }  # fmt: skip


@pytest.mark.parametrize("seed", range(14))
def test_a_second_implementation_agrees(seed: int) -> None:
    document = case(seed)
    want = expected(document)
    collection = read_bundle(document)
    found = report(assess(case_for(collection, "t", pot_id="p"), collection.pots["p"]))
    g, m, w, r = found["geometry"], found["mix"], found["water"], found["roots"]
    assert g["inner_volume_l"] == pytest.approx(want["inner"], rel=1e-3)
    assert g["fill_volume_l"] == pytest.approx(want["fill"], rel=1e-3)
    for name, key in (
        ("phi_e", "phi_e"),
        ("phi_int", "phi_int"),
        ("dry_density_kg_l", "dry"),
        ("capillary_rise_mm", "rise"),
        ("n", "n"),
        ("ks_mm_s", "ks"),
    ):
        assert m[name] == pytest.approx(want["mix"][key], rel=2e-3), name
    assert m["volume_loss"] == pytest.approx(want["mix"]["loss"], abs=1e-4)
    for name, key, near in (
        ("held_l", "held", 2e-3), ("available_l", "available", 2e-3), ("air_porosity_mean", "air", 5e-3), ("air_porosity_bottom_third", "third", 1e-2),
        ("wet_height_mm", "wet_height", 3e-3), ("wet_share", "wet_share", 6e-3),
    ):  # fmt: skip
        assert w[name] == pytest.approx(want["water"][key], rel=near, abs=2e-3), name
    assert r["kept_depth_mm"] == pytest.approx(want["roots"]["kept"], abs=1e-6)
    assert r["off_bottom_mm"] == pytest.approx(want["roots"]["off"], abs=1e-6)
    assert r["removed_volume_share"] == pytest.approx(want["roots"]["volume"], abs=0.012)
    assert r["removed_feeder_share"] == pytest.approx(want["roots"]["feeders"], abs=0.014)


@pytest.mark.parametrize("seed", [3, 8])
def test_sides_and_limits_follow_from_the_narrowest_level(seed: int) -> None:
    document = case(seed)
    collection = read_bundle(document)
    found = report(assess(case_for(collection, "t", pot_id="p", season="edge"), collection.pots["p"]))["roots"]
    pot, plant, roots = document["pots"][0], document["plantings"][0], document["trees"][0]["roots"]
    q = expected(document)["roots"]["q"]
    left = (roots["offset_x_mm"] - roots["length_mm"] / 2) + plant["offset_x_mm"]
    right = (roots["offset_x_mm"] + roots["length_mm"] / 2) + plant["offset_x_mm"]
    assert found["off_left_mm"] == pytest.approx(max(0.0, -(pot["length_mm"] / 2 - q) - left), abs=0.2)
    assert found["off_right_mm"] == pytest.approx(max(0.0, right - (pot["length_mm"] / 2 - q)), abs=0.2)
    health = {"strong": 1.0, "normal": 0.85, "weak": 0.5, "sick": 0.0}[roots["health"]]
    assert found["limit_share"] == pytest.approx(0.55 * 0.7 * health)
    if found["stages"]:
        together = 1 - math.prod(1 - s["removed_feeder_share"] for s in found["stages"])
        assert together == pytest.approx(found["removed_feeder_share"])


def test_the_command_line_prints_the_same_figures(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    document = case(5)
    path = tmp_path / "b.json"
    path.write_text(json.dumps(document))
    assert main(["report", str(path), "--tree", "t", "--pot", "p", "--json"]) == 0
    printed = json.loads(capsys.readouterr().out)
    want = expected(document)
    assert printed["geometry"]["inner_volume_l"] == pytest.approx(want["inner"], rel=1e-3)
    assert printed["water"]["held_l"] == pytest.approx(want["water"]["held"], rel=2e-3)
