"""What follows a repotting, from what was done: steps with their days and signs, by group and by how hard the root work was."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from datetime import date
from functools import cache
from typing import Literal

from kesh.advice.season.kinds import WAITS_FOR_GROWTH
from kesh.model import SeasonViews, Task
from kesh.reference.rows import Row, raw_table, read_row
from kesh.reference.tables import Species
from kesh.science.season.days import later

LIGHT, MODERATE = 0.15, 0.35
SEVERITIES = ("light", "moderate", "heavy")
# shade of the short view, days; feed laid in at potting lasts so long [J]; colder days do not run the clock of growth
WEEK, FEED_AGAIN, CLOCK_C, MOST_COLD_DAYS = 7, 42, 5.0, 300


class CareRow(Row):
    """One row of the table: for a group and a severity, a step with its days after the repotting and what ends it."""

    group: str
    severity: str
    step: str
    step_order: int
    count_from: Literal["repotting", "leaf_opening"]
    start_day: int
    end_day: int
    instruction: str
    end_early_when: str = ""
    why: str = ""
    school: str = "common"


@dataclass(frozen=True)
class Done:
    """What was done to the roots: feeder share taken, whether all soil came off, whether wires hold the tree."""

    share: float
    bare_rooted: bool
    tied: bool


@cache
def care_rows() -> tuple[CareRow, ...]:
    """The whole table."""
    return tuple(read_row(CareRow, row, "aftercare") for row in raw_table("aftercare"))


def severity(share: float, *, bare_rooted: bool = False) -> str:
    """Light under 15 % of the feeders, moderate under 35, else heavy; bare-rooted counts one up."""
    at = 0 if share < LIGHT else 1 if share < MODERATE else 2
    return SEVERITIES[min(at + bare_rooted, 2)]


def steps_after(species: Species | None, done: Done, school: str = "common") -> tuple[CareRow, ...]:
    """The rows that hold, one for each step: the closest to the group and the severity; a school's own before the common one."""
    group, hard = (
        species.group if species is not None else "deciduous",
        severity(done.share, bare_rooted=done.bare_rooted),
    )
    best: dict[str, tuple[int, CareRow]] = {}
    for row in care_rows():
        if row.group not in (group, "all") or row.severity not in (hard, "any") or row.school not in (school, "common"):
            continue
        if row.step in ("check_ties", "remove_ties") and not done.tied:
            continue
        rank = 4 * (row.school != "common") + 2 * (row.group == group) + (row.severity == hard)
        if row.step not in best or rank > best[row.step][0]:
            best[row.step] = (rank, row)
    return tuple(row for _, row in sorted(best.values(), key=lambda pair: (pair[1].step_order, pair[1].step)))


def dry_days(species: Species | None, share: float) -> int:
    """How long a plant that stores water stays dry after a share of its feeders went: where the season's first watering begins."""
    rows = steps_after(species, Done(share, bare_rooted=False, tied=False))
    return next((row.start_day for row in rows if row.step == "first_watering"), 0)


def by_views(rows: Iterable[CareRow], views: SeasonViews, feed: str) -> tuple[CareRow, ...]:
    """The rows as this grower goes about it: how long the shade lasts, and when the first feed is given.

    Shade of about a week ends after seven days and full sun begins there; until a sign it is asked from the seventh day
    on and has no last day of its own. Feed at potting leaves the weeks without feed out.
    """
    found = []
    for row in rows:
        if row.step == "shade" and views.shade == "week" and row.end_day > WEEK:
            found.append(row.model_copy(update={"end_day": max(row.start_day, WEEK), "school": "about a week"}))
        elif row.step == "full_sun" and views.shade == "week" and row.start_day > WEEK:
            by = row.start_day - WEEK
            found.append(
                row.model_copy(update={"start_day": WEEK, "end_day": row.end_day - by, "school": "about a week"})
            )
        elif row.step == "shade" and views.shade == "sign" and row.end_day > 0:
            found.append(row.model_copy(update={"end_day": min(row.end_day, WEEK), "school": "until a sign"}))
        elif row.step in ("no_fertiliser", "first_feed") and feed != "later":
            if row.step == "first_feed":
                found.append(
                    row.model_copy(
                        update={"start_day": FEED_AGAIN, "end_day": FEED_AGAIN + 21, "school": "feed at potting"}
                    )
                )
        else:
            found.append(row)
    return tuple(found)


def clock_day(day: date, days: int, mean_on: Callable[[date], float] | None) -> date:
    """The day on which so many days have run that count: those of a mean under 5 degrees C do not. Without a climate all count."""
    if mean_on is None or days <= 0:
        return later(day, days)
    left, now = days, day
    for _ in range(days + MOST_COLD_DAYS):
        now = later(now, 1)
        if mean_on(now) >= CLOCK_C:
            left -= 1
            if left == 0:
                return now
    return now


def care_tasks(
    tree: str,
    event: str,
    day: date,
    rows: Iterable[CareRow],
    mean_on: Callable[[date], float] | None = None,
    opened: date | None = None,
) -> tuple[Task, ...]:
    """The steps as tasks. What counts from the opening leaves has no day until somebody has seen them open.

    `mean_on` is the usual mean of a day at the place: steps that wait for growth do not count cold days.
    """
    found = []
    for row in rows:
        counts = row.count_from == "repotting" or opened is not None
        base = day if row.count_from == "repotting" or opened is None else max(opened, day)
        clock = mean_on if row.step in WAITS_FOR_GROWTH else None
        first = clock_day(base, row.start_day, clock) if counts else None
        last = clock_day(base, row.end_day, clock) if counts else None
        sign = (
            row.end_early_when
            if counts
            else f"Counts from the opening leaves, {row.end_day} days. {row.end_early_when}"
        )
        found.append(
            Task.made(
                id=f"{row.step}-{event}"[:200], tree=tree, kind=row.step, to=last, sign=sign.strip(), why=row.why, text=row.instruction, school=row.school,
                event=event, state="running" if first is not None and first <= day else "waiting", **{"from": first},
            )
        )  # fmt: skip
    return tuple(found)
