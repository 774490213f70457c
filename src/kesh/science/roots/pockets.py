"""What lies in a part of the root mass: litres and feeders of a pocket or of a sector (docs/methods.md, "pockets")."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from kesh.geometry.outline import Floats
from kesh.model.root_map import Pocket, Sector
from kesh.model.roots import RootMass
from kesh.science.roots.fit import ball_radius, depth_weight, radial_weight
from kesh.science.roots.side_room import toward

ANGLES, LEVELS = 720, 8
WORDS = {"clay": "clay", "field_soil": "field soil", "sand": "old sand", "rot": "rot"}
# roots in clay, field soil and sand live; what is rotten carries none
COMES_OFF = "comes off with the bottom"
LIVE = {"clay": True, "field_soil": True, "sand": True, "rot": False}


@dataclass(frozen=True)
class Part:
    """Litres, share of the root mass and share of the feeders of a part of it."""

    volume_l: float
    share: float
    feeder_share: float


@lru_cache(maxsize=512)
def part_of(
    roots: RootMass, from_deg: float, span_deg: float, shares: tuple[float, float], depths_mm: tuple[float, float]
) -> Part:  # fmt: skip
    """The part between two azimuths, two shares of the reach from the trunk outward, and two depths below the top.

    Raises FieldError where the trunk stands outside the root mass.
    """
    wide = (np.arange(ANGLES) + 0.5) / ANGLES
    low, high = (min(max(d, 0.0), roots.depth_mm) / roots.depth_mm for d in depths_mm)
    inner, outer = sorted(shares)

    def summed(start: float, span: float, ends: tuple[float, float], rho: tuple[float, float]) -> tuple[float, float]:
        """(volume over depth, feeders) between azimuths, depths and shares of the reach, in the same measure."""
        way = toward(start + span * wide)
        angle, each = np.arctan2(way[:, 1], way[:, 0]), np.radians(span) / ANGLES
        volume = feeders = 0.0
        for j in range(LEVELS):
            top, bottom = j / LEVELS, (j + 1) / LEVELS
            a, b = min(max(ends[0], top), bottom), max(min(ends[1], bottom), top)
            if b <= a:
                continue
            reach: Floats = ball_radius(roots, 0.0, 1 - roots.taper * (a + b) / 2, angle)
            sector = float((reach**2).sum()) * each / 2
            volume += sector * (rho[1] ** 2 - rho[0] ** 2) * (b - a)
            spread = radial_weight(np.array(rho), roots.feeders)
            feeders += (
                sector * float(spread[1] - spread[0]) * float(depth_weight(np.array(a), np.array(b), roots.feeders))
            )
        return volume, feeders

    whole = summed(0.0, 360.0, (0.0, 1.0), (0.0, 1.0))
    here = summed(from_deg, span_deg, (low, high), (inner, outer))
    return Part(float(here[0] * roots.depth_mm / 1e6), float(here[0] / whole[0]), float(here[1] / whole[1]))


def depths_mm(roots: RootMass, pocket: Pocket) -> tuple[float, float]:
    """From and to which depth below the top of the mass a pocket lies; one without a lower end reaches to the bottom."""
    low = pocket.depth_to_mm if pocket.depth_to_mm > pocket.depth_from_mm else roots.depth_mm
    return min(pocket.depth_from_mm, roots.depth_mm), min(low, roots.depth_mm)


def pocket_part(roots: RootMass, pocket: Pocket) -> Part:
    """What lies in a pocket; one without a depth reaches through the whole mass."""
    shares = (pocket.from_share, pocket.to_share)
    return part_of(roots, pocket.from_deg, pocket.span_deg, shares, depths_mm(roots, pocket))


def sector_part(roots: RootMass, sector: Sector) -> Part:
    """What lies in a sector, through the whole depth."""
    return part_of(roots, sector.from_deg, sector.span_deg, (0.0, 1.0), (0.0, roots.depth_mm))


@dataclass(frozen=True)
class PocketStep:
    """What is done with one pocket: in which year it is taken out, the feeders that counts for, and why."""

    pocket: Pocket
    part: Part
    year: float
    counted: float
    why: str


def pocket_plan(
    roots: RootMass, shares: tuple[float, ...], limit: float, interval_years: float, kept_depth_mm: float
) -> tuple[PocketStep, ...]:  # fmt: skip
    """When each pocket is taken out: rot now, the others as what the cuts leave of each repotting's budget bears.

    `shares` is what the cuts take in each repotting. Deeper than the kept depth a pocket comes off with the bottom. The
    smallest loss goes first, so that as many as can go now.
    """
    left = [*(max(limit - s, 0.0) for s in shares), *([max(limit, 0.0)] * len(roots.pockets))]
    left = left or [max(limit, 0.0)]
    found: dict[int, PocketStep] = {}
    told = [(pocket_part(roots, p), p, n) for n, p in enumerate(roots.pockets)]
    for part, pocket, n in sorted(told, key=lambda t: (t[0].feeder_share, t[2])):
        if pocket.depth_from_mm >= kept_depth_mm - 1e-6:
            found[n] = PocketStep(pocket, part, 0.0, 0.0, COMES_OFF)
        elif not LIVE[pocket.kind]:
            found[n] = PocketStep(
                pocket, part, 0.0, 0.0, "rot goes out whatever the season; it carries no living feeders"
            )
        else:
            nth = next((k for k, spare in enumerate(left) if part.feeder_share <= spare + 1e-9), None)
            if nth is None:
                # more than any one repotting bears: part of it in each
                found[n] = PocketStep(
                    pocket, part, 0.0, left[0], "more than one repotting bears: a part now, look again next time"
                )
                left[0] = 0.0
                continue
            left[nth] -= part.feeder_share
            why = "raked out by hand now" if nth == 0 else "left for next time: the cuts take what this repotting bears"
            found[n] = PocketStep(pocket, part, round(nth * interval_years, 3), part.feeder_share, why)
    return tuple(found[n] for n in range(len(roots.pockets)))
