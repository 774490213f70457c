"""The collection file: SQLite, every edit committed at once, undo and redo, dated backups."""

import contextlib
import hashlib
import os
import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import UTC, datetime
from importlib.resources import files
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from kesh.base import paths
from kesh.base.errors import CollectionFileError
from kesh.base.writing import reason, shown
from kesh.model import Collection
from kesh.store.backups import back_up, back_up_before, whole_copy
from kesh.store.body import Hold, beside, body_at, clear_strangers, free_name, put_aside
from kesh.store.reading import check_head, damage, look, name, rows
from kesh.store.records import all_records, body_of, read_rows, record_of, with_changes
from kesh.store.upgrades import APPLICATION_ID, VERSION, upgrade

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
        # what was found out about the file while it was open, for whoever shows it
        self.told: list[str] = []
        # the file in whose place this one was opened because that one is broken
        self.instead_of: Path | None = None
        self._db = db
        self._hold: Hold | None = None
        self._own: set[int] = set()
        self._seen, self._stamp = 0, (0, 0)
        self._take_hold()

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
            for one in (scratch, *beside(scratch)):
                one.unlink(missing_ok=True)
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
            # under its own name only when all of it stands on the disk, and beside nothing that another file left there
            for one in beside(path):
                if one.exists():
                    put_aside(one)
            scratch.rename(path)
            db = _connect(path)
        except (sqlite3.Error, OSError, ValueError) as err:
            with contextlib.suppress(OSError):
                for one in (scratch, *beside(scratch)):
                    one.unlink(missing_ok=True)
            raise CollectionFileError(
                f"{shown(path)} cannot be created: {reason(err)}; choose another folder or free some room"
            ) from err
        return cls(path, db, "", [], collection)

    @classmethod
    def open(cls, path: Path, *, backup: bool = True) -> "CollectionFile":
        """Open a file; newer and damaged ones read-only. Raises CollectionFileError for foreign or unreadable files."""
        check_head(path)
        read_only, problems = "", []
        if os.access(path, os.W_OK) and os.access(path.parent, os.W_OK):
            with contextlib.suppress(OSError):
                problems += clear_strangers(path)
            with contextlib.suppress(sqlite3.Error):
                # a change that was broken off is taken back before anything is read
                sqlite3.connect(path, timeout=3).execute("SELECT count(*) FROM sqlite_master").connection.close()
        db, version = look(path)
        if version > VERSION:
            read_only = f"made by a newer Kesh (file version {version}); opened to read only"
        elif (fault := damage(db)) is not None:
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
                db, _ = look(path)
        found, lost = rows(db)
        collection, unread = read_rows(found, name(db, path))
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
        after, written = self.collection, []
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
                    written.append(
                        (step, datetime.now(UTC).isoformat(), label, kind, key, old[0] if old else None, new)
                    )
                after = with_changes(after, changes)
                self._db.executemany(
                    "INSERT INTO change (step, at, label, kind, id, before, after) VALUES (?, ?, ?, ?, ?, ?, ?)",
                    written,
                )
        except sqlite3.Error as err:
            raise CollectionFileError(
                f"the edit was not saved: {err}; free some room or close the other program, then try again"
            ) from err
        self.collection = after
        self._own.add(step)
        self._mark()
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
        self._mark()
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
        self._mark()

    def close(self) -> None:
        """Let go of the file."""
        self._db.close()
        if self._hold is not None:
            self._hold.let_go()
            self._hold = None

    def back_up(self) -> list[str]:
        """The dated copy of the day where there is none yet; what went wrong."""
        return [] if self.read_only else back_up(self._db, self.path)

    def copy_to(self, target: Path) -> None:
        """Everything in one file: records, photographs and history; it is opened before it gets its name. Raises CollectionFileError."""
        whole_copy(self._db, target, len(all_records(self.collection)))

    def _swing(self, which: str, column: str, undone: int, order: str) -> str | None:
        self._writable()
        step = self._db.execute(which).fetchone()[0]
        if step is None:
            return None
        changed = self._db.execute(
            f"SELECT kind, id, {column}, label FROM change WHERE step = ? ORDER BY seq {order}", (step,)
        ).fetchall()
        if undone and step not in self._own:
            raise CollectionFileError(
                f"the last step, {changed[0][3]}, was made in another window: take it back there, or open the collection anew"
            )
        after = self.collection
        try:
            with self._db:
                self._db.execute("BEGIN IMMEDIATE")
                self._unseen()
                for kind, key, body, _ in changed:
                    self._put(kind, key, body)
                after = with_changes(
                    after,
                    [(kind, key, None if body is None else record_of(kind, body)) for kind, key, body, _ in changed],
                )
                self._db.execute("UPDATE change SET undone = ? WHERE step = ?", (undone, step))
        except sqlite3.Error as err:
            raise CollectionFileError(f"the step was not taken back: {err}; free some room, then try again") from err
        except (ValidationError, ValueError, TypeError, RecursionError) as err:
            raise CollectionFileError(
                f"the step, {changed[0][3]}, cannot be taken back or done again: what it would bring is no longer a record Kesh "
                "can read; nothing was changed"
            ) from err
        self.collection = after
        self._mark()
        return str(changed[0][3])

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
            self._read_again()
            raise CollectionFileError(
                f"{self.path.name} was changed in another window; it is read again, look at it and then repeat your step"
            )

    def _read_again(self) -> None:
        self.collection, _ = read_rows(rows(self._db)[0], name(self._db, self.path))

    def _writable(self) -> None:
        """The file can be written, and it is still the one that was opened, wherever it stands now. Raises CollectionFileError."""
        if self.read_only:
            raise CollectionFileError(f"{self.path.name} is read-only: {self.read_only}")
        if self._hold is None:
            raise CollectionFileError(f"{self.path.name} is closed")
        if body_at(self.path) != self._hold.body:
            self._follow(self._hold)
        if self._hold.stamp() != self._stamp:
            self._look_anew()

    def _follow(self, hold: Hold) -> None:
        """Work goes on in the same body under its new name; where it is gone, in a copy of it."""
        old, now = self.path, hold.path()
        try:
            if now is not None:
                self.told.append(f"{old.name} is now {shown(now)}; work goes on there")
            elif body_at(old) is None and old.parent.is_dir():
                now = old
                hold.copy_to(now)
                self.told.append(f"{old.name} was deleted while it was open; it stands there again")
            else:
                now = self._kept_place(old)
                hold.copy_to(now)
                self.told.append(f"Another file stands as {old.name} now; your work goes on in {shown(now)}")
            self._reopen(now)
        except (OSError, sqlite3.Error) as err:
            raise CollectionFileError(
                f"{old.name} is no longer where it was, and your work cannot be kept in {shown(now or old)}: {reason(err)}; "
                "save a copy elsewhere"
            ) from err

    def _kept_place(self, path: Path) -> Path:
        if os.access(path.parent, os.W_OK):
            return free_name(path, "kept")
        paths.data_dir().mkdir(parents=True, exist_ok=True)
        return free_name(paths.data_dir() / path.name, "kept")

    def _look_anew(self) -> None:
        """Somebody wrote to the file: another window, or a copy laid over it. Nothing is written before it was read again."""
        try:
            check_head(self.path)
            self._reopen(self.path)
            fault = damage(self._db)
            if fault is None:
                look(self.path)[0].close()
        except (CollectionFileError, OSError, sqlite3.Error) as err:
            fault = reason(err) if isinstance(err, OSError) else str(err)
        if fault is not None:
            self._keep_memory(fault)
        known = self._own
        self._read_again()
        self._own = known & {row[0] for row in self._db.execute("SELECT DISTINCT step FROM change")}
        raise CollectionFileError(
            f"{self.path.name} was changed in another window; it is read again, look at it and then repeat your step"
        )

    def _keep_memory(self, fault: str) -> None:
        """What stands under the name is no collection any more: what was in hand goes on in a file beside it."""
        target = self._kept_place(self.path)
        made = CollectionFile.create(target, self.collection)
        self.close()
        old, self.path, self._db, self._hold = self.path.name, made.path, made._db, made._hold
        self._mark()
        raise CollectionFileError(
            f"{old} was overwritten and cannot be read any more ({fault}); what was open stands in {shown(target)}, without "
            "photographs; repeat your step there, or open the last copy out of the backups"
        )

    def _reopen(self, path: Path) -> None:
        self._db.close()
        hold, self._hold = self._hold, None
        if hold is not None:
            hold.let_go()
        for one in clear_strangers(path):
            self.told.append(one)
        self.path, self._db = path, _connect(path)
        self._take_hold()

    def _take_hold(self) -> None:
        if not self.read_only:
            with contextlib.suppress(OSError):
                self._hold = Hold(self.path)
        if not self._own:
            with contextlib.suppress(sqlite3.Error):
                self._own = {row[0] for row in self._db.execute("SELECT DISTINCT step FROM change")}
        self._mark()

    def _mark(self) -> None:
        """The file as this window left it."""
        self._stamp = self._hold.stamp() if self._hold is not None else (0, 0)
        self._seen = self._db.execute("PRAGMA data_version").fetchone()[0]


def picture_key(body: bytes) -> str:
    """The key under which a picture's file is kept: the same file has the same key everywhere."""
    return hashlib.sha256(body).hexdigest()[:32]


def _connect(path: Path) -> sqlite3.Connection:
    db = sqlite3.connect(path, timeout=3, isolation_level=None)
    # the whole collection stands in the one file after every edit: a copy of it is a collection, and nothing beside it has
    # to travel along
    db.execute("PRAGMA journal_mode = DELETE")
    db.execute("PRAGMA synchronous = FULL")
    return db
