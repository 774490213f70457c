"""What was seen on a tree: seven signs before its roots are worked, five of how full its pot is, each with its answer and its day."""

from datetime import date as Date
from typing import Literal, get_args

from pydantic import field_validator

from kesh.model.base import Key, Record, Text

LiftSign = Literal["buds", "white_tips", "cut_colour", "smell", "wobble", "leaves", "work"]
FillSign = Literal["lifted", "roots_at_holes", "drains_slowly", "lifts_whole", "loose_at_wall"]
SignKind = Literal[LiftSign, FillSign]
SIGNS: tuple[str, ...] = get_args(LiftSign)
FILL_SIGNS: tuple[str, ...] = get_args(FillSign)


class Sign(Record):
    """One answer. `value` is one of those of the sign; of a full pot mm, seconds, or yes."""

    date: Date | None = None
    sign: SignKind
    value: Key
    note: Text = ""

    @field_validator("value", mode="before")
    @classmethod
    def _as_words(cls, value: object) -> object:
        """Others write numbers or yes and no; they are kept as they stand."""
        return value if isinstance(value, str) else str(value)
