"""`kesh group`: its keys, its mistakes in one sentence, odd records, and layouts that leave fixed trees alone."""

import json
from pathlib import Path
from typing import Any

import pytest

from kesh.demo.lanternfield import demo_collection
from kesh.formats.bundle import bundle_of, load_bundle
from kesh.line.main import main
from kesh.science.group.layout import PARTS

TREE = "seven-neighbours"


@pytest.fixture
def document() -> dict[str, Any]:
    return bundle_of(demo_collection())


def written(tmp_path: Path, document: dict[str, Any]) -> str:
    path = tmp_path / "demo.json"
    path.write_text(json.dumps(document), encoding="utf-8")
    return str(path)


def grove(document: dict[str, Any]) -> dict[str, Any]:
    return next(t for t in document["trees"] if t["id"] == TREE)


def run(capsys: pytest.CaptureFixture[str], *words: str) -> dict[str, Any]:
    assert main(["group", *words, "--json"]) == 0
    found: dict[str, Any] = json.loads(capsys.readouterr().out)
    return found


def refused(capsys: pytest.CaptureFixture[str], *words: str) -> str:
    assert main(["group", *words]) == 2
    told = capsys.readouterr()
    assert told.out == ""
    assert told.err.count("\n") == 1
    return told.err


def test_the_promised_keys(tmp_path: Path, document: dict[str, Any], capsys: pytest.CaptureFixture[str]) -> None:
    found = run(capsys, written(tmp_path, document), "--tree", TREE, "--layouts", "2", "--seed", "3")
    assert set(found) >= {"score", "parts", "fits", "worst", "mend", "in_line", "layouts"}
    assert tuple(found["parts"]) == PARTS
    assert set(found["mend"]) == {"id", "dx_mm", "dy_mm", "score"}
    assert found["mend"]["score"] > found["score"]
    assert ["2", "4", "7"] in found["in_line"]
    assert len(found["layouts"]) == 2
    for one in found["layouts"]:
        assert [g["id"] for g in one["group"]] == ["1", "2", "3", "4", "5", "6", "7"]
        assert one["score"] > found["score"]
    assert main(["group", written(tmp_path, document), "--tree", TREE]) == 0
    assert "not beauty" in capsys.readouterr().out


def test_fixed_dead_and_spare_trees(
    tmp_path: Path, document: dict[str, Any], capsys: pytest.CaptureFixture[str]
) -> None:
    rows = grove(document)["group"]
    rows[0]["fixed"] = True
    rows[2]["alive"] = False
    found = run(capsys, written(tmp_path, document), "--tree", TREE, "--layouts", "1")
    laid = {g["id"]: g for g in found["layouts"][0]["group"]}
    assert "3" not in laid
    assert "A" not in laid
    assert (laid["1"]["x_mm"], laid["1"]["y_mm"]) == (rows[0]["x_mm"], rows[0]["y_mm"])
    assert any(f["code"] == "group_survivors" for f in found["findings"])


def test_another_tray_and_the_group_in_the_bundle_again(
    tmp_path: Path, document: dict[str, Any], capsys: pytest.CaptureFixture[str]
) -> None:
    path = written(tmp_path, document)
    small = min((p for p in document["pots"] if p["length_mm"] > 250), key=lambda p: p["length_mm"])
    assert run(capsys, path, "--tree", TREE, "--pot", small["id"])["fits"] is False
    again = load_bundle(Path(path)).trees[TREE]
    assert again == demo_collection().trees[TREE]


def test_mistakes_are_one_line(tmp_path: Path, document: dict[str, Any], capsys: pytest.CaptureFixture[str]) -> None:
    path = written(tmp_path, document)
    assert "no trees of Mossback" in refused(capsys, path, "--tree", "mossback")
    assert "no tree 'oak'" in refused(capsys, path, "--tree", "oak")
    assert "no pot 'cup'" in refused(capsys, path, "--tree", TREE, "--pot", "cup")
    assert "--layouts" in refused(capsys, path, "--tree", TREE, "--layouts", "99")
    assert "--seed" in refused(capsys, path, "--tree", TREE, "--seed", "-1")
    grove(document)["group"] = grove(document)["group"][:2]
    assert "at least three" in refused(capsys, written(tmp_path, document), "--tree", TREE)


def test_a_thickness_nobody_knows_is_a_finding(
    tmp_path: Path, document: dict[str, Any], capsys: pytest.CaptureFixture[str]
) -> None:
    grove(document)["group"][3]["diameter_mm"] = None
    grove(document)["group"][4]["height_mm"] = None
    found = run(capsys, written(tmp_path, document), "--tree", TREE)
    codes = {f["code"]: f for f in found["findings"] if f["status"] == "unknown"}
    assert "Thickness of 4" in codes["group_thickness"]["text"]
    assert "Height of 5" in codes["group_height"]["text"]
    assert list(found["room_l"]) == ["1", "2", "3", "5", "6", "7"]


def test_plans_that_make_no_sense_are_checked_all_the_same(
    tmp_path: Path, document: dict[str, Any], capsys: pytest.CaptureFixture[str]
) -> None:
    """All on one spot, far outside, thicker than the tray: a low score and what is wrong, never an exception."""
    own = grove(document)["group"]
    kept = [dict(row) for row in own]
    odd: dict[str, dict[str, float]] = {
        "one spot": {"x_mm": 0.0, "y_mm": 0.0},
        "far outside": {"x_mm": 5000.0},
        "too thick": {"diameter_mm": 900.0},
    }
    for name, fields in odd.items():
        for row, before in zip(own, kept, strict=False):
            row.clear()
            row.update(before | ({} if before.get("x_mm") is None else fields))
        found = run(capsys, written(tmp_path, document), "--tree", TREE)
        assert found["fits"] is False, name
        assert found["parts"]["fit"] == 0, name
        assert found["score"] < 60, name
        assert any(f["code"] == "group_fit" for f in found["findings"]), name


def test_two_trunks_of_one_name_get_names_of_their_own(
    tmp_path: Path, document: dict[str, Any], capsys: pytest.CaptureFixture[str]
) -> None:
    path = written(tmp_path, document)
    plain = run(capsys, path, "--tree", TREE)
    rows = grove(document)["group"]
    rows[1]["id"] = rows[0]["id"]
    found = run(capsys, written(tmp_path, document), "--tree", TREE)
    assert list(found["room_l"])[:3] == ["1", "1-2", "3"], "neither is lost"
    assert found["score"] == plain["score"]
    assert list(found["room_l"].values()) == list(plain["room_l"].values())


def test_nobody_to_move_and_nowhere_to_stand(
    tmp_path: Path, document: dict[str, Any], capsys: pytest.CaptureFixture[str]
) -> None:
    rows = grove(document)["group"]
    for row in rows:
        row["fixed"] = True
    path = written(tmp_path, document)
    assert run(capsys, path, "--tree", TREE)["mend"] is None, "the check itself needs nobody to go"
    assert "every tree is fixed" in refused(capsys, path, "--tree", TREE, "--layouts", "1")
    for row in rows:
        row["x_mm"] = None
    assert "0 placed" in refused(capsys, written(tmp_path, document), "--tree", TREE)
