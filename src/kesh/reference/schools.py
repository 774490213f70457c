"""Schools: named sets of rules with their reasons, each a TOML file that users can copy and edit."""

import tomllib
from collections.abc import Mapping
from functools import cache
from importlib.resources import files
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from kesh.base.errors import BundleError, FieldError, plain_reason

Band = tuple[Annotated[float, Field(ge=0)], Annotated[float, Field(ge=0)]]


class PurposeRule(BaseModel):
    """How a purpose changes the bands of a school."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    depth_times: Band
    length_times: Band
    looks_count: bool
    reason: str
    # rules of display that are not asked at all under this purpose
    off: tuple[str, ...] = ()


class School(BaseModel):
    """One school. Every number is custom, not measurement, and says so on screen."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    key: str
    name: str
    voice: str
    trunk_station: Literal["soil", "above_flare", "mid_trunk"]
    width_of_length: Band
    visual_mass: Band
    visual_mass_reason: str
    glaze_under_conifer: Literal["no", "quiet", "any"]
    depth_reason: str
    length_reason: str
    width_reason: str
    # points of a root's faults that this school sees otherwise than the table
    root_points: Mapping[str, Annotated[float, Field(ge=0, le=20)]] = {}
    purposes: Mapping[str, PurposeRule]


@cache
def special_purposes() -> Mapping[str, PurposeRule]:
    """Purposes that are the same under every school, unless one says otherwise. Raises BundleError for a damaged file."""
    entry = files("kesh.reference").joinpath("tables").joinpath("purposes.toml")
    try:
        return {
            key: PurposeRule.model_validate(row)
            for key, row in tomllib.loads(entry.read_text(encoding="utf-8")).items()
        }
    except (tomllib.TOMLDecodeError, ValidationError) as err:
        raise BundleError(f"purposes.toml: {err}") from err


@cache
def schools() -> Mapping[str, School]:
    """The schools that ship, by key. Raises BundleError for a damaged file."""
    found = {}
    for entry in sorted(files("kesh.reference").joinpath("schools").iterdir(), key=lambda e: e.name):
        if entry.name.endswith(".toml"):
            try:
                school = School.model_validate(tomllib.loads(entry.read_text(encoding="utf-8")))
            except (tomllib.TOMLDecodeError, ValidationError) as err:
                reason = plain_reason(err, entry.name) if isinstance(err, ValidationError) else f"{entry.name}: {err}"
                raise BundleError(reason) from err
            found[school.key] = school.model_copy(update={"purposes": {**special_purposes(), **school.purposes}})
    return found


def school(key: str) -> School:
    """A school by key. Raises FieldError naming the known ones."""
    if key not in schools():
        raise FieldError("school", f"no school '{key}'; known are {', '.join(schools())}")
    return schools()[key]
