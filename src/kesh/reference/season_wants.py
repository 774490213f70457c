"""What opens a window for a species beyond warmth: its night and day, and how it flowers. All starting points [J]."""

from functools import cache

from kesh.reference.rows import Row, raw_table, read_row
from kesh.reference.tables import Species


class SeasonWants(Row):
    """Usual night and mean of the day before roots are worked, degrees C; warmth to the last flower, K d over 5 °C from the coldest day, or its month in the north."""

    key: str = ""
    night_c: float | None = None
    day_c: float | None = None
    flower_sum_kd: float | None = None
    flower_month: int | None = None


@cache
def _rows() -> dict[str, SeasonWants]:
    return {row["key"]: read_row(SeasonWants, row, "season_wants") for row in raw_table("season_wants")}


def season_wants(species: Species) -> SeasonWants:
    """Those of a species, else of its group (a row whose key begins with @), else none."""
    rows = _rows()
    return rows.get(species.key) or rows.get(f"@{species.group}") or SeasonWants()
