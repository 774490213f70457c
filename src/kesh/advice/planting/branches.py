"""Branches that are bent at potting: how each is told at the bench, and when its guy comes off."""

from datetime import date, timedelta

from kesh.base.units import Units
from kesh.model import BranchGuy, Planting

# a branch that is bent stays where it is after a season of growth: the usual half year, looked at before [J]
STAYS_DAYS = 182
ANCHOR_WORDS = {
    "rim": "the rim", "hole": "a tie hole", "root": "a thick root", "trunk": "the trunk", "branch": "another branch",
}  # fmt: skip


def guy_words(guy: BranchGuy, u: Units) -> str:
    """One guy as it is laid: the branch, by how much, from where, on what, until when."""
    pull = f" {u.mm(guy.pull_mm)}" if guy.pull_mm is not None else ""
    pad = "on a pad" if guy.pad else "without a pad, so no wire on living bark"
    until = "" if guy.off_by is None else f"; off by {guy.off_by:%-d %b %Y}"
    name = guy.branch.strip()
    return f"{name[:1].upper()}{name[1:]}: pulled{pull} from {ANCHOR_WORDS[guy.anchor]}, {pad}{until}."


def comes_off(guy: BranchGuy, p: Planting) -> date | None:
    """The day by which it comes off: its own, or half a year after potting; None where neither is known."""
    if guy.off_by is not None:
        return guy.off_by
    return None if p.date is None or p.planned else p.date + timedelta(days=STAYS_DAYS)
