"""Copies beside a collection: one a day, and one before a newer Kesh changes the file."""

import os
import re
import sqlite3
from datetime import date
from pathlib import Path

from kesh.writing import reason

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


def _copy(db: sqlite3.Connection, target: Path) -> None:
    target.parent.mkdir(exist_ok=True)
    scratch = target.with_suffix(".part")
    scratch.unlink(missing_ok=True)
    copy = sqlite3.connect(scratch)
    try:
        db.backup(copy)
    finally:
        copy.close()
    with scratch.open("rb") as file:
        os.fsync(file.fileno())
    scratch.replace(target)
