"""What a planting has that is more than a tree in a pot: rock, tube, layer, tub, cutting, slab and the rest. All optional."""

from datetime import date as Date
from typing import Annotated, Any, Literal, get_args

from pydantic import ConfigDict, Field, model_validator

from kesh.model.base import Key, LengthMm, OptionalLengthMm, Record, Share, SignedMm, Text, plain_from
from kesh.model.root_map import Azimuth

PlantingKind = Literal[
    "plain", "group", "pair", "rock", "exposed_root", "cascade", "layer", "fruit_tub", "desert", "cutting", "companion", "slab", "aerial", "graft",
]  # fmt: skip
PLANTING_KINDS: tuple[str, ...] = get_args(PlantingKind)
Count = Annotated[int, Field(ge=0, le=10_000)]
Small = Annotated[float, Field(ge=0, le=2000)]
Line = Annotated[tuple[tuple[SignedMm, SignedMm], ...], Field(min_length=2, max_length=200)]


class RockRoot(Record):
    """One root over a rock: its way along the rock from the seat down to the soil, x and z as seen from the front, and its own length."""

    id: Key
    points_mm: Line
    length_mm: OptionalLengthMm = None
    behind: bool = False


class RockLoop(Record):
    """A binding round the rock at a height over its foot."""

    z_mm: SignedMm
    turns: Annotated[int, Field(ge=1, le=20)] = 3


class Rock(Record):
    """A rock in the pot: its outline from the front (x to the right, z up from its foot) about x_mm, y_mm from the pot's middle.

    `sunk_mm` is how much of it stands in the soil; `held` how it is kept upright.
    """

    points_mm: Annotated[tuple[tuple[SignedMm, SignedMm], ...], Field(min_length=3, max_length=200)]
    depth_mm: LengthMm = 100.0
    density_kg_l: Annotated[float, Field(gt=0.1, le=8)] = 2.6
    x_mm: SignedMm = 0.0
    y_mm: SignedMm = 0.0
    sunk_mm: Small = 0.0
    held: Literal["free", "wires", "pin"] = "free"
    roots: Annotated[tuple[RockRoot, ...], Field(max_length=30)] = ()
    loops: Annotated[tuple[RockLoop, ...], Field(max_length=12)] = ()
    wire_mm: Annotated[float, Field(gt=0, le=10)] = 1.5


class Tube(Record):
    """A root tube whose soil is lowered year by year, so that roots come to light from the top ("from" in files).

    The bundle of roots is wound with a helix, `top_mm` wide above and `foot_mm` below, `turns` times `pitch_mm` apart.
    """

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False, serialize_by_alias=True)

    lower_mm_year: Annotated[float, Field(gt=0, le=1000)] = 40.0
    from_: Date | None = Field(default=None, alias="from")
    inside_mm: OptionalLengthMm = None
    length_mm: OptionalLengthMm = None
    top_mm: OptionalLengthMm = None
    foot_mm: OptionalLengthMm = None
    pitch_mm: OptionalLengthMm = None
    turns: Annotated[int, Field(ge=1, le=200)] | None = None
    wire_mm: Annotated[float, Field(gt=0, le=20)] | None = None
    root_mm: Annotated[float, Field(gt=0, le=100)] | None = None
    root_length_mm: OptionalLengthMm = None
    floor: Literal["tape", "mesh", "board", "none"] = "mesh"

    @model_validator(mode="before")
    @classmethod
    def _plain_from(cls, data: Any) -> Any:
        return plain_from(data)


class Layer(Record):
    """A rooted layer before and after it is cut: how long its roots are, where they come out, and where the cut runs under them."""

    root_class: Literal["few", "some", "full"] = "some"
    roots_at_mm: SignedMm = 0.0
    cut_mm: SignedMm | None = None
    spread_mm: OptionalLengthMm = None
    depth_mm: OptionalLengthMm = None
    ringed: Date | None = None
    severed: Date | None = None


class Tub(Record):
    """A fruit tree in a tub: stem up to the first branch, stake, mulch of every year."""

    stem_mm: OptionalLengthMm = None
    stake_mm: OptionalLengthMm = None
    staked: bool = True
    mulch_mm_year: Annotated[float, Field(ge=0, le=200)] = 15.0
    step_mm: Annotated[float, Field(ge=20, le=200)] = 65.0


class Desert(Record):
    """A plant that stores water: how long it stays dry after its roots were cut, what rain it gets, how it winters."""

    highest_root_mm: SignedMm = 0.0
    soil_mm: SignedMm | None = None
    crown_roofed: bool = False
    dry_days: Annotated[float, Field(ge=0, le=90)] = 10.0
    winter: Literal["dry_warm", "dry_cool", "out"] = "dry_cool"


class Cutting(Record):
    """Trunks without roots: how deep they stand, since when, and how many live."""

    set_on: Date | None = None
    callus_days: Annotated[float, Field(ge=0, le=60)] = 10.0
    grip_mm: OptionalLengthMm = None
    support: Literal["depth", "stones", "rods"] = "depth"
    paste: bool = True
    hormone: bool = False
    planted: Count = 1
    alive: Count | None = None
    rooted: Count | None = None


class Companion(Record):
    """A second plant found in the pot: its name, how it stands to the first, and the sector of roots that is its own."""

    name: Text = ""
    species: Key | None = None
    from_deg: Azimuth = 0.0
    to_deg: Annotated[float, Field(ge=0, le=360)] = 60.0
    reach_share: Share = 1.0
    height_mm: OptionalLengthMm = None
    trunk_mm: OptionalLengthMm = None
    keep_soil: bool = True


class Thing(Record):
    """A thing on a tray: ground cover, figure, stone; where it stands, and whether it is put back."""

    id: Key
    name: Text = ""
    x_mm: SignedMm = 0.0
    y_mm: SignedMm = 0.0
    size_mm: LengthMm = 40.0
    kind: Literal["cover", "figure", "stone", "plant"] = "stone"
    put_back: bool = True


class Slab(Record):
    """No walls: a mound held by a ring of moss or clay mud, and the things that stand on it."""

    mound_mm: Small = 40.0
    reach_x_mm: OptionalLengthMm = None
    reach_y_mm: OptionalLengthMm = None
    ring: Literal["moss", "clay_mud", "none"] = "clay_mud"
    ring_wide_mm: Small = 20.0
    ring_high_mm: Small = 20.0
    things: Annotated[tuple[Thing, ...], Field(max_length=40)] = ()


class Aerial(Record):
    """An aerial root that is led to the soil: where it leaves, how long it is, how it is guided."""

    from_mm: LengthMm = 100.0
    out_mm: SignedMm = 40.0
    length_mm: OptionalLengthMm = None
    diameter_mm: Annotated[float, Field(gt=0, le=200)] = 3.0
    guide: Literal["straw", "split_tube", "none"] = "straw"
    since: Date | None = None


class Graft(Record):
    """A seedling or branch set to a trunk until both have grown together: the sector of roots nobody touches."""

    azimuth_deg: Azimuth = 0.0
    half_deg: Annotated[float, Field(gt=0, le=180)] = 30.0
    height_mm: LengthMm = 60.0
    set_on: Date | None = None
    scion_mm: Annotated[float, Field(gt=0, le=100)] = 4.0
    grows_alone: bool = False
