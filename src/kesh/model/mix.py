"""A soil mix by loose parts, with an optional coarse layer below it."""

from typing import Annotated

from pydantic import Field

from kesh.model.base import Key, Record, Text

Parts = Annotated[float, Field(ge=0, le=1000)]


class Part(Record):
    """One component and its share by loose volume."""

    substrate: Key
    parts: Parts


class DrainageLayer(Record):
    """A coarse layer on the floor, below the mix."""

    substrate: Key
    thickness_mm: Annotated[float, Field(ge=0, le=2000)]


class Mix(Record):
    """A recipe. Parts are loose volumes; they need not add up to anything."""

    id: Key
    name: Key
    parts: tuple[Part, ...] = ()
    drainage_layer: DrainageLayer | None = None
    notes: Text = ""
