"""A tree and its dated measures."""

from datetime import date as Date
from typing import Annotated, Any, Literal, Self, TypeVar

from pydantic import Field, field_validator

from kesh.model.base import Key, OptionalLengthMm, ReachMm, Record, Share, SignedMm, Text
from kesh.model.character import Feature, Trait
from kesh.model.correction import Correction
from kesh.model.group import GroupTree, HillMound, Way
from kesh.model.root_map import MapRoot
from kesh.model.roots import RootMass
from kesh.model.signs import Sign

STYLES = (
    "formal_upright",
    "informal_upright",
    "slanting",
    "semi_cascade",
    "cascade",
    "literati",
    "broom",
    "windswept",
    "twin_trunk",
    "clump",
    "forest",
    "raft",
    "root_over_rock",
    "exposed_root",
    "multi_trunk",
    "banyan",
    "landscape_tray",
    "container_fruit_tree",
    "accent",
)
STAGES = ("collected", "growing_on", "developing", "refining", "on_show")
HANGING = frozenset({"cascade", "semi_cascade"})

Style = Literal[
    "formal_upright", "informal_upright", "slanting", "semi_cascade", "cascade", "literati", "broom",
    "windswept", "twin_trunk", "clump", "forest", "raft", "root_over_rock", "exposed_root", "multi_trunk",
    "banyan", "landscape_tray", "container_fruit_tree", "accent",
]  # fmt: skip
Stage = Literal["collected", "growing_on", "developing", "refining", "on_show"]
Station = Literal["soil", "above_flare", "mid_trunk"]
TrunkMm = Annotated[float, Field(gt=0, le=3000)] | None


class Measure(Record):
    """What was measured on one day. Every figure may be missing; nothing is guessed in its place.

    `thinned` tells that the canopy had just been thinned, when it misleads most: it fills in by up to a third.
    `assumed` names the figures that nobody measured: they are usual for the style, until one is typed.
    """

    taken: Date | None = None
    how: Literal["hand", "photo", "device"] = "hand"
    height_mm: OptionalLengthMm = None
    trunk_diameter_mm: TrunkMm = None
    trunk_at_soil_mm: TrunkMm = None
    trunk_mid_mm: TrunkMm = None
    flare_width_mm: OptionalLengthMm = None
    flare_depth_mm: OptionalLengthMm = None
    canopy_left_mm: ReachMm | None = None
    canopy_right_mm: ReachMm | None = None
    canopy_front_mm: ReachMm | None = None
    canopy_back_mm: ReachMm | None = None
    crown_base_mm: SignedMm | None = None
    apex_offset_mm: SignedMm | None = None
    drop_mm: ReachMm | None = None
    graft_height_mm: ReachMm | None = None
    canopy_opacity: Share | None = None
    thinned: bool = False
    mass_kg: Annotated[float, Field(gt=0, le=5000)] | None = None
    assumed: Annotated[tuple[Key, ...], Field(max_length=20)] = ()

    def with_figures(self, **figures: Any) -> Self:
        """The same with figures that were measured: what was assumed of them is so no longer. Raises FieldError."""
        return self.changed(**figures, assumed=tuple(name for name in self.assumed if name not in figures))

    @property
    def spread_mm(self) -> float | None:
        """Left and right reach together, or None when one is missing."""
        if self.canopy_left_mm is None or self.canopy_right_mm is None:
            return None
        return self.canopy_left_mm + self.canopy_right_mm

    @property
    def canopy_depth_mm(self) -> float | None:
        """Front and back reach together, or None when one is missing."""
        if self.canopy_front_mm is None or self.canopy_back_mm is None:
            return None
        return self.canopy_front_mm + self.canopy_back_mm

    def trunk_mm(self, station: Station) -> float | None:
        """The trunk's diameter at a named place."""
        at = {"soil": self.trunk_at_soil_mm, "above_flare": self.trunk_diameter_mm, "mid_trunk": self.trunk_mid_mm}
        return at[station]


Named = TypeVar("Named", MapRoot, GroupTree)


class Tree(Record):
    """One tree: who it is, how it stands, its measures and root masses by date (latest last).

    A group keeps its trees in `group`, its ground in `hill` and the `way` through it. `marker_deg` is where the marker in the soil stands, clockwise from the front seen from above.
    """

    id: Key
    name: Key
    species: Key | None = None
    style: Style = "informal_upright"
    stage: Stage = "refining"
    flow: Literal["left", "right", "none"] = "none"
    origin: Text = ""
    acquired: Date | None = None
    front: Text = ""
    notes: Text = ""
    measures: tuple[Measure, ...] = (Measure(),)
    root_masses: tuple[RootMass, ...] = ()
    signs: Annotated[tuple[Sign, ...], Field(max_length=400)] = ()
    root_map: Annotated[tuple[MapRoot, ...], Field(max_length=30)] = ()
    group: Annotated[tuple[GroupTree, ...], Field(max_length=60)] = ()
    hill: Annotated[tuple[HillMound, ...], Field(max_length=12)] = ()
    way: Way | None = None
    trunk_station: Station = "above_flare"
    traits: tuple[Trait, ...] = ()
    features: Annotated[tuple[Feature, ...], Field(max_length=40)] = ()
    marker_deg: Annotated[float, Field(ge=0, lt=360)] | None = None
    seed: Annotated[int, Field(ge=0, le=2**31)] = 1
    corrections: Annotated[tuple[Correction, ...], Field(max_length=200)] = ()

    @field_validator("root_map", "group", mode="after")
    @classmethod
    def _told_apart(cls, rows: tuple[Named, ...]) -> tuple[Named, ...]:
        """Roots and trees of a group that came under one name get names of their own, so that none is lost in a plan."""
        found: list[Named] = []
        for row in rows:
            names, name, n = {r.id for r in found}, row.id, 2
            while name in names:
                name, n = f"{row.id}-{n}", n + 1
            found.append(row if name == row.id else row.model_copy(update={"id": name}))
        return tuple(found)

    @property
    def measure(self) -> Measure:
        """The latest measure."""
        return self.measures[-1] if self.measures else Measure()

    @property
    def roots(self) -> RootMass | None:
        """The latest root mass, or None before it was ever seen."""
        return self.root_masses[-1] if self.root_masses else None
