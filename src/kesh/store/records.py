"""Records as rows, and rows as a collection."""

import json
from collections.abc import Iterable, Mapping
from dataclasses import replace
from typing import Any

from pydantic import ValidationError

from kesh.base.errors import BundleError, KeshError, plain_reason
from kesh.model import KINDS, Collection
from kesh.model.base import Record
from kesh.reference.tables import tables

SINGLE = frozenset(kind.key for kind in KINDS.values() if kind.single)


def read_rows(rows: Iterable[tuple[str, str, str]], name: str) -> tuple[Collection, list[str]]:
    """(collection, problems) from (kind, id, body) rows. What cannot be read is named, the rest is kept."""
    by_kind: dict[str, dict[str, Any]] = {kind: {} for kind in KINDS}
    problems = []
    for kind, key, body in rows:
        try:
            if kind in KINDS:
                by_kind[kind][key] = record_of(kind, body)
            else:
                problems.append(f"{kind} {key}: kind not known to this Kesh")
        except ValidationError as err:
            problems.append(plain_reason(err, f"{kind} {key}"))
        except KeshError as err:
            problems.append(str(err))
        except (ValueError, TypeError, RecursionError) as err:
            problems.append(f"{kind} {key}: {err}")
    fields: dict[str, Any] = {
        kind.field: tuple(by_kind[kind.key].values()) if kind.listed else by_kind[kind.key]
        for kind in KINDS.values()
        if not kind.single
    }
    fields |= {KINDS[key].field: next(iter(by_kind[key].values()), None) for key in SINGLE}
    return Collection(name=name, **fields), problems


def record_of(kind: str, body: str) -> Any:
    """A record of a known kind from JSON text. Raises ValidationError, ValueError or BundleError."""
    record = KINDS[kind].record
    return _own_row(kind, json.loads(body)) if record is None else record.model_validate_json(body)


def _own_row(kind: str, row: Any) -> dict[str, Any]:
    """A row of the user's own tables that can be laid over what ships. Raises BundleError naming the column at fault."""
    if not isinstance(row, dict):
        raise BundleError(f"{kind}: a row must be a set of columns")
    tables((row,) if kind == "species_row" else (), (row,) if kind == "substrate_row" else ())
    return row


def key_of(kind: str, record: Any) -> str:
    """The id under which a record is stored."""
    return kind if kind in SINGLE else str(record["key"] if isinstance(record, Mapping) else record.id)


def all_records(collection: Collection) -> list[tuple[str, str, Any]]:
    """Every record of a collection as (kind, id, record)."""
    found: list[tuple[str, str, Any]] = []
    for kind in KINDS.values():
        held = getattr(collection, kind.field)
        rows = () if held is None else (held,) if kind.single else held if kind.listed else held.values()
        found += [(kind.key, key_of(kind.key, r), r) for r in rows]
    return found


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
    row = KINDS[kind]
    if row.single:
        one: dict[str, Any] = {row.field: fresh[kind]}
        return replace(collection, **one)
    held = getattr(collection, row.field)
    rows = {key_of(kind, r): r for r in held} if row.listed else dict(held)
    for key, record in fresh.items():
        if record is None:
            rows.pop(key, None)
        else:
            rows[key] = record
    changes: dict[str, Any] = {row.field: tuple(rows.values()) if row.listed else rows}
    return replace(collection, **changes)
