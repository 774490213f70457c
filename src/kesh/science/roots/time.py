"""How long root work takes, step by step: starting points [J] that a log of one's own will move."""

from dataclasses import dataclass

import numpy as np

from kesh.geometry.outline import Floats

# minutes: to lift and look, to tie in and fill up; for each litre of the mass
LIFT, LIFT_L, PLANT, PLANT_L = 4.0, 0.5, 6.0, 1.5
# minutes to comb a root mass: a start, and so many for each cm of its depth and metre round it; more where the old soil is clay;
# after so long it is wrapped and gone on with another day [J]
COMB_START, COMB_CM_M, CLAY, SITTING_MIN = 6.0, 2.0, 1.6, 90.0
ROOT_CUT, SEAL = 2.5, 1.0
# a rake, hook or saw instead of a chopstick needs this share of the time; minutes to wash a litre of old soil out
BY_RAKE, WASH_L = 0.55, 5.0
# minutes for each 100 cm2 sawn flat
SAW_100CM2 = 1.5
# longer than this with bare roots is a long job on a hot day
LONG_MIN, HOT_C = 45.0, 25.0


@dataclass(frozen=True)
class Effort:
    """Minutes by step."""

    lift: float
    comb: float
    saw: float
    roots: float
    plant: float
    wash: float = 0.0

    @property
    def total(self) -> float:
        """All of it."""
        return self.lift + self.bare + self.plant

    @property
    def bare(self) -> float:
        """While the roots lie open."""
        return self.comb + self.wash + self.saw + self.roots

    def long_on_a_hot_day(self, mean_c: float | None) -> bool:
        """Whether roots would dry: a long job on a day as warm as this."""
        return mean_c is not None and mean_c >= HOT_C and self.bare > LONG_MIN


def combing_minutes(
    depth_cm: Floats | float, perimeter_m: Floats | float, *, soil: float = 1.0, rake: bool = False
) -> Floats | float:
    """Minutes to comb a root mass all round with a chopstick, or with rake and hook.

    6 + 2 x cm of depth that is combed all round x its perimeter in m x how the old soil lets go (docs/methods.md, "work").
    """
    return np.asarray(COMB_START + COMB_CM_M * np.asarray(depth_cm) * np.asarray(perimeter_m) * soil) * (
        BY_RAKE if rake else 1.0
    )


def effort(
    mass_l: float, comb_min: float, sawn_cm2: float, root_cuts: int, *, seal: bool = False, washed_l: float = 0.0
) -> Effort:
    """Minutes for one repotting: litres of the mass, minutes of combing, cm2 sawn flat, roots cut by themselves, litres washed out."""
    return Effort(
        LIFT + LIFT_L * mass_l, comb_min, SAW_100CM2 * sawn_cm2 / 100,
        (ROOT_CUT + (SEAL if seal else 0.0)) * root_cuts, PLANT + PLANT_L * mass_l, WASH_L * washed_l,
    )  # fmt: skip


def minutes_words(minutes: float) -> str:
    """Minutes as people say them: to five up to an hour, to a quarter beyond."""
    if minutes < 60:
        return f"{max(5, 5 * round(minutes / 5)):.0f} minutes"
    quarters = round(minutes / 15)
    hours, rest = divmod(quarters, 4)
    part = ("", "¼", "½", "¾")[rest]
    return f"{hours}{part} hour{'' if hours == 1 and not rest else 's'}"
