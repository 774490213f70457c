"""What the water step keeps goes into a bundle and comes back; a bad day or reading is one sentence."""

import json
from dataclasses import replace
from datetime import date, datetime
from typing import Any

import pytest

from kesh.base.errors import BundleError
from kesh.demo.lanternfield import demo_collection
from kesh.desk.deleting import without_tree
from kesh.formats.bundle import bundle_of
from kesh.formats.bundle.read import bring, read_bundle
from kesh.formats.odd import what_is_odd
from kesh.line.main import main
from kesh.model import Day, MixVersion, Part, Reading

DEMO = demo_collection()


def document() -> dict[str, Any]:
    site, mix = DEMO.site, DEMO.mixes["house-pine"]
    assert site is not None
    days = (
        Day(date=date(2025, 7, 1), tmin_c=12, tmax_c=27, rain_mm=3),
        Day(date=date(2026, 3, 12), tmin_c=1, tmax_c=9, forecast=True),
    )
    sieved = (mix.parts[0].changed(size_low_mm=2, size_high_mm=4), mix.parts[1].changed(parts=None), *mix.parts[2:])
    version = MixVersion(until=date(2025, 4, 1), parts=mix.parts, note="pumice 1 → 2")
    held = replace(
        DEMO,
        site=site.changed(daily=days, wall="wall", winter_place="frame"),
        mixes={**DEMO.mixes, mix.id: mix.changed(parts=sieved, versions=(version,))},
        readings=(
            Reading(id="a", tree="mossback", at=datetime(2026, 3, 9, 8), kind="stick", value="moist", full_at=datetime(2026, 3, 7, 8)),
            Reading(id="b", tree="tollgate", at=datetime(2026, 3, 9, 8), kind="probe", value=0.31, unit="share"),
        ),
    )  # fmt: skip
    found: dict[str, Any] = json.loads(json.dumps(bundle_of(held)))
    return found


def test_all_of_it_comes_back() -> None:
    told = document()
    back = read_bundle(told)
    assert back.site is not None
    assert (back.site.wall, back.site.winter_place) == ("wall", "frame")
    assert [d.forecast for d in back.site.daily] == [False, True]
    mix = back.mixes["house-pine"]
    assert mix.parts[0].size_high_mm == 4
    assert mix.parts[1].parts is None
    assert mix.versions[0].note == "pumice 1 → 2"
    assert [r.value for r in back.readings] == ["moist", 0.31]
    assert bundle_of(back) == bundle_of(read_bundle(json.loads(json.dumps(bundle_of(back)))))


def test_readings_without_an_id_or_an_hour_are_read() -> None:
    told = document()
    told["readings"] = [{"tree": "mossback", "at": "2026-03-09", "kind": "stick", "value": "dry", "from": "others"}]
    one = read_bundle(told).readings[0]
    assert one.at == datetime(2026, 3, 9, 12)
    assert one.id


@pytest.mark.parametrize(
    ("change", "said"),
    [
        (lambda d: d["site"]["daily"].append({"date": "2025-07-02", "tmin_c": 9, "tmax_c": 4}), "below tmin_c"),
        (lambda d: d["readings"].append({"tree": "x", "at": "soon", "kind": "stick", "value": "dry"}), "readings"),
        (lambda d: d["readings"].append({"tree": "x", "at": "2026-03-09", "kind": "probe", "value": 7}), "outside"),
        (lambda d: d["readings"].append(7), "readings"),
    ],
)
def test_one_bad_row_is_one_sentence_and_the_rest_comes_in(change: Any, said: str) -> None:
    told = document()
    change(told)
    with pytest.raises(BundleError, match=said):
        read_bundle(told)
    found = bring(told)
    assert len(found.problems) == 1
    assert said in found.problems[0]
    assert found.collection.site is not None
    assert len(found.collection.site.daily) == 2
    assert len(found.collection.readings) == 2


def test_a_wall_may_be_a_plain_yes_and_the_year_knows_it(tmp_path: Any, capsys: pytest.CaptureFixture[str]) -> None:
    told = document()
    told["site"]["wall"] = True
    path = tmp_path / "b.json"
    path.write_text(json.dumps(told))
    assert main(["year", str(path), "--tree", "mossback", "--pot", "broom-oval", "--years", "3", "--json"]) == 0
    assert json.loads(capsys.readouterr().out)["pots"][0]["inputs"]["exposure"] == 1.3
    assert main(["report", str(path), "--tree", "mossback", "--pot", "broom-oval", "--json"]) == 0
    found = json.loads(capsys.readouterr().out)
    assert set(found["thermal"]) == {"night_at_risk_c", "nights_at_risk_year", "frost_hours_outer", "frost_min_mean_c", "heat_peak_c", "heat_hours_40"}  # fmt: skip
    assert {"dry_summer", "wet_winter", "night_at_risk", "hot_wall"} <= {f["code"] for f in found["findings"]}
    # a share that nobody knows is a sentence, not a figure
    assert main(["report", str(path), "--tree", "old-ferryman", "--pot", "training-box", "--json"]) == 0
    found = json.loads(capsys.readouterr().out)
    assert found["water"]["held_l"] is None
    assert any("not told" in f["text"] for f in found["findings"])
    assert Part(substrate="x", parts=None).parts is None


def test_readings_go_with_their_tree_and_lost_ones_are_told() -> None:
    held = read_bundle(document())
    changes, told = without_tree(held, "mossback")
    assert ("reading", "a", None) in changes
    assert "1 reading" in told
    trees = {k: t for k, t in held.trees.items() if k != "mossback"}
    assert "1 readings of mossback: there is no such tree" in what_is_odd(replace(held, trees=trees))
