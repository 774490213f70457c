"""How a tree is looked after: how often somebody looks, whether rain reaches it, and when nobody is there."""

from datetime import date as Date
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from kesh.model.base import Record


class Keeping(Record):
    """`habit`: watered when it asks, or looked at once or twice a day or every other day. `away_from`..`away_to` without a keeper.

    `place`: where it stands to sun and wind in summer, empty as the site's bench. `reserve_l`: what a bed of wet sand under it gives while nobody is there.
    `shelter`: it lives in a glass house or indoors the year round, which moves its seasons. `indoors_below_c`: it comes in
    when three nights on end are colder than that, and stays in until the last such night.
    """

    habit: Literal["asked", "daily", "twice", "alternate"] = "daily"
    roofed: bool = False
    away_from: Date | None = None
    away_to: Date | None = None
    place: Literal["", "none", "shade", "half", "wall"] = ""
    shelter: Literal["", "glass", "indoors"] = ""
    indoors_below_c: Annotated[float, Field(ge=-20, le=25)] | None = None
    reserve_l: Annotated[float, Field(ge=0, le=200)] = 0.0

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        if self.away_from is not None and self.away_to is not None and self.away_to < self.away_from:
            raise ValueError(f"away_to {self.away_to} is before away_from {self.away_from}")
        return self
