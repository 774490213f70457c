"""Between which warmth sums or means of the day each window lies: what ships, with the user's own laid over it. All [J]."""

from collections.abc import Iterable, Mapping
from functools import cache

from pydantic import model_validator

from kesh.reference.rows import Row, raw_table, read_row


class WindowSpan(Row):
    """One window: `low` and `high` in kelvin days from the coldest day, or in degrees of the day's mean on its way."""

    low: float
    high: float
    unit: str
    words: str

    @model_validator(mode="after")
    def _rises(self) -> "WindowSpan":
        if self.high <= self.low:
            raise ValueError(f"high {self.high:g} is not above low {self.low:g}")
        return self


@cache
def window_spans() -> Mapping[str, WindowSpan]:
    """The shipped table by key. Raises BundleError for a damaged one."""
    return {row["key"]: read_row(WindowSpan, row, "windows") for row in raw_table("windows")}


def spans_with(own: Iterable[tuple[str, float, float]]) -> dict[str, tuple[float, float]]:
    """(low, high) by key, own figures first; keys that nobody knows are left out."""
    found = {key: (span.low, span.high) for key, span in window_spans().items()}
    return found | {key: (low, high) for key, low, high in own if key in found}
