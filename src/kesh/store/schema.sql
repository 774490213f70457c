-- A Kesh collection. Every record is one row of JSON by kind and id; every edit is one transaction.
CREATE TABLE meta (key TEXT PRIMARY KEY, value TEXT NOT NULL) WITHOUT ROWID;
CREATE TABLE record (
    kind TEXT NOT NULL,
    id TEXT NOT NULL,
    place INTEGER NOT NULL,
    body TEXT NOT NULL,
    PRIMARY KEY (kind, id)
) WITHOUT ROWID;
CREATE TABLE picture (key TEXT PRIMARY KEY, body BLOB NOT NULL);
CREATE TABLE change (
    seq INTEGER PRIMARY KEY AUTOINCREMENT,
    step INTEGER NOT NULL,
    at TEXT NOT NULL,
    label TEXT NOT NULL,
    kind TEXT NOT NULL,
    id TEXT NOT NULL,
    before TEXT,
    after TEXT,
    undone INTEGER NOT NULL DEFAULT 0
);
CREATE INDEX change_step ON change (step);
