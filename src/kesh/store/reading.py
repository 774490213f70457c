"""Reading a collection file without writing to it: whole, damaged, newer, locked away, or not one at all."""

import atexit
import contextlib
import os
import shutil
import sqlite3
import tempfile
from pathlib import Path

from kesh.base.errors import CollectionFileError
from kesh.base.writing import reason, shown
from kesh.model import KINDS, Collection
from kesh.store.body import beside, journal_belongs, log_belongs
from kesh.store.records import read_rows
from kesh.store.upgrades import APPLICATION_ID, UPGRADES, VERSION

HEAD = b"SQLite format 3\x00"


def read_collection(path: Path) -> Collection:
    """The records of a file, without writing to it. Raises CollectionFileError for foreign or unreadable files."""
    check_head(path)
    db, _ = look(path)
    collection, _ = read_rows(rows(db)[0], name(db, path))
    db.close()
    return collection


def read_pictures(path: Path) -> dict[str, bytes]:
    """The photographs of a file by key, without writing to it. Raises CollectionFileError."""
    db, _ = look(path)
    try:
        return {str(key): bytes(body) for key, body in db.execute("SELECT key, body FROM picture")}
    except sqlite3.Error as err:
        raise CollectionFileError(f"the photographs of {shown(path)} cannot be read: {err}") from err
    finally:
        db.close()


def look(path: Path) -> tuple[sqlite3.Connection, int]:
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
    """A connection that writes nothing, not even beside the file.

    What lies beside it and belongs to another body is left out of account. A change that was broken off is taken back, and a
    log of an older Kesh read, in a copy of both.
    """
    own = [
        one
        for one, belongs in zip(beside(path), (journal_belongs, log_belongs), strict=False)
        if _lies(one) and belongs(path, one)
    ]
    strange = any(_lies(one) for one in beside(path)[:2]) and not own
    locked = not os.access(path.parent, os.W_OK)
    if own and (locked or own[0] == beside(path)[0]):
        if not locked:
            # another window may be in the middle of writing: its change is waited for before it is taken for broken off
            with contextlib.suppress(sqlite3.Error):
                return _asked(
                    sqlite3.connect(f"{path.absolute().as_uri()}?mode=ro", uri=True, timeout=3, isolation_level=None)
                )
        folder = Path(tempfile.mkdtemp(prefix="kesh-"))
        atexit.register(shutil.rmtree, folder, True)
        for one in (path, *own):
            shutil.copyfile(one, folder / one.name)
        return sqlite3.connect(folder / path.name, timeout=3, isolation_level=None)
    more = "&immutable=1" if locked or strange else ""
    return sqlite3.connect(f"{path.absolute().as_uri()}?mode=ro{more}", uri=True, timeout=3, isolation_level=None)


def _lies(one: Path) -> bool:
    return one.exists() and one.stat().st_size > 0


def _asked(db: sqlite3.Connection) -> sqlite3.Connection:
    db.execute("SELECT count(*) FROM sqlite_master").fetchone()
    return db


def check_head(path: Path) -> None:
    """Whether it is a database at all. Raises CollectionFileError for what is missing, unreadable or something else."""
    try:
        head = _head(path)
    except FileNotFoundError as err:
        raise CollectionFileError(f"{shown(path)}: there is no such file") from err
    except (OSError, ValueError) as err:
        raise CollectionFileError(f"{shown(path)} cannot be read: {reason(err)}") from err
    if not head:
        raise CollectionFileError(f"{shown(path)} is empty; a copy may stand in its backups folder")
    if head != HEAD:
        raise CollectionFileError(f"{shown(path)} is no Kesh collection; a bundle ends in .json, a collection in .kesh")


def _head(path: Path) -> bytes:
    with path.open("rb") as file:
        return file.read(16)


def damage(db: sqlite3.Connection) -> str | None:
    """What is wrong with the database in a few words; None where nothing is."""
    try:
        found = db.execute("PRAGMA quick_check(1)").fetchone()[0]
        db.execute("SELECT count(*) FROM record").fetchone()
    except sqlite3.Error as err:
        return str(err)
    return None if found == "ok" else " ".join(str(found).split())


def rows(db: sqlite3.Connection) -> tuple[list[tuple[str, str, str]], str]:
    """(kind, id, body) of every record that can be read, and what was lost in a few words."""
    found: list[tuple[str, str, str]] = []
    try:
        for row in db.execute("SELECT kind, id, body FROM record ORDER BY place"):
            found.append(row)
        return found, ""
    except sqlite3.Error:
        pass
    # walk kind by kind: a damaged page takes its own kind with it, not the others
    lost = []
    found = []
    for kind in KINDS:
        try:
            for row in db.execute("SELECT kind, id, body FROM record WHERE kind = ?", (kind,)):
                found.append(row)
        except sqlite3.Error:
            lost.append(kind)
    return found, f"damaged, some records lost: {', '.join(lost)}" if lost else "damaged index"


def name(db: sqlite3.Connection, path: Path) -> str:
    """The collection's name; the file's where it cannot be read."""
    try:
        row = db.execute("SELECT value FROM meta WHERE key = 'name'").fetchone()
    except sqlite3.Error:
        row = None
    return str(row[0]) if row else path.stem
