"""A collection as a bundle document: all of it, and its photographs where they are asked for."""

import base64
from collections.abc import Mapping
from typing import Any

from kesh.formats.bundle.shapes import FORMAT, MEASURES, VERSION, Bundle
from kesh.model import KINDS, Collection, Tree
from kesh.model.base import Record

TREE_FIELDS = tuple(name for name in Tree.model_fields if name not in ("measures", "root_masses"))


def bundle_of(collection: Collection, pictures: Mapping[str, bytes] | None = None) -> dict[str, Any]:
    """A collection as a bundle document, ready for JSON. Photographs go along when their files are given by key."""
    found: dict[str, Any] = {
        "format": FORMAT,
        "version": VERSION,
        "name": collection.name,
        "site": _plain(collection.site, ("id",)) if collection.site else None,
        "trees": [_tree(tree) for tree in collection.trees.values()],
        "pots": [_pot_row(pot) for pot in collection.pots.values()],
    }
    for kind in KINDS.values():
        if kind.bundle in found or not kind.bundle or (kind.key == "photo" and pictures is None):
            continue
        held = getattr(collection, kind.field)
        if kind.single:
            if held is not None:
                found[kind.bundle] = _plain(held, ("id",))
            continue
        rows = held if kind.listed else held.values()
        found[kind.bundle] = [dict(row) if isinstance(row, Mapping) else _plain(row) for row in rows]
    if pictures is not None:
        found["pictures"] = {key: base64.b64encode(body).decode("ascii") for key, body in pictures.items()}
    return found


def _plain(record: Record, leave: tuple[str, ...] = ()) -> dict[str, Any]:
    data = record.model_dump(mode="json")
    return {k: v for k, v in data.items() if k not in leave and v is not None}


def _pot_row(pot: Any) -> dict[str, Any]:
    row = _plain(pot, ("holes_known",))
    row["holes"] = (
        [{k: v for k, v in hole.items() if v is not None} for hole in row["holes"]] if pot.holes_known else None
    )
    return row


def _tree(tree: Tree) -> dict[str, Any]:
    row = {k: v for k, v in _plain(tree).items() if k in TREE_FIELDS}
    if tree.measures:
        row |= {k: v for k, v in _plain(tree.measure).items() if k in MEASURES}
        row["how"] = tree.measure.how
        if tree.measure.taken:
            row["measured"] = tree.measure.taken.isoformat()
    row["measures"] = [_plain(m) for m in tree.measures[:-1]]
    if tree.roots is not None:
        row["roots"] = _plain(tree.roots)
    row["root_masses"] = [_plain(r) for r in tree.root_masses[:-1]]
    return row


def schema() -> dict[str, Any]:
    """The JSON schema of the bundle, for `docs/`."""
    return Bundle.model_json_schema()
