"""How firmly ties hold, written out a second time from the method's text, against the report of many random bundles."""

import math
import random
from datetime import date
from typing import Any

import numpy as np
import pytest

from kesh.formats.bundle import read_bundle
from kesh.line.verbs.report import run_report

SIGMA = {"aluminium": 34.0, "copper": 60.0, "steel": 150.0}


def bundle(rng: random.Random) -> dict[str, Any]:
    """A tree whose oval root mass stands in a pot with room all round, tied by one to four wires anyhow."""
    long, wide = rng.uniform(320, 520), rng.uniform(280, 420)
    high = rng.uniform(90, 160)
    tree = {
        "id": "t", "species": "trident_maple", "height_mm": rng.uniform(250, 900), "trunk_diameter_mm": rng.uniform(25, 90),
        "canopy_left_mm": rng.uniform(80, 300), "canopy_right_mm": rng.uniform(80, 300), "canopy_front_mm": rng.uniform(80, 250),
        "canopy_back_mm": rng.uniform(80, 250), "crown_base_mm": rng.uniform(60, 140), "apex_offset_mm": rng.uniform(-60, 60),
        "canopy_opacity": rng.uniform(0.4, 1), "mass_kg": rng.uniform(0.5, 8),
        "roots": {"length_mm": long * 0.45, "width_mm": wide * 0.45, "depth_mm": high * rng.uniform(0.4, 0.6), "taper": rng.choice([0.0, 0.3])},
    }  # fmt: skip

    def near(share: float) -> list[float]:
        return [rng.uniform(-share, share) * long, rng.uniform(-share, share) * wide]

    ties = [
        {"id": f"w{k}", "holes": [near(0.3), near(0.3)], "over": [[*near(0.25), rng.uniform(30, 110)], [*near(0.25), rng.uniform(30, 110)]],
         "gauge_mm": rng.choice([1.5, 2.0, 2.5, 3.0]), "metal": rng.choice(list(SIGMA))}
        for k in range(rng.randint(1, 4))
    ]  # fmt: skip
    pot = {"id": "p", "outline": {"kind": "rectangle"}, "length_mm": long, "width_mm": wide, "height_mm": high, "wall_mm": 8, "floor_mm": 9,
           "holes": [{"x_mm": -50, "y_mm": 0, "diameter_mm": 22}, {"x_mm": 50, "y_mm": 0, "diameter_mm": 22}]}  # fmt: skip
    planting = {
        "tree": "t",
        "pot": "p",
        "mix": "m",
        "offset_x_mm": rng.uniform(-20, 20),
        "offset_y_mm": rng.uniform(-15, 15),
        "raise_mm": rng.uniform(-5, 10),
        "ties": ties,
    }
    mix = {"id": "m", "parts": [{"substrate": "akadama_hard_3_6", "parts": 1}]}
    return {
        "format": "kesh-bundle",
        "version": 1,
        "site": {"gust_m_s": rng.uniform(8, 20)},
        "trees": [tree],
        "pots": [pot],
        "mixes": [mix],
        "plantings": [planting],
    }


def by_the_text(b: dict[str, Any], kept: float) -> tuple[list[float], list[float]]:
    """(N at the apex, margin) by the azimuth the wind comes from."""
    t, pot, pl = b["trees"][0], b["pots"][0], b["plantings"][0]
    r = t["roots"]
    at = np.array([pl["offset_x_mm"], pl["offset_y_mm"]])
    shrink = 1 - r["taper"] * kept / r["depth_mm"]
    angle = np.linspace(0, 2 * math.pi, 4001)
    base = at + shrink * np.column_stack([r["length_mm"] / 2 * np.cos(angle), r["width_mm"] / 2 * np.sin(angle)])
    foot = pot["height_mm"] - pot["floor_mm"] + pl["raise_mm"] - kept
    share, taper = kept / r["depth_mm"], r["taper"]
    part = (1 - (1 - taper * share) ** 3) / (3 * taper) if taper else share
    roots_kg = math.pi / 4 * r["length_mm"] * r["width_mm"] * r["depth_mm"] * part / 1e6
    mass = t["mass_kg"] + roots_kg
    centre = (t["mass_kg"] * (at + np.array([t["apex_offset_mm"] / 2, 0])) + roots_kg * at) / mass
    wide, deep = t["canopy_left_mm"] + t["canopy_right_mm"], t["canopy_front_mm"] + t["canopy_back_mm"]
    low = min(t["crown_base_mm"], 0.9 * t["height_mm"])
    crown = (
        math.pi
        / 4
        * wide
        * (t["height_mm"] - low)
        / 1e6
        * 0.9
        * (1 - (1 - t["canopy_opacity"]) ** 2)
        * ((t["height_mm"] + low) / 2 + kept)
    )
    trunk = t["trunk_diameter_mm"] * low / 1e6 * (kept + low / 2)
    gale = 0.5 * 1.2 * b["site"]["gust_m_s"] ** 2 * (crown + trunk) / 1000
    force, margin = [], []
    for deg in range(0, 360, 10):
        a = math.radians(deg)
        e = np.array([math.sin(a), math.cos(a)])
        pivot = float((base @ e).max())
        moment = mass * 9.81 * (pivot - float(centre @ e))
        for tie in pl["ties"]:
            pull = 0.5 * SIGMA[tie["metal"]] * math.pi * tie["gauge_mm"] ** 2 / 4
            for hold, hole in zip(tie["over"], tie["holes"], strict=True):
                c, h, z = np.array(hold[:2]), np.array(hole), hold[2]
                long = math.sqrt(float(((c - h) ** 2).sum()) + z**2)
                moment += max(0.0, pull * (z / long * (pivot - float(c @ e)) + float((c - h) @ e) / long * (z - foot)))
        force.append(moment / (kept + t["height_mm"]))
        margin.append(moment / 1000 / (gale * math.hypot(wide * e[1], deep * e[0]) / wide))
    return force, margin


@pytest.mark.parametrize("seed", range(12))
def test_hold_and_margin_agree_with_the_text(seed: int) -> None:
    rng = random.Random(seed)
    for _ in range(5):
        b = bundle(rng)
        found = run_report(read_bundle(b), "t", "p", None, None, None, None, date(2026, 3, 10))
        assert found["roots"]["off_left_mm"] == found["roots"]["off_back_mm"] == 0
        force, margin = by_the_text(b, found["roots"]["kept_depth_mm"])
        told = found["hardware"]
        assert told["hold_n"] == pytest.approx(force, rel=5e-3)
        assert told["margin_min"] == pytest.approx(min(margin), rel=5e-3)
        assert told["hold_weakest_deg"] == 10 * margin.index(min(margin)) or sorted(margin)[1] / min(margin) < 1.005
