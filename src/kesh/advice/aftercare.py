"""What follows a repotting, from what was done: steps with their days and signs, by group and by how hard the root work was."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, timedelta
from functools import cache
from typing import Literal

from kesh.model import Task
from kesh.reference.rows import Row, raw_table, read_row
from kesh.reference.tables import Species

LIGHT, MODERATE = 0.15, 0.35
SEVERITIES = ("light", "moderate", "heavy")


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


def care_tasks(tree: str, event: str, day: date, rows: Iterable[CareRow]) -> tuple[Task, ...]:
    """The steps as tasks. What counts from the opening leaves has no day until somebody has seen them open."""
    found = []
    for row in rows:
        counts = row.count_from == "repotting"
        first = day + timedelta(days=row.start_day) if counts else None
        last = day + timedelta(days=row.end_day) if counts else None
        sign = (
            row.end_early_when
            if counts
            else f"Counts from the opening leaves, {row.end_day} days. {row.end_early_when}"
        )
        found.append(
            Task.made(
                id=f"{row.step}-{event}", tree=tree, kind=row.step, to=last, sign=sign.strip(), why=row.why, text=row.instruction, school=row.school,
                event=event, state="running" if first is not None and first <= day else "waiting", **{"from": first},
            )
        )  # fmt: skip
    return tuple(found)
