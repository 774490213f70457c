"""`kesh year`: its keys, its mistakes in one sentence, and figures that do not depend on the pots beside."""

import json
from pathlib import Path
from typing import Any

import pytest

from kesh.demo.lanternfield import demo_collection
from kesh.formats.bundle import bundle_of
from kesh.line.main import main


@pytest.fixture(scope="module")
def bundle(tmp_path_factory: pytest.TempPathFactory) -> Path:
    path = tmp_path_factory.mktemp("year") / "demo.json"
    path.write_text(json.dumps(bundle_of(demo_collection())), encoding="utf-8")
    return path


def run(capsys: pytest.CaptureFixture[str], *words: str) -> dict[str, Any]:
    assert main(["year", *words, "--json"]) == 0
    found: dict[str, Any] = json.loads(capsys.readouterr().out)
    return found


def test_the_promised_keys_and_a_closed_balance(bundle: Path, capsys: pytest.CaptureFixture[str]) -> None:
    found = run(
        capsys, str(bundle), "--tree", "mossback", "--pot", "broom-oval", "--pot", "chalk-oval", "--years", "12"
    )
    assert found["tree"] == "mossback"
    assert [p["pot"] for p in found["pots"]] == ["broom-oval", "chalk-oval"]
    for one in found["pots"]:
        assert set(one["inputs"]) == {
            "available_l", "mad", "crown_area_m2", "crown_coefficient", "soil_area_m2", "ke", "tew_mm", "rew_mm", "exposure",
        }  # fmt: skip
        use = one["usual"]
        assert set(use) == {"waterings", "irrigation_l", "transpiration_l", "evaporation_l", "drainage_l", "balance_error_l", "busiest_week"}  # fmt: skip
        assert abs(use["balance_error_l"]) < 1e-6
        assert len(one["months"]) == 12
        assert sum(m["waterings"] for m in one["months"]) == use["waterings"]
        many = one["ensemble"]
        assert many["waterings"] == sorted(many["waterings"])
        assert 0 <= many["away_distress_chance"] <= many["distress_chance"] <= 1
    alone = run(capsys, str(bundle), "--tree", "mossback", "--pot", "chalk-oval", "--years", "12")
    assert alone["pots"][0] == found["pots"][1]


def test_roof_habit_away_and_seed_change_what_they_should(bundle: Path, capsys: pytest.CaptureFixture[str]) -> None:
    words = [str(bundle), "--tree", "mossback", "--pot", "broom-oval", "--years", "12"]
    plain, roofed = run(capsys, *words)["pots"][0], run(capsys, *words, "--roofed")["pots"][0]
    assert roofed["usual"]["waterings"] > plain["usual"]["waterings"]
    assert roofed["usual"]["drainage_l"] == 0
    seldom = run(capsys, *words, "--habit", "alternate")["pots"][0]
    assert seldom["ensemble"]["dry_hours"][1] > plain["ensemble"]["dry_hours"][1]
    away = run(capsys, *words, "--away", "2026-07-05..2026-07-25")["pots"][0]
    assert away["ensemble"]["away_distress_chance"] > plain["ensemble"]["away_distress_chance"] == 0
    other = run(capsys, *words, "--seed", "5")["pots"][0]
    assert other["ensemble"] != plain["ensemble"]
    assert other["usual"] == plain["usual"]


@pytest.mark.parametrize(
    ("words", "told"),
    [
        (["--tree", "nobody", "--pot", "broom-oval"], "no tree"), (["--tree", "mossback", "--pot", "none"], "no pot"),
        (["--tree", "mossback", "--pot", "broom-oval", "--away", "July"], "FROM..TO"),
        (["--tree", "mossback", "--pot", "broom-oval", "--away", "2026-07-20..2026-07-01"], "is before"),
        (["--tree", "mossback", "--pot", "broom-oval", "--years", "0"], "outside 1 to"),
        (["--tree", "mossback", "--pot", "broom-oval", "--seed", "-1"], "below nought"),
        (["--tree", "mossback", "--pot", "broom-oval", "--date", "soon"], "no day"),
        (["--tree", "mossback", "--pot", "tide-slab"], "holds no drained mix"),
    ],
)  # fmt: skip
def test_mistakes_are_one_sentence(
    bundle: Path, capsys: pytest.CaptureFixture[str], words: list[str], told: str
) -> None:
    assert main(["year", str(bundle), *words]) == 2
    err = capsys.readouterr().err
    assert told in err
    assert err.count("\n") == 1
