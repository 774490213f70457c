"""What was seen on a tree before its roots were worked: seven signs, each with its answer and its day."""

from datetime import date as Date
from typing import Literal, get_args

from pydantic import field_validator

from kesh.model.base import Key, Record, Text

SignKind = Literal["buds", "white_tips", "cut_colour", "smell", "wobble", "leaves", "work"]
SIGNS: tuple[str, ...] = get_args(SignKind)


class Sign(Record):
    """One answer. `value` is one of those of the sign (kesh.science.before_lift)."""

    date: Date | None = None
    sign: SignKind
    value: Key
    note: Text = ""

    @field_validator("value", mode="before")
    @classmethod
    def _as_words(cls, value: object) -> object:
        """Others write numbers or yes and no; they are kept as they stand."""
        return value if isinstance(value, str) else str(value)
