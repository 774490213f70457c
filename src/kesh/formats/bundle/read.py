"""A bundle read back: strict for the command line, record by record with a sentence for each bad one where people bring things in."""

import base64
import binascii
import json
from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass, replace
from functools import partial
from pathlib import Path
from typing import Any, TypeVar

from pydantic import BaseModel, ValidationError

from kesh.base.errors import BundleError, plain_reason
from kesh.base.progress import Progress
from kesh.base.writing import reason, shown
from kesh.formats.bundle.shapes import (
    FORMAT,
    MEASURES,
    VERSION,
    BundleMix,
    BundlePlanting,
    BundlePot,
    BundleSite,
    BundleTree,
    Loose,
    known_fields,
)
from kesh.formats.bundle.write import TREE_FIELDS
from kesh.formats.odd import what_is_odd
from kesh.formats.words import kept_words
from kesh.model import (  # fmt: skip
    KINDS,
    Band,
    Collection,
    Day,
    DrainageLayer,
    Habits,
    Hole,
    Measure,
    Mix,
    Month,
    Order,
    Outline,
    Part,
    Planting,
    Pot,
    Profile,
    Reading,
    RootMass,
    Site,
    Stock,
    Task,
    Tree,
)
from kesh.model.base import Record
from kesh.model.habits import HABITS
from kesh.reference.tables import tables

MOST_BYTES = 256 * 1024 * 1024
R = TypeVar("R", bound=Record)


@dataclass(frozen=True)
class Brought:
    """What came in: the records, photographs' files by key, a sentence for each record left out and for each that is odd."""

    collection: Collection
    pictures: Mapping[str, bytes]
    problems: tuple[str, ...]
    odd: tuple[str, ...]


class _Reader:
    """Builds record after record; a bad one is raised, or noted and left out where there are notes to write it in."""

    def __init__(self, problems: list[str] | None, progress: Progress | None, total: int) -> None:
        self.problems, self._progress, self._total, self._passed = problems, progress, max(total, 1), 0

    def rows(self, document: Mapping[str, Any], key: str) -> Iterator[tuple[int, Any]]:
        """The rows of a list; null and absent are empty."""
        found = document.get(key)
        if found is None:
            return
        if not isinstance(found, list):
            self.fault(BundleError(f"bundle: {key}: a list is wanted (got {type(found).__name__})"))
            return
        for i, row in enumerate(found):
            self._passed += 1
            if self._progress is not None and self._passed % 20 == 0:
                self._progress.at(min(self._passed / self._total, 1.0))
            yield i, row

    def built(self, key: str, document: Mapping[str, Any], make: Callable[[Any, int], Any]) -> list[Any]:
        """Every row of a list as a record."""
        found = []
        for i, row in self.rows(document, key):
            try:
                found.append(make(row, i))
            except ValidationError as err:
                self.fault(BundleError(plain_reason(err, f"bundle: {key}.{i}")))
            except BundleError as err:
                self.fault(err)
        return found

    def once(self, rows: Iterable[Any], what: str) -> dict[str, Any]:
        """Rows by id; the second of two with one id is a fault."""
        found: dict[str, Any] = {}
        for row in rows:
            if row.id in found:
                self.fault(BundleError(f"{what} '{row.id}' appears twice; give each {what} its own id"))
                continue
            found[row.id] = row
        return found

    def fault(self, error: BundleError) -> None:
        if self.problems is None:
            raise error
        self.problems.append(str(error))


def _build(kind: type[R], fields: Mapping[str, Any], what: str) -> R:
    try:
        return kind(**fields)
    except ValidationError as err:
        raise BundleError(plain_reason(err, what)) from err


def _shape(kind: type[BaseModel], row: Any) -> Any:
    return kind.model_validate(row)


def _outline(given: Loose | None, what: str) -> Outline:
    return Outline() if given is None else _build(Outline, given.given(), f"{what}: outline")


def _roots(row: Any, what: str) -> RootMass:
    fields = {k: v for k, v in row.given().items() if k != "outline"}
    fields["outline"] = Outline(kind="oval") if row.outline is None else _outline(row.outline, what)
    fields["assumed"] = tuple(row.assumed or ())
    return _build(RootMass, fields, f"{what}: roots")


def _tree(raw: Any, _: int) -> Tree:
    row = _shape(BundleTree, raw)
    what = f"tree {row.id}"
    given = row.given()
    fields: dict[str, Any] = {k: given[k] for k in TREE_FIELDS if k in given}
    fields["name"] = row.name or row.id
    latest = {name: given[name] for name in MEASURES if name in given}
    earlier = tuple(row.measures or ())
    if row.measures is None or latest or row.how is not None or row.measured is not None:
        told = {"how": row.how} if row.how is not None else {}
        earlier = (*earlier, _build(Measure, latest | told | {"taken": row.measured}, what))
    fields["measures"] = earlier
    masses = tuple(_roots(r, what) for r in row.root_masses or ())
    fields["root_masses"] = masses if row.roots is None else (*masses, _roots(row.roots, what))
    return _build(Tree, fields, what)


def _pot(raw: Any, _: int) -> Pot:
    row = _shape(BundlePot, raw)
    what = f"pot {row.id}"
    fields = {k: v for k, v in row.given().items() if k not in ("outline", "profile", "holes", "bands")}
    fields["name"] = row.name or row.id
    fields["outline"] = _outline(row.outline, what)
    if row.profile is not None:
        fields["profile"] = _build(Profile, row.profile.given(), f"{what}: profile")
    fields["holes_known"] = row.holes is not None
    fields["holes"] = tuple(_build(Hole, hole.given(), f"{what}: hole") for hole in row.holes or [])
    fields["bands"] = tuple(_build(Band, band.given(), f"{what}: band") for band in row.bands or [])
    return _build(Pot, kept_words(fields), what)


def _mix(raw: Any, _: int) -> Mix:
    row = _shape(BundleMix, raw)
    what, layer = f"mix {row.id}", row.drainage_layer
    fields: dict[str, Any] = {
        "id": row.id,
        "name": row.name or row.id,
        "notes": row.notes or "",
        "parts": tuple(_build(Part, p.model_dump(), what) for p in row.parts),
        "versions": tuple(row.versions or ()),
    }
    if layer is not None:
        fields["drainage_layer"] = _build(DrainageLayer, layer.model_dump(), f"{what}: drainage_layer")
    return _build(Mix, fields, what)


def _planting(raw: Any, i: int) -> Planting:
    row = _shape(BundlePlanting, raw)
    return _build(Planting, {"id": f"{row.tree}/{row.pot}/{i}"} | row.given(), f"planting of {row.tree}")


def _reading(raw: Any, i: int) -> Reading:
    given = known_fields(Reading, raw)
    return Reading.model_validate({"id": f"reading/{i}"} | given if isinstance(given, dict) else given)


def _task(raw: Any, i: int) -> Task:
    # in files it is "from", which is no name in this language
    given = {k: v for k, v in raw.items() if k == "from" or k in Task.model_fields} if isinstance(raw, dict) else raw
    return Task.model_validate({"id": f"task/{i}"} | given if isinstance(given, dict) else given)


def _order(raw: Any, _: int) -> Order:
    given = known_fields(Order, raw)
    if isinstance(given, dict) and "id" not in given and isinstance(given.get("pot"), str):
        given = {"id": given["pot"]} | given
    return Order.model_validate(given)


def _stock(raw: Any, _: int) -> Stock:
    given = known_fields(Stock, raw)
    if isinstance(given, dict) and "id" not in given and isinstance(given.get("item"), str):
        given = {"id": given["item"]} | given
    return Stock.model_validate(given)


def _site(raw: Any, fault: Callable[[BundleError], None]) -> Site:
    row = _shape(BundleSite, raw)
    given = {k: v for k, v in row.given().items() if k not in ("months", "daily")}
    months = tuple(
        _build(Month, {k: v for k, v in m.items() if k in Month.model_fields and v is not None}, "site: month")
        for m in row.months or []
    )
    days = []
    for i, d in enumerate(row.daily or []):
        try:
            days.append(_build(Day, known_fields(Day, d), f"site: daily {i}"))
        except BundleError as err:
            # one bad day is one day, not the place
            fault(err)
    return _build(Site, given | {"months": months, "daily": tuple(days)}, "site")


def read_bundle(document: Any, progress: Progress | None = None) -> Collection:
    """A collection from parsed JSON. Raises BundleError with one sentence naming what is wrong and where."""
    return _read(document, None, progress)


def bring(document: Any, progress: Progress | None = None) -> Brought:
    """As `read_bundle`, but a bad record is one sentence and the rest comes in. Raises BundleError for what is no bundle."""
    problems: list[str] = []
    collection = _read(document, problems, progress)
    pictures: dict[str, bytes] = {}
    given = document.get("pictures")
    for key, text in given.items() if isinstance(given, dict) else ():
        try:
            pictures[str(key)] = base64.b64decode(text, validate=True)
        except (binascii.Error, ValueError, TypeError):
            problems.append(f"picture {key}: it is damaged; add the photograph again")
    return Brought(collection, pictures, tuple(problems), what_is_odd(collection))


SPECIAL: Mapping[str, Callable[[Any, int], Any]] = {
    "tree": _tree,
    "pot": _pot,
    "mix": _mix,
    "planting": _planting,
    "reading": _reading,
    "task": _task,
    "stock": _stock,
    "order": _order,
}


def _read(document: Any, problems: list[str] | None, progress: Progress | None) -> Collection:
    if not isinstance(document, dict) or document.get("format") != FORMAT:
        raise BundleError('this is no kesh-bundle: the document does not start with "format": "kesh-bundle"')
    version = document.get("version")
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise BundleError("the bundle has no version number")
    if version > VERSION:
        raise BundleError(
            f"the bundle has version {version}, this Kesh reads up to {VERSION}; open it with a newer Kesh"
        )
    reader = _Reader(problems, progress, sum(len(v) for v in document.values() if isinstance(v, list)))
    fields: dict[str, Any] = {}
    for kind in KINDS.values():
        if kind.single:
            continue
        make = SPECIAL.get(kind.key)
        if kind.record is None:
            rows = reader.built(kind.bundle, document, lambda row, _, key=kind.bundle: _own_row(row, key))  # type: ignore[misc]
            fields[kind.field] = tuple(rows)
            continue
        record = kind.record
        rows = reader.built(kind.bundle, document, make or partial(_plain_record, record))
        by_id = reader.once(rows, kind.key)
        fields[kind.field] = tuple(by_id.values()) if kind.listed else by_id
    site = None
    if document.get("site") is not None:
        try:
            site = _site(document["site"], reader.fault)
        except ValidationError as err:
            reader.fault(BundleError(plain_reason(err, "bundle: site")))
        except BundleError as err:
            reader.fault(err)
    if document.get(HABITS) is not None:
        try:
            fields[HABITS] = Habits.model_validate(known_fields(Habits, document[HABITS]))
        except ValidationError as err:
            reader.fault(BundleError(plain_reason(err, "bundle: habits")))
    name = document.get("name")
    return replace(Collection(name=name if isinstance(name, str) and name else "Bundle", site=site), **fields)


def _plain_record(record: type[Record], row: Any, _: int) -> Record:
    return record.model_validate(row)


def _own_row(row: Any, table: str) -> dict[str, Any]:
    if not isinstance(row, dict):
        raise BundleError(f"{table}: a row must be a set of columns")
    tables((row,) if table == "species" else (), (row,) if table == "substrates" else ())
    return row


def _refuse(name: str) -> float:
    raise BundleError(f"the bundle contains {name}, which is no number; use null for what is not known")


def _document(path: Path) -> Any:
    try:
        if path.stat().st_size > MOST_BYTES:
            raise BundleError(f"{shown(path)} is larger than {MOST_BYTES // 2**20} MB; split it into parts")
        text = path.read_text(encoding="utf-8-sig")
    except FileNotFoundError as err:
        raise BundleError(f"{shown(path)}: there is no such file") from err
    except (OSError, ValueError) as err:
        raise BundleError(f"{shown(path)} cannot be read as text: {reason(err)}") from err
    try:
        return json.loads(text, parse_constant=_refuse)
    except json.JSONDecodeError as err:
        raise BundleError(f"{shown(path)} is no JSON: {err.msg} in line {err.lineno}") from err
    except RecursionError as err:
        raise BundleError(f"{shown(path)} is nested too deep to be a bundle") from err
    except ValueError as err:
        # a whole number of thousands of digits
        raise BundleError(f"{shown(path)} holds a number that no measure can be: {err}") from err


def load_bundle(path: Path, progress: Progress | None = None) -> Collection:
    """Read a bundle file. Raises BundleError for a missing, foreign, damaged or hostile file."""
    return read_bundle(_document(path), progress)


def bring_bundle(path: Path, progress: Progress | None = None) -> Brought:
    """Read a bundle file record by record. Raises BundleError for a missing, foreign or hostile file."""
    return bring(_document(path), progress)
