"""Steps from each older version of the collection file to the next."""

import sqlite3

APPLICATION_ID = 0x4B657368
VERSION = 10


def _add_history(db: sqlite3.Connection) -> None:
    """Version 1 kept no history of edits."""
    db.execute(
        "CREATE TABLE change (seq INTEGER PRIMARY KEY AUTOINCREMENT, step INTEGER NOT NULL, at TEXT NOT NULL,"
        " label TEXT NOT NULL, kind TEXT NOT NULL, id TEXT NOT NULL, before TEXT, after TEXT,"
        " undone INTEGER NOT NULL DEFAULT 0)"
    )
    db.execute("CREATE INDEX change_step ON change (step)")


def _add_pictures(db: sqlite3.Connection) -> None:
    """Version 2 kept no photographs. What its briefs lack, stand and weights, reads as the default."""
    db.execute("CREATE TABLE IF NOT EXISTS picture (key TEXT PRIMARY KEY, body BLOB NOT NULL)")


def _fields_only(db: sqlite3.Connection) -> None:
    """Version 3 knew no traits, features, front marker, car height or tree of a design; all read as their defaults.

    The number rises because a program of version 3 would not know the fields: it opens such a file to read only.
    """


def _bands_and_colours(db: sqlite3.Connection) -> None:
    """Version 4 knew no belts and lips of pots and no places of colour in photographs; both read as none."""


def _readings(db: sqlite3.Connection) -> None:
    """Version 5 knew no readings, no weather of one's own and no ties; there are none. A program of it opens such a file to read only."""


def _plans(db: sqlite3.Connection) -> None:
    """Version 6 knew no planned plantings, stock, tasks or work at the bench; there are none. A program of it opens such a file to read only."""


def _seasons(db: sqlite3.Connection) -> None:
    """Version 7 knew no habits, orders, reservations, corrections or views on seasons. A program of it opens such a file to read only."""


def _groups(db: sqlite3.Connection) -> None:
    """Version 8 knew no groups, ground, ways or special plantings. A program of it opens such a file to read only."""


def _answers(db: sqlite3.Connection) -> None:
    """Version 9 wrote tasks down whole and knew no answers. They stay as they are and are read as what was said of them."""


UPGRADES = {
    1: _add_history,
    2: _add_pictures,
    3: _fields_only,
    4: _bands_and_colours,
    5: _readings,
    6: _plans,
    7: _seasons,
    8: _groups,
    9: _answers,
}


def upgrade(db: sqlite3.Connection, version: int) -> None:
    """Bring an open file to the present version, each step in its own transaction."""
    while version < VERSION:
        with db:
            db.execute("BEGIN IMMEDIATE")
            UPGRADES[version](db)
            version += 1
            db.execute(f"PRAGMA user_version = {version}")
