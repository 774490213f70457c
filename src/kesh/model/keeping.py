"""How a tree is looked after: how often somebody looks, whether rain reaches it, and when nobody is there."""

from datetime import date as Date
from typing import Literal, Self

from pydantic import model_validator

from kesh.model.base import Record


class Keeping(Record):
    """`habit`: watered when it asks, or looked at once or twice a day or every other day. `away_from`..`away_to` without a keeper."""

    habit: Literal["asked", "daily", "twice", "alternate"] = "daily"
    roofed: bool = False
    away_from: Date | None = None
    away_to: Date | None = None

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        if self.away_from is not None and self.away_to is not None and self.away_to < self.away_from:
            raise ValueError(f"away_to {self.away_to} is before away_from {self.away_from}")
        return self
