"""A tree standing in a pot from a date on."""

from datetime import date as Date
from typing import Annotated, Literal

from pydantic import Field

from kesh.model.base import Key, Record, SignedMm, Text
from kesh.model.root_map import PlanStep
from kesh.model.special import (
    Aerial,
    Companion,
    Cutting,
    Desert,
    Graft,
    Layer,
    PlantingKind,
    Rock,
    Slab,
    Tub,
    Tube,
)  # fmt: skip

Depth = Annotated[float, Field(ge=0, le=2000)]
Metal = Literal["aluminium", "copper", "steel"]
Anchors = Literal["ties", "rods", "raft", "stones", "guys", "none"]
GuyAnchor = Literal["rim", "hole", "root", "trunk", "branch"]
Feed = Literal["none", "under", "mixed", "over", "later"]


class Tie(Record):
    """One wire: the holes it comes up through, from the pot's middle, and where it runs over roots or trunk, z over the inner floor.

    `behind` is the root of the map that hides it, `pad` whether something soft lies under it. `off_by` is when it comes off.
    """

    id: Key
    holes: Annotated[tuple[tuple[SignedMm, SignedMm], ...], Field(min_length=1, max_length=8)]
    over: Annotated[tuple[tuple[SignedMm, SignedMm, Depth], ...], Field(min_length=1, max_length=20)]
    gauge_mm: Annotated[float, Field(gt=0, le=10)] = 2.0
    metal: Metal = "aluminium"
    ends: Text = ""
    behind: Key | None = None
    pad: bool = False
    off_by: Date | None = None


class BranchGuy(Record):
    """A branch that is bent while the tree is potted: where its wire is made fast, how far its end is pulled, whether bark lies on a pad.

    `off_by` is when it comes off; None is the half year that is usual.
    """

    id: Key
    branch: Annotated[Text, Field(min_length=1)]
    anchor: GuyAnchor = "rim"
    pull_mm: Annotated[float, Field(gt=0, le=1000)] | None = None
    pad: bool = True
    off_by: Date | None = None


class Stone(Record):
    """A stone laid on the root mass to hold it, from the pot's middle."""

    x_mm: SignedMm = 0.0
    y_mm: SignedMm = 0.0
    mass_kg: Annotated[float, Field(gt=0, le=200)] = 1.0


class Planting(Record):
    """Offset is the trunk's centre from the pot's centre: x to the viewer's right, y to the back.

    raise_mm is the top of the root mass above (+) or below (-) the rim. base_layer_mm is all soil under the
    root mass, a drainage layer included. None means the default of the method. `plan` is the root plan that was kept
    for the next repotting and those after it. `planned` is a planting that is thought of and not done yet: the tree
    still stands where it stood. `dressing_mm` is mulch or moss on the soil, `dressing_mm_year` what is added a year.
    `interim_until` is set where the pot is meant for a while only: the day by which it should be left again. `kind` says what
    is special about it; None takes it from the tree's style. Each kind has a record of its own below it.
    `counterweight_kg` is stone on the floor of a cascade's pot.
    """

    id: Key
    tree: Key
    pot: Key
    mix: Key | None = None
    date: Date | None = None
    offset_x_mm: SignedMm = 0.0
    offset_y_mm: SignedMm = 0.0
    turn_deg: Annotated[float, Field(ge=-360, le=360)] = 0.0
    tilt_deg: Annotated[float, Field(ge=-60, le=60)] = 0.0
    raise_mm: SignedMm = 0.0
    mound_mm: Depth = 0.0
    headspace_mm: Depth | None = None
    base_layer_mm: Depth | None = None
    clearance_mm: Depth | None = None
    plan: Annotated[tuple[PlanStep, ...], Field(max_length=30)] = ()
    plan_made: Date | None = None
    ties: Annotated[tuple[Tie, ...], Field(max_length=20)] = ()
    anchors: Anchors = "ties"
    stones: Annotated[tuple[Stone, ...], Field(max_length=12)] = ()
    branch_guys: Annotated[tuple[BranchGuy, ...], Field(max_length=20)] = ()
    feed: Feed = "none"
    dressing_mm: Depth = 0.0
    dressing_mm_year: Annotated[float, Field(ge=0, le=100)] = 0.0
    planned: bool = False
    ended: Date | None = None
    interim_until: Date | None = None
    kind: PlantingKind | None = None
    counterweight_kg: Annotated[float, Field(gt=0, le=500)] | None = None
    rock: Rock | None = None
    tube: Tube | None = None
    layer: Layer | None = None
    tub: Tub | None = None
    desert: Desert | None = None
    cutting: Cutting | None = None
    companion: Companion | None = None
    slab: Slab | None = None
    aerial: Aerial | None = None
    graft: Graft | None = None
    notes: Text = ""
