"""Layers and cuttings without roots: what leaf is kept, where the cut runs, the first pot, the grip, the watch list (docs/methods.md, "layer", "rootless cutting")."""

from dataclasses import dataclass
from datetime import date
from math import sqrt

from kesh.base.errors import FieldError
from kesh.science.season.days import later

LEAF_SHARE = {"few": 0.3, "some": 0.5, "full": 0.8}
UNDER_ROOTS_MM, ROOM_MM, DEPTH_TIMES, AIR_ASKED = 10.0, 30.0, 1.2, 0.20
GRIP_HEIGHT_SHARE, GRIP_TRUNKS = 0.25, 2.0
CALLUS_DAYS = (7.0, 14.0)
WATCH_DAYS = (14, 28, 56)


@dataclass(frozen=True)
class FirstPot:
    """The first pot of a layer: least length and width inside, least depth of soil, mm."""

    across_mm: float
    depth_mm: float


def leaf_share(root_class: str) -> float:
    """Share of the leaf that is kept. Raises FieldError for a class nobody knows."""
    if root_class not in LEAF_SHARE:
        raise FieldError("root_class", f"'{root_class}' is not few, some or full")
    return LEAF_SHARE[root_class]


def cut_below_mm(roots_at_mm: float) -> float:
    """Highest place of the cut, over the old soil: 10 mm under the new roots."""
    return roots_at_mm - UNDER_ROOTS_MM


def first_pot(spread_mm: float, depth_mm: float) -> FirstPot:
    """Root spread and 30 mm all round, 1.2 times the root depth. Raises FieldError for sizes that are none."""
    if not min(spread_mm, depth_mm) > 0:
        raise FieldError("spread_mm", "spread and depth of the new roots are above 0")
    return FirstPot(spread_mm + 2 * ROOM_MM, DEPTH_TIMES * depth_mm)


def no_combing_until(severed: date) -> date:
    """A year after it was cut."""
    return later(severed, 365)


def grip_mm(height_mm: float, trunk_mm: float) -> float:
    """Depth for a grip: a quarter of the height or twice the trunk, the larger. Raises FieldError for sizes that are none."""
    if not min(height_mm, trunk_mm) > 0:
        raise FieldError("height_mm", "height and thickness of a cutting are above 0")
    return max(GRIP_HEIGHT_SHARE * height_mm, GRIP_TRUNKS * trunk_mm)


def callus_until(set_on: date, days: float) -> tuple[date, bool]:
    """(day on which it is set or first watered, whether the days lie within 7 to 14)."""
    return later(set_on, round(days)), CALLUS_DAYS[0] <= days <= CALLUS_DAYS[1]


def watch_list(set_on: date) -> tuple[date, ...]:
    """The days to look closer: 14, 28 and 56 after."""
    return tuple(later(set_on, days) for days in WATCH_DAYS)


@dataclass(frozen=True)
class Success:
    """n of N with the band of Wilson, nine in ten."""

    rooted: int
    of: int
    low: float
    high: float


def success(rooted: int, of: int) -> Success:
    """How many rooted and between what shares that promises the next. Raises FieldError for counts that are none."""
    if not 0 <= rooted <= of or of < 1:
        raise FieldError("rooted", f"{rooted} of {of} is no count")
    z, p = 1.6448536269514722, rooted / of
    middle, wide = p + z * z / (2 * of), z * sqrt(p * (1 - p) / of + z * z / (4 * of * of))
    return Success(
        rooted, of, max((middle - wide) / (1 + z * z / of), 0.0), min((middle + wide) / (1 + z * z / of), 1.0)
    )
