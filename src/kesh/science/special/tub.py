"""A fruit tree in a tub: next size, gusts, stake, mulch, load (docs/methods.md, "fruit tree in a tub"); and the desert plant's waits ("desert plant")."""

from dataclasses import dataclass

from kesh.base.errors import FieldError

# how far a step may be from the usual one
STEP_MM, STEP_EITHER_MM, TIMES = 65.0, 15.0, (1.5, 2.0)
TAPER_MOST = 0.35
STAKE_SHARE = (1 / 3, 1 / 2)
# desert plants
ROOT_COVER_MM, MAD_DRY, WET_KILL_K = 5.0, 0.9, 4.0
WAIT_DAYS = {1: (7.0, 14.0), 2: (4.0, 8.0), 3: (0.0, 0.0)}


@dataclass(frozen=True)
class NextTub:
    """The next tub: inside length and width, and the litres between which it should hold, by the present pot."""

    length_mm: tuple[float, float]
    width_mm: tuple[float, float]
    volume_l: tuple[float, float] | None


def next_tub(
    roots_length_mm: float, roots_width_mm: float, present_l: float | None, step_mm: float = STEP_MM
) -> NextTub:
    """Root mass and a step all round, 50 to 80 mm by custom, 1.5 to 2 times the volume. Raises FieldError for sizes that are none."""
    if not min(roots_length_mm, roots_width_mm) > 0:
        raise FieldError("roots", "the root mass has a length and a width")
    low, high = step_span(step_mm)
    return NextTub(
        (roots_length_mm + 2 * low, roots_length_mm + 2 * high), (roots_width_mm + 2 * low, roots_width_mm + 2 * high),
        None if present_l is None else (TIMES[0] * present_l, TIMES[1] * present_l),
    )  # fmt: skip


def step_span(step_mm: float) -> tuple[float, float]:
    """Between what a step all round may lie."""
    return max(step_mm - STEP_EITHER_MM, 0.0), step_mm + STEP_EITHER_MM


def taper_share(base_inset_mm: float, height_mm: float) -> float:
    """How much a side draws in by the height: at most 0.35 stands in gusts."""
    if not height_mm > 0:
        raise FieldError("height_mm", "a tub has a height")
    return base_inset_mm / height_mm


def stake_mm(stem_mm: float) -> tuple[float, float]:
    """Between what heights the stake ends: a third to a half of the stem."""
    if not stem_mm > 0:
        raise FieldError("stem_mm", "the stem is above 0")
    return STAKE_SHARE[0] * stem_mm, STAKE_SHARE[1] * stem_mm


def mulch_years(rim_over_soil_mm: float, headspace_mm: float, mm_year: float) -> float | None:
    """Years until mulch fills the headspace's budget; None without any a year."""
    return None if mm_year <= 0 else max(rim_over_soil_mm - headspace_mm, 0.0) / mm_year


def soil_line_over_mm(soil_mm: float, highest_root_mm: float) -> float:
    """How far the soil stands over the highest root of a desert plant; at most 5 mm."""
    return soil_mm - highest_root_mm


def wait_days(water_need: int) -> tuple[float, float]:
    """Days of growth to wait after the whole store is used, by the species' need of water (1 dry)."""
    return WAIT_DAYS.get(water_need, (0.0, 0.0))


def kill_c(root_kill_c: float, wet: bool) -> float:
    """What its roots bear: 4 K warmer when wet."""
    return root_kill_c + (WET_KILL_K if wet else 0.0)


def dry_gap_days(available_l: float, use_l_day: float, water_need: int) -> tuple[float, float] | None:
    """Days between waterings in growth: nine tenths of the store used, then the wait; None where nothing is used."""
    if use_l_day <= 0:
        return None
    low, high = wait_days(water_need)
    used = MAD_DRY * available_l / use_l_day
    return used + low, used + high
