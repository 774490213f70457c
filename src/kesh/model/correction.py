"""What a record said before somebody put it right."""

from datetime import date as Date

from kesh.model.base import Key, Record, Text


class Correction(Record):
    """On a day a field was put right; `was` is what stood there before, as words. Nothing that was believed is lost."""

    on: Date
    field: Key
    was: Text = ""
