"""The public contract: keys, units and signs of the report, and figures followed by hand from a bundle."""

import json
import math
from datetime import date
from typing import Any

import numpy as np
import pytest

from kesh.advice.assess import assess
from kesh.advice.case import case_for
from kesh.advice.report.whole import report
from kesh.base.errors import BundleError, FieldError
from kesh.formats.bundle import read_bundle
from kesh.geometry.feet import feet_volume_mm3

KEYS = {
    "proportion": {"depth_ratio", "length_ratio", "width_ratio", "visual_mass_ratio", "targets"},
    "geometry": {"inner_volume_l", "fill_volume_l", "inner_depth_mm", "soil_surface_cm2", "body_volume_cm3", "body_mass_kg", "undercut_mm", "mouth_clear", "hole_area_cm2"},
    "roots": {"kept_depth_mm", "off_bottom_mm", "off_left_mm", "off_right_mm", "off_front_mm", "off_back_mm", "removed_volume_share", "removed_feeder_share", "limit_share", "stages", "min_clearance_mm"},
    "mix": {"phi_e", "phi_int", "dry_density_kg_l", "volume_loss", "capillary_rise_mm", "n", "ks_mm_s"},
    "water": {"held_l", "available_l", "air_porosity_mean", "air_porosity_bottom_third", "wet_height_mm", "wet_share", "et_peak_l_day", "days_between_watering_peak"},
    "stability": {"mass_dry_kg", "mass_wet_kg", "cog_height_mm", "tip_angle_deg", "tip_wind_m_s"},
    "hardware": {"screens", "clip_wire_mm", "tie_wire_mm", "tie_gauge_mm", "soil_l", "components_l"},
}  # fmt: skip
FINDING = {"code", "status", "value", "unit", "low", "high", "text", "remedy", "source"}


def bundle(**changes: Any) -> dict[str, Any]:
    """A bundle as somebody else would write it, with null where nothing is known."""
    months = [
        {"tmin_c": a, "tmax_c": b, "rain_mm": 60, "wind_m_s": 2.0, "rh_pct": 70, "sun_h_day": s}
        for a, b, s in (
            (-3, 2, 2),
            (-2, 4, 3),
            (0, 9, 4),
            (4, 14, 6),
            (8, 19, 7),
            (11, 22, 7),
            (13, 24, 8),
            (12, 24, 7),
            (9, 19, 5),
            (5, 13, 4),
            (1, 7, 2),
            (-2, 3, 2),
        )
    ]
    document = {
        "format": "kesh-bundle", "version": 1,
        "site": {"name": "X", "latitude_deg": 48, "elevation_m": 420, "gust_m_s": 14, "months": months},
        "trees": [{
            "id": "t", "name": "T", "species": "trident_maple", "style": "informal_upright", "stage": "refining", "flow": "right",
            "height_mm": 500, "trunk_diameter_mm": 70, "flare_width_mm": 105, "flare_depth_mm": None, "canopy_left_mm": 200, "canopy_right_mm": 220,
            "canopy_front_mm": 160, "canopy_back_mm": 150, "crown_base_mm": 140, "apex_offset_mm": 10, "graft_height_mm": None,
            "canopy_opacity": 0.7, "mass_kg": 3.2,
            "roots": {"outline": {"kind": "oval", "exponent": 2}, "length_mm": 330, "width_mm": 240, "depth_mm": 95, "taper": 0,
                      "offset_x_mm": 0, "offset_y_mm": 0, "feeders": "even", "health": "normal"}}],
        "pots": [{
            "id": "p", "name": "P", "outline": {"kind": "rectangle", "corner_mm": 0}, "profile": {"kind": "straight", "base_inset_mm": 20},
            "length_mm": 400, "width_mm": 300, "height_mm": 108, "wall_mm": 8, "floor_mm": 10, "feet_mm": 8, "material": "stoneware_unglazed",
            "finish": "unglazed", "colour": "#705040", "price": None, "state": "shelf",
            "holes": [{"x_mm": -80, "y_mm": 0, "diameter_mm": 26}, {"x_mm": 80, "y_mm": 0, "diameter_mm": 26}],
            "measured_volume_l": None, "measured_mass_kg": None}],
        "mixes": [{"id": "m", "name": "M", "parts": [{"substrate": "akadama_hard_3_6", "parts": 2}, {"substrate": "hard_pumice_3_6", "parts": 1}], "drainage_layer": None}],
        "plantings": [{"tree": "t", "pot": "p", "mix": "m", "date": "2026-03-20", "offset_x_mm": 0, "offset_y_mm": 0, "turn_deg": 0, "tilt_deg": 0,
                       "raise_mm": 0, "mound_mm": 0, "headspace_mm": None, "base_layer_mm": None, "clearance_mm": None}],
        "substrates": [], "species": [],
    }  # fmt: skip
    for path, value in changes.items():
        place: Any = document
        *way, last = path.split("__")
        for step in way:
            place = place[int(step)] if step.isdigit() else place[step]
        place[int(last) if last.isdigit() else last] = value
    return document


def run(document: dict[str, Any], **more: Any) -> dict[str, Any]:
    collection = read_bundle(document)
    pot = next(iter(collection.pots.values()))
    found = report(assess(case_for(collection, "t", pot_id=pot.id, **more), pot))
    return json.loads(json.dumps(found, allow_nan=False))


def test_every_promised_key_is_there_and_numbers_are_numbers() -> None:
    found = run(bundle())
    for group, names in KEYS.items():
        assert names <= set(found[group]), group
        for name in names - {
            "targets",
            "stages",
            "screens",
            "clip_wire_mm",
            "tie_wire_mm",
            "components_l",
            "mouth_clear",
        }:
            assert found[group][name] is None or isinstance(found[group][name], int | float), (group, name)
    assert set(found["proportion"]["targets"]) == {"depth_mm", "length_mm", "width_mm", "volume_l"}
    for finding in found["findings"]:
        assert set(finding) >= FINDING
        assert finding["status"] in ("fits", "watch", "no", "unknown")


def test_geometry_by_hand() -> None:
    g = run(bundle())["geometry"]

    def side(z: float) -> tuple[float, float]:
        q = 20 * (1 - (z + 10) / 100) + 8
        return 400 - 2 * q, 300 - 2 * q

    def litres(depth: float) -> float:
        areas = [math.prod(side(z)) for z in (0, depth / 2, depth)]
        return depth / 6 * (areas[0] + 4 * areas[1] + areas[2]) / 1e6

    assert g["inner_volume_l"] == pytest.approx(litres(90), rel=1e-6)
    assert g["fill_volume_l"] == pytest.approx(litres(84), rel=1e-6)
    assert g["inner_depth_mm"] == 90
    assert g["soil_surface_cm2"] == pytest.approx(math.prod(side(84)) / 100, rel=1e-6)
    assert g["hole_area_cm2"] == pytest.approx(2 * math.pi * 13**2 / 100)
    hull = 100 / 6 * (360 * 260 + 4 * 380 * 280 + 400 * 300) / 1000
    drawn = feet_volume_mm3(read_bundle(bundle()).pots["p"]) / 1000
    assert drawn > 0
    body = hull - litres(90) * 1000 - 2 * math.pi * 13**2 * 10 / 1000 + drawn
    assert g["body_volume_cm3"] == pytest.approx(body, rel=1e-6)
    assert g["undercut_mm"] == 0
    assert g["mouth_clear"] is True


def test_roots_by_hand() -> None:
    r = run(bundle())["roots"]
    # twelve hundredths of 90 mm inside lie under the roots
    assert r["kept_depth_mm"] == pytest.approx(79.2)
    assert r["off_bottom_mm"] == pytest.approx(15.8)
    # the narrowest level is the saw line, 10.8 mm above the floor
    q = 20 * (1 - 20.8 / 100) + 8 + 15
    assert r["off_left_mm"] == pytest.approx(165 - (200 - q), abs=0.01)
    assert r["off_front_mm"] == pytest.approx(120 - (150 - q), abs=0.01)
    assert r["removed_volume_share"] == pytest.approx(r["removed_feeder_share"], abs=1e-6)
    assert r["removed_volume_share"] > 15.8 / 95
    assert r["limit_share"] == pytest.approx(0.55 * 1.0 * 0.85)


def test_proportion_and_stability_by_hand() -> None:
    found = run(bundle())
    p, s = found["proportion"], found["stability"]
    assert p["depth_ratio"] == pytest.approx(90 / 70)
    assert p["length_ratio"] == pytest.approx(400 / 500)
    assert p["width_ratio"] == pytest.approx(0.75)
    w, m, g = found["water"], found["mix"], found["geometry"]
    soil = g["fill_volume_l"] * m["dry_density_kg_l"]
    assert s["mass_wet_kg"] == pytest.approx(g["body_mass_kg"] + soil + w["held_l"] + 3.2, rel=1e-6)
    assert s["mass_wet_kg"] - s["mass_dry_kg"] == pytest.approx(w["available_l"], rel=1e-6)


def test_soil_is_room_less_roots_with_the_loss_in_mixing() -> None:
    found = run(bundle())
    h, r, g = found["hardware"], found["roots"], found["geometry"]
    ball = math.pi / 4 * 330 * 240 * 95 / 1e6
    kept = ball * (1 - r["removed_volume_share"])
    below = kept * (1 - 6 / r["kept_depth_mm"])
    assert h["soil_l"] == pytest.approx(g["fill_volume_l"] - below, rel=1e-3)
    assert sum(h["components_l"].values()) == pytest.approx(h["soil_l"] / (1 - found["mix"]["volume_loss"]), rel=1e-6)
    assert h["components_l"]["akadama_hard_3_6"] == pytest.approx(2 * h["components_l"]["hard_pumice_3_6"])


def test_rows_of_the_bundle_override_the_tables_column_by_column() -> None:
    row = {"key": "akadama_hard_3_6", "size_low_mm": 1, "size_high_mm": 2}
    plain, finer = run(bundle()), run(bundle(substrates=[row]))
    assert finer["mix"]["capillary_rise_mm"] > plain["mix"]["capillary_rise_mm"]
    strict = run(bundle(species=[{"key": "trident_maple", "max_root_removal_healthy": 0.1, "kc": 1.4}]))
    assert strict["roots"]["limit_share"] == pytest.approx(0.1 * 0.85)
    assert strict["water"]["et_peak_l_day"] > plain["water"]["et_peak_l_day"]


def test_a_new_species_row_is_judged_by_its_own_figures() -> None:
    row = {
        "key": "moon_tree",
        "common_name": "Moon tree",
        "group": "tropical",
        "max_root_removal_healthy": 0.2,
        "min_air_porosity": 0.11,
        "repot_window": "summer_active",
    }
    found = run(bundle(trees__0__species="moon_tree", species=[row]), season="best")
    assert found["roots"]["limit_share"] == pytest.approx(0.2 * 0.85)
    foot = next(f for f in found["findings"] if f["code"] == "wet_foot")
    assert "11%" in foot["text"]


@pytest.mark.parametrize(("season", "factor"), [("best", 1.0), ("edge", 0.7), ("wrong", 0.3)])
def test_the_season_scales_the_limit(season: str, factor: float) -> None:
    assert run(bundle(), season=season)["roots"]["limit_share"] == pytest.approx(0.55 * 0.85 * factor)


def test_the_season_comes_from_date_and_site() -> None:
    spring = run(bundle())["season"]
    assert spring["status"] == "best"
    assert spring["first"] <= spring["today"] <= spring["last"]
    assert run(bundle(plantings__0__date="2026-07-20"))["season"]["status"] == "wrong"
    # without a climate the months speak, turned round in the south
    assert (
        run(bundle(site__latitude_deg=-48, site__months=[], plantings__0__date="2026-09-20"))["season"]["status"]
        == "best"
    )
    asked = run(bundle(plantings__0__date="2026-07-20"), on=date(2026, 3, 20))["season"]
    assert (asked["today"], asked["status"]) == ("2026-03-20", "best")


def test_the_school_changes_targets_only() -> None:
    a, b = run(bundle(), school_id="classical"), run(bundle(), school_id="penjing")
    assert a["proportion"]["targets"] != b["proportion"]["targets"]
    assert a["geometry"] == b["geometry"]
    assert a["water"] == b["water"]


def test_unknown_measures_are_null_with_a_finding_that_says_why() -> None:
    found = run(bundle(trees__0__trunk_diameter_mm=None, trees__0__canopy_left_mm=None))
    assert found["proportion"]["depth_ratio"] is None
    assert found["proportion"]["targets"]["depth_mm"] == [None, None]
    assert found["water"]["et_peak_l_day"] is None
    codes = {f["code"]: f for f in found["findings"]}
    assert codes["depth_band"]["status"] == "unknown"
    assert "trunk" in codes["depth_band"]["remedy"].lower()


def test_a_tree_without_roots_or_species() -> None:
    found = run(bundle(trees__0__roots=None, trees__0__species=None))
    assert all(
        found["roots"][k] is None for k in ("kept_depth_mm", "off_bottom_mm", "removed_feeder_share", "limit_share")
    )
    assert found["roots"]["stages"] == []
    assert {f["code"] for f in found["findings"] if f["status"] == "unknown"} >= {
        "root_removal",
        "root_depth",
        "wet_foot",
    }


def test_a_pot_without_holes_holds_no_water_figures() -> None:
    found = run(bundle(pots__0__holes=[]))
    assert found["water"]["held_l"] is None
    drain = next(f for f in found["findings"] if f["code"] == "drain_holes")
    assert drain["status"] == "no"
    assert "Drill" in drain["remedy"]
    unknown = run(bundle(pots__0__holes=None))
    assert next(f for f in unknown["findings"] if f["code"] == "drain_holes")["status"] == "unknown"


def test_no_mix_is_unknown_not_dry() -> None:
    document = bundle(mixes=[])
    document["plantings"][0]["mix"] = None
    found = run(document)
    assert found["mix"]["phi_e"] is None
    assert found["hardware"]["components_l"] == {}
    assert next(f for f in found["findings"] if f["code"] == "wet_share")["status"] == "unknown"


def test_a_layer_lifts_the_roots_and_is_measured_out() -> None:
    layer = {"substrate": "lava_6_12", "thickness_mm": 30}
    plain, found = run(bundle()), run(bundle(mixes__0__drainage_layer=layer))
    assert found["roots"]["kept_depth_mm"] == pytest.approx(plain["roots"]["kept_depth_mm"] - (30 - 10.8))
    assert found["hardware"]["components_l"]["lava_6_12"] > 2
    assert found["water"]["wet_height_mm"] <= plain["water"]["wet_height_mm"]


def test_signs_of_offsets() -> None:
    right = run(bundle(plantings__0__offset_x_mm=30))["roots"]
    assert right["off_right_mm"] > right["off_left_mm"]
    back = run(bundle(plantings__0__offset_y_mm=20))["roots"]
    assert back["off_back_mm"] > back["off_front_mm"]
    raised = run(bundle(plantings__0__raise_mm=10))["roots"]
    assert raised["off_bottom_mm"] == pytest.approx(5.8)


def test_tilt_is_reported_when_asked() -> None:
    found = run(bundle(), tilt_deg=12)
    tilt = found["water"]["tilted"]
    assert tilt["tilt_deg"] == 12
    assert tilt["left_l"] + tilt["drained_l"] == pytest.approx(found["water"]["held_l"], rel=0.01)


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"trees__0__height_mm": -5}, "height_mm"), ({"trees__0__height_mm": "tall"}, "height_mm"), ({"pots__0__wall_mm": 200}, "walls meet"),
        ({"pots__0__floor_mm": 150}, "floor_mm"), ({"pots__0__length_mm": 0}, "length_mm"), ({"pots__0__outline": {"kind": "star"}}, "kind"),
        ({"pots__0__profile": {"kind": "table", "table": [[0, 1]]}}, "two or more"), ({"mixes__0__parts__0__parts": -2}, "parts"),
        ({"trees__0__canopy_opacity": 3}, "canopy_opacity"), ({"site__months": [{"tmin_c": 1, "tmax_c": 2}]}, "12"),
        ({"version": 2}, "newer"), ({"version": "1"}, "version"), ({"format": "other"}, "no kesh-bundle"),
        ({"species": [{"key": "x", "kc": -4}]}, "kc"), ({"substrates": [{"common": 1}]}, "no key"),
    ],
)  # fmt: skip
def test_bad_bundles_are_refused_in_one_sentence(change: dict[str, Any], words: str) -> None:
    with pytest.raises(BundleError, match=words) as err:
        read_bundle(bundle(**change))
    assert "\n" not in str(err.value)


def test_unknown_ids_are_named_with_the_known_ones() -> None:
    collection = read_bundle(bundle())
    with pytest.raises(FieldError, match="known are t"):
        case_for(collection, "nobody")
    with pytest.raises(FieldError, match="no mix 'mud'"):
        case_for(collection, "t", mix_id="mud")
    with pytest.raises(FieldError, match="classical"):
        case_for(collection, "t", school_id="mine")
    with pytest.raises(FieldError, match="best, edge or wrong"):
        case_for(collection, "t", season="soon")


def test_measured_volume_scales_what_the_pot_holds() -> None:
    plain, found = run(bundle()), run(bundle(pots__0__measured_volume_l=9.0))
    factor = 9.0 / plain["geometry"]["inner_volume_l"]
    assert found["geometry"]["inner_volume_l"] == 9.0
    assert found["geometry"]["fill_volume_l"] == pytest.approx(plain["geometry"]["fill_volume_l"] * factor)
    assert found["water"]["held_l"] == pytest.approx(plain["water"]["held_l"] * factor)
    assert np.isclose(found["water"]["wet_share"], plain["water"]["wet_share"])
