"""Cautions, disagreements between growers and the signs a tree gives, as frozen objects."""

import tomllib
from functools import cache
from importlib.resources import files
from typing import Literal

from pydantic import BaseModel, ConfigDict

from kesh.base.errors import BundleError
from kesh.reference.rows import Row, raw_table, read_row


class Caution(Row):
    """Where work can hurt someone: what careful workers do, and when to stop. No substitute for training or local rules."""

    when: str
    hazard: str
    care: str
    gear: str
    stop: str
    severity: Literal["low", "medium", "high"]


class Disagreement(BaseModel):
    """A topic with two sides, when each fits, and what Kesh shows about it."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    key: str
    title: str
    one: str
    other: str
    fits: str
    kesh: str


# What to see on the tree before root work starts, by the window's word; months come second.
SIGNS = {
    "late_winter": "buds still tight, worst frost past",
    "bud_swell": "buds fat and coloured, leaves not open",
    "early_spring": "new bright tips at the edge of the root mass",
    "mid_spring": "growth moving, nights mild",
    "after_flowering": "the last flowers are off",
    "summer_active": "strong growth in real warmth",
    "late_summer": "heat fading, six weeks before frost",
    "autumn_ok": "soil still warm, top at rest",
    "leaf_fall": "leaves just down",
}


@cache
def cautions() -> dict[str, Caution]:
    """Cautions by key."""
    return {row["key"]: read_row(Caution, row, "cautions") for row in raw_table("cautions")}


@cache
def disagreements() -> tuple[Disagreement, ...]:
    """Where growers disagree. Raises BundleError for a damaged file."""
    return tuple(Disagreement.model_validate(row) for row in _rows("disagreements.toml", "topic"))


def _rows(name: str, list_of: str) -> list[dict[str, str]]:
    """The rows of a text that ships with Kesh. Raises BundleError for a damaged file."""
    text = files("kesh.reference").joinpath("text", name).read_text(encoding="utf-8")
    try:
        found: list[dict[str, str]] = tomllib.loads(text)[list_of]
    except (tomllib.TOMLDecodeError, KeyError) as err:
        raise BundleError(f"{name}: {err}") from err
    return found


class WaterNote(BaseModel):
    """Something said of water, lime or salts, and how well it is known."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    title: str
    text: str
    evidence: str


@cache
def water_notes() -> tuple[WaterNote, ...]:
    """Notes on water. Raises BundleError for a damaged file."""
    return tuple(WaterNote.model_validate(row) for row in _rows("water_notes.toml", "note"))
