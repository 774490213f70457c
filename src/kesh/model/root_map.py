"""The roots round the clock, what lies between them, and what must not be touched.

Azimuths run clockwise from the front, seen from above: 0 to the viewer, 90 the viewer's left, 180 the back.
"""

from typing import Annotated, Any, Literal, get_args

from pydantic import Field, field_validator

from kesh.model.base import Key, LengthMm, Record, Share, SignedMm, Text

Azimuth = Annotated[float, Field(ge=0, lt=360)]
Decided = Literal["", "shorten", "remove", "move"]
RootKind = Literal["radial", "crossing", "circling", "rising", "tap", "under", "dead"]
ROOT_KINDS: tuple[str, ...] = get_args(RootKind)
PocketKind = Literal["clay", "field_soil", "sand", "rot"]
Course = Annotated[tuple[tuple[SignedMm, SignedMm], ...], Field(max_length=200)]


def turned_into_range(value: Any) -> Any:
    """An azimuth as people write it, -30 or 360, in 0..360."""
    plain = isinstance(value, int | float) and not isinstance(value, bool)
    return value % 360 if plain and not 0 <= value <= 360 else 0.0 if plain and value == 360 else value


def ended_in_range(value: Any) -> Any:
    """The same for where a sector ends, which may be 360."""
    return 360.0 if value == 360 else turned_into_range(value)


class MapRoot(Record):
    """One root at the trunk. `drop_deg` is below level; the side root lies `side_root_at_mm` from the trunk along it.

    `keep` says why it is not cut: an anchor, a companion, a graft, a wanted look; empty for a root that may be. `course`
    is how it runs from above, mm right of the trunk's middle and behind it; without one it is taken to run straight.
    `decided` is what the artist does to it at the next repotting whatever the plan says, with its reason; a root moved by
    hand comes to lie at `moved_to_deg`.
    """

    id: Key
    azimuth_deg: Azimuth
    diameter_mm: Annotated[float, Field(gt=0, le=500)]
    drop_deg: Annotated[float, Field(ge=-90, le=90)] = 0.0
    reach_mm: LengthMm
    height_mm: SignedMm = 0.0
    kind: RootKind = "radial"
    side_root_at_mm: Annotated[float, Field(ge=0, le=20_000)] | None = None
    keep: Text = ""
    note: Text = ""
    course: Course = ()
    decided: Decided = ""
    decided_why: Text = ""
    moved_to_deg: Azimuth | None = None

    _round = field_validator("azimuth_deg", "moved_to_deg", mode="before")(turned_into_range)

    @field_validator("keep", mode="before")
    @classmethod
    def _said(cls, value: Any) -> Any:
        """A bare yes is a reason that nobody has written."""
        return {True: "marked", False: "", None: ""}[value] if value is None or isinstance(value, bool) else value


class Span(Record):
    """A part of the root mass from one azimuth clockwise to another."""

    from_deg: Azimuth = 0.0
    to_deg: Annotated[float, Field(ge=0, le=360)] = 360.0

    _round = field_validator("from_deg", mode="before")(turned_into_range)
    _end = field_validator("to_deg", mode="before")(ended_in_range)

    @property
    def span_deg(self) -> float:
        """How wide it is, degrees."""
        return (self.to_deg - self.from_deg) % 360 or (360.0 if self.to_deg != self.from_deg else 0.0)

    @property
    def middle_deg(self) -> float:
        """Its middle, clockwise from the front."""
        return (self.from_deg + self.span_deg / 2) % 360


class Pocket(Span):
    """Something else in the root mass: a part of its plan between two azimuths and two shares of its reach, by depth."""

    kind: PocketKind
    from_share: Share = 0.0
    to_share: Share = 1.0
    depth_from_mm: Annotated[float, Field(ge=0, le=5000)] = 0.0
    depth_to_mm: Annotated[float, Field(ge=0, le=5000)] = 0.0


class Sector(Span):
    """A part of the root mass that is left alone, from one azimuth clockwise to another."""

    from_deg: Azimuth
    to_deg: Annotated[float, Field(ge=0, le=360)]
    why: Text = ""

    def holds(self, azimuth_deg: float) -> bool:
        """Whether an azimuth lies in it, its ends included."""
        return (azimuth_deg - self.from_deg) % 360 <= self.span_deg + 1e-9


class PlanStep(Record):
    """One step of a root plan that was kept: what is done to a root, where, in which year from the plan's day, and why."""

    root: Key
    action: Literal["keep", "shorten", "remove", "move"]
    at_mm: Annotated[float, Field(ge=0, le=20_000)] | None = None
    year: Annotated[float, Field(ge=0, le=200)] = 0.0
    share: Share = 0.0
    why: Text = ""
