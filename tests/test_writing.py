"""One writer: the old file or the new one, and one sentence when neither can be."""

import os
import subprocess
import sys
from pathlib import Path

import pytest

from kesh.base import writing
from kesh.base.writing import (
    WritingError,
    check_file,
    check_folder,
    make_folder,
    shown,
    write_all,
    write_bytes,
    write_text,
)


def test_nothing_is_swapped_when_one_file_finds_no_room(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    folder = tmp_path / "out"
    folder.mkdir()
    one, two = folder / "one.pdf", folder / "two.dxf"
    one.write_bytes(b"old one")
    real, count = os.fsync, [0]

    def full(handle: int) -> None:
        count[0] += 1
        if count[0] == 2:
            raise OSError(28, "No space left on device")
        real(handle)

    monkeypatch.setattr(writing.os, "fsync", full)
    with pytest.raises(WritingError, match=r"two.dxf cannot be written: No space left on device; .* free some room"):
        write_all({one: b"new one", two: b"new two"})
    assert one.read_bytes() == b"old one"
    assert [p.name for p in folder.iterdir()] == ["one.pdf"]


def test_a_full_disk_keeps_the_good_file(tmp_path: Path) -> None:
    folder = tmp_path / "out"
    folder.mkdir()
    target = folder / "sheet.pdf"
    write_bytes(target, b"good")
    # a limit on the size of files is what a full disk looks like from inside
    code = (
        "import resource, signal; signal.signal(signal.SIGXFSZ, signal.SIG_IGN);"
        "resource.setrlimit(resource.RLIMIT_FSIZE, (1000, 1000));"
        "from pathlib import Path; from kesh.base.writing import check_file, write_bytes, WritingError\n"
        f"try: write_bytes(Path({str(target)!r}), b'x' * 5000)\nexcept WritingError as err: print(err)"
    )
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True)
    assert "sheet.pdf cannot be written" in done.stdout, done.stderr
    assert target.read_bytes() == b"good"
    assert list(folder.iterdir()) == [target]


def test_rights_stay_and_new_files_can_be_read_by_others(tmp_path: Path) -> None:
    kept, fresh = tmp_path / "kept.csv", tmp_path / "fresh.csv"
    kept.write_text("a")
    kept.chmod(0o640)
    write_text(kept, "b")
    write_text(fresh, "c")
    mask = os.umask(0)
    os.umask(mask)
    assert kept.stat().st_mode & 0o777 == 0o640
    assert fresh.stat().st_mode & 0o777 == 0o666 & ~mask


def test_places_that_cannot_be_are_one_sentence(tmp_path: Path) -> None:
    stone = tmp_path / "stone"
    stone.write_text("")
    for act in (
        lambda: make_folder(stone / "below"),
        lambda: check_folder(stone),
        lambda: check_folder(stone / "below" / "that"),
        lambda: write_text(stone / "below.txt", "x"),
        lambda: write_text(tmp_path / "no" / "x", "x"),
    ):
        with pytest.raises(WritingError) as caught:
            act()
        assert "\n" not in str(caught.value)
        assert "choose another folder" in str(caught.value)
    check_folder(tmp_path / "new" / "below")
    assert not (tmp_path / "new").exists()
    assert shown(Path(os.fsdecode(b"tree-\xff.jpg"))).isprintable()


def test_a_place_is_looked_at_before_long_work_and_left_as_it_was(tmp_path: Path) -> None:
    held = tmp_path / "held.png"
    held.write_bytes(b"before")
    check_file(held)
    check_file(tmp_path / "new.png")
    assert [p.name for p in tmp_path.iterdir() if p.is_file()] == ["held.png"]
    assert held.read_bytes() == b"before"
    for place in (held / "below.png", tmp_path / "nowhere" / "new.png", tmp_path):
        with pytest.raises(WritingError, match="cannot be written"):
            check_file(place)
