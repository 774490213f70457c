"""The rule on what was seen of the tree itself: go, with care, or wait."""

import numpy as np

from kesh.advice.figures import Figures
from kesh.advice.finding import Result, Rule, Words
from kesh.base.status import FITS, WATCH
from kesh.base.units import Units


def _check(f: Figures) -> Result | None:
    lift = f.case.lift
    if lift is None or not lift.told:
        return None
    status = FITS if lift.verdict == "go" else WATCH
    n = len(f.pots)
    return Result(None, None, None, np.full(n, status, dtype=np.int8), np.full(n, 1.0 if status == FITS else 0.5))


def _words(f: Figures, r: Result, i: int, u: Units) -> Words:
    lift = f.case.lift
    assert lift is not None
    grave = lift.told[0]
    if lift.verdict == "go":
        return Words("The signs say go: nothing was seen that speaks against lifting it.", "", "signs say go")
    if lift.verdict == "wait":
        return Words(
            f"The signs say wait. {grave.text}",
            "Same pot, or the pot alone without a cut; look again next season.",
            "wait",
        )
    return Words(f"The signs say go with care. {grave.text}", "Cut less, work fast, keep the roots wet.", "with care")


RULES = (Rule("before_lift", "root_fit", "", "seen on the tree", _check, _words, weight=0.0),)
