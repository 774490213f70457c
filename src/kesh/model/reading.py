"""How wet a pot was found: by stick, probe or weight."""

from datetime import date as Date
from datetime import datetime as DateTime
from datetime import time as Time
from typing import Literal, get_args

from pydantic import field_validator, model_validator

from kesh.model.base import Key, LocalTime, Record, Text

ReadingKind = Literal["stick", "probe", "weight"]
READING_KINDS: tuple[str, ...] = get_args(ReadingKind)
StickWord = Literal["dry", "hardly", "moist", "wet"]
STICK: tuple[str, ...] = get_args(StickWord)


class Reading(Record):
    """One look at one tree's soil. A stick says dry, hardly, moist or wet; a probe a share or per cent; a weight kg, g or lb.

    `full_at` is when the pot was last full, where that is known; without it only the mass and the water left can be told, not how fast it dries.
    """

    id: Key
    tree: Key
    at: LocalTime
    kind: ReadingKind
    value: float | StickWord
    unit: Literal["", "share", "%", "kg", "g", "lb"] = ""
    full_at: LocalTime | None = None
    note: Text = ""

    @field_validator("at", "full_at", mode="before")
    @classmethod
    def _day_alone(cls, value: object) -> object:
        """A day without an hour is its noon."""
        if isinstance(value, Date) and not isinstance(value, DateTime):
            return DateTime.combine(value, Time(12))
        return f"{value}T12:00" if isinstance(value, str) and len(value) == 10 else value

    @model_validator(mode="after")
    def _fits(self) -> "Reading":
        word = isinstance(self.value, str)
        if word != (self.kind == "stick"):
            raise ValueError("a stick says dry, hardly, moist or wet; a probe and a weight say a number")
        if isinstance(self.value, float):
            most = {"probe": 100.0 if self.unit == "%" else 1.0, "weight": 500_000.0}[self.kind]
            if not 0 <= self.value <= most:
                raise ValueError(f"{self.value:g} is outside 0 to {most:g}")
            if self.kind == "weight" and self.unit not in ("kg", "g", "lb"):
                raise ValueError("a weight needs its unit: kg, g or lb")
        if self.full_at is not None and self.full_at > self.at:
            raise ValueError("the pot was full after it was looked at")
        return self
