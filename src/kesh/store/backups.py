"""Copies beside a collection: one a day, and one before a newer Kesh changes the file."""

import os
import re
import sqlite3
from datetime import date
from pathlib import Path

from kesh.base.errors import CollectionFileError
from kesh.base.writing import reason, shown
from kesh.store.reading import check_head, damage, look, rows

KEEP_BACKUPS = 10


def back_up(db: sqlite3.Connection, path: Path) -> list[str]:
    """One dated copy a day beside the file; the oldest go when there are more than ten. Returns what went wrong."""
    target = path.parent / "backups" / f"{path.stem}-{date.today().isoformat()}.kesh"
    if target.exists():
        return []
    try:
        _copy(db, target)
        for old in backups_of(path)[:-KEEP_BACKUPS]:
            old.unlink()
    except (OSError, sqlite3.Error) as err:
        return [f"no backup could be written beside {path.name}: {reason(err)}"]
    return []


def back_up_before(db: sqlite3.Connection, path: Path, version: int) -> None:
    """A copy of the file as the older Kesh left it, whatever copies of the day there are. Raises OSError or sqlite3.Error."""
    folder = path.parent / "backups"
    target, number = folder / f"{path.stem}-{date.today().isoformat()} version {version}.kesh", 2
    while target.exists():
        target, number = folder / f"{path.stem}-{date.today().isoformat()} version {version} {number}.kesh", number + 1
    _copy(db, target)


def backups_of(path: Path) -> list[Path]:
    """The dated copies of one file, oldest first: of this very name, whatever signs are in it."""
    name = re.compile(re.escape(path.stem) + r"-\d{4}-\d{2}-\d{2}\.kesh")
    return sorted(p for p in (path.parent / "backups").iterdir() if name.fullmatch(p.name))


def last_good_copy(path: Path) -> Path | None:
    """The newest dated copy of a file that can be read whole; None where there is none."""
    if not (path.parent / "backups").is_dir():
        return None
    for copy in reversed(backups_of(path)):
        try:
            check_head(copy)
            db, _ = look(copy)
        except CollectionFileError:
            continue
        fault = damage(db)
        db.close()
        if fault is None:
            return copy
    return None


def whole_copy(db: sqlite3.Connection, target: Path, records: int) -> None:
    """Everything of an open file in one file of its own, opened and counted before it gets its name. Raises CollectionFileError."""
    if target.exists():
        raise CollectionFileError(f"{target.name} exists already; choose another name")
    try:
        _copy(db, target, records)
    except (OSError, sqlite3.Error) as err:
        raise CollectionFileError(
            f"{shown(target)} cannot be written: {reason(err)}; choose another folder or free some room"
        ) from err


def _copy(db: sqlite3.Connection, target: Path, records: int | None = None) -> None:
    target.parent.mkdir(exist_ok=True)
    scratch = target.with_suffix(".part")
    scratch.unlink(missing_ok=True)
    copy = sqlite3.connect(scratch)
    try:
        db.backup(copy)
        # a copy is one file: nothing of it may stand in a log beside it
        copy.execute("PRAGMA journal_mode = DELETE")
        if records is not None:
            fault = damage(copy) or ("" if len(rows(copy)[0]) >= records else "records are missing in it")
            if fault:
                raise OSError(f"the copy is not whole, {fault}")
    finally:
        copy.close()
    with scratch.open("rb") as file:
        os.fsync(file.fileno())
    scratch.replace(target)
