"""What a grower expects, as data in tests/cases: each case names a place, a species, a pot and what Kesh must say of them."""

import re
import tomllib
from datetime import date
from pathlib import Path
from typing import Any

import pytest

from kesh.formats.bundle import read_bundle
from kesh.line.verbs.rank import run_rank
from kesh.line.verbs.report import run_report
from kesh.line.verbs.work import run_work
from kesh.model import Collection

CASES = Path(__file__).parents[1] / "cases"
PLACES = tomllib.loads((CASES / "places.toml").read_text())
MIXES = {
    "open": {"akadama_hard_3_6": 2, "hard_pumice_3_6": 2, "lava_3_6": 1}, "heavy": {"peat_0_5": 3, "garden_loam": 1},
    "lean": {"hard_pumice_3_6": 3, "lava_3_6": 2, "granite_grit_2_5": 1},
}  # fmt: skip
OUTLINES = {
    "oval": {"kind": "oval", "exponent": 2.2},
    "round": {"kind": "round"},
    "rectangle": {"kind": "rectangle", "corner_mm": 12},
}
DAY = date(2026, 3, 25)


def every() -> list[Any]:
    """All cases of all files, each by file and name."""
    found = []
    for file in sorted(CASES.glob("*.toml")):
        if file.stem != "places":
            rows = tomllib.loads(file.read_text())["case"]
            found += [pytest.param(row, id=f"{file.stem}: {row['name']}") for row in rows]
    return found


def pot(key: str, row: dict[str, Any]) -> dict[str, Any]:
    """A pot as a bundle holds it; holes as count and diameter along its length, as places, or not known."""
    length, width, height = row["size"]
    holes: Any = row.get("holes", [2, 20])
    made = {
        "id": key, "name": key, "outline": OUTLINES[row.get("outline", "oval")], "length_mm": length, "width_mm": width, "height_mm": height,
        "profile": {"kind": "slab"} if row.get("slab") else {"kind": "straight", "base_inset_mm": round(0.05 * width)}, "wall_mm": max(6, round(0.022 * length)),
        "floor_mm": max(7, round(0.022 * length)), "feet_mm": min(12, round(0.12 * height)), "material": row.get("material", "stoneware_unglazed"),
        "finish": "unglazed", "colour": row.get("colour", "#6B4A3A"), "state": "shelf",
    }  # fmt: skip
    if "at" in row:
        made["holes"] = [{"x_mm": x, "y_mm": y, "diameter_mm": d} for x, y, d in row["at"]]
    elif holes == []:
        made["holes"] = []
    elif holes != "unknown":
        count, size = holes
        made["holes"] = [{"x_mm": round((i - (count - 1) / 2) * 0.45 * length / max(count - 1, 1), 1), "y_mm": 0, "diameter_mm": size} for i in range(count)]  # fmt: skip
    return made


def collection(case: dict[str, Any]) -> Collection:
    """The one tree of a case, its pots, mix, brief and place."""
    place = PLACES[case["place"]]
    months = [
        {"tmin_c": a, "tmax_c": b, "rain_mm": r, "sun_h_day": s, "wind_m_s": 2.6, "rh_pct": 72}
        for a, b, r, s in zip(place["tmin"], place["tmax"], place["rain"], place["sun"], strict=True)
    ]
    tree = {"height_mm": 500, "trunk_diameter_mm": 60, "spread_mm": 420} | case.get("tree", {})
    spread, (rl, rw, rd) = tree.pop("spread_mm"), case.get("roots", [320, 220, 80])
    made: dict[str, Any] = {
        "id": "t", "name": "Tree", "species": case["species"], "style": case.get("style", "informal_upright"), "stage": case.get("stage", "refining"),
        **tree, "canopy_left_mm": spread / 2, "canopy_right_mm": spread / 2, "canopy_front_mm": 0.42 * spread, "canopy_back_mm": 0.42 * spread,
        "crown_base_mm": round(0.3 * tree["height_mm"]),
        "roots": {"outline": {"kind": "oval"}, "length_mm": rl, "width_mm": rw, "depth_mm": rd, "health": case.get("health", "strong")},
    }  # fmt: skip
    if "group" in case:
        made["group"] = [{"id": f"g{n}", "x_mm": x, "y_mm": y, "diameter_mm": d, "height_mm": h} for n, (x, y, d, h) in enumerate(case["group"])]  # fmt: skip
    brief: dict[str, Any] = {
        "id": "t",
        "mix": "m",
        "keeping": case.get("keeping", {}),
        "root_views": case.get("roots_view", {}),
    }
    if "purpose" in case:
        brief["purpose"] = case["purpose"]
    pots = [pot(key, row) for key, row in case.get("pots", {"p": case.get("pot", {"size": [340, 240, 80]})}).items()]
    plantings = [{"id": "plan", "tree": "t", "pot": "p", "mix": "m", "planned": True, **case["planting"]}] if "planting" in case else []  # fmt: skip
    return read_bundle({
        "format": "kesh-bundle", "version": 1, "trees": [made], "pots": pots, "plantings": plantings, "briefs": [brief],
        "site": {"name": case["place"], "latitude_deg": place["latitude"], "elevation_m": 100, "gust_m_s": 17, "months": months},
        "mixes": [{"id": "m", "name": "mix", "parts": [{"substrate": k, "parts": v} for k, v in MIXES[case.get("mix", "open")].items()], "drainage_layer": None}],
    })  # fmt: skip


def said(report: dict[str, Any], name: str) -> str:
    """What a report says to a name of a case: the verdict, an answer, the season, or a finding; one that is not there fits."""
    if name == "verdict":
        return str(report["verdict"])
    if name in report["answers"]:
        return str(report["answers"][name]["status"])
    if name == "season":
        return str(report["season"]["status"])
    return next((str(f["status"]) for f in report["findings"] if f["code"] == name), "fits")


@pytest.mark.parametrize("case", every())
def test_what_a_grower_expects(case: dict[str, Any]) -> None:
    c, day = collection(case), case.get("day", DAY)
    if "order" in case:
        ranking = [row["pot"] for row in run_rank(c, "t", None, None, None, day)["ranking"]]
        assert [key for key in ranking if key in case["order"]] == case["order"]
        return
    if "expect" in case or "window" in case:
        report = run_report(c, "t", "p", None, None, None, None, day)
        for name, wanted in case.get("expect", {}).items():
            told = next((f["text"] for f in report["findings"] if f["code"] == name), "")
            assert said(report, name) in wanted.split(), f"{name}: {told}"
        if "window" in case:
            first, last = case["window"]
            assert first.isoformat() <= report["season"]["first"]
            assert report["season"]["last"] <= last.isoformat()
    if "steps" in case:
        steps(case, run_work(c, "t", "p", day=day))


def steps(case: dict[str, Any], work: dict[str, Any]) -> None:
    """The work of a case: keys in order, what it has and lacks, words that no step says, times that are believed."""
    asked, keys = case["steps"], [s["key"] for s in work["steps"]]
    wanted = asked.get("order", "").split()
    assert [k for k in keys if k in wanted] == wanted
    assert set(asked.get("have", "").split()) <= set(keys)
    assert not set(asked.get("lack", "").split()) & set(keys)
    said_all = [line for s in work["steps"] for line in (s["title"], *s["lines"])]
    if "never" in asked:
        assert not [line for line in said_all if re.search(asked["never"], line)]
    assert all(s["minutes"] > 0 for s in work["steps"])
    assert work["minutes"] == pytest.approx(sum(s["minutes"] for s in work["steps"]), abs=0.5)
    assert work["bare_minutes"] == pytest.approx(sum(s["minutes"] for s in work["steps"] if s["bare"]), abs=0.5)
    if asked.get("bare"):
        assert 0 < work["bare_minutes"] < work["minutes"]
    assert work["feeders_share"] <= asked.get("feeders", 1.0)
