"""Pictures that may be anything: handled, or refused in one sentence."""

from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from kesh.photo.read import PhotoError, read_photo


def picture(mode: str = "RGB", size: tuple[int, int] = (120, 90)) -> Image.Image:
    rows = np.zeros((size[1], size[0], 3), np.uint8)
    rows[:, : size[0] // 2] = (200, 40, 20)
    return Image.fromarray(rows).convert(mode)


@pytest.mark.parametrize("kind", ["png", "jpg", "webp", "tiff"])
def test_usual_kinds(tmp_path: Path, kind: str) -> None:
    path = tmp_path / f"tree.{kind}"
    picture().save(path, quality=95) if kind in ("jpg", "webp") else picture().save(path)
    found = read_photo(path)
    assert found.size == (120, 90)
    b, g, r = found.image[45, 20].astype(int)
    assert r > 180 > 60 > max(g, b)


def test_exif_turns_it_upright(tmp_path: Path) -> None:
    path = tmp_path / "turned.jpg"
    exif = Image.Exif()
    exif[0x0112] = 6
    picture().save(path, exif=exif, quality=95)
    found = read_photo(path)
    assert found.size == (90, 120)
    assert found.image[20, 45, 2] > 150 > found.image[100, 45, 2]
    assert "EXIF" in found.notes[0]


def test_cmyk_sixteen_bit_grey_and_transparent(tmp_path: Path) -> None:
    cmyk = tmp_path / "press.jpg"
    picture("CMYK").save(cmyk, quality=95)
    assert "CMYK" in read_photo(cmyk).notes[0]
    deep = tmp_path / "deep.png"
    Image.fromarray((np.linspace(0, 65535, 100 * 80).reshape(80, 100)).astype(np.uint16)).save(deep)
    found = read_photo(deep)
    assert "16 bit" in found.notes[0]
    assert int(found.image[-1, -1, 0]) == 255
    clear = tmp_path / "clear.png"
    Image.new("RGBA", (80, 80), (0, 0, 0, 0)).save(clear)
    assert read_photo(clear).image.min() == 255


@pytest.mark.parametrize(
    ("name", "content", "said"),
    [
        ("empty.png", b"", "is empty"),
        ("text.jpg", b"this is a letter, not a picture", "no PNG, JPEG, WebP or TIFF"),
        ("page.png", b"%PDF-1.7\n" + b"x" * 200, "no PNG, JPEG, WebP or TIFF"),
    ],
)
def test_what_is_no_picture(tmp_path: Path, name: str, content: bytes, said: str) -> None:
    path = tmp_path / name
    path.write_bytes(content)
    with pytest.raises(PhotoError, match=said):
        read_photo(path)


@pytest.mark.parametrize("kind", ["png", "jpg", "webp", "tiff"])
def test_cut_short(tmp_path: Path, kind: str) -> None:
    path = tmp_path / f"short.{kind}"
    noise = np.random.default_rng(1).integers(0, 255, (300, 300, 3), dtype=np.uint8)
    Image.fromarray(noise).save(path)
    data = path.read_bytes()
    path.write_bytes(data[: len(data) // 2])
    with pytest.raises(PhotoError, match=r"short\."):
        read_photo(path)


def test_a_renamed_picture_is_read_by_what_it_is(tmp_path: Path) -> None:
    path = tmp_path / "really_png.jpg"
    picture().save(path, format="PNG")
    assert read_photo(path).size == (120, 90)


def test_moving_huge_tiny_and_foreign_pictures_are_refused(tmp_path: Path) -> None:
    moving = tmp_path / "moving.webp"
    picture().save(moving, save_all=True, append_images=[picture("L").convert("RGB")], duration=100)
    wide = tmp_path / "wide.png"
    Image.new("1", (40_000, 40)).save(wide)
    tiny = tmp_path / "tiny.png"
    picture(size=(12, 10)).save(tiny)
    gif = tmp_path / "old.gif"
    picture("P").save(gif)
    for path, said in (
        (moving, "moves"),
        (wide, "40000 × 40"),
        (tiny, "only 12 × 10"),
        (gif, "GIF"),
        (tmp_path / "gone.png", "no such file"),
    ):
        with pytest.raises(PhotoError, match=said) as told:
            read_photo(path)
        assert "\n" not in str(told.value)
