"""A soil mix by loose parts, with an optional coarse layer below it, and what it was before."""

from datetime import date as Date
from typing import Annotated

from pydantic import Field

from kesh.model.base import Key, Record, Text

Parts = Annotated[float, Field(ge=0, le=1000)]
SieveMm = Annotated[float, Field(gt=0, le=200)]


class Part(Record):
    """One component and its share by loose volume; None while nobody has told how much.

    `size_low_mm` and `size_high_mm`: sieved to other sizes than its grade.
    """

    substrate: Key
    parts: Parts | None
    size_low_mm: SieveMm | None = None
    size_high_mm: SieveMm | None = None


class DrainageLayer(Record):
    """A coarse layer on the floor, below the mix."""

    substrate: Key
    thickness_mm: Annotated[float, Field(ge=0, le=2000)]


class MixVersion(Record):
    """A recipe as it was, until when, and what then changed."""

    until: Date | None = None
    parts: tuple[Part, ...] = ()
    drainage_layer: DrainageLayer | None = None
    note: Text = ""


class Mix(Record):
    """A recipe. Parts are loose volumes; they need not add up to anything."""

    id: Key
    name: Key
    parts: tuple[Part, ...] = ()
    drainage_layer: DrainageLayer | None = None
    notes: Text = ""
    versions: tuple[MixVersion, ...] = ()
