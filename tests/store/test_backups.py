"""Copies beside a collection are of that very file; before a newer Kesh changes one there is a fresh copy; a locked folder reads."""

import subprocess
import sys
from pathlib import Path

import pytest

from kesh.model import Collection
from kesh.store.backups import back_up_before, backups_of
from kesh.store.collection_file import CollectionFile
from kesh.store.reading import read_collection
from tests.builders import pot, tree

NOBODY = 65534


def bench() -> Collection:
    return Collection(name="Bench", trees={"maple": tree()}, pots={"tray": pot()})


def test_a_name_with_signs_keeps_its_hands_off_other_files(tmp_path: Path) -> None:
    folder = tmp_path / "backups"
    folder.mkdir()
    theirs = [folder / f"bench1-2020-01-{day:02}.kesh" for day in range(1, 15)]
    for copy in theirs:
        copy.write_bytes(b"theirs")
    path = tmp_path / "bench[12].kesh"
    CollectionFile.create(path, bench()).close()
    CollectionFile.open(path).close()
    assert all(copy.exists() for copy in theirs)
    assert [p.name.startswith("bench[12]-") for p in backups_of(path)] == [True]


def test_a_name_that_another_begins_with_keeps_its_copies(tmp_path: Path) -> None:
    folder = tmp_path / "backups"
    folder.mkdir()
    longer = folder / "bench-2-2020-01-01.kesh"
    longer.write_bytes(b"theirs")
    assert backups_of(tmp_path / "bench.kesh") == []
    assert backups_of(tmp_path / "bench-2.kesh") == [longer]


def test_every_upgrade_has_a_copy_of_its_own_whatever_the_day_has(tmp_path: Path) -> None:
    path = tmp_path / "bench.kesh"
    file = CollectionFile.create(path, bench())
    for _ in range(2):
        back_up_before(file._db, path, 1)
    file.close()
    copies = sorted((tmp_path / "backups").glob("*version 1*"))
    assert len(copies) == 2
    assert all(read_collection(copy).trees["maple"].name == "Maple" for copy in copies)


@pytest.mark.parametrize("open_elsewhere", [False, True])
def test_a_healthy_file_in_a_locked_folder_opens_for_reading(tmp_path: Path, open_elsewhere: bool) -> None:
    shelf = tmp_path / "locked"
    shelf.mkdir()
    for above in (tmp_path, *tmp_path.parents[:3]):
        above.chmod(above.stat().st_mode | 0o055)
    file = CollectionFile.create(shelf / "bench.kesh", bench())
    if open_elsewhere:
        # what was just written still stands in the journal
        file.edit("Taller", [("pot", "tray", pot(height_mm=123))])
    else:
        file.close()
    for path in shelf.iterdir():
        path.chmod(0o444)
    shelf.chmod(0o555)
    code = (
        "import os; from pathlib import Path; from kesh.store.collection_file import CollectionFile as C;"
        "import kesh.store.backups;"
        # root may write anywhere: it acts as somebody without rights
        f"(os.setgid({NOBODY}), os.setuid({NOBODY})) if os.geteuid() == 0 else None;"
        f"f = C.open(Path({str(shelf / 'bench.kesh')!r}));"
        "print(f.collection.pots['tray'].height_mm, bool(f.read_only), f.problems)"
    )
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, cwd="/")
    shelf.chmod(0o755)
    assert done.returncode == 0, done.stderr
    assert done.stdout.startswith("123.0 True" if open_elsewhere else "100.0 True"), done.stdout
    if open_elsewhere:
        file.close()
