"""Strict reading of the fact tables that ship with Kesh, and of rows that users bring along."""

import csv
from collections.abc import Mapping
from functools import cache
from importlib.resources import files
from typing import Any, TypeVar

from pydantic import BaseModel, ConfigDict, ValidationError

from kesh.base.errors import BundleError, plain_reason


class Row(BaseModel):
    """A frozen row of a fact table. Unknown columns are ignored, blanks become None."""

    model_config = ConfigDict(frozen=True, extra="ignore", allow_inf_nan=False)

    key: str
    confidence: str = "low"


R = TypeVar("R", bound=Row)


@cache
def raw_table(name: str) -> tuple[Mapping[str, str], ...]:
    """All rows of a shipped table as text, blank cells left out."""
    text = files("kesh.reference").joinpath("tables", f"{name}.csv").read_text(encoding="utf-8")
    return tuple({k: v for k, v in row.items() if v != ""} for row in csv.DictReader(text.splitlines()))


def read_row(kind: type[R], row: Mapping[str, Any], table: str) -> R:
    """One validated row. Raises BundleError naming the table, the key and the column at fault."""
    cells = {str(k): v for k, v in row.items() if v is not None and v != ""}
    try:
        return kind.model_validate(cells)
    except ValidationError as err:
        raise BundleError(plain_reason(err, f"{table} {cells.get('key', '?')}")) from err


def merged(kind: type[R], table: str, rows: tuple[Mapping[str, Any], ...]) -> dict[str, R]:
    """The shipped table with the user's rows laid over it, column by column."""
    raw: dict[str, dict[str, Any]] = {row["key"]: dict(row) for row in raw_table(table)}
    for row in rows:
        key = row.get("key")
        if not isinstance(key, str) or not key:
            raise BundleError(f"{table}: a row has no key; give every row a key")
        raw.setdefault(key, {}).update({k: v for k, v in row.items() if v is not None and v != ""})
    return {key: read_row(kind, cells, table) for key, cells in raw.items()}
