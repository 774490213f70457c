"""What a kesh-bundle of version 1 looks like: every optional field may be null or absent, more fields may stand in it."""

from collections.abc import Mapping
from datetime import date as Date
from functools import partial
from typing import Annotated, Any, Literal

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, field_validator

from kesh.model import (
    Answer,
    Brief,
    CalendarEntry,
    Correction,
    Event,
    Feature,
    Habits,
    Lineup,
    Measure,
    MixVersion,
    Order,
    Override,
    Reading,
    Rejection,
    Stock,
    Task,
    Trait,
    TreePhoto,
    Work,
)
from kesh.model.base import Key, LengthMm, Record, SignedMm
from kesh.model.group import GroupTree, HillMound, Way
from kesh.model.planting import Stone, Tie
from kesh.model.pot import PotState, Reservation
from kesh.model.root_map import MapRoot, PlanStep, Pocket, Sector
from kesh.model.roots import Feeders, Health
from kesh.model.signs import Sign
from kesh.model.site import OwnWindow
from kesh.model.special import Aerial, Companion, Cutting, Desert, Graft, Layer, Rock, Slab, Tub, Tube
from kesh.model.tree import Stage, Station, Style

FORMAT, VERSION = "kesh-bundle", 1


class Loose(BaseModel):
    """Bundle objects: fields may be added by others, null means absent, not-a-number is refused."""

    model_config = ConfigDict(extra="ignore", allow_inf_nan=False)

    def given(self) -> dict[str, Any]:
        """The fields that were given and are not null."""
        return {k: v for k, v in self.model_dump().items() if v is not None}


def known_fields(record: type[Record], row: Any) -> Any:
    """A row of others as one of ours: fields nobody knows go, and so do those that are null."""
    if not isinstance(row, Mapping):
        return row
    names = set(record.model_fields) | {f.alias for f in record.model_fields.values() if f.alias}
    return {k: v for k, v in row.items() if v is not None and k in names}


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
    """A root mass; `estimated` until it was seen."""

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
    estimated: bool | None = None
    assumed: list[Literal["length_mm", "width_mm", "depth_mm"]] | None = None
    pockets: list[Annotated[Pocket, BeforeValidator(partial(known_fields, Pocket))]] | None = None
    untouched: list[Annotated[Sector, BeforeValidator(partial(known_fields, Sector))]] | None = None


class BundleTree(Loose):
    """A tree; its measures and root mass are the latest ones, each may be null; earlier ones stand in lists of their own."""

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
    how: Literal["hand", "photo", "device"] | None = None
    measures: list[Measure] | None = None
    roots: BundleRoots | None = None
    root_masses: list[BundleRoots] | None = None
    signs: list[Annotated[Sign, BeforeValidator(partial(known_fields, Sign))]] | None = None
    root_map: list[Annotated[MapRoot, BeforeValidator(partial(known_fields, MapRoot))]] | None = None
    group: list[Annotated[GroupTree, BeforeValidator(partial(known_fields, GroupTree))]] | None = None
    hill: list[Annotated[HillMound, BeforeValidator(partial(known_fields, HillMound))]] | None = None
    way: Annotated[Way, BeforeValidator(partial(known_fields, Way))] | None = None
    trunk_station: Station | None = None
    origin: str | None = None
    acquired: Date | None = None
    front: str | None = None
    seed: int | None = None
    notes: str | None = None
    traits: list[Trait] | None = None
    features: list[Feature] | None = None
    marker_deg: float | None = None
    corrections: list[Correction] | None = None

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
    use: Literal["drain", "tie"] | None = None


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
    reserved: Annotated[Reservation, BeforeValidator(partial(known_fields, Reservation))] | None = None
    acquired: Date | None = None

    @field_validator("state", mode="before")
    @classmethod
    def _plain_state(cls, value: Any) -> Any:
        return (
            {"own shelf": "shelf", "in use": "in_use", "own": "shelf"}.get(value, value)
            if isinstance(value, str)
            else value
        )


class BundlePart(Loose):
    substrate: Key
    parts: Annotated[float, Field(ge=0)] | None = None
    size_low_mm: float | None = None
    size_high_mm: float | None = None


class BundleLayer(Loose):
    substrate: Key
    thickness_mm: Annotated[float, Field(ge=0)]


class BundleMix(Loose):
    id: Key
    name: str | None = None
    parts: list[BundlePart] = []
    drainage_layer: BundleLayer | None = None
    notes: str | None = None
    versions: list[MixVersion] | None = None


class BundlePlanting(Loose):
    id: Key | None = None
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
    plan: list[Annotated[PlanStep, BeforeValidator(partial(known_fields, PlanStep))]] | None = None
    plan_made: Date | None = None
    ties: list[Annotated[Tie, BeforeValidator(partial(known_fields, Tie))]] | None = None
    anchors: str | None = None
    stones: list[Annotated[Stone, BeforeValidator(partial(known_fields, Stone))]] | None = None
    feed: str | None = None
    dressing_mm: float | None = None
    dressing_mm_year: float | None = None
    planned: bool | None = None
    ended: Date | None = None
    interim_until: Date | None = None
    kind: str | None = None
    counterweight_kg: float | None = None
    rock: Annotated[Rock, BeforeValidator(partial(known_fields, Rock))] | None = None
    tube: Annotated[Tube, BeforeValidator(partial(known_fields, Tube))] | None = None
    layer: Annotated[Layer, BeforeValidator(partial(known_fields, Layer))] | None = None
    tub: Annotated[Tub, BeforeValidator(partial(known_fields, Tub))] | None = None
    desert: Annotated[Desert, BeforeValidator(partial(known_fields, Desert))] | None = None
    cutting: Annotated[Cutting, BeforeValidator(partial(known_fields, Cutting))] | None = None
    companion: Annotated[Companion, BeforeValidator(partial(known_fields, Companion))] | None = None
    slab: Annotated[Slab, BeforeValidator(partial(known_fields, Slab))] | None = None
    aerial: Annotated[Aerial, BeforeValidator(partial(known_fields, Aerial))] | None = None
    graft: Annotated[Graft, BeforeValidator(partial(known_fields, Graft))] | None = None
    notes: str | None = None


class BundleSite(Loose):
    name: str | None = None
    latitude_deg: float | None = None
    elevation_m: float | None = None
    gust_m_s: float | None = None
    months: list[dict[str, Any]] | None = None
    daily: list[dict[str, Any]] | None = None
    wall: str | bool | None = None
    winter_place: str | None = None
    windows: list[Annotated[OwnWindow, BeforeValidator(partial(known_fields, OwnWindow))]] | None = None


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
    briefs: list[Brief] = []
    events: list[Event] = []
    rejections: list[Rejection] = []
    overrides: list[Override] = []
    lineups: list[Lineup] = []
    readings: list[Reading] = []
    tasks: list[Task] = []
    answers: list[Answer] = []
    calendar: list[CalendarEntry] = []
    orders: list[Order] = []
    stock: list[Stock] = []
    habits: Habits | None = None
    works: list[Work] = []
    photos: list[TreePhoto] = []
    pictures: dict[str, str] = {}
    substrates: list[dict[str, Any]] = []
    species: list[dict[str, Any]] = []
