"""How long root work takes, step by step: starting points [J] that a log of one's own will move."""

from dataclasses import dataclass

import numpy as np

from kesh.geometry.outline import Floats

# minutes: to lift and look, to tie in and fill up; for each litre of the mass
LIFT, LIFT_L, PLANT, PLANT_L = 6.0, 1.5, 12.0, 4.0
# minutes to comb out a litre of old mix with its roots by how fine and firm they are, and for each root cut by itself
COMB_L = {"conifer": 26.0, "broadleaf": 18.0}
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


def combing_minutes(litres: Floats | float, *, conifer: bool, rake: bool = False) -> Floats | float:
    """Minutes to comb out so many litres, with a chopstick or with rake and hook."""
    return np.asarray(litres) * COMB_L["conifer" if conifer else "broadleaf"] * (BY_RAKE if rake else 1.0)


def effort(
    mass_l: float, removed_l: float, sawn_cm2: float, root_cuts: int, *, conifer: bool, rake: bool = False, seal: bool = False,
    washed_l: float = 0.0,
) -> Effort:  # fmt: skip
    """Minutes for one repotting: litres of the mass, combed and washed out, cm2 sawn flat, roots cut by themselves."""
    return Effort(
        LIFT + LIFT_L * mass_l, float(combing_minutes(removed_l, conifer=conifer, rake=rake)), SAW_100CM2 * sawn_cm2 / 100,
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
