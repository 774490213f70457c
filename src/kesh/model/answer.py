"""What was said of a task, and what a calendar was given. Tasks themselves follow from events; these two are all that is kept of them."""

from datetime import date as Date
from typing import Annotated, Literal

from pydantic import Field

from kesh.model.base import Key, Record, Text

Said = Literal["yes", "not_yet", "worse", "left_out", "moved"]


class Answer(Record):
    """An answer to one task: its key, the day it was said, and what.

    `yes` the sign has come, or the work is done; `not_yet` and `worse` of the sign; `left_out` with the words why in
    `note`; `moved` lays it for the day `to`, or gives it back to Kesh without one. `minutes` is how long it took.
    """

    id: Key
    task: Key
    tree: Key
    day: Date
    said: Said
    to: Date | None = None
    note: Text = ""
    minutes: Annotated[float, Field(ge=0, le=100_000)] | None = None


class CalendarEntry(Record):
    """An entry that a calendar file handed over: the task's key is the id, `uid` the entry's, its days and its words."""

    id: Key
    tree: Key
    uid: Key
    first: Date
    last: Date
    words: Text = ""
