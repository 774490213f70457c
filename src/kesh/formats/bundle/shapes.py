"""What a kesh-bundle of version 1 looks like: every optional field may be null or absent, more fields may stand in it.

The objects are made from the records: a field that is added to a record stands in the bundle and in its schema as well.
What is written here is only where a bundle differs: words of others, fields that are laid flat, a wall that was a tick.
"""

from collections.abc import Mapping
from datetime import date as Date
from functools import partial
from types import UnionType
from typing import Annotated, Any, Literal, Union, get_args, get_origin

from pydantic import BaseModel, BeforeValidator, ConfigDict, create_model, field_validator

from kesh.model import (
    KINDS,
    Band,
    DrainageLayer,
    Hole,
    Measure,
    Mix,
    Outline,
    Part,
    Planting,
    Pot,
    Profile,
    RootMass,
    Site,
    Tree,
)
from kesh.model.base import Key, Record

FORMAT, VERSION = "kesh-bundle", 1


class Loose(BaseModel):
    """Bundle objects: fields may be added by others, null means absent, not-a-number is refused."""

    model_config = ConfigDict(extra="ignore", allow_inf_nan=False)

    def given(self) -> dict[str, Any]:
        """The fields that were given and are not null."""
        return {k: v for k, v in self.model_dump().items() if v is not None}


def known_fields(record: type[Record], row: Any) -> Any:
    """A row of others as one of ours: fields nobody knows go, and so do those that are null. Other words are ours."""
    if not isinstance(row, Mapping):
        return row
    names = set(record.model_fields) | {f.alias for f in record.model_fields.values() if f.alias}
    ours = {record.other_words.get(k, k): v for k, v in row.items() if v is not None and k in record.other_words}
    return ours | {k: v for k, v in row.items() if v is not None and k in names}


# the shape of each record that was made already, for those it stands in
_SHAPES: dict[type[Record], type[Loose]] = {}


def _wide(kind: Any) -> Any:
    """A type without its ranges, lists for tuples, records as their shapes: ranges are checked when the record is built, and told with its name."""
    origin, parts = get_origin(kind), get_args(kind)
    if origin is Annotated:
        return _wide(parts[0])
    if origin in (Union, UnionType):
        return Union[tuple(_wide(part) for part in parts)]  # noqa: UP007 - made at run time
    if origin is tuple:
        return list[_wide(parts[0])] if parts[-1] is Ellipsis else tuple[tuple(_wide(part) for part in parts)]  # type: ignore[misc]
    if isinstance(kind, type) and issubclass(kind, Record):
        return _SHAPES.get(kind, Annotated[kind, BeforeValidator(partial(known_fields, kind))])
    return kind


def shape(record: type[Record], leave: tuple[str, ...] = (), **own: Any) -> type[Loose]:
    """The bundle's object of a record: what it cannot be without is asked with its range, all else may be null or absent.

    `leave` are fields a bundle has not, `own` such as it has otherwise, or beside.
    """
    fields: dict[str, Any] = {}
    for name, field in record.model_fields.items():
        if name in leave or name in own:
            continue
        asked = field.is_required() and type(None) not in get_args(field.annotation)
        exact = Annotated[(field.annotation, *field.metadata)] if field.metadata else field.annotation
        fields[name] = (exact if asked else Union[_wide(field.annotation), None], ... if asked else None)  # noqa: UP007
    fields |= {name: kind if isinstance(kind, tuple) else (Union[kind, None], None) for name, kind in own.items()}  # noqa: UP007
    base = own.pop("base", Loose)
    fields.pop("base", None)
    # the checker would take it for a class of its own
    create: Any = create_model
    made: type[Loose] = create(f"Bundle{record.__name__}", __base__=base, __doc__=record.__doc__, **fields)
    _SHAPES[record] = made
    return made


class _TreeWords(Loose):
    @field_validator("style", "stage", mode="before", check_fields=False)
    @classmethod
    def _plain_key(cls, value: Any) -> Any:
        return value.strip().lower().replace(" ", "_").replace("-", "_") if isinstance(value, str) else value


class _PotWords(Loose):
    @field_validator("state", mode="before", check_fields=False)
    @classmethod
    def _plain_state(cls, value: Any) -> Any:
        known = {"own shelf": "shelf", "in use": "in_use", "own": "shelf"}
        return known.get(value, value) if isinstance(value, str) else value


# what a tree's latest measure and root mass say is laid flat beside its own fields; earlier ones stand in lists
MEASURES = tuple(name for name in Measure.model_fields if name not in ("taken", "how"))
_FLAT: dict[str, Any] = {name: _wide(Measure.model_fields[name].annotation) for name in MEASURES}

BundleOutline = shape(Outline)
BundleRoots = shape(RootMass)
BundleProfile = shape(Profile)
BundleHole = shape(Hole)
BundleBand = shape(Band, form=str)
BundlePart = shape(Part)
BundleLayer = shape(DrainageLayer)
BundleTree = shape(
    Tree,
    base=_TreeWords,
    name=str,
    roots=BundleRoots,
    measured=Date,
    how=Measure.model_fields["how"].annotation,
    **_FLAT,
)
BundlePot = shape(Pot, leave=("holes_known",), base=_PotWords, name=str, finish=str, feet_style=str)
BundleMix = shape(Mix, name=str, parts=(list[BundlePart], []))  # type: ignore[valid-type]
BundlePlanting = shape(Planting, id=Key, anchors=str, feed=str, kind=str)
BundleSite = shape(
    Site,
    leave=("id",),
    name=str,
    months=list[dict[str, Any]],
    daily=list[dict[str, Any]],
    wall=str | bool,
    winter_place=str,
)


def _document() -> type[Loose]:
    """The whole document: every kind of record under its name."""
    rows: dict[str, Any] = {"format": (Literal["kesh-bundle"], ...), "version": (int, ...), "name": (str | None, None)}
    for kind in KINDS.values():
        held: Any = dict[str, Any] if kind.record is None else _SHAPES.get(kind.record, kind.record)
        rows[kind.bundle] = (Union[held, None], None) if kind.single else (list[held], [])  # noqa: UP007
    rows["pictures"] = (dict[str, str], {})
    return create_model("Bundle", __base__=Loose, __doc__="The whole document.", **rows)


Bundle = _document()
