"""The catalogue of findings: of every code its question, the rule behind it, how sure it is, who disagrees, and where it is changed."""

import tomllib
from functools import cache
from importlib.resources import files
from typing import Literal

from pydantic import BaseModel, ConfigDict, ValidationError

from kesh.base.errors import BundleError, plain_reason

# would it thrive in this pot, what must be done and can it, how does it look by the school; `record` tells only what is entered
Question = Literal["lives", "work", "looks", "record"]


class Ground(BaseModel):
    """A row of the catalogue. `changed` are pairs of words and the room in which what the finding rests on is changed."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    question: Question
    title: str
    rule: str
    evidence: str
    sure: str
    changed: tuple[tuple[str, str], ...]
    other: str = ""


@cache
def grounds() -> dict[str, Ground]:
    """Every row by code. Raises BundleError naming the row at fault."""
    text = files("kesh.reference").joinpath("text", "findings.toml").read_text(encoding="utf-8")
    try:
        rows = tomllib.loads(text)
    except tomllib.TOMLDecodeError as err:
        raise BundleError(f"findings.toml: {err}") from err
    found = {}
    for code, row in rows.items():
        try:
            found[code] = Ground.model_validate(row)
        except ValidationError as err:
            raise BundleError(plain_reason(err, f"findings.toml, {code}")) from err
    return found


def ground_of(code: str) -> Ground:
    """The row of a finding; one of many of its kind (late/TASK) has the row of its kind. Raises KeyError without one."""
    return grounds()[code.split("/")[0]]
