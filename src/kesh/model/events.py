"""What happened and what the artist decided."""

from datetime import date as Date
from typing import Annotated, Any, Literal, get_args

from pydantic import Field, field_validator

from kesh.model.base import Key, Record, SignedMm, Text
from kesh.model.correction import Correction

EventKind = Literal[
    "repotted",
    "root_work",
    "measured",
    "moved",
    "fed",
    "wired",
    "pruned",
    "pot_tried",
    "trial_fit",
    "drilled",
    "aftercare",
    "defoliated",
    "ailing",
    "flowered",
    "seen",
    "round",
    "propagated",
    "experiment",
    "note",
]
EVENT_KINDS: tuple[str, ...] = get_args(EventKind)


class Event(Record):
    """A dated entry of a tree's log, with the figures that belong to it: what was planned, and what was done.

    `minutes` is how long it took, `strain` what it cost the tree (share of what it bears), `photo` a picture of it.
    `cost` is money. `corrections` are what it said before it was put right. Counts are figures with their whole:
    `of`, and `alive` or `rooted`, or a range `alive_low`..`alive_high` where somebody was not sure.
    """

    id: Key
    tree: Key
    date: Date
    kind: EventKind
    text: Text = ""
    pot: Key | None = None
    figures: tuple[tuple[Key, float], ...] = ()
    planned: tuple[tuple[Key, float], ...] = ()
    minutes: Annotated[float, Field(ge=0, le=100_000)] | None = None
    cost: Annotated[float, Field(ge=0, le=1e7)] | None = None
    strain: Annotated[float, Field(ge=0, le=1)] | None = None
    photo: Key | None = None
    corrections: Annotated[tuple[Correction, ...], Field(max_length=100)] = ()

    @field_validator("planned", "figures", mode="before")
    @classmethod
    def _by_name(cls, value: Any) -> Any:
        return tuple(value.items()) if isinstance(value, dict) else value


class Rejection(Record):
    """A pot tried under a tree and not taken, with the words of the artist. The id is tree/pot."""

    id: Key
    tree: Key
    pot: Key
    reason: Text
    date: Date | None = None


class Override(Record):
    """The artist decides against a finding and says why. The id is tree/code."""

    id: Key
    tree: Key
    code: Key
    reason: Text
    date: Date | None = None


class Trial(Record):
    """Where the trunk would stand in a pot that is only held under the tree, mm from the pot's centre."""

    pot: Key
    offset_x_mm: SignedMm = 0.0
    offset_y_mm: SignedMm = 0.0


class Lineup(Record):
    """The pots now held under one tree, left to right, and the one chosen; the id is the tree's."""

    id: Key
    pots: tuple[Key, ...] = ()
    trials: tuple[Trial, ...] = ()
    chosen: Key | None = None
