"""Records as rows, and rows as a collection."""

import json
from collections.abc import Iterable, Mapping
from dataclasses import replace
from typing import Any

from pydantic import ValidationError

from kesh.errors import BundleError, KeshError, plain_reason
from kesh.model import KINDS, Collection
from kesh.model.base import Record
from kesh.reference.tables import tables

FIELD_OF = {
    "tree": "trees", "pot": "pots", "mix": "mixes", "brief": "briefs", "lineup": "lineups", "photo": "photos",
    "planting": "plantings", "event": "events", "rejection": "rejections", "override": "overrides",
}  # fmt: skip
LISTS = frozenset({"planting", "event", "rejection", "override"})
REFERENCE = frozenset({"species_row", "substrate_row"})


def read_rows(rows: Iterable[tuple[str, str, str]], name: str) -> tuple[Collection, list[str]]:
    """(collection, problems) from (kind, id, body) rows. What cannot be read is named, the rest is kept."""
    by_kind: dict[str, dict[str, Any]] = {kind: {} for kind in (*KINDS, *REFERENCE)}
    problems = []
    for kind, key, body in rows:
        try:
            if kind in REFERENCE:
                by_kind[kind][key] = _own_row(kind, json.loads(body))
            elif kind in KINDS:
                by_kind[kind][key] = KINDS[kind].model_validate_json(body)
            else:
                problems.append(f"{kind} {key}: kind not known to this Kesh")
        except ValidationError as err:
            problems.append(plain_reason(err, f"{kind} {key}"))
        except KeshError as err:
            problems.append(str(err))
        except (ValueError, TypeError, RecursionError) as err:
            problems.append(f"{kind} {key}: {err}")
    fields: dict[str, Any] = {
        field: tuple(by_kind[kind].values()) if kind in LISTS else by_kind[kind] for kind, field in FIELD_OF.items()
    }
    site = next(iter(by_kind["site"].values()), None)
    collection = Collection(
        name=name, site=site, **fields,
        species_rows=tuple(by_kind["species_row"].values()), substrate_rows=tuple(by_kind["substrate_row"].values()),
    )  # fmt: skip
    return collection, problems


def _own_row(kind: str, row: Any) -> dict[str, Any]:
    """A row of the user's own tables that can be laid over what ships. Raises BundleError naming the column at fault."""
    if not isinstance(row, dict):
        raise BundleError(f"{kind}: a row must be a set of columns")
    tables((row,) if kind == "species_row" else (), (row,) if kind == "substrate_row" else ())
    return row


def key_of(kind: str, record: Any) -> str:
    """The id under which a record is stored."""
    return "site" if kind == "site" else str(record["key"] if isinstance(record, Mapping) else record.id)


def all_records(collection: Collection) -> list[tuple[str, str, Any]]:
    """Every record of a collection as (kind, id, record)."""
    found: list[tuple[str, str, Any]] = []
    if collection.site is not None:
        found.append(("site", "site", collection.site))
    for kind, field in FIELD_OF.items():
        held = getattr(collection, field)
        found += [(kind, key_of(kind, r), r) for r in (held if kind in LISTS else held.values())]
    found += [("species_row", key_of("species_row", r), r) for r in collection.species_rows]
    return found + [("substrate_row", key_of("substrate_row", r), r) for r in collection.substrate_rows]


def body_of(record: Any) -> str:
    """A record as JSON text."""
    if isinstance(record, Record):
        return record.model_dump_json(exclude_defaults=True)
    return json.dumps(dict(record))


def with_change(collection: Collection, kind: str, key: str, record: Any | None) -> Collection:
    """The collection with one record put in, replaced, or (None) taken out."""
    return with_changes(collection, [(kind, key, record)])


def with_changes(collection: Collection, changes: Iterable[tuple[str, str, Any | None]]) -> Collection:
    """The collection with many records put in, replaced, or (None) taken out; each kind is copied once."""
    by_kind: dict[str, dict[str, Any | None]] = {}
    for kind, key, record in changes:
        by_kind.setdefault(kind, {})[key] = record
    for kind, fresh in by_kind.items():
        collection = _with_kind(collection, kind, fresh)
    return collection


def _with_kind(collection: Collection, kind: str, fresh: Mapping[str, Any | None]) -> Collection:
    if kind == "site":
        return replace(collection, site=fresh["site"])
    field = f"{kind}s" if kind in REFERENCE else FIELD_OF[kind]
    held = getattr(collection, field)
    listed = kind in LISTS or kind in REFERENCE
    rows = {key_of(kind, r): r for r in held} if listed else dict(held)
    for key, record in fresh.items():
        if record is None:
            rows.pop(key, None)
        else:
            rows[key] = record
    return _with(collection, field, tuple(rows.values()) if listed else rows)


def _with(collection: Collection, field: str, value: Any) -> Collection:
    changes: dict[str, Any] = {field: value}
    return replace(collection, **changes)
