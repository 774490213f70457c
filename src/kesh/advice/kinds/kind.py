"""What a kind of planting is: one object in one file, from its words to its grips."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np

from kesh.advice.case import Case
from kesh.advice.design.limit import Limit, Sizes
from kesh.advice.figures import Figures
from kesh.advice.kinds.kinds import KindRow
from kesh.advice.kinds.plan import Make, Setting
from kesh.advice.planting.steps.step import PLAIN, WorkStep
from kesh.model import Planting, Pot, Record, Tree

Sort = Literal["mm", "deg", "count", "number", "choice", "flag", "date", "text"]
Side = Literal["front", "above"]
Link = Literal["root", "loop", "thing", "off", "card", "guard"]


@dataclass(frozen=True)
class FieldRow:
    """One field of a kind's record: its name there, its label, what it is, and its choices. `blank` may be left empty."""

    name: str
    label: str
    sort: Sort
    tip: str = ""
    options: tuple[tuple[str, str], ...] = ()
    blank: bool = True


@dataclass(frozen=True)
class Grip:
    """One handle: in the front view (x, up from the bench) or from above (x, back), mm from the pot's middle.

    Its key begins with the field of the kind's record.
    """

    key: str
    label: str
    side: Side
    x_mm: float
    y_mm: float


def no_grips(s: Setting) -> list[Grip]:
    """Nothing to take in hand."""
    return []


def as_it_is(planting: Planting, pot: Pot) -> Planting:
    """Nothing else follows."""
    return planting


def no_sizes(case: Case, planting: Planting) -> Sizes:
    """Searched as for a plain planting."""
    return Sizes()


def no_limits(f: Figures, planting: Planting) -> tuple[Limit, ...]:
    """Nothing more is asked of a pot."""
    return ()


def no_steps(s: Setting) -> tuple[WorkStep, ...]:
    """Nothing but the usual."""
    return ()


# the part of a grip's key after the field, what stands behind it, and the place it was pulled to, mm
Pull = Callable[[Setting, str, list[str], float, float], Planting]


@dataclass(frozen=True)
class Kind:
    """Everything of one kind.

    `order` are the keys of its work in their order, `steps` those of them that are its own: a step of the kind stands in for
    the usual one by its key. `make` gives its plan, None where there is none; `start` the record to begin with; `grips` what is taken in hand, in
    the order G walks them, and `pull` the planting after it was pulled; `seated` what follows in the planting when the
    fields of `seats` change; `links` what its panel offers below its fields; `sizes`
    and `limits` what it asks of a pot that is designed for it, where it `keeps_seat` with its height over the rim.
    """

    row: KindRow
    fields: tuple[FieldRow, ...] = ()
    make: Make | None = None
    order: tuple[str, ...] = PLAIN
    steps: Callable[[Setting], tuple[WorkStep, ...]] = no_steps
    start: Callable[[Tree, Pot], Record] | None = None
    grips: Callable[[Setting], list[Grip]] = no_grips
    pull: Pull | None = None
    seats: tuple[str, ...] = ()
    seated: Callable[[Planting, Pot], Planting] = as_it_is
    links: tuple[Link, ...] = ()
    sizes: Callable[[Case, Planting], Sizes] = no_sizes
    limits: Callable[[Figures, Planting], tuple[Limit, ...]] = no_limits
    keeps_seat: bool = False


def azimuth_deg(s: Setting, x_mm: float, y_mm: float) -> float:
    """Where a place of the view from above lies from the trunk, clockwise from the front."""
    p = s.planting
    return round(float(np.degrees(np.arctan2(-(x_mm - s.foot[0]), -(y_mm - p.offset_y_mm)))) % 360, 1)


def ray(s: Setting, key: str, label: str, azimuth: float) -> Grip:
    """A grip from above that lies in a direction from the trunk."""
    a = np.radians(azimuth)
    reach = 0.36 * min(s.a.pot.length_mm, s.a.pot.width_mm)
    x, y = s.planting.offset_x_mm - reach * float(np.sin(a)), s.planting.offset_y_mm - reach * float(np.cos(a))
    return Grip(key, label, "above", x, y)
