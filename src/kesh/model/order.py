"""A pot asked of a maker or a shop."""

from datetime import date as Date
from typing import Annotated, Literal

from pydantic import Field

from kesh.model.base import Key, Record, Text

OrderStatus = Literal["asked", "promised", "late", "here", "off"]


class Order(Record):
    """Asked for on a day, promised for another; the id is the pot's. `late` is said by a person, not by the calendar."""

    id: Key
    pot: Key
    asked: Date | None = None
    promised: Date | None = None
    status: OrderStatus = "asked"
    price: Annotated[float, Field(ge=0, le=1e7)] | None = None
    note: Text = ""
