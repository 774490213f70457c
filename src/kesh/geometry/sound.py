"""Can a pot be reckoned at all? One that cannot is judged by nothing; it is still drawn, as plainly as can be."""

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from kesh.base.errors import FieldError
from kesh.geometry.columns import PotColumns, columns
from kesh.geometry.outline import outline_fault, outline_points
from kesh.geometry.profile import extreme_heights_mm, inset_at_mm
from kesh.model.pot import Outline, Pot

MEET = "its walls meet and leave no inside"


@lru_cache(maxsize=64)
def faulty(pots: PotColumns) -> NDArray[np.bool_]:
    """Which of N pots cannot be reckoned, (N,); never one of the solver's rows, which are made to be sound."""
    if pots.which is not None:
        return np.zeros(len(pots), bool)
    heights = extreme_heights_mm(pots, np.zeros(len(pots)))
    most = inset_at_mm(pots, heights).max(axis=1) + pots.wall
    bad = (most >= np.minimum(pots.length, pots.width) / 2) & ~pots.slab
    for i in np.flatnonzero(~pots.box & ~pots.ellipse).tolist():
        pot = pots.pots[i]
        bad[i] |= bool(outline_fault(pot.outline, pot.length_mm, pot.width_mm))
        if not bad[i] and not pots.slab[i] and most[i] > _surely_free_mm(pot):
            bad[i] = _walls_meet(pot.outline, pot.length_mm, pot.width_mm, float(most[i]))
    return np.asarray(bad)


def _surely_free_mm(pot: Pot) -> float:
    """A wall and taper of this much surely leave an inside in one piece; beyond it the offset itself is asked."""
    fill = {"lobed": 1 - 2 * pot.outline.lobe_depth, "polygon": 0.8, "oval": 0.7}.get(pot.outline.kind, 0.0)
    return 0.4 * fill * min(pot.length_mm, pot.width_mm) / 2


@lru_cache(maxsize=4096)
def _walls_meet(outline: Outline, length_mm: float, width_mm: float, inset_mm: float) -> bool:
    try:
        outline_points(outline, length_mm, width_mm, inset_mm, 120)
    except FieldError:
        return True
    return False


def fault_of(pot: Pot) -> str:
    """Why a pot cannot be reckoned, as the end of a sentence; empty when it can."""
    outline = outline_fault(pot.outline, pot.length_mm, pot.width_mm)
    return outline or (MEET if bool(faulty(columns([pot]))[0]) else "")


def check_outline(outline: Outline, length_mm: float, width_mm: float) -> None:
    """Raises FieldError for an outline that cannot be measured: who makes a pot must have it mended first."""
    fault = outline_fault(outline, length_mm, width_mm)
    if fault:
        raise FieldError("points_mm" if outline.kind == "free" else "corner_mm", f"{fault}; draw it anew")
