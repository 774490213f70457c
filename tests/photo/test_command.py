"""`kesh measure` as a stranger uses it."""

import json
from pathlib import Path

import cv2
import numpy as np
import pytest
from PIL import Image

from kesh.line.main import main
from tests.photo.test_measuring import sample, truth

KEYS = {
    "height_mm", "reach_left_mm", "reach_right_mm", "crown_base_mm", "trunk_mm", "flare_mm", "apex_offset_mm", "lean_deg",
    "canopy_opacity", "silhouette_area_cm2", "bark_colour", "leaf_colour",
}  # fmt: skip


@pytest.fixture(scope="module")
def photo(tmp_path_factory: pytest.TempPathFactory) -> Path:
    path = tmp_path_factory.mktemp("photo") / "mossback.jpg"
    cv2.imwrite(str(path), sample("mossback", "wall").image, [cv2.IMWRITE_JPEG_QUALITY, 85])
    return path


def numbers(*values: float) -> str:
    return ",".join(f"{v:.1f}" for v in values)


def test_figures_and_mask_by_a_card(photo: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    s = sample("mossback", "wall")
    card = numbers(*s.card_px.ravel(), *s.card_mm)
    mask = tmp_path / "mask.png"
    words = ["measure", str(photo), "--card", card, "--soil", numbers(*s.soil_px), "--apex", numbers(*s.apex_px)]
    assert main([*words, "--mask", str(mask), "--json"]) == 0
    found = json.loads(capsys.readouterr().out)
    assert set(found) >= KEYS
    for key in KEYS - {"trunk_mm"}:
        assert set(found[key]) >= {"value", "plus_minus", "unit"}, key
    assert set(found["trunk_mm"]) == {"soil", "above_flare", "mid_trunk", "below_first_branch"}
    assert found["height_mm"]["value"] == pytest.approx(truth(s)["height_mm"], rel=0.02)
    assert found["apex_offset_mm"]["value"] == pytest.approx(truth(s)["apex_offset_mm"], abs=3)
    assert found["bark_colour"]["value"].startswith("#")
    written = cv2.imread(str(mask), cv2.IMREAD_UNCHANGED)
    assert written.shape == s.mask.shape
    assert set(np.unique(written)) == {0, 128, 255}


def test_a_loop_on_the_command_line_and_what_is_in_doubt(
    photo: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    s, mask = sample("mossback", "wall"), tmp_path / "m.png"
    ys, xs = np.nonzero(s.mask)
    box = numbers(xs.min() - 40, ys.min() - 40, xs.max() + 40, s.soil_px[1] + 20)
    words = ["measure", str(photo), "--card", numbers(*s.card_px.ravel(), *s.card_mm), "--soil", numbers(*s.soil_px)]
    assert main([*words, "--around", box, "--mask", str(mask), "--json"]) == 0
    found = json.loads(capsys.readouterr().out)
    assert 0 <= found["doubt"] < 0.1
    assert found["loop_proposed"] is False
    assert len(found["loop_px"]) == 4
    assert all(0 <= found[key]["doubt"] <= 1 for key in ("height_mm", "reach_left_mm", "flare_mm"))
    assert found["height_mm"]["value"] == pytest.approx(truth(s)["height_mm"], rel=0.02)
    seen = np.asarray(Image.open(mask)) > 0
    assert (seen & (s.mask > 0)).sum() / (seen | (s.mask > 0)).sum() > 0.93
    assert main([*words, "--around", "1,2,3", "--json"]) == 2
    assert "two for a box" in capsys.readouterr().err


def test_text_without_a_soil_mark(photo: Path, capsys: pytest.CaptureFixture[str]) -> None:
    (x1, y1), (x2, y2) = sample("mossback", "wall").pot_px
    assert main(["measure", str(photo), "--known", numbers(x1, y1, x2, y2, 312)]) == 0
    out = capsys.readouterr().out
    assert "height_mm" in out
    assert "±" in out
    assert "trunk_mm: above_flare" in out


@pytest.mark.parametrize(
    ("extra", "said"),
    [
        (["--known", "1,2,3"], "5 numbers"),
        (["--known", "1,2,3,x,5"], "no list of numbers"),
        (["--known", "10,10,300,10,100", "--soil", "9000,20"], "outside the picture"),
        (["--card", "0,0,100,0,100,70,0,70,148,-1"], "above nought"),
        (["--known", "10,10,300,10,100", "--soil", "600,1200", "--apex", "600,1300"], "apex"),
    ],
)
def test_mistakes_are_one_line(photo: Path, capsys: pytest.CaptureFixture[str], extra: list[str], said: str) -> None:
    assert main(["measure", str(photo), *extra, "--json"]) == 2
    captured = capsys.readouterr()
    assert said in captured.err
    assert captured.err.count("\n") == 1
    assert captured.out == ""


def test_a_corner_outside_the_picture_may_be_negative(photo: Path, capsys: pytest.CaptureFixture[str]) -> None:
    s = sample("mossback", "wall")
    words = ["measure", str(photo), "--known", "-10.5,20,389.5,20,250", "--soil", numbers(*s.soil_px), "--json"]
    assert main(words) == 0
    assert json.loads(capsys.readouterr().out)["height_mm"]["value"] == pytest.approx(truth(s)["height_mm"], rel=0.02)


def test_a_scale_must_be_given(photo: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["measure", str(photo)]) == 2
    err = capsys.readouterr().err
    assert "--known" in err
    assert err.count("\n") == 1
