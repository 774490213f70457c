"""A run's own folder: what it holds, how it is named, what a second run does to it, and what others keep in it."""

import os
from datetime import date
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.advice.routes.printer import PrintWishes
from kesh.advice.routes.routes import job
from kesh.advice.routes.wishes import MakerWishes
from kesh.base.errors import KeshError
from kesh.demo.lanternfield import demo_collection
from kesh.formats.job_files import (
    CONTENTS,
    SHEET,
    ThereAlreadyError,
    file_head,
    in_use,
    job_bytes,
    listed,
    plain,
    run_folder,
    shown_name,
    standing,
    with_sheet,
    write_job,
    write_run,
)
from kesh.geometry.feet import with_feet

DAY = date(2026, 3, 10)
TRAY = with_feet(demo_collection().pots["ferry-tray"])


def wishes(bed: float) -> MakerWishes:
    return MakerWishes(own={"print": PrintWishes(bed_mm=(bed, bed, 250.0))})


def names(folder: Path) -> set[str]:
    return {p.name for p in folder.iterdir()}


def test_a_smaller_run_leaves_no_piece_of_the_larger_one(tmp_path: Path) -> None:
    many, few = job("print", TRAY, wishes=wishes(150.0)), job("print", TRAY, wishes=wishes(220.0))
    folder = run_folder(tmp_path, "Mill Race", many)
    assert folder == tmp_path / "Mill Race - Ferry tray" / "print"
    write_job(many, tmp_path, "Mill Race", DAY)
    assert (folder / "mill-race-ferry-tray-print-piece-09.stl").exists()
    (folder / "my printer.txt").write_text("keep")
    with pytest.raises(ThereAlreadyError, match="nothing was written") as told:
        write_job(few, tmp_path, "Mill Race", DAY)
    assert "mill-race-ferry-tray-print-piece-09.stl" in told.value.names
    assert (folder / "mill-race-ferry-tray-print-piece-09.stl").exists()
    written = write_job(few, tmp_path, "Mill Race", DAY, force=True)
    assert not (folder / "mill-race-ferry-tray-print-piece-09.stl").exists()
    assert names(folder) == {p.name for p in written} | {"my printer.txt"}
    assert (folder / "my printer.txt").read_text() == "keep"


def test_the_contents_name_every_file_with_what_it_is(tmp_path: Path) -> None:
    made = job("print", TRAY, wishes=wishes(220.0))
    folder = run_folder(tmp_path, "Mill Race", made)
    files = write_job(made, tmp_path, "Mill Race", DAY)
    text = (folder / CONTENTS).read_text()
    assert text.startswith("Ferry tray: for a printer, for Mill Race, 2026-03-10\n\n")
    assert set(listed(folder)) == names(folder) - {CONTENTS}
    assert all(p.name.startswith("mill-race-ferry-tray-print") for p in files if p.name != CONTENTS)
    pieces = [p.name for p in files if "piece" in p.name and p.suffix == ".stl"]
    assert pieces == sorted(pieces)
    lines = [line for line in text.splitlines()[2:] if line]
    assert all(len(line.split("  ", 1)[1].strip()) > 3 for line in lines)


def test_a_folder_for_reading_only_and_a_full_disk_leave_what_was_there(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    made = job("tube", TRAY)
    folder = run_folder(tmp_path, "", made)
    assert folder == tmp_path / "Ferry tray" / "tube"
    write_job(made, tmp_path, "", DAY)
    before = {p.name: p.read_bytes() for p in folder.iterdir()}

    def full(handle: int) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(os, "fsync", full)
    with pytest.raises(KeshError, match="No space left"):
        write_job(made, tmp_path, "", DAY, force=True)
    assert {p.name: p.read_bytes() for p in folder.iterdir()} == before


def test_contents_that_somebody_changed_take_nothing_else_away(tmp_path: Path) -> None:
    made = job("tube", TRAY)
    folder = run_folder(tmp_path, "", made)
    write_job(made, tmp_path, "", DAY)
    outside = tmp_path / "precious.txt"
    outside.write_text("x")
    (folder / CONTENTS).write_text("a\n\n../../precious.txt  mine\n/etc/hostname  no\nnowhere.stl  gone\n")
    assert listed(folder) == ()
    assert standing(folder, ["a.svg"]) == (CONTENTS,)
    write_job(made, tmp_path, "", DAY, force=True)
    assert outside.exists()


def test_a_run_of_nothing_has_a_bill_only_where_there_is_something_to_buy(tmp_path: Path) -> None:
    nothing = job("drill", TRAY)
    assert nothing.bill == ()
    assert nothing.drawings == ()
    assert job_bytes(nothing) == {}
    folder = run_folder(tmp_path, "", nothing)
    assert [p.name for p in write_run(folder, nothing, "", {}, DAY)] == [CONTENTS]


@given(st.text(max_size=90))
def test_any_name_gives_a_file_name_that_every_system_takes(name: str) -> None:
    for made in (plain(name), shown_name(name)):
        assert made
        assert not set(made) & set('/\\:*?"<>|\0\n')
        assert len(made) <= 60
        assert made == made.strip(" .") or made == "pot"
    assert plain(name) == plain(name).lower()


def test_names_of_other_scripts_stay_names() -> None:
    assert plain("Göschenen 松 No. 2") == "göschenen-松-no-2"
    assert shown_name("a/b: c") == "a-b- c"
    assert file_head(job("tube", TRAY.changed(name="松")), "Ö") == "ö-松-tube"


def test_files_without_their_list_are_seen_before_they_are_replaced(tmp_path: Path) -> None:
    made = job("tube", TRAY)
    folder = run_folder(tmp_path, "Mill Race", made)
    assert in_use(folder, made, "Mill Race") == ()
    write_job(made, tmp_path, "Mill Race", DAY)
    (folder / CONTENTS).unlink()
    (folder / "notes.txt").write_text("mine")
    found = in_use(folder, made, "Mill Race")
    assert found
    assert "notes.txt" not in found
    assert all(name.startswith("mill-race-ferry-tray-tube") for name in found)


def test_a_piece_that_cannot_be_taken_away_is_told(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    many, few = job("print", TRAY, wishes=wishes(150.0)), job("print", TRAY, wishes=wishes(220.0))
    write_job(many, tmp_path, "", DAY)

    def refused(self: Path, missing_ok: bool = False) -> None:
        raise PermissionError(1, "Operation not permitted")

    monkeypatch.setattr(Path, "unlink", refused)
    with pytest.raises(KeshError, match="cannot be taken away: Operation not permitted; delete it"):
        write_job(few, tmp_path, "", DAY, force=True)
    folder = run_folder(tmp_path, "", few)
    assert "piece-09" not in (folder / CONTENTS).read_text()


def test_a_sheet_goes_with_its_files_under_their_name() -> None:
    made = job("tube", TRAY)
    files = with_sheet(job_bytes(made, "Mill Race"), made, "Mill Race", b"%PDF-")
    assert files["mill-race-ferry-tray-tube-sheet.pdf"] == (b"%PDF-", SHEET)
    assert len(files) == len(job_bytes(made, "Mill Race")) + 1
