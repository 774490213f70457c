"""How roots fill the fresh mix (docs/methods.md, "roots fill the pot"): logistic, faster where much leaf feeds little soil. Rates [J]."""

import numpy as np

HOLDS, BOUND, LEAF_M2_L = 0.6, 0.85, 0.06


def first_filling(kept_l: float, before: float, soil_l: float) -> float:
    """The share that is filled right after a repotting: what was kept times how full it was, of the whole, 0.05 to 0.84."""
    return float(np.clip(kept_l * before / max(soil_l, 1e-9), 0.05, 0.84))


def filling_rate(class_rate: float, leaf_m2: float, soil_l: float) -> float:
    """A year's rate: the class's, times the root of leaf area by soil against 0.06 m2 a litre, half to twice."""
    return float(class_rate * np.clip(np.sqrt(leaf_m2 / max(soil_l, 1e-9) / LEAF_M2_L), 0.5, 2.0))


def years_until(share: float, first: float, rate: float) -> float:
    """Years until so much is filled: ln[share (1 - f0) / (f0 (1 - share))] / r; nought where it is already."""
    if first >= share:
        return 0.0
    return float(np.log(share * (1 - first) / (first * (1 - share))) / rate)
