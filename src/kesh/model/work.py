"""A repotting that has begun at the bench: where it stands, and since when the roots lie bare."""

from typing import Annotated

from pydantic import Field

from kesh.model.base import Key, LocalTime, Record, Text


class DoneStep(Record):
    """A step that is done, when, and what was noted or measured with it."""

    step: Key
    at: LocalTime
    note: Text = ""


class Work(Record):
    """One tree's work; the id is the tree's. Every key at the bench is written at once, so a kill loses nothing.

    `bare_before_s` are seconds the roots lay bare before `bare_since`, which is none while they rest in water or soil.
    `misted_at` is when they were last misted; the prompt counts from then.
    """

    id: Key
    pot: Key
    planting: Key | None = None
    begun: LocalTime
    done: Annotated[tuple[DoneStep, ...], Field(max_length=200)] = ()
    bare_since: LocalTime | None = None
    bare_before_s: Annotated[float, Field(ge=0)] = 0.0
    misted_at: LocalTime | None = None
    dry_before_s: Annotated[float, Field(ge=0)] = 0.0
    in_water: bool = False
    warm: bool = False
    windy: bool = False
    notes: Annotated[tuple[Text, ...], Field(max_length=100)] = ()
    trials: Annotated[tuple[float, ...], Field(max_length=40)] = ()
    planned: tuple[tuple[Key, float], ...] = ()
    ready: Annotated[tuple[Key, ...], Field(max_length=60)] = ()
    tests: Annotated[tuple[Key, ...], Field(max_length=20)] = ()
