"""Branches that are bent while the tree is potted, as rows of the planting."""

from kesh.advice.kinds.kind import FieldRow
from kesh.advice.planting.branches import ANCHOR_WORDS
from kesh.base.errors import FieldError
from kesh.model import BranchGuy, Planting

ROWS = (
    FieldRow("branch", "Branch", "text", "As you call it: second left, back branch", blank=False),
    FieldRow("anchor", "Fast at", "choice", "What its wire is made fast to", tuple(ANCHOR_WORDS.items())),
    FieldRow("pull_mm", "Pull", "mm", "How far its end is pulled"),
    FieldRow("pad", "on a soft pad", "flag"),
    FieldRow("off_by", "Off by", "date", "Empty: half a year after potting"),
)  # fmt: skip


def with_branch(p: Planting) -> Planting:
    """The planting with one more branch that is bent, named by its number until it is named better. Raises FieldError."""
    taken = {g.id for g in p.branch_guys}
    number = next(n for n in range(1, len(taken) + 2) if str(n) not in taken)
    return p.changed(branch_guys=(*p.branch_guys, BranchGuy.made(id=str(number), branch=f"branch {number}")))


def with_branch_field(p: Planting, key: str, name: str, value: object) -> Planting:
    """One field of one branch's guy. Raises FieldError."""
    if name == "branch" and not str(value).strip():
        raise FieldError("branch", "a branch that is bent needs a name; take its row away if it is not bent")
    return p.changed(branch_guys=tuple(g.changed(**{name: value}) if g.id == key else g for g in p.branch_guys))


def without_branch(p: Planting, key: str) -> Planting:
    """The planting without one of them."""
    return p.changed(branch_guys=tuple(g for g in p.branch_guys if g.id != key))
