"""What lies in the shed: wire by gauge, mesh, substrates, feed."""

from typing import Annotated

from pydantic import Field

from kesh.model.base import Key, Record, Text


class Stock(Record):
    """One thing and how much of it there is; the id is `item`, such as wire-aluminium-2, mesh-3 or a substrate's key."""

    id: Key
    item: Text = ""
    unit: Text = ""
    have: Annotated[float, Field(ge=0, le=1e6)] = 0.0
    note: Text = ""
