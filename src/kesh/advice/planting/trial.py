"""The trial fit at the bench: the tree is set into the pot, what stands above the rim is measured, and sawn again.

How high the roots stand tells how deep they are: top of the roots above the rim = root depth + soil under them -
inner depth of the pot. So every trial measures the root mass better than a tape along its ragged side can.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date

from kesh.advice.assess import Assessment
from kesh.advice.roots.this_year import stands_now_mm
from kesh.base.errors import FieldError
from kesh.base.units import Units
from kesh.model import Event, RootMass, Tree

SEATED_MM = 1.0


@dataclass(frozen=True)
class TrialFit:
    """One trial: where the top of the roots stands and should stand against the rim, and the root depth it tells, mm."""

    stands_mm: float
    wanted_mm: float
    depth_mm: float

    @property
    def lower_by_mm(self) -> float:
        """What still has to come off the bottom (+), or be put under the roots (-)."""
        return self.stands_mm - self.wanted_mm

    @property
    def seated(self) -> bool:
        """Whether a saw or a handful of mix would change anything one can see."""
        return abs(self.lower_by_mm) <= SEATED_MM

    def words(self, u: Units) -> str:
        """What to do next."""
        if self.seated:
            return "Seated."
        if self.lower_by_mm > 0:
            return f"Lower by {u.mm(self.lower_by_mm)}: take it off the bottom."
        return f"Raise by {u.mm(-self.lower_by_mm)}: put that much more mix under it."

    def figures(self) -> tuple[tuple[str, float], ...]:
        """What the log keeps."""
        return ("stands_mm", self.stands_mm), ("wanted_mm", self.wanted_mm), ("depth_mm", self.depth_mm)


def trial_fit(a: Assessment, stands_mm: float) -> TrialFit:
    """Judge a trial in a pot: the top of the roots stands `stands_mm` above (+) or below (-) the rim.

    Raises FieldError when the roots would have no depth, or the pot no inside.
    """
    if not a.figures.plantable[0]:
        raise FieldError("trial", f"{a.pot.name} takes no soil, so nothing can be set into it")
    depth = float(a.figures.pots.inner_depth[0]) - a.seat.base_mm + stands_mm
    if depth <= 0:
        raise FieldError(
            "top of the roots",
            f"{stands_mm:g} mm would leave no root mass at all; below the rim is written with a minus",
        )
    return TrialFit(round(stands_mm, 1), round(stands_now_mm(a.figures), 1), round(depth, 1))


def with_depth(tree: Tree, depth_mm: float, today: date) -> Tree:
    """The tree with the root depth a trial told, as a root mass seen today; unchanged when no root mass is known.

    Raises FieldError for a depth outside the range.
    """
    if tree.roots is None:
        return tree
    seen: RootMass = tree.roots.changed(depth_mm=depth_mm, seen=today, estimated=False)
    before = tree.root_masses[:-1] if tree.roots.seen == today else tree.root_masses
    return tree.changed(root_masses=(*before, seen))


def trials_of(events: Iterable[Event], tree: str, pot: str) -> tuple[tuple[Event, TrialFit], ...]:
    """All trials of a tree in a pot, in the order they were made."""
    found = []
    for event in events:
        if event.kind == "trial_fit" and event.tree == tree and event.pot == pot:
            figures = dict(event.figures)
            found.append((event, TrialFit(figures["stands_mm"], figures["wanted_mm"], figures["depth_mm"])))
    return tuple(found)
