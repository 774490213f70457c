"""How firmly ties hold a tree in its pot against a push from every side (docs/methods.md, "ties that hold").

Statics of a root mass that tips about the edge of its base: its own weight, and each leg of wire by its pull and where it takes hold.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from kesh.base.errors import FieldError
from kesh.base.once import once
from kesh.geometry.outline import Floats
from kesh.science.roots.side_room import directions_deg, toward
from kesh.science.stand.stability import G

# MPa of annealed wire; half of it is used [J]
SIGMA_MPA = {"aluminium": 34.0, "copper": 60.0, "steel": 150.0}
IN_USE = 0.5
STONE_MU, BAMBOO_MPA = 0.6, 80.0
# where pushes go to, by where they come from
PUSHES = -toward(directions_deg())
FITS_MARGIN, WATCH_MARGIN, WIDEST_GAP_DEG = 1.5, 1.0, 150.0


@dataclass(frozen=True)
class Leg:
    """One leg of a wire: where it takes hold of the roots or the trunk (x, y, z over the floor), its hole (x, y), gauge and metal; mm.

    `hole_z_mm` is how high its hole lies over the floor, nought but for an anchor on the rim. `given_n` is the pull of
    what is no wire: a stone that lies there.
    """

    hold_mm: tuple[float, float, float]
    hole_mm: tuple[float, float]
    gauge_mm: float
    metal: str = "aluminium"
    hole_z_mm: float = 0.0
    given_n: float | None = None

    def __post_init__(self) -> None:
        if self.metal not in SIGMA_MPA:
            raise FieldError("metal", f"'{self.metal}' is not known; known are {', '.join(SIGMA_MPA)}")
        if not self.gauge_mm > 0:
            raise FieldError("gauge_mm", f"{self.gauge_mm:g} is not above nought")
        if not self.hold_mm[2] > 0:
            raise FieldError("over", "a leg takes hold above the floor")

    @property
    def pull_n(self) -> float:
        """Pull in use, N: half of what the wire's metal bears."""
        if self.given_n is not None:
            return self.given_n
        return float(IN_USE * SIGMA_MPA[self.metal] * np.pi * self.gauge_mm**2 / 4)

    @property
    def length_mm(self) -> float:
        """From its hold to its hole at the floor."""
        x, y, z = self.hold_mm
        return float(np.sqrt((x - self.hole_mm[0]) ** 2 + (y - self.hole_mm[1]) ** 2 + (z - self.hole_z_mm) ** 2))


def stone_leg(x_mm: float, y_mm: float, z_mm: float, mass_kg: float) -> Leg:
    """A stone on the roots holds like a leg straight down with the friction of its weight, mu 0.6 [J]."""
    return Leg((x_mm, y_mm, z_mm), (x_mm, y_mm), 1.0, given_n=STONE_MU * mass_kg * G)


def rod_diameter_mm(pull_n: float, overhang_mm: float) -> float:
    """The thinnest round bamboo rod that bears a leg's pull at its free end: (32 T a / (pi sigma))^(1/3), sigma 80 MPa [T]."""
    return float((32 * pull_n * max(overhang_mm, 0.0) / (np.pi * BAMBOO_MPA)) ** (1 / 3))


@dataclass(frozen=True)
class Standing:
    """What stands in the pot: the lowest outline of the roots that are kept (n, 2), how high it stands over the floor, mass and its middle, apex over that base."""

    base_mm: Floats
    over_floor_mm: float
    mass_kg: float
    middle_mm: tuple[float, float]
    apex_mm: float

    def __post_init__(self) -> None:
        if len(self.base_mm) < 3:
            raise FieldError("base_mm", "an outline of at least three points is needed")
        if not (self.mass_kg > 0 and self.apex_mm > 0):
            raise FieldError("mass_kg", "mass and height must be above nought")

    @once
    def pivot_mm(self) -> Floats:
        """How far the edge it would tip over lies out, by where a push comes from (36,)."""
        return np.asarray((self.base_mm @ PUSHES.T).max(axis=0))

    @once
    def weight_nmm(self) -> Floats:
        """The moment about that edge that its weight bears, N mm (36,)."""
        return np.asarray(self.mass_kg * G * (self.pivot_mm - PUSHES @ np.array(self.middle_mm)))


@dataclass(frozen=True)
class Hold:
    """By the azimuth a push comes from, clockwise from the front (36,): N at the apex that tip it, the moment it bears, N m, and the margin against the wind."""

    rose_n: Floats
    moment_nm: Floats
    margin: Floats | None
    margin_untied: Floats | None
    widest_gap_deg: float

    @property
    def weakest(self) -> int:
        """The direction in which it is held the least against what the wind asks; against nothing known, the least force."""
        return int(np.argmin(self.rose_n if self.margin is None else self.margin))

    @property
    def weakest_deg(self) -> float:
        """From which side it is held the least."""
        return float(directions_deg()[self.weakest])

    @property
    def weakest_n(self) -> float:
        """The force at the apex that holds against a push from that side: the one figure of how firmly it is held."""
        return float(self.rose_n[self.weakest])

    @property
    def status(self) -> str:
        """fits, watch or no by the least margin; no gap between pulls may be too wide for fits. Unknown without a wind."""
        if self.margin is None:
            return "unknown"
        least = float(self.margin.min())
        if least >= FITS_MARGIN and self.widest_gap_deg <= WIDEST_GAP_DEG:
            return "fits"
        return "watch" if least >= WATCH_MARGIN else "no"


def moments_nm(standing: Standing, legs: Sequence[Leg]) -> Floats:
    """The moment about the edge it would tip over that weight and legs bear, by where the push comes from (36,), N m."""
    total = standing.weight_nmm
    if legs:
        at = np.array([leg.hold_mm for leg in legs])
        run = at[:, :2] - np.array([leg.hole_mm for leg in legs])
        long = np.array([leg.length_mm for leg in legs])[:, None]
        sunk = at[:, 2:] - np.array([[leg.hole_z_mm] for leg in legs])
        down = sunk / long * (standing.pivot_mm - at[:, :2] @ PUSHES.T)
        aside = run @ PUSHES.T / long * (at[:, 2:] - standing.over_floor_mm)
        pull = np.array([[leg.pull_n] for leg in legs])
        total = total + np.maximum(0.0, pull * (down + aside)).sum(axis=0)
    return np.asarray(total / 1000)


def widest_gap_deg(legs: Sequence[Leg]) -> float:
    """The widest angle between neighbouring pulls, seen from above; 360 with fewer than three legs that pull aside."""
    angles = sorted(
        float(np.degrees(np.arctan2(leg.hole_mm[1] - leg.hold_mm[1], leg.hole_mm[0] - leg.hold_mm[0])) % 360)
        for leg in legs
        if np.hypot(leg.hole_mm[0] - leg.hold_mm[0], leg.hole_mm[1] - leg.hold_mm[1]) > 1e-6
    )
    if len(angles) < 3:
        return 360.0
    return float(np.diff([*angles, angles[0] + 360]).max())


def hold(standing: Standing, legs: Sequence[Leg], wind_nm: Floats | None = None) -> Hold:
    """The rose of a tied tree; `wind_nm` (36,) is what the gust asks of it from each side."""
    tied, bare = moments_nm(standing, legs), moments_nm(standing, ())
    margin = bare_margin = None
    if wind_nm is not None:
        safe = np.maximum(np.asarray(wind_nm, float), 1e-9)
        margin, bare_margin = tied / safe, bare / safe
    return Hold(tied / (standing.apex_mm / 1000), tied, margin, bare_margin, widest_gap_deg(legs))
