"""The collection file: SQLite, every edit committed at once, undo and redo, dated backups."""

import atexit
import contextlib
import hashlib
import os
import shutil
import sqlite3
import tempfile
from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import UTC, datetime
from importlib.resources import files
from pathlib import Path
from typing import Any

from kesh.errors import CollectionFileError
from kesh.model import KINDS, Collection
from kesh.store.backups import back_up, back_up_before
from kesh.store.records import all_records, body_of, read_rows, record_of, with_changes
from kesh.store.upgrades import APPLICATION_ID, UPGRADES, VERSION, upgrade
from kesh.writing import reason, shown

HEAD = b"SQLite format 3\x00"
Change = tuple[str, str, Any | None]


class CollectionFile:
    """An open collection. `collection` is always what stands on the disk; `problems` names what could not be read."""

    def __init__(
        self, path: Path, db: sqlite3.Connection, read_only: str, problems: list[str], collection: Collection
    ) -> None:
        self.path = path
        self.read_only = read_only
        self.problems = problems
        self.collection = collection
        self._db = db
        self._seen = db.execute("PRAGMA data_version").fetchone()[0]

    @classmethod
    def create(
        cls, path: Path, collection: Collection | None = None, pictures: Mapping[str, bytes] | None = None
    ) -> "CollectionFile":
        """A new file with its photographs by key. Raises CollectionFileError when one stands there already or the folder cannot be written."""
        if path.exists():
            raise CollectionFileError(f"{path.name} exists already; choose another name, or open it")
        collection = collection or Collection(name=path.stem)
        scratch = path.with_name(f".{path.name}.part")
        try:
            for name in (scratch, *_beside(scratch)):
                name.unlink(missing_ok=True)
            db = sqlite3.connect(scratch, isolation_level=None)
            db.execute("PRAGMA synchronous = FULL")
            db.execute(f"PRAGMA application_id = {APPLICATION_ID}")
            db.execute(f"PRAGMA user_version = {VERSION}")
            db.executescript(files("kesh.store").joinpath("schema.sql").read_text(encoding="utf-8"))
            with db:
                db.execute("BEGIN IMMEDIATE")
                db.execute("INSERT INTO meta VALUES ('name', ?)", (collection.name,))
                db.executemany(
                    "INSERT INTO record VALUES (?, ?, ?, ?)",
                    [(kind, key, i, body_of(r)) for i, (kind, key, r) in enumerate(all_records(collection))],
                )
                db.executemany("INSERT OR IGNORE INTO picture VALUES (?, ?)", list((pictures or {}).items()))
            db.close()
            # under its own name only when all of it stands on the disk
            scratch.rename(path)
            db = _connect(path)
        except (sqlite3.Error, OSError, ValueError) as err:
            with contextlib.suppress(OSError):
                for name in (scratch, *_beside(scratch)):
                    name.unlink(missing_ok=True)
            raise CollectionFileError(
                f"{shown(path)} cannot be created: {reason(err)}; choose another folder or free some room"
            ) from err
        return cls(path, db, "", [], collection)

    @classmethod
    def open(cls, path: Path, *, backup: bool = True) -> "CollectionFile":
        """Open a file; newer and damaged ones read-only. Raises CollectionFileError for foreign or unreadable files."""
        _check_head(path)
        db, version = _look(path)
        read_only, problems = "", []
        if version > VERSION:
            read_only = f"made by a newer Kesh (file version {version}); opened to read only"
        elif (fault := _damage(db)) is not None:
            read_only = f"the file is damaged ({fault}); what can be read is shown, nothing is written"
        elif not (os.access(path, os.W_OK) and os.access(path.parent, os.W_OK)):
            read_only = "the file or its folder may not be written here; choose Save a copy to work in one of your own"
        if not read_only:
            db.close()
            try:
                db = _connect(path)
                if version < VERSION:
                    back_up_before(db, path, version)
                elif backup:
                    problems += back_up(db, path)
                upgrade(db, version)
            except (sqlite3.Error, OSError) as err:
                read_only = f"it cannot be written here ({reason(err)})"
                db, _ = _look(path)
        rows, lost = _rows(db)
        collection, unread = read_rows(rows, _name(db, path))
        problems += unread
        if lost:
            problems.append(lost)
            read_only = read_only or "the file is damaged; what can be read is shown, nothing is written"
        return cls(path, db, read_only, problems, collection)

    def edit(self, label: str, changes: Sequence[Change]) -> Collection:
        """Commit one step of (kind, id, record or None). What was undone before can no longer be redone.

        Raises CollectionFileError when the file is read-only or cannot be written; then nothing has changed.
        """
        if not changes:
            return self.collection
        self._writable()
        after = self.collection
        rows = []
        try:
            with self._db:
                self._db.execute("BEGIN IMMEDIATE")
                self._unseen()
                self._db.execute("DELETE FROM change WHERE undone = 1")
                step = self._db.execute("SELECT coalesce(max(step), 0) + 1 FROM change").fetchone()[0]
                for kind, key, record in changes:
                    old = self._db.execute("SELECT body FROM record WHERE kind = ? AND id = ?", (kind, key)).fetchone()
                    new = None if record is None else body_of(record)
                    self._put(kind, key, new)
                    rows.append((step, datetime.now(UTC).isoformat(), label, kind, key, old[0] if old else None, new))
                after = with_changes(after, changes)
                self._db.executemany(
                    "INSERT INTO change (step, at, label, kind, id, before, after) VALUES (?, ?, ?, ?, ?, ?, ?)", rows
                )
        except sqlite3.Error as err:
            raise CollectionFileError(
                f"the edit was not saved: {err}; free some room or close the other program, then try again"
            ) from err
        self.collection = after
        return after

    def put_picture(self, body: bytes) -> str:
        """Keep a picture's file as it is; its key. The same file is kept once. Raises CollectionFileError."""
        self._writable()
        key = picture_key(body)
        try:
            with self._db:
                self._db.execute("INSERT OR IGNORE INTO picture VALUES (?, ?)", (key, body))
        except sqlite3.Error as err:
            raise CollectionFileError(f"the picture was not saved: {err}; free some room, then try again") from err
        return key

    def picture(self, key: str) -> bytes:
        """A kept picture's file. Raises CollectionFileError when it is not there."""
        try:
            row = self._db.execute("SELECT body FROM picture WHERE key = ?", (key,)).fetchone()
        except sqlite3.Error as err:
            raise CollectionFileError(f"the picture cannot be read: {err}") from err
        if row is None:
            raise CollectionFileError("the picture is not in this collection; add the photograph again")
        return bytes(row[0])

    def undo(self) -> str | None:
        """Take the last step back; its label, or None when there is none."""
        return self._swing("SELECT max(step) FROM change WHERE undone = 0", "before", 1, "DESC")

    def redo(self) -> str | None:
        """Do the last undone step again; its label, or None when there is none."""
        return self._swing("SELECT min(step) FROM change WHERE undone = 1", "after", 0, "ASC")

    def labels(self) -> tuple[str | None, str | None]:
        """Labels of the next undo and the next redo."""
        look = "SELECT label FROM change WHERE undone = ? ORDER BY step {} LIMIT 1"
        found = [self._db.execute(look.format(way), (flag,)).fetchone() for flag, way in ((0, "DESC"), (1, "ASC"))]
        return tuple(row[0] if row else None for row in found)  # type: ignore[return-value]

    def rename(self, name: str) -> None:
        """Give the collection another name."""
        self._writable()
        with self._db:
            self._db.execute("BEGIN IMMEDIATE")
            self._db.execute("INSERT OR REPLACE INTO meta VALUES ('name', ?)", (name,))
        self.collection = replace(self.collection, name=name)

    def close(self) -> None:
        """Let go of the file."""
        self._db.close()

    def _swing(self, which: str, column: str, undone: int, order: str) -> str | None:
        self._writable()
        step = self._db.execute(which).fetchone()[0]
        if step is None:
            return None
        rows = self._db.execute(
            f"SELECT kind, id, {column}, label FROM change WHERE step = ? ORDER BY seq {order}", (step,)
        ).fetchall()
        after = self.collection
        try:
            with self._db:
                self._db.execute("BEGIN IMMEDIATE")
                self._unseen()
                for kind, key, body, _ in rows:
                    self._put(kind, key, body)
                after = with_changes(
                    after, [(kind, key, None if body is None else record_of(kind, body)) for kind, key, body, _ in rows]
                )
                self._db.execute("UPDATE change SET undone = ? WHERE step = ?", (undone, step))
        except sqlite3.Error as err:
            raise CollectionFileError(f"the step was not taken back: {err}; free some room, then try again") from err
        self.collection = after
        return str(rows[0][3])

    def _put(self, kind: str, key: str, body: str | None) -> None:
        if body is None:
            self._db.execute("DELETE FROM record WHERE kind = ? AND id = ?", (kind, key))
            return
        self._db.execute(
            "INSERT INTO record VALUES (?, ?, (SELECT coalesce(max(place), 0) + 1 FROM record), ?)"
            " ON CONFLICT (kind, id) DO UPDATE SET body = excluded.body",
            (kind, key, body),
        )

    def _unseen(self) -> None:
        """Refuse to write over what another window has written; what stands on the disk is read first."""
        now = self._db.execute("PRAGMA data_version").fetchone()[0]
        if now != self._seen:
            self._seen = now
            rows, _ = _rows(self._db)
            self.collection, _ = read_rows(rows, _name(self._db, self.path))
            raise CollectionFileError(
                f"{self.path.name} was changed in another window; it is read again, look at it and then repeat your step"
            )

    def _writable(self) -> None:
        if self.read_only:
            raise CollectionFileError(f"{self.path.name} is read-only: {self.read_only}")


def picture_key(body: bytes) -> str:
    """The key under which a picture's file is kept: the same file has the same key everywhere."""
    return hashlib.sha256(body).hexdigest()[:32]


def read_collection(path: Path) -> Collection:
    """The records of a file, without writing to it. Raises CollectionFileError for foreign or unreadable files."""
    _check_head(path)
    db, _ = _look(path)
    rows, _ = _rows(db)
    collection, _ = read_rows(rows, _name(db, path))
    db.close()
    return collection


def read_pictures(path: Path) -> dict[str, bytes]:
    """The photographs of a file by key, without writing to it. Raises CollectionFileError."""
    db, _ = _look(path)
    try:
        return {str(key): bytes(body) for key, body in db.execute("SELECT key, body FROM picture")}
    except sqlite3.Error as err:
        raise CollectionFileError(f"the photographs of {shown(path)} cannot be read: {err}") from err
    finally:
        db.close()


def _connect(path: Path) -> sqlite3.Connection:
    db = sqlite3.connect(path, timeout=3, isolation_level=None)
    db.execute("PRAGMA journal_mode = WAL")
    db.execute("PRAGMA synchronous = FULL")
    return db


def _look(path: Path) -> tuple[sqlite3.Connection, int]:
    """A connection that only reads, and the file's version. Raises CollectionFileError for foreign files."""
    try:
        db = _read_only(path)
        application = db.execute("PRAGMA application_id").fetchone()[0]
        version = db.execute("PRAGMA user_version").fetchone()[0]
    except sqlite3.Error as err:
        raise CollectionFileError(
            f"{path.name} is damaged and cannot be opened ({err}); a copy may stand in its backups folder"
        ) from err
    if application != APPLICATION_ID or not (version in UPGRADES or version >= VERSION):
        db.close()
        raise CollectionFileError(f"{path.name} is a database of another program, not a Kesh collection")
    return db, int(version)


def _read_only(path: Path) -> sqlite3.Connection:
    """A connection that writes nothing. In a folder that may not be written the journal's helper files cannot be made.

    A file whose journal was written back can then be read as it is; one with changes still in its journal is read in a
    copy of both.
    """
    locked = not os.access(path.parent, os.W_OK)
    journal = path.with_name(f"{path.name}-wal")
    if locked and journal.exists() and journal.stat().st_size > 0:
        folder = Path(tempfile.mkdtemp(prefix="kesh-"))
        atexit.register(shutil.rmtree, folder, True)
        for one in (path, journal):
            shutil.copyfile(one, folder / one.name)
        path = folder / path.name
        locked = False
    more = "&immutable=1" if locked else ""
    return sqlite3.connect(f"{path.absolute().as_uri()}?mode=ro{more}", uri=True, timeout=3, isolation_level=None)


def _beside(path: Path) -> tuple[Path, ...]:
    return tuple(path.with_name(path.name + end) for end in ("-journal", "-wal", "-shm"))


def _check_head(path: Path) -> None:
    """Whether it is a database at all. Raises CollectionFileError for what is missing, unreadable or something else."""
    try:
        head = _head(path)
    except FileNotFoundError as err:
        raise CollectionFileError(f"{shown(path)}: there is no such file") from err
    except (OSError, ValueError) as err:
        raise CollectionFileError(f"{shown(path)} cannot be read: {reason(err)}") from err
    if head != HEAD:
        raise CollectionFileError(f"{shown(path)} is no Kesh collection; a bundle ends in .json, a collection in .kesh")


def _head(path: Path) -> bytes:
    with path.open("rb") as file:
        return file.read(16)


def _damage(db: sqlite3.Connection) -> str | None:
    try:
        found = db.execute("PRAGMA quick_check(1)").fetchone()[0]
        db.execute("SELECT count(*) FROM record").fetchone()
    except sqlite3.Error as err:
        return str(err)
    return None if found == "ok" else " ".join(str(found).split())


def _rows(db: sqlite3.Connection) -> tuple[list[tuple[str, str, str]], str]:
    rows: list[tuple[str, str, str]] = []
    try:
        for row in db.execute("SELECT kind, id, body FROM record ORDER BY place"):
            rows.append(row)
        return rows, ""
    except sqlite3.Error:
        pass
    # walk kind by kind: a damaged page takes its own kind with it, not the others
    lost = []
    rows = []
    for kind in KINDS:
        try:
            for row in db.execute("SELECT kind, id, body FROM record WHERE kind = ?", (kind,)):
                rows.append(row)
        except sqlite3.Error:
            lost.append(kind)
    return rows, f"damaged, some records lost: {', '.join(lost)}" if lost else "damaged index"


def _name(db: sqlite3.Connection, path: Path) -> str:
    try:
        row = db.execute("SELECT value FROM meta WHERE key = 'name'").fetchone()
    except sqlite3.Error:
        row = None
    return str(row[0]) if row else path.stem
