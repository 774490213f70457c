"""How the person who keeps the trees lives: hours to give, who waters, when nobody is there."""

from datetime import date as Date
from typing import Annotated, Any, Self

from pydantic import ConfigDict, Field, model_validator

from kesh.model.base import Key, Record, plain_from

HABITS = "habits"


class Away(Record):
    """Days when the keeper is not there, both included ("from" in files); `keeper` whether somebody else waters."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False, serialize_by_alias=True)

    from_: Date = Field(alias="from")
    to: Date
    keeper: bool = False

    @model_validator(mode="before")
    @classmethod
    def _plain_from(cls, data: Any) -> Any:
        return plain_from(data)

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        if self.to < self.from_:
            raise ValueError(f"to {self.to} is before from {self.from_}")
        return self


class Habits(Record):
    """`weekend_hours` is what the user gives to the trees on a weekend, `order_days` what an order of soil or wire takes.

    `cold_night_c` is the night that brings tender trees in, `rain_days` a spell from which plants that rot are
    sheltered, `heat_c` a day that asks for shade. All are starting points.
    """

    id: Key = HABITS
    checks_per_day: Annotated[float, Field(ge=0, le=24)] = 1.0
    keeper: bool = False
    away: Annotated[tuple[Away, ...], Field(max_length=200)] = ()
    weekend_hours: Annotated[float, Field(ge=0, le=48)] = 8.0
    order_days: Annotated[int, Field(ge=0, le=365)] = 7
    cold_night_c: Annotated[float, Field(ge=-40, le=30)] = 15.5
    rain_days: Annotated[int, Field(ge=1, le=60)] = 5
    heat_c: Annotated[float, Field(ge=10, le=60)] = 32.0
