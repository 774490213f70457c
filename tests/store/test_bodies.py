"""Copied, renamed, replaced, deleted, made anew, killed: the collection is whole in one file, and no other body's log is applied to it."""

import os
import random
import shutil
import signal
import sqlite3
import subprocess
import sys
import time
from collections.abc import Iterator
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kesh.base.errors import CollectionFileError
from kesh.model import Collection
from kesh.store.backups import last_good_copy
from kesh.store.body import beside, journal_belongs, log_belongs
from kesh.store.collection_file import CollectionFile
from kesh.store.reading import read_collection
from tests.builders import pot, tree


def small(name: str = "Small", height: float = 100.0) -> Collection:
    return Collection(name=name, trees={"maple": tree()}, pots={"tray": pot(height_mm=height)})


@pytest.fixture
def path(tmp_path: Path) -> Path:
    return tmp_path / "bench.kesh"


@pytest.fixture
def file(path: Path) -> Iterator[CollectionFile]:
    made = CollectionFile.create(path, small())
    yield made
    made.close()


def taller(file: CollectionFile, mm: float) -> None:
    file.edit(f"{mm:g} mm", [("pot", "tray", pot(height_mm=mm))])


def height(path: Path) -> float:
    return read_collection(path).pots["tray"].height_mm


def alone(path: Path) -> bool:
    return not any(one.exists() for one in beside(path))


def test_a_copy_of_the_open_file_is_the_collection(file: CollectionFile, tmp_path: Path) -> None:
    for mm in (110, 120, 130):
        taller(file, mm)
        key = file.put_picture(str(mm).encode())
        copied = tmp_path / "elsewhere" / f"{mm}.kesh"
        copied.parent.mkdir(exist_ok=True)
        shutil.copyfile(file.path, copied)
        again = CollectionFile.open(copied, backup=False)
        assert again.collection.pots["tray"].height_mm == mm
        assert again.picture(key) == str(mm).encode()
        assert again.labels()[0] == f"{mm} mm"
        assert again.problems == []
        again.close()
        assert alone(file.path)


def test_renamed_while_open_work_goes_on_under_the_new_name(file: CollectionFile, path: Path) -> None:
    taller(file, 110)
    new = path.with_name("renamed.kesh")
    path.rename(new)
    taller(file, 120)
    assert file.path == new
    assert "renamed.kesh" in file.told[0]
    assert height(new) == 120
    assert not path.exists()
    file.undo()
    assert height(new) == 110


def test_moved_to_another_folder_and_back(file: CollectionFile, path: Path, tmp_path: Path) -> None:
    away = tmp_path / "away"
    away.mkdir()
    path.rename(away / "x.kesh")
    taller(file, 111)
    (away / "x.kesh").rename(path)
    taller(file, 112)
    assert file.path == path
    assert height(path) == 112


def test_deleted_while_open_it_stands_there_again(file: CollectionFile, path: Path) -> None:
    taller(file, 110)
    path.unlink()
    taller(file, 120)
    assert file.path == path
    assert height(path) == 120
    assert "stands there again" in file.told[0]
    assert file.undo() == "120 mm"


def test_another_collection_put_in_its_place_is_left_alone(file: CollectionFile, path: Path, tmp_path: Path) -> None:
    taller(file, 110)
    CollectionFile.create(tmp_path / "other.kesh", small("Other", 55)).close()
    path.unlink()
    (tmp_path / "other.kesh").rename(path)
    taller(file, 120)
    assert height(path) == 55
    assert file.path != path
    assert file.path.name.startswith("bench, kept ")
    assert height(file.path) == 120
    assert read_collection(file.path).name == "Small"


def test_a_copy_laid_over_the_open_file_is_read_before_anything_is_written(file: CollectionFile, path: Path) -> None:
    saved = path.with_name("saved.kesh")
    shutil.copyfile(path, saved)
    taller(file, 110)
    # the same body, other contents: as `cp saved.kesh bench.kesh` leaves it
    path.write_bytes(saved.read_bytes())
    with pytest.raises(CollectionFileError, match="read again"):
        taller(file, 120)
    assert file.collection.pots["tray"].height_mm == 100
    taller(file, 130)
    assert height(path) == 130
    db = sqlite3.connect(path)
    assert db.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
    db.close()


@pytest.mark.parametrize("content", [b"", b"no database at all" * 400])
def test_rubbish_laid_over_the_open_file_costs_no_record(file: CollectionFile, path: Path, content: bytes) -> None:
    taller(file, 110)
    path.write_bytes(content)
    with pytest.raises(CollectionFileError, match="repeat your step"):
        taller(file, 120)
    assert path.read_bytes() == content
    taller(file, 130)
    assert file.path != path
    assert height(file.path) == 130


def test_a_folder_that_is_gone_is_said_and_the_work_kept(tmp_path: Path) -> None:
    folder = tmp_path / "stick"
    folder.mkdir()
    file = CollectionFile.create(folder / "bench.kesh", small())
    shutil.rmtree(folder)
    taller(file, 120)
    assert height(file.path) == 120
    assert "goes on in" in file.told[0]
    file.close()


def test_undo_is_of_this_window_and_a_refused_one_reads_again(file: CollectionFile, path: Path) -> None:
    taller(file, 110)
    other = CollectionFile.open(path, backup=False)
    other.edit("Theirs", [("pot", "tray", pot(height_mm=150))])
    with pytest.raises(CollectionFileError, match="another window"):
        file.undo()
    assert file.collection.pots["tray"].height_mm == 150
    with pytest.raises(CollectionFileError, match=r"Theirs.*another window"):
        file.undo()
    assert height(path) == 150
    assert other.undo() == "Theirs"
    other.close()
    with pytest.raises(CollectionFileError, match="read again"):
        file.undo()
    assert file.undo() == "110 mm"
    assert height(path) == 100


def test_undo_of_a_record_that_no_longer_validates_is_a_sentence(file: CollectionFile, path: Path) -> None:
    taller(file, 110)
    file.close()
    db = sqlite3.connect(path)
    db.execute("""UPDATE change SET before = '{"id": "tray", "height_mm": -5}'""")
    db.commit()
    db.close()
    again = CollectionFile.open(path, backup=False)
    with pytest.raises(CollectionFileError, match="nothing was changed"):
        again.undo()
    assert again.collection.pots["tray"].height_mm == 110
    assert height(path) == 110
    taller(again, 120)
    again.close()


def test_the_last_good_copy_is_found_among_broken_ones(file: CollectionFile, path: Path) -> None:
    assert file.back_up() == []
    folder = path.parent / "backups"
    good = next(folder.iterdir())
    (folder / "bench-2999-01-01.kesh").write_bytes(b"")
    (folder / "bench-2999-01-02.kesh").write_bytes(b"rubbish" * 99)
    assert last_good_copy(path) == good
    assert last_good_copy(path.with_name("none.kesh")) is None


def test_everything_in_one_file_is_opened_before_it_gets_its_name(file: CollectionFile, tmp_path: Path) -> None:
    taller(file, 110)
    key = file.put_picture(b"photograph")
    target = tmp_path / "moved" / "bench.kesh"
    file.copy_to(target)
    assert alone(target)
    again = CollectionFile.open(target, backup=False)
    assert again.collection == file.collection
    assert again.picture(key) == b"photograph"
    assert again.undo() == "110 mm"
    again.close()
    with pytest.raises(CollectionFileError, match="exists already"):
        file.copy_to(target)


# killed at any moment ---------------------------------------------------------------------------------------------

CHILD = """
import sys
from pathlib import Path
from kesh.store.collection_file import CollectionFile
from tests.builders import pot
file = CollectionFile.open(Path(sys.argv[1]), backup=False)
big = "x" * 3900
print("ready", flush=True)
for mm in range(101, 100000):
    file.edit("more", [("pot", "tray", pot(height_mm=100 + (mm % 900)))] + [("pot", f"p{k}", pot(id=f"p{k}", notes=big)) for k in range(mm % 40)])
    print(mm, flush=True)
"""


def killed_in_a_burst(path: Path, wait_s: float) -> int:
    """Edits in another process until it is killed; the last edit that was acknowledged."""
    child = subprocess.Popen(
        [sys.executable, "-c", CHILD, str(path)], stdout=subprocess.PIPE, text=True, cwd=Path(__file__).parents[2]
    )
    assert child.stdout is not None
    assert child.stdout.readline() == "ready\n"
    time.sleep(wait_s)
    os.kill(child.pid, signal.SIGKILL)
    said = [line for line in child.stdout.read().split("\n") if line]
    child.stdout.close()
    child.wait()
    return int(said[-1]) if said else 0


@pytest.mark.parametrize("seed", range(4))
def test_what_was_acknowledged_survives_a_kill_and_what_comes_after_it(path: Path, seed: int) -> None:
    rng = random.Random(seed)
    CollectionFile.create(path, small()).close()
    saved = path.with_name("saved.kesh")
    shutil.copyfile(path, saved)
    last = killed_in_a_burst(path, rng.uniform(0.0, 0.12))
    then = rng.choice(["open", "copy", "anew", "over"])
    copied = path.with_name("copied.kesh")
    if then == "copy" and not beside(path)[0].exists():
        shutil.copyfile(path, copied)
        assert height(copied) >= 100
    if then == "over":
        # a backup laid over the killed file, whatever lies beside it
        shutil.copyfile(saved, path)
        last = 0
    if then == "anew":
        path.rename(path.with_name("away.kesh"))
        CollectionFile.create(path, small("New", 77)).close()
    again = CollectionFile.open(path, backup=False)
    assert again.read_only == ""
    found = again.collection.pots["tray"].height_mm
    if then == "anew":
        assert (again.collection.name, found) == ("New", 77)
    else:
        expected = {100.0} if not last else {100 + (last % 900), 100 + ((last + 1) % 900)}
        if then == "over":
            expected = {100.0}
        assert found in expected
    taller(again, 99)
    again.close()
    db = sqlite3.connect(path)
    assert db.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
    db.close()


def torn(path: Path) -> tuple[bytes, bytes]:
    """(body, journal) as a kill in the middle of writing leaves them: both, one change half written."""
    db = sqlite3.connect(path, isolation_level=None)
    db.execute("PRAGMA journal_mode = DELETE")
    db.execute("PRAGMA cache_size = 2")
    db.execute("PRAGMA cache_spill = 2")
    db.execute("BEGIN IMMEDIATE")
    for k in range(60):
        db.execute("INSERT OR REPLACE INTO record VALUES ('pot', ?, 9, ?)", (f"torn{k}", "y" * 3000))
    body, journal = path.read_bytes(), beside(path)[0].read_bytes()
    db.execute("ROLLBACK")
    db.close()
    return body, journal


def test_a_change_that_was_broken_off_is_taken_back_also_for_those_who_only_read(path: Path) -> None:
    CollectionFile.create(path, small()).close()
    whole = path.read_bytes()
    body, journal = torn(path)
    path.write_bytes(body)
    beside(path)[0].write_bytes(journal)
    assert body != whole
    assert read_collection(path).pots.keys() == {"tray"}
    assert path.read_bytes() == body, "who only reads writes nothing"
    again = CollectionFile.open(path, backup=False)
    assert again.read_only == ""
    assert again.collection.pots.keys() == {"tray"}
    again.close()


def test_a_journal_of_another_body_is_put_aside(path: Path, tmp_path: Path) -> None:
    CollectionFile.create(tmp_path / "other.kesh", small("Other", 55)).close()
    _, journal = torn(tmp_path / "other.kesh")
    file = CollectionFile.create(path, small())
    for mm in (110, 120, 130, 140):
        taller(file, mm)
    file.close()
    beside(path)[0].write_bytes(journal)
    os.utime(beside(path)[0], (1, 1))
    assert not journal_belongs(path, beside(path)[0])
    assert height(path) == 140
    again = CollectionFile.open(path, backup=False)
    assert again.collection.pots["tray"].height_mm == 140
    assert "put aside" in again.problems[0]
    again.close()
    assert path.with_name("bench.kesh-journal.other").exists()


def test_a_log_of_another_body_is_put_aside(path: Path, tmp_path: Path) -> None:
    other = tmp_path / "other.kesh"
    CollectionFile.create(other, small("Other", 55)).close()
    db = sqlite3.connect(other)
    db.execute("PRAGMA journal_mode = WAL")
    db.execute("UPDATE record SET body = '{}'")
    db.commit()
    log = beside(other)[1].read_bytes()
    db.close()
    CollectionFile.create(path, small()).close()
    beside(path)[1].write_bytes(log)
    assert not log_belongs(path, beside(path)[1])
    assert read_collection(path).pots["tray"].height_mm == 100
    again = CollectionFile.open(path, backup=False)
    assert again.collection == small()
    again.close()


def test_a_log_that_an_older_kesh_left_is_read(path: Path) -> None:
    CollectionFile.create(path, small()).close()
    code = (
        "import os, sqlite3, sys; db = sqlite3.connect(sys.argv[1]); db.execute('PRAGMA journal_mode = WAL');"
        """db.execute("UPDATE meta SET value = 'Left in the log' WHERE key = 'name'"); db.commit(); os._exit(0)"""
    )
    subprocess.run([sys.executable, "-c", code, str(path)], check=True)
    assert beside(path)[1].stat().st_size > 0
    assert read_collection(path).name == "Left in the log"
    again = CollectionFile.open(path, backup=False)
    assert again.collection.name == "Left in the log"
    assert again.problems == []
    again.close()
    assert alone(path)


moves = st.lists(
    st.sampled_from(["edit", "rename", "copy", "delete", "undo", "over", "reopen"]), min_size=1, max_size=12
)


@settings(max_examples=12)
@given(moves)
def test_whatever_is_done_to_the_file_the_last_edit_stands(
    tmp_path_factory: pytest.TempPathFactory, run: list[str]
) -> None:
    folder = tmp_path_factory.mktemp("bodies")
    file = CollectionFile.create(folder / "a.kesh", small())
    saved, at, heights = folder / "saved.kesh", 0, [100.0]
    shutil.copyfile(file.path, saved)
    for n, move in enumerate(run):
        if move == "rename" and file.path.exists():
            file.path.rename(folder / f"renamed{n}.kesh")
        elif move == "delete":
            for one in folder.glob("*.kesh"):
                if one.samefile(file.path) if file.path.exists() else False:
                    one.unlink()
        elif move == "over" and file.path.exists():
            file.path.write_bytes(saved.read_bytes())
            heights = [100.0]
        elif move == "copy" and file.path.exists():
            shutil.copyfile(file.path, folder / "copy.kesh")
            assert height(folder / "copy.kesh") == heights[-1]
        elif move == "reopen" and file.path.exists():
            file.close()
            file = CollectionFile.open(file.path, backup=False)
        else:
            at += 1
            try:
                taller(file, 100 + at)
            except CollectionFileError:
                # it was laid over: read again first
                assert file.collection.pots["tray"].height_mm == heights[-1]
                taller(file, 100 + at)
            heights.append(100.0 + at)
            assert height(file.path) == heights[-1]
    file.close()
