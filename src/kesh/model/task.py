"""Something to do for a tree between two days, and the sign that ends it."""

from datetime import date as Date
from typing import Annotated, Any, Literal

from pydantic import ConfigDict, Field, model_validator

from kesh.model.base import Key, Record, Text, plain_from

TaskState = Literal["waiting", "running", "asked", "done", "extended", "skipped"]


class Task(Record):
    """`from_`..`to` are its days ("from" in files), `sign` what ends it sooner, `asked` the day it was asked whether the sign has come.

    `kind` is a step of aftercare or a word such as take_off_ties; `event` is what it follows from. `day` is the day the
    user set within them, `times` how often it was put off because the sign was absent, `note` what was said of it.
    """

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False, serialize_by_alias=True)

    id: Key
    tree: Key
    kind: Key
    from_: Date | None = Field(default=None, alias="from")
    to: Date | None = None
    sign: Text = ""
    state: TaskState = "waiting"
    asked: Date | None = None
    why: Text = ""
    text: Text = ""
    school: Key = "common"
    event: Key | None = None
    day: Date | None = None
    times: Annotated[int, Field(ge=0, le=50)] = 0
    pot: Key | None = None
    minutes: Annotated[float, Field(ge=0, le=100_000)] | None = None
    note: Text = ""

    @model_validator(mode="before")
    @classmethod
    def _plain_from(cls, data: Any) -> Any:
        return plain_from(data)
