"""kesh-bundle JSON, version 1: a collection or a part of one, in and out."""

import json
from collections.abc import Callable, Iterator, Mapping
from datetime import date as Date
from pathlib import Path
from typing import Annotated, Any, Literal, TypeVar

from pydantic import BaseModel, ConfigDict, Field, ValidationError, field_validator

from kesh.errors import BundleError, plain_reason
from kesh.formats.words import kept_words
from kesh.model import (
    Band,
    Collection,
    DrainageLayer,
    Feature,
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
    Trait,
    Tree,
)
from kesh.model.base import Key, LengthMm, Record, SignedMm
from kesh.model.pot import PotState
from kesh.model.roots import Feeders, Health
from kesh.model.site import Month
from kesh.model.tree import Stage, Style
from kesh.progress import Progress
from kesh.reference.tables import tables

FORMAT, VERSION = "kesh-bundle", 1
MOST_BYTES = 64 * 1024 * 1024
TREE_FIELDS = ("id", "species", "style", "stage", "flow", "seed", "notes", "traits", "features", "marker_deg")
MEASURES = tuple(name for name in Measure.model_fields if name not in ("taken", "how"))


class Loose(BaseModel):
    """Bundle objects: fields may be added by others, null means absent, not-a-number is refused."""

    model_config = ConfigDict(extra="ignore", allow_inf_nan=False)

    def given(self) -> dict[str, Any]:
        """The fields that were given and are not null."""
        return {k: v for k, v in self.model_dump().items() if v is not None}


class BundleOutline(Loose):
    kind: Literal["rectangle", "oval", "round", "polygon", "lobed", "free"] = "rectangle"
    corner_mm: float | None = None
    exponent: float | None = None
    sides: int | None = None
    lobes: int | None = None
    lobe_depth: float | None = None
    lobe_style: Literal["cusp", "smooth"] | None = None
    points_mm: list[tuple[float, float]] | None = None


class BundleRoots(Loose):
    outline: BundleOutline | None = None
    length_mm: LengthMm
    width_mm: LengthMm
    depth_mm: LengthMm
    taper: float | None = None
    offset_x_mm: float | None = None
    offset_y_mm: float | None = None
    feeders: Feeders | None = None
    health: Health | None = None
    seen: Date | None = None


class BundleTree(Loose):
    """A tree; the measures are the latest ones, each may be null."""

    id: Key
    name: str | None = None
    species: str | None = None
    style: Style | None = None
    stage: Stage | None = None
    flow: Literal["left", "right", "none"] | None = None
    height_mm: float | None = None
    trunk_diameter_mm: float | None = None
    trunk_at_soil_mm: float | None = None
    trunk_mid_mm: float | None = None
    flare_width_mm: float | None = None
    flare_depth_mm: float | None = None
    canopy_left_mm: float | None = None
    canopy_right_mm: float | None = None
    canopy_front_mm: float | None = None
    canopy_back_mm: float | None = None
    crown_base_mm: float | None = None
    apex_offset_mm: float | None = None
    drop_mm: float | None = None
    graft_height_mm: float | None = None
    canopy_opacity: float | None = None
    mass_kg: float | None = None
    measured: Date | None = None
    roots: BundleRoots | None = None
    seed: int | None = None
    notes: str | None = None
    traits: list[Trait] | None = None
    features: list[Feature] | None = None
    marker_deg: float | None = None

    @field_validator("style", "stage", mode="before")
    @classmethod
    def _plain_key(cls, value: Any) -> Any:
        return value.strip().lower().replace(" ", "_").replace("-", "_") if isinstance(value, str) else value


class BundleProfile(Loose):
    kind: Literal["straight", "tube", "bowed", "lip", "table", "slab"] = "straight"
    base_inset_mm: float | None = None
    belly_mm: float | None = None
    lip_height_share: float | None = None
    lip_offset_mm: float | None = None
    table: list[tuple[float, float]] | None = None


class BundleHole(Loose):
    x_mm: float | None = None
    y_mm: float | None = None
    diameter_mm: float


class BundleBand(Loose):
    form: str | None = None
    at_share: float | None = None
    tall_mm: float | None = None
    proud_mm: float | None = None


class BundlePot(Loose):
    id: Key
    name: str | None = None
    outline: BundleOutline | None = None
    profile: BundleProfile | None = None
    length_mm: LengthMm
    width_mm: LengthMm
    height_mm: LengthMm
    wall_mm: float | None = None
    floor_mm: float | None = None
    feet_mm: float | None = None
    feet_style: str | None = None
    foot_count: int | None = None
    foot_area_mm2: float | None = None
    material: str | None = None
    finish: str | None = None
    colour: str | None = None
    price: float | None = None
    state: PotState | None = None
    holes: list[BundleHole] | None = None
    bands: list[BundleBand] | None = None
    measured_volume_l: float | None = None
    measured_mass_kg: float | None = None
    notes: str | None = None
    defects: str | None = None
    source: str | None = None
    made_for: str | None = None

    @field_validator("state", mode="before")
    @classmethod
    def _plain_state(cls, value: Any) -> Any:
        return {"own shelf": "shelf", "in use": "in_use", "own": "shelf"}.get(value, value)


class BundlePart(Loose):
    substrate: Key
    parts: Annotated[float, Field(ge=0)]


class BundleLayer(Loose):
    substrate: Key
    thickness_mm: Annotated[float, Field(ge=0)]


class BundleMix(Loose):
    id: Key
    name: str | None = None
    parts: list[BundlePart] = []
    drainage_layer: BundleLayer | None = None


class BundlePlanting(Loose):
    tree: Key
    pot: Key
    mix: str | None = None
    date: Date | None = None
    offset_x_mm: SignedMm | None = None
    offset_y_mm: SignedMm | None = None
    turn_deg: float | None = None
    tilt_deg: float | None = None
    raise_mm: float | None = None
    mound_mm: float | None = None
    headspace_mm: float | None = None
    base_layer_mm: float | None = None
    clearance_mm: float | None = None
    ended: Date | None = None


class BundleSite(Loose):
    name: str | None = None
    latitude_deg: float | None = None
    elevation_m: float | None = None
    gust_m_s: float | None = None
    months: list[dict[str, Any]] | None = None


class Bundle(Loose):
    """The whole document."""

    format: Literal["kesh-bundle"]
    version: int
    name: str | None = None
    site: BundleSite | None = None
    trees: list[BundleTree] = []
    pots: list[BundlePot] = []
    mixes: list[BundleMix] = []
    plantings: list[BundlePlanting] = []
    substrates: list[dict[str, Any]] = []
    species: list[dict[str, Any]] = []

    @field_validator("trees", "pots", "mixes", "plantings", "substrates", "species", mode="before")
    @classmethod
    def _none_is_empty(cls, value: Any) -> Any:
        return [] if value is None else value


R = TypeVar("R", bound=Record)
L = TypeVar("L", bound=Loose)


def _build(kind: type[R], fields: Mapping[str, Any], what: str) -> R:
    try:
        return kind(**fields)
    except ValidationError as err:
        raise BundleError(plain_reason(err, what)) from err


def _outline(given: BundleOutline | None, what: str) -> Outline:
    return Outline() if given is None else _build(Outline, given.given(), f"{what}: outline")


def _tree(row: BundleTree) -> Tree:
    what = f"tree {row.id}"
    given = row.given()
    measure = {name: given[name] for name in MEASURES if name in given}
    fields: dict[str, Any] = {k: given[k] for k in TREE_FIELDS if k in given}
    fields["name"] = row.name or row.id
    fields["measures"] = (_build(Measure, measure | {"taken": row.measured}, what),)
    if row.roots is not None:
        roots = {k: v for k, v in row.roots.given().items() if k != "outline"}
        roots["outline"] = Outline(kind="oval") if row.roots.outline is None else _outline(row.roots.outline, what)
        fields["root_masses"] = (_build(RootMass, roots, f"{what}: roots"),)
    return _build(Tree, fields, what)


def _pot(row: BundlePot) -> Pot:
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


def _mix(row: BundleMix) -> Mix:
    layer = row.drainage_layer
    return _build(
        Mix,
        {
            "id": row.id,
            "name": row.name or row.id,
            "parts": tuple(Part(substrate=p.substrate, parts=p.parts) for p in row.parts),
            "drainage_layer": None
            if layer is None
            else DrainageLayer(substrate=layer.substrate, thickness_mm=layer.thickness_mm),
        },
        f"mix {row.id}",
    )


def _unique(rows: list[R], what: str) -> dict[str, R]:
    found: dict[str, R] = {}
    for row in rows:
        key = row.id  # type: ignore[attr-defined]
        if key in found:
            raise BundleError(f"{what} '{key}' appears twice; give each {what} its own id")
        found[key] = row
    return found


def _counted(progress: Progress | None, total: int) -> Callable[[list[L]], Iterator[L]]:
    """Hands on rows one by one and says how many of all have passed."""
    passed = 0

    def each(rows: list[L]) -> Iterator[L]:
        nonlocal passed
        for row in rows:
            passed += 1
            if progress is not None and passed % 20 == 0:
                progress.at(passed / total)
            yield row

    return each


def read_bundle(document: Any, progress: Progress | None = None) -> Collection:
    """A collection from parsed JSON. Raises BundleError with one sentence naming what is wrong and where."""
    if not isinstance(document, dict) or document.get("format") != FORMAT:
        raise BundleError('this is no kesh-bundle: the document does not start with "format": "kesh-bundle"')
    version = document.get("version")
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise BundleError("the bundle has no version number")
    if version > VERSION:
        raise BundleError(
            f"the bundle has version {version}, this Kesh reads up to {VERSION}; open it with a newer Kesh"
        )
    try:
        bundle = Bundle.model_validate(document)
    except ValidationError as err:
        raise BundleError(plain_reason(err, "bundle")) from err
    site = None
    if bundle.site is not None:
        given = {k: v for k, v in bundle.site.given().items() if k != "months"}
        months = [
            {k: v for k, v in month.items() if k in Month.model_fields and v is not None}
            for month in bundle.site.months or []
        ]
        site = _build(Site, given | {"months": tuple(_build(Month, m, "site: month") for m in months)}, "site")
    plantings = tuple(
        _build(Planting, row.given() | {"id": f"{row.tree}/{row.pot}/{i}"}, f"planting of {row.tree}")
        for i, row in enumerate(bundle.plantings)
    )
    step = _counted(progress, len(bundle.trees) + len(bundle.pots))
    tables(tuple(bundle.species), tuple(bundle.substrates))
    return Collection(
        name=bundle.name or "Bundle",
        site=site,
        trees=_unique([_tree(row) for row in step(bundle.trees)], "tree"),
        pots=_unique([_pot(row) for row in step(bundle.pots)], "pot"),
        mixes=_unique([_mix(row) for row in bundle.mixes], "mix"),
        plantings=plantings,
        substrate_rows=tuple(bundle.substrates),
        species_rows=tuple(bundle.species),
    )


def _refuse(name: str) -> float:
    raise BundleError(f"the bundle contains {name}, which is no number; use null for what is not known")


def load_bundle(path: Path, progress: Progress | None = None) -> Collection:
    """Read a bundle file. Raises BundleError for a missing, foreign, damaged or hostile file."""
    try:
        if path.stat().st_size > MOST_BYTES:
            raise BundleError(f"{path.name} is larger than {MOST_BYTES // 2**20} MB; split it into parts")
        text = path.read_text(encoding="utf-8-sig")
    except FileNotFoundError as err:
        raise BundleError(f"{path.name}: there is no such file") from err
    except (OSError, UnicodeDecodeError) as err:
        raise BundleError(f"{path.name} cannot be read as text: {err}") from err
    try:
        document = json.loads(text, parse_constant=_refuse)
    except json.JSONDecodeError as err:
        raise BundleError(f"{path.name} is no JSON: {err.msg} in line {err.lineno}") from err
    except RecursionError as err:
        raise BundleError(f"{path.name} is nested too deep to be a bundle") from err
    return read_bundle(document, progress)


def bundle_of(collection: Collection) -> dict[str, Any]:
    """A collection as a bundle document: latest measures and root masses, plantings that hold."""

    def plain(record: Record, leave: tuple[str, ...] = ()) -> dict[str, Any]:
        data = record.model_dump(mode="json")
        return {k: v for k, v in data.items() if k not in leave and v is not None}

    trees = []
    for tree in collection.trees.values():
        row = {k: v for k, v in plain(tree).items() if k in TREE_FIELDS or k == "name"}
        row |= {k: v for k, v in plain(tree.measure).items() if k in MEASURES}
        if tree.measure.taken:
            row["measured"] = tree.measure.taken.isoformat()
        if tree.roots is not None:
            row["roots"] = plain(tree.roots, ("estimated",))
        trees.append(row)
    pots = []
    for pot in collection.pots.values():
        row = plain(pot, ("holes_known", "acquired"))
        row["holes"] = row["holes"] if pot.holes_known else None
        pots.append(row)
    return {
        "format": FORMAT,
        "version": VERSION,
        "name": collection.name,
        "site": plain(collection.site, ("id",)) if collection.site else None,
        "trees": trees,
        "pots": pots,
        "mixes": [plain(mix) for mix in collection.mixes.values()],
        "plantings": [plain(p, ("id", "notes")) for p in collection.plantings if p.ended is None],
        "substrates": [dict(row) for row in collection.substrate_rows],
        "species": [dict(row) for row in collection.species_rows],
    }


def schema() -> dict[str, Any]:
    """The JSON schema of the bundle, for `docs/`."""
    return Bundle.model_json_schema()
