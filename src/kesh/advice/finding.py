"""What a rule is: one checked statement about N pots, its status and its words."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from kesh.advice.figures import Figures
from kesh.base.status import FITS, NO, UNKNOWN, WATCH
from kesh.base.units import Units
from kesh.geometry.outline import Floats

Part = Literal["size", "depth", "root_fit", "water", "looks", "handling"]
PARTS: dict[Part, float] = {
    "size": 0.20,
    "depth": 0.15,
    "root_fit": 0.25,
    "water": 0.20,
    "looks": 0.10,
    "handling": 0.10,
}


@dataclass(frozen=True)
class Result:
    """A rule's outcome for N pots: value and limits (None where there is none), status and closeness 0..1."""

    value: Floats | None
    low: Floats | float | None
    high: Floats | float | None
    status: NDArray[np.int8]
    close: Floats

    def at(self, i: int) -> tuple[float | None, float | None, float | None]:
        """(value, low, high) of pot i as plain numbers; not-a-number reads None."""
        return _pick(self.value, i), _pick(self.low, i), _pick(self.high, i)


def _pick(value: Floats | float | None, i: int) -> float | None:
    if value is None:
        return None
    number = float(value[i]) if isinstance(value, np.ndarray) else float(value)
    return number if np.isfinite(number) else None


@dataclass(frozen=True)
class Words:
    """Sentence, remedy, and the few words that stand on a card."""

    text: str
    remedy: str
    short: str
    fix: str = ""


@dataclass(frozen=True)
class Rule:
    """A row of the rule table. `check` returns None where the rule does not apply to the case."""

    code: str
    part: Part
    unit: str
    source: str
    check: Callable[[Figures], Result | None]
    words: Callable[[Figures, Result, int, Units], Words]
    weight: float = 1.0

    def said(self, f: Figures, r: Result, i: int, u: Units) -> Words:
        """Its words of pot i with temperatures and winds in the reader's units: what a card, a row and a finding show."""
        told = self.words(f, r, i, u)
        return Words(u.told(told.text), u.told(told.remedy), u.told(told.short), u.told(told.fix))


def unknown(f: Figures) -> Result:
    """Not measured, for every pot."""
    n = len(f.pots)
    return Result(None, None, None, np.full(n, UNKNOWN, dtype=np.int8), np.full(n, 0.5))


def in_band(value: Floats, low: float, high: float, slack: float) -> Result:
    """Inside fits; outside by up to slack (share of the nearer limit) watch; beyond no."""
    miss = np.maximum(np.maximum((low - value) / max(low, 1e-9), (value - high) / max(high, 1e-9)), 0.0)
    status = np.where(miss <= 1e-9, FITS, np.where(miss <= slack, WATCH, NO)).astype(np.int8)
    return Result(value, low, high, status, np.clip(1 - miss / (3 * slack), 0, 1))


def at_most(value: Floats, fits: Floats | float, watch: Floats | float) -> Result:
    """Up to `fits` fits, up to `watch` watch, beyond no; not-a-number is unknown."""
    return _graded(
        value, value <= np.asarray(fits) + 1e-9, value <= np.asarray(watch) + 1e-9, None, fits, np.asarray(watch)
    )


def at_least(value: Floats, fits: Floats | float, watch: Floats | float) -> Result:
    """From `fits` on fits, from `watch` on watch, below no; not-a-number is unknown."""
    return _graded(
        value, value >= np.asarray(fits) - 1e-9, value >= np.asarray(watch) - 1e-9, fits, None, np.asarray(watch)
    )


def _graded(
    value: Floats,
    good: NDArray[np.bool_],
    fair: NDArray[np.bool_],
    low: Floats | float | None,
    high: Floats | float | None,
    edge: Floats,
) -> Result:
    bad = value != value
    status = np.where(bad, UNKNOWN, np.where(good, FITS, np.where(fair, WATCH, NO))).astype(np.int8)
    target = low if low is not None else high
    with np.errstate(invalid="ignore"):
        miss = np.abs(np.minimum(value, 1e9) - target) / np.maximum(np.abs(edge - target), 1e-9)  # type: ignore[operator]
    close = np.where(good, 1.0, np.where(bad, 0.5, np.maximum(1 - 0.5 * miss, 0.0)))
    return Result(value, low, high, status, close)


def softened(status: NDArray[np.int8]) -> NDArray[np.int8]:
    """What says no is only to be watched; what is not known stays so."""
    return np.where(status == NO, WATCH, status).astype(np.int8)


def flags(bad: NDArray[np.bool_], status: int = NO) -> Result:
    """Fits where not bad, otherwise the given status."""
    return Result(None, None, None, np.where(bad, status, FITS).astype(np.int8), np.where(bad, 0.0, 1.0))
