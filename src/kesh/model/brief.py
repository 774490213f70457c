"""What the next pot must do."""

from enum import StrEnum
from typing import Annotated, Literal

from pydantic import Field

from kesh.model.base import Key, OptionalLengthMm, ReachMm, Record, Share
from kesh.model.keeping import Keeping
from kesh.model.planting_views import PlantingViews
from kesh.model.root_views import RootViews
from kesh.model.season_views import SeasonViews


class Purpose(StrEnum):
    """Why the tree gets this pot."""

    GROW_ON = "grow_on"
    TRAIN_ROOTS = "train_roots"
    REFINE = "refine"
    SHOW = "show"
    HOLD = "hold"
    CUTTING = "cutting"
    FOREST = "forest"
    CASCADE = "cascade"
    TUBE = "tube"
    ROCK = "rock"
    CROP = "crop"
    DESERT = "desert"


class Limits(Record):
    """What the place and the person allow; None means no limit."""

    bench_length_mm: OptionalLengthMm = None
    doorway_mm: OptionalLengthMm = None
    lift_kg: Annotated[float, Field(gt=0, le=1000)] | None = None
    show_height_mm: OptionalLengthMm = None
    car_height_mm: OptionalLengthMm = None
    budget: Annotated[float, Field(ge=0, le=1e7)] | None = None


class MassWeights(Record):
    """How solid each part of the picture looks to this artist, 0 gap .. 1 solid (docs/methods.md, "visual mass")."""

    wood: Share = 1.0
    dense: Share = 0.85
    airy: Share = 0.5
    pot: Share = 1.0


class Brief(Record):
    """Purpose, horizon and judge for one tree; the id is the tree's.

    `season` is when the root work is planned; None means the tree's next window, `today` the season of the day. `stand_mm` is the height of the
    stand or table board under the pot when the tree is shown; `show_height_mm` limits tree, pot and stand together.
    """

    id: Key
    purpose: Purpose = Purpose.REFINE
    horizon_years: Annotated[float, Field(ge=0, le=30)] = 5.0
    school: Key = "classical"
    trunk_station: Literal["soil", "above_flare", "mid_trunk"] | None = None
    limits: Limits = Limits()
    mix: Key | None = None
    season: Literal["best", "edge", "wrong", "today"] | None = None
    stand_mm: ReachMm = 0.0
    tips_stop: bool = True
    root_views: RootViews = RootViews()
    planting_views: PlantingViews = PlantingViews()
    season_views: SeasonViews = SeasonViews()
    keeping: Keeping = Keeping()
    weights: MassWeights = MassWeights()
