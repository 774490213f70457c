"""What the next repotting takes off the roots and no more: the one answer that screens, sheet, bench, log and season tell.

Where a pot asks for more than the species bears at once, this is the first of the repottings, in proportion to its share.
"""

from dataclasses import dataclass, replace

import numpy as np

from kesh.advice.figures import Figures
from kesh.geometry.columns import columns
from kesh.science.roots.fit import fit, stages

# how much higher a tree may stand over the rim, on a mound, until the next repotting [J]
OVER_MOST_MM = 20.0
SIDES = ("left", "right", "front", "back")


@dataclass(frozen=True)
class ThisYear:
    """Feeders taken now and in all, mm off the bottom and off each side now, repottings, and whether the roots go into the pot after it."""

    share: float
    whole_share: float
    bottom_mm: float
    sides_mm: tuple[float, float, float, float]
    repottings: int
    goes_in: bool
    nothing: bool = False
    # mm by which the top of the roots stands higher meanwhile, for what is left on below
    over_mm: float = 0.0
    # it stands in this pot already
    home: bool = False

    @property
    def most_side_mm(self) -> float:
        """Off the side that loses most."""
        return max(self.sides_mm)

    @property
    def part(self) -> float:
        """Share of the whole work that is done now."""
        return 1.0 if self.whole_share <= 1e-9 else min(self.share / self.whole_share, 1.0)


def this_year(f: Figures, i: int = 0) -> ThisYear | None:
    """The next repotting of a tree in pot i; None while its roots are not known."""
    # asked many times a frame: kept with the figures it rests on
    kept: dict[int, ThisYear | None] = f.__dict__.setdefault("_this_years", {})
    if i not in kept:
        kept[i] = _this_year(f, i)
    return kept[i]


def stands_now_mm(f: Figures) -> float:
    """Top of the roots over the rim as the tree is set this time, mm: as planned, and higher by what is left on below."""
    year = this_year(f)
    return f.seat.raise_mm + (year.over_mm if year is not None and year.goes_in else 0.0)


def _this_year(f: Figures, i: int) -> ThisYear | None:
    fit, case = f.roots, f.case
    if fit is None:
        return None
    whole = float(fit.removed_feeder_share[i])
    bottom = float(fit.off_bottom_mm[i])
    each = tuple(float(mm[i]) for mm in (fit.off_left_mm, fit.off_right_mm, fit.off_front_mm, fit.off_back_mm))
    if case.brief.root_views.amount == "nothing":
        return ThisYear(0.0, whole, 0.0, (0.0, 0.0, 0.0, 0.0), 1, max(bottom, *each) <= 1.0, nothing=True)
    plan = () if case.limit_share is None else stages(whole, case.limit_share, case.care.interval_years)
    count = max(len(plan), 1)
    if count == 1 or whole <= 1e-9:
        return ThisYear(whole, whole, bottom, (each[0], each[1], each[2], each[3]), 1, goes_in=True)
    share = plan[0].removed_feeder_share
    sides = _sides_alone(f, i, bottom)
    below = (share - sides) / max(whole - sides, 1e-9)
    if sides <= share and (1 - below) * bottom <= OVER_MOST_MM:
        # it goes into the pot at once: the sides are made to fit, and what is left of the share comes off below
        part = below
        return ThisYear(
            share,
            whole,
            part * bottom,
            (each[0], each[1], each[2], each[3]),
            count,
            goes_in=True,
            over_mm=(1 - part) * bottom,
        )
    part = share / whole
    now = tuple(part * mm for mm in each)
    over = (1 - part) * bottom
    planted = case.planting
    home = planted is not None and not planted.planned and planted.pot == f.pots.pots[i].id
    home = home and planted is not None and planted.date is not None and planted.date < case.day
    fits = max((1 - part) * mm for mm in each) <= case.seat.clearance_mm + 1e-6 and over <= OVER_MOST_MM
    return ThisYear(share, whole, part * bottom, (now[0], now[1], now[2], now[3]), count, fits, over_mm=over, home=home)


def _sides_alone(f: Figures, i: int, bottom_mm: float) -> float:
    """Feeders that go with the sides alone, the bottom left as it is and the tree standing so much higher."""
    roots = f.case.roots
    assert roots is not None
    if bottom_mm <= 0.5:
        return 1.0 if f.roots is None else float(f.roots.removed_feeder_share[i])
    pots = f.pots if len(f.pots) == 1 else columns((f.pots.pots[i],))
    seat = f.seat
    if len(f.pots) > 1:
        row = seat.shift[min(i, len(seat.shift) - 1)]
        base = float(np.broadcast_to(seat.floor_layer_mm, (len(f.pots),))[i])
        seat = replace(seat, offset_x_mm=float(row[0]), offset_y_mm=float(row[1]), floor_layer_mm=base)
    return float(fit(roots, pots, replace(seat, raise_mm=seat.raise_mm + bottom_mm)).removed_feeder_share[0])
