"""The tree some years on: logistic growth of trunk, spread and height (docs/methods.md, "the tree some years on"). Rates are judgement."""

import numpy as np

from kesh.model.tree import Measure
from kesh.science.looks.proportion import filled_in

TRUNK_RATE = 0.12
SPREAD_RATE = 0.30
FILL_IN_YEARS = 1.0
GROWN_FACTOR = {"collected": 3.0, "growing_on": 3.0, "developing": 3.0, "refining": 1.5, "on_show": 1.5}
# A kept tree is cut back every year; only this share of free growth stays [J].
KEPT_SHARE = {"collected": 0.6, "growing_on": 0.8, "developing": 0.5, "refining": 0.25, "on_show": 0.12}


def logistic(start: float, end_factor: float, rate: float, years: float) -> float:
    """Logistic growth from a start towards end_factor x start after some years; constant when the end is not above."""
    if end_factor <= 1 or years <= 0 or start <= 0:
        return start
    return float(end_factor * start / (1 + (end_factor - 1) * np.exp(-rate * years)))


def grown(measure: Measure, stage: str, years: float) -> Measure:
    """The measures after some years with normal cutting back; missing figures stay missing."""
    factor, kept = GROWN_FACTOR[stage], KEPT_SHARE[stage]
    if years >= FILL_IN_YEARS:
        measure = filled_in(measure)

    def more(value: float | None, rate: float) -> float | None:
        return None if value is None else value + kept * (logistic(value, factor, rate, years) - value)

    return measure.changed(
        height_mm=more(measure.height_mm, SPREAD_RATE / 2),
        trunk_diameter_mm=more(measure.trunk_diameter_mm, TRUNK_RATE),
        trunk_at_soil_mm=more(measure.trunk_at_soil_mm, TRUNK_RATE),
        trunk_mid_mm=more(measure.trunk_mid_mm, TRUNK_RATE),
        flare_width_mm=more(measure.flare_width_mm, TRUNK_RATE),
        canopy_left_mm=more(measure.canopy_left_mm, SPREAD_RATE),
        canopy_right_mm=more(measure.canopy_right_mm, SPREAD_RATE),
        canopy_front_mm=more(measure.canopy_front_mm, SPREAD_RATE),
        canopy_back_mm=more(measure.canopy_back_mm, SPREAD_RATE),
        drop_mm=more(measure.drop_mm, SPREAD_RATE),
    )
