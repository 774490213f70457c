"""The collection file: every acknowledged edit survives, foreign and newer files stay untouched."""

import hashlib
import os
import signal
import sqlite3
import subprocess
import sys
import time
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kesh.base.errors import CollectionFileError
from kesh.model import Collection
from kesh.store.collection_file import CollectionFile
from kesh.store.reading import read_collection
from kesh.store.records import all_records, with_change
from kesh.store.upgrades import APPLICATION_ID, VERSION
from tests.builders import MIX, SITE, planting, pot, tree
from tests.kept import examples


def small() -> Collection:
    return Collection(
        name="Small",
        site=SITE,
        trees={"maple": tree()},
        pots={"tray": pot()},
        mixes={"house": MIX},
        plantings=(planting(),),
    )


@pytest.fixture
def path(tmp_path: Path) -> Path:
    return tmp_path / "small.kesh"


def digest(path: Path) -> str:
    return hashlib.sha256(path.read_bytes()).hexdigest()


def test_what_was_written_is_read(path: Path, demo: Collection) -> None:
    CollectionFile.create(path, demo).close()
    again = CollectionFile.open(path)
    assert again.collection == demo
    assert again.problems == []
    assert again.read_only == ""
    again.close()


def test_every_edit_stands_at_once(path: Path) -> None:
    file = CollectionFile.create(path, small())
    file.edit("Taller", [("pot", "tray", pot(height_mm=120))])
    # a second reader sees it while the first still has the file open
    assert read_collection(path).pots["tray"].height_mm == 120
    file.close()


def test_undo_and_redo_across_a_session(path: Path) -> None:
    file = CollectionFile.create(path, small())
    start = file.collection
    file.edit("Taller", [("pot", "tray", pot(height_mm=120))])
    file.edit("Second pot", [("pot", "two", pot(id="two")), ("tree", "maple", tree(name="Red maple"))])
    end = file.collection
    file.close()
    file = CollectionFile.open(path)
    assert file.labels() == ("Second pot", None)
    assert file.undo() == "Second pot"
    assert file.undo() == "Taller"
    assert file.undo() is None
    assert file.collection == start
    assert file.redo() == "Taller"
    assert file.redo() == "Second pot"
    assert file.redo() is None
    assert file.collection == end
    file.close()


def test_a_new_edit_forgets_what_was_undone(path: Path) -> None:
    file = CollectionFile.create(path, small())
    file.edit("a", [("pot", "tray", pot(height_mm=120))])
    file.undo()
    file.edit("b", [("pot", "tray", pot(height_mm=90))])
    assert file.redo() is None
    assert file.labels() == ("b", None)
    file.close()


moves = st.lists(st.sampled_from(["edit", "delete", "undo", "redo"]), max_size=14)


@settings(max_examples=examples(25))
@given(moves, st.integers(0, 10**6))
def test_any_run_of_steps_leaves_disk_and_memory_the_same(
    tmp_path_factory: pytest.TempPathFactory, run: list[str], seed: int
) -> None:
    path = tmp_path_factory.mktemp("steps") / "x.kesh"
    file = CollectionFile.create(path, small())
    states = [file.collection]
    at = 0
    for i, move in enumerate(run):
        if move in ("edit", "delete"):
            record = pot(id=f"p{(seed + i) % 3}", height_mm=60 + (seed + 7 * i) % 90) if move == "edit" else None
            file.edit(move, [("pot", f"p{(seed + i) % 3}", record)])
            states = [*states[: at + 1], file.collection]
            at += 1
        elif move == "undo" and at:
            file.undo()
            at -= 1
        elif move == "redo" and at + 1 < len(states):
            file.redo()
            at += 1
        assert file.collection == states[at]
    file.close()
    assert read_collection(path).pots == states[at].pots


def test_an_edit_that_cannot_be_written_changes_nothing(path: Path) -> None:
    file = CollectionFile.create(path, small())
    other = sqlite3.connect(path, isolation_level=None)
    other.execute("BEGIN IMMEDIATE")
    file._db.execute("PRAGMA busy_timeout = 50")
    before = file.collection
    with pytest.raises(CollectionFileError, match="was not saved"):
        file.edit("Taller", [("pot", "tray", pot(height_mm=120))])
    assert file.collection is before
    other.execute("ROLLBACK")
    file.edit("Taller", [("pot", "tray", pot(height_mm=120))])
    assert file.collection.pots["tray"].height_mm == 120
    file.close()


def test_somebody_elses_change_is_not_overwritten_unseen(path: Path) -> None:
    first, second = CollectionFile.create(path, small()), CollectionFile.open(path)
    second.edit("Renamed", [("tree", "maple", tree(name="Theirs"))])
    with pytest.raises(CollectionFileError, match="another window"):
        first.edit("Mine", [("tree", "maple", tree(name="Mine"))])
    assert first.collection.trees["maple"].name == "Theirs"
    first.edit("Mine after all", [("tree", "maple", tree(name="Mine"))])
    first.close()
    second.close()


def test_one_backup_a_day_and_ten_at_most(path: Path) -> None:
    CollectionFile.create(path, small()).close()
    folder = path.parent / "backups"
    folder.mkdir()
    for day in range(1, 13):
        (folder / f"small-2020-01-{day:02}.kesh").write_bytes(b"old")
    CollectionFile.open(path).close()
    CollectionFile.open(path).close()
    names = sorted(p.name for p in folder.iterdir())
    assert len(names) == 10
    assert read_collection(folder / names[-1]).trees["maple"].name == "Maple"


def test_a_folder_that_cannot_be_written_opens_without_a_backup(path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    CollectionFile.create(path, small()).close()
    (path.parent / "backups").write_text("in the way")
    file = CollectionFile.open(path)
    assert file.collection.trees["maple"].name == "Maple"
    assert any("backup" in p for p in file.problems)
    file.close()


def test_a_newer_file_opens_to_read_and_stays_as_it_is(path: Path) -> None:
    CollectionFile.create(path, small()).close()
    db = sqlite3.connect(path)
    db.execute("PRAGMA journal_mode = DELETE")
    db.execute(f"PRAGMA user_version = {VERSION + 3}")
    db.execute("INSERT INTO record VALUES ('hologram', 'h1', 99, '{}')")
    db.commit()
    db.close()
    before = digest(path)
    file = CollectionFile.open(path)
    assert "newer" in file.read_only
    assert file.collection.trees["maple"].name == "Maple"
    assert any("hologram" in p for p in file.problems)
    with pytest.raises(CollectionFileError, match="read-only"):
        file.edit("x", [("pot", "tray", pot(height_mm=120))])
    with pytest.raises(CollectionFileError, match="read-only"):
        file.undo()
    file.close()
    assert digest(path) == before


def test_an_older_file_is_brought_up_step_by_step(path: Path) -> None:
    CollectionFile.create(path, small()).close()
    db = sqlite3.connect(path)
    db.execute("DROP TABLE change")
    db.execute("PRAGMA user_version = 1")
    db.commit()
    db.close()
    file = CollectionFile.open(path)
    file.edit("Taller", [("pot", "tray", pot(height_mm=120))])
    assert file.undo() == "Taller"
    file.close()
    assert list((path.parent / "backups").iterdir()), "a copy stands before anything is changed"


@pytest.mark.parametrize("content", [b"", b"hello", b"SQLite format 3\x00" + b"\xff" * 4000, b"{}" * 300])
def test_files_that_are_no_collection_are_refused_untouched(path: Path, content: bytes) -> None:
    path.write_bytes(content)
    with pytest.raises(CollectionFileError) as err:
        CollectionFile.open(path)
    assert "\n" not in str(err.value)
    assert path.read_bytes() == content


def test_a_foreign_database_is_refused_untouched(path: Path) -> None:
    db = sqlite3.connect(path)
    db.execute("CREATE TABLE mails (id INTEGER)")
    db.commit()
    db.close()
    before = digest(path)
    with pytest.raises(CollectionFileError, match="another program"):
        CollectionFile.open(path)
    assert digest(path) == before
    assert not (path.parent / "backups").exists()


def test_a_broken_record_is_named_and_the_rest_is_read(path: Path) -> None:
    file = CollectionFile.create(path, small())
    file._db.execute('UPDATE record SET body = \'{"id": "tray", "name": "T", "length_mm": -4}\' WHERE kind = \'pot\'')
    file._db.execute("UPDATE record SET body = 'nonsense' WHERE kind = 'mix'")
    file.close()
    again = CollectionFile.open(path)
    assert again.collection.trees["maple"].name == "Maple"
    assert again.collection.pots == {}
    assert len(again.problems) == 2
    assert any("pot tray" in p for p in again.problems)
    again.close()


def test_a_torn_page_opens_to_read_what_is_left(path: Path, demo: Collection) -> None:
    CollectionFile.create(path, demo).close()
    raw = bytearray(path.read_bytes())
    at = raw.find(b"cloud-rect", len(raw) // 3)
    raw[at - 900 : at + 900] = os.urandom(1800)
    path.write_bytes(bytes(raw))
    before = digest(path)
    file = CollectionFile.open(path)
    assert file.read_only
    assert file.collection.trees or file.collection.pots
    with pytest.raises(CollectionFileError, match="read-only"):
        file.edit("x", [("pot", "tray", pot())])
    file.close()
    assert digest(path) == before


def test_creating_over_an_existing_file_is_refused(path: Path) -> None:
    CollectionFile.create(path, small()).close()
    with pytest.raises(CollectionFileError, match="exists already"):
        CollectionFile.create(path)


def test_records_go_in_and_out_one_by_one() -> None:
    collection = Collection()
    for kind, key, record in all_records(small()):
        collection = with_change(collection, kind, key, record)
    assert all_records(collection) == all_records(small())
    for kind, key, _ in all_records(small()):
        if kind != "site":
            collection = with_change(collection, kind, key, None)
    assert all_records(collection) == [("site", "site", SITE)]


BURST = """
import sys
from pathlib import Path
from kesh.store.collection_file import CollectionFile
from tests.builders import pot
from tests.kept import examples
file = CollectionFile.open(Path(sys.argv[1]))
for i in range(1, 100000):
    file.edit(f"edit {i}", [("pot", "tray", pot(height_mm=60 + i % 100, name=f"Tray {i}")), ("pot", f"extra{i % 5}", pot(id=f"extra{i % 5}"))])
    print(i, flush=True)
"""


@pytest.mark.parametrize("wait_s", [0.05, 0.2, 0.35])
def test_a_kill_in_a_burst_of_edits_loses_nothing_that_was_acknowledged(path: Path, wait_s: float) -> None:
    CollectionFile.create(path, small()).close()
    root = Path(__file__).parents[2]
    words = [sys.executable, "-c", BURST, str(path)]
    with subprocess.Popen(words, stdout=subprocess.PIPE, text=True, cwd=root) as process:
        assert process.stdout is not None
        seen = int(process.stdout.readline())
        time.sleep(wait_s)
        process.send_signal(signal.SIGKILL)
        rest = [int(line) for line in process.stdout.read().splitlines() if line.strip().isdigit()]
    seen = max([seen, *rest])
    file = CollectionFile.open(path)
    assert file.read_only == ""
    assert file.problems == []
    number = int(file.collection.pots["tray"].name.split()[-1])
    assert number in (seen, seen + 1)
    assert file.collection.pots["tray"].height_mm == 60 + number % 100
    assert file.labels()[0] == f"edit {number}"
    file.undo()
    file.edit("after the crash", [("pot", "tray", pot())])
    file.close()
    assert sqlite3.connect(path).execute("PRAGMA integrity_check").fetchone()[0] == "ok"
    assert sqlite3.connect(path).execute("PRAGMA application_id").fetchone()[0] == APPLICATION_ID
